"""Mending a week after a change."""
