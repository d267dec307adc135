"""Every kind of record goes out into files and comes in again equal, whatever it holds: rows are generated
from the columns that the kinds declare."""

from __future__ import annotations

import inspect
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from nundine.formats.bad import BadCell
from nundine.formats.tables import write_xlsx
from nundine.services.admin.sites import make_site
from nundine.services.exchange import cells
from nundine.services.exchange.exporting import export_csv, export_xlsx
from nundine.services.exchange.importing import run_import
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.kinds.kind import Column, Kind
from nundine.services.exchange.stored_rows import standing
from nundine.store.base import db
from tests.conftest import clear

ZONE = ZoneInfo("Europe/Zurich")
Row = dict[str, Any]
NAMES = (
    "Müller",
    "مصعد ٣",
    "索道",
    'O\'Brien; "x", y',
    "=SUM(1)",
    "-",
    "ÄÖÜ ß",
    "🚡",
    "a/b?c#d",
    "%41",
    "null",
    "007",
)
"""Names that files, addresses and spreadsheets trip over."""
MINUTES = st.integers(0, 2_000_000)
START = datetime(2026, 1, 1, tzinfo=UTC)


def readable(column: Column) -> st.SearchStrategy[Any]:
    """Values that the column itself takes, as it reads them: names, and texts by chance. One that it does not
    take is a name instead; to draw another would let whole sites fail."""

    def read(cell: Any) -> Any:
        try:
            return column.read(cell, ZONE)
        except BadCell:
            return None

    taken = [value for value in map(read, NAMES) if value]
    by_chance = st.text(min_size=1, max_size=12).map(lambda text: read(text) or taken[len(text) % len(taken)])
    return st.sampled_from(taken) | by_chance


def values_of(column: Column) -> st.SearchStrategy[Any]:
    """What a column may hold, found from how it is read."""
    read: Any = column.read
    held = inspect.getclosurevars(read).nonlocals if inspect.isfunction(read) else {}
    if read is cells.yes_no:
        return st.booleans()
    if read is cells.day:
        return st.dates(date(2020, 1, 1), date(2035, 12, 31))
    if read is cells.clock:
        return st.times().map(lambda t: t.replace(second=0, microsecond=0))
    if read is cells.moment:
        return MINUTES.map(lambda m: START + timedelta(minutes=m))
    if "choices" in held:
        return st.sampled_from(held["choices"])
    if "low" in held:
        whole = read.__qualname__.startswith("whole")
        return st.integers(held["low"], held["high"]) if whole else _figures(held["low"], held["high"])
    return readable(column)


def _figures(low: float, high: float) -> st.SearchStrategy[float]:
    """Figures of four decimals, as hours and shares are kept."""
    return st.integers(round(low * 10**4), round(high * 10**4)).map(lambda n: n / 10**4)


OF_A_FORM = (
    "alternates", "before", "behind", "certificates", "grid", "lasts", "moved", "needs", "notice", "parts",
    "quantity", "rungs", "season", "shares",
)  # fmt: skip
"""Columns whose cells have a form that no text has by chance; `special` writes them."""


def cell_of(draw: Any, column: Column, known: dict[str, list[Any]]) -> Any:
    if column.name in OF_A_FORM:
        return None
    if column.refers:
        return draw(st.sampled_from(known[column.refers]))
    if column.default != "REQUIRED" and draw(st.booleans()):
        return column.default
    return draw(values_of(column))


