"""Sites of the installation."""
