"""The nouns whose records commands change, in the order in which they may be made: each refers to those above
it."""

from __future__ import annotations

from peewee import fn

from nundine.services.ledger.lists import AFTER, CERTIFICATES, CRAFTS, NEEDS, ROLES, TOOLS
from nundine.services.ledger.noun import Column, Key, Noun, Row
from nundine.services.ledger.values import CLOCK, DAY, MOMENT
from nundine.store.account import Account
from nundine.store.asset import Asset, AssetWindow
from nundine.store.foreign import SavedMapping
from nundine.store.job_plan import JobPlan, PlanEdition, PlanTask
from nundine.store.permit import Permit, PermitKind
from nundine.store.request import WorkRequest
from nundine.store.roster import (
    Absence,
    ExtraShift,
    Loan,
    OvertimeOffer,
    PatternShift,
    Person,
    RosterLine,
    ShiftPattern,
)
from nundine.store.site import Area, Craft, Site, Tool, Way
from nundine.store.view import View
from nundine.store.week import Week
from nundine.store.work_order import Task, WorkOrder

NAME = Column("name", "name", matters=False)
END = Column("end", "end", MOMENT)


def _of_person(key: Key) -> str:
    """Whoever the record is about."""
    found = Person.get_or_none(Person.key == key[0])
    return str(found.name) if found else str(key[0])


def _window(key: Key) -> str:
    return f"This {key[1]} window of {key[0]}"


class WeekNoun(Noun):
    """A week; only closing it, or opening it again, changes what may be placed elsewhere."""

    def matters(self, before: Row | None, after: Row | None) -> bool:
        return "closed" in {(side or {}).get("status") for side in (before, after)}


