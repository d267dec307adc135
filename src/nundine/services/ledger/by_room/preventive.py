"""Preventive plans, their services, and what fell due."""

from __future__ import annotations

from nundine.services.ledger.noun import Column, Noun
from nundine.services.ledger.values import DAY
from nundine.store.asset import Asset
from nundine.store.job_plan import JobPlan
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.request import WorkRequest
from nundine.store.work_order import WorkOrder

PREVENTIVE: tuple[Noun, ...] = (
    Noun(
        "preventive plan",
        PreventivePlan,
        (Column("number", "number"),),
        (
            Column("title", "title"),
            Column("state", "state"),
            Column("kind", "kind"),
            Column("job_plan", "job plan", refers=JobPlan, by="number"),
            Column("crew", "answerable"),
            Column("assets", "assets"),
            Column("basis", "basis"),
            Column("rungs", "rungs"),
            Column("grid", "rungs of tasks"),
            Column("season", "season"),
            Column("outside", "outside its season"),
            Column("together", "days within which rungs are one"),
            Column("before", "tolerance before"),
            Column("behind", "tolerance after"),
            Column("notice", "notice"),
            Column("raises", "raised as"),
            Column("hours", "hours of work typed in"),
            Column("needs", "crew of work typed in"),
            Column("asset_state", "state of the asset for work typed in"),
            Column("correction", "priority corrected by"),
            Column("description", "description"),
        ),
        lambda key: f"Preventive plan {key[0]}",
        order=(PreventivePlan.number,),
        live=True,
    ),
    Noun(
        "service",
        Service,
        (
            Column("plan", "plan", refers=PreventivePlan, by="number"),
            Column("asset", "asset", refers=Asset),
        ),
        (Column("held", "held"), Column("moved", "moved"), Column("lasts", "last times")),
        lambda key: f"{key[0]} on {key[1]}",
        order=(Service.plan, Service.asset),
        owner="preventive plan",
        live=True,
    ),
    Noun(
        "occurrence",
        Occurrence,
        (
            Column("plan", "plan", refers=PreventivePlan, by="number"),
            Column("asset", "asset", refers=Asset),
            Column("due", "due", DAY),
        ),
        (
            Column("rungs", "rungs"),
            Column("state", "state"),
            Column("done", "done", DAY),
            Column("order", "WO", refers=WorkOrder, by="number"),
            Column("request", "request", refers=WorkRequest, by="number"),
            Column("lasts", "last times before"),
            Column("reason", "reason"),
        ),
        lambda key: f"{key[0]} on {key[1]}, due {key[2]}",
        order=(Occurrence.plan, Occurrence.asset, Occurrence.due),
        owner="preventive plan",
        live=True,
    ),
)