def special(draw: Any, kind: str, row: Row, known: dict[str, list[Any]], rows: list[Row]) -> None:
    """What a row's cells mean together."""
    crafts, tools = known.get("crafts", []), known.get("tools", [])
    if kind == "windows":  # those of one line may not overlap
        row["kind"], row["start"] = "work", START + timedelta(days=10 * len(rows))
    if "start" in row and "end" in row and kind != "shifts":
        row["end"] = row["start"] + timedelta(minutes=draw(st.integers(1, 5000)))
    if kind == "ways":
        row["from"], row["to"] = sorted(known["areas"][:2])
    if kind == "assets":
        row["parent"] = draw(st.sampled_from([None, *(r["asset"] for r in rows)]))
    if kind == "shifts":
        row["cycle_days"], row["day"] = 7, draw(st.integers(1, 7))
    if kind == "rosters":
        row["last"] = draw(st.none() | st.just(row["first"] + timedelta(days=9)))
    if kind == "people":
        some = draw(st.lists(st.sampled_from(crafts), min_size=1, max_size=3, unique=True))
        row["crafts"] = tuple((c, draw(st.integers(1, 3))) for c in some)
        row["certificates"] = draw(
            st.sampled_from([(), (("rope", None),), (("a", date(2027, 1, 31)), ("b", None))])
        )
    if kind == "job_plans":
        assets = [a for a in known["assets"] if a]
        row["assets"] = tuple(sorted(draw(st.lists(st.sampled_from(assets), max_size=2, unique=True))))
        row["permits"] = tuple(sorted(draw(st.lists(st.sampled_from(known["permit_kinds"]), max_size=1))))
        row["sites"] = draw(st.sampled_from([(), ("everywhere",), ("a", "b")]))
    if kind == "absences":
        others = [p for p in known["people"] if p != row["person"]]
        row["stand_in"] = draw(st.sampled_from([None, *others]))
    if kind == "parts":
        others = [r["part"] for r in rows if r["part"] != row["part"]]
        row["alternates"] = tuple((p, draw(st.booleans())) for p in others[:1])
        row["valued"] = "average"
    if kind == "asset_parts":
        row["asset"] = draw(st.sampled_from([a for a in known["assets"] if a]))
        row["quantity"] = draw(st.integers(1, 10**6)) / 1000
    if kind == "movements":
        row["kind"], row["quantity"] = "receipt", draw(st.integers(1, 10**6)) / 1000
    if kind in ("buy_lines", "purchase_lines"):
        row["quantity"] = draw(st.integers(1, 10**6)) / 1000
        row["order"] = draw(st.none() | st.just(row["order"]))
        row["storeroom"] = None if row["order"] else row["storeroom"]
    if kind in ("buy_requests", "purchases"):  # others follow from their lines
        row["state"] = draw(
            st.sampled_from(["written", "refused" if kind == "buy_requests" else "cancelled"])
        )
    if kind == "permits":
        row["valid_from"] = START
        row["valid_to"] = START + timedelta(minutes=draw(st.integers(1, 5000)))
        row["state"] = "asked"
    if kind == "work_orders":
        row["permits"], row["permit"] = (), "not needed"  # those that it needs say how far they are
        row["parts_ready"], row["parts_unknown"] = None, False  # follows from the parts of its tasks
        assets = [a for a in known["assets"] if a and a != row["asset"]][:1]
        row["shares"] = tuple(
            (a, draw(st.sampled_from([12.5, 100.0]))) for a in assets if draw(st.booleans())
        )
    if kind == "preventive_plans":
        row["needs"] = tuple((c, 1, 1, None) for c in known["crafts"] if c and draw(st.booleans()))
        assets = [a for a in known["assets"] if a]
        row["assets"] = tuple(sorted(draw(st.lists(st.sampled_from(assets), min_size=1, unique=True))))
        row["rungs"] = draw(
            st.sampled_from(
                [
                    ("a: 1 month",),
                    ("a: 2 weeks on Mon, Thu or 500 h", "b: 1 year on day last"),
                    ("a: 12.5 km", "b: shutdown autumn +3"),
                ]
            )
        )
        row["grid"] = draw(st.sampled_from([(), (("10", ("a",)), ("20", ("a",)))]))
        row["season"] = draw(st.sampled_from([(), (5, 6)]))
        row["notice"] = draw(st.sampled_from(["0", "75 %"]))
        by_calendar = all("week" in r or "month" in r or "year" in r for r in row["rungs"])
        for side in ("before", "behind"):
            row[side] = draw(st.sampled_from(["0", "21", "10 %"] if by_calendar else ["0", "21"]))
    if kind == "meters":
        row["unit"], row["rollover"] = draw(st.sampled_from([("h", None), ("km", 10_000.0)]))
        row["asset"] = draw(st.sampled_from([a for a in known["assets"] if a]))
    if kind == "readings":
        row["value"], row["fresh"] = 100.0 + len(rows), draw(st.booleans())
        row["day"] = date(2026, 1, 1) + timedelta(days=len(rows) * 7)
    if kind == "shutdowns":
        row["series"] = draw(st.sampled_from(["", "autumn"]))
        row["last"] = max(row["first"], row["last"])
    if kind in ("services", "occurrences"):
        row["asset"] = draw(st.sampled_from([a for a in known["assets"] if a]))
        if kind == "services":
            row["moved"] = draw(st.sampled_from([None, ("2026-12-01", "2026-12-08")]))
        whole = ("b", "2026-01-05", "2026-02-01", "2026-02-03")
        row["lasts"] = draw(st.sampled_from([(), (("a", "2026-01-05", None, None), whole)]))
    if kind == "occurrences":
        row["rungs"] = (("b", "2026-03-01"), ("a", "2026-02-28"))
        row["order"], row["state"], row["done"] = None, "raised", None
    if kind in ("tasks", "plan_tasks"):
        owner = KINDS[kind].key[0]
        some = draw(st.lists(st.sampled_from(crafts), min_size=1, max_size=2))
        certificates = st.sampled_from([None, "rope"])
        row["needs"] = tuple(
            (c, draw(st.integers(1, 9)), draw(st.integers(1, 3)), draw(certificates)) for c in some
        )
        row["outside"] = draw(st.sampled_from([(), (("Seilbau & Söhne", 2, 95.5), ("مصعد", 1, 0.0))]))
        wanted = [(p, "", 123456.789 / 10**k, None, False) for k, p in enumerate(known["parts"][:2])]
        in_words = (None, "Lappen, öl", 3.0, known["storerooms"][0], True)
        wanted = [(p, w, round(q, 3), s, m) for p, w, q, s, m in (*wanted, in_words)]
        row["parts"] = draw(st.sampled_from([(), tuple(wanted)]))
        row["checklist"] = draw(st.sampled_from([(), ("Oil [mm 2..3]", "Noise {a, !b}", "Seals tight")]))
        row["tools"] = tuple(sorted(draw(st.lists(st.sampled_from(tools), max_size=2, unique=True))))
        before = [r["task"] for r in rows if r[owner] == row[owner]]
        row["after"] = tuple(
            (t, draw(st.sampled_from([0.0, 2.5]))) for t in before[:1] if draw(st.booleans())
        )


