"""The services of all preventive plans as a list: each plan on each of its assets."""

from __future__ import annotations

from peewee import JOIN, Case, fn

from nundine.core.lifecycle import PREVENTIVE_STATES
from nundine.services.access import READ
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.asset import Asset
from nundine.store.job_plan import JobPlan
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.request import WorkRequest
from nundine.store.site import Area
from nundine.store.work_order import WorkOrder

KEY_AND_ASSET = " / "
"""Stands between the number of a plan and the key of an asset."""
SERIES = '(?<=shutdown )[^";:/,]+?(?= [+-][0-9]|"| or )'
"""Finds the series of shutdowns with which a plan falls due, as its rungs are kept."""


@listing("services", "Preventive services", READ)
def services(around: Around) -> Listing:
    """Of plans in whatever state."""
    P, S = PreventivePlan, Service
    key = fn.CONCAT(P.number, KEY_AND_ASSET, Asset.key)
    overdue = Case(None, [((P.state == "running") & (S.next_due < around.today), 1)], 0)
    series = fn.REGEXP_SUBSTR(P.rungs, SERIES)
    raised_as = fn.COALESCE(WorkOrder.number, WorkRequest.number)
    columns = (
        Column("key", "Service", "text", key, width=130, shown=False),
        Column("plan", "Plan", "text", P.number, find=True, group=True, width=84, weight=1),
        Column("title", "Work", "text", P.title, find=True, group=True, width=220, weight=1),
        Column("asset", "Asset", "text", Asset.name, find=True, group=True, width=180, weight=1),
        Column("area", "Area", "choice", Area.key, group=True, width=100, weight=4, choices=areas),
        Column("state", "State", "choice", P.state, group=True, width=96, weight=2,
               choices=words(*PREVENTIVE_STATES)),
        Column("kind", "Kind", "choice", P.kind, group=True, width=96, weight=3,
               choices=words("preventive", "statutory")),
        Column("last_done", "Last done", "day", S.last_done, width=100, weight=3),
        Column("next_due", "Falls due", "day", S.next_due, width=100, weight=1),
        Column("overdue", "Overdue", "yes", overdue, group=True, width=80, weight=3),
        Column("order", "Raised as", "text", raised_as, width=96, weight=2),
        Column("held", "Held", "yes", S.held, group=True, width=70, weight=4),
        Column("in_store", "In store", "yes", Asset.in_store, group=True, width=80, shown=False,
               hint="Held until its asset is fitted again"),
        Column("basis", "Basis", "choice", P.basis, group=True, width=86, weight=4,
               choices=words("fixed", "floating")),
        Column("shutdown", "Hangs on shutdown", "text", series, find=True, group=True, width=110, shown=False,
               hint="The series of shutdowns with which it falls due"),
        Column("crew", "Answerable", "text", P.crew, find=True, group=True, width=110, shown=False),
        Column("job_plan", "Job plan", "text", JobPlan.number, group=True, width=90, shown=False),
        Column("notice", "Notice", "text", P.notice, group=True, width=80, shown=False),
        Column("behind", "Tolerance after", "number", P.days_behind, width=80, shown=False),
    )  # fmt: skip
    open_ = (Occurrence.plan == S.plan) & (Occurrence.asset == S.asset) & (Occurrence.state == "raised")
    query = (
        S.select()
        .join(P)
        .join_from(S, Asset)
        .join_from(Asset, Area)
        .join_from(P, JobPlan, JOIN.LEFT_OUTER)
        .join_from(S, Occurrence, JOIN.LEFT_OUTER, on=open_)
        .join_from(Occurrence, WorkOrder, JOIN.LEFT_OUTER)
        .join_from(Occurrence, WorkRequest, JOIN.LEFT_OUTER)
    )
    return Listing(columns, query, S.id, "key", {}, (Sort("next_due"),))
