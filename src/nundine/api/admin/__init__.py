"""Sign-in and set-up."""
