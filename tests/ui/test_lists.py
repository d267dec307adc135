"""A scheduler makes a view of the backlog, shares it, pins it, takes it out as a file and finds it again;
the same by keyboard; choosing many and acting on them."""

from __future__ import annotations

import csv
import re

import pytest
from playwright.sync_api import Page, expect

from tests.ui.conftest import STILL, Open, shown
from tests.ui.test_within_reach import breaches


def backlog(page: Page):  # type: ignore[no-untyped-def]
    grid = page.get_by_role("grid", name="Backlog")
    expect(grid.get_by_role("row").nth(1)).to_be_visible()
    return grid


def told(page: Page) -> int:
    """How many jobs the list says that it shows."""
    words = page.get_by_role("status").filter(has_text=re.compile(r"^\d+ jobs?")).first.inner_text()
    return int(words.split()[0])


def told_other_than(page: Page, before: int) -> int:
    """How many it shows once that is another number than before."""
    expect(page.get_by_text(re.compile(f"^{before} jobs?"))).to_have_count(0)
    return told(page)


def test_a_view_is_made_shared_found_again_by_another_and_taken_out_as_a_file(open_as: Open) -> None:
    page = open_as("sven", "gather")
    grid = backlog(page)
    whole = told(page)
    page.get_by_role("button", name="Must", exact=True).click()
    expect(page.get_by_role("button", name="Take off: Must-work")).to_be_visible()
    must = told_other_than(page, whole)
    page.get_by_role("columnheader", name="Hours").get_by_role("button").first.click()
    expect(page.get_by_role("columnheader", name="Hours")).to_have_attribute("aria-sort", "descending")
    expect(grid).to_have_attribute("aria-busy", "false")
    assert 0 < must < whole
    page.get_by_role("button", name="View: All, changed").click()
    page.get_by_label("Name of a new view").fill("Must-work by hours")
    page.get_by_label("shared with all").check()
    page.get_by_role("button", name="Keep as a view").click()
    expect(page.get_by_role("button", name="View: Must-work by hours", exact=True)).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("button", name="File").click()
        page.get_by_role("menuitem", name="As CSV").click()
    with open(download.value.path(), encoding="utf-8-sig") as file:
        rows = list(csv.DictReader(file))
    assert len(rows) == must
    hours = [float(r["Hours"]) for r in rows]
    assert hours == sorted(hours, reverse=True)
    first = grid.get_by_role("row").nth(1).inner_text()
    assert rows[0]["WO"] in first

    other = open_as("mila", "gather")
    backlog(other)
    other.get_by_role("button", name="View: All").click()
    other.get_by_role("button", name=re.compile("^Must-work by hours of Sven")).click()
    expect(other.get_by_role("grid", name="Backlog").get_by_role("row").nth(1)).to_contain_text(rows[0]["WO"])
    expect(other.get_by_text(re.compile(f"^{must} jobs"))).to_be_visible()
    other.get_by_role("button", name=re.compile("View: Must-work by hours")).click()
    pin = other.get_by_role("button", name="Its count in the rail: Must-work by hours")
    pin.wait_for()
    other.evaluate(STILL)
    pin.click()
    expect(other.get_by_role("link", name=re.compile("Must-work by hours"))).to_contain_text(str(must))
    other.reload()
    expect(other.get_by_role("button", name="View: Must-work by hours", exact=True)).to_be_visible()
    page.get_by_role("button", name=re.compile("View: Must-work by hours")).click()
    page.get_by_role("button", name="Delete the view Must-work by hours").click()
    expect(page.get_by_role("button", name="View: All")).to_be_visible()


def test_an_administrator_says_with_which_view_a_role_begins(open_as: Open) -> None:
    page = open_as("ada", "gather")
    backlog(page)
    page.get_by_role("button", name="Must", exact=True).click()
    page.get_by_role("button", name="View: All, changed").click()
    page.get_by_label("Name of a new view").fill("Where readers begin")
    page.get_by_label("shared with all").check()
    page.get_by_role("button", name="Keep as a view").click()
    page.get_by_role("button", name="View: Where readers begin", exact=True).click()
    page.get_by_label("Role that begins with Where readers begin").select_option("first for reader")
    other = open_as("rene", "gather")
    backlog(other)
    expect(other.get_by_role("button", name="View: Where readers begin", exact=True)).to_be_visible()
    other.get_by_role("button", name="View: Where readers begin", exact=True).click()
    expect(other.get_by_label(re.compile("Role that begins with"))).to_have_count(0)
    page.get_by_role("button", name="Delete the view Where readers begin").click()
    expect(page.get_by_role("button", name="View: All")).to_be_visible()


