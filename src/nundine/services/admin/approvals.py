"""Who may approve how much: an amount by role, in the site's currency."""

from __future__ import annotations

from nundine.core.parts.buying import may_approve
from nundine.services.access import roles_of
from nundine.store.account import Account
from nundine.store.site import site

USUAL = {"storekeeper": 200.0, "planner": 1000.0, "scheduler": 5000.0}
"""Until the site says otherwise (ours, no source)."""


def limits() -> dict[str, float]:
    """By role up to which amount it approves; roles without one approve nothing."""
    return dict(site().settings.get("approvals", USUAL))


def limit_of(account: Account) -> float | None:
    """Up to which amount somebody approves; None = nothing."""
    by_role = limits()
    return max((by_role[role] for role in roles_of(account) if role in by_role), default=None)


def approves(account: Account, amount: float | None) -> bool:
    return may_approve(amount, limit_of(account))
