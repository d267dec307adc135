"""The week page."""
