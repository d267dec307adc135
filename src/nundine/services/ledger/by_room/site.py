"""Areas, ways, crafts and tools of a site, and the site itself."""

from __future__ import annotations

from nundine.services.ledger.noun import NAME, Column, Noun
from nundine.services.ledger.values import DAY
from nundine.store.site import Area, Craft, Site, Tool, Way

SITE: tuple[Noun, ...] = (
    Noun(
        "site",
        Site,
        (Column("site", "site", of="key"),),
        (NAME, Column("timezone", "time zone"), Column("settings", "settings")),
        lambda key: "The site",
        people=True,
        work=True,
    ),
    Noun(
        "area",
        Area,
        (Column("area", "area", of="key"),),
        (Column("name", "name"), Column("planning_team", "planning team", matters=False)),
        lambda key: f"Area {key[0]}",
        order=(Area.key,),
        people=True,
        work=True,
    ),
    Noun(
        "way",
        Way,
        (Column("from", "from", of="start", refers=Area), Column("to", "to", of="end", refers=Area)),
        (Column("minutes", "minutes"),),
        lambda key: f"The way between {key[0]} and {key[1]}",
        people=True,
    ),
    Noun(
        "craft",
        Craft,
        (Column("craft", "craft", of="key"),),
        (
            Column("name", "name"),
            Column("held_back", "share held back"),
            Column("rate", "cost an hour", matters=False),
            Column("overtime_rate", "cost an hour of overtime", matters=False),
            Column("valid_from", "valid from", DAY, matters=False),
            Column("valid_to", "valid to", DAY, matters=False),
        ),
        lambda key: f"Craft {key[0]}",
        people=True,
        work=True,
    ),
    Noun(
        "tool",
        Tool,
        (Column("tool", "tool", of="key"),),
        (NAME, Column("count", "how many"), Column("vehicle", "a vehicle", matters=False)),
        lambda key: f"Tool {key[0]}",
        order=(Tool.key,),
        work=True,
    ),
)
