"""The kinds of records that can be brought in and taken out, in the order in which they are written: what
others refer to comes first."""

from __future__ import annotations

from nundine.services.exchange.kinds import (
    absences,
    areas,
    asset_parts,
    assets,
    crafts,
    job_plans,
    meters,
    movements,
    occurrences,
    overtime,
    parts,
    people,
    permit_kinds,
    permits,
    plan_tasks,
    preventive_plans,
    readings,
    requests,
    rosters,
    services,
    shifts,
    shutdowns,
    storerooms,
    tasks,
    tools,
    ways,
    windows,
    work_orders,
)
from nundine.services.exchange.kinds.kind import Kind

KINDS: dict[str, Kind] = {
    module.KIND.name: module.KIND
    for module in (
        areas,
        ways,
        crafts,
        tools,
        assets,
        meters,
        readings,
        shutdowns,
        windows,
        people,
        shifts,
        rosters,
        absences,
        overtime,
        permit_kinds,
        storerooms,
        parts,
        asset_parts,
        job_plans,
        plan_tasks,
        work_orders,
        tasks,
        permits,
        requests,
        preventive_plans,
        services,
        occurrences,
        movements,
    )
}
