"""Rows that are written many at once."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest
from peewee import IntegrityError

from nundine.store import bulk
from nundine.store.belonging import Site
from nundine.store.bulk import insert_rows
from nundine.store.week import Event


def site(key: str, **more: object) -> dict[str, object]:
    return {"key": key, "name": f"Site {key}", "timezone": "Europe/Zurich", **more}


def test_rows_come_back_as_they_went_in_and_unnamed_fields_have_their_defaults(fresh: None) -> None:
    insert_rows(Site, [site("a", settings={"ü": ["%s", "'"]}), site("b", settings={})])
    first = Site.get(Site.key == "a")
    assert (first.settings, first.revision, first.aged) == ({"ü": ["%s", "'"]}, 1, None)


def test_moments_keep_their_instant_to_the_microsecond(fresh: None) -> None:
    at = datetime(2026, 10, 25, 0, 30, 0, 123456, tzinfo=UTC)
    insert_rows(Event, [{"kind": "note", "body": {}, "week": "", "at": at}])
    assert Event.select().get().at == at


def test_more_rows_than_one_statement_takes_are_all_written(
    fresh: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(bulk, "AT_ONCE", 3)
    insert_rows(Site, [site(str(n)) for n in range(8)])
    assert Site.select().count() == 8


def test_a_row_that_is_there_is_refused_or_gets_what_replaces_it(fresh: None) -> None:
    insert_rows(Site, [site("a")])
    with pytest.raises(IntegrityError):
        insert_rows(Site, [site("a")])
    insert_rows(Site, [{**site("a"), "name": "Other", "timezone": "UTC"}], replacing=[Site.name])
    there = Site.get(Site.key == "a")
    assert (there.name, there.timezone) == ("Other", "Europe/Zurich")


def test_a_field_that_the_table_has_not_is_an_error_and_nothing_is_written(fresh: None) -> None:
    with pytest.raises(ValueError, match="no field colour"):
        insert_rows(Site, [site("a", colour="red")])
    assert not Site.select().count()
