"""Parameters of the engine for this site: how long it searches, what it weighs, what each craft holds
back."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any

from nundine.core.week.problem import PRICE_NAMES, PRICED
from nundine.services.access import STOCK
from nundine.services.admin.approvals import limits
from nundine.services.admin.cleaning import KEEP_DAYS, keep_days
from nundine.services.errors import Refused
from nundine.services.exchange.stored_rows import standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.noun import Key
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to, removals
from nundine.store.account import Account, Role
from nundine.store.base import db
from nundine.store.site import Area, Craft, Site, site

LIMITS = {
    "must_per_hour": (0.0, 10_000.0),
    "must_per_job": (0.0, 100_000.0),
    "late_share_per_day": (0.0, 1.0),
    "overtime_per_hour": (0.0, 10_000.0),
    "waiting_per_hour": (0.0, 1_000.0),
    "waiting_cap_hours": (0.0, 168.0),
    "handover": (0.0, 10_000.0),
    "area_change": (0.0, 10_000.0),
    "away_per_hour": (0.0, 1_000.0),
}
DEFAULT_SECONDS = 10.0
MOST_DAYS, MOST_MINUTES = 3650, 600


REASONS = (
    "no time left",
    "asset not free",
    "part missing",
    "person missing",
    "more work than planned",
    "other work came in",
    "other",
)
"""Why work was not finished, until the site has a list of its own (common practice, no source)."""


ADDRESS = re.compile(r"^[^\s@<>,;\"]+@[^\s@<>,;\"]+$")
MOST_ADDRESSES = 50
MOST_RATE, LONGEST_CURRENCY, MOST_LIMIT = 10_000.0, 8, 1_000_000_000


def reasons() -> list[str]:
    """Why work was not done, as this site tells it apart; "other" is always among them."""
    own = list(site().settings.get("reasons") or REASONS)
    return own if "other" in own else [*own, "other"]


@dataclass(frozen=True)
class Parameters:
    """What is to be stored: seconds of a build, weights by name, held-back share (0-1) by craft, reasons,
    days for which to keep."""

    seconds: float
    weights: dict[str, float] = field(default_factory=dict)
    held_back: dict[str, float] = field(default_factory=dict)
    rates: dict[str, float] = field(default_factory=dict)
    """What an hour of a craft costs, in the site's currency."""
    currency: str | None = None
    """As it stands beside amounts; None leaves it."""
    sheets_to: list[str] | None = None
    """Addresses to which preventive sheets go each Monday; None leaves them."""
    approvals: dict[str, float] | None = None
    """By role up to which amount its holders approve buying, in the site's currency; None leaves them."""
    reasons: list[str] = field(default_factory=list)
    keep_days: dict[str, int] = field(default_factory=dict)
    ways: dict[tuple[str, str], int] | None = None
    """Minutes between two areas; None leaves them as they are."""


@dataclass(frozen=True)
class CraftShare:
    """A craft, the share (0-1) of its hours that is held back for what comes in, and what an hour costs."""

    key: str
    name: str
    held_back: float
    rate: float


@dataclass(frozen=True)
class AreaName:
    key: str
    name: str


@dataclass(frozen=True)
class RoleLimit:
    """A role whose holders keep parts, and up to which amount they approve buying; None = nothing."""

    role: str
    limit: float | None


@dataclass(frozen=True)
class WayBetween:
    """Minutes from one area to another, and back."""

    start: str
    end: str
    minutes: int


@dataclass(frozen=True)
class SiteParameters:
    """The set-up of the site at a revision; `usual_prices` are those of a new site."""

    revision: int
    seconds: float
    weights: dict[str, float]
    reasons: list[str]
    keep_days: dict[str, int]
    crafts: list[CraftShare]
    areas: list[AreaName]
    usual_prices: dict[str, float]
    ways: list[WayBetween]
    currency: str
    sheets_to: list[str]
    approvals: list[RoleLimit]


def parameters() -> SiteParameters:
    """As they are."""
    here = site()
    return SiteParameters(
        revision=here.revision,
        seconds=here.settings.get("seconds", DEFAULT_SECONDS),
        weights={**vars(PRICED), **here.settings.get("weights", {})},
        reasons=reasons(),
        keep_days=keep_days(),
        crafts=[CraftShare(c.key, c.name, c.held_back, c.rate) for c in Craft.select().order_by(Craft.id)],
        areas=[AreaName(a.key, a.name) for a in Area.select().order_by(Area.key)],
        usual_prices={n: getattr(PRICED, n) for n in PRICE_NAMES},
        ways=[WayBetween(w["from"], w["to"], w["minutes"]) for w in standing("ways")],
        currency=here.settings.get("currency", ""),
        sheets_to=here.settings.get("sheets_to", []),
        approvals=[RoleLimit(r.name, limits().get(r.name)) for r in _keepers()],
    )


def _keepers() -> list[Role]:
    """Roles that keep parts, in their order."""
    return [r for r in Role.select().order_by(Role.place) if STOCK in r.rights]


def within_limits(weights: dict[str, float]) -> None:
    """Raises Refused with the name of a weight that is not there, or out of range."""
    for name, value in weights.items():
        if name not in LIMITS:
            raise Refused("weight", f"There is no weight {name}.", field=name)
        low, high = LIMITS[name]
        if not low <= value <= high:
            raise Refused("range", f"{name.replace('_', ' ')} lies between {low:g} and {high:g}.", field=name)


