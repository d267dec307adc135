"""Rows that are computed answer as rows that are kept do."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st
from peewee import BooleanField, DateField, FloatField, TextField

from nundine.services.listing.column import Column
from nundine.services.listing.computed import Computed, has_mark
from nundine.services.listing.listing import Around, Listing
from nundine.services.listing.question import Filter, Question, Sort
from nundine.services.listing.rows import groups, keys, rows
from nundine.store.base import UtcField
from tests.examples import examples

pytestmark = pytest.mark.usefixtures("database")
DAY = date(2026, 11, 23)


class Stone(Computed):
    """A row of this test."""

    key = TextField()
    name = TextField()
    day = DateField(null=True)
    at = UtcField(null=True)
    weight = FloatField(null=True)
    wet = BooleanField()
    seen_by = TextField(null=True)


def list_of(stones: list[dict[str, Any]]) -> Listing:
    columns = (
        Column("key", "Key", "text", Stone.key),
        Column("name", "Name", "text", Stone.name, find=True),
        Column("day", "Day", "day", Stone.day, group=True),
        Column("at", "At", "moment", Stone.at),
        Column("weight", "Weight", "number", Stone.weight, total=True),
        Column("wet", "Wet", "yes", Stone.wet),
        Column("seen_by", "Seen by", "marks", asked=has_mark(Stone.seen_by)),
    )
    return Listing(columns, Stone.over(stones), Stone.id, "key")


AROUND = Around(None, "2026-W49", DAY, DAY, ZoneInfo("Europe/Vienna"))
NAMES = st.sampled_from(["Ada Bæk", "علي حسن", "100 %", "a_b", "O'Brien", 'the "tall" one', "ada", "\\", ""])
DAYS = st.integers(0, 6).map(lambda n: DAY + timedelta(days=n))
MOMENTS = st.integers(0, 500).map(lambda h: datetime(2026, 11, 20, tzinfo=UTC) + timedelta(hours=h))
STONES = st.lists(
    st.fixed_dictionaries(
        {
            "name": NAMES,
            "day": st.none() | DAYS,
            "at": st.none() | MOMENTS,
            "weight": st.none() | st.integers(-40, 400).map(lambda n: n / 4),
            "wet": st.booleans(),
            "seen_by": st.lists(NAMES.filter(bool), max_size=3, unique=True),
        }
    ),
    max_size=12,
).map(lambda found: [{**s, "key": f"S{n:02}"} for n, s in enumerate(found)])


@examples(40)
@given(STONES, DAYS, DAYS, NAMES.filter(bool))
def test_filters_sums_and_groups_of_computed_rows_are_those_of_a_plain_reading(
    stones: list[dict[str, Any]], first: date, last: date, name: str
) -> None:
    listing = list_of(stones)

    def kept(*filters: Filter) -> list[str]:
        return keys(listing, Question(filters, "", (Sort("key"),)), AROUND)

    between = ("between", (first.isoformat(), last.isoformat()))
    local = {s["key"]: s["at"].astimezone(AROUND.zone).date() for s in stones if s["at"]}
    assert kept(Filter("day", *between)) == [
        s["key"] for s in stones if s["day"] and first <= s["day"] <= last
    ]
    assert kept(Filter("at", *between)) == [k for k, day in local.items() if first <= day <= last]
    assert kept(Filter("wet", "is", ("yes",))) == [s["key"] for s in stones if s["wet"]]
    assert kept(Filter("seen_by", "is", (name,))) == [
        s["key"] for s in stones if name.lower() in [n.lower() for n in s["seen_by"]]
    ]
    asked = Question((), "", (Sort("weight"), Sort("key")), "day")
    told = rows(listing, asked, AROUND)
    assert told.counted.total == len(stones)
    assert told.counted.sums["weight"] == pytest.approx(sum(s["weight"] or 0 for s in stones))
    by_day = {g.value: g.count for g in groups(listing, asked, AROUND)}
    assert by_day == {
        d and d.isoformat(): sum(s["day"] == d for s in stones) for d in {s["day"] for s in stones}
    }
    first_cells = {r.key: r.cells for r in told.rows}
    for s in stones:
        cells = first_cells[s["key"]]
        assert (cells["name"], cells["wet"], cells["weight"]) == (s["name"], s["wet"], s["weight"])
        assert cells["at"] is None if s["at"] is None else datetime.fromisoformat(cells["at"]) == s["at"]


def test_no_rows_are_a_list_too() -> None:
    told = rows(list_of([]), Question((), "anything", ()), AROUND)
    assert (told.counted.total, told.rows) == (0, [])
