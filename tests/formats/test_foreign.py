"""Exports of other systems are understood as they were meant, asked about where they can be read in two ways,
or refused."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from random import Random
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from nundine.demo import crew, exports, places
from nundine.formats.foreign import cells
from nundine.formats.foreign.cells import Ambiguous, BadCell, plain
from nundine.formats.foreign.mapping import ForeignMapping, guess, questions
from nundine.formats.foreign.table import ForeignTable, foreign_tables
from nundine.formats.foreign.understand import Understood, understand
from nundine.formats.tables import BadFile

ZONE, WEEK = ZoneInfo("Europe/Zurich"), "2026-W49"
KNOWN = {
    "asset": {plain(w): a["asset"] for a in places.assets() for w in (a["name"], a["asset"])},
    "craft": {plain(w): k for k, n, _ in crew.CRAFTS for w in (n, k)},
}
GERMAN = {
    "Mechanik": "mech",
    "Elektro": "elec",
    "Hilfskraft": "hand",
    "Schweissen": "weld",
    "Hydraulik": "hyd",
    "Steuerung": "ctrl",
}


def opened(name: str, later: bool = False) -> tuple[ForeignTable, ForeignMapping]:
    table = foreign_tables(name, exports.files(WEEK, later)[name])[0]
    return table, guess(table, KNOWN)


def said(name: str) -> Understood:
    table, mapping = opened(name)
    return understand(
        table, replace(mapping, values={"craft": GERMAN}, dates=mapping.dates or "mdy"), KNOWN, ZONE
    )


def meant(area: str) -> dict[str, list[tuple[float, str, int]]]:
    return {o.number: [(h, c, p) for _, c, h, p in o.steps] for o in exports._orders(area, WEEK, False)}


@pytest.mark.parametrize(("name", "area"), [("north-open-work.csv", "north"), ("lake-open-work.csv", "lake")])
def test_an_export_with_a_row_for_each_task_says_what_its_maker_meant(name: str, area: str) -> None:
    found = said(name)
    assert found.problems == []
    assert {
        n: [(t["hours"], t["needs"][0][0], t["needs"][0][1]) for t in tasks.values()]
        for n, tasks in found.tasks.items()
    } == meant(area)


def test_an_export_with_a_row_for_each_wo_becomes_wos_of_one_task() -> None:
    found = said("middle-open-work.xlsx")
    assert found.problems == []
    assert {n: [t["hours"] for t in tasks.values()] for n, tasks in found.tasks.items()} == {
        n: [sum(h for h, _, _ in s)] for n, s in meant("middle").items()
    }
    dues = {o.number: o.due for o in exports._orders("middle", WEEK, False)}
    assert {n: o["due"] and o["due"].astimezone(ZONE).date() for n, o in found.orders.items()} == dues


def test_lines_of_totals_and_rows_said_twice_are_left_out_and_told() -> None:
    assert "1 line of totals left out" in said("north-open-work.csv").notes
    assert "1 row says the very same again and is taken once" in said("lake-open-work.csv").notes


def test_the_names_of_columns_are_found_below_titles_in_any_encoding_and_separator() -> None:
    assert opened("north-open-work.csv")[0].read_as == "Windows-1252, columns parted by ;"
    assert opened("middle-open-work.xlsx")[0].read_as == "spreadsheet, names in row 4"
    wide = foreign_tables("w.csv", "Job\tHours\tWhere\n1\t2\tü\n".encode("utf-16"))[0]
    assert (wide.columns, wide.rows[0][1]) == (("Job", "Hours", "Where"), ("1", "2", "ü"))


def test_dates_that_can_be_read_in_two_ways_are_asked_about_and_not_guessed() -> None:
    table, mapping = opened("middle-open-work.xlsx")
    assert mapping.dates is None
    assert [q.what for q in questions(table, mapping)] == ["dates"]
    problems = understand(table, mapping, KNOWN, ZONE).problems
    assert problems
    assert all("say which" in p.text for p in problems)
    assert questions(table, replace(mapping, dates="mdy")) == []


def test_a_word_without_a_meaning_is_named_with_its_row_and_can_be_given_one() -> None:
    table, mapping = opened("north-open-work.csv")
    problems = understand(table, mapping, KNOWN, ZONE).problems
    assert {p.word for p in problems} <= set(GERMAN)
    assert all(p.row > 1 and p.column == "Gewerk" for p in problems)
    assert understand(table, replace(mapping, values={"craft": GERMAN}), KNOWN, ZONE).problems == []


def test_a_wo_that_stands_twice_and_differently_is_refused() -> None:
    text = "wo,title,asset,hours,craft\nA1,Mend,N1,2,mech\nA1,Mend,N1,3,mech\n"
    table = foreign_tables("x.csv", text.encode())[0]
    problems = understand(table, guess(table, KNOWN), KNOWN, ZONE).problems
    assert len(problems) == 1
    assert problems[0].row == 3
    assert "already" in problems[0].text


@pytest.mark.parametrize(
    ("cell", "hours"),
    [
        ("1:30", 1.5),
        ("1,5", 1.5),
        ("1.5", 1.5),
        ("90 min", 1.5),
        ("1h30", 1.5),
        ("2 h", 2.0),
        ("0,75 Std", 0.75),
        (time(1, 30), 1.5),
        (timedelta(hours=26), 26.0),
        (2, 2.0),
        (" 3 ", 3.0),
    ],
)
def test_hours_are_read_as_people_write_them(cell: object, hours: float) -> None:
    assert cells.hours(cell, "h", None) == hours


@pytest.mark.parametrize(
    "cell",
    [
        "03.12.2026",
        "3.12.26",
        "2026-12-03",
        "20261203",
        "3-Dec-2026",
        "3. Dez. 2026",
        "3 décembre 2026",
        "Do, 3. Dezember 2026",
        "Dec 3, 2026",
        datetime(2026, 12, 3),
        date(2026, 12, 3),
        46359,
    ],
)
def test_dates_that_say_it_themselves_are_read_without_a_question(cell: object) -> None:
    assert cells.moment(cell, None) == (date(2026, 12, 3), None)


@pytest.mark.parametrize("cell", ["31.02.2026", "2027-02-29", "30 Feb 2026", "tomorrow", "99/99/2026"])
def test_what_is_no_day_of_the_calendar_is_refused(cell: str) -> None:
    with pytest.raises(BadCell):
        cells.moment(cell, None)


def test_the_29th_of_february_is_a_day_in_a_leap_year() -> None:
    assert cells.moment("29/02/2028", "dmy")[0] == date(2028, 2, 29)


@given(
    st.dates(date(2000, 1, 1), date(2099, 12, 31)),
    st.sampled_from(("dmy", "mdy", "ymd")),
    st.sampled_from("/-"),
)
def test_a_date_written_in_a_style_comes_back_and_is_ambiguous_only_where_two_days_fit(
    day: date, style: str, sign: str
) -> None:
    parts = {"d": f"{day.day:02}", "m": f"{day.month:02}", "y": f"{day.year}"}
    text = sign.join(parts[c] for c in style)
    assert cells.moment(text, style)[0] == day
    try:
        assert cells.moment(text, None)[0] == day
    except Ambiguous:
        assert style != "ymd"
        assert day.day <= 12
        assert day.day != day.month


@given(st.decimals(0, 99999, places=2), st.sampled_from(".,"))
def test_a_figure_comes_back_with_the_decimal_sign_that_it_was_written_with(value: object, mark: str) -> None:
    text = f"{value:.2f}".replace(".", mark)
    assert cells.figure(text, mark) == pytest.approx(float(value))
    assert mark in cells.decimal_marks([text])


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6))
def test_an_export_with_its_rows_and_columns_shuffled_is_refused_or_says_the_same(seed: int) -> None:
    r = Random(seed)
    name = r.choice(("north-open-work.csv", "lake-open-work.csv"))
    table, mapping = opened(name)
    mapping = replace(mapping, values={"craft": GERMAN})
    whole = understand(table, mapping, KNOWN, ZONE)
    order = list(range(len(table.columns)))
    r.shuffle(order)
    groups: list[list[tuple]] = []
    for row in table.rows:
        if row[1][table.columns.index(mapping.columns["number"])]:
            groups.append([])
        groups[-1].append(row)
    r.shuffle(groups)
    rows = [(n, tuple(cells_[k] for k in order)) for g in groups for n, cells_ in g]
    made = replace(table, columns=tuple(table.columns[k] for k in order), rows=tuple(rows))
    again = understand(made, mapping, KNOWN, ZONE)
    same = {n: dict(o.items()) for n, o in again.orders.items()} == whole.orders
    hours = {n: sorted(t["hours"] for t in ts.values()) for n, ts in again.tasks.items()}
    assert again.problems or (
        same and hours == {n: sorted(t["hours"] for t in ts.values()) for n, ts in whole.tasks.items()}
    )


@settings(max_examples=120, deadline=None)
@given(st.integers(0, 10**6))
def test_an_export_with_a_cell_spoiled_is_refused_with_its_row_or_changes_only_that_wo(seed: int) -> None:
    r = Random(seed)
    table, mapping = opened("north-open-work.csv")
    mapping = replace(mapping, values={"craft": GERMAN})
    whole = understand(table, mapping, KNOWN, ZONE)
    at = r.randrange(len(table.rows) - 2)
    column = r.randrange(1, len(table.columns))
    number, content = table.rows[at]
    spoiled = list(content)
    spoiled[column] = r.choice(["", "?", "-7", "99/99/99", "x" * 500, "1e9", "ليلى", "=1+1", "0"])
    rows = (*table.rows[:at], (number, tuple(spoiled)), *table.rows[at + 1 :])
    found = understand(replace(table, rows=rows), mapping, KNOWN, ZONE)
    order = content[table.columns.index("Auftrag")]
    assert all(p.number == order for p in found.problems)
    for other in whole.orders.keys() - {order}:
        assert found.orders[other] == whole.orders[other]
        assert found.tasks[other] == whole.tasks[other]


def listed(*rows: str, mapping: ForeignMapping | None = None) -> Understood:
    """A list that has no column of numbers, as it is understood."""
    (table,) = foreign_tables("list.csv", "\n".join(("DATE;ASSET;TEXT;HOURS", *rows)).encode())
    columns = {"raised": "DATE", "asset": "ASSET", "title": "TEXT", "hours": "HOURS"}
    found = mapping or ForeignMapping(columns=columns, dates="dmy", decimals=",", defaults={"craft": "mech"})
    known = {**KNOWN, "asset": {**KNOWN["asset"], "a": "N1-1", "b": "N1-2"}}
    return understand(table, found, known, ZONE)


def test_a_list_without_numbers_is_given_such_that_the_next_file_finds_again() -> None:
    before = listed("03.11.2026;A;GREASE BEARING;2", "04.11.2026;B;MEND FENCE;1", "05.11.2026;A;OIL;1")
    after = listed("05.11.2026;A;Oil;1,5", "2026-11-03;A;GREASE  BEARING;4", "06.11.2026;A;NEW;1")
    assert not before.problems and not after.problems
    by_title = lambda said: {plain(o["title"]): n for n, o in said.orders.items()}  # noqa: E731
    assert by_title(before)["grease bearing"] == by_title(after)["grease bearing"]
    assert by_title(before)["oil"] == by_title(after)["oil"]
    assert len(set(before.orders) | set(after.orders)) == 4
    assert any("no column holds a WO number" in n for n in before.notes)


def test_of_rows_that_say_the_same_work_each_has_a_number_and_one_said_again_has_the_same() -> None:
    found = listed("03.11.2026;A;OIL;1", "03.11.2026;A;OIL;2", "03.11.2026;A;OIL;1", "TOTAL;;;4")
    assert not found.problems
    first, second = found.orders
    assert second == f"{first}-2"
    assert [t["10"]["hours"] for t in found.tasks.values()] == [1.0, 2.0]
    assert any("the very same again" in n for n in found.notes)


def test_hours_craft_and_kind_that_a_list_does_not_say_are_taken_as_was_said_for_them_and_marked() -> None:
    columns = {"raised": "DATE", "asset": "ASSET", "title": "TEXT", "hours": "HOURS"}
    said_for = {"craft": "mech", "kind": "preventive", "hours": "1", "hours preventive": "2.5"}
    mapping = ForeignMapping(columns=columns, dates="dmy", decimals=",", defaults=said_for)
    found = listed("03.11.2026;A;OIL;", "04.11.2026;B;FENCE;3", mapping=mapping)
    assert not found.problems
    oil, fence = found.orders
    assert (found.tasks[oil]["10"]["hours"], found.tasks[fence]["10"]["hours"]) == (2.5, 3.0)
    assert found.guessed == {oil: {"kind", "hours", "craft"}, fence: {"kind", "craft"}}
    assert any(n.startswith("1 WO does not say its hours") for n in found.notes)
    no_hours = replace(mapping, columns={k: v for k, v in columns.items() if k != "hours"})
    assert not listed("03.11.2026;A;OIL;", mapping=no_hours).problems
    nothing_said = replace(no_hours, defaults={"craft": "mech"})
    assert [p.field for p in listed("03.11.2026;A;OIL;", mapping=nothing_said).problems] == ["hours"]


def test_a_file_without_a_table_is_refused_in_words() -> None:
    for data in (b"", b"\n\n", b"1;2;3\n4;5;6\n", b"\0\0\0"):
        with pytest.raises(BadFile):
            foreign_tables("x.csv", data)


def test_a_formula_in_a_workbook_is_never_run() -> None:
    book = Workbook()
    book.active.append(["Job", "Hours", "Asset"])
    book.active.append(["1", "=1+1", "N1"])
    out = io.BytesIO()
    book.save(out)
    with pytest.raises(BadFile, match="formula"):
        foreign_tables("x.xlsx", out.getvalue())


def test_work_hours_of_all_people_are_shared_out_to_the_length_of_the_task() -> None:
    out = io.StringIO()
    csv.writer(out).writerows(
        [["Job", "Title", "Asset", "Labour hours", "People", "Craft"], ["1", "Lift", "N1", "6", "3", "mech"]]
    )
    table = foreign_tables("x.csv", out.getvalue().encode())[0]
    mapping = guess(table, KNOWN)
    assert mapping.hours_are == "work"
    assert understand(table, mapping, KNOWN, ZONE).tasks["1"]["10"]["hours"] == 2.0
