"""`python -m nundine`."""

from nundine.cli import main

main()
