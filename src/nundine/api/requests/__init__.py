"""Work requests."""
