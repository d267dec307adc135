"""Background work."""
