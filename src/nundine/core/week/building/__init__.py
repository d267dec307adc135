"""Building a week: `build` in build.py is the only door."""
