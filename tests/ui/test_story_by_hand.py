"""People, windows and the running week by hand; with the keyboard where a scheduler would use it. Goes on
with the week of the story."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.ui.conftest import NOTHING_PLACED, Open, shown


def built(page: Page) -> None:
    """The week has work in it, from the story or from a build of its own."""
    placed = page.get_by_role("link", name=re.compile("Balance .*of hours placed"))
    placed.wait_for()
    if not NOTHING_PLACED.search(placed.inner_text()):
        return
    page.keyboard.press("b")
    panel = page.get_by_role("dialog")
    panel.get_by_role("spinbutton").fill("1")
    panel.get_by_role("button", name="Start building").click()
    panel.get_by_role("button", name=re.compile("^Accept")).click(timeout=120_000)
    expect(placed).not_to_have_text(NOTHING_PLACED)


def test_a_part_of_a_day_away_and_overtime_change_the_day_at_once(open_as: Open) -> None:
    page = open_as("sven", "balance")
    built(page)
    page.keyboard.press("4")
    cell = page.get_by_role("gridcell", name=re.compile(r"^Ilse Brandner, Thu 3 Dec"))
    cell.click()
    side = page.get_by_role("complementary")
    expect(side.get_by_role("heading", name="Ilse Brandner")).to_be_visible()
    page.keyboard.press("h")
    form = side.get_by_role("form", name="Hours by hand")
    form.get_by_label("From").fill("10:00")
    form.get_by_label("To", exact=True).fill("12:00")
    form.get_by_role("button", name="Write it down").click()
    expect(shown(page, "Ilse Brandner is away on Thu 3 Dec 10:00–12:00")).to_be_visible()
    expect(side.get_by_text("away for a part: training")).to_be_visible()
    page.keyboard.press("h")
    form.get_by_label("What").select_option("overtime")
    form.get_by_role("button", name="Write it down").click()
    expect(shown(page, re.compile(r"Ilse Brandner: overtime on Thu 3 Dec"))).to_be_visible()
    expect(side.get_by_text(re.compile(r"overtime \d\d:\d\d–\d\d:\d\d"))).to_be_visible()
    side.get_by_role("button", name="Take back").first.click()
    expect(shown(page, "Ilse Brandner: no absence on Thu 3 Dec")).to_be_visible()


def test_somebody_is_lent_and_learns_a_craft(open_as: Open) -> None:
    page = open_as("sven", "crew")
    page.get_by_role("gridcell", name=re.compile(r"^Tomo Farkas, Wed 2 Dec")).click()
    page.keyboard.press("h")
    side = page.get_by_role("complementary")
    form = side.get_by_role("form", name="Hours by hand")
    form.get_by_label("What").select_option("lend")
    form.get_by_role("button", name="Write it down").click()
    expect(side.get_by_text(re.compile("^lent to "))).to_be_visible()
    side.get_by_role("button", name="Change crafts").click()
    skills = side.get_by_role("form", name="Crafts and certificates")
    skills.get_by_label("One more craft").select_option(label="Welder")
    skills.get_by_label("Level of Welder").select_option("2")
    skills.get_by_role("button", name="Write it down").click()
    expect(shown(page, "Crafts and certificates of Tomo Farkas")).to_be_visible()
    expect(side.get_by_text("Welder level 2, qualified")).to_be_visible()


def test_operations_draw_a_window_see_what_losing_one_hits_and_take_it_away(open_as: Open) -> None:
    page = open_as("olivia", "agree")
    side = page.get_by_role("complementary")
    page.get_by_role("button", name=re.compile("work window")).first.wait_for()
    hours = page.get_by_role("listitem").first.locator(".hours")
    box = hours.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 0.435 * box["width"], box["y"] + box["height"] - 3)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.46 * box["width"], box["y"] + box["height"] - 3, steps=5)
    page.mouse.up()
    form = side.get_by_role("form", name="Window")
    expect(form.get_by_role("status")).to_contain_text(re.compile("hits nothing|would hit|would be gone"))
    form.get_by_role("button", name="Draw it").click()
    expect(shown(page, re.compile("Draw a work window of "))).to_be_visible()
    drawn = page.get_by_role("button", name=re.compile(r"work window .*, agreed$"))
    drawn.first.click()
    side.get_by_role("button", name="Take it away").click()
    expect(side.get_by_role("status")).to_contain_text(re.compile("hits nothing|would hit"))
    side.get_by_role("button", name="Take it away").click()
    expect(shown(page, re.compile("Take away a work window of "))).to_be_visible()
    expect(drawn).to_have_count(0)


def test_several_tasks_are_done_at_once_and_one_is_not_for_a_reason(open_as: Open) -> None:
    page = open_as("sven", "run")
    table = page.get_by_role("grid", name="Tasks of the week")
    table.wait_for()
    rows = table.get_by_role("row")
    rows.nth(1).wait_for()
    for key in (*["ArrowDown"] * 5, " ", "ArrowDown", " ", "e"):
        page.keyboard.press(key)
    expect(page.get_by_text("2 tasks are done").first).to_be_visible()
    expect(rows.nth(6)).to_contain_text("✓ done")
    expect(rows.nth(7)).to_contain_text("✓ done")
    at = next(n for n in range(8, 60) if re.search(r" 10 [A-Z].*to do", rows.nth(n).inner_text(), re.DOTALL))
    for _ in range(at - 7):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("n")
    page.get_by_label("Why not done").select_option("part missing")
    page.get_by_role("button", name="Not done", exact=True).click()
    expect(rows.nth(at)).to_contain_text("✕ part missing")
    page.keyboard.press("h")
    side = page.get_by_role("complementary")
    side.get_by_label("Hours so far").fill("1")
    side.get_by_label("Hours left").fill("2.5")
    side.get_by_role("button", name="Under way").click()
    expect(rows.nth(at)).to_contain_text("under way, 2.5 h left")
    page.keyboard.press("z")
    expect(rows.nth(at)).to_contain_text("✕ part missing")


def test_two_who_are_busy_at_the_same_time_change_places_and_back(open_as: Open) -> None:
    page = open_as("sven", "run")
    table = page.get_by_role("grid", name="Tasks of the week")
    table.wait_for()
    side = page.get_by_role("complementary")
    for n in range(10, 40):
        row = table.get_by_role("row").nth(n)
        if "✓" in row.inner_text():
            continue
        row.click()
        side.get_by_role("button", name="Swap").first.click()
        offers = side.get_by_role("button", name=re.compile("^(Take|Change with) ")).or_(
            side.get_by_text("nobody can change places")
        )
        offers.first.wait_for()
        change = side.get_by_role("button", name=re.compile("^Change with "))
        if change.count():
            break
    before = row.inner_text()
    change.first.click()
    expect(shown(page, re.compile("change places on WO-"))).to_be_visible()
    page.keyboard.press("z")
    expect(row).to_have_text(before, use_inner_text=True)


def test_each_scheduler_looks_at_the_areas_of_their_own(open_as: Open) -> None:
    sven, mila = open_as("sven", "crew"), open_as("mila", "crew")
    everybody = sven.get_by_text(re.compile(r"^\d+ people"))
    whole = int(everybody.inner_text().split()[0])
    for page, area in ((sven, "North valley"), (mila, "Lake side")):
        page.get_by_label("Areas that I look at").click()
        options = page.locator(".ant-select-item-option")
        options.nth(0 if area == "North valley" else 2).click()
        page.keyboard.press("Escape")
    expect(sven.get_by_role("gridcell", name=re.compile("^Ilse Brandner, Mon"))).to_be_visible()
    expect(mila.get_by_role("gridcell", name=re.compile("^Ilse Brandner, Mon"))).to_have_count(0)
    assert int(everybody.inner_text().split()[0]) < whole
    for page in (sven, mila):
        page.get_by_role("gridcell", name=re.compile(r", Fri 4 Dec: [\d.]+ h")).first.click()
        page.keyboard.press("s")
        expect(page.get_by_text(re.compile("is away on Fri 4 Dec")).first).to_be_visible()
        expect(page.get_by_text("Somebody else was here")).to_have_count(0)
