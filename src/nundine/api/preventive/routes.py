"""Preventive plans: kept, forecast, raised."""

from __future__ import annotations

from datetime import timedelta
from typing import Annotated

from fastapi import APIRouter, Query

from nundine.api import schemas
from nundine.api.http import Areas, DbRoute, Knower, Planner, Reader
from nundine.api.moments import Day
from nundine.services.exchange import registers
from nundine.services.listing.around import around_for
from nundine.services.listing.listing import opened
from nundine.services.listing.rows import keys
from nundine.services.preventive import (
    forecasting,
    many,
    meters,
    plans,
    raising,
    record,
    record_hours,
    sheets,
    shifting,
    shutdowns,
    stops,
)

router = APIRouter(prefix="/api/preventive", tags=["preventive"], route_class=DbRoute)


@router.get("/forecast")
def the_forecast(
    _: Reader,
    first: Day,
    days: Annotated[int, Query(ge=1, le=forecasting.LONGEST)] = 182,
    areas: Annotated[list[str], Query(max_length=50)] = [],  # noqa: B006
    person: Annotated[str | None, Query(max_length=40)] = None,
    share: Annotated[float, Query(gt=0, le=1)] = 1.0,
) -> forecasting.Forecast:
    """What falls due from a day on, by craft and week, and what could move; of a person what that person
    could take part in. Preventive work may take a share of the hours that there are."""
    return forecasting.forecast_of(first, days, areas, person, share)


@router.get("/hours")
def hours_to_come(_: Reader, first: Day, last: Day, areas: Areas) -> list[forecasting.CraftToCome]:
    """Hours by craft that fall due and are not raised, in a year at most."""
    return forecasting.hours_to_come(first, min(last, first + timedelta(days=366)), areas)


@router.get("/record")
def the_record(
    _: Reader, areas: Areas, days: Annotated[int, Query(ge=1, le=forecasting.LONGEST)] = record.YEAR
) -> record.Record:
    """How much of what fell due was done in time."""
    return record.record(days, areas)


@router.get("/record/hours")
def hours_of_record(
    _: Reader,
    by: record_hours.By,
    areas: Areas,
    days: Annotated[int, Query(ge=1, le=forecasting.LONGEST)] = record.YEAR,
) -> list[record_hours.HoursLine]:
    """Work hours that services took, the most first."""
    return record_hours.hours_of(by, days, areas)


@router.get("/coming")
def what_comes(until: Day, _: Reader, areas: Areas) -> list[stops.ComingService]:
    """What falls due until a day and is not raised."""
    return stops.coming(until, areas)


@router.get("/orders/{number:path}")
def one_stop(number: str, _: Reader) -> stops.OneStop:
    """What a WO is of preventive work, and what else falls due on its asset."""
    return stops.one_stop(number)


@router.post("/putting-off", status_code=204)
def put_off(form: schemas.PutOff, account: Planner) -> None:
    """Put a service on another day; past its tolerance with a reason."""
    stops.put_off(account, form.plan, form.asset, form.to, form.reason)


@router.post("/raising")
def raise_due(form: schemas.RaisingDue, account: Planner) -> raising.Raised:
    """Raise all that falls due within its notice, of the services that are shown or of all."""
    if form.shown is None:
        return raising.raise_due(account)
    around = around_for(account, None)
    among = keys(opened("services", around), form.shown.question(), around)
    return raising.raise_due(account, set(among))


@router.post("/raising/picked")
def raise_picked(form: schemas.RaisingPicked, account: Planner) -> raising.Raised:
    """Raise what falls due next of these services, whenever that is."""
    return raising.raise_picked(account, [(p.plan, p.asset) for p in form.picked])


@router.post("/services")
def act_on_services(form: schemas.ManyServices, account: Planner) -> many.ManyMoved:
    """Hold many services, take them up again, shift them, give them to a crew, report them as done, or
    correct when they were done last."""
    picked = [(p.plan, p.asset) for p in form.picked]
    if form.act == "shift":
        return many.shift(account, picked, form.days)
    if form.act == "give":
        return many.give(account, picked, form.crew)
    if form.act == "done":
        return many.report_done(account, picked, form.day, form.comment)
    if form.act == "last done":
        return many.set_last_done(account, picked, form.day)
    return many.hold(account, picked, form.act == "hold")


