"""What can not be done is refused in words that name the place, and the week stays as it was."""

from __future__ import annotations

from typing import Any

import pytest

from nundine.services.week.state import load_state
from tests.api.conftest import Week
from tests.conftest import WEEK

MONDAY, LONG_AGO, FAR_OFF = "2026-11-30", "0001-01-01", "9999-12-31"


def standing(week: Week) -> tuple[int, dict]:
    """How many edits the week has, and its placements."""
    state = load_state(WEEK)
    return week.edits(), state.rows


class There:
    """Things of the built week that an edit can be about."""

    def __init__(self, week: Week) -> None:
        self.state = load_state(WEEK)
        self.person = next(
            p.id for p in self.state.problem.people if any(str(h.day) == MONDAY for h in p.hours)
        )
        self.key = next(list(k) for k, r in sorted(self.state.rows.items()) if str(r["day"]) == MONDAY)
        self.waiting = next(
            j.id for j in self.state.problem.jobs if j.id not in {k[0] for k in self.state.rows}
        )
        self.task = self.key[:2]
        self.asset = next(a.id for a in self.state.problem.assets if a.work_windows is not None)
        self.area = week.get()["areas"][0]["key"]

    def fill(self, value: Any) -> Any:
        """A value with the names of things replaced by things that are there."""
        if isinstance(value, list):
            return [self.fill(v) for v in value]
        return getattr(self, value[1:]) if isinstance(value, str) and value.startswith("$") else value


@pytest.mark.parametrize(
    ("edit", "code", "words"),
    [
        ({"kind": "put", "jobs": ["$waiting"], "day": "2026-12-07"}, "day", "does not lie in week"),
        ({"kind": "put", "jobs": ["WO-0"]}, "work order", "There is no WO WO-0"),
        ({"kind": "move", "keys": [], "day": MONDAY}, "malformed", "at least 1 item"),
        ({"kind": "move", "keys": ["$key"], "day": MONDAY}, "nothing", "already"),
        ({"kind": "move", "keys": ["$key"], "day": FAR_OFF}, "malformed", "1970 to 2199"),
        (
            {"kind": "move", "keys": [["WO-0", "10", 1]], "day": MONDAY},
            "placement",
            "not placed in this week any more",
        ),
        ({"kind": "take out", "jobs": ["WO-0"]}, "placement", "not in this week any more"),
        ({"kind": "pin", "keys": [], "on": True}, "malformed", "at least 1 item"),
        ({"kind": "give", "key": "$key", "seat": 40, "person": "$person"}, "seat", "has no seat 41"),
        ({"kind": "give", "key": "$key", "seat": -1, "person": "$person"}, "seat", "has no seat"),
        ({"kind": "give", "key": "$key", "seat": 0, "person": "nobody"}, "cannot take", "nobody"),
        ({"kind": "exchange", "key": "$key", "seat": 40, "person": "$person"}, "seat", "has no seat 41"),
        ({"kind": "exchange", "key": "$key", "seat": 0, "person": "nobody"}, "person", "no person nobody"),
        ({"kind": "start", "key": "$key", "clock": "25:00"}, "malformed", "clock"),
        (
            {"kind": "absence", "person": "$person", "day": MONDAY, "reason": "tired"},
            "reason",
            "sick, leave, training, other",
        ),
        (
            {"kind": "absence", "person": "$person", "day": FAR_OFF, "reason": "sick"},
            "malformed",
            "1970 to 2199",
        ),
        (
            {"kind": "absence", "person": "nobody", "day": MONDAY, "reason": "sick"},
            "person",
            "no person nobody",
        ),
        (
            {"kind": "overtime", "person": "$person", "day": LONG_AGO, "start": "15:30", "end": "17:30"},
            "malformed",
            "1970 to 2199",
        ),
        (
            {"kind": "overtime", "person": "$person", "day": MONDAY, "start": "23:00", "end": "22:59"},
            "too long",
            "more than 16 hours",
        ),
        (
            {"kind": "lend", "person": "$person", "area": "nowhere", "first": MONDAY, "last": MONDAY},
            "area",
            "no area nowhere",
        ),
        (
            {"kind": "lend", "person": "$person", "area": "$area", "first": MONDAY, "last": "2026-11-29"},
            "days",
            "on or after the first",
        ),
        (
            {"kind": "lend", "person": "$person", "area": "$area", "first": MONDAY, "last": FAR_OFF},
            "malformed",
            "1970 to 2199",
        ),
        (
            {"kind": "lend", "person": "$person", "area": "$area", "first": LONG_AGO, "last": MONDAY},
            "malformed",
            "1970 to 2199",
        ),
        (
            {"kind": "skills", "person": "$person", "crafts": [["magic", 1]], "certificates": []},
            "craft",
            "no craft magic",
        ),
        (
            {"kind": "skills", "person": "$person", "crafts": [["mech", 4]], "certificates": []},
            "level",
            "1 helper, 2 qualified or 3 lead",
        ),
        (
            {"kind": "skills", "person": "$person", "crafts": [["mech", 1]], "certificates": [[" ", None]]},
            "certificate",
            "1 to 40",
        ),
        (
            {
                "kind": "skills",
                "person": "$person",
                "crafts": [["mech", 1]],
                "certificates": [["rope", None]] * 2,
            },
            "twice",
            "stands twice",
        ),
        ({"kind": "back", "person": "$person", "day": MONDAY}, "no absence", "is not away on"),
        ({"kind": "back", "person": "$person", "day": LONG_AGO}, "malformed", "1970 to 2199"),
        ({"kind": "free day", "person": "$person", "day": "2026-12-14"}, "nothing", "no seat on"),
        ({"kind": "cover day", "person": "$person", "day": "2026-12-14"}, "nothing", "no seat on"),
        (
            {
                "kind": "take back",
                "person": "$person",
                "day": MONDAY,
                "what": "overtime",
                "start": "2026-11-30T14:30:00+00:00",
            },
            "gone",
            "not there any more",
        ),
        (
            {
                "kind": "take back",
                "person": "$person",
                "day": MONDAY,
                "what": "overtime",
                "start": "yesterday",
            },
            "gone",
            "not there any more",
        ),
        (
            {"kind": "take back", "person": "$person", "day": MONDAY, "what": "loan", "start": "yesterday"},
            "gone",
            "not there any more",
        ),
        ({"kind": "status", "to": "closed"}, "state", "is drafting; it can become agreed"),
        ({"kind": "redo"}, "nothing", ""),
    ],
)
def test_an_edit_that_can_not_be_is_refused_in_words_and_the_week_stays_as_it_was(
    built: Week, edit: dict, code: str, words: str
) -> None:
    there, before = There(built), standing(built)
    answer = built.send(**{k: there.fill(v) for k, v in edit.items()})
    assert 400 <= answer.status_code < 500, answer.text[:200]
    assert answer.json()["code"] == code
    assert words in answer.json()["title"]
    assert standing(built) == before


