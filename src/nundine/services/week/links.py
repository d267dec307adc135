"""Addresses of what is handed out: a sheet or a calendar leads back to the job."""

from __future__ import annotations

from urllib.parse import quote

from nundine.settings import settings
from nundine.store.belonging import first_site, here, key_here


def link_to_job(week: str, number: str) -> str:
    """The whole address under which a browser finds a job of a week."""
    at = "" if here() == first_site() else f"/at/{quote(key_here() or '', safe='')}"
    return f"{settings().public}{at}/week/{week}/gather?job={quote(number, safe='')}"
