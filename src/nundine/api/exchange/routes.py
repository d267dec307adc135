"""Files in and out."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Response, UploadFile

from nundine.api import schemas
from nundine.api.at_once import FILES_IN
from nundine.api.download import download
from nundine.api.http import DbRoute, Importer, Reader, waits
from nundine.api.runs.routes import own_run, shape
from nundine.formats.tables import MOST_BYTES
from nundine.jobs.queue import hand_over
from nundine.services.access import may_know_why
from nundine.services.background import runs
from nundine.services.errors import Refused
from nundine.services.exchange import exporting, importing, lately
from nundine.services.exchange.kinds import KINDS
from nundine.store.run import Run

router = APIRouter(prefix="/api/imports", tags=["import"], route_class=DbRoute)
MOST_FILES = 20
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/kinds", response_model=list[schemas.KindShape])
def kinds(_: Reader) -> list[dict[str, Any]]:
    return [{"name": k.name, "columns": [c.name for c in k.columns]} for k in KINDS.values()]


def _read(files: list[UploadFile]) -> list[tuple[str, bytes]]:
    """Names and contents. Raises Refused for too many, or one that is too large."""
    if len(files) > MOST_FILES:
        raise Refused("files", f"At most {MOST_FILES} files at once.")
    return [(f.filename or "file", f.file.read(MOST_BYTES + 1)) for f in files]


@router.post("/check", response_model=schemas.ImportReport)
@waits
def check(files: list[UploadFile], account: Importer) -> dict[str, Any]:
    """What bringing these files in would do; nothing is changed."""
    with FILES_IN.turn(account):
        return importing.run_import(_read(files), account, dry_run=True).document()


@router.post("", response_model=schemas.ImportRun)
@waits
def bring_in(files: list[UploadFile], account: Importer) -> dict[str, Any]:
    """Have files brought in, all or nothing, in the background."""
    with FILES_IN.turn(account):
        asked = importing.ask(_read(files), account)
    hand_over(asked)
    return _import_run(runs.find(asked.id))


@router.get("/runs/{run}", response_model=schemas.ImportRun)
def how_far(run: int, account: Importer) -> dict[str, Any]:
    """How far files are on their way in, and the report when they are."""
    return _import_run(own_run(run, account, importing.KIND))


def _import_run(run: Run) -> dict[str, Any]:
    return {"run": shape(run), "report": run.result}


@router.get("/lately")
def came_in_lately(account: Importer) -> list[lately.CameIn]:
    """What came in lately, by whom, and what came of it."""
    return lately.came_in(account)


@router.get("/exports/{name}/preview")
def export_preview(name: str, account: Reader) -> exporting.Preview:
    """The first rows of what would be taken out, and how many there are."""
    return exporting.preview(name, may_know_why(account))


@router.post("/exports", response_model=schemas.RunShape)
def export_everything(account: Reader) -> dict[str, Any]:
    """Have one workbook of everything made; its run gives it out."""
    asked = exporting.ask(account, may_know_why(account))
    hand_over(asked)
    return shape(runs.find(asked.id))


@router.get("/templates/{name}", response_class=Response)
def template(name: str, _: Reader) -> Response:
    if name == "all.xlsx":
        return download(exporting.template_xlsx(), XLSX, "nundine-template.xlsx")
    return download(exporting.template_csv(name.removesuffix(".csv")), "text/csv", name)


@router.get("/exports/{name}", response_class=Response)
@waits
def export(name: str, account: Reader) -> Response:
    """All rows of one kind."""
    return download(exporting.export_csv(name.removesuffix(".csv"), may_know_why(account)), "text/csv", name)