@pytest.mark.parametrize(
    ("path", "form", "words"),
    [
        ("answers", {"key": ["WO-0", "10", 1], "said": "agreed"}, "not placed in this week any more"),
        ("answers", {"key": "$key", "said": "perhaps"}, "agreed"),
        ("progress", {"tasks": [["WO-0", "10"]], "to": "done"}, "WO-0"),
        ("progress", {"tasks": [], "to": "done"}, "at least 1 item"),
        ("progress", {"tasks": ["$task"], "to": "done", "hours_spent": -1}, "hours"),
        ("progress", {"tasks": ["$task"], "to": "done", "hours_spent": 1e300}, "hours"),
        ("progress", {"tasks": ["$task"], "to": "under way", "hours_left": 1e300}, "hours"),
        (
            "progress",
            {"tasks": ["$task"], "to": "done", "ended": f"{FAR_OFF}T23:59:00+00:00"},
            "1970 to 2199",
        ),
        (
            "progress",
            {"tasks": ["$task"], "to": "done", "ended": f"{LONG_AGO}T00:00:00+00:00"},
            "1970 to 2199",
        ),
        (
            "progress",
            {"tasks": ["$task"], "to": "done", "ended": "2027-12-01T07:00:00+01:00"},
            "its year and month",
        ),
        ("progress", {"tasks": ["$task"], "to": "done", "ended": "2026-12-01T07:00:00"}, "timezone"),
        ("progress", {"tasks": ["$task"], "to": "done", "who": ["nobody"]}, "nobody"),
        (
            "window-answers",
            {"asset": "$asset", "kind": "work", "start": f"{FAR_OFF}T23:59:00+00:00", "said": "agreed"},
            "1970 to 2199",
        ),
        (
            "window-answers",
            {"asset": "moon", "kind": "work", "start": "2026-11-30T21:00:00+00:00", "said": "agreed"},
            "moon",
        ),
        (
            "windows",
            {
                "asset": "moon",
                "kind": "work",
                "start": "2026-11-30T21:00:00+00:00",
                "end": "2026-11-30T23:00:00+00:00",
            },
            "moon",
        ),
        (
            "windows",
            {
                "asset": "$asset",
                "kind": "work",
                "start": "2026-11-30T21:00:00+00:00",
                "end": "2026-11-30T20:00:00+00:00",
            },
            "at least 15 minutes",
        ),
        (
            "windows",
            {
                "asset": "$asset",
                "kind": "work",
                "start": f"{LONG_AGO}T00:00:00+00:00",
                "end": "2026-11-30T20:00:00+00:00",
            },
            "1970 to 2199",
        ),
        (
            "windows",
            {
                "asset": "$asset",
                "kind": "work",
                "start": "2026-11-30T20:00:00+00:00",
                "end": f"{FAR_OFF}T23:59:00+00:00",
            },
            "1970 to 2199",
        ),
        ("builds", {"crafts": ["magic"]}, "magic"),
        ("builds", {"areas": ["nowhere"]}, "nowhere"),
        ("builds", {"days": [FAR_OFF]}, "1970 to 2199"),
        ("builds", {"seconds": 601}, "between 0.1 and 600"),
        ("builds", {"seconds": 0}, "between 0.1 and 600"),
    ],
)
def test_what_is_sent_beside_edits_is_refused_in_words_too(
    published: Week, path: str, form: dict, words: str
) -> None:
    there, before = There(published), standing(published)
    body = {"seen": before[0], **{k: there.fill(v) for k, v in form.items()}}
    answer = published.http.post(f"{published.base}/{path}", json=body)
    assert 400 <= answer.status_code < 500, answer.text[:200]
    assert answer.json()["title"] and words in answer.text
    assert standing(published) == before
