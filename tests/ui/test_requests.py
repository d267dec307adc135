"""A need is reported on a telephone, decided at a desk by keyboard, and whoever asked sees what became of
it."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.ui.conftest import Open, shown

PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c489"
    "0000000d4944415478da63fcffff3f0300050001ff"
    "a5f645400000000049454e44ae426082"
)


def requests(page: Page) -> None:
    page.get_by_role("navigation", name="Sections").get_by_role("link", name="Work", exact=True).click()
    page.get_by_role("grid", name="Requests").get_by_role("row").nth(1).wait_for()


def reported(page: Page) -> str:
    """The number under which a need was just reported."""
    told = page.get_by_text(re.compile(r"Thank you: R-\d+ is reported"))
    expect(told).to_be_visible()
    return re.search(r"R-\d+", told.inner_text())[0]  # type: ignore[index]


def test_a_need_is_reported_on_a_telephone_with_a_photo_and_becomes_a_wo_by_keyboard(
    open_as: Open, tmp_path: Path
) -> None:
    phone = open_as("karl", "run")
    phone.set_viewport_size({"width": 390, "height": 844})
    phone.goto("/work/report")
    phone.get_by_label("What did you see?").fill("Grille of the fan rattles")
    phone.get_by_label("On which asset?").fill("larch drive")
    phone.get_by_label("How urgent?").select_option("this week")
    photo = tmp_path / "grille.png"
    photo.write_bytes(PNG)
    phone.set_input_files("input[type=file]", photo)
    phone.get_by_role("button", name="Report it").click()
    number = reported(phone)
    expect(phone.get_by_role("button", name=re.compile(f"{number} .*new"))).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390

    desk = open_as("sven")
    requests(desk)
    desk.keyboard.press("/")
    desk.keyboard.type("rattles")
    desk.keyboard.press("Escape")
    rows = desk.get_by_role("grid", name="Requests").get_by_role("row")
    expect(rows).to_have_count(2)
    expect(rows.nth(1)).to_contain_text("Grille of the fan rattles")
    desk.keyboard.press("Enter")
    side = desk.get_by_role("complementary", name="The request")
    expect(side.get_by_role("img", name="grille.png")).to_be_visible()
    desk.keyboard.press("m")
    expect(
        desk.get_by_role("dialog", name=f"A WO for {number}").get_by_label("Hours of task 10")
    ).to_be_focused()
    for key in ("1:30", "Tab", "Tab", "Tab", "mech"):
        desk.keyboard.press(key) if key == "Tab" else desk.keyboard.type(key)
    expect(desk.get_by_role("dialog").get_by_text("→ Ropeway mechanic")).to_be_visible()
    desk.keyboard.press("Enter")
    expect(desk.get_by_text(re.compile(rf"WO-\d+ is made of {number}"))).to_be_visible()
    expect(rows.nth(1)).to_contain_text("in work")

    phone.reload()
    phone.get_by_role("button", name=re.compile(f"{number} .*in work")).click()
    expect(phone.get_by_text(re.compile("Grille of the fan rattles approved"))).to_be_visible()


def test_requests_are_decided_one_after_another_from_the_keyboard(open_as: Open) -> None:
    page = open_as("sven")
    requests(page)
    page.get_by_role("button", name="Open", exact=True).click()
    rows = page.get_by_role("grid", name="Requests").get_by_role("row")
    expect(shown(page, re.compile(r"^3\d requests$"))).to_be_visible()
    side = page.get_by_role("complementary", name="The request")
    expect(rows.nth(1)).to_contain_text("R-")
    first, second = ((rows.nth(n).inner_text().split())[0] for n in (1, 2))
    for key in ("Home", "Enter", "d"):
        page.keyboard.press(key)
    side.get_by_label("Why is it declined?").fill("Seen to in spring.")
    page.keyboard.press("Enter")
    expect(side.get_by_text(second, exact=True)).to_be_visible()
    expect(rows.nth(1)).to_contain_text(second)
    join = side.get_by_role("button", name=re.compile("^Join to WO-")).first
    for n in range(1, 12):  # the first that may be the same as a WO
        second = rows.nth(n).inner_text().split()[0]
        rows.nth(n).click()
        expect(side.get_by_text(second, exact=True)).to_be_visible()
        if join.count():
            break
    order = (join.get_attribute("aria-label") or "").split()[-1]
    join.click()
    expect(side.get_by_text(second, exact=True)).to_be_hidden()
    page.get_by_role("button", name="Open", exact=True).click()
    page.get_by_label("Search: requests").fill(second)
    expect(rows.nth(1)).to_contain_text(order)
    page.get_by_label("Search: requests").fill(first)
    expect(rows.nth(1)).to_contain_text("declined")
    rows.nth(1).click()
    expect(side.get_by_text("Seen to in spring.")).to_be_visible()
    side.get_by_role("button", name="Open again").click()
    expect(rows.nth(1)).to_contain_text("new")


def test_who_plans_nothing_sees_their_own_and_answers_what_is_asked_back(open_as: Open) -> None:
    page, desk = open_as("rene"), open_as("sven")
    page.get_by_role("navigation", name="Sections").get_by_role("link", name="Requests").click()
    page.get_by_label("What did you see?").fill("Lamp flickers")
    page.get_by_label("Or where?").fill("stairs to the valley station")
    page.get_by_role("button", name="Report it").click()
    number = reported(page)
    desk.goto(f"/work/requests?open={number}")
    side = desk.get_by_role("complementary", name="The request")
    side.get_by_role("button", name=re.compile("Ask back")).click()
    side.get_by_label("What do you want to know?").fill("Which lamp?")
    desk.keyboard.press("Enter")
    expect(side.get_by_text("asked back").first).to_be_visible()
    page.reload()
    page.get_by_role("button", name=re.compile(f"{number} .*asked back")).click()
    page.get_by_label("Say something").fill("The third.")
    page.get_by_role("button", name="Say it").click()
    expect(shown(page, "• new")).to_be_visible()
    expect(side.get_by_text("The third.")).to_be_visible()


def test_a_wo_shows_who_asked_for_it_keeps_notes_and_is_duplicated(open_as: Open) -> None:
    page = open_as("sven")
    requests(page)
    rows = page.get_by_role("grid", name="Requests").get_by_role("row")
    number = rows.filter(has_text="in work").first.inner_text()
    order = re.search(r"WO-\d+", number)[0]  # type: ignore[index]
    page.goto(f"/week/2026-W49/gather?job={order}")
    side = page.get_by_role("complementary")
    expect(side.get_by_role("region", name="Asked for by").get_by_role("link").first).to_be_visible()
    side.get_by_role("textbox", name="Note").fill("The key hangs at the desk.")
    page.keyboard.press("Enter")
    expect(side.get_by_text("The key hangs at the desk.")).to_contain_text("Sven Ostrova")
    side.get_by_role("button", name="Change", exact=True).click()
    page.get_by_role("button", name="Duplicate").click()
    twin = page.get_by_role("dialog", name="New WO")
    title = twin.get_by_label("Title").input_value()
    assert twin.get_by_label("Hours of task 10").input_value()
    twin.get_by_role("button", name="Make the WO").click()
    expect(twin).to_be_hidden()
    expect(side.get_by_role("heading", name=title)).to_be_visible()
    expect(side.get_by_text("The key hangs at the desk.")).to_be_hidden()
