"""Work requests as a list, with the WO behind each."""

from __future__ import annotations

from peewee import JOIN, Case

from nundine.core.lifecycle import ORDER_STATES, REQUEST_STATES
from nundine.core.priority import URGENCIES
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.asset import Asset
from nundine.store.beside import Attachment
from nundine.store.request import WorkRequest
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder


@listing("requests", "Requests", READ)
def requests(around: Around) -> Listing:
    """All of them, whatever their state."""
    R = WorkRequest
    files = Attachment.select(Attachment.key).where(Attachment.noun == "request")
    mine = Case(None, [(R.account == around.account, 1)], 0)
    columns = (
        Column("number", "Request", "text", R.number, find=True, width=84, weight=1),
        Column("title", "What was seen", "text", R.title, find=True, width=200, weight=1),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=130, weight=2),
        Column("asset_key", "Asset's code", "text", Asset.key, find=True, width=90, shown=False),
        Column("place", "Place", "text", R.place, find=True, group=True, width=110, shown=False),
        Column("area", "Area", "choice", Area.key, group=True, width=96, weight=4, shown=False,
               choices=areas),
        Column("planning_team", "Planning team", "text", Area.planning_team, group=True, width=110,
               shown=False),
        Column("urgency", "Urgency", "choice", R.urgency, group=True, width=90, weight=2,
               choices=words(*URGENCIES)),
        Column("state", "State", "choice", R.state, group=True, width=92, weight=1,
               choices=words(*REQUEST_STATES)),
        Column("raised", "Reported", "moment", R.raised, width=100, weight=2),
        Column("reporter", "By", "text", R.reporter, find=True, group=True, width=120, weight=3),
        Column("order", "WO", "text", WorkOrder.number, find=True, group=True, width=92, weight=2),
        Column("order_state", "State of the WO", "choice", WorkOrder.state, group=True, width=96, shown=False,
               choices=words(*ORDER_STATES)),
        Column("priority", "Priority of the WO", "number", WorkOrder.priority, width=80, shown=False),
        Column("files", "With files", "yes", Case(None, [(R.number.in_(files), 1)], 0), group=True, width=80,
               shown=False),
        Column("mine", "Reported by me", "yes", mine, group=True, width=80, shown=False),
        Column("description", "More of it", "text", R.description, find=True, width=220, shown=False),
    )  # fmt: skip
    query = (
        R.select()
        .join(Asset, JOIN.LEFT_OUTER)
        .join(Area, JOIN.LEFT_OUTER)
        .join_from(R, WorkOrder, JOIN.LEFT_OUTER)
    )
    return Listing(columns, query, R.id, "number", {}, (Sort("raised", True),))
