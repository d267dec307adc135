"""Files in and out."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, Response, UploadFile

from nundine.api import shapes
from nundine.api.at_once import FILES_IN, FILES_OUT
from nundine.api.http import DbRoute, Importer, Reader, waits
from nundine.api.publish import download
from nundine.formats.tables import MOST_BYTES
from nundine.services import imports
from nundine.services.accounts import may_know_why
from nundine.services.errors import Refused
from nundine.services.kinds import KINDS

router = APIRouter(prefix="/api/imports", tags=["import"], route_class=DbRoute)
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/kinds", response_model=list[shapes.KindShape])
def kinds(_: Reader) -> list[dict[str, Any]]:
    return [{"name": k.name, "columns": [c.name for c in k.columns]} for k in KINDS.values()]


@router.post("", response_model=shapes.ImportReport)
@waits
def bring_in(files: list[UploadFile], account: Importer, dry_run: bool = False) -> dict[str, Any]:
    """All or nothing; with `dry_run` only the report."""
    if len(files) > 20:
        raise Refused("files", "At most 20 files at once.")
    with FILES_IN.turn(account):
        given = [(f.filename or "file", f.file.read(MOST_BYTES + 1)) for f in files]
        return imports.run_import(given, dry_run).document()


@router.get("/templates/{name}", response_class=Response)
def template(name: str, _: Reader) -> Response:
    if name == "all.xlsx":
        return download(imports.template_xlsx(), XLSX, "nundine-template.xlsx")
    return download(imports.template_csv(name.removesuffix(".csv")), "text/csv", name)


@router.get("/exports/{name}", response_class=Response)
@waits
def export(name: str, account: Reader) -> Response:
    if name == "all.xlsx":
        with FILES_OUT.turn(account):
            return download(imports.export_xlsx(may_know_why(account)), XLSX, "nundine-export.xlsx")
    return download(imports.export_csv(name.removesuffix(".csv"), may_know_why(account)), "text/csv", name)
