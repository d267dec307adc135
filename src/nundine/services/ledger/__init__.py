"""The ledger: commands with their inverses, and the records that they change."""
