"""`python -m nundine`."""

from nundine.cli import app

app()
