"""The board of a week: calendars as bits, what is placed, drafts, and what fits where."""
