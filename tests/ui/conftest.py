"""The whole of Nundine, running: database, worker, web server; Debian's Chromium; a signed-in page for each
role."""

from __future__ import annotations

import csv
import os
import re
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Locator, Page, ViewportSize, expect
from xdist.remote import Producer
from xdist.scheduler import LoadFileScheduling

from nundine.demo import sign_ins
from tests.conftest import WEEK
from tests.ports import free_port

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
Open = Callable[..., Page]
NOTHING_PLACED = re.compile(r"(?<!\d)0 %")
"""What a step's figure reads while nothing is in the week; 70 % is something."""
expect.set_options(timeout=60_000)


class ByWorld(LoadFileScheduling):
    """Of stories side by side those keep together that play in one world. Files without a world of their own
    share one, in their order; those of weeks do without what those of records do."""

    def _split_scope(self, nodeid: str) -> str:
        file = Path(__file__).parents[2] / super()._split_scope(nodeid)
        if "def address(" in file.read_text(encoding="utf-8"):
            return file.stem
        return "weeks" if file.stem >= "test_story" else "records"


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Producer) -> ByWorld:
    return ByWorld(config, log)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    return {"executable_path": "/usr/bin/chromium", "args": FLAGS}


def running_demo(tmp_path_factory: pytest.TempPathFactory, *, past: bool = False) -> Iterator[str]:
    """`nundine demo` in a folder of its own, with two years of done work or without; stopped as by Ctrl-C,
    and it must stop cleanly."""
    memory = Path("/dev/shm")
    port = free_port()
    var = memory / f"nundine-ui-{os.getpid()}-{port}" if memory.is_dir() else tmp_path_factory.mktemp("var")
    env = {
        **os.environ,
        "NUNDINE_VAR": str(var),
        "NUNDINE_PORT": str(port),
        "NUNDINE_DB_PORT": str(free_port()),
        "NUNDINE_TODAY": "2026-11-23",
        "NUNDINE_DEMO_PAST": "yes" if past else "no",
    }
    process = subprocess.Popen(
        [sys.executable, "-m", "nundine", "demo"], env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )
    where = f"http://127.0.0.1:{port}"
    try:
        for _ in range(1200):
            assert process.poll() is None, process.stdout.read().decode()
            try:
                urllib.request.urlopen(f"{where}/api/health", timeout=1).close()
                break
            except OSError:
                time.sleep(0.15)
        passwords[where] = sign_ins.passwords(var)
        yield where
    finally:
        for page in free.pop(where, []):
            if not page.is_closed():
                page.context.close()
        process.send_signal(2)
        assert process.wait(40) == 0
        process.stdout.close()
        subprocess.run(["rm", "-rf", str(var)], check=True)


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The world that the stories share."""
    yield from running_demo(tmp_path_factory)


passwords: dict[str, dict[str, str]] = {}
signed_in: dict[tuple[str, str], list[Any]] = {}
"""Cookies of who signed in once at an address, and stays so until a story signs them out."""


def sign_in(page: Page, name: str, password: str) -> None:
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("navigation", name="Sections").wait_for()


SIZE: ViewportSize = {"width": 1280, "height": 800}
free: dict[str, list[Page]] = {}
"""By address: pages that a story is done with, each in a browser session of its own. Half of what a page
takes to open is its session's: a process, and all scripts read and compiled anew."""


def page_at(address: str, browser: Browser) -> Page:
    """A page of a browser session that knows nobody and keeps nothing."""
    if free.get(address):
        return free[address].pop()
    page = browser.new_context(viewport=SIZE, base_url=address, accept_downloads=True).new_page()
    page.set_default_timeout(60_000)
    return page


def given_back(address: str, page: Page) -> None:
    """The page forgets who looked at what; one that a story closed, or took elsewhere, is done with."""
    context = page.context
    if page.is_closed() or not page.url.startswith(address):
        context.close()
        return
    for other in context.pages:
        if other is not page:
            other.close()
    page.evaluate("localStorage.clear()")
    page.goto("about:blank")
    page.mouse.move(0, 0)
    page.set_viewport_size(SIZE)
    context.clear_cookies()
    free.setdefault(address, []).append(page)


