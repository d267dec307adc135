"""Writes the demo world into an empty database."""

from __future__ import annotations

from datetime import date, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local, week_monday
from nundine.demo import (
    buying,
    crew,
    desk_weeks,
    history,
    needs,
    overhaul,
    places,
    plans,
    recurring,
    safety,
    second_site,
    stores,
    views,
    work,
)
from nundine.demo.sign_ins import KEY, SIGN_INS, SITE, ZONE, demo_week
from nundine.services.admin import accounts
from nundine.services.admin.sites import make_site, share_crafts
from nundine.services.exchange.stored_rows import changes_of
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.work.plan_editions import keep_editions
from nundine.store.base import db
from nundine.store.belonging import at_site


def rows(week: str) -> dict[str, list[dict[str, Any]]]:
    """Everything of the demo world by import kind, dated to a week."""
    monday, zone = week_monday(week), ZoneInfo(ZONE)
    assets = places.assets()
    orders, tasks = work.orders_and_tasks(assets, monday, zone)
    job_plans, plan_tasks = plans.job_plans(monday)
    plans.made_of(orders, job_plans)
    requests, done, their_tasks = needs.requests_and_orders(assets, orders, monday, zone)
    safety.say_more(job_plans, plan_tasks, [*orders, *done], [*tasks, *their_tasks])
    overhaul.hang(orders, assets, monday)
    stock = stores.parts(assets)
    stores.say_needs(job_plans, plan_tasks, stock["parts"])
    stock["movements"] = stores.movements(stock["parts"], monday)
    bought = buying.say(orders, tasks, stock, monday)
    preventive = recurring.recurring(job_plans, assets, orders, monday, zone)
    return {
        "areas": [
            {"area": k, "name": n, "planning_team": safety.PLANNING_TEAMS[k]} for k, n in places.AREAS
        ],
        "ways": [{"from": a, "to": b, "minutes": minutes} for a, b, minutes in places.WAYS],
        "crafts": [
            {
                "craft": k, "name": n, "held_back": h, "rate": crew.RATES[k],
                "overtime_rate": crew.RATES[k] * safety.OVERTIME,
            }
            for k, n, h in crew.CRAFTS
        ],
        "tools": [
            {"tool": k, "name": n, "count": c, "vehicle": k in safety.VEHICLES} for k, n, c in crew.TOOLS
        ],
        "permit_kinds": [{"permit": k, "name": n, "asks": a} for k, n, a in safety.PERMIT_KINDS],
        "assets": assets,
        **overhaul.meters(assets, monday),
        "shutdowns": overhaul.shutdowns(monday),
        "windows": places.windows(monday, zone),
        "people": crew.people(monday),
        "shifts": crew.shifts(),
        "rosters": crew.rosters(monday),
        "absences": crew.absences(monday, zone),
        "overtime": crew.overtime(monday, zone),
        "job_plans": job_plans,
        "plan_tasks": plan_tasks,
        "work_orders": [*orders, *done],
        "tasks": [*tasks, *their_tasks],
        **preventive,
        "permits": safety.permits(orders, monday, zone),
        "requests": requests,
        **stock,
        **bought,
    }  # fmt: skip


def make(today: date, passwords: dict[str, str], *, past: bool = True) -> None:
    """Fill an empty database: site, accounts, assets, people, work. One transaction.

    Parameters
    ----------
    past
        Whether two years of done work are made, too, and a third of preventive work.
    """
    with db.atomic():
        make_site(SITE, ZONE, KEY)
        paid = changes_to("site", {(KEY,): {"settings": {"currency": "CHF"}}})
        write(f"site {KEY}", None, Edit("set-up", "What it pays in", paid), checked=True)
        for name, full_name, role in SIGN_INS:
            accounts.create(name, full_name, passwords[name], role)
        world = rows(demo_week(today))
        write("files", None, Edit("import", "The demo world", changes_of(world, {})))
        _begin_last_week(world, demo_week(today))
        _put_plans_in_force(world)
        if past:
            _write_past(world, demo_week(today))
        said = changes_to("request", needs.talk(world["requests"]))
        write("files", None, Edit("request", "What was said of requests", said), checked=True)
        areas = [key for key, _ in places.AREAS]
        accounts.change(None, "olivia", None, areas=areas, roles={"operations": areas})
        views.share()
        if past:
            desk_weeks.make(demo_week(today))
        _make_second(demo_week(today))


def _put_plans_in_force(world: dict[str, list[dict[str, Any]]]) -> None:
    """Plans in force keep their editions; the first ones of some planned other hours."""
    by_title = {p["title"]: p["number"] for p in world["job_plans"]}
    in_force = [p["number"] for p in world["job_plans"] if p["state"] == "in force"]
    hours = {(by_title[title], task): (now, first) for title, task, now, first in plans.SECOND_EDITIONS}
    changed = sorted({number for number, _ in hours})

    def plan_with(edition: int, nth: int) -> None:
        """These plans have this edition, with their hours as in the nth place."""
        wanted = changes_to("plan task", {k: {"hours": h[nth]} for k, h in hours.items()})
        wanted += changes_to("job plan", {(n,): {"edition": edition} for n in changed})
        write("files", None, Edit("job plan", f"Edition {edition} of job plans", wanted), checked=True)

    plan_with(1, 1)
    keep_editions(None, in_force)
    plan_with(2, 0)
    keep_editions(None, changed)


def _write_past(world: dict[str, list[dict[str, Any]]], week: str) -> None:
    orders, tasks = history.done_work(
        world["assets"],
        world["job_plans"],
        world["plan_tasks"],
        world["people"],
        week_monday(week),
        ZoneInfo(ZONE),
    )
    overhaul.hang_done(orders, tasks, week_monday(week))
    over = recurring.done_long_ago(world["services"], week_monday(week))
    over |= recurring.done_before(world["preventive_plans"], orders, tasks, ZoneInfo(ZONE))
    done = [*changes_to("work order", orders, {}), *changes_to("task", tasks, {})]
    done += changes_to("occurrence", over, {})
    write("files", None, Edit("import", "Three years of done work", done), checked=True)


def _make_second(week: str) -> None:
    """A small site beside, with the same crafts. Of the schedulers nobody sees it but the administrator;
    others see the first."""
    share_crafts()
    for name, _, role in SIGN_INS:
        if role != "administrator":
            accounts.change(None, name, None, sites=[KEY])
    made = make_site(second_site.SITE, second_site.ZONE, second_site.KEY)
    with at_site(made.id):
        world = changes_of(second_site.rows(week_monday(week)), {})
        write("files", None, Edit("import", "The second site of the demo", world))


def _begin_last_week(world: dict[str, list[dict[str, Any]]], week: str) -> None:
    """One job was begun on Friday; its asset is still out of service."""
    number, task = work.begun_last_week(
        world["work_orders"], world["tasks"], world["assets"], world["windows"]
    )
    friday = at_local(week_monday(week) - timedelta(days=3), time(14), ZoneInfo(ZONE))
    done = {"state": "done", "ended": friday, "hours_spent": 2.0}
    write("files", None, Edit("progress", f"{number} was begun", changes_to("task", {(number, task): done})))
