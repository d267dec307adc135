"""Columns guessed from names in capitals, run together or cut short, and from their shape; what nobody knows
yet is made."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.formats.foreign.making import key_for
from nundine.formats.foreign.mapping import ForeignMapping, guess
from nundine.formats.foreign.table import ForeignTable, foreign_tables
from nundine.formats.foreign.understand import Understood, understand
from tests.formats.test_foreign import KNOWN, ZONE

MOST = 5000
TEXTS = ("REPLACE SEAL", "NOISE IN GEARBOX", "DOOR DOES NOT CLOSE", "OIL LEAK BELOW DRIVE", "CHECK BRAKE")


def bare_list(rows: int = MOST) -> ForeignTable:
    """A date, an asset's letter, a short text in capitals, a type code and a cost; nothing else."""
    lines = ["DAY;MCH;TXT;TYP;CST"]
    lines += [
        f"{n % 28 + 1:02}.{n % 12 + 1:02}.2025;{'ABCDEFGH'[n % 8]};{TEXTS[n % 5]} {n};"
        f"{'KVR'[n % 3]};{n * 7 % 900}.50"
        for n in range(rows)
    ]
    return foreign_tables("old.csv", "\n".join(lines).encode())[0]


def answered(table: ForeignTable) -> ForeignMapping:
    found = guess(table, KNOWN)
    return replace(
        found,
        dates=found.dates or "dmy",
        values={"kind": {"K": "corrective", "V": "preventive", "R": "breakdown"}},
        defaults={**found.defaults, "hours": "2", "hours preventive": "1", "craft": "mech", "area": "north"},
        make=["asset"],
    )


def read(table: ForeignTable, mapping: ForeignMapping) -> Understood:
    return understand(table, mapping, {**KNOWN, "area": {"north": "north"}}, ZONE)


@pytest.mark.parametrize(
    ("column", "field"),
    [
        ("WORKORDERNO", "number"), ("WO_NUMBER", "number"), ("ORDERNO", "number"), ("EQUIPMENTNO", "asset"),
        ("MACH", "asset"), ("EQUIP", "asset"), ("DESCR", "description"),
        ("DURATN", "hours"), ("HRS", "hours"),
        ("WORKTYPE", "kind"), ("DueDate", "due"), ("DUEDT", "due"), ("STAT", "state"), ("CRFT", "craft"),
        ("AUFTRAGSART", "kind"), ("SHORTTEXT", "title"), ("MachineName", "asset_name"), ("DEPT", None),
    ],
)  # fmt: skip
def test_names_in_capitals_run_together_or_cut_short_are_understood(column: str, field: str | None) -> None:
    samples = {
        "hours": "1.5", "due": "03.12.2026", "number": "A-17", "kind": "repair", "state": "open",
        "craft": "mech",
    }  # fmt: skip
    table = ForeignTable("t", (column, "zz1"), ((2, (samples.get(field or "", "word one"), "1")),) * 3, "CSV")
    assert guess(table, KNOWN).columns.get(field or "hours") == (column if field else None)


def test_a_bare_list_of_five_thousand_lines_is_understood_and_found_again_next_week() -> None:
    table = bare_list()
    mapping = answered(table)
    assert mapping.columns == {"title": "TXT", "asset": "MCH", "kind": "TYP", "raised": "DAY"}
    said = read(table, mapping)
    assert said.problems == [] and len(said.orders) == MOST
    assert set(said.made.records["asset"]) == set("ABCDEFGH")
    assert {g for its in said.guessed.values() for g in its} == {"hours", "craft"}
    later = replace(table, rows=tuple(reversed(table.rows[100:])))
    assert set(read(later, mapping).orders) <= set(said.orders)


def test_a_column_that_is_missing_is_told_once_and_not_as_a_row() -> None:
    table = bare_list(20)
    problems = read(
        table, replace(answered(table), defaults={"kind": "corrective", "area": "north"})
    ).problems
    assert [(p.row, p.field) for p in problems] == [(0, "hours"), (0, "craft")]


def test_new_assets_need_an_area_and_say_so() -> None:
    table = bare_list(20)
    mapping = answered(table)
    bare = replace(mapping, defaults={k: v for k, v in mapping.defaults.items() if k != "area"})
    said = understand(table, bare, {**KNOWN, "area": {"north": "north", "lake": "lake"}}, ZONE)
    assert [(p.row, p.field) for p in said.problems] == [(0, "area")]
    assert read(table, bare).problems == []  # where there is one area, it lies there


def test_what_is_made_takes_its_name_and_area_from_the_row_and_only_what_is_used_is_made() -> None:
    text = (
        "order;machine;machine name;zone;craft;hours\n1;Q7;Press seven;Hall 2;Fettler;2\n2;Q8;Saw;Hall 3;;x\n"
    )
    table = foreign_tables("x.csv", text.encode())[0]
    found = guess(table, KNOWN)
    assert found.columns["asset_name"] == "machine name" and found.columns["area"] == "zone"
    mapping = replace(
        found,
        columns={**found.columns, "title": "machine name", "hours": "hours"},
        make=["asset", "area", "craft"],
        defaults={"craft": "mech"},
    )
    said = understand(table, mapping, {**KNOWN, "area": {}}, ZONE).without_problems()
    made = {kind: list(r.values()) for kind, r in said.made.records.items()}
    assert [(r.key, r.name, r.area) for r in made["asset"]] == [("Q7", "Press seven", "Hall 2")]
    assert [r.key for r in made["area"]] == ["Hall 2"] and [r.key for r in made["craft"]] == ["fettler"]


@given(st.text(min_size=1, max_size=80))
def test_a_key_is_made_of_any_word_or_refused_in_words(word: str) -> None:
    for kind in ("asset", "area", "craft"):
        try:
            key = key_for(kind, word)
        except ValueError as bad:
            assert str(bad)
        else:
            assert key and ";" not in key and len(key) <= 60
