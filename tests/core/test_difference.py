"""Three-way comparison of an export: what is theirs, what is ours, what both changed."""

from datetime import UTC, date, datetime, timedelta, timezone

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.difference import FieldChange, difference, field_changes, plain_value

FIELDS = st.dictionaries(st.sampled_from(("title", "hours", "due", "kind", "asset")), st.integers(0, 3))
TASKS = st.dictionaries(st.sampled_from(("10", "20", "30")), FIELDS)
SIDES = st.builds(lambda f, t: {"fields": f, "tasks": t}, FIELDS, TASKS)


def side(title: str, **tasks: dict) -> dict:
    return {"fields": {"title": title}, "tasks": {k.strip("t"): v for k, v in tasks.items()}}


def test_what_changed_there_alone_is_offered_as_theirs() -> None:
    found = difference("WO-1", side("old"), side("old"), side("new"))
    assert found.changes == (FieldChange(None, "title", "old", "new", by_hand=False),)
    assert found.any


def test_what_changed_here_alone_is_kept_and_is_no_difference() -> None:
    found = difference("WO-1", side("old"), side("mine"), side("old"))
    assert (found.changes, found.kept, found.any) == ((), 1, False)


def test_what_both_changed_is_offered_and_told_as_changed_by_hand() -> None:
    assert difference("WO-1", side("old"), side("mine"), side("theirs")).changes == (
        FieldChange(None, "title", "mine", "theirs", by_hand=True),
    )


def test_what_both_changed_to_the_same_is_no_difference() -> None:
    assert not difference("WO-1", side("old"), side("same"), side("same")).any


def test_a_wo_that_was_never_imported_takes_every_field_that_differs_as_theirs() -> None:
    assert difference("WO-1", None, side("mine"), side("theirs")).changes == (
        FieldChange(None, "title", "mine", "theirs", by_hand=False),
    )


def test_a_task_that_they_tell_for_the_first_time_is_new() -> None:
    found = difference("WO-1", side("a"), side("a"), side("a", t10={"hours": 2}))
    assert (found.new_tasks, found.gone_tasks, found.changes) == (("10",), (), ())


def test_a_task_that_they_told_and_no_longer_tell_is_gone_but_one_made_here_stays() -> None:
    found = difference("WO-1", side("a", t10={}), side("a", t10={}, t90={}), side("a"))
    assert found.gone_tasks == ("10",)


def test_a_task_that_was_taken_away_here_comes_back_as_new_where_they_still_tell_it() -> None:
    assert difference("WO-1", side("a", t10={}), side("a"), side("a", t10={})).new_tasks == ("10",)


def test_fields_that_they_do_not_tell_stay_as_they_are() -> None:
    changes, kept = field_changes("10", {"hours": 2}, {"hours": 3, "note": "mine"}, {})
    assert (changes, kept) == ([], 0)


@given(SIDES)
def test_a_side_compared_with_itself_is_no_difference(one: dict) -> None:
    assert not difference("WO-1", one, one, one).any
    assert not difference("WO-1", None, one, one).any


@given(st.none() | SIDES, SIDES, SIDES)
def test_taking_all_that_is_offered_leaves_only_what_is_kept(
    base: dict | None, ours: dict, theirs: dict
) -> None:
    found = difference("WO-1", base, ours, theirs)
    taken = {
        "fields": dict(ours["fields"]),
        "tasks": {k: dict(v) for k, v in ours["tasks"].items() if k not in found.gone_tasks},
    }
    for task in found.new_tasks:
        taken["tasks"][task] = dict(theirs["tasks"][task])
    for change in found.changes:
        (taken["fields"] if change.task is None else taken["tasks"][change.task])[change.field] = change.after
    again = difference("WO-1", base, taken, theirs)
    assert not again.any
    assert again.kept == found.kept


@given(st.none() | SIDES, SIDES, SIDES)
def test_every_field_that_differs_is_either_offered_or_kept(
    base: dict | None, ours: dict, theirs: dict
) -> None:
    found = difference("WO-1", base, ours, theirs)
    pairs = [(ours["fields"], theirs["fields"])]
    pairs += [(ours["tasks"][t], values) for t, values in theirs["tasks"].items() if t in ours["tasks"]]
    differ = sum(1 for a, b in pairs for name, value in b.items() if a.get(name) != value)
    assert differ == len(found.changes) + found.kept


@pytest.mark.parametrize(
    ("value", "plain"),
    [
        (3, 3.0),
        (True, True),
        (date(2028, 2, 29), "2028-02-29"),
        (("a", 1), ["a", 1.0]),
        ({1: (date(2026, 1, 1),)}, {"1": ["2026-01-01"]}),
        (None, None),
        ("عمر", "عمر"),
    ],
)
def test_values_are_compared_as_json_keeps_them(value: object, plain: object) -> None:
    assert plain_value(value) == plain
    assert type(plain_value(value)) is type(plain)


def test_one_moment_in_two_zones_is_one_value() -> None:
    there = datetime(2026, 11, 30, 9, tzinfo=timezone(timedelta(hours=1)))
    assert (
        plain_value(there)
        == plain_value(datetime(2026, 11, 30, 8, tzinfo=UTC))
        == "2026-11-30T08:00:00+00:00"
    )
