"""Guessing is slowed down; nobody can keep somebody else out of a browser that is known."""

from __future__ import annotations

import threading
from datetime import timedelta

import httpx
import pytest
from fastapi.testclient import TestClient

from nundine.services.admin import sign_in as signing
from nundine.services.errors import NotSignedIn, TooMany
from nundine.settings import Settings, settings
from nundine.store.account import KnownBrowser, SignInTry
from nundine.store.base import db
from tests.application import application
from tests.conftest import PASSWORDS


def wrong(name: str = "sven", address: str = "10.0.0.1", browser: str | None = None) -> type[Exception]:
    with pytest.raises((NotSignedIn, TooMany)) as told:
        signing.sign_in(name, "wrong", address, browser)
    return told.type


def right(address: str = "10.0.0.1", browser: str | None = None) -> signing.SignIn:
    return signing.sign_in("sven", PASSWORDS["sven"], address, browser)


@pytest.fixture
def later(monkeypatch: pytest.MonkeyPatch):
    """`later(30)`: thirty seconds pass."""
    real, passed = Settings.now, [timedelta()]
    monkeypatch.setattr(Settings, "now", lambda self: real(self) + passed[0])

    def wait(seconds: float) -> None:
        passed[0] += timedelta(seconds=seconds)

    return wait


def test_after_some_wrong_passwords_each_next_try_waits_longer(demo: None, later) -> None:
    free = signing.TOGETHER.free
    assert [wrong() for _ in range(free)] == [NotSignedIn] * free
    assert wrong() is TooMany
    waits = []
    for _ in range(4):
        with pytest.raises(TooMany) as told:
            right()
        waits.append(told.value.facts["wait"])
        later(waits[-1] + 0.1)
        assert wrong() is NotSignedIn
    assert waits == [1, 2, 4, 8]
    later(16.1)
    assert right().account.name == "sven", "the right password gets in when its time has come"
    assert wrong() is NotSignedIn, "and all is forgotten"


def test_whoever_guesses_elsewhere_keeps_nobody_out(demo: None) -> None:
    known = right("10.0.0.1").browser
    for n in range(60):
        wrong(address=f"10.1.0.{n}")
    assert wrong(address="10.2.0.1") is TooMany, "the name is slow from anywhere"
    assert right("10.9.9.9", known).account.name == "sven", "but not where it signed in before"


def test_a_browser_is_known_for_its_account_alone_and_slows_itself_down(demo: None) -> None:
    known = right().browser
    assert wrong("mila", browser=known) is NotSignedIn
    assert [wrong(browser=known) for _ in range(6)] == [NotSignedIn] * 5 + [TooMany]
    assert wrong(browser="made up") is NotSignedIn
    assert KnownBrowser.select().count() == 1


def test_many_guesses_at_one_moment_count_like_many_in_a_row(
    demo: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    taken: list[type[Exception]] = []
    moment = settings().now()
    monkeypatch.setattr(Settings, "now", lambda self: moment)

    def guess() -> None:
        with db.connection_context():
            try:
                signing.sign_in("sven", "wrong", "10.0.0.1")
            except (NotSignedIn, TooMany) as told:
                taken.append(type(told))

    threads = [threading.Thread(target=guess) for _ in range(20)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert taken.count(NotSignedIn) == signing.TOGETHER.free
    assert len(taken) == 20


def test_an_address_that_tries_many_names_is_slowed_down(demo: None) -> None:
    told = [wrong(f"name-{n}") for n in range(signing.ADDRESS.free + 1)]
    assert told[-1] is TooMany
    assert wrong("another", address="10.0.0.2") is NotSignedIn


def test_tries_are_forgotten_after_a_while(demo: None, later) -> None:
    for _ in range(6):
        wrong()
    later(signing.FORGOTTEN.total_seconds() + 1)
    assert wrong() is NotSignedIn
    right("10.0.0.5")
    assert SignInTry.select().where(SignInTry.failures > 5).count() == 0


@pytest.mark.parametrize("name", ["x" * 400, "ß" * 61, "ليلى", "' OR 1=1 --", ""])
def test_any_name_is_answered_like_any_other(demo: None, name: str) -> None:
    with TestClient(application(), headers={"x-nundine": "1"}) as http:
        answer = http.post("/api/session", json={"name": name, "password": "wrong-password"})
        assert answer.status_code == 401
        assert answer.json()["code"] == "credentials"


def test_the_answer_says_how_long_to_wait(demo: None) -> None:
    with TestClient(application(), headers={"x-nundine": "1"}) as http:
        for _ in range(6):
            answer = http.post("/api/session", json={"name": "sven", "password": "wrong-password"})
        assert answer.status_code == 429
        assert answer.headers["retry-after"] == "1"
        assert "Wait 1 s" in answer.json()["title"]


def test_behind_tls_cookies_are_bound_to_our_host_and_browsers_are_told_to_stay_there(
    demo: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("NUNDINE_BEHIND_PROXY", "1")
    with TestClient(application(), base_url="https://testserver", headers={"x-nundine": "1"}) as http:
        answer = http.post("/api/session", json={"name": "sven", "password": PASSWORDS["sven"]})
        cookies = answer.headers.get_list("set-cookie")
        assert all(c.startswith("__Host-nundine_") and "Secure" in c and "HttpOnly" in c for c in cookies)
        assert answer.headers["strict-transport-security"].startswith("max-age=")
        assert http.get("/api/session").status_code == 200


def test_where_somebody_comes_from_is_not_believed_of_strangers(served: str) -> None:
    with httpx.Client(base_url=served, headers={"x-nundine": "1"}) as http:
        told = [
            http.post(
                "/api/session",
                json={"name": "sven", "password": "wrong-password"},
                headers={"x-forwarded-for": f"10.0.0.{n}"},
            ).status_code
            for n in range(6)
        ]
    assert told == [401] * 5 + [429]
