"""Files in: all or nothing, every wrong row named; the same file again changes nothing; out and in again is
equal."""

from __future__ import annotations

import io
import zipfile

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.services.admin.sites import make_site
from nundine.services.exchange.exporting import export_csv, export_xlsx, template_xlsx
from nundine.services.exchange.importing import run_import
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.stored_rows import changes_of, standing
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.store.base import db
from nundine.store.site import Site
from tests.conftest import clear
from tests.examples import examples

ALL = list(KINDS)


def new_site(name: str) -> None:
    with db.atomic():
        make_site(name, "Europe/Zurich")


def everything() -> dict[str, list[dict]]:
    return {name: standing(name) for name in ALL}


def csv_file(name: str, *rows: str) -> tuple[str, bytes]:
    return (f"{name}.csv", "\n".join(rows).encode())


@pytest.mark.long
def test_what_is_taken_out_comes_back_in_unchanged(demo: None) -> None:
    before = everything()
    for files in ([("all.xlsx", export_xlsx())], [(f"{n}.csv", export_csv(n)) for n in ALL]):
        report = run_import(files)
        assert report.done
        assert not report.errors
        assert all(n["new"] == n["changed"] == 0 for n in report.kinds.values())
    assert everything() == before


WINDOWS = "asset,kind,start,end"


@pytest.mark.parametrize(
    "second",
    [
        "N1,run,2027-03-02 01:00,2027-03-02 06:00",
        "N1,work,2027-03-02 01:00,2027-03-02 06:00",
        "N1-1,run,2027-03-01 20:00,2027-03-01 23:00",
    ],
)
def test_windows_that_contradict_each_other_in_a_file_are_refused_by_row(demo: None, second: str) -> None:
    before = everything()
    first = "N1,work,2027-03-01 22:00,2027-03-02 02:00"
    report = run_import([csv_file("windows", WINDOWS, first, second)])
    (error,) = report.errors
    assert error.column == "start"
    assert f"in row {5 - error.row}" in error.reason, "of the two rows each is named"
    assert everything() == before
    beside = second.replace("01:00", "02:00").replace("20:00", "19:00").replace("23:00", "22:00")
    assert run_import([csv_file("windows", WINDOWS, first, beside)]).done, "what only meets it comes in"


def test_a_window_of_a_file_that_contradicts_one_that_stands_is_refused_with_its_hours(demo: None) -> None:
    assert run_import([csv_file("windows", WINDOWS, "N1,work,2027-03-01 22:00,2027-03-02 02:00")]).done
    report = run_import([csv_file("windows", WINDOWS, "N1,run,2027-03-02 01:00,2027-03-02 06:00")])
    assert [(e.row, e.column) for e in report.errors] == [(2, "start")]
    assert "overlaps the work window of N1, 2027-03-01 22:00 to 2027-03-02 02:00" in report.errors[0].reason
    longer = csv_file("windows", WINDOWS, "N1,work,2027-03-01 22:00,2027-03-02 03:00")
    assert run_import([longer]).done, "the same window may be made longer"


@pytest.mark.long
def test_an_exported_site_fills_an_empty_one_with_the_same(demo: None) -> None:

    before, book = everything(), export_xlsx()
    clear()
    new_site("Copy")
    assert run_import([("all.xlsx", book)]).done
    after = everything()
    for name in ALL:
        key = KINDS[name].key
        assert sorted(before[name], key=lambda r: [str(r[k]) for k in key]) == sorted(
            after[name], key=lambda r: [str(r[k]) for k in key]
        )


def test_a_wrong_row_is_named_by_file_row_column_and_reason_and_nothing_comes_in(demo: None) -> None:
    before = everything()
    report = run_import(
        [
            csv_file(
                "work_orders",
                "number,title,asset,kind,raised",
                "WO-9001,Good,N1-1,corrective,2026-11-01",
                "WO-9002,Bad,moon,corective,tomorrow",
            ),
            csv_file(
                "tasks", "number,task,title,hours,needs", "WO-9001,10,Do,0,mech", "WO-9001,20,Do,2,juggler x2"
            ),
        ]
    )
    found = {(e.file, e.row, e.column) for e in report.errors}
    assert {
        ("work_orders.csv", 3, "kind"),
        ("work_orders.csv", 3, "raised"),
        ("tasks.csv", 2, "hours"),
        ("tasks.csv", 3, "needs"),
    } <= found
    assert all(e.reason for e in report.errors)
    assert not report.done
    assert everything() == before


