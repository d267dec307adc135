"""Rights: what each role may do."""

from __future__ import annotations

from nundine.services.errors import NotAllowed
from nundine.store.account import Account

READ, EDIT, SWAP, ANSWER, REPORT = "read", "edit", "swap", "answer", "report"
IMPORT, MANAGE, REOPEN, ADMINISTER = "import", "manage", "reopen", "administer"
MAY: dict[str, frozenset[str]] = {
    "administrator": frozenset({READ, IMPORT, MANAGE, REOPEN, ADMINISTER}),
    "scheduler": frozenset({READ, EDIT, SWAP, ANSWER, REPORT, IMPORT, MANAGE}),
    "supervisor": frozenset({READ, SWAP, REPORT}),
    "operations": frozenset({READ, ANSWER}),
    "reader": frozenset({READ}),
}
"""Rights of each role. Whoever looks after accounts does not schedule, and the other way round."""


def may_know_why(account: Account) -> bool:
    """Whether the account may see why somebody is away; others see that they are."""
    return bool(MAY[account.role] & {EDIT, SWAP})


def areas_of(account: Account) -> list[str]:
    """Areas that the account looks after. None means all for schedulers, and that operations may answer nothing."""
    return list(account.areas or ())


def require(account: Account, right: str) -> None:
    """Raises NotAllowed if the account's role does not have the right."""
    if right not in MAY[account.role]:
        who = ", ".join(r for r, rights in MAY.items() if right in rights)
        raise NotAllowed("role", f"A {account.role} may not do this; it takes one of: {who}.")