LISTED: tuple[Noun, ...] = (
    Noun(
        "site",
        Site,
        (Column("site", "site", of="key"),),
        (NAME, Column("timezone", "time zone"), Column("settings", "settings")),
        lambda key: "The site",
        people=True,
        work=True,
    ),
    Noun(
        "area",
        Area,
        (Column("area", "area", of="key"),),
        (Column("name", "name"), Column("planning_team", "planning team", matters=False)),
        lambda key: f"Area {key[0]}",
        order=(Area.key,),
        people=True,
        work=True,
    ),
    Noun(
        "way",
        Way,
        (Column("from", "from", of="start", refers=Area), Column("to", "to", of="end", refers=Area)),
        (Column("minutes", "minutes"),),
        lambda key: f"The way between {key[0]} and {key[1]}",
        people=True,
    ),
    Noun(
        "craft",
        Craft,
        (Column("craft", "craft", of="key"),),
        (
            Column("name", "name"),
            Column("held_back", "share held back"),
            Column("rate", "cost an hour", matters=False),
            Column("overtime_rate", "cost an hour of overtime", matters=False),
            Column("valid_from", "valid from", DAY, matters=False),
            Column("valid_to", "valid to", DAY, matters=False),
        ),
        lambda key: f"Craft {key[0]}",
        people=True,
        work=True,
    ),
    Noun(
        "tool",
        Tool,
        (Column("tool", "tool", of="key"),),
        (NAME, Column("count", "how many"), Column("vehicle", "a vehicle", matters=False)),
        lambda key: f"Tool {key[0]}",
        order=(Tool.key,),
        work=True,
    ),
    Noun(
        "asset",
        Asset,
        (Column("asset", "asset", of="key"),),
        (
            NAME,
            Column("area", "area", refers=Area),
            Column("parent", "part of", refers=Asset, late=True),
            Column("criticality", "criticality"),
            Column("limited", "in work windows only"),
            Column("one_job_at_a_time", "one job at a time"),
            Column("cost_account", "cost account", matters=False),
        ),
        lambda key: f"Asset {key[0]}",
        work=True,
    ),
    Noun(
        "window",
        AssetWindow,
        (Column("asset", "asset", refers=Asset), Column("kind", "kind"), Column("start", "start", MOMENT)),
        (
            END,
            Column("answer", "answer", matters=False),
            Column("answer_by", "answered by", matters=False),
            Column("remark", "remark", matters=False),
        ),
        _window,
        order=(AssetWindow.asset, AssetWindow.kind, AssetWindow.start),
        work=True,
    ),
    Noun(
        "person",
        Person,
        (Column("person", "person", of="key"),),
        (NAME, Column("area", "area", refers=Area), Column("crew", "crew")),
        _of_person,
        (CRAFTS, CERTIFICATES),
        order=(Person.key,),
        people=True,
        work=True,
    ),
    Noun(
        "shift pattern",
        ShiftPattern,
        (Column("pattern", "pattern", of="key"),),
        (Column("cycle_days", "days of its cycle"),),
        lambda key: f"Shift pattern {key[0]}",
        people=True,
    ),
    Noun(
        "shift",
        PatternShift,
        (
            Column("pattern", "pattern", refers=ShiftPattern),
            Column("day", "day", of="day_index", counts_from=1),
            Column("start", "start", CLOCK),
        ),
        (Column("end", "end", CLOCK), Column("standing_minutes", "standing minutes")),
        lambda key: f"The shift of {key[0]} on day {key[1]}",
        order=(PatternShift.pattern, PatternShift.day_index, PatternShift.start),
        people=True,
        owner="shift pattern",
    ),
    Noun(
        "roster line",
        RosterLine,
        (Column("person", "person", refers=Person), Column("first", "first day", DAY)),
        (Column("pattern", "pattern", refers=ShiftPattern), Column("last", "last day", DAY)),
        _of_person,
        order=(RosterLine.person, RosterLine.first),
        people=True,
    ),
    Noun(
        "absence",
        Absence,
        (Column("person", "person", refers=Person), Column("start", "start", MOMENT)),
        (END, Column("reason", "reason", matters=False)),
        _of_person,
        order=(Absence.person, Absence.start),
        people=True,
    ),
    Noun(
        "overtime",
        OvertimeOffer,
        (Column("person", "person", refers=Person), Column("start", "start", MOMENT)),
        (END,),
        _of_person,
        order=(OvertimeOffer.person, OvertimeOffer.start),
        people=True,
    ),
    Noun(
        "extra shift",
        ExtraShift,
        (Column("person", "person", refers=Person), Column("start", "start", MOMENT)),
        (END,),
        _of_person,
        order=(ExtraShift.person, ExtraShift.start),
        people=True,
    ),
    Noun(
        "loan",
        Loan,
        (Column("person", "person", refers=Person), Column("first", "first day", DAY)),
        (Column("last", "last day", DAY), Column("area", "area", refers=Area)),
        _of_person,
        order=(Loan.person, Loan.first),
        people=True,
    ),
    Noun(
        "permit kind",
        PermitKind,
        (Column("permit", "permit", of="key"),),
        (NAME, Column("asks", "what is looked at", matters=False)),
        lambda key: f"Permit {key[0]}",
        order=(PermitKind.key,),
    ),
    Noun(
        "job plan",
        JobPlan,
        (Column("number", "number"),),
        (
            Column("title", "title"),
            Column("kind", "kind"),
            Column("state", "state"),
            Column("edition", "edition"),
            Column("valid_from", "valid from", DAY),
            Column("assets", "assets that it applies to"),
            Column("words", "words of their names"),
            Column("divisible", "tasks may be placed one by one"),
            Column("put_back", "asset goes back between tasks"),
            Column("permit", "permit"),
            Column("permits", "permits needed"),
            Column("isolation", "isolation points"),
            Column("description", "description"),
            Column("sites", "other sites that it serves"),
        ),
        lambda key: f"Job plan {key[0]}",
        order=(JobPlan.number,),
        live=True,
    ),
    Noun(
        "plan task",
        PlanTask,
        (
            Column("plan", "job plan", refers=JobPlan, by="number"),
            Column("task", "task", of="number"),
        ),
        (
            Column("title", "what is done"),
            Column("text", "how it is done"),
            Column("hours", "hours"),
            Column("asset_state", "state of the asset"),
            Column("splittable", "may be split"),
            Column("min_portion", "shortest portion"),
            Column("after", "comes after"),
            Column("needs", "crew needs"),
            Column("tools", "tools"),
            Column("outside", "people from outside"),
            Column("checklist", "checklist"),
        ),
        lambda key: f"{key[0]} task {key[1]}",
        order=(PlanTask.plan, fn.LENGTH(PlanTask.number), PlanTask.number),
        owner="job plan",
    ),
    Noun(
        "plan edition",
        PlanEdition,
        (
            Column("plan", "job plan", refers=JobPlan, by="number"),
            Column("edition", "edition"),
        ),
        (Column("at", "put in force", MOMENT), Column("by", "by"), Column("body", "what it says")),
        lambda key: f"{key[0]} edition {key[1]}",
        order=(PlanEdition.plan, PlanEdition.edition),
        owner="job plan",
    ),
    Noun(
        "work order",
        WorkOrder,
        (Column("number", "number"),),
        (
            Column("title", "title", matters=False),
            Column("asset", "asset", refers=Asset),
            Column("kind", "kind"),
            Column("state", "state"),
            Column("raised", "raised on", DAY),
            Column("must", "must-work"),
            Column("divisible", "tasks may be placed one by one"),
            Column("put_back", "asset goes back between tasks"),
            Column("earliest", "not before", MOMENT),
            Column("due", "due", MOMENT),
            Column("latest", "not after", MOMENT),
            Column("parts_ready", "parts ready on", DAY),
            Column("parts_unknown", "parts not known"),
            Column("permit", "permit"),
            Column("permits", "permits needed"),
            Column("isolation", "isolation points", matters=False),
            Column("description", "description", matters=False),
            Column("sub_kind", "sub-kind", matters=False),
            Column("department", "department", matters=False),
            Column("crew", "answerable", matters=False),
            Column("contact", "contact", matters=False),
            Column("cost_account", "cost account", matters=False),
            Column("correction", "priority corrected by"),
            Column("shares", "other assets' shares of the cost, %", matters=False),
            Column("cost_planned", "cost planned, cents", matters=False),
            Column("cost_actual", "cost, cents", matters=False),
            Column("charges", "charged, cents", matters=False),
            Column("plan", "job plan", refers=JobPlan, by="number", matters=False),
            Column("plan_edition", "its edition", matters=False),
        ),
        lambda key: f"{key[0]}",
        order=(WorkOrder.number,),
        work=True,
    ),
    Noun(
        "task",
        Task,
        (
            Column("number", "number", of="work_order", refers=WorkOrder, by="number"),
            Column("task", "task", of="number"),
        ),
        (
            Column("title", "what is done", matters=False),
            Column("text", "how it is done", matters=False),
            Column("hours", "hours"),
            Column("asset_state", "state of the asset"),
            Column("splittable", "may be split"),
            Column("min_portion", "shortest portion"),
            Column("state", "state"),
            Column("hours_spent", "hours spent", matters=False),
            Column("hours_left", "hours left"),
            Column("reason", "why not done", matters=False),
            Column("done_by", "done by", matters=False),
            Column("hours_by", "hours by person", matters=False),
            Column("ended", "ended", MOMENT),
            Column("outside", "people from outside"),
            Column("checklist", "checklist", matters=False),
            Column("answers", "answers to the checklist", matters=False),
        ),
        lambda key: f"{key[0]} task {key[1]}",
        (NEEDS, AFTER, TOOLS),
        order=(Task.work_order, fn.LENGTH(Task.number), Task.number),
        work=True,
        owner="work order",
    ),
    Noun(
        "permit",
        Permit,
        (
            Column("number", "WO", of="work_order", refers=WorkOrder, by="number"),
            Column("permit", "permit", of="kind"),
        ),
        (
            Column("state", "state"),
            Column("valid_from", "valid from", MOMENT),
            Column("valid_to", "valid to", MOMENT),
            Column("by", "said by", matters=False),
            Column("at", "said at", MOMENT, matters=False),
            Column("remark", "remark", matters=False),
        ),
        lambda key: f"{key[0]} permit {key[1]}",
        order=(Permit.work_order, Permit.kind),
        work=True,
    ),
    Noun(
        "request",
        WorkRequest,
        (Column("number", "number"),),
        (
            Column("title", "title"),
            Column("asset", "asset", refers=Asset),
            Column("place", "place"),
            Column("description", "what was seen"),
            Column("urgency", "urgency"),
            Column("state", "state"),
            Column("raised", "reported", MOMENT),
            Column("reporter", "reported by"),
            Column("account", "account", refers=Account, by="name"),
            Column("order", "WO", refers=WorkOrder, by="number"),
            Column("talk", "asked and answered"),
        ),
        lambda key: f"Request {key[0]}",
        order=(WorkRequest.number,),
        live=True,
    ),
    WeekNoun(
        "week",
        Week,
        (Column("week", "week", of="name"),),
        (Column("status", "status"),),
        lambda key: "The week",
        work=True,
    ),
    Noun(
        "account",
        Account,
        (Column("account", "account", of="name"),),
        (
            Column("full_name", "full name"),
            Column("active", "may sign in"),
            Column("one_time", "password given once"),
            Column("sites", "sites seen"),
            Column("areas", "areas looked after"),
            Column("look", "look of the screens"),
        ),
        lambda key: f"Account {key[0]}",
        (ROLES,),
    ),
    Noun(
        "view",
        View,
        (Column("view", "view", of="key"),),
        (
            Column("list", "list"),
            Column("title", "title"),
            Column("owner", "owner", refers=Account, by="name"),
            Column("shared", "shared with all"),
            Column("role", "role that begins with it"),
            Column("pinned_by", "pinned by"),
            Column("body", "what it shows"),
        ),
        lambda key: "The view",
    ),
    Noun(
        "mapping",
        SavedMapping,
        (Column("mapping", "mapping", of="name"),),
        (
            Column("columns", "columns"),
            Column("body", "what each column is"),
            Column("at", "saved at", MOMENT),
        ),
        lambda key: f"The mapping {key[0]}",
    ),
)
NOUNS: dict[str, Noun] = {n.name: n for n in LISTED}
PLACEMENT, ELSEWHERE = "placement", "elsewhere"
"""Placements are read and written by week; `elsewhere` is one of another week, which that week's own deed
writes."""
