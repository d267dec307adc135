"""Exports of other systems: a file is opened and understood, compared with what is here, and brought in as
decided."""
