"""Exports of other systems: opened, understood, compared, brought in."""

from __future__ import annotations

from fastapi import APIRouter, UploadFile

from nundine.api import schemas
from nundine.api.at_once import FILES_IN
from nundine.api.http import DbRoute, Editor, Importer, waits
from nundine.formats.tables import MOST_BYTES
from nundine.jobs.queue import hand_over
from nundine.services.background import runs
from nundine.services.exchange import lately
from nundine.services.exchange.foreign import answers, bring_in, compare, files, marks

router = APIRouter(prefix="/api/foreign", tags=["import"], route_class=DbRoute)


def _decision(form: schemas.DecidedForm) -> compare.Decision:
    return compare.Decision(**{**form.decision.model_dump(), "fields": tuple(form.decision.fields)})


@router.post("")
@waits
def open_file(file: UploadFile, account: Importer) -> answers.Opened:
    with FILES_IN.turn(account):
        one = files.upload(file.filename or "file", file.file.read(MOST_BYTES + 1), account)
        return files.opened(one)


@router.post("/{id_}/preview")
@waits
def preview(id_: int, form: schemas.MappingForm, account: Importer) -> answers.ForeignPreview:
    return files.preview(files.found(id_, account), files.mapping_of(form.mapping.model_dump()))


@router.post("/{id_}/difference")
@waits
def difference(id_: int, form: schemas.DecidedForm, account: Importer) -> answers.ForeignDifference:
    return compare.compared(
        files.found(id_, account), files.mapping_of(form.mapping.model_dump()), _decision(form)
    )


@router.post("/{id_}/bring-in")
def bring_in_file(id_: int, form: schemas.DecidedForm, account: Importer) -> answers.FileStanding:
    one = files.found(id_, account)
    hand_over(bring_in.ask(one, files.mapping_of(form.mapping.model_dump()), _decision(form)))
    return bring_in.standing_of(one)


@router.get("/{id_}/again")
def try_again(id_: int, account: Importer) -> answers.Opened:
    return lately.tried_again(id_, account)


@router.get("/{id_}")
def how_far(id_: int, account: Importer) -> answers.FileStanding:
    return bring_in.standing_of(files.found(id_, account))


@router.post("/{id_}/stop")
def stop(id_: int, account: Importer) -> answers.FileStanding:
    one = files.found(id_, account)
    run = bring_in.run_of(one)
    if run is not None:
        runs.stop(run)
    return bring_in.standing_of(one)


@router.post("/marks/{number:path}/seen", status_code=204)
def seen(number: str, _: Editor) -> None:
    marks.seen(number)
