"""Lists: their columns, rows, groups and keys; files of them; views."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Query
from pydantic import Json

from nundine.api import schemas
from nundine.api.http import DbRoute, Reader
from nundine.api.lists.schemas import ListFileForm, PinForm, QuestionForm, ViewForm
from nundine.api.runs.routes import shape
from nundine.jobs.queue import hand_over
from nundine.services import all_lists
from nundine.services.access import rights_of
from nundine.services.background import runs
from nundine.services.errors import Refused
from nundine.services.listing import exporting, views
from nundine.services.listing.around import around_for
from nundine.services.listing.asked import question_of
from nundine.services.listing.column import Choice, How, Kind
from nundine.services.listing.finding import Hit, find
from nundine.services.listing.listing import LISTS, Around, Listing, kind_of, opened
from nundine.services.listing.rows import Group, Rows, counted, groups, keys, rows
from nundine.services.listing.views import ViewRow, Wanted
from nundine.store.account import Account

assert all_lists.DECLARING
router = APIRouter(prefix="/api/lists", tags=["lists"], route_class=DbRoute)
Asked = Annotated[Json[QuestionForm], Query()]
"""A question, as JSON in the address."""
Week = Annotated[str | None, Query(max_length=20)]
Of = Annotated[str, Query(max_length=60)]
"""What a list is of where that is not the week alone: a revision, a run."""


@dataclass(frozen=True)
class ListColumn:
    """What a column is and what can be asked of it. `weight`: 1 stays to the last where there is little
    room."""

    name: str
    label: str
    kind: Kind
    hows: list[How]
    choices: list[Choice]
    can_sort: bool
    can_group: bool
    total: bool
    width: int
    weight: int
    shown: bool
    hint: str


@dataclass(frozen=True)
class ListHead:
    """A list before its rows: columns, views, and the order where none is asked for. `roles`: those for which
    the account may choose the view with which they begin."""

    name: str
    label: str
    key: str
    columns: list[ListColumn]
    views: list[ViewRow]
    roles: list[str]


def _opened(name: str, account: Account, week: str | None, of: str) -> tuple[Listing, Around]:
    around = around_for(account, week, of)
    return opened(name, around), around


@dataclass(frozen=True)
class ListName:
    name: str
    label: str


@router.get("/names")
def the_names(account: Reader) -> list[ListName]:
    """The lists that are open to an account."""
    return [ListName(k.name, k.label) for k in LISTS.values() if rights_of(account) & set(k.rights)]


@router.get("/found")
def found_by_words(
    account: Reader, text: Annotated[str, Query(max_length=100)], week: Week = None
) -> list[Hit]:
    """Records whose number or name holds all words: what the palette asks."""
    return find(text, around_for(account, week))


@router.get("/{name}")
def the_list(name: str, account: Reader, week: Week = None, of: Of = "") -> ListHead:
    found, _ = _opened(name, account, week, of)
    columns = [
        ListColumn(
            c.name,
            c.label,
            c.kind,
            list(c.hows),
            c.choices() if c.choices else [],
            c.can_sort,
            c.group,
            c.total,
            c.width,
            c.weight,
            c.shown,
            c.hint,
        )
        for c in found.columns
    ]
    kind = kind_of(name)
    seen = views.views_of(account, name)
    return ListHead(kind.name, kind.label, found.key, columns, seen, views.roles_to_begin(account))


@router.get("/{name}/rows")
def the_rows(
    name: str,
    account: Reader,
    q: Asked,
    week: Week = None,
    of: Of = "",
    first: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    size: Annotated[int, Query(ge=1, le=500)] = 100,
) -> Rows:
    found, around = _opened(name, account, week, of)
    return rows(found, q.question(), around, first, size)


@router.get("/{name}/groups")
def the_groups(name: str, account: Reader, q: Asked, week: Week = None, of: Of = "") -> list[Group]:
    found, around = _opened(name, account, week, of)
    return groups(found, q.question(), around)


@router.get("/{name}/keys")
def the_keys(name: str, account: Reader, q: Asked, week: Week = None, of: Of = "") -> list[str]:
    """Keys of all rows that pass, to act on them."""
    found, around = _opened(name, account, week, of)
    return keys(found, q.question(), around)


@router.post("/{name}/files", response_model=schemas.RunShape)
def make_file(name: str, form: ListFileForm, account: Reader) -> dict[str, Any]:
    """Have the list written to a file, exactly as it is seen."""
    asked = form.question.question()
    run = exporting.ask(account, name, form.week, asked, form.columns, form.format, form.of)
    hand_over(run)
    return shape(runs.find(run.id))


@router.post("/{name}/views")
def make_view(name: str, form: ViewForm, account: Reader) -> list[ViewRow]:
    views.make(account, name, Wanted(form.title, form.shared, form.role, form.body.model_dump()))
    return views.views_of(account, name)


@router.put("/{name}/views/{key}")
def change_view(name: str, key: str, form: ViewForm, account: Reader) -> list[ViewRow]:
    views.change(
        account, key, Wanted(form.title, form.shared, form.role, form.body.model_dump()), form.revision
    )
    return views.views_of(account, name)


@router.put("/{name}/views/{key}/pin")
def pin_view(name: str, key: str, form: PinForm, account: Reader) -> list[ViewRow]:
    views.pin(account, key, form.on)
    return views.views_of(account, name)


@router.delete("/{name}/views/{key}")
def delete_view(name: str, key: str, account: Reader) -> list[ViewRow]:
    views.remove(account, key)
    return views.views_of(account, name)


@dataclass(frozen=True)
class PinnedCount:
    """A view that stands in somebody's rail, and how many rows it has now."""

    key: str
    list: str
    title: str
    count: int


@router.get("")
def the_pinned(account: Reader, week: Week = None) -> list[PinnedCount]:
    """The figures of the views that an account has pinned."""
    around = around_for(account, week)
    out = []
    for v in [v for v in views.views_of(account) if v.pinned]:
        with suppress(Refused):  # it asks for a column that is not there any more
            asked = question_of(v.body["question"])
            count = counted(opened(v.list, around), asked, around).total
            out.append(PinnedCount(v.key, v.list, v.title, count))
    return out
