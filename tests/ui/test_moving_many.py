"""Many WOs are moved at once in a list, read which were not and why, and moved back."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.ui.conftest import Open, shown


def test_chosen_wos_are_put_on_hold_one_says_why_not_and_all_is_taken_back(open_as: Open) -> None:
    page = open_as("sven")
    page.goto("/lists/work orders")
    rows = page.get_by_role("grid", name="Work orders").get_by_role("row")
    rows.nth(1).wait_for()
    page.keyboard.press("Home")
    for _ in range(14):
        page.keyboard.press("Shift+ArrowDown")
    expect(shown(page, re.compile(r"^\d+ chosen"))).to_be_visible()
    page.get_by_role("button", name="Set state").click()
    page.get_by_role("menuitem", name="Put on hold").click()
    told = page.get_by_role("dialog", name=re.compile(r"\d+ WOs moved, 10 not"))
    expect(told.get_by_text(re.compile(r"WO-9\d\d is done; it can become")).first).to_be_visible()
    expect(rows.filter(has_text="on hold")).not_to_have_count(0)
    told.get_by_role("button", name="Take it back").click()
    expect(shown(page, re.compile(r"\d+ WOs moved back"))).to_be_visible()
    expect(rows.filter(has_text="on hold")).to_have_count(0)
