"""Live events."""
