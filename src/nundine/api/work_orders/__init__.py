"""Work orders by hand."""
