"""About 450 work orders with 1-8 tasks, with every kind of trouble that a scheduler meets. Seeded: always the
same."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local
from nundine.demo.jobs import JOBS, PUT_BACK

COUNT = 450
LONG_OVERHAUL = 40.0
"""Elapsed hours of the longest overhaul."""


def orders_and_tasks(
    assets: list[dict[str, Any]], monday: date, zone: ZoneInfo
) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Rows of work orders and of tasks."""
    r = Random(20261)
    area = {a["asset"]: a["area"] for a in assets}
    orders, tasks = [], []
    for n in range(COUNT):
        title, kind, words, steps = JOBS[n] if n < len(JOBS) else r.choice(JOBS)
        places = [a for a in assets if any(w.lower() in a["name"].lower() for w in words)]
        asset = r.choice(places)
        number = f"WO-{1800 + n * 3 + n % 2}"
        raised = monday - timedelta(days=r.choice((3, 8, 15, 22, 40, 75, 120, 200)) + r.randrange(6))
        broken = kind == "corrective" and r.random() < 0.08
        order = order_row(number, title, asset["asset"], "breakdown" if broken else kind)
        order["state"] = "planned" if r.random() < 0.05 else "approved"
        order["raised"] = raised
        _about(order, area[asset["asset"]], n)
        _dates(r, order, monday, zone)
        orders.append(order)
        scale = r.choice((0.75, 1.0, 1.0, 1.25))
        for k, (what, hours, state, needs) in enumerate(steps, 1):
            tasks.append(task_row(r, number, k, what, max(0.5, round(hours * scale * 4) / 4), state, needs))
    _troubles(orders, tasks, monday, zone)
    _long_overhaul(orders, tasks)
    return orders, tasks


def order_row(number: str, title: str, asset: str, kind: str) -> dict[str, Any]:
    """A WO with nothing that stands in its way."""
    return {
        "number": number,
        "title": title,
        "asset": asset,
        "kind": kind,
        "state": "approved",
        "raised": None,
        "must": False,
        "divisible": kind == "improvement",
        "put_back": title in PUT_BACK,
        "earliest": None,
        "due": None,
        "latest": None,
        "parts_ready": None,
        "parts_unknown": False,
        "permit": "not needed",
        "description": "",
        "sub_kind": "",
        "department": "",
        "crew": "",
        "contact": "",
        "cost_account": None,
        "correction": 0.0,
        "shares": (),
        "plan": None,
        "plan_edition": None,
        "plan_from": "",
    }


SUB_KINDS = {"corrective": ("wear", "weather", "operation"), "preventive": ("running hours", "yearly")}
CONTACTS = ("Olivia Thorne", "Tilde Amsel", "Bruno Kestrel")


def _about(order: dict[str, Any], area: str, n: int) -> None:
    """Who pays, is answerable and knows more; not everything of every WO."""
    words = SUB_KINDS.get(order["kind"], ("",))
    order["sub_kind"] = words[n % len(words)]
    order["department"] = "Snow" if "now" in order["title"] else "Ropeways"
    order["crew"] = f"{area.capitalize()} {1 + n % 2}" if n % 3 else ""
    order["contact"] = CONTACTS[n % 3] if n % 5 == 0 else ""
    if order["kind"] == "project":
        order["cost_account"] = "7100-investments"
    if n % 90 == 31:
        order["correction"] = 10.0


def _at(day: date, zone: ZoneInfo, hour: int = 0) -> datetime:
    return at_local(day, time(hour), zone).astimezone(ZoneInfo("UTC"))


def _dates(r: Random, order: dict[str, Any], monday: date, zone: ZoneInfo) -> None:
    if order["kind"] in ("statutory", "preventive"):
        due = monday + timedelta(days=r.choice((-9, -2, 1, 3, 4, 6, 9, 16, 30)))
        order["due"] = _at(due, zone, 18)
        order["must"] = order["kind"] == "statutory" and due < monday + timedelta(days=5) and r.random() < 0.7
    elif order["kind"] == "safety":
        order["due"] = _at(monday + timedelta(days=r.choice((2, 5, 12))), zone, 18)
        order["must"] = r.random() < 0.3
    elif r.random() < 0.3:
        order["due"] = _at(monday + timedelta(days=r.randrange(-20, 40)), zone, 18)
    chance = r.random()
    if chance < 0.07:
        order["parts_ready"] = monday + timedelta(days=r.choice((1, 2, 3, 9, 20)))
    elif chance < 0.1:
        order["parts_unknown"] = True
    elif chance < 0.15:
        order["permit"] = r.choice(("waiting", "granted", "granted"))
    elif chance < 0.18:
        order["earliest"] = _at(monday + timedelta(days=r.choice((2, 3, 8))), zone, 6)


