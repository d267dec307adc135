"""Parts, their movements and the parts lists of assets, as lists."""

from __future__ import annotations

from peewee import JOIN, Case, fn

from nundine.core.parts.stock import KINDS
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.asset import Asset
from nundine.store.part import AssetPart, Movement, Part, Storeroom
from nundine.store.reading.kept_parts import kept_of_parts
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder


@listing("parts", "Parts", READ)
def parts(_: Around) -> Listing:
    """All parts, with how many there are."""
    P = Part
    held = kept_of_parts()
    kept = fn.COALESCE(held.c.much, 0)
    price = Case(None, [(P.valued == "standard", P.price)], fn.COALESCE(P.average, P.price))
    short = Case(None, [((P.minimum > 0) & (P.on_hand < P.minimum), 1)], 0)
    columns = (
        Column("part", "Part", "text", P.key, find=True, width=110, weight=1),
        Column("name", "Name", "text", P.name, find=True, width=240, weight=1),
        Column("group", "Group", "text", P.group, find=True, group=True, width=130, weight=2),
        Column("on_hand", "On hand", "number", P.on_hand, width=86, weight=1),
        Column("free", "Free", "number", fn.ROUND(P.on_hand - kept, 3), width=70, weight=1,
               hint="On hand less what is kept for WOs"),
        Column("unit", "Unit", "text", P.unit, group=True, width=60, weight=2),
        Column("reserved", "Reserved", "number", kept, width=80, weight=4),
        Column("short", "Below minimum", "yes", short, group=True, width=90, weight=2),
        Column("minimum", "Minimum", "number", P.minimum, width=80, weight=3),
        Column("price", "Price", "money", price, width=80, weight=3),
        Column("value", "Value", "money", fn.ROUND(fn.COALESCE(price, 0) * P.on_hand, 2), total=True,
               width=90, weight=4),
        Column("lead_days", "Lead time", "number", P.lead_days, width=80, weight=4),
        Column("maker", "Maker", "text", P.maker, find=True, group=True, width=130, weight=4),
        Column("maker_number", "Maker's number", "text", P.maker_number, find=True, width=120, shown=False),
        Column("blocked", "Blocked", "yes", P.blocked, group=True, width=80, shown=False),
        Column("tracked", "Movements kept", "yes", P.tracked, group=True, width=90, shown=False),
    )  # fmt: skip
    query = P.select().join(held, JOIN.LEFT_OUTER, on=held.c.part_id == P.id)
    return Listing(columns, query, P.id, "part", {}, (Sort("part"),))


@listing("movements", "Movements of parts", READ)
def movements(_: Around) -> Listing:
    """Whatever came and went, the newest first."""
    M = Movement
    columns = (
        Column("number", "Number", "text", M.number, find=True, width=92, weight=4),
        Column("at", "At", "moment", M.at, width=150, weight=1),
        Column("kind", "What", "choice", M.kind, group=True, width=90, weight=1, choices=words(*KINDS)),
        Column("part", "Part", "text", Part.key, find=True, group=True, width=100, weight=1),
        Column("name", "Name", "text", Part.name, find=True, width=190, weight=2),
        Column("quantity", "Quantity", "number", M.quantity, width=84, weight=1),
        Column(
            "storeroom", "Storeroom", "text", fn.COALESCE(Storeroom.name, ""), group=True, width=130, weight=3
        ),
        Column("shelf", "Shelf", "text", M.shelf, find=True, width=80, weight=4),
        Column("lot", "Lot", "text", M.lot, find=True, width=80, shown=False),
        Column("order", "WO", "text", WorkOrder.number, find=True, group=True, width=92, weight=2),
        Column("purchase", "Came with", "text", M.purchase, find=True, width=110, weight=4),
        Column("by", "By", "text", M.by, find=True, group=True, width=130, weight=3),
        Column("price", "Price", "money", M.price, width=76, shown=False),
        Column(
            "value",
            "Value",
            "money",
            fn.ROUND(fn.COALESCE(M.price, 0) * M.quantity, 2),
            total=True,
            width=90,
            weight=4,
        ),
        Column("reason", "Reason", "text", M.reason, find=True, width=200, weight=4),
    )
    query = (
        M.select()
        .join(Part)
        .join_from(M, Storeroom, JOIN.LEFT_OUTER)
        .join_from(M, WorkOrder, JOIN.LEFT_OUTER)
    )
    return Listing(columns, query, M.id, "number", {}, (Sort("at", down=True),))


@listing("parts lists", "Parts lists of assets", READ)
def parts_lists(_: Around) -> Listing:
    """Which parts are in which assets."""
    key = fn.CONCAT(Asset.key, " / ", Part.key)
    columns = (
        Column("key", "In", "text", key, shown=False),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=230, weight=1),
        Column("area", "Area", "choice", Area.key, group=True, width=100, weight=3, choices=areas),
        Column("part", "Part", "text", Part.key, find=True, group=True, width=110, weight=1),
        Column("name", "Name", "text", Part.name, find=True, width=230, weight=1),
        Column("quantity", "Quantity", "number", AssetPart.quantity, width=84, weight=1),
        Column("on_hand", "On hand", "number", Part.on_hand, width=84, weight=2),
        Column("remark", "Remark", "text", AssetPart.remark, find=True, width=160, weight=3),
        Column("maker", "Maker of the asset", "text", Asset.maker, group=True, width=120, shown=False),
        Column("model", "Its model", "text", Asset.model, find=True, group=True, width=110, shown=False),
        Column("serial", "Its serial number", "text", Asset.serial, find=True, width=110, shown=False),
    )
    query = AssetPart.select().join(Asset).join(Area).join_from(AssetPart, Part)
    return Listing(columns, query, AssetPart.id, "key", {}, (Sort("asset"),))
