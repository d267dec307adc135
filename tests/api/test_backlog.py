"""The backlog as a table: what filters, sorts, pages and searches promise of every WO in it."""

import pytest

from tests.api.conftest import Week

SORTS = ("priority", "number", "due", "hours", "raised", "asset", "title", "kind")


def all_rows(week: Week, **asked: object) -> list[dict]:
    """Every row of a question, page by page."""
    first = week.get("/backlog", page=1, size=100, **asked)
    rows = list(first["rows"])
    while len(rows) < first["total"]:
        more = week.get("/backlog", page=len(rows) // 100 + 1, size=100, **asked)["rows"]
        assert more, "a page within the total is never empty"
        rows += more
    return rows


@pytest.mark.parametrize("sort", SORTS)
@pytest.mark.parametrize("down", [True, False])
def test_the_pages_of_any_order_hold_every_wo_once(week: Week, sort: str, down: bool) -> None:
    numbers = [r["number"] for r in all_rows(week, sort=sort, down=down)]
    assert len(numbers) == len(set(numbers)) == week.get("/backlog")["total"]


@pytest.mark.parametrize("sort", ["priority", "hours"])
def test_an_order_and_its_opposite_are_what_they_say(week: Week, sort: str) -> None:
    falling = [r[sort] for r in all_rows(week, sort=sort, down=True)]
    assert falling == sorted(falling, reverse=True)
    assert [r[sort] for r in all_rows(week, sort=sort, down=False)] == sorted(falling)


@pytest.mark.parametrize("filter", ["ready", "placed", "must"])
def test_a_filter_and_its_opposite_share_the_backlog_between_them(built: Week, filter: str) -> None:
    with_it = {r["number"] for r in all_rows(built, **{filter: True})}
    without = {r["number"] for r in all_rows(built, **{filter: False})}
    assert with_it and without
    assert not with_it & without
    assert len(with_it | without) == built.get("/backlog")["total"]


@pytest.mark.parametrize("words", ["%", "_", "\\", "' or 1=1 --", "صيانة"])
def test_what_a_search_means_to_the_database_is_only_text(week: Week, words: str) -> None:
    for row in week.get("/backlog", search=words)["rows"]:
        assert all(
            w.lower() in f"{row['number']} {row['title']} {row['asset']}".lower() for w in words.split()
        )


def test_words_of_a_search_may_stand_in_any_order_and_case(week: Week) -> None:
    title = next(r["title"] for r in all_rows(week) if len(r["title"].split()) > 1)
    first, second = title.split()[:2]
    one, other = (
        week.get("/backlog", search=s)["total"]
        for s in (f"{first} {second}", f"{second.upper()} {first.lower()}")
    )
    assert one == other > 0


def test_a_page_behind_the_last_is_empty_and_keeps_the_total(week: Week) -> None:
    whole = week.get("/backlog")
    behind = week.get("/backlog", page=10_000)
    assert (behind["rows"], behind["total"]) == ([], whole["total"])