@router.post("/services/orders")
def orders_of_services(form: schemas.PickedServices, _: Reader) -> list[str]:
    """The WOs that are raised of services, to print their sheets."""
    return sheets.orders_of([(p.plan, p.asset) for p in form.picked])


@router.post("/shifts")
def shift(form: schemas.ServiceShifts, account: Planner) -> int:
    """Move what falls due next of these services, within tolerance; gives how many."""
    wanted = [shifting.Wanted(s.plan, s.asset, s.day, s.to) for s in form.shifts]
    return shifting.shift(account, wanted)


@router.post("/registers/{name}", response_model=registers.Register)
def save_row(name: str, form: schemas.PreventiveRow, account: Planner) -> registers.Register:
    """Make a meter or a shutdown, or change it; gives all as they are then."""
    registers.need_one_of(registers.PLANNED, name)
    registers.save(account, name, form.cells, form.revision)
    return registers.register(name)


@router.post("/registers/{name}/removal", response_model=registers.Register)
def remove_row(name: str, form: schemas.PreventiveRowRemoval, account: Planner) -> registers.Register:
    registers.need_one_of(registers.PLANNED, name)
    registers.remove(account, name, form.key, form.revision)
    return registers.register(name)


@router.get("/meters/{key:path}")
def the_meter(key: str, _: Reader) -> meters.MeterDocument:
    return meters.document(key)


@router.post("/readings")
def read_meters(form: schemas.ReadingsForm, account: Knower) -> int:
    """What meters showed; gives how many."""
    return meters.read(account, [meters.Wanted(**r.model_dump()) for r in form.readings])


@router.post("/readings/taking-back", status_code=204)
def take_reading_back(form: schemas.ReadingKey, account: Knower) -> None:
    """Take a reading away that was wrong."""
    meters.take_back(account, form.meter, form.day)


@router.get("/shutdowns")
def the_shutdowns(_: Reader) -> list[shutdowns.ShutdownLine]:
    return shutdowns.shutdowns()


@router.get("/shutdowns/{key:path}")
def the_shutdown(key: str, _: Reader) -> shutdowns.ShutdownDocument:
    return shutdowns.document(key)


@router.post("/shutdowns/{key:path}/moving")
def move_shutdown(key: str, form: schemas.ShutdownMove, account: Planner) -> shutdowns.Moving:
    """Move a shutdown, or tell what would move with it."""
    return shutdowns.move(account, key, form.first, form.last, form.revision, form.trial)


@router.post("/shutdowns/{key:path}/raising")
def raise_with(key: str, account: Planner) -> raising.Raised:
    """Raise what falls due with a shutdown."""
    return raising.raise_with(account, key)


@router.post("/plans/ahead")
def ahead(form: schemas.PreventiveDraft, _: Planner) -> plans.Drawn:
    """What would come next, and what does not hold then, while a plan is filled in."""
    return plans.ahead(form.plan, form.started)


@router.get("/plans/{number:path}")
def the_plan(number: str, _: Reader) -> plans.PreventiveDocument:
    return plans.document(number)


@router.post("/plans", response_model=schemas.PreventiveNumber)
def save(form: schemas.PreventiveForm, account: Planner) -> dict[str, str]:
    return {"number": plans.save(account, form.plan, form.started, form.revision, form.like)}


@router.post("/plans/{number:path}/state", status_code=204)
def move(number: str, form: schemas.PreventiveMove, account: Planner) -> None:
    plans.move(account, number, form.to, form.revision)


@router.post("/plans/{number:path}/holding", status_code=204)
def hold(number: str, form: schemas.ServiceHold, account: Planner) -> None:
    """Hold a plan on one asset, or take it up again."""
    plans.hold_service(account, number, form.asset, form.held)