@st.composite
def sites(draw: Any) -> dict[str, list[Row]]:
    """Rows of every kind that fit together, over several areas."""
    out: dict[str, list[Row]] = {}
    known: dict[str, list[Any]] = {}
    for name, kind in KINDS.items():
        rows, seen = list[Row](), set[Any]()
        for _ in range(draw(st.integers(1, 3)) if name != "ways" else 1):
            known.setdefault("assets", [None])
            row = {c.name: cell_of(draw, c, known) for c in kind.columns}
            special(draw, name, row, known, rows)
            if kind.key_of(row) not in seen:
                seen.add(kind.key_of(row))
                rows.append(row)
        if len(rows) < 2 and name == "areas":
            rows.append({"area": "zz", "name": "Zz", "planning_team": ""})
        out[name], known[name] = rows, [r[kind.key[0]] for r in rows]
    return out


def book(rows: dict[str, list[Row]]) -> bytes:
    def table(kind: Kind) -> tuple[list[str], list[list[Any]]]:
        names = [c.name for c in kind.columns]
        return names, [[cells.write_cell(n, r[n], ZONE) for n in names] for r in rows[kind.name]]

    return write_xlsx({name: table(kind) for name, kind in KINDS.items()})


def sorted_rows(kind: Kind, rows: list[Row]) -> list[Row]:
    return sorted(rows, key=lambda r: [str(k) for k in kind.key_of(r)])


@pytest.mark.long
@settings(
    max_examples=5,
    deadline=None,
    suppress_health_check=list(HealthCheck),
    phases=(Phase.reuse, Phase.generate),
)
@given(rows=sites())
def test_generated_rows_of_every_kind_come_in_and_go_out_equal(
    fresh: None, rows: dict[str, list[Row]]
) -> None:
    clear()
    with db.atomic():
        make_site("New", "Europe/Zurich")
    report = run_import([("all.xlsx", book(rows))])
    assert report.errors == []
    for name, kind in KINDS.items():
        assert sorted_rows(kind, standing(name)) == sorted_rows(kind, rows[name]), name
    for files in ([("all.xlsx", export_xlsx())], [(f"{n}.csv", export_csv(n)) for n in KINDS]):
        again = run_import(files)
        assert again.errors == []
        assert {n: (c["new"], c["changed"]) for n, c in again.kinds.items()} == dict.fromkeys(KINDS, (0, 0))


@pytest.mark.parametrize("kind", KINDS.values(), ids=list(KINDS))
def test_every_key_has_a_pattern_that_is_checked_where_it_comes_in(kind: Kind) -> None:
    of_itself = [c for c in kind.columns if c.name == kind.key[0]]
    for column in of_itself:
        for bad in ("..", "a;b"):
            with pytest.raises(BadCell):
                column.value(bad, ZONE)
        assert column.value("a b" if kind.name not in ("crafts", "permit_kinds") else "ab", ZONE)


def test_a_time_of_day_is_read_to_the_minute() -> None:
    assert cells.clock(time(6, 15, 30), ZONE) == time(6, 15)
