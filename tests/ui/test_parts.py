"""The storekeeper's desk: where a part is, what comes and goes, by hand and by code."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import WEEK
from tests.ui.conftest import Open, shown

pytestmark = pytest.mark.screen


def parts(page: Page) -> None:
    sections = page.get_by_role("navigation", name="Sections")
    sections.get_by_role("link", name="Parts", exact=True).click()
    page.get_by_role("grid", name="Parts").get_by_role("row").nth(1).wait_for()


def test_a_part_is_made_received_moved_and_counted_and_its_place_is_seen_at_once(open_as: Open) -> None:
    page = open_as("rudi")
    parts(page)
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="New part")
    form.get_by_label("Part", exact=True).fill("ZZ-1")
    form.get_by_label("Name", exact=True).fill("Pulley pin")
    form.get_by_label("Price of one").fill("12.5")
    form.get_by_role("button", name="Make the part").click()
    side = page.get_by_role("complementary", name="The part")
    expect(side.get_by_role("heading", name="0 pcs on hand")).to_be_visible()
    side.get_by_role("button", name="Receive").click()
    panel = page.get_by_role("dialog", name="Receive: ZZ-1")
    panel.get_by_label("Quantity").fill("6")
    panel.get_by_label("Storeroom").select_option("main")
    panel.get_by_label("Shelf").fill("A-01")
    panel.get_by_role("button", name="Receive").click()
    expect(side.get_by_role("heading", name="6 pcs on hand")).to_be_visible()
    expect(side.get_by_text("worth CHF 75.00")).to_be_visible()
    side.get_by_role("button", name=re.compile("^Move from")).click()
    panel = page.get_by_role("dialog", name="Move: ZZ-1")
    panel.get_by_label("Quantity").fill("2")
    panel.get_by_label("To", exact=True).select_option("lake")
    panel.get_by_role("button", name="Move").click()
    where = side.get_by_role("region", name="Where it lies")
    expect(where.get_by_text("Lake side container")).to_be_visible()
    side.get_by_role("button", name="Count in Lake side container").click()
    panel = page.get_by_role("dialog", name="Count: ZZ-1")
    panel.get_by_label("Found").fill("1")
    panel.get_by_role("button", name="Count").click()
    expect(panel.get_by_role("alert")).to_have_text("2 should lie there. Say why it differs.")
    panel.get_by_label("Why it differs").fill("one fell into the lake")
    panel.get_by_role("button", name="Count").click()
    expect(side.get_by_role("heading", name="5 pcs on hand")).to_be_visible()
    expect(
        side.get_by_role("region", name="What moved").get_by_text("one fell into the lake")
    ).to_be_visible()


def test_codes_are_posted_together_and_what_fails_is_mended_and_posted_again(open_as: Open) -> None:
    page = open_as("rudi")
    parts(page)
    page.keyboard.press("c")
    panel = page.get_by_role("dialog", name="Post by code")
    panel.get_by_label("What").select_option("receipt")
    code = panel.get_by_role("textbox", name="Code")
    for one in ("BE-1003", "BE-1003", "NO-SUCH"):
        code.fill(one)
        code.press("Enter")
    expect(panel.get_by_label("How many of BE-1003")).to_have_value("2")
    panel.get_by_role("button", name="Post 2 lines").click()
    expect(panel.get_by_role("status")).to_have_text("1 posted, 1 failed")
    expect(panel.get_by_role("alert")).to_have_text("There is no part NO-SUCH.")
    panel.get_by_role("button", name="Without NO-SUCH").click()
    panel.get_by_role("button", name="Shut").click()
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Movements").click()
    row = page.get_by_role("grid", name="Movements").get_by_role("row").nth(1)
    expect(row).to_contain_text("BE-1003")
    side = page.get_by_role("complementary", name="The part")
    expect(side.get_by_text("Rudi Kemper").first).to_be_visible()


def test_who_keeps_no_stock_sees_where_a_part_is_and_moves_none(open_as: Open) -> None:
    page = open_as("rene")
    parts(page)
    page.get_by_role("textbox", name="Search: parts").fill("gear oil 220")
    row = page.get_by_role("grid", name="Parts").get_by_role("row").nth(1)
    expect(row).to_contain_text("Gear oil 220")
    row.click()
    side = page.get_by_role("complementary", name="The part")
    expect(side.get_by_role("region", name="Where it lies")).to_be_visible()
    expect(side.get_by_role("button", name="Receive")).to_have_count(0)
    expect(page.get_by_role("button", name="New part")).to_have_count(0)


def test_a_job_says_its_parts_and_where_each_is_without_leaving_it(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("textbox", name="Search: the backlog").fill("Handrail repair")
    row = page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1)
    expect(row).to_contain_text("Handrail repair")
    row.click()
    job = page.get_by_role("complementary").filter(has=page.get_by_role("heading", name="Tasks"))
    job.get_by_role("button", name="Change", exact=True).click()
    form = page.get_by_role("dialog", name=re.compile(r"^WO-\d+"))
    form.get_by_text("More of task 10").click()
    form.get_by_label("Add a part to task 10").fill("BE-1008")
    form.get_by_role("button", name=re.compile("Ball bearing 6308")).first.click()
    form.get_by_label("Add a part to task 10").fill("rags")
    form.get_by_label("Add a part to task 10").press("Enter")
    form.get_by_role("button", name="Save").click()
    parts_of_it = job.get_by_role("group", name="Parts")
    expect(parts_of_it).to_contain_text("rags")
    parts_of_it.get_by_role("button").first.click()
    where = page.get_by_role("dialog", name="Where is it?")
    expect(where.get_by_role("region", name="Wanted by").get_by_text("Handrail repair")).to_be_visible()
    page.keyboard.press("Escape")
    job.get_by_role("button", name="Put it in").click()
    expect(job.get_by_role("button", name="Put it in")).to_have_count(0)
    parts(page)
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="To pick").click()
    row = page.get_by_role("row").filter(has_text="BE-1008")
    expect(row).to_contain_text("WO-")
    row.get_by_role("checkbox").check()
    page.get_by_role("button", name="Set aside …").click()
    place = page.get_by_role("dialog", name="Set parts aside")
    place.get_by_label("Where they lie").fill("kit shelf K3")
    place.get_by_role("button", name="Set them aside").click()
    expect(row).to_contain_text("kit shelf K3")
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Kits").click()
    kit = page.get_by_role("grid", name="Kits").get_by_role("row").filter(has_text="Handrail repair")
    expect(kit).to_contain_text("staged")
    kit.get_by_role("checkbox").check()
    page.get_by_role("button", name="Hand out", exact=True).first.click()
    expect(shown(page, re.compile(r"^\d parts? handed out$"))).to_be_visible()
    expect(kit).to_contain_text("handed out")


POST = """async ([path, body]) => {
    const headers = { "x-nundine": "1", "content-type": "application/json" };
    const answer = await fetch(path, { method: "POST", headers, body: JSON.stringify(body) });
    return answer.status < 300 ? answer.json().catch(() => null) : { refused: await answer.text() };
}"""


def test_parts_that_a_done_job_did_not_get_are_asked_for_and_posted_with_one_press(open_as: Open) -> None:
    page = open_as("sven", "run")
    part = page.request.get("/api/parts/choices?text=Ball bearing").json()
    there = next(p for p in part if p["free"] >= 1)
    order = {"title": "Bearing of the idler", "asset": "L1", "kind": "corrective", "state": "approved"}
    task = {"task": "10", "title": "Change it", "hours": "1", "needs": "mech", "parts": there["part"]}
    made = page.evaluate(POST, ["/api/orders", {"order": order, "tasks": [task], "revision": None}])
    put = {"edit": {"kind": "put", "jobs": [made["number"]], "day": "2026-12-01"}, "seen": 0}
    page.evaluate(POST, [f"/api/weeks/{WEEK}/edits", put])
    page.reload()
    row = (
        page.get_by_role("grid", name="Tasks of the week").get_by_role("row").filter(has_text=made["number"])
    )
    row.get_by_role("button", name="Start").click()
    row.get_by_role("button", name="Done").click()
    expect(shown(page, f"1 part of {made['number']} not handed out: used?")).to_be_visible()
    page.get_by_role("button", name="Used as planned").click()
    expect(shown(page, "1 part posted as planned")).to_be_visible()
    page.goto(f"/parts/stock?open={there['part']}")
    moved = page.get_by_role("complementary", name="The part").get_by_role("region", name="What moved")
    moved.get_by_role("link", name=made["number"]).first.click()
    costs = page.get_by_role("region", name="Costs")
    costs.get_by_text(re.compile(r"^parts [\d.]+ planned, [\d.]+ handed out$")).click()
    line = re.compile(r": 1 \w+ planned ([\d.]+), 1 used \1$")
    expect(costs.get_by_text(line)).to_be_visible()
