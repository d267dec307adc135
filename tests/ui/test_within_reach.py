"""Within everybody's reach: what a program can see of WCAG 2.2 AA, and the whole week by keyboard. Goes on
with the week that was published."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.conftest import WEEK
from tests.ui.conftest import STILL, Open, pick

pytestmark = pytest.mark.screen
AXE = Path(__file__).parents[2] / "web/node_modules/axe-core/axe.min.js"
FOUND = """async () => {
  const tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];
  const { violations } = await axe.run(document, { runOnly: tags, resultTypes: ["violations"] });
  return violations.map((v) => `${v.id}: ${v.nodes[0].target.join(" ")}, ${v.nodes.length} in all`);
}"""
IN_SIGHT = """(picked) => {
  const box = picked.getBoundingClientRect();
  const at = (share) => document.elementFromPoint(box.left + box.width / 2, box.top + share * box.height);
  return [0.1, 0.9].every((share) => picked.contains(at(share)));
}"""


def breaches(page: Page) -> list[str]:
    page.evaluate(AXE.read_text())
    page.evaluate(STILL)
    found: list[str] = page.evaluate(FOUND)
    return found


def pressed(*keys: str) -> Callable[[Page], None]:
    return lambda page: [page.keyboard.press(key) for key in keys] and None


def picked(role: str, name: str) -> Callable[[Page], None]:
    return lambda page: page.get_by_role(role, name=re.compile(name)).first.click()  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("step", "act", "seen"),
    [
        ("gather", None, "Weeks of ready backlog"),
        ("gather", pressed("ArrowDown", "Enter"), "Tasks"),
        ("gather", pressed("w"), "Make the WO"),
        ("gather", pressed("?"), "Command palette"),
        ("gather", pressed("Control+k"), "Go to Gather"),
        ("balance", None, "held back for emergencies"),
        ("balance", picked("button", "^Move to"), "Next week"),
        ("balance", pressed("b"), "Seconds to search"),
        ("agree", None, "Pick a placement or a window"),
        ("agree", pressed("ArrowDown"), "Operations:"),
        ("agree", pressed("v"), "Draw it"),
        ("crew", pressed("ArrowDown"), "Hours by hand"),
        ("publish", None, "Revision 1"),
        ("run", None, "Schedule compliance"),
        ("run", pressed("h"), "Hours so far"),
        ("run", pressed("u"), "Show where it fits"),
        ("run", pressed("l"), "goes back to the backlog"),
    ],
)
def test_a_screen_breaks_no_rule_of_wcag_that_a_program_can_see(
    open_as: Open, step: str, act: Callable[[Page], None] | None, seen: str
) -> None:
    page = open_as("sven", step)
    expect(page.locator(".ant-spin")).to_have_count(0)
    if step in ("gather", "run"):
        expect(page.get_by_role("grid").first.get_by_role("row").nth(1)).to_be_visible()
    if act:
        act(page)
    expect(page.get_by_text(seen).first).to_be_visible()
    assert breaches(page) == []


def test_the_same_screens_break_no_such_rule_in_the_dark_and_keep_it_for_the_account(open_as: Open) -> None:
    page = open_as("sven")
    page.get_by_role("link", name="You").click()
    page.get_by_role("radiogroup", name="Colours").get_by_text("Dark").click()
    assert breaches(page) == [], "you"
    for step, seen in (
        ("gather", "Weeks of ready backlog"),
        ("balance", "Electrician"),
        ("agree", "Operations"),
        ("crew", "People"),
        ("publish", "Publish"),
        ("run", "compliance"),
    ):
        page.goto(f"/week/{WEEK}/{step}")
        expect(page.locator(".ant-spin")).to_have_count(0)
        expect(page.get_by_text(seen).first).to_be_visible()
        assert breaches(page) == [], step
    other = open_as("sven")
    assert other.evaluate("document.documentElement.style.colorScheme") == "dark"
    other.get_by_role("link", name="You").click()
    other.get_by_role("radiogroup", name="Colours").get_by_text("Light").click()
    expect(other.locator("html")).to_have_css("color-scheme", "light")


def test_at_twice_the_size_everything_stands_in_one_column_and_breaks_no_such_rule(open_as: Open) -> None:
    page = open_as("mila")
    page.get_by_role("link", name="You").click()
    pick(page.get_by_label("Size of everything"), "200 %")
    expect(page.locator(".ant-select-dropdown:not(.ant-select-dropdown-hidden)")).to_have_count(0)
    assert breaches(page) == [], "you"
    for step in ("gather", "balance", "agree", "crew", "publish", "run"):
        page.goto(f"/week/{WEEK}/{step}")
        expect(page.locator(".ant-spin")).to_have_count(0)
        page.get_by_role("navigation", name="Steps of the week").wait_for()
        expect(page.get_by_role("complementary").first).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), step
        assert breaches(page) == [], step
    page.get_by_role("link", name="You").click()
    pick(page.get_by_label("Size of everything"), "100 %")


def test_days_figures_and_weeks_are_written_in_ones_own_way_on_every_browser(open_as: Open) -> None:
    page = open_as("mila")
    page.get_by_role("link", name="You").click()
    page.get_by_role("radio", name="7,5 h").check()
    page.get_by_role("radio", name="Tue 1.12.").check()
    page.get_by_role("radio", name="49/2026").check()
    other = open_as("mila", "balance")
    expect(other.get_by_role("heading", name=f"{int(WEEK[6:])}/{WEEK[:4]}")).to_be_visible()
    expect(other.get_by_role("columnheader", name=re.compile(r"^Tue \d+\.\d+\.$"))).to_be_visible()
    for usual in ("7.5 h", "Tue 1 Dec", "2026-W49"):
        page.get_by_role("radio", name=usual).check()


def test_set_up_files_work_and_the_sign_in_break_no_such_rule_either(open_as: Open) -> None:
    page = open_as("sven")
    for path, seen in (
        ("/setup", "Price of overtime"),
        ("/files", "Bring files in"),
        ("/work/requests?open=R-1001", "Asked and answered"),
        ("/work/plans?open=JP-1002", "Planned and spent"),
        ("/work/desk", "Weeks of ready work"),
    ):
        page.goto(path)
        expect(page.get_by_text(seen).first).to_be_visible()
        assert breaches(page) == [], path
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    assert breaches(page) == []


@pytest.mark.parametrize(
    ("step", "shown", "chosen"),
    [
        ("gather", ("grid", "Backlog"), ".gr.at"),
        ("crew", ("grid", "People by day"), ".cell.picked"),
        ("run", ("grid", "Tasks of the week"), ".gr.at"),
        ("agree", ("button", "WO-"), ".spot.picked"),
    ],
)
def test_what_arrows_pick_stays_in_sight_down_and_up_a_long_board(
    open_as: Open, step: str, shown: tuple[str, str], chosen: str
) -> None:
    page = open_as("sven", step)
    page.get_by_role(shown[0], name=re.compile(shown[1])).first.wait_for()  # type: ignore[arg-type]
    for key, times in (("ArrowDown", 35), ("ArrowUp", 20)):
        for _ in range(times):
            page.keyboard.press(key)
        expect(page.locator(chosen)).to_be_focused()
        assert page.locator(chosen).evaluate(IN_SIGHT), f"after {times} times {key}"


def test_the_last_row_of_a_long_list_is_one_key_away_and_so_is_the_first(open_as: Open) -> None:
    page = open_as("sven", "gather")
    grid = page.get_by_role("grid", name="Backlog")
    first = grid.get_by_role("row").nth(1).inner_text()
    rows = int(grid.get_attribute("aria-rowcount") or 0)
    page.keyboard.press("End")
    last = page.locator(f"[aria-rowindex='{rows}']")
    expect(last).to_be_focused()
    page.wait_for_function(IN_SIGHT, arg=last.element_handle())
    page.keyboard.press("Home")
    expect(page.locator("[aria-rowindex='2']")).to_be_focused()
    expect(page.locator("[aria-rowindex='2']")).to_have_text(first, use_inner_text=True)


def test_windows_of_an_asset_are_walked_through_by_arrows(open_as: Open) -> None:
    page = open_as("olivia", "agree")
    page.get_by_role("button", name=re.compile("^WO-")).first.wait_for()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    side = page.get_by_role("complementary", name="Agreement")
    expect(side.get_by_role("heading", name=re.compile("Work window|Must run"))).to_be_visible()
    first = page.locator(".agree .picked").first.get_attribute("aria-label")
    page.keyboard.press("ArrowRight")
    expect(page.locator(".agree .picked").first).not_to_have_attribute("aria-label", first or "")
    page.keyboard.press("ArrowLeft")
    expect(page.locator(".agree .picked").first).to_have_attribute("aria-label", first or "")


def test_enter_presses_the_button_that_has_the_focus_and_opens_no_job(open_as: Open) -> None:
    page = open_as("sven", "gather")
    overdue = page.get_by_role("button", name="Overdue")
    page.get_by_role("grid", name="Backlog").wait_for()
    overdue.focus()
    page.keyboard.press("Enter")
    expect(overdue).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("complementary", name="The backlog by craft")).to_be_visible()


def test_a_job_is_moved_through_the_menu_by_keyboard_alone(open_as: Open) -> None:
    page = open_as("sven", "balance")
    tank = page.get_by_role("gridcell", name=re.compile("^Electrician, Thu 3 Dec"))
    tank.click()
    side = page.get_by_role("complementary")
    expect(side.get_by_role("heading", name="Electrician, Thu 3 Dec")).to_be_visible()
    before = tank.text_content()
    side.get_by_role("button", name="Move to").focus()
    page.keyboard.press("Enter")
    first = page.get_by_role("menuitem").first
    expect(first).to_be_focused()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("menuitem").nth(1)).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("Move .* to Tue 1 Dec")).first).to_be_visible()
    page.keyboard.press("z")
    expect(tank).to_have_text(before or "")


def test_no_key_does_anything_behind_a_panel_that_lies_over_the_screen(open_as: Open) -> None:
    page = open_as("sven", "run")
    rows = page.get_by_role("grid", name="Tasks of the week").get_by_role("row")
    to_do = rows.filter(has_text="to do").first
    to_do.click()
    title = to_do.text_content()
    page.keyboard.press("m")
    drawer = page.get_by_role("dialog", name="Mend week 49")
    expect(drawer.get_by_text(re.compile("Nothing has to move|moves?")).first).to_be_visible()
    drawer.get_by_role("button", name="Close").focus()
    page.keyboard.press("e")
    page.keyboard.press("2")
    expect(drawer).to_be_visible()
    page.keyboard.press("Escape")
    expect(drawer).to_be_hidden()
    assert "/run" in page.url
    expect(rows.filter(has_text=title or "?")).not_to_have_count(0)


def work_order(page: Page) -> Locator:
    page.get_by_role("grid", name="Backlog").wait_for()
    page.keyboard.press("w")
    return page.get_by_role("dialog", name="New WO")


def test_a_form_that_was_begun_is_not_thrown_away_by_escape(open_as: Open) -> None:
    page = open_as("sven", "gather")
    form = work_order(page)
    page.keyboard.press("Escape")
    expect(form).to_be_hidden()
    form = work_order(page)
    form.get_by_label("Title").fill("Grease the spare grip")
    page.keyboard.press("Escape")
    form.get_by_role("button", name="Leave it").focus()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+k")
    expect(form.get_by_label("Title")).to_have_value("Grease the spare grip")
    form.get_by_role("button", name="Leave it").click()
    expect(form).to_be_hidden()


def test_the_tab_of_the_browser_says_which_screen_it_is(open_as: Open) -> None:
    page = open_as("rene", "crew")
    expect(page).to_have_title("Crew 2026-W49 · Nundine")
    page.keyboard.press("2")
    expect(page).to_have_title("Balance 2026-W49 · Nundine")
