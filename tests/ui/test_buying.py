"""What work lacks is asked for, approved, ordered, and taken in; and what the storekeeper sees of it."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.ui.conftest import Open

pytestmark = pytest.mark.screen


def tab(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Sections").get_by_role("link", name="Parts", exact=True).click()
    page.get_by_role("navigation", name="Parts").get_by_role("link", name=name, exact=True).click()


def lines(page: Page, grid: str, text: str) -> Locator:
    return page.get_by_role("grid", name=grid).get_by_role("row").filter(has_text=text)


def test_what_work_lacks_is_bought_from_the_shortage_to_the_shelf_and_nothing_is_typed_twice(
    open_as: Open,
) -> None:
    rudi, sven = open_as("rudi"), open_as("sven")
    tab(rudi, "To buy")
    first = lines(rudi, "Parts to buy", "work waits").first
    part = first.inner_text().split()[0]
    first.get_by_role("checkbox").check()
    rudi.get_by_role("button", name="Ask to buy").click()
    told = rudi.get_by_text(re.compile(r"RB-\d+ is (asked|approved)"))
    expect(told).to_be_visible()
    request = re.search(r"RB-\d+", told.inner_text())[0]  # type: ignore[index]
    expect(lines(rudi, "Parts to buy", part)).to_have_count(0)

    tab(sven, "Requests to buy")
    mine = lines(sven, "Requests to buy", request)
    mine.click()
    side = sven.get_by_role("complementary", name="The request")
    expect(side.get_by_role("heading", name=request)).to_be_visible()
    if side.get_by_role("button", name="Approve").count():
        side.get_by_role("button", name="Approve").click()
    expect(side.get_by_text("approved", exact=True)).to_be_visible()
    mine.get_by_role("checkbox").check()
    sven.get_by_role("button", name="Order …").click()
    sven.get_by_label("Supplier").fill("Tamber Snow Supply")
    sven.get_by_role("button", name="Order", exact=True).click()
    told = sven.get_by_text(re.compile(r"1 line in PO-\d+"))
    expect(told).to_be_visible()
    order = re.search(r"PO-\d+", told.inner_text())[0]  # type: ignore[index]
    expect(side.get_by_text(re.compile(f"in {order}, written"))).to_be_visible()

    tab(sven, "Orders")
    lines(sven, "Orders of parts", order).click()
    side = sven.get_by_role("complementary", name="The order")
    side.get_by_role("button", name="Place it").click()
    expect(side.get_by_text(re.compile("to come .*, not confirmed"))).to_be_visible()
    side.get_by_role("button", name="Comes …").click()
    sven.get_by_label("Comes on").fill("24 Nov")
    sven.get_by_role("button", name="Save").click()
    expect(side.get_by_text(re.compile("to come Tue 24 Nov, confirmed"))).to_be_visible()

    rudi.goto("/parts/orders")
    lines(rudi, "Orders of parts", order).click()
    side = rudi.get_by_role("complementary", name="The order")
    side.get_by_role("button", name="Take in …").click()
    rudi.get_by_label(f"Shelf of {part}").fill("Z-9")
    rudi.get_by_role("button", name="Take in", exact=True).click()
    expect(side.get_by_text("delivered")).to_be_visible()
    rudi.goto(f"/parts/stock?open={part}")
    side = rudi.get_by_role("complementary", name="The part")
    expect(side.get_by_role("region", name="Where it lies").get_by_text("Z-9")).to_be_visible()
    expect(side.get_by_role("region", name="Wanted by").get_by_text(re.compile("reserved"))).to_be_visible()


def test_what_is_short_for_a_job_is_asked_for_beside_it_and_what_nobody_may_approve_says_so(
    open_as: Open,
) -> None:
    sven, rudi = open_as("sven"), open_as("rudi")
    tab(sven, "To buy")
    part = lines(sven, "Parts to buy", "work waits").first
    part.click()
    wanted = sven.get_by_role("complementary", name="The part").get_by_role("region", name="Wanted by")
    wanted.get_by_role("link").first.click()
    side = sven.get_by_role("complementary").first
    side.get_by_role("button", name="Ask to buy").first.click()
    form = sven.get_by_role("form", name="New request to buy")
    expect(form.get_by_label(re.compile("^WO of "))).to_have_value(re.compile(r"WO-\d+"))
    form.get_by_label(re.compile("^Price of one of ")).fill("9000")
    form.get_by_role("button", name="Ask to buy").click()
    told = sven.get_by_text(re.compile(r"RB-\d+ waits for somebody to approve it"))
    expect(told).to_be_visible()
    request = re.search(r"RB-\d+", told.inner_text())[0]  # type: ignore[index]
    rudi.goto("/parts/requests")
    lines(rudi, "Requests to buy", request).click()
    side = rudi.get_by_role("complementary", name="The request")
    expect(side.get_by_role("button", name="Approve")).to_be_disabled()
    expect(side.get_by_text(re.compile("you may approve up to 200"))).to_be_visible()


def test_the_storekeepers_day_leads_to_what_was_brought(open_as: Open) -> None:
    rudi = open_as("rudi")
    tab(rudi, "Today")
    row = rudi.get_by_role("table", name="Comes in").get_by_role("row").filter(has_text="◆")
    row.first.get_by_role("link", name=re.compile("PO-")).click()
    side = rudi.get_by_role("complementary", name="The order")
    expect(side.get_by_text(re.compile("brought by the delivery note"))).to_be_visible()
    side.get_by_role("button", name="Take in …").click()
    expect(rudi.get_by_label(re.compile("How many came of"))).to_have_value("4")
    rudi.get_by_role("button", name="Take in", exact=True).click()
    expect(side.get_by_text(re.compile("4 came"))).to_be_visible()
    side.get_by_role("button", name="No more comes").click()
    expect(side.get_by_text("delivered")).to_be_visible()
    expect(side.get_by_text("the rest is not awaited")).to_be_visible()


def test_when_the_parts_of_a_job_are_there_is_drawn_and_another_turn_is_tried_without_saving(
    open_as: Open,
) -> None:
    page = open_as("sven")
    page.goto("/week/2026-W49/gather?job=WO-2980")
    page.get_by_role("button", name="When are they there?").first.click()
    panel = page.get_by_role("dialog", name="When the parts of WO-2980 are there")
    expect(panel.get_by_text("All are there from Tue 1 Dec")).to_be_visible()
    expect(panel.get_by_role("img", name=re.compile("^Time line: .* Tue 1 Dec"))).to_be_visible()
    expect(panel.get_by_text(re.compile("^Before it: WO-")).first).to_be_visible()
    panel.get_by_role("button", name="What if it came first?").click()
    tried = panel.get_by_role("region", name="If it came first")
    expect(tried.get_by_text(re.compile("other WO would have|other WOs would have"))).to_be_visible()
    expect(tried.get_by_text(re.compile("nothing was saved"))).to_be_visible()
