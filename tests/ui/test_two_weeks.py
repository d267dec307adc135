"""Two weeks in a row, as a scheduler lives them: a messy export, a week built and published, a sick Tuesday,
a break-in, the next export, what was done, closing with carry-over, and the week after, from what is left."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from nundine.demo import exports
from tests.formats.test_foreign import GERMAN
from tests.ui.conftest import Open, agreed, shown
from tests.ui.test_story import build

pytestmark = pytest.mark.screen
FIRST, SECOND = "2026-W50", "2026-W51"


def choose(page: Page, label: str, text: str) -> None:
    """A choice made by keyboard, as people do: type a part of it, then Enter."""
    page.get_by_label(label, exact=True).focus()
    page.keyboard.type(text)
    expect(page.locator(".ant-select-item-option-active:visible").first).to_contain_text(
        re.compile(re.escape(text), re.IGNORECASE)
    )
    page.keyboard.press("Enter")


def open_export(page: Page, folder: Path, name: str, data: bytes) -> None:
    file = folder / name
    file.write_bytes(data)
    page.goto("/files")
    page.set_input_files("input[type=file]", file)
    expect(page.get_by_role("table", name="As understood")).to_be_visible()


def step(page: Page, week: str, name: str) -> None:
    page.goto(f"/week/{week}/{name}")
    expect(page.get_by_role("heading", name=week)).to_be_visible()


def publish(page: Page, week: str) -> None:
    step(page, week, "agree")
    agreed(page)
    step(page, week, "publish")
    page.get_by_role("button", name=re.compile("^Publish")).first.click()
    expect(shown(page, "Revision 1 is published")).to_be_visible()


def accept(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^Accept")).first.click()
    expect(page.get_by_text("What would change")).to_be_hidden()


def test_two_weeks_in_a_row(open_as: Open, tmp_path: Path) -> None:
    page = open_as("sven", "gather", FIRST)

    # the export of the north valley: words get a meaning, the mapping a name
    open_export(page, tmp_path, "north.csv", exports.north(FIRST))
    for word, ours in GERMAN.items():
        choose(page, f"craft {word} means", ours)
        expect(page.get_by_label(f"craft {word} means", exact=True)).to_have_count(0)
    page.get_by_label("Name of the mapping").fill("North system")
    page.get_by_role("button", name="Compare with what is here").click()
    expect(page.get_by_text("24 new WOs")).to_have_count(2)
    page.get_by_role("button", name="Bring in", exact=True).click()
    expect(shown(page, "24 new WOs, 0 changed")).to_be_visible()

    # the export of the middle station: its dates are asked about
    open_export(page, tmp_path, "middle.xlsx", exports.middle(FIRST))
    expect(page.get_by_role("button", name="Compare with what is here")).to_be_disabled()
    page.get_by_role("radio", name="month, day, year").click()
    expect(shown(page, "24 WOs, 24 tasks in all")).to_be_visible()
    page.screenshot(path=tmp_path / "an-export.png")
    page.get_by_role("button", name="Compare with what is here").click()
    page.get_by_role("button", name="Bring in", exact=True).click()
    expect(shown(page, "24 new WOs, 0 changed")).to_be_visible()

    # the week is built, agreed, published
    step(page, FIRST, "balance")
    build(page)
    accept(page)
    publish(page, FIRST)

    # a sick Tuesday, mended
    step(page, FIRST, "crew")
    page.get_by_role(
        "gridcell", name=re.compile(r"^[^:]*, Tue 8 Dec: [\d.]+ h, .*, [2-9] jobs\b")
    ).first.click()
    page.keyboard.press("s")
    expect(shown(page, re.compile("is away on Tue 8 Dec"))).to_be_visible()
    page.keyboard.press("m")
    drawer = page.get_by_role("dialog", name="Mend week 50")
    drawer.get_by_role("button", name="Mend", exact=True).click()
    expect(page.get_by_text(re.compile("Mend the week")).first).to_be_visible()

    # a break-in, by keyboard alone
    step(page, FIRST, "run")
    expect(page.get_by_role("grid", name="Tasks of the week")).to_be_visible()
    page.keyboard.press("u")
    expect(page.get_by_role("dialog", name="Break-in")).to_be_visible()
    page.keyboard.type("Gearbox screams")
    page.keyboard.press("Tab")
    page.keyboard.type("larch drive")
    expect(page.get_by_role("dialog").get_by_role("status")).to_contain_text("Larch gondola, drive")
    page.keyboard.press("Tab")
    page.keyboard.type("3")
    page.keyboard.press("Tab")
    page.keyboard.type("2")
    page.keyboard.press("Tab")
    page.keyboard.type("ropeway")
    page.keyboard.press("Enter")
    drawer = page.get_by_role("dialog", name="Mend week 50")
    expect(drawer.get_by_text(re.compile(r"WO-\d+ task 10 comes in"))).to_be_visible()
    page.screenshot(path=tmp_path / "a-break-in.png")
    drawer.get_by_role("button", name="Mend", exact=True).click()
    expect(page.get_by_text(re.compile("Mend the week")).first).to_be_visible()

    # the export of the week after: what changed is told field by field, placed work is marked and stays
    open_export(page, tmp_path, "north-later.csv", exports.north(SECOND, later=True))
    expect(shown(page, "mapping “North system”")).to_be_visible()
    page.get_by_role("button", name="Compare with what is here").click()
    changed = page.get_by_role("grid", name="What differs")
    expect(changed.get_by_role("row", name=re.compile("hours of task 0010"))).not_to_have_count(0)
    expect(changed.get_by_text(f"placed in {FIRST}").first).to_be_visible()
    page.get_by_role("radio", name="put on hold").click()
    page.get_by_role("button", name="Bring in", exact=True).click()
    expect(shown(page, re.compile(r"placed WOs? changed"))).to_be_visible()
    step(page, FIRST, "gather")
    page.get_by_role("button", name=re.compile(r"◆ \d+ changed")).click()
    mark = page.get_by_role("region", name="Changed in the export")
    expect(mark).to_contain_text("It stays where it was placed")
    mark.get_by_role("button", name="Seen").click()

    # some of it is done
    step(page, FIRST, "run")
    rows = page.get_by_role("grid", name="Tasks of the week").get_by_role("row")
    for n in (1, 2, 3):
        rows.nth(n).click()
        page.keyboard.press("e")
        along = page.get_by_role("button", name="Take them along")
        expect(rows.nth(n).get_by_text("done").or_(along)).to_be_visible()
        if along.is_visible():
            along.click()
        expect(rows.nth(n)).to_contain_text("done")
    rows.nth(4).click()
    page.keyboard.press("s")
    along = page.get_by_role("button", name="Take them along")
    expect(rows.nth(4).get_by_text("under way").or_(along)).to_be_visible()
    if along.is_visible():
        along.click()
    expect(rows.nth(4)).to_contain_text("under way")

    # closing: reasons, what goes straight into next week, what goes back
    page.keyboard.press("l")
    drawer = page.get_by_role("dialog", name="Close week 50")
    first = drawer.get_by_role("table", name="Not finished").get_by_role("row").nth(1)
    carried = first.get_by_role("cell").nth(2).inner_text()
    drawer.get_by_role("button", name="All back").click()
    drawer.get_by_role("checkbox", name=f"{carried} into {SECOND}").check()
    drawer.get_by_label(f"Why {carried} was not finished").select_option("part missing")
    expect(drawer.get_by_text("This week has not begun")).to_be_visible()
    expect(drawer.get_by_role("button", name="Close the week")).to_be_disabled()
    drawer.get_by_label("Reason for many").select_option("no time left")
    drawer.get_by_label("Close it all the same").check()
    drawer.get_by_role("button", name="Close the week").click()
    expect(page.get_by_role("heading", name=SECOND)).to_be_visible(timeout=120_000)

    # a closed week can only be read, and keeps its review
    step(page, FIRST, "run")
    expect(shown(page, "closed: can only be read")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Build"))).to_have_count(0)
    expect(page.get_by_role("region", name="Closed")).to_contain_text("1 carried into next week")
    expect(page.get_by_role("region", name="Closed")).to_contain_text("part missing")
    page.screenshot(path=tmp_path / "a-closed-week.png")

    # the week after starts from what was carried over and from the backlog
    step(page, SECOND, "gather")
    expect(shown(page, re.compile(r"^\d{3} jobs"))).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type(carried)
    row = page.get_by_role("grid", name="Backlog").get_by_role("row", name=re.compile(carried))
    expect(row).to_contain_text(re.compile(r"(Mon|Tue|Wed|Thu|Fri|Sat|Sun) 1\d|2\d"))
    step(page, SECOND, "balance")
    build(page)
    accept(page)
    publish(page, SECOND)
    step(page, SECOND, "run")
    expect(page.get_by_role("grid", name="Tasks of the week")).to_be_visible()
    page.keyboard.press("l")
    drawer = page.get_by_role("dialog", name="Close week 51")
    drawer.get_by_role("button", name="All back").click()
    drawer.get_by_label("Reason for many").select_option("no time left")
    drawer.get_by_label("Close it all the same").check()
    drawer.get_by_role("button", name="Close the week").click()
    expect(shown(page, "closed: can only be read")).to_be_visible(timeout=120_000)
