"""The week: its state, edits, builds, and what each step shows."""