def test_a_dry_run_tells_all_and_changes_nothing(demo: None) -> None:
    before = everything()
    report = run_import([csv_file("areas", "area,name", "north,Far north", "east,East")], dry_run=True)
    assert report.kinds["areas"] == {"new": 1, "changed": 1, "unchanged": 0}
    assert not report.done
    assert everything() == before


@pytest.mark.parametrize(
    ("name", "data", "word"),
    [
        ("x.csv", b"colour,shape\nred,round", "fit none of the tables"),
        ("x.csv", "area;name\nnörd;Nörd".encode("latin-1"), "UTF-8"),
        ("x.xlsx", b"PK\x03\x04broken", "XLSX"),
        ("areas.csv", b"area,area,name\na,b,c", "twice"),
        ("areas.csv", b"area\nnorth", "missing"),
        ("areas.csv", b"", "first row"),
        ("areas.csv", b"area,name,colour\na,b,c", "unknown column"),
        (
            "tasks.csv",
            b"number,task,title,hours,needs,after\nWO-1804,10,a,1,mech,20\nWO-1804,20,a,1,mech,10",
            "circle",
        ),
    ],
)
def test_a_file_that_can_not_be_understood_says_why(demo: None, name: str, data: bytes, word: str) -> None:
    report = run_import([(name, data)])
    assert not report.done
    assert word in " ".join(f"{e.column} {e.reason}" for e in report.errors)


def test_a_formula_is_refused_and_text_that_looks_like_one_survives(demo: None) -> None:
    book = openpyxl.Workbook()
    book.active.title = "areas"
    book.active.append(["area", "name"])
    book.active.append(["x", "=1+1"])
    out = io.BytesIO()
    book.save(out)
    assert "formula" in run_import([("a.xlsx", out.getvalue())]).errors[0].reason
    assert run_import([csv_file("areas", "area,name", "x,'=1+1")]).done
    assert next(r for r in standing("areas") if r["area"] == "x")["name"] == "=1+1"
    assert all(n["changed"] == 0 for n in run_import([("all.xlsx", export_xlsx())]).kinds.values())
    assert b"'=1+1" in export_csv("areas")


def test_a_zip_bomb_is_not_opened(demo: None) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr("xl/worksheets/sheet1.xml", b"0" * (260 * 2**20))
    assert "unpacks to more" in run_import([("bomb.xlsx", out.getvalue())]).errors[0].reason


def test_the_template_is_itself_a_file_that_comes_in(fresh: None) -> None:
    new_site("New")
    report = run_import([("template.xlsx", template_xlsx())])
    assert report.done, report.errors
    assert all(n["new"] == 1 for n in report.kinds.values())


TEXTS = (
    st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), min_size=1, max_size=30)
    .map(str.strip)
    .filter(bool)
)


@examples(20)
@given(st.dictionaries(st.text("abcdefgh0123", min_size=1, max_size=8), TEXTS, min_size=1, max_size=6))
def test_any_names_survive_a_round_through_both_formats(fresh: None, names: dict[str, str]) -> None:
    if not Site.select().exists():
        new_site("New")

    with db.atomic():
        changes = changes_of({"areas": [{"area": k, "name": v} for k, v in names.items()]})
        write("files", None, Edit("import", "Areas", changes))
    before = standing("areas")
    for file in (("areas.csv", export_csv("areas")), ("all.xlsx", export_xlsx())):
        report = run_import([file])
        assert not report.errors
        assert report.kinds["areas"]["changed"] == report.kinds["areas"]["new"] == 0
    assert standing("areas") == before
