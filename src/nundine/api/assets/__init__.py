"""Assets over HTTP."""
