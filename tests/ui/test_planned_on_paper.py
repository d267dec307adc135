"""What is planned goes onto paper, and into files and back."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from tests.ui.conftest import Open, brought_in, taken_out

pytestmark = pytest.mark.screen


def test_sheets_of_chosen_wos_are_printed_short_and_it_is_marked_when(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/lists/work orders")
    grid = page.get_by_role("grid", name="Work orders")
    page.get_by_role("textbox", name="Search: work orders").fill("Brake test")
    expect(grid.get_by_role("row").nth(1)).to_contain_text("Brake test")
    expect(grid).to_have_attribute("aria-busy", "false")
    page.keyboard.press("Escape")
    rows = grid.get_by_role("row").filter(has=page.get_by_role("checkbox"))
    numbers = [rows.nth(n).get_by_role("gridcell").nth(1).inner_text() for n in (1, 2)]
    for n in (1, 2):
        rows.nth(n).get_by_role("checkbox").check()
    page.get_by_role("button", name="Print sheets ▾").click()
    with page.expect_download() as got:
        page.get_by_role("menuitem", name="by asset").last.click()
    text = "".join(p.extract_text() for p in PdfReader(got.value.path()).pages)
    assert all(number in text for number in numbers) and "Static test" in text
    asked = {"filters": [{"column": "number", "how": "is", "values": [numbers[0]]}]}
    (row,) = page.request.get("/api/lists/work orders/rows", params={"q": json.dumps(asked)}).json()["rows"]
    assert row["cells"]["printed"]


def test_job_plans_are_taken_out_as_a_file_and_brought_in_again(open_as: Open, tmp_path: Path) -> None:
    page = open_as("sven")
    one = next(r for r in taken_out(page, "job_plans") if r["title"] == "Crane inspection")
    brought_in(page, tmp_path / "job_plans.csv", one | {"title": "Crane inspection, every hook"})
    page.goto("/work/plans")
    page.get_by_role("textbox", name="Search: job plans").fill("every hook")
    expect(page.get_by_role("grid", name="Job plans").get_by_role("row").nth(1)).to_contain_text(
        "Crane inspection, every hook"
    )