def task_row(
    r: Random, number: str, k: int, what: str, hours: float, state: str, needs: str
) -> dict[str, Any]:
    """The k-th task of a WO, after the one before it; hours are elapsed."""
    parsed = []
    for part in needs.split("; "):
        words = part.split()
        people = next((int(w[1:]) for w in words[1:] if w[0] == "x" and w[1:].isdigit()), 1)
        level = int(words[words.index("level") + 1]) if "level" in words else 1
        parsed.append((words[0], people, level, words[words.index("with") + 1] if "with" in words else None))
    tools = []
    if "ift" in what and state == "stopped":
        tools = ["crane"]
    elif "weld" in what.lower() and "Test" in what:
        tools = ["ndt"]
    elif "lign" in what:
        tools = ["laser"]
    elif "access" in what:
        tools = ["lift"]
    return {
        "number": number,
        "task": str(10 * k),
        "title": what,
        "hours": hours,
        "asset_state": state,
        "after": ((str(10 * (k - 1)), 0.0),) if k > 1 else (),
        "splittable": hours >= 5,
        "min_portion": 2.0,
        "needs": tuple(parsed),
        "tools": tuple(tools),
        "state": "to do",
    }


def _long_overhaul(orders: list[dict[str, Any]], tasks: list[dict[str, Any]]) -> None:
    """One overhaul takes forty hours, task after task."""
    number = next(o["number"] for o in orders if o["title"] in PUT_BACK)
    its = [t for t in tasks if t["number"] == number]
    scale = LONG_OVERHAUL / sum(t["hours"] for t in its)
    for t in its:
        t["hours"] = round(t["hours"] * scale * 4) / 4
        t["splittable"] = t["hours"] >= 5


def begun_last_week(
    orders: list[dict[str, Any]],
    tasks: list[dict[str, Any]],
    assets: list[dict[str, Any]],
    windows: list[dict[str, Any]],
) -> tuple[str, str]:
    """The WO whose first task was done last week and whose asset, which no window binds, is still out of
    service; and that task."""
    parent = {a["asset"]: a["parent"] for a in assets}
    bound = {a["asset"] for a in assets if a["limited"]} | {w["asset"] for w in windows}

    def is_bound(asset: str | None) -> bool:
        return asset is not None and (asset in bound or is_bound(parent[asset]))

    for order in orders:
        its = [t for t in tasks if t["number"] == order["number"]]
        if (
            len(its) > 1
            and order["state"] == "approved"
            and not order["put_back"]
            and all(t["asset_state"] == "stopped" for t in its)
            and not is_bound(order["asset"])
        ):
            return order["number"], its[0]["task"]
    raise ValueError("the demo world has no job that could have begun last week")


def _troubles(
    orders: list[dict[str, Any]], tasks: list[dict[str, Any]], monday: date, zone: ZoneInfo
) -> None:
    """One job at least for every reason why a job can not be placed."""
    by_order: dict[str, list[dict[str, Any]]] = {}
    for t in tasks:
        by_order.setdefault(t["number"], []).append(t)
    chosen = [o for o in orders if len(by_order[o["number"]]) == 1 and o["state"] == "approved"][-10:]
    nobody, level, no_window, short, long, late, tool, hasty, gone, blank = chosen
    plain = {
        "parts_ready": None,
        "parts_unknown": False,
        "permit": "not needed",
        "earliest": None,
        "latest": None,
    }
    for order in chosen:
        order.update(plain)
    by_order[nobody["number"]][0]["needs"] = (("weld", 1, 2, "underwater"),)
    by_order[level["number"]][0]["needs"] = (("rig", 4, 2, None),)
    no_window.update(asset="L3", parts_unknown=False, permit="not needed")
    by_order[no_window["number"]][0]["asset_state"] = "stopped"
    short.update(asset="N3-1", latest=None, earliest=None)
    by_order[short["number"]][0].update(
        asset_state="stopped", hours=5.0, splittable=False, needs=(("mech", 1, 1, None),)
    )
    by_order[long["number"]][0].update(hours=14.0, splittable=False, asset_state="any")
    late["earliest"] = _at(monday + timedelta(days=10), zone, 6)
    by_order[tool["number"]][0].update(tools=("bench",))
    hasty["latest"] = _at(monday, zone, 2)
    seal = next(
        o for o in reversed(orders) if o["title"] == "Pump seal exchange" and o["state"] == "approved"
    )
    seal.update(
        plain,
        earliest=_at(monday + timedelta(days=1), zone, 6),
        latest=_at(monday + timedelta(days=1), zone, 10),
    )
    gone["permit"] = "waiting"
    blank["state"] = "planned"
