"""How the week can be worked, as a scheduler sees it: five figures, a list behind each, a move by hand that
tears a job. In a world of its own."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import WEEK
from tests.ui.conftest import STILL, Open, running_demo, shown
from tests.ui.test_story import build

pytestmark = pytest.mark.screen
FIGURES = (
    ("in one go", "Jobs in one go"),
    ("left open overnight", "Left open overnight"),
    ("handover", "Handovers"),
    ("of area", "Changes of area"),
)


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A world in which nobody has placed anything yet."""
    yield from running_demo(tmp_path_factory)


NEXT, MONDAY, FRIDAY = "2026-W50", "2026-12-07", "Fri 11 Dec"
"""A week in which nothing is placed, so that whatever is moved in it fits."""

PUT = """async ([week, job, day]) => (await fetch(`/api/weeks/${week}/edits`, {
  method: 'POST', headers: { 'content-type': 'application/json', 'x-nundine': '1' },
  body: JSON.stringify({ edit: { kind: 'put', jobs: [job], day }, seen: 1000000 }) })).status"""


def put_in_one_go(page: Page) -> tuple[str, str]:
    """A job put in one go on Monday; with the craft of its last task, which the first does not need."""
    base = f"/api/weeks/{NEXT}"
    for row in page.request.get(f"{base}/backlog?ready=true&size=200").json()["rows"]:
        job = page.request.get(f"{base}/jobs/{row['number']}").json()
        first, last = job["tasks"][0], job["tasks"][-1]
        others = {n["craft"] for n in last["needs"]} - {n["craft"] for n in first["needs"]}
        torn = others and not job["free_for_work"] and not job["earliest"]
        if torn and sum(t["hours"] for t in job["tasks"]) < 7:
            assert page.evaluate(PUT, [NEXT, row["number"], MONDAY]) == 200
            return row["number"], sorted(others)[0]
    raise AssertionError("no job of several crafts could be put in one go")


def test_a_move_by_hand_that_tears_a_job_is_done_and_says_what_it_leaves(open_as: Open) -> None:
    page = open_as("sven", "balance", WEEK)
    job, craft = put_in_one_go(page)
    page.goto(f"/week/{NEXT}/balance?tank={craft}~{MONDAY}")
    page.get_by_label(f"Choose {job}").check()
    page.get_by_role("button", name=re.compile("^Move to")).click()
    page.get_by_role("menuitem", name="Only these tasks").wait_for()
    page.evaluate(STILL)
    page.get_by_role("menuitem", name="Only these tasks").hover()
    friday = page.get_by_role("menuitem", name=FRIDAY)
    expect(friday).to_have_count(2)  # of the menu, and of the one beside it
    friday.last.dispatch_event("click")  # a pointer that goes there crosses others, which shuts it
    torn = page.get_by_text(re.compile(f"leaves {job} open for|{job} would keep"))
    expect(torn.first).to_be_visible()


def test_a_build_tells_how_the_week_could_be_worked_and_each_figure_opens_its_list(open_as: Open) -> None:
    page = open_as("sven", "balance", WEEK)
    build(page)
    beside = page.get_by_role("region", name="How the week could be worked")
    expect(beside.get_by_role("row")).to_have_count(5)
    page.get_by_role("button", name="Accept").click()
    figures = page.get_by_role("region", name="How the week can be worked")
    for words, heading in FIGURES:
        button = figures.get_by_role("button", name=re.compile(words))
        count = int(re.search(r"\d+", button.inner_text()).group())  # type: ignore[union-attr]
        button.click()
        expect(page.get_by_role("heading", name=heading)).to_be_visible()
        if count:
            expect(page.get_by_role("button", name=re.compile(r"^WO-")).first).to_be_visible()
    expect(shown(page, re.compile(r"of what any schedule could hold; .* for loose ends"))).to_be_visible(
        timeout=120_000
    )


def test_a_job_is_drawn_on_one_line_of_time_with_who_does_it(open_as: Open) -> None:
    page = open_as("sven", "balance", WEEK)
    page.get_by_role("region", name="How the week can be worked").get_by_role(
        "button", name=re.compile("in one go")
    ).click()
    page.get_by_role("button", name=re.compile(r"^WO-")).first.click()
    expect(page.get_by_role("region", name="The job on one line of time")).to_contain_text("10 ")


def test_other_prices_are_tried_before_they_are_saved(open_as: Open) -> None:
    page = open_as("sven", "balance")
    page.goto("/setup")
    page.get_by_role("button", name=re.compile("^Try on week")).click()
    tried = page.get_by_role("table", name="The week by both prices")
    expect(tried.get_by_role("row", name=re.compile("changes? of area"))).to_be_visible(timeout=120_000)
    expect(page.get_by_role("table", name="Minutes between areas")).to_be_visible()
