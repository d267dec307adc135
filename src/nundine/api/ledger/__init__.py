"""The ledger: the history of a record, and the audit."""
