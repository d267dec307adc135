"""Work requests: reported by anybody, decided by planners; with photos and files."""

from __future__ import annotations

from fastapi import APIRouter, Response, UploadFile

from nundine.api import schemas
from nundine.api.attached import given
from nundine.api.http import DbRoute, Planner, Reader, waits
from nundine.services.work import attachments, requests
from nundine.services.work.attachments import MOST_BYTES, AttachedFile

router = APIRouter(prefix="/api/requests", tags=["work"], route_class=DbRoute)
ONE = "/{number:path}"


@router.post("", response_model=schemas.RequestNumber)
def report(form: schemas.RequestForm, account: Reader) -> dict[str, str]:
    number = requests.report(account, form.title, form.asset, form.place, form.description, form.urgency)
    return {"number": number}


@router.post(ONE + "/files")
@waits
def attach(number: str, file: UploadFile, account: Reader) -> list[AttachedFile]:
    requests.attach(account, number, file.filename or "file", file.file.read(MOST_BYTES + 1))
    return requests.document(account, number).files


@router.get(ONE + "/files/{id_}", response_class=Response)
def the_file(number: str, id_: int, _: Reader) -> Response:
    return given(attachments.file_of(requests.NOUN, number, id_))


@router.post(ONE + "/words", status_code=204)
def say(number: str, form: schemas.RequestWord, account: Reader) -> None:
    requests.say(account, number, form.text, form.revision)


@router.post(ONE + "/question", status_code=204)
def ask_back(number: str, form: schemas.RequestWord, account: Planner) -> None:
    requests.ask_back(account, number, form.text, form.revision)


@router.post(ONE + "/declining", status_code=204)
def decline(number: str, form: schemas.RequestWord, account: Planner) -> None:
    requests.decline(account, number, form.text, form.revision)


@router.post(ONE + "/opening", status_code=204)
def open_again(number: str, form: schemas.RequestSeen, account: Planner) -> None:
    requests.open_again(account, number, form.revision)


@router.post(ONE + "/joining", status_code=204)
def join(number: str, form: schemas.RequestJoin, account: Planner) -> None:
    requests.join(account, number, form.order, form.revision)


@router.post(ONE + "/order", response_model=schemas.OrderNumber)
def make_order(number: str, form: schemas.RequestOrder, account: Planner) -> dict[str, str]:
    return {"number": requests.make_order(account, number, form.order, form.tasks, form.revision)}


@router.get(ONE)
def the_request(number: str, account: Reader) -> requests.RequestDocument:
    return requests.document(account, number)
