"""What happens reaches everybody who looks, also who was away for a moment; a stream ends with its
session."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Iterator
from contextlib import closing

import httpx
import pytest
from peewee import OperationalError

from nundine.api.at_once import STREAMS
from nundine.api.events import routes
from nundine.services.ledger.commands import tell
from nundine.store.account import SignedIn
from nundine.store.base import db
from tests.conftest import PASSWORDS, WEEK

Told = tuple[str, dict, str]


@pytest.fixture
def http(served: str) -> Iterator[httpx.Client]:
    with httpx.Client(base_url=served, headers={"x-nundine": "1"}, timeout=60) as made:
        assert (
            made.post("/api/session", json={"name": "sven", "password": PASSWORDS["sven"]}).status_code == 200
        )
        yield made


def heard(http: httpx.Client, **query: object) -> Iterator[Told]:
    """Kind, body and number of each event of a stream, as it comes."""
    with http.stream("GET", "/api/events", params=query) as answer:
        assert answer.status_code == 200, answer.read()
        one: dict[str, str] = {}
        for line in answer.iter_lines():
            if line:
                name, _, value = line.partition(": ")
                one[name] = value
            elif "event" in one:
                yield one["event"], json.loads(one["data"]), one.get("id", "")
                one = {}


def until(stream: Iterator[Told], kind: str) -> Told:
    return next(told for told in stream if told[0] == kind)


def test_who_looks_at_a_week_hears_what_happens_there_and_a_sign_of_life_each_second(
    http: httpx.Client,
) -> None:
    with closing(heard(http, week=WEEK)) as stream:
        assert next(stream)[0] == "hello"
        tell("2026-W50", "edit", {"edits": 1})
        tell(WEEK, "edit", {"edits": 7})
        assert until(stream, "edit")[1] == {"edits": 7}
        began = time.monotonic()
        until(stream, "beat")
        until(stream, "beat")
        assert time.monotonic() - began < 3


def test_what_happened_while_a_browser_was_away_is_told_first(http: httpx.Client) -> None:
    with closing(heard(http, week=WEEK)) as stream:
        next(stream)
        tell(WEEK, "edit", {"edits": 1})
        last = until(stream, "edit")[2]
    tell(WEEK, "edit", {"edits": 2})
    tell("2026-W50", "edit", {"edits": 9})
    with closing(heard(http, week=WEEK, after=last)) as stream:
        assert until(stream, "edit")[1] == {"edits": 2}


def test_of_two_that_write_at_one_moment_both_are_heard_whoever_is_there_first(http: httpx.Client) -> None:
    written, go_on = threading.Event(), threading.Event()

    def slow() -> None:
        with db.connection_context(), db.atomic():
            tell(WEEK, "edit", {"edits": 1})
            written.set()
            go_on.wait(10)

    with closing(heard(http, week=WEEK)) as stream:
        next(stream)
        thread = threading.Thread(target=slow)
        thread.start()
        written.wait(10)
        tell(WEEK, "edit", {"edits": 2})
        assert until(stream, "edit")[1] == {"edits": 2}
        go_on.set()
        thread.join()
        assert until(stream, "edit")[1] == {"edits": 1}


def test_a_stream_ends_with_its_session(http: httpx.Client, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(routes, "SESSION", 0.2)
    with closing(heard(http, week=WEEK)) as stream:
        next(stream)
        SignedIn.delete().execute()
        assert [told[0] for told in stream][-1] == "ended"


def test_while_the_database_is_away_there_is_no_sign_of_life(
    http: httpx.Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, away = routes._after, threading.Event()

    def after(number: int, but: set[int]) -> list[routes.Told]:
        if away.is_set():
            raise OperationalError(2013, "gone")
        return real(number, but)

    monkeypatch.setattr(routes, "_after", after)
    kinds: list[str] = []
    with closing(heard(http, week=WEEK)) as stream:
        until(stream, "beat")
        away.set()
        back = threading.Timer(2.5, away.clear)
        back.start()
        times = [time.monotonic()]
        for told in stream:
            times.append(time.monotonic())
            kinds.append(told[0])
            if times[-1] - times[-2] > 1.8:
                break
            assert len(kinds) < 8, "signs of life went on"
        assert kinds[-1] == "beat", "and it goes on when it is back"


def test_one_account_has_so_many_open_windows_at_most(
    http: httpx.Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(STREAMS, "each", 1)
    with closing(heard(http, week=WEEK)) as stream:
        next(stream)
        refused = http.get("/api/events", params={"week": WEEK})
        assert refused.status_code == 429
    for _ in range(100):
        if not STREAMS.going:
            break
        time.sleep(0.05)
    with closing(heard(http)) as stream:
        assert next(stream)[0] == "hello"


def test_an_unknown_week_has_no_stream(http: httpx.Client) -> None:
    assert http.get("/api/events", params={"week": "2026-W99"}).status_code in (404, 422)