def store_parameters(account: Account | None, wanted: Parameters, revision: int | None = None) -> None:
    """All of them or none.

    Parameters
    ----------
    revision
        Of the site, as the sender saw it; None where nothing can have come between.

    Raises
    ------
    Refused
        With the field for a figure out of range.
    Stale
        If somebody changed the set-up meanwhile.
    """
    if not 1 <= wanted.seconds <= 600:
        raise Refused("range", "Seconds of a build lie between 1 and 600.", field="seconds")
    within_limits(wanted.weights)
    known = {c.key for c in Craft.select()}
    for craft, share in wanted.held_back.items():
        if craft not in known:
            raise Refused("craft", f"There is no craft {craft}.", field=craft)
        if not 0 <= share <= 0.9:
            raise Refused("range", "A craft holds back between 0 and 90 % of its hours.", field=craft)
    for craft, rate in wanted.rates.items():
        if craft not in known:
            raise Refused("craft", f"There is no craft {craft}.", field=craft)
        if not 0 <= rate <= MOST_RATE:
            raise Refused("range", f"An hour costs between 0 and {MOST_RATE:g}.", field=craft)
    if len((wanted.currency or "").strip()) > LONGEST_CURRENCY:
        raise Refused("currency", f"A currency has at most {LONGEST_CURRENCY} characters.", field="currency")
    _need_limits(wanted.approvals or {})
    sheets_to = None if wanted.sheets_to is None else _addresses(wanted.sheets_to)
    wanted_reasons = list(dict.fromkeys(r.strip() for r in wanted.reasons if r.strip()))
    if len(wanted_reasons) > 40 or any(len(r) > 80 for r in wanted_reasons):
        raise Refused("reasons", "There are at most 40 reasons of at most 80 characters.", field="reasons")
    for what, days in wanted.keep_days.items():
        if what not in KEEP_DAYS:
            raise Refused("kept", f"There is nothing called {what} that is kept for a time.", field=what)
        if not 1 <= days <= MOST_DAYS:
            raise Refused(
                "range", f"What is kept for a time is kept between 1 and {MOST_DAYS} days.", field=what
            )
    ways = _ways(wanted.ways)
    with db.atomic():
        here = Site.select().where(Site.id == site().id).for_update().get()
        if revision is not None:
            need_revision("site", [here.key], revision)
        settings = {
            **here.settings,
            "seconds": wanted.seconds,
            "weights": {**here.settings.get("weights", {}), **wanted.weights},
            "keep_days": {**here.settings.get("keep_days", {}), **wanted.keep_days},
            **({"reasons": wanted_reasons} if wanted_reasons else {}),
            **({} if sheets_to is None else {"sheets_to": sheets_to}),
            **({} if wanted.approvals is None else {"approvals": wanted.approvals}),
            **({} if wanted.currency is None else {"currency": wanted.currency.strip()}),
        }
        changes = changes_to("site", {(here.key,): {"settings": settings}})
        crafts: dict[Key, dict[str, Any]] = {(c,): {"held_back": s} for c, s in wanted.held_back.items()}
        for c, rate in wanted.rates.items():
            crafts.setdefault((c,), {})["rate"] = rate
        changes += changes_to("craft", crafts)
        if ways is not None:
            kept = {(w["from"], w["to"]): {"minutes": w["minutes"]} for w in ways}
            changes += removals("way", [k for k in NOUNS["way"].read() if k not in kept])
            changes += changes_to("way", kept)
        if changes:
            write(f"site {here.key}", account, Edit("set-up", "Change the set-up", changes), checked=True)


def _need_limits(wanted: dict[str, float]) -> None:
    """Raises Refused for a role that keeps no parts, and for an amount out of range."""
    roles = {r.name for r in _keepers()} if wanted else set()
    for role, limit in wanted.items():
        if role not in roles:
            raise Refused("role", f"There is no role {role[:40]} that keeps parts.", field="approvals")
        if not 0 <= limit <= MOST_LIMIT:
            raise Refused(
                "range", f"An amount to approve lies between 0 and {MOST_LIMIT}.", field="approvals"
            )


def _addresses(wanted: list[str]) -> list[str]:
    """Addresses of mail, each once. Raises Refused for one that can't be any."""
    found = list(dict.fromkeys(a.strip() for a in wanted if a.strip()))
    for one in found:
        if not ADDRESS.match(one):
            raise Refused(
                "address", f"{one[:60]} is no address of mail, like a.b@place.example.", field="sheets_to"
            )
    if len(found) > MOST_ADDRESSES:
        raise Refused("many", f"Sheets go to at most {MOST_ADDRESSES} addresses.", field="sheets_to")
    return found


def _ways(wanted: dict[tuple[str, str], int] | None) -> list[dict[str, Any]] | None:
    """Rows of the ways wanted, each pair of areas once. Raises Refused for areas that are not there and
    minutes out of range."""
    if wanted is None:
        return None
    known = {a.key for a in Area.select()}
    found: dict[tuple[str, str], int] = {}
    for (start, end), minutes in wanted.items():
        if start not in known or end not in known or start == end:
            raise Refused("way", f"There is no way from {start} to {end}: choose two areas.", field="ways")
        if not 0 <= minutes <= MOST_MINUTES:
            raise Refused("range", f"A way takes between 0 and {MOST_MINUTES} minutes.", field="ways")
        pair = (min(start, end), max(start, end))
        if found.setdefault(pair, minutes) != minutes:
            raise Refused(
                "way", f"The way from {start} to {end} takes as long as the way back.", field="ways"
            )
    return [{"from": a, "to": b, "minutes": minutes} for (a, b), minutes in found.items() if minutes]
