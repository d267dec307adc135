"""Exports of other systems: opened, understood, compared, brought in."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter, UploadFile

from nundine.api import shapes
from nundine.api.http import DbRoute, Editor, Importer
from nundine.formats.tables import MOST_BYTES
from nundine.jobs.queue import enqueue_bringing
from nundine.services import foreign

router = APIRouter(prefix="/api/foreign", tags=["import"], route_class=DbRoute)


def _decision(form: shapes.DecidedForm) -> foreign.Decision:
    d = form.decision
    return foreign.Decision(d.new, d.changed, d.both, d.vanished, tuple(d.fields), d.without_bad_rows)


@router.post("", response_model=shapes.Opened)
def open_file(file: UploadFile, account: Importer) -> dict[str, Any]:
    one = foreign.upload(file.filename or "file", file.file.read(MOST_BYTES + 1), account)
    return foreign.opened(one)


@router.post("/{id_}/preview", response_model=shapes.ForeignPreview)
def preview(id_: int, form: shapes.MappingForm, account: Importer) -> dict[str, Any]:
    return foreign.preview(foreign.found(id_, account), foreign.mapping_of(form.mapping.model_dump()))


@router.post("/{id_}/difference", response_model=shapes.ForeignDifference)
def difference(id_: int, form: shapes.DecidedForm, account: Importer) -> dict[str, Any]:
    return foreign.compared(foreign.found(id_, account), foreign.mapping_of(form.mapping.model_dump()), _decision(form))


@router.post("/{id_}/bring-in", response_model=shapes.BringingShape)
def bring_in(id_: int, form: shapes.DecidedForm, account: Importer) -> dict[str, Any]:
    one = foreign.ask(foreign.found(id_, account), foreign.mapping_of(form.mapping.model_dump()), _decision(form))
    enqueue_bringing(one.id)
    return foreign.standing_of(one)


@router.get("/{id_}", response_model=shapes.BringingShape)
def how_far(id_: int, account: Importer) -> dict[str, Any]:
    return foreign.standing_of(foreign.found(id_, account))


@router.post("/{id_}/stop", response_model=shapes.BringingShape)
def stop(id_: int, account: Importer) -> dict[str, Any]:
    foreign.stop(foreign.found(id_, account))
    return foreign.standing_of(foreign.found(id_, account))


@router.post("/marks/{number}/seen", status_code=204)
def seen(number: str, _: Editor) -> None:
    foreign.seen(number)
