"""Hands that work on a week without looking twice, for tests of what must hold whatever is done."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from random import Random

from httpx import Response

from nundine.services.week.state import load_state
from tests.api.conftest import Week
from tests.conftest import WEEK

EDITS = (
    "put",
    "put",
    "move",
    "move",
    "take out",
    "next week",
    "pin",
    "give",
    "give",
    "start",
    "exchange",
    "absence",
    "overtime",
    "extra shift",
    "lend",
    "skills",
    "back",
    "free day",
    "cover day",
    "give all",
)


class Hand:
    """Somebody who edits the week without looking twice: mostly things that are there, now and then things
    that are not."""

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
            "put": {
                "jobs": [*r.sample(left, r.choice((0, 1, 1, 3))), *r.sample(("WO-0",), r.random() < 0.1)],
                "day": r.choice((None, day)),
            },
            "move": {"keys": of_job, "day": day},
            "take out": {"jobs": [key[0]]},
            "next week": {"jobs": [key[0]], "day": r.choice((None, "2026-12-09"))},
            "pin": {"keys": of_job, "on": r.random() < 0.7},
            "give": {"key": key, "seat": r.randrange(3), "person": r.choice((None, person, person))},
            "start": {
                "key": key,
                "clock": r.choice((None, f"{r.randrange(24):02}:{r.choice(('00', '15', '07'))}")),
            },
            "exchange": {"key": key, "seat": 0, "person": person},
            "absence": {"person": person, "day": day, "reason": r.choice(("sick", "training"))},
            "overtime": {
                "person": person,
                "day": day,
                "start": "15:30",
                "end": r.choice(("17:30", "15:30", "23:00")),
            },
            "extra shift": {"person": person, "day": day, "start": "06:00", "end": "12:00"},
            "lend": {"person": person, "area": r.choice(self.areas), "first": self.days[0], "last": day},
            "skills": {
                "person": person,
                "crafts": r.choice(([["mech", 2]], [["elec", 1], ["mech", 1]], [])),
                "certificates": [],
            },
        }
        return {"kind": kind, **made.get(kind, {"person": person, "day": day})}

    def send(self) -> tuple[dict, Response]:
        """Something is done: what, and the answer."""
        edit = self.edit()
        return edit, self.week.send(**edit)

    def there_and_back(self, count: int, read: Callable[[Week], tuple]) -> set[str]:
        """So many things are done, then all undone, then all done again; gives the kinds of what was taken.

        Each is taken or refused with a reason; `read` must find what it found before after the undos, and
        what it found after them at the end.
        """
        before, taken = read(self.week), []
        for done, answer in self.walk(count):
            assert answer.status_code in (200, 403, 404, 409, 422), (done, answer.text)
            assert answer.status_code == 200 or answer.json()["title"], done
            taken += [done["kind"]] if answer.status_code == 200 else []
        after = read(self.week)
        for back, found in (("undo", before), ("redo", after)):
            for _ in taken:
                assert self.week.send(kind=back).status_code == 200
            assert read(self.week) == found
        assert len(taken) > 10
        return set(taken)

    def walk(self, count: int) -> Iterator[tuple[dict, Response]]:
        for _ in range(count):
            yield self.send()


class RunningHand(Hand):
    """Somebody who has a published week under way: reports, answers, windows and mending beside edits."""

    def send(self) -> tuple[dict, Response]:
        r = self.dice
        kind = r.choice(("progress", "progress", "progress", "answers", "windows", "mend", "edit", "edit"))
        if kind == "edit":
            return super().send()
        if kind == "mend":
            return {"kind": kind}, self.week.send(kind="mend")
        form = {"progress": self.report, "answers": self.answer, "windows": self.window}[kind]()
        return {**form, "kind": kind}, self.week.http.post(
            f"{self.week.base}/{kind}", json={**form, "seen": self.week.edits()}
        )

    def report(self) -> dict:
        r = self.dice
        held = sorted({k[:2] for k in load_state(WEEK).rows})
        more = r.choice(
            (
                {},
                {"hours_spent": r.choice((0.0, 1.5, -1.0))},
                {"hours_left": r.choice((0.0, 2.25))},
                {"reason": r.choice(("part missing", "?"))},
                {"along": True},
                {"along": True},
            )
        )
        return {
            "tasks": [list(k) for k in r.sample(held, r.choice((1, 1, 4)))],
            "to": r.choice(("to do", "under way", "done", "not done", "skipped")),
            **more,
        }

    def answer(self) -> dict:
        key = self.dice.choice(sorted(load_state(WEEK).rows))
        return {
            "key": list(key),
            "said": self.dice.choice(("agreed", "refused", None)),
            "remark": self.dice.choice(("", "line is needed", "صيانة")),
        }

    def window(self) -> dict:
        """One that is there is taken away or made shorter, or one is drawn where there may be none."""
        r = self.dice
        asset = r.choice([a for a in self.week.get("/agree")["assets"] if a["windows"]])
        one = r.choice(asset["windows"])
        was = {"asset": asset["key"], "kind": one["kind"], "was": one["start"]}
        drawn = {
            "asset": asset["key"],
            "kind": one["kind"],
            "start": f"{r.choice(self.days)}T05:00:00+01:00",
            "end": f"{r.choice(self.days)}T09:30:00+01:00",
        }
        return r.choice(
            (was, {**was, "start": one["start"], "end": one["start"][:11] + "23:30:00+01:00"}, drawn)
        )


def stands(week: Week) -> tuple:
    """All that edits can change, as it is read."""
    return (
        week.get("/problem.json"),
        week.get("/crew")["people"],
        week.get("/agree"),
        week.get("/backlog", size=100, sort="number")["rows"],
    )
