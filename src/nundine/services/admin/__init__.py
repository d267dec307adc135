"""Accounts, sign-in, set-up and cleaning."""
