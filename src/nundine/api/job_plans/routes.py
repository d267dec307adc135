"""Job plans: kept in editions, copied into WOs, and made of them."""

from __future__ import annotations

from fastapi import APIRouter

from nundine.api import schemas
from nundine.api.http import DbRoute, Planner, Reader
from nundine.services.work import job_plans

router = APIRouter(prefix="/api", tags=["work"], route_class=DbRoute)


@router.get("/plans/choices")
def choices(_: Reader, asset: str | None = None) -> list[job_plans.PlanChoice]:
    """Plans in force, those that apply to an asset first."""
    return job_plans.choices(asset)


@router.get("/plans/{number:path}/copy")
def the_copy(number: str, _: Reader, of_site: str = "") -> job_plans.PlanCopy:
    """What a WO that is made of it says; `of_site`: the other site that keeps it for this one too."""
    return job_plans.copy_from(of_site, number) if of_site else job_plans.copy_for_order(number)


@router.get("/plans/{number:path}")
def the_plan(number: str, _: Reader) -> job_plans.PlanDocument:
    return job_plans.document(number)


@router.post("/plans", response_model=schemas.PlanNumber)
def save(form: schemas.PlanForm, account: Planner) -> dict[str, str]:
    return {"number": job_plans.save(account, form.plan, form.tasks, form.revision)}


@router.post("/plans/{number:path}/state", status_code=204)
def move(number: str, form: schemas.PlanMove, account: Planner) -> None:
    job_plans.move(account, number, form.to, form.revision)


@router.post("/plans/{number:path}/estimates", status_code=204)
def accept(number: str, form: schemas.PlanHours, account: Planner) -> None:
    """Plan with the hours that the last uses suggest."""
    job_plans.accept_estimates(account, number, form.tasks, form.revision)


@router.post("/orders/{number:path}/plan", response_model=schemas.PlanNumber)
def make(number: str, form: schemas.PlanOfOrder, account: Planner) -> dict[str, str]:
    """A job plan of what a WO says."""
    return {"number": job_plans.make_of_order(account, number, form.revision)}