@pytest.fixture
def open_as(address: str, browser: Browser) -> Iterator[Open]:
    """`open_as("sven", "balance")` is a page of Sven's on a step of the week, in a browser session that is
    its own for as long as the story lasts."""
    pages = []

    def make(name: str, step: str = "gather", week: str = WEEK) -> Page:
        page = page_at(address, browser)
        pages.append(page)
        page.context.add_cookies(signed_in.get((address, name), []))
        page.goto(f"/week/{week}/{step}")
        steps = page.get_by_role("navigation", name="Steps of the week")
        asked = page.get_by_role("button", name="Sign in")
        expect(steps.or_(asked)).to_be_visible()
        if asked.is_visible():
            sign_in(page, name, passwords[address][name])
            signed_in[address, name] = page.context.cookies()
            page.goto(f"/week/{week}/{step}")
        steps.wait_for()
        expect(page.locator(".empty .ant-spin")).to_have_count(0)  # the step's own keys work from here on
        return page

    yield make
    for page in pages:
        given_back(address, page)


STILL = """Promise.race([
  Promise.all(document.getAnimations()
    .filter((a) => a.effect && a.effect.getComputedTiming().endTime !== Infinity)
    .map((a) => a.finished.catch(() => null))),
  new Promise((enough) => setTimeout(enough, 5000)),
])"""
"""Waits until what moves stands still, and no longer than a few seconds: what turns for ever never does, nor
what the browser does not draw."""


def taken_out(page: Page, table: str) -> list[dict[str, str]]:
    """The rows of one of Nundine's own tables, from the file that is given out."""
    page.goto(f"/files?part=out&table={table}")
    with page.expect_download() as got:
        page.get_by_role("link", name="All rows as CSV").click()
    with open(got.value.path(), encoding="utf-8-sig") as lines:
        return list(csv.DictReader(lines))


def brought_in(page: Page, file: Path, row: dict[str, str]) -> None:
    """One row of a table goes into a file of its name, which is brought in beside what was taken out."""
    with file.open("w", encoding="utf-8", newline="") as lines:
        out = csv.DictWriter(lines, list(row))
        out.writeheader()
        out.writerow(row)
    page.get_by_text("Nundine's own tables").click()
    page.set_input_files("input[type=file]", file)
    page.get_by_role("button", name="Bring in").click()
    expect(shown(page, "Brought in", exact=True)).to_be_visible()


def shown(page: Page, text: str | re.Pattern[str], *, exact: bool = False) -> Locator:
    """Where a text can be read on a page; a notice may say it beside the heading that says it too."""
    return page.get_by_text(text, exact=exact).filter(visible=True).first


def agreed(page: Page) -> None:
    """The week is agreed, from the step Agree; it may be since an earlier try of a story."""
    ask = page.get_by_role("button", name="The week is agreed")
    told = page.get_by_role("heading", name=re.compile("^The week is (agreed|published)"))
    expect(ask.or_(told).first).to_be_visible()
    if ask.is_visible():
        ask.click()
    expect(told).to_be_visible()


def published(page: Page) -> None:
    """Revision 1 is out, from the step Publish; it may be since an earlier try of a story."""
    ask = page.get_by_role("button", name="Publish revision 1")
    told = page.get_by_role("heading", name="Revision 1 is out")
    expect(ask.or_(told).first).to_be_visible()
    if ask.is_visible():
        ask.click()
    expect(told).to_be_visible()


def pick(choice: Locator, option: str) -> None:
    """Opens a list of choices and takes one; what is chosen elsewhere may be called the same."""
    choice.click()
    lists = choice.page.locator(".ant-select-dropdown").filter(visible=True)
    lists.get_by_title(option, exact=True).click()
