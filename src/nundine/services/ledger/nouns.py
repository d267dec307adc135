"""The nouns whose records commands change, in the order in which they may be made: each refers to those above
it."""

from __future__ import annotations

from nundine.services.ledger.by_room.assets import ASSETS
from nundine.services.ledger.by_room.kept import KEPT
from nundine.services.ledger.by_room.parts import PARTS
from nundine.services.ledger.by_room.people import PEOPLE
from nundine.services.ledger.by_room.preventive import PREVENTIVE
from nundine.services.ledger.by_room.site import SITE
from nundine.services.ledger.by_room.work import WORK
from nundine.services.ledger.noun import Noun

LISTED: tuple[Noun, ...] = (*SITE, *ASSETS, *PEOPLE, *WORK, *PREVENTIVE, *PARTS, *KEPT)
NOUNS: dict[str, Noun] = {n.name: n for n in LISTED}
PLACEMENT, ELSEWHERE = "placement", "elsewhere"
"""Placements are read and written by week; `elsewhere` is one of another week, which that week's own deed
writes."""
