"""The site in the address: `/at/KEY/api/...` is `/api/...` at that site, as its pages lie below `/at/KEY`."""

from __future__ import annotations

from urllib.parse import unquote

from starlette.concurrency import run_in_threadpool
from starlette.types import Scope

from nundine.store.base import db
from nundine.store.belonging import Site, choose

AT = "/at/"
NOWHERE = -1
"""No site has this number: whoever names one that is not there finds nothing, like whoever may not see it."""
_known: dict[str, int] = {}


async def at_its_site(scope: Scope) -> Scope:
    """The request with the address that routes know; from now on it is about its site."""
    path: str = scope["path"]
    key, _, rest = path.removeprefix(AT).partition("/")
    if not path.startswith(AT) or not rest.startswith("api/"):
        choose(None)
        return scope
    choose(await _id_of(unquote(key)))
    return {**scope, "path": f"/{rest}", "raw_path": f"/{rest}".encode()}


async def _id_of(key: str) -> int:
    if key not in _known:
        found = await run_in_threadpool(_find, key)
        if found is None:
            return NOWHERE
        _known[key] = found
    return _known[key]


def _find(key: str) -> int | None:
    with db.connection_context():
        found: int | None = Site.select(Site.id).where(Site.key == key).scalar()
    return found
