"""Parts, where they lie and move, and buying."""

from __future__ import annotations

from peewee import fn

from nundine.services.ledger.noun import Column, Noun
from nundine.services.ledger.values import DAY, MOMENT
from nundine.store.asset import Asset
from nundine.store.buying import BuyLine, BuyRequest, Purchase, PurchaseLine
from nundine.store.part import AssetPart, Movement, Part, Storeroom
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder

WANTED = (
    Column("part", "part", refers=Part),
    Column("words", "in words"),
    Column("quantity", "quantity"),
    Column("price", "price of one"),
    Column("storeroom", "for the storeroom", refers=Storeroom),
    Column("order", "for the WO", refers=WorkOrder, by="number"),
    Column("day", "day", DAY),
)
"""What lines of requests to buy and of orders say alike."""
PARTS: tuple[Noun, ...] = (
    Noun(
        "storeroom",
        Storeroom,
        (Column("storeroom", "storeroom", of="key"),),
        (Column("name", "name"), Column("area", "area", refers=Area)),
        lambda key: f"Storeroom {key[0]}",
        order=(Storeroom.key,),
        live=True,
    ),
    Noun(
        "part",
        Part,
        (Column("part", "part", of="key"),),
        (
            Column("name", "name"),
            Column("unit", "unit"),
            Column("group", "group"),
            Column("maker", "maker"),
            Column("maker_number", "maker's number"),
            Column("price", "price"),
            Column("valued", "valued at"),
            Column("lead_days", "lead time in days"),
            Column("minimum", "minimum"),
            Column("reorder", "bought at once"),
            Column("alternates", "alternates"),
            Column("tracked", "its movements are kept"),
            Column("must_use", "what is planned of it is used"),
            Column("blocked", "blocked"),
            Column("description", "description"),
        ),
        lambda key: f"Part {key[0]}",
        order=(Part.key,),
        live=True,
    ),
    Noun(
        "asset part",
        AssetPart,
        (Column("asset", "asset", refers=Asset), Column("part", "part", refers=Part)),
        (Column("quantity", "quantity"), Column("remark", "remark")),
        lambda key: f"{key[1]} in {key[0]}",
        order=(AssetPart.asset, AssetPart.part),
        live=True,
    ),
    Noun(
        "movement",
        Movement,
        (Column("number", "number"),),
        (
            Column("at", "at", MOMENT),
            Column("kind", "kind"),
            Column("part", "part", refers=Part),
            Column("storeroom", "storeroom", refers=Storeroom),
            Column("shelf", "shelf"),
            Column("lot", "lot"),
            Column("quantity", "quantity"),
            Column("price", "price"),
            Column("order", "WO", refers=WorkOrder, by="number"),
            Column("by", "by"),
            Column("reason", "reason"),
            Column("purchase", "came with"),
        ),
        lambda key: f"Movement {key[0]}",
        order=(Movement.at, fn.LENGTH(Movement.number), Movement.number),
        live=True,
    ),
    Noun(
        "buy request",
        BuyRequest,
        (Column("number", "number"),),
        (
            Column("state", "state"),
            Column("made", "made", MOMENT),
            Column("by", "by"),
            Column("decided", "decided by"),
            Column("remark", "remark"),
        ),
        lambda key: f"Request to buy {key[0]}",
        order=(BuyRequest.made, BuyRequest.number),
        live=True,
    ),
    Noun(
        "buy line",
        BuyLine,
        (Column("request", "request", refers=BuyRequest, by="number"), Column("line", "line")),
        (*WANTED, Column("settled", "dealt with")),
        lambda key: f"Line {key[1]} of {key[0]}",
        order=(BuyLine.request, BuyLine.id),
        owner="buy request",
        live=True,
    ),
    Noun(
        "purchase",
        Purchase,
        (Column("number", "number"),),
        (
            Column("supplier", "supplier"),
            Column("state", "state"),
            Column("made", "made", MOMENT),
            Column("placed", "placed", DAY),
            Column("by", "by"),
            Column("remark", "remark"),
        ),
        lambda key: f"Order {key[0]}",
        order=(Purchase.made, Purchase.number),
        live=True,
    ),
    Noun(
        "purchase line",
        PurchaseLine,
        (Column("purchase", "order", refers=Purchase, by="number"), Column("line", "line")),
        (
            *WANTED,
            Column("request", "of the request", refers=BuyRequest, by="number"),
            Column("request_line", "of its line"),
            Column("confirmed", "the supplier says so"),
            Column("noted", "brought"),
            Column("received", "received"),
            Column("awaited", "the rest is awaited"),
        ),
        lambda key: f"Line {key[1]} of {key[0]}",
        order=(PurchaseLine.purchase, PurchaseLine.id),
        owner="purchase",
        live=True,
    ),
)
