"""Which work gets a part, on which assets it is used, and how stock goes out and comes in as files."""

from __future__ import annotations

import re
from pathlib import Path
from uuid import uuid4

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.conftest import WEEK
from tests.ui.conftest import Open, brought_in, taken_out
from tests.ui.test_parts import POST

pytestmark = pytest.mark.screen


def with_stock(page: Page, many: int, does_instead_of: str = "") -> str:
    """A new part of which so many lie in the main store."""
    part = f"ZZ-{uuid4().hex[:6]}"
    other = does_instead_of and f"{does_instead_of} both ways"
    cells = {"part": part, "name": f"Gasket {part}", "unit": "pcs", "price": "4", "alternates": other}
    page.evaluate(POST, ["/api/parts/registers/parts", {"cells": cells, "revision": None}])
    line = {"kind": "receipt", "part": part, "storeroom": "main", "quantity": many, "price": 4}
    assert page.evaluate(POST, ["/api/parts/movements", {"lines": [line]}])["count"] == 1
    return part


def needing(page: Page, part: str, title: str) -> str:
    order = {"title": title, "asset": "L1", "kind": "corrective", "state": "approved"}
    task = {"task": "10", "title": "Fit it", "hours": "1", "needs": "mech", "parts": part}
    made = page.evaluate(POST, ["/api/orders", {"order": order, "tasks": [task], "revision": None}])
    return str(made["number"])


def part_of(page: Page, part: str) -> Locator:
    page.goto(f"/parts/stock?open={part}")
    side = page.get_by_role("complementary", name="The part")
    side.get_by_role("heading", name=re.compile("on hand")).wait_for()
    return side


def test_the_last_one_goes_to_one_wo_and_to_the_other_when_the_first_is_cancelled(open_as: Open) -> None:
    page = open_as("sven")
    part = with_stock(page, 1)
    first, second = needing(page, part, "Gasket of the pump"), needing(page, part, "Gasket of the valve")
    side = part_of(page, part)
    expect(side.get_by_text(re.compile("1 reserved, 0 free|0 free"))).to_be_visible()
    wanted = side.get_by_role("region", name="Wanted by").get_by_role("paragraph")
    expect(wanted.filter(has_text=first)).to_contain_text("1 reserved")
    expect(wanted.filter(has_text=second)).to_contain_text("0 reserved, nobody knows when the rest comes")
    page.goto("/lists/work orders")
    page.get_by_role("textbox", name="Search: work orders").fill(first)
    every = page.get_by_role("grid", name="Work orders").get_by_role("row")
    expect(every).to_have_count(2)
    rows = every.filter(has_text=first)
    rows.get_by_role("checkbox").check()
    page.get_by_role("button", name="Set state").click()
    page.get_by_role("menuitem", name="Cancel").click()
    expect(rows.filter(has_text="cancelled")).to_have_count(1)
    wanted = part_of(page, part).get_by_role("region", name="Wanted by").get_by_role("paragraph")
    expect(wanted.filter(has_text=second)).to_contain_text("1 wanted, 1 reserved")
    expect(wanted.filter(has_text=first)).to_have_count(0)


def test_a_part_is_put_on_an_assets_list_and_stands_there_from_both_sides(open_as: Open) -> None:
    page = open_as("rudi")
    part = with_stock(page, 3)
    used = part_of(page, part).get_by_role("region", name="Used on")
    used.get_by_role("button", name="Put it on an asset").click()
    form = used.get_by_role("form", name="Put it on an asset")
    form.get_by_label("Asset").fill("larch gondola, drive")
    form.get_by_label("Asset").press("Tab")  # Enter would send the form
    form.get_by_label("How many").fill("2")
    form.get_by_role("button", name="Put it there").click()
    expect(used.get_by_text(re.compile("Larch gondola, drive"))).to_be_visible()
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Parts lists").click()
    page.get_by_role("textbox", name="Search: parts lists").fill(part)
    row = page.get_by_role("grid", name="Parts lists").get_by_role("row").nth(1)
    expect(row).to_contain_text("Larch gondola, drive")
    expect(row).to_contain_text(f"Gasket {part}")


def test_stock_goes_out_as_a_file_and_what_came_is_brought_in_by_one(open_as: Open, tmp_path: Path) -> None:
    page = open_as("sven")
    part = with_stock(page, 3)
    row = next(r for r in taken_out(page, "movements") if r["part"] == part)
    came = {"number": f"M-{part}", "quantity": "4", "shelf": "Q-1"}
    brought_in(page, tmp_path / "movements.csv", row | came)
    side = part_of(page, part)
    expect(side.get_by_role("heading", name="7 pcs on hand")).to_be_visible()
    expect(side.get_by_role("region", name="Where it lies").get_by_text("Q-1")).to_be_visible()


def test_what_does_instead_is_picked_goes_out_with_the_kit_and_is_told_as_used(open_as: Open) -> None:
    page = open_as("sven")
    part = with_stock(page, 1)
    other = with_stock(page, 5, does_instead_of=part)
    job = needing(page, f"{part} x3", "Gaskets of the cooler")
    put = {"edit": {"kind": "put", "jobs": [job], "day": "2026-12-01"}, "seen": 10**6}
    assert "refused" not in page.evaluate(POST, [f"/api/weeks/{WEEK}/edits", put])
    page.goto(f"/parts/picking?week={WEEK}")
    row = page.get_by_role("grid", name="Parts to pick").get_by_role("row").filter(has_text=job)
    expect(row).to_contain_text(f"main ({other})")
    row.get_by_role("checkbox").check()
    page.get_by_role("button", name="Set aside …").click()
    place = page.get_by_role("dialog", name="Set parts aside")
    place.get_by_label("Where they lie").fill("kit shelf K9")
    place.get_by_role("button", name="Set them aside").click()
    expect(row).to_contain_text("kit shelf K9")
    page.get_by_role("navigation", name="Parts").get_by_role("link", name="Kits").click()
    kit = page.get_by_role("grid", name="Kits").get_by_role("row").filter(has_text=job)
    kit.click()
    expect(page.get_by_role("list", name="What belongs to it")).to_contain_text(f"{other} instead")
    kit.get_by_role("checkbox").check()
    page.get_by_role("button", name="Hand out", exact=True).first.click()
    expect(kit).to_contain_text("handed out")
    side = part_of(page, other)
    expect(side.get_by_role("heading", name="3 pcs on hand")).to_be_visible()
    expect(side.get_by_role("region", name="What moved")).to_contain_text(f"Instead of {part}.")
