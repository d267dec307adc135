"""Eighty requests of those who run the lifts, in all states, and the small jobs that came of some. Seeded:
always the same."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local
from nundine.demo.work import order_row

SEEN: tuple[tuple[str, tuple[str, ...], str], ...] = (
    ("Door closes slowly", ("cabins", "cars"), "Guests have to help with the hand. Worse in the morning."),
    ("Window scratched so that nobody sees out", ("cabins", "cars"), ""),
    ("Squeaks at every tower", ("towers",), "Heard from the piste below tower 7."),
    ("Oil on the floor below the gearbox", ("drive", "winch"), "A puddle as large as a plate since Tuesday."),
    ("Motor louder than last winter", ("drive", "winch", "pump house"), "A hum that goes up with the speed."),
    ("Stop button sticks", ("drive", "return"), "Has to be pulled out twice."),
    ("Display in the cabin of the attendant is dark", ("drive",), ""),
    ("Speed jumps when starting", ("drive",), "Three times on Saturday, no fault in the list."),
    ("Heater of the hut does not warm", ("return", "terminal"), "Minus 6 inside at half past seven."),
    ("Rope guard rubs", ("towers", "return"), "Bare metal over a hand's breadth."),
    (
        "Loose sheet on the roof",
        ("return", "drive", "terminal"),
        "Bangs in the wind; must not come down on guests.",
    ),
    ("Light over the stairs fails", ("return", "terminal", "winch"), "Flickers, then off for an hour."),
    ("Seat torn", ("chairlift",), "Number 61, the foam shows."),
    ("Safety bar hard to close", ("chairlift",), ""),
    ("Snow gun does not turn", ("gun line",), "It throws all onto the lift track."),
    ("Water below the pump house door", ("pump house",), "Runs over the road and freezes."),
    ("Comb plate has a broken tooth", ("carpet",), "Small boots could get caught."),
    ("Gate lets two through at once", ("drive station", "terminal"), "Only the left one."),
    ("Railing wobbles", ("return", "terminal"), "On the side of the valley."),
    ("Radio link drops out", ("drive station", "switch house"), "Now and then after dark."),
)
WHO = ("Olivia Thorne", "Karl Reuter", "René Aubert", "Tilde Amsel", "Bruno Kestrel", "Ana Varga")
QUESTIONS = ("Which of them, counted from the valley?", "Does it do so without guests too?", "Since when?")
WHY_NOT = (
    "Seen to at the overhaul in spring.",
    "It belongs to the owner of the restaurant; told him.",
    "Measured: within what the maker allows.",
    "Reported already, see the one before.",
)
COUNTS = (("new", 24), ("asked back", 7), ("in work", 27), ("declined", 12), ("done", 10))
FIRST = 1001


def requests_and_orders(
    assets: list[dict[str, Any]], orders: list[dict[str, Any]], monday: date, zone: ZoneInfo
) -> tuple[list[dict[str, Any]], list[dict[str, Any]], list[dict[str, Any]]]:
    """Requests, and the done WOs behind some with their tasks, by import kind."""
    r = Random(417)
    open_orders = [o for o in orders if o["state"] == "approved"]
    requests: list[dict[str, Any]] = []
    done: list[dict[str, Any]] = []
    tasks: list[dict[str, Any]] = []
    states = [state for state, count in COUNTS for _ in range(count)]
    r.shuffle(states)
    for n, state in enumerate(states):
        title, words, more = SEEN[n % len(SEEN)]
        fit = {a["asset"]: a for a in assets if any(w in _last(a["name"]) for w in words)}
        asset = r.choice(list(fit.values()))
        days = r.randrange(0, 5) if state in ("new", "asked back") else r.randrange(4, 60)
        raised = at_local(monday - timedelta(days=7 + days), time(r.randrange(6, 20), r.randrange(60)), zone)
        number = None
        if state == "in work":
            order = r.choice([o for o in open_orders if o["asset"] in fit] or open_orders)
            number, asset = order["number"], next(a for a in assets if a["asset"] == order["asset"])
        elif state == "done":
            number = f"WO-{901 + len(done)}"
            done.append(_done(number, title, asset, raised))
            tasks.append(_task(number, title, r.choice((0.5, 1.0, 1.5, 3.0))))
        requests.append(
            {
                "number": f"R-{FIRST + n}",
                "title": title,
                "asset": asset["asset"],
                "place": "",
                "urgency": r.choice(("now", "this week", "this week", "when it fits", "when it fits")),
                "state": state,
                "raised": raised.astimezone(ZoneInfo("UTC")),
                "reporter": r.choice(WHO),
                "order": number,
                "description": more,
            }
        )
    return requests, done, tasks


def _last(name: str) -> str:
    """The last part of a name: `drive station` of a lift's."""
    return name.rsplit(", ", 1)[-1].lower()


def talk(requests: list[dict[str, Any]]) -> dict[tuple[str], dict[str, Any]]:
    """What was asked of those asked back about, and why others were declined, by request."""
    r, out = Random(91), {}
    for one in requests:
        words = {"asked back": QUESTIONS, "declined": WHY_NOT}.get(one["state"])
        if words:
            at = (one["raised"] + timedelta(hours=3)).isoformat(timespec="seconds")
            out[(one["number"],)] = {"talk": [{"at": at, "by": "Sven Ostrova", "text": r.choice(words)}]}
    return out


def _done(number: str, title: str, asset: dict[str, Any], raised: datetime) -> dict[str, Any]:
    order = order_row(number, title, asset["asset"], "corrective")
    return {**order, "state": "done", "raised": raised.date()}


def _task(number: str, title: str, hours: float) -> dict[str, Any]:
    return {
        "number": number,
        "task": "10",
        "title": title,
        "hours": hours,
        "asset_state": "stopped",
        "after": (),
        "splittable": False,
        "min_portion": 2.0,
        "needs": (("mech", 1, 1, None),),
        "tools": (),
        "state": "done",
    }
