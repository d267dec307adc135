"""HTTP in, a service call, HTTP out."""
