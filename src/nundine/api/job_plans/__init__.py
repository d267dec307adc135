"""Job plans."""
