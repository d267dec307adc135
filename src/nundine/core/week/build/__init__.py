"""Building a week: `build` in builder.py is the only door."""
