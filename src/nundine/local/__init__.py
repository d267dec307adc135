"""Running everything on one machine: the private database, the worker, the web server."""
