"""Assets: their windows, shutdowns, meters."""

from __future__ import annotations

from nundine.services.ledger.noun import END, NAME, Column, Key, Noun
from nundine.services.ledger.values import DAY, MOMENT
from nundine.store.asset import Asset, AssetWindow
from nundine.store.meter import Meter, Reading
from nundine.store.shutdown import Shutdown
from nundine.store.site import Area


def _window(key: Key) -> str:
    return f"This {key[1]} window of {key[0]}"


ASSETS: tuple[Noun, ...] = (
    Noun(
        "asset",
        Asset,
        (Column("asset", "asset", of="key"),),
        (
            NAME,
            Column("area", "area", refers=Area),
            Column("parent", "part of", refers=Asset, late=True),
            Column("criticality", "criticality"),
            Column("limited", "in work windows only"),
            Column("one_job_at_a_time", "one job at a time"),
            Column("in_store", "in store", matters=False),
            Column("cost_account", "cost account", matters=False),
            Column("maker", "maker", matters=False),
            Column("model", "model", matters=False),
            Column("serial", "serial number", matters=False),
        ),
        lambda key: f"Asset {key[0]}",
        work=True,
    ),
    Noun(
        "meter",
        Meter,
        (Column("meter", "meter", of="key"),),
        (
            Column("name", "name"),
            Column("asset", "asset", refers=Asset),
            Column("unit", "unit"),
            Column("rollover", "begins again at"),
        ),
        lambda key: f"Meter {key[0]}",
        order=(Meter.key,),
        live=True,
    ),
    Noun(
        "reading",
        Reading,
        (Column("meter", "meter", refers=Meter), Column("day", "day", DAY)),
        (
            Column("value", "value"),
            Column("fresh", "first of a new meter"),
            Column("by", "read by"),
            Column("remark", "remark"),
        ),
        lambda key: f"{key[0]} read on {key[1]}",
        order=(Reading.meter, Reading.day),
        owner="meter",
        live=True,
    ),
    Noun(
        "shutdown",
        Shutdown,
        (Column("shutdown", "shutdown", of="key"),),
        (
            Column("name", "name"),
            Column("series", "series"),
            Column("first", "first day", DAY),
            Column("last", "last day", DAY),
            Column("moves_work", "its WOs move with it"),
        ),
        lambda key: f"Shutdown {key[0]}",
        order=(Shutdown.first, Shutdown.key),
        live=True,
    ),
    Noun(
        "window",
        AssetWindow,
        (Column("asset", "asset", refers=Asset), Column("kind", "kind"), Column("start", "start", MOMENT)),
        (
            END,
            Column("answer", "answer", matters=False),
            Column("answer_by", "answered by", matters=False),
            Column("remark", "remark", matters=False),
        ),
        _window,
        order=(AssetWindow.asset, AssetWindow.kind, AssetWindow.start),
        work=True,
    ),
)
