"""The order of a job's tasks as a planner sets it: drawn, refused where it goes in a circle, in reach in long
jobs too."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.conftest import Open
from tests.ui.test_parts import POST
from tests.ui.test_planning import fill_craft

pytestmark = pytest.mark.screen


def new_order(page: Page) -> Locator:
    page.keyboard.press("w")
    form = page.get_by_role("dialog", name="New WO")
    form.get_by_label("Title").fill("Turn the drive")
    form.get_by_label("Asset", exact=True).fill("larch gondola drive")
    return form


def test_tasks_are_drawn_in_their_order_and_those_that_wait_for_one_another_are_named(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("grid", name="Backlog").wait_for()
    form = new_order(page)
    for n, (title, hours) in enumerate((("Shut it off", "1"), ("Turn it", "3"), ("Oil it", "0:30")), start=1):
        form.get_by_label(f"What of task {n}0").fill(title)
        form.get_by_label(f"Hours of task {n}0").fill(hours)
        if n == 1:
            fill_craft(form, "mech")
        if n < 3:
            form.get_by_role("button", name="One more task").click()
    order = form.get_by_role("group", name="What comes before task 30")
    order.get_by_role("checkbox", name="task 20").uncheck()
    order.get_by_role("checkbox", name="task 10").check()
    drawn = form.get_by_role("img", name="3 tasks over 4 h; the longest way is 10, 20")
    expect(drawn).to_be_visible()
    first = form.get_by_role("group", name="What comes before task 10")
    first.get_by_role("checkbox", name="task 30").check()
    expect(form.get_by_text(re.compile("Tasks .*10.* wait for one another"))).to_be_visible()
    expect(drawn).to_be_hidden()
    form.get_by_role("button", name="Make the WO").click()
    expect(form.get_by_text("The order of the tasks does not work out.")).to_be_visible()
    first.get_by_role("checkbox", name="task 30").uncheck()
    form.get_by_label("What of task 20").press("Alt+ArrowDown")
    expect(form.get_by_label("What of task 30")).to_have_value("Turn it")
    expect(form.get_by_role("img", name="3 tasks over 4 h; the longest way is 10, 30")).to_be_visible()
    form.get_by_role("button", name="Make the WO").click()
    expect(form).to_be_hidden()


def test_of_a_long_job_one_task_is_open_and_the_others_are_a_line_each(open_as: Open) -> None:
    page = open_as("sven", "gather")
    order = {"title": "Every sheave of the line", "asset": "L1", "kind": "corrective", "state": "approved"}
    tasks = [{"task": f"{n}0", "title": f"Sheave {n}", "hours": "1", "needs": "mech"} for n in range(1, 31)]
    made = page.evaluate(POST, ["/api/orders", {"order": order, "tasks": tasks, "revision": None}])
    page.goto(f"/week/2026-W49/gather?job={made['number']}")
    job = page.get_by_role("complementary").filter(has=page.get_by_role("heading", name="Tasks"))
    job.get_by_role("button", name="Change", exact=True).click()
    form = page.get_by_role("dialog", name=made["number"])
    expect(form.get_by_role("group", name=re.compile(r"^Task \d+$"))).to_have_count(1)
    form.get_by_role("button", name=re.compile("^20 Sheave 2")).focus()
    for key in ("ArrowDown", "ArrowDown", "Enter"):
        page.keyboard.press(key)
    expect(form.get_by_label("What of task 40")).to_be_focused()
    page.keyboard.type(", the worn one")
    before = form.get_by_label("Another task before task 40")
    before.fill("20")
    before.press("Enter")
    expect(form.get_by_role("group", name="What comes before task 40").get_by_role("checkbox", name="task 20")
           ).to_be_checked()  # fmt: skip
    form.get_by_role("button", name=re.compile("^10 Sheave 1")).click()
    worn = form.get_by_role("button", name=re.compile("^40 Sheave 4, the worn one.*after 20$"))
    expect(worn).to_be_visible()
    form.get_by_role("button", name="Save").click()
    expect(form).to_be_hidden()
    expect(job.get_by_text("Sheave 4, the worn one")).to_be_visible()
