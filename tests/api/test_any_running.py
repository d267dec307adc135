"""Whatever is reported, answered, drawn and mended in a published week: taken whole or refused, undone whole, and the figures agree."""

from __future__ import annotations

import pytest

from nundine.core.week.check import check
from nundine.core.week.files import read_problem
from nundine.services.state import forget
from tests.api.conftest import Week
from tests.api.hands import RunningHand, stands

pytestmark = pytest.mark.long


def runs(week: Week) -> tuple:
    """All that a running week shows."""
    return (*stands(week), week.get("/review")["tasks"], week.get("/review/compliance"), week.get("/closing"))


@pytest.mark.parametrize("seed", [21, 22])
def test_whatever_is_done_in_a_running_week_is_taken_or_refused_with_a_reason_and_undo_leads_all_the_way_back(published: Week, seed: int) -> None:
    before, taken, kinds = runs(published), 0, set()
    for done, answer in RunningHand(published, seed).walk(30):
        assert answer.status_code in (200, 403, 404, 409, 422), (done, answer.text)
        if answer.status_code == 200:
            taken += 1
            kinds.add(done["kind"])
        else:
            assert answer.json()["title"], done
    assert taken > 10
    assert kinds > {"progress", "answers"} and len(kinds) > 3
    after = runs(published)
    for _ in range(taken):
        assert published.send(kind="undo").status_code == 200
    assert runs(published) == before
    for _ in range(taken):
        assert published.send(kind="redo").status_code == 200
    assert runs(published) == after


def test_a_running_week_reads_the_same_after_a_new_start(published: Week) -> None:
    for done, _ in RunningHand(published, 23).walk(12):
        told = runs(published)
        forget()
        assert runs(published) == told, done


def test_mending_after_anything_leaves_only_what_nobody_could_mend(published: Week) -> None:
    for _ in RunningHand(published, 24).walk(30):
        pass
    assert published.send(kind="mend").status_code in (200, 422)
    again = published.send(kind="mend")
    assert again.status_code == 422, "a mended week has nothing more to mend"
    problem = read_problem(published.get("/problem.json"))
    assert len(check(problem, problem.fixed).conflicts) == len(published.get()["conflicts"])
