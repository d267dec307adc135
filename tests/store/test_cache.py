"""What is kept in memory, and for how long."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import pytest

from nundine.services import cache
from nundine.services.cache import MOST_OF_A_KIND, keep, kept, remember, size_of
from nundine.store.base import db


@dataclass(frozen=True)
class Held:
    jobs: tuple[int, ...]
    by_name: dict[str, int]


@pytest.fixture(autouse=True)
def empty(fresh: None) -> Iterator[None]:
    cache.forget()
    yield
    cache.forget()


def test_of_one_kind_those_used_last_are_kept() -> None:
    for n in range(MOST_OF_A_KIND):
        keep(("a", n), n)
    cache.remember_value(("a", 0), lambda: "made again")
    keep(("a", "one more"), 1)
    assert kept(("a", 0)) == 0
    assert kept(("a", 1)) is None and kept(("a", 2)) == 2


def test_of_all_kinds_as_much_is_kept_as_its_size_allows(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cache, "MOST_RECORDS", 1000)
    for kind in ("a", "b", "c"):
        keep((kind, 1), Held(tuple(range(400)), {}))
    assert kept(("a", 1)) is None
    assert kept(("b", 1)) is not None and kept(("c", 1)) is not None
    keep(("d", 1), Held(tuple(range(5000)), {}))
    assert kept(("c", 1)) is None and kept(("d", 1)) is not None  # what is in use is kept, however large


def test_the_size_of_what_is_kept_is_that_of_its_collections() -> None:
    assert size_of(Held((1, 2, 3), {"x": 1})) == 7
    assert size_of(b"x" * 10_240) == 11
    assert size_of(object()) == 1


def test_the_owner_of_what_was_computed_counts_where_it_is_kept_itself(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(cache, "MOST_RECORDS", 1000)
    owner = Held(tuple(range(900)), {})
    for kind in ("a", "b", "c"):
        remember((kind, 1), owner, lambda: "small")
    assert all(kept((kind, 1)) for kind in ("a", "b", "c"))


def test_nothing_is_kept_of_what_may_be_taken_back() -> None:
    with db.atomic():
        keep(("a", 1), "not yet")
    assert kept(("a", 1)) is None
