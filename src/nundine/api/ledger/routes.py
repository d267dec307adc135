"""Who changed what when: of one record, and of all."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any

from fastapi import APIRouter, Path, Query, Response

from nundine.api import schemas
from nundine.api.download import download
from nundine.api.http import Administrator, DbRoute, Reader, waits
from nundine.services.access import may_know_why, require
from nundine.services.ledger import history
from nundine.services.ledger.nouns import NOUNS

router = APIRouter(prefix="/api", tags=["ledger"], route_class=DbRoute)

Page = Annotated[int, Query(ge=1, le=100_000)]
Text = Annotated[str, Query(max_length=200)]
KeyParts = Annotated[list[str], Query(min_length=1, max_length=4)]


@router.get("/history/{noun}", response_model=schemas.Deeds)
def the_history(noun: str, key: KeyParts, account: Reader, page: Page = 1) -> dict[str, Any]:
    """Deeds that changed a record, newest first; `key` is what it is known by, part by part."""
    if noun == "account":
        require(account, "administer")
    total, rows = history.history(noun, list(key), page=page, why=may_know_why(account))
    return {"total": total, "rows": rows}


@router.get("/audit", response_model=schemas.Deeds)
def the_audit(
    _: Administrator,
    page: Page = 1,
    account: Text = "",
    noun: Text = "",
    text: Text = "",
    field: Annotated[str, Query(max_length=40, pattern="^[a-z_]*$")] = "",
    first: date | None = None,
    last: date | None = None,
) -> dict[str, Any]:
    """All deeds by person, record, field and time, newest first."""
    total, rows = history.audit(history.Question(page, 50, account, noun, text, field, first, last))
    return {"total": total, "rows": rows}


@router.get("/audit/choices", response_model=schemas.AuditChoices)
def the_choices(_: Administrator) -> dict[str, Any]:
    return {"nouns": {name: noun.labels for name, noun in NOUNS.items()}}


@router.get("/audit/{number}", response_model=schemas.DeedShape)
def one_deed(number: Annotated[int, Path(ge=1, le=2**62)], _: Administrator) -> history.Deed:
    """What one deed changed, field by field."""
    return history.deed(number)


@router.get("/audit.csv", response_class=Response)
@waits
def the_audit_as_table(
    _: Administrator,
    account: Text = "",
    noun: Text = "",
    text: Text = "",
    field: Annotated[str, Query(max_length=40, pattern="^[a-z_]*$")] = "",
    first: date | None = None,
    last: date | None = None,
) -> Response:
    question = history.Question(1, 50, account, noun, text, field, first, last)
    return download(history.audit_csv(question), "text/csv", "audit.csv")
