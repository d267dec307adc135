"""Parts: kept, looked for, moved."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response, UploadFile

from nundine.api.attached import given
from nundine.api.http import DbRoute, Reader, Storekeeper, Teller, waits
from nundine.api.parts import schemas
from nundine.services.exchange import registers
from nundine.services.parts import (
    kits,
    part_view,
    parts_lists,
    picking,
    posting,
    ready_line,
    use_lines,
    using,
)
from nundine.services.work import attachments, part_needs
from nundine.services.work.attachments import MOST_BYTES, AttachedFile

router = APIRouter(prefix="/api/parts", tags=["parts"], route_class=DbRoute)


@router.post("/registers/{name}", status_code=204)
def save_row(name: str, form: schemas.PartRow, account: Storekeeper) -> None:
    """Make a part or a storeroom, or change it."""
    registers.need_one_of(registers.KEPT, name)
    registers.save(account, name, form.cells, form.revision)


@router.post("/registers/{name}/removal", status_code=204)
def remove_row(name: str, form: schemas.PartRowRemoval, account: Storekeeper) -> None:
    registers.need_one_of(registers.KEPT, name)
    registers.remove(account, name, form.key, form.revision)


@router.get("/words")
def words_used(_: Reader) -> part_view.WordsUsed:
    """Groups and makers that stand on parts, to choose from."""
    return part_view.words_used()


@router.post("/movements")
def post_movements(form: schemas.PostingForms, account: Storekeeper) -> posting.Posted:
    """Post what can be; the others say why not."""
    return posting.post(account, [posting.Posting(**line.model_dump()) for line in form.lines])


@router.post("/picking")
def hand_out(form: schemas.Picked, account: Storekeeper) -> picking.Handed:
    """Hand out what is left of these needs, from where it lies."""
    return picking.hand_out(account, [(p.order, p.task, p.part) for p in form.picked])


@router.post("/kits")
def set_aside(form: schemas.KitsSetAside, account: Storekeeper) -> int:
    """The parts of these WOs were set aside in a place; gives for how many that is new."""
    return kits.set_aside(account, form.orders, form.place)


@router.post("/kits/handing-out")
def hand_out_kits(form: schemas.KitNames, account: Storekeeper) -> picking.Handed:
    """Hand out all that is left of the parts of these WOs."""
    return kits.hand_out_kits(account, form.orders)


@router.post("/kits/putting-back")
def put_kits_back(form: schemas.KitNames, account: Storekeeper) -> int:
    """The parts of these WOs lie in their places again; gives how many kits were put back."""
    return kits.put_back(account, form.orders)


@router.post("/used/planned")
def parts_planned(form: schemas.TaskNames, _: Teller) -> list[use_lines.UseLine]:
    """What tasks plan of parts, and what their WOs got so far."""
    return use_lines.planned([(t.order, t.task) for t in form.tasks])


@router.post("/used")
def tell_used(form: schemas.UsedForms, account: Teller) -> using.UsesPosted:
    """Say what jobs used of parts; the others say why they could not be posted."""
    return using.post_used(account, [using.Used(**u.model_dump()) for u in form.used])


@router.post("/lists", status_code=204)
def put_on_list(form: schemas.AssetPartForm, account: Storekeeper) -> None:
    """Put a part on an asset's list, or change how many are in it."""
    parts_lists.put(account, form.asset, form.part, form.quantity, form.remark)


@router.post("/lists/removal", status_code=204)
def take_off_list(form: schemas.AssetPartKey, account: Storekeeper) -> None:
    parts_lists.take_off(account, form.asset, form.part)


@router.post("/one/{key:path}/files")
@waits
def attach(key: str, file: UploadFile, account: Storekeeper) -> list[AttachedFile]:
    """A picture of a part, or another file."""
    part_view.found(key)
    attachments.attach(account, part_view.NOUN, key, file.filename or "file", file.file.read(MOST_BYTES + 1))
    return attachments.attached(part_view.NOUN, key)


@router.get("/one/{key:path}/files/{id_}", response_class=Response)
def the_file(key: str, id_: int, _: Reader) -> Response:
    return given(attachments.file_of(part_view.NOUN, key, id_))


@router.get("/ready/{number}")
def when_ready(number: str, _: Reader) -> ready_line.ReadyLine:
    """When the parts of a WO are there, and why; and if it came before all others."""
    return ready_line.ready_line(number)


@router.get("/choices")
def the_choices(
    _: Reader,
    text: Annotated[str, Query(max_length=80)] = "",
    asset: Annotated[str | None, Query(max_length=60)] = None,
) -> list[part_needs.PartChoice]:
    """Parts by a word, those of an asset first."""
    return part_needs.choices(text, asset)


@router.get("/one/{key:path}")
def the_part(key: str, _: Reader) -> part_view.PartDocument:
    """Where it is, where it is used, what moved."""
    return part_view.document(key)
