"""Whoever works in a browser is told when Nundine can not be reached, loses nothing, and has all of it when
it is back."""

from __future__ import annotations

import contextlib
import os
import re
import signal
import subprocess
import sys
import urllib.request
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from nundine.demo import sign_ins
from tests.conftest import WEEK
from tests.ports import free_port
from tests.started import Started, own_folder, soon, started_in
from tests.ui.conftest import shown

WITHIN = 20_000
"""Milliseconds: the three seconds after which it is told, and what a busy machine takes to draw."""


@pytest.fixture(scope="module")
def nundine() -> Iterator[Started]:
    """A world that is killed in parts."""
    with started_in(own_folder()) as made:
        yield made


@pytest.fixture
def open_week(nundine: Started, browser: Browser) -> Iterator[object]:
    contexts = []

    def make(name: str) -> Page:
        context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=nundine.here.address)
        contexts.append(context)
        page = context.new_page()
        page.goto("/")
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(sign_ins.passwords(nundine.here.var)[name])
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("navigation", name="Sections").wait_for()
        page.goto(f"/week/{WEEK}/gather")
        expect(page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1)).to_be_visible()
        return page

    yield make
    for context in contexts:
        context.close()


def banner(page: Page):  # type: ignore[no-untyped-def]
    return page.get_by_role("alert").filter(has_text="No connection.")


def test_a_server_that_dies_is_told_and_its_return_too(nundine: Started, open_week) -> None:
    page = open_week("sven")
    page.wait_for_timeout(1_200)  # the first sign of life
    os.kill(nundine.parts()["web server"], signal.SIGKILL)
    expect(banner(page)).to_be_visible(timeout=WITHIN)
    expect(banner(page)).to_have_count(0, timeout=60_000)
    page.reload()
    expect(page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1)).to_be_visible()


def test_a_database_that_hangs_is_no_connection_either(nundine: Started, open_week) -> None:
    page = open_week("sven")
    page.wait_for_timeout(1_200)
    database = nundine.parts()["database"]
    os.kill(database, signal.SIGSTOP)
    try:
        expect(banner(page)).to_be_visible(timeout=WITHIN)
    finally:
        os.kill(database, signal.SIGCONT)
    expect(banner(page)).to_have_count(0, timeout=60_000)


def test_a_server_that_hangs_is_no_connection_and_edits_are_refused_with_that_word(
    nundine: Started, open_week
) -> None:
    page = open_week("sven")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    button = page.get_by_role("button", name=re.compile("^Put")).first
    expect(button).to_be_visible()
    web = nundine.parts()["web server"]
    os.kill(web, signal.SIGSTOP)
    try:
        expect(banner(page)).to_be_visible(timeout=WITHIN)
        button.click()
        item = page.get_by_role("menuitem").first
        if item.is_visible():
            item.click()
        expect(shown(page, "There is no connection to Nundine, so nothing was changed")).to_be_visible()
    finally:
        os.kill(web, signal.SIGCONT)
    expect(banner(page)).to_have_count(0, timeout=60_000)


@pytest.fixture
def first_server(nundine: Started) -> int:
    """The process of the server that browsers speak with, found while there is no other."""
    return nundine.parts()["web server"]


@pytest.fixture
def other_server(first_server: int, nundine: Started) -> Iterator[str]:
    """A second server beside the database, for whoever still has a connection."""
    port = free_port()
    command = [sys.executable, "-m", "nundine.api.served"]
    server = subprocess.Popen(
        command, env={**nundine.env, "NUNDINE_PORT": str(port)}, stderr=subprocess.DEVNULL
    )
    address = f"http://127.0.0.1:{port}"
    try:
        soon(lambda: answers(address))
        yield address
    finally:
        server.terminate()
        server.wait()


def answers(address: str) -> bool:
    with contextlib.suppress(OSError), urllib.request.urlopen(f"{address}/api/health", timeout=2):
        return True
    return False


def test_what_others_did_while_a_browser_was_away_is_there_when_it_is_back(
    open_week, first_server: int, other_server: str
) -> None:
    away, other = open_week("sven"), open_week("mila")
    figures = away.get_by_role("navigation", name="Steps of the week")
    before = figures.text_content() or ""
    os.kill(first_server, signal.SIGSTOP)
    try:
        expect(banner(away)).to_be_visible(timeout=WITHIN)
        other.goto(f"{other_server}/week/{WEEK}/gather")
        assert other.evaluate(PUT) == 200
        assert figures.text_content() == before
    finally:
        os.kill(first_server, signal.SIGCONT)
    expect(banner(away)).to_have_count(0, timeout=60_000)
    expect(figures).not_to_have_text(before, timeout=60_000)


PUT = f"""(async () => {{
  const ready = await (await fetch('/api/weeks/{WEEK}/backlog?ready=true&size=12&placed=false')).json();
  const edit = {{ kind: 'put', jobs: ready.rows.map((r) => r.number), day: '2026-12-01' }};
  const answer = await fetch('/api/weeks/{WEEK}/edits', {{
    method: 'POST',
    body: JSON.stringify({{ edit, seen: 1000000 }}),
    headers: {{ 'content-type': 'application/json', 'x-nundine': '1' }} }});
  return answer.status;
}})()"""
