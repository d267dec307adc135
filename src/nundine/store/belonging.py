"""Sites, and what belongs to one: whoever asks a table that belongs to sites is answered of the site that the
request is about, and of no other."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

from peewee import CharField, DateField, ForeignKeyField

from nundine.store.base import JsonField, KeyField, Record, Table, db
from nundine.store.once import forget, once


class Site(Record):
    """One plant. `aged` is the day for which priorities were computed last."""

    key = KeyField(max_length=40, unique=True, default="site")
    name = CharField(max_length=120)
    timezone = CharField(max_length=60)
    settings = JsonField(default=dict)
    aged = DateField(null=True)

    @classmethod
    def update(cls, *given: Any, **fields: Any) -> Any:
        forget("site")
        return super().update(*given, **fields)


_chosen: ContextVar[int | None] = ContextVar("site", default=None)
_first: dict[tuple[str, object], int] = {}
"""By database, the id of its first site, once it is known: of most installations the only one."""
_keys: dict[tuple[str, object, int | None], str] = {}


def here() -> int | None:
    """The id of the site that this is about: the one that was chosen, else the first; None where there is
    none."""
    chosen = _chosen.get()
    return first_site() if chosen is None else chosen


def first_site() -> int | None:
    """The id of the site that needs no address; None where there is none."""
    where = (db.database, db.connect_params.get("port"))
    if where not in _first:
        found = Site.select(Site.id).order_by(Site.id).limit(1).scalar()
        if found is None:
            return None
        _first[where] = found
    return _first[where]


def key_here() -> str | None:
    """The key of the site that this is about; None where there is none. A site keeps its key."""
    where = (db.database, db.connect_params.get("port"), here())
    if where not in _keys:
        found = Site.select(Site.key).where(Site.id == (here() or 0)).scalar()
        if found is None:
            return None
        _keys[where] = found
    return _keys[where]


def choose(site_id: int | None) -> None:
    """From now on, in this request or task, it is about this site; None for the first."""
    _chosen.set(site_id)


@contextmanager
def at_site(site_id: int) -> Iterator[None]:
    """For the time of the block it is about this site."""
    before = _chosen.set(site_id)
    try:
        yield
    finally:
        _chosen.reset(before)


def each_site() -> Iterator[Site]:
    """All sites in their order; while one is looked at, it is about that one."""
    for one in list(Site.select().order_by(Site.id)):
        with at_site(one.id):
            yield one


def forget_first() -> None:
    """Sites were made or taken away."""
    _first.clear()
    _keys.clear()


def site() -> Site:
    """The site that this is about. Raises Site.DoesNotExist where there is none."""
    number = here() or 0
    found: Site = once(("site", number), lambda: Site.get(Site.id == number))
    return found


class SiteTable(Table):
    """Rows that belong to one site. Questions, changes and deletions reach those of the present site alone;
    `of_all_sites` asks beyond."""

    site = ForeignKeyField(Site, default=here, on_delete="RESTRICT")

    @classmethod
    def mine(cls) -> Any:
        """Which rows are of the present site."""
        return cls.site == (here() or 0)

    @classmethod
    def of_all_sites(cls, *fields: Any) -> Any:
        """A question to the rows of all sites."""
        return super().select(*fields)

    @classmethod
    def select(cls, *fields: Any) -> Any:
        return super().select(*fields).where(cls.mine())

    @classmethod
    def update(cls, *given: Any, **fields: Any) -> Any:
        return super().update(*given, **fields).where(cls.mine())

    @classmethod
    def delete(cls) -> Any:
        return super().delete().where(cls.mine())


class SiteRecord(SiteTable, Record):
    """A record that belongs to one site."""


class SharedTable(SiteTable):
    """Rows that belong to one site, or to none and are shared by all."""

    site = ForeignKeyField(Site, default=here, null=True, on_delete="RESTRICT")

    @classmethod
    def mine(cls) -> Any:
        return (cls.site == (here() or 0)) | cls.site.is_null()


class SharedRecord(SharedTable, Record):
    """A record that belongs to one site, or is shared by all."""
