"""Assets: the windows in which each may be touched."""
