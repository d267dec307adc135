"""The site: made at the first start."""

from __future__ import annotations

from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to


def make_site(name: str, timezone: str) -> None:
    """A site without settings of its own. Inside the caller's transaction."""
    row = {"name": name, "timezone": timezone, "settings": {}}
    write("site site", None, Edit("set-up", f"Make the site {name}", changes_to("site", {("site",): row})))
