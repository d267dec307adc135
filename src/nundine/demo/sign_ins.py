"""Who signs in to the demo, and where it is: known without the demo world itself, which takes a second to
load."""

from __future__ import annotations

import json
import os
import secrets
from datetime import date, timedelta
from pathlib import Path

from nundine.core.timeline import week_name
from nundine.store.account import Account
from nundine.store.belonging import Site

KEY, SITE, ZONE = "tarnfell", "Tarnfell Cableways", "Europe/Zurich"
SIGN_INS = (
    ("ada", "Ada Winkler", "administrator"),
    ("sven", "Sven Ostrova", "scheduler"),
    ("mila", "Mila Castellan", "scheduler"),
    ("karl", "Karl Reuter", "supervisor"),
    ("rudi", "Rudi Kemper", "storekeeper"),
    ("olivia", "Olivia Thorne", "operations"),
    ("rene", "René Aubert", "reader"),
)


def demo_week(today: date) -> str:
    """The week that the demo plans: next week, seen from today."""
    return week_name(today + timedelta(days=7))


def passwords(var: Path) -> dict[str, str]:
    """The demo's passwords, made once, in a file that only its owner can read."""
    path = var / "demo-sign-ins.json"
    if not path.exists():
        made = {name: f"{name}-{secrets.token_urlsafe(7)}" for name, _, _ in SIGN_INS}
        with os.fdopen(os.open(path, os.O_CREAT | os.O_WRONLY | os.O_EXCL, 0o600), "w") as out:
            json.dump(made, out)
    return dict(json.loads(path.read_text()))


def is_empty() -> bool:
    """Whether nobody has made a site or an account yet."""
    return not Site.select().exists() and not Account.select().exists()
