"""Any sequence of edits by hand, right or wrong: each is taken whole or refused with a reason, and undo leads all the way back."""

from __future__ import annotations

from collections.abc import Iterator
from random import Random

import pytest

from nundine.core.week.check import check
from nundine.core.week.files import read_problem
from nundine.services.state import forget, load_state
from tests.api.conftest import Client, Week
from tests.conftest import WEEK

pytestmark = pytest.mark.long
EDITS = ("put", "put", "move", "move", "take out", "pin", "give", "give", "start", "exchange",
         "absence", "overtime", "extra shift", "lend", "skills", "back", "free day", "cover day")  # fmt: skip


class Hand:
    """Somebody who edits the week without looking twice: mostly things that are there, now and then things that are not."""

    def __init__(self, week: Week, seed: int) -> None:
        self.week, self.dice = week, Random(seed)
        self.days = week.get()["days"]
        self.people = [p["key"] for p in week.get("/crew")["people"]]
        self.areas = [*(a["key"] for a in week.get()["areas"]), "nowhere"]

    def edit(self) -> dict:
        """An edit of a kind chosen by the dice."""
        r, state = self.dice, load_state(WEEK)
        kind, day, person = r.choice(EDITS), r.choice(self.days), r.choice(self.people)
        held = sorted(state.rows)
        left = sorted(set(state.problem.job_by_id) - {k[0] for k in held})
        key = list(r.choice(held))
        of_job = [list(k) for k in held if k[0] == key[0]]
        made: dict[str, dict] = {
            "put": {"jobs": [*r.sample(left, r.choice((0, 1, 1, 3))), *r.sample(("WO-0",), r.random() < 0.1)], "day": r.choice((None, day))},
            "move": {"keys": of_job, "day": day},
            "take out": {"jobs": [key[0]], "next_week": r.random() < 0.3},
            "pin": {"keys": of_job, "on": r.random() < 0.7},
            "give": {"key": key, "seat": r.randrange(3), "person": r.choice((None, person, person))},
            "start": {"key": key, "start": r.choice((None, f"{day}T{r.randrange(24):02}:{r.choice(('00', '15', '07'))}:00+01:00"))},
            "exchange": {"key": key, "seat": 0, "person": person},
            "absence": {"person": person, "day": day, "reason": r.choice(("sick", "training"))},
            "overtime": {"person": person, "day": day, "start": "15:30", "end": r.choice(("17:30", "15:30", "23:00"))},
            "extra shift": {"person": person, "day": day, "start": "06:00", "end": "12:00"},
            "lend": {"person": person, "area": r.choice(self.areas), "first": self.days[0], "last": day},
            "skills": {"person": person, "crafts": r.choice(([["mech", 2]], [["elec", 1], ["mech", 1]], [])), "certificates": []},
        }
        return {"kind": kind, **made.get(kind, {"person": person, "day": day})}

    def walk(self, count: int) -> Iterator[tuple[dict, object]]:
        for _ in range(count):
            edit = self.edit()
            yield edit, self.week.send(**edit)


def stands(week: Week) -> tuple:
    """All that edits can change, as it is read."""
    return (
        week.get("/problem.json"),
        week.get("/crew")["people"],
        week.get("/backlog", size=100, sort="number")["rows"],
    )


@pytest.mark.parametrize("seed", [1, 2])
def test_any_edits_are_taken_or_refused_with_a_reason_and_undo_leads_all_the_way_back(built: Week, seed: int) -> None:
    before, taken, kinds = stands(built), 0, set()
    for edit, answer in Hand(built, seed).walk(30):
        assert answer.status_code in (200, 404, 409, 422), (edit, answer.text)
        if answer.status_code == 200:
            taken += 1
            kinds.add(edit["kind"])
        else:
            assert answer.json()["title"], edit
    assert taken > 10
    assert len(kinds) > 5
    after = stands(built)
    for _ in range(taken):
        assert built.send(kind="undo").status_code == 200
    assert stands(built) == before
    for _ in range(taken):
        assert built.send(kind="redo").status_code == 200
    assert stands(built) == after


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
    sven, mila = built, Week(client("mila"))
    hands = [(Hand(sven, 9), sven), (Hand(mila, 10), mila)]
    own: dict[int, int] = {0: 0, 1: 0}
    for turn in range(24):
        hand, week = hands[turn % 2]
        own[turn % 2] += week.send(**hand.edit()).status_code == 200
    for n, (_, week) in enumerate(hands):
        undone = 0
        while (answer := week.send(kind="undo")).status_code == 200:
            undone += 1
            assert undone <= own[n]
        assert answer.json()["title"]