def test_a_column_is_filtered_grouped_hidden_and_turned_by_keyboard_alone(open_as: Open) -> None:
    page = open_as("sven", "gather")
    grid = backlog(page)
    whole = told(page)
    page.get_by_role("button", name="Asset: filter and more").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("gondola")
    page.keyboard.press("Enter")
    expect(shown(page, "Asset contains gondola")).to_be_visible()
    found = told_other_than(page, whole)
    assert 0 < found < whole
    page.get_by_role("button", name="Asset: filter and more, filtered").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Group by it").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    head = grid.get_by_role("button", name=re.compile(r"Crest gondola, .* jobs? · .* h")).first
    expect(head).to_have_attribute("aria-expanded", "true")
    rows = grid.get_by_role("row").count()
    head.focus()
    page.keyboard.press("Enter")
    expect(head).to_have_attribute("aria-expanded", "false")
    assert grid.get_by_role("row").count() <= rows
    page.reload()
    expect(shown(page, "Asset contains gondola")).to_be_visible()
    page.get_by_role("button", name="Take off: Asset contains gondola").press("Enter")
    expect(page.get_by_text("Asset contains gondola")).to_have_count(0)


def test_a_range_of_jobs_is_chosen_with_shift_put_in_and_taken_out_with_one_undo_each(open_as: Open) -> None:
    page = open_as("sven", "gather")
    grid = backlog(page)
    whole = told(page)
    page.get_by_role("button", name="Not in", exact=True).click()
    page.get_by_role("button", name="Ready", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("Take off: In week is empty"))).to_be_visible()
    before = told_other_than(page, whole)
    page.keyboard.press("ArrowDown")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    expect(shown(page, "4 chosen")).to_be_visible()
    expect(grid.get_by_role("row", selected=True)).to_have_count(4)
    page.keyboard.press("i")
    expect(shown(page, re.compile("Put WO-.* and 2 more in"))).to_be_visible()
    expect(shown(page, re.compile(f"^{before - 4} jobs"))).to_be_visible()
    page.keyboard.press("z")
    expect(shown(page, re.compile(f"^{before} jobs"))).to_be_visible()


@pytest.mark.parametrize("name", ["Work orders", "Assets", "Windows", "People"])
def test_each_list_opens_its_records_and_breaks_no_rule_of_wcag(open_as: Open, name: str) -> None:
    page = open_as("sven")
    page.get_by_role("link", name="Lists").click()
    page.get_by_role("navigation", name="Lists").get_by_role("link", name=name).click()
    grid = page.get_by_role("grid", name=name)
    expect(grid.get_by_role("row").nth(2)).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary", name="The record").get_by_role("heading").first).to_be_visible()
    assert breaches(page) == []


def test_an_asset_is_made_and_changed_beside_the_list_of_assets(open_as: Open) -> None:
    page = open_as("sven")
    page.get_by_role("link", name="Lists").click()
    page.get_by_role("navigation", name="Lists").get_by_role("link", name="Assets").click()
    page.get_by_role("button", name="New asset").click()
    form = page.get_by_role("dialog", name="New asset")
    form.get_by_label("Asset", exact=True).fill("P-14")
    form.get_by_label("Name", exact=True).fill("Pump of the saddle")
    form.get_by_role("button", name="Make the asset").click()
    expect(form.get_by_role("alert")).to_contain_text("area")
    form.get_by_label("Area").select_option("North valley")
    form.get_by_label("Part of").fill("saddle chairlift")
    form.get_by_role("button", name="Make the asset").click()
    expect(form).to_have_count(0)
    page.get_by_role("textbox", name=re.compile("^Search")).fill("pump of the")
    grid = page.get_by_role("grid", name="Assets")
    expect(grid.get_by_role("row")).to_have_count(2)
    grid.get_by_role("row").nth(1).get_by_role("gridcell").nth(2).click()
    page.keyboard.press("Enter")
    side = page.get_by_role("complementary", name="The record")
    side.get_by_role("button", name="Change").click()
    form = page.get_by_role("dialog", name="P-14")
    form.get_by_label("Maker").fill("Orvaldt")
    form.get_by_label("Serial number").fill("77-1203")
    form.get_by_role("button", name="Save").click()
    expect(side.get_by_text("77-1203").first).to_be_visible()


def test_a_deed_of_the_audit_shows_what_it_changed(open_as: Open) -> None:
    page = open_as("ada", "gather")
    page.get_by_role("link", name="Audit").click()
    grid = page.get_by_role("grid", name="Audit")
    grid.get_by_role("row").nth(1).get_by_role("gridcell").nth(2).click()
    page.keyboard.press("Enter")
    side = page.get_by_role("complementary")
    expect(side.get_by_role("list", name="What it changed").get_by_role("listitem")).to_have_count(1)
