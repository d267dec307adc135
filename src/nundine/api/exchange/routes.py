"""Files in and out."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Response, UploadFile

from nundine.api import schemas
from nundine.api.at_once import FILES_IN, FILES_OUT
from nundine.api.http import DbRoute, Importer, Reader, waits
from nundine.api.week.publish import download
from nundine.formats.tables import MOST_BYTES
from nundine.services.access import may_know_why
from nundine.services.errors import Refused
from nundine.services.exchange import exporting, importing
from nundine.services.exchange.record_kinds import KINDS

router = APIRouter(prefix="/api/imports", tags=["import"], route_class=DbRoute)
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/kinds", response_model=list[schemas.KindShape])
def kinds(_: Reader) -> list[dict[str, Any]]:
    return [{"name": k.name, "columns": [c.name for c in k.columns]} for k in KINDS.values()]


@router.post("", response_model=schemas.ImportReport)
@waits
def bring_in(files: list[UploadFile], account: Importer, dry_run: bool = False) -> dict[str, Any]:
    """All or nothing; with `dry_run` only the report."""
    if len(files) > 20:
        raise Refused("files", "At most 20 files at once.")
    with FILES_IN.turn(account):
        given = [(f.filename or "file", f.file.read(MOST_BYTES + 1)) for f in files]
        return importing.run_import(given, account, dry_run=dry_run).document()


@router.get("/templates/{name}", response_class=Response)
def template(name: str, _: Reader) -> Response:
    if name == "all.xlsx":
        return download(exporting.template_xlsx(), XLSX, "nundine-template.xlsx")
    return download(exporting.template_csv(name.removesuffix(".csv")), "text/csv", name)


@router.get("/exports/{name}", response_class=Response)
@waits
def export(name: str, account: Reader) -> Response:
    if name == "all.xlsx":
        with FILES_OUT.turn(account):
            return download(exporting.export_xlsx(may_know_why(account)), XLSX, "nundine-export.xlsx")
    return download(exporting.export_csv(name.removesuffix(".csv"), may_know_why(account)), "text/csv", name)
