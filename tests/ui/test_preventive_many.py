"""What is done with many services at once, and with what falls due in weeks to come."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from tests.ui.conftest import Open, brought_in, shown, taken_out
from tests.ui.test_planning import fill_craft

pytestmark = pytest.mark.screen


def services(page: Page, words: str) -> Locator:
    """The rows of services with these words in them."""
    page.goto("/preventive/services")
    grid = page.get_by_role("grid", name="Services")
    grid.get_by_role("row").nth(1).wait_for()
    page.get_by_role("textbox", name="Search: services").fill(words)
    rows = grid.get_by_role("row").filter(has=page.get_by_role("checkbox"))
    expect(rows.first).to_contain_text(words)
    expect(grid).to_have_attribute("aria-busy", "false")
    return rows


def chosen(page: Page, rows: Locator, many: int) -> None:
    for n in range(many):
        rows.nth(n).get_by_role("checkbox").check()
    expect(page.get_by_text(f"{many} chosen")).to_be_visible()


def more(page: Page, what: str) -> Locator:
    page.get_by_role("button", name="More ▾").click()
    page.get_by_role("menuitem", name=what).click()
    return page.get_by_role("dialog", name=re.compile(f"^{what}"))


def test_what_falls_due_is_a_table_in_groups_and_what_comes_next_is_raised_from_it(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/forecast")
    page.get_by_role("button", name="Table", exact=True).click()
    grid = page.get_by_role("grid", name="What falls due")
    page.get_by_role("textbox", name="Search: what falls due").fill("Rope lubrication")
    expect(page.get_by_text(re.compile(r"^\d+ occurrences · [\d.]+ h$"))).to_be_visible()
    page.get_by_role("button", name="Falls due: filter and more").click()
    page.get_by_role("button", name="Group by it").click()
    expect(grid.get_by_role("row").filter(has_text=re.compile("occurrence")).first).to_be_visible()
    page.get_by_role("button", name="Take off: by falls due").click()
    row = grid.get_by_role("row").filter(has=page.get_by_role("checkbox")).last
    row.get_by_role("checkbox").check()
    page.get_by_role("button", name="Raise", exact=True).click()
    expect(shown(page, re.compile(r"^[01] services? raised$"))).to_be_visible()


def test_moves_that_relieve_a_full_week_are_accepted_one_by_one(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/forecast")
    expect(shown(page, "No move would help")).to_be_visible()
    page.get_by_label("A week is full").select_option("full at 10 %")
    full = page.get_by_role("region", name="Overfull weeks")
    boxes = full.get_by_role("checkbox")
    expect(full.get_by_role("button", name=re.compile("^Accept the"))).to_be_enabled()
    assert boxes.count() > 1
    for n in range(1, boxes.count()):
        boxes.nth(n).uncheck()
    moves = re.compile(r"\w+ \d+ \w+ → \w+ \d+ \w+")
    expect(full.get_by_text(moves).first).to_be_visible()
    full.get_by_role("button", name="Accept the 1 chosen").click()
    expect(shown(page, "1 service moved")).to_be_visible()


def test_services_are_held_together_shifted_together_and_given_to_a_crew(open_as: Open) -> None:
    page = open_as("sven")
    rows = services(page, "Cabin suspension, yearly inspection")
    chosen(page, rows, 2)
    page.get_by_role("button", name="Hold", exact=True).click()
    expect(shown(page, "2 services changed")).to_be_visible()
    chosen(page, rows, 2)
    page.get_by_role("button", name="Take up", exact=True).click()
    expect(page.get_by_text("2 chosen")).to_have_count(0)
    chosen(page, rows, 2)
    panel = more(page, "Make answerable")
    panel.get_by_label("Answerable crew or person").fill("Rope crew")
    panel.get_by_role("button", name="Make answerable").click()
    expect(panel).to_have_count(0)
    rows.first.get_by_text("Cabin suspension").click()
    side = page.get_by_role("complementary", name="The preventive plan")
    expect(side.get_by_text(re.compile("Rope crew")).first).to_be_visible()
    chosen(page, rows, 1)
    panel = more(page, "Shift by days")
    panel.get_by_label("Days").fill("+400")
    panel.get_by_role("button", name="Shift by days").click()
    expect(shown(page, re.compile(r"366 days|0 services changed, 1 not"))).to_be_visible()


def test_services_are_reported_done_with_one_date_and_their_next_dates_are_there(open_as: Open) -> None:
    page = open_as("sven")
    rows = services(page, "Lightning protection survey")
    was = [rows.nth(n).inner_text() for n in range(2)]
    chosen(page, rows, 2)
    if not all("WO-" in text for text in was):
        page.get_by_role("button", name="Raise", exact=True).click()
        expect(page.get_by_text("2 chosen")).to_have_count(0)
        chosen(page, rows, 2)
    panel = more(page, "Report done")
    panel.get_by_label("Done on").fill("20.11.2026")
    panel.get_by_label("Done on").press("Tab")
    panel.get_by_label("Comment").fill("all rods sound")
    panel.get_by_role("button", name="Report done").click()
    expect(shown(page, "2 services changed")).to_be_visible()
    page.goto("/preventive/done")
    page.get_by_role("textbox", name="Search: what became of services").fill("Lightning protection survey")
    done = page.get_by_role("grid", name="What became of services").get_by_role("row")
    expect(done.filter(has_text="Fri 20 Nov").filter(has_text="✓ done").nth(1)).to_be_visible()
    page.goto("/preventive/services")
    page.get_by_role("textbox", name="Search: services").fill("Lightning protection survey")
    expect(page.get_by_role("grid", name="Services").get_by_text(re.compile("2027")).first).to_be_visible()


def test_assets_without_any_plan_are_one_step_away(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/services")
    page.get_by_role("link", name="Assets without any plan").click()
    rows = page.get_by_role("grid", name="Assets").get_by_role("row")
    expect(page.get_by_role("button", name=re.compile("^Take off: Services"))).to_be_visible()
    expect(rows.nth(1)).to_be_visible()
    some = page.request.get("/api/lists/services/rows", params={"q": "{}"}).json()["rows"][0]["cells"][
        "asset"
    ]
    page.get_by_role("textbox", name="Search: assets").fill(some)
    expect(page.get_by_role("grid", name="Assets").get_by_text(some, exact=True)).to_have_count(0)


def test_sheets_of_the_services_that_the_filter_shows_are_printed(open_as: Open) -> None:
    page = open_as("sven")
    services(page, "Hydraulic hose exchange")
    page.get_by_role("grid", name="Services").get_by_role("checkbox").first.check()
    page.get_by_role("button", name="Print sheets ▾").click()
    with page.expect_download() as got:
        page.get_by_role("menuitem", name="by asset").last.click()
    text = "".join(p.extract_text() for p in PdfReader(got.value.path()).pages)
    assert "Hydraulic hose exchange" in text and "WO-" in text


def test_what_else_falls_due_on_an_asset_is_raised_for_the_same_stop(open_as: Open) -> None:
    page = open_as("sven", "gather")
    page.get_by_role("textbox", name="Search: the backlog").fill("Controller battery exchange")
    row = page.get_by_role("grid", name="Backlog").get_by_role("row").nth(1)
    expect(row).to_contain_text("Controller battery exchange")
    row.click()
    stop = page.get_by_role("region", name="Preventive work here")
    expect(
        stop.get_by_text(re.compile(r"1 more service of this asset falls due within \d+ day"))
    ).to_be_visible()
    stop.get_by_role("button", name="Raise it too").click()
    expect(shown(page, re.compile(r"^WO-\d+ raised$"))).to_be_visible()
    expect(stop.get_by_role("button", name="Raise it too")).to_have_count(0)


def test_a_one_off_is_typed_in_and_raised_as_it_says(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/services")
    page.get_by_role("grid", name="Services").get_by_role("row").nth(1).wait_for()
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="New preventive plan")
    form.get_by_label("Title").fill("Chimney of the hut")
    assets = form.get_by_role("combobox", name="On these assets")
    assets.fill("workshop middle")
    assets.press("Enter")
    form.get_by_label("Hours", exact=True).fill("1:30")
    form.get_by_label("Asset state").select_option("stopped")
    expect(form.get_by_text("Nothing says who does it: choose a craft.")).to_be_visible()
    fill_craft(form, "general hand")
    expect(form.get_by_text("Nothing says who does it")).to_have_count(0)
    form.get_by_label("Description").fill("Sweep it, then look for cracks")
    form.get_by_label("Priority corrected by, points").fill("15")
    form.get_by_role("button", name="Make the plan").click()
    side = page.get_by_role("complementary", name="The preventive plan")
    expect(side.get_by_text(re.compile(r"priority \+15"))).to_be_visible()
    side.get_by_role("button", name="Start it").click()
    side.get_by_role("button", name="Raise it now").click()
    side.get_by_role("link", name=re.compile(r"^WO-\d+$")).first.click()
    job = page.get_by_role("complementary").filter(has=page.get_by_role("heading", name="Tasks"))
    expect(job.get_by_text("Sweep it, then look for cracks")).to_be_visible()


def test_the_form_draws_dates_that_stay_and_dates_that_count_from_what_was_done(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/preventive/services")
    page.get_by_role("grid", name="Services").get_by_role("row").nth(1).wait_for()
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="New preventive plan")
    form.get_by_label("Title").fill("Hut stove care")
    form.get_by_label("Job plan").fill("brake test")
    assets = form.get_by_role("combobox", name="On these assets")
    assets.fill("piste vehicles north, vehicle 11")
    assets.press("Enter")
    form.get_by_label("Last done on").fill("20.10.2026")
    form.get_by_label("Last done on").press("Tab")
    coming = form.get_by_role("region", name="What comes next")
    expect(coming.get_by_text("Fri 20 Nov 2026")).to_be_visible()
    form.get_by_label("Counts from").select_option("the day on which it was done")
    expect(coming.get_by_text("Fri 20 Nov 2026")).to_be_visible()
    form.get_by_role("button", name="by a meter too").click()
    form.get_by_label("Count of rung 1").fill("50")
    expect(coming.get_by_text("Fri 20 Nov 2026")).to_have_count(0)  # its hours are run before
    expect(coming.get_by_text(re.compile("2026")).first).to_be_visible()


def test_plans_are_taken_out_as_a_file_and_brought_in_again(open_as: Open, tmp_path: Path) -> None:
    page = open_as("sven")
    one = next(r for r in taken_out(page, "preventive_plans") if r["title"].startswith("Crane inspection"))
    brought_in(page, tmp_path / "preventive_plans.csv", one | {"title": "Crane inspection, with its ropes"})
    services(page, "Crane inspection, with its ropes")
