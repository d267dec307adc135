"""Publishing, revisions, and what is handed out."""

from __future__ import annotations

import json
from time import sleep
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Response

from nundine.api import schemas
from nundine.api.at_once import FILES_OUT
from nundine.api.download import download
from nundine.api.http import Areas, DbRoute, Editor, Reader, waits
from nundine.api.moments import Day
from nundine.api.runs.routes import shape
from nundine.api.shared import shared
from nundine.jobs.queue import hand_over
from nundine.services.background import runs
from nundine.services.errors import Refused
from nundine.services.week import crew_sheets, files, publish
from nundine.services.week.overview import Overview, overview
from nundine.services.week.state import find_week, load_state
from nundine.services.work import order_sheets
from nundine.store.week import Week

router = APIRouter(prefix="/api/weeks/{week}", tags=["publish"], route_class=DbRoute)

PATIENCE, LOOK = 60.0, 0.2
"""Seconds for which a request waits for sheets that are being laid out, and between two looks."""


@router.post("/revisions")
def freeze(week: str, account: Editor) -> Overview:
    made = publish.publish(find_week(week).name, account)
    hand_over(*crew_sheets.to_make(made.week, made.number))
    return overview(load_state(week))


@router.get("/revisions")
@shared
def revisions(week: str, _: Reader) -> list[publish.RevisionRow]:
    return publish.revisions(load_state(week).week)


@router.get("/revisions/{number}/changes")
@shared
def changes(week: str, number: int, _: Reader) -> publish.Compared:
    """Revision `number` against the one before; 0 = the week as it stands against the newest."""
    return publish.changes_since(load_state(week), number)


@router.get("/sheets.pdf", response_class=Response)
@waits
def sheets(
    week: str,
    account: Reader,
    areas: Areas,
    by: Literal["person", "crew"] = "person",
    only: str | None = None,
    draft: bool = False,
    first: Day | None = None,
) -> Response:
    """Crew sheets of the revision that is out, of some areas or one person or crew; with `draft` of the week
    as it stands, with `first` of seven days from that one as they stand."""
    if first is not None:
        with FILES_OUT.turn(account):
            body = crew_sheets.sheets_from(first, by, only, areas)
        return download(body, "application/pdf", f"crew-sheets-{first}-{only or by}.pdf")
    state = load_state(week)
    number = 0 if draft else crew_sheets.newest(state.week)
    with FILES_OUT.turn(account):
        if only is not None:
            body = crew_sheets.sheets_of(state, by, only, number)
        elif number == 0:
            body = crew_sheets.draft_sheets(state, by, areas)
        else:
            body = _kept(state.week, number, by, areas)
    return download(body, "application/pdf", f"crew-sheets-{week}-{only or by}.pdf")


def _kept(week: Week, number: int, by: str, areas: list[str]) -> bytes:
    """The sheets as they are kept; waits while the worker lays them out."""
    hand_over(*crew_sheets.to_make(week, number, areas, (by,)))
    for _ in range(int(PATIENCE / LOOK)):
        body = crew_sheets.kept(week, number, by, areas)
        if body is not None:
            return body
        sleep(LOOK)
    raise Refused("being made", "The sheets are still being made. Ask for them again in a moment.")


@router.get("/order-sheet.pdf", response_class=Response)
@waits
def order_sheet(week: str, account: Reader, number: Annotated[str, Query(max_length=40)]) -> Response:
    """The sheet of one work order."""
    with FILES_OUT.turn(account):
        body = order_sheets.sheets_pdf(load_state(week), [number], account=account)
    return download(body, "application/pdf", f"{number}.pdf")


@router.post("/order-sheets", response_model=schemas.RunShape)
def print_orders(week: str, form: schemas.OrderSheetsForm, account: Reader) -> dict[str, Any]:
    """Have the sheets of many work orders laid out, in the order that is given."""
    asked = order_sheets.ask(
        account, find_week(week).name, form.numbers, order_sheets.Paper(form.short, form.by)
    )
    hand_over(asked)
    return shape(runs.find(asked.id))


@router.get("/calendars/{person}.ics", response_class=Response)
def calendar(week: str, person: str, _: Reader) -> Response:
    return download(files.calendar(load_state(week), person), "text/calendar", f"{week}-{person}.ics")


@router.get("/week.csv", response_class=Response)
@waits
def week_csv(week: str, _: Reader, areas: Areas) -> Response:
    return download(files.week_csv(load_state(week), areas), "text/csv", f"week-{week}.csv")


@router.get("/week.xlsx", response_class=Response)
@waits
def week_xlsx(week: str, account: Reader, areas: Areas) -> Response:
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    with FILES_OUT.turn(account):
        return download(files.week_xlsx(load_state(week), areas), kind, f"week-{week}.xlsx")


@router.get("/problem.json", response_class=Response)
@waits
def problem(week: str, _: Reader) -> Response:
    body = json.dumps(files.problem_json(load_state(week)), ensure_ascii=False).encode()
    return download(body, "application/json", f"problem-{week}.json")


@router.get("/plan.json", response_class=Response)
@waits
def plan(week: str, _: Reader) -> Response:
    body = json.dumps(files.plan_json(load_state(week)), ensure_ascii=False).encode()
    return download(body, "application/json", f"plan-{week}.json")
