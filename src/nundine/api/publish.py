"""Publishing, revisions, and what is handed out."""

from __future__ import annotations

import json
from typing import Any, Literal
from urllib.parse import quote

from fastapi import APIRouter, Response

from nundine.api import shapes
from nundine.api.http import DbRoute, Editor, Reader
from nundine.services import publish
from nundine.services.overview import overview
from nundine.services.state import find_week, load_state

router = APIRouter(prefix="/api/weeks/{week}", tags=["publish"], route_class=DbRoute)


def download(body: bytes, kind: str, name: str) -> Response:
    """A file to keep. Its name may have any letters (RFC 6266); those that a header can't hold are `_` for readers that know no others."""
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " -._") else "_" for c in name)
    return Response(
        body,
        media_type=kind,
        headers={
            "content-disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"
        },
    )


@router.post("/revisions", response_model=shapes.Overview)
def freeze(week: str, account: Editor) -> dict[str, Any]:
    publish.publish(find_week(week).name, account)
    return overview(load_state(week))


@router.get("/revisions", response_model=list[shapes.RevisionShape])
def revisions(week: str, _: Reader) -> list[dict[str, Any]]:
    return publish.revisions(load_state(week).week)


@router.get("/revisions/{number}/changes", response_model=shapes.Compared)
def changes(week: str, number: int, _: Reader) -> dict[str, Any]:
    """Revision `number` against the one before; 0 = the week as it stands against the newest."""
    return publish.changes_since(load_state(week), number)


@router.get("/sheets.pdf", response_class=Response)
def sheets(
    week: str, _: Reader, by: Literal["person", "crew"] = "person", only: str | None = None
) -> Response:
    return download(
        publish.sheets_pdf(load_state(week), by, only),
        "application/pdf",
        f"crew-sheets-{week}-{only or by}.pdf",
    )


@router.get("/calendars/{person}.ics", response_class=Response)
def calendar(week: str, person: str, _: Reader) -> Response:
    return download(publish.calendar(load_state(week), person), "text/calendar", f"{week}-{person}.ics")


@router.get("/week.csv", response_class=Response)
def week_csv(week: str, _: Reader) -> Response:
    return download(publish.week_csv(load_state(week)), "text/csv", f"week-{week}.csv")


@router.get("/week.xlsx", response_class=Response)
def week_xlsx(week: str, _: Reader) -> Response:
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return download(publish.week_xlsx(load_state(week)), kind, f"week-{week}.xlsx")


@router.get("/problem.json", response_class=Response)
def problem(week: str, _: Reader) -> Response:
    return download(
        json.dumps(publish.problem_json(load_state(week)), ensure_ascii=False).encode(),
        "application/json",
        f"problem-{week}.json",
    )


@router.get("/plan.json", response_class=Response)
def plan(week: str, _: Reader) -> Response:
    return download(
        json.dumps(publish.plan_json(load_state(week)), ensure_ascii=False).encode(),
        "application/json",
        f"plan-{week}.json",
    )
