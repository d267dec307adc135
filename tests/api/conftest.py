"""A signed-in client for each role, on the real application and database."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import replace

import pytest
import uvicorn
from fastapi.testclient import TestClient

from nundine.api.app import create_app
from nundine.api.served import served as as_served
from nundine.jobs import queue
from nundine.services.week import crew_sheets, proofs
from nundine.services.week.state import find_week
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.run import Run
from tests.application import application
from tests.conftest import PASSWORDS, WEEK, worlds
from tests.ports import free_port

Client = Callable[[str], TestClient]


@pytest.fixture
def served(demo: None) -> Iterator[str]:
    """The application on a port of its own, for streams need a real connection."""
    here = replace(settings(), port=free_port())
    server = uvicorn.Server(as_served(create_app(), here))
    thread = threading.Thread(target=server.run)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield here.address
    server.should_exit = True
    thread.join()


@pytest.fixture
def left_waiting() -> set[str]:
    """Kinds of background work that nobody does: proofs of bounds, and crew sheets of a whole site, which
    take half a minute. Files whose rules are of sheets say so."""
    return {proofs.KIND, crew_sheets.KIND}


@pytest.fixture
def client(demo: None, left_waiting: set[str], monkeypatch: pytest.MonkeyPatch) -> Iterator[Client]:
    """`client("sven")` is signed in as Sven; background work is done at once in a thread of its own."""

    def work(ids: list[int]) -> None:
        for id_ in ids:
            queue.work_on(id_)

    def at_once(ids: list[int]) -> None:
        kinds = dict(Run.of_all_sites(Run.id, Run.kind).where(Run.id.in_(ids)).tuples())
        worked_on = [i for i in ids if kinds[i] not in left_waiting]
        thread = threading.Thread(target=work, args=(worked_on,))
        thread.start()
        thread.join()

    monkeypatch.setattr(queue, "_send", at_once)
    app = application()
    opened: list[TestClient] = []

    def sign_in(name: str) -> TestClient:
        made = TestClient(app, base_url="http://testserver", headers={"x-nundine": "1"})
        opened.append(made)
        assert made.post("/api/session", json={"name": name, "password": PASSWORDS[name]}).status_code == 200
        return made

    yield sign_in
    for one in opened:
        one.close()


class Week:
    """What a scheduler does to the week, in a line each."""

    def __init__(self, http: TestClient, week: str = WEEK) -> None:
        self.http, self.name, self.base = http, week, f"/api/weeks/{week}"

    def get(self, path: str = "", **query: object) -> dict:
        answer = self.http.get(self.base + path, params=query)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def edits(self) -> int:
        """How many there were, read beside the application: what it tells of the week takes it longer."""
        return find_week(self.name).edits

    def send(self, seen: int | None = None, **edit: object):
        seen = self.edits() if seen is None else seen
        return self.http.post(f"{self.base}/edits", json={"edit": edit, "seen": seen})

    def edit(self, **edit: object) -> dict:
        answer = self.send(**edit)
        assert answer.status_code == 200, answer.text
        return answer.json()["week"]

    def build(self, seconds: float = 0.3, accept: bool = True, **only: object) -> dict:
        answer = self.http.post(f"{self.base}/builds", json={"seconds": seconds, **only})
        assert answer.status_code == 200, answer.text
        found = self.get("/builds/latest")
        assert found["state"] == "ready", found["error"]
        if accept:
            assert self.http.post(f"{self.base}/builds/{found['id']}/accept").status_code == 200
        return found


@pytest.fixture
def week(client: Client) -> Week:
    return Week(client("sven"))


@pytest.fixture
def built(client: Client) -> Week:
    """The demo week, built and taken over by Sven."""
    if "built" in worlds[0].kept:
        worlds[0].bring_back("built")
        return Week(client("sven"))
    week = Week(client("sven"))
    week.build()
    worlds[0].keep("built")
    return week


@pytest.fixture
def published(client: Client, left_waiting: set[str], request: pytest.FixtureRequest) -> Week:
    """The built week, agreed and published."""
    world = "published" if crew_sheets.KIND in left_waiting else "with_sheets"
    if world in worlds[0].kept:
        worlds[0].bring_back(world)
        return Week(client("sven"))
    week: Week = request.getfixturevalue("built")
    week.edit(kind="status", to="agreed")
    assert week.http.post(f"{week.base}/revisions").status_code == 200
    worlds[0].keep(world)
    return week


def answers_for(areas: list[str]) -> dict[str, object]:
    """Olivia's account as a form: operations of these areas alone."""
    return {"areas": areas, "roles": [{"role": "operations", "areas": areas}]}


@pytest.fixture
def statements(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """What is sent to the database."""
    sent: list[str] = []
    execute = db.execute_sql

    def noting(sql: str, params: object = None) -> object:
        sent.append(sql)
        return execute(sql, params)

    monkeypatch.setattr(db, "execute_sql", noting)
    yield sent


@pytest.fixture
def nobody_works(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    """No worker takes what is handed over."""
    monkeypatch.setattr(queue, "_send", lambda ids: None)
