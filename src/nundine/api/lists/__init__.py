"""Lists and their views."""
