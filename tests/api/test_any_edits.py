"""Any sequence of edits by hand, right or wrong: each is taken whole or refused with a reason, and undo leads
all the way back."""

from __future__ import annotations

import pytest

from nundine.core.week.check import check
from nundine.core.week.files import read_problem
from nundine.services.cache import forget
from tests.api.conftest import Client, Week
from tests.api.hands import Hand, stands

pytestmark = pytest.mark.long


@pytest.mark.parametrize("seed", [1, 2])
def test_any_edits_are_taken_or_refused_with_a_reason_and_undo_leads_all_the_way_back(
    built: Week, seed: int
) -> None:
    assert len(Hand(built, seed).there_and_back(30, stands)) > 5


def test_what_an_edit_answers_is_what_a_server_just_started_would_say_of_the_week(built: Week) -> None:
    for edit, answer in Hand(built, 4).walk(25):
        told = answer.json()["week"] if answer.status_code == 200 else built.get()
        forget()
        assert built.get() == told, edit


def test_every_rule_that_hands_break_is_told_as_a_whole_reading_of_the_file_finds_it(built: Week) -> None:
    for _ in Hand(built, 6).walk(40):
        pass
    problem = read_problem(built.get("/problem.json"))
    checked = check(problem, problem.fixed)
    assert not checked.errors
    assert len(checked.conflicts) == len(built.get()["conflicts"]) > 3


def test_a_refused_edit_changes_nothing(built: Week) -> None:
    before, refused = stands(built), 0
    for _, answer in Hand(built, 8).walk(40):
        if answer.status_code == 200:
            built.send(kind="undo")
        refused += answer.status_code != 200
    assert refused > 5
    assert stands(built) == before


def test_two_people_who_edit_by_turns_never_undo_each_others_work(client: Client, built: Week) -> None:
    hands = [Hand(built, 9), Hand(Week(client("mila")), 10)]
    own: dict[int, int] = {0: 0, 1: 0}
    for turn in range(24):
        own[turn % 2] += hands[turn % 2].send()[1].status_code == 200
    for n, hand in enumerate(hands):
        undone = 0
        while (answer := hand.week.send(kind="undo")).status_code == 200:
            undone += 1
            assert undone <= own[n]
        assert answer.json()["title"]
