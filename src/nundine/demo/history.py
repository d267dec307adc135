"""Two years of done work: WOs of the job plans, with hours spent that scatter as real ones do. Seeded: always
the same."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from datetime import date, time, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.cost import labour
from nundine.core.timeline import at_local
from nundine.demo.crew import RATES
from nundine.demo.work import order_row

COUNT, WEEKS = 2000, 104
SCATTER = 0.22
"""Standard deviation of the logarithm of hours spent by hours planned. From experience of such jobs, no
source."""
SLOW = {"Chair inspection, non-destructive": 1.5, "Valve actuator sluggish": 1.45, "LED retrofit": 0.6}
"""Plans that are off: hours spent by hours planned."""
SELDOM = ("Drive overhaul", "Shorten haul rope", "Software update, line control")


def done_work(
    assets: list[dict[str, Any]],
    plans: list[dict[str, Any]],
    plan_tasks: list[dict[str, Any]],
    people: list[dict[str, Any]],
    monday: date,
    zone: ZoneInfo,
) -> tuple[dict[tuple[str], dict[str, Any]], dict[tuple[str, str], dict[str, Any]]]:
    """WOs and their tasks by key, as records."""
    r = Random(90210)
    used = [p for p in plans if p["state"] == "in force" and p["valid_from"] is None]
    often = [0.1 if p["title"] in SELDOM else 1.0 for p in used]
    of_plan: dict[str, list[dict[str, Any]]] = defaultdict(list)
    for t in plan_tasks:
        of_plan[t["plan"]].append(t)
    able = _able(people)
    places = {p["number"]: _places(assets, p["words"].split()) for p in used}
    days = sorted((r.randrange(8, 7 * WEEKS) for _ in range(COUNT)), reverse=True)
    account_of = {a["asset"]: a["cost_account"] for a in assets}
    orders, tasks = {}, {}
    for n, plan in enumerate(r.choices(used, often, k=COUNT)):
        done = monday - timedelta(days=days[n])
        number = f"W{done:%y}-{n + 1:04}"
        order = order_row(number, plan["title"], r.choice(places[plan["number"]])["asset"], plan["kind"])
        order.update(
            state="closed" if days[n] > 42 else "done",
            raised=done - timedelta(days=r.choice((2, 6, 13, 20, 45))),
            plan=plan["number"],
            plan_edition=plan["edition"] if days[n] < 200 else 1,
        )
        order.update(cost_planned=None, cost_actual=None, charges=None)
        orders[(number,)] = order
        ended = at_local(done, _hour(r), zone)
        for t in of_plan[plan["number"]]:
            spent = t["hours"] * SLOW.get(plan["title"], 1.0) * r.lognormvariate(0.0, SCATTER)
            tasks[(number, t["task"])] = {
                **{k: v for k, v in t.items() if k not in ("plan", "task")},
                "state": "done",
                "hours_spent": max(0.25, round(spent * 4) / 4),
                "hours_left": None,
                "reason": None,
                "done_by": list(_who(r, t["needs"], able)),
                "hours_by": None,
                "ended": ended,
            }
        if order["state"] == "closed":
            its = [tasks[(number, t["task"])] for t in of_plan[plan["number"]]]
            _charge(order, its, account_of[order["asset"]])
    return orders, tasks


def _charge(order: dict[str, Any], tasks: list[dict[str, Any]], account: str) -> None:
    """It keeps what it cost."""

    def cost(hours: str) -> int:
        return sum(labour(t[hours], [need[:2] for need in t["needs"]], RATES) for t in tasks)

    order.update(cost_planned=cost("hours"), cost_actual=cost("hours_spent"))
    order["charges"] = [[account, order["cost_actual"]]]


def _hour(r: Random) -> time:
    return time(r.choice((2, 4, 10, 14, 16, 22)), r.choice((0, 15, 30, 45)))


def _places(assets: list[dict[str, Any]], words: list[str]) -> list[dict[str, Any]]:
    """Assets whose names hold one of some words; any asset where none does."""
    fit = [a for a in assets if any(w.lower() in a["name"].lower() for w in words)]
    return fit or assets


def _able(people: list[dict[str, Any]]) -> dict[str, list[str]]:
    """People by craft."""
    out: dict[str, list[str]] = defaultdict(list)
    for p in people:
        for craft, _ in p["crafts"]:
            out[craft].append(p["person"])
    return out


def _who(r: Random, needs: tuple[Any, ...], able: dict[str, list[str]]) -> Iterator[str]:
    """Somebody for each seat, nobody twice."""
    taken: set[str] = set()
    for craft, people, *_ in needs:
        free = [p for p in able[craft] if p not in taken]
        chosen = r.sample(free, min(people, len(free)))
        taken.update(chosen)
        yield from chosen
