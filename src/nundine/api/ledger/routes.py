"""Who changed what when: of one record, and of all."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Path, Query

from nundine.api import schemas
from nundine.api.http import Administrator, DbRoute, Reader
from nundine.services.access import may_know_why, require
from nundine.services.ledger import history

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


@router.get("/audit/{number}", response_model=schemas.DeedShape)
def one_deed(number: Annotated[int, Path(ge=1, le=2**62)], _: Administrator) -> history.Deed:
    """What one deed changed, field by field."""
    return history.deed(number)
