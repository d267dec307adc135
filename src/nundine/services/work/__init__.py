"""Work orders: made and changed by hand, gates, the backlog."""
