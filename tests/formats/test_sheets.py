"""Crew sheets on paper: what stands on them is the same whether they are laid out at once or beside the
server."""

from __future__ import annotations

import io
from zoneinfo import ZoneInfo

import pypdf
import pytest

from nundine.formats import paper, sheets
from nundine.formats.sheets import CrewSheet, SheetLine, crew_sheets_pdf


def sheet(name: str, lines: int) -> CrewSheet:
    found = tuple(
        SheetLine(
            f"2026-12-0{1 + n % 5}",
            "2026-12-01T07:00:00+01:00",
            "2026-12-01T09:00:00+01:00",
            2.0,
            f"WO-{2000 + n}",
            "Haul rope <inspection>",
            "10 Inspect",
            "Crest gondola",
            "stopped",
            name,
            [],
        )
        for n in range(lines)
    )
    return CrewSheet(name, name, found)


def text(data: bytes) -> list[str]:
    return [" ".join(page.extract_text().split()) for page in pypdf.PdfReader(io.BytesIO(data)).pages]


def made(*of: CrewSheet, people: bool = False) -> list[str]:
    return text(
        crew_sheets_pdf("Tarnfell", "week 2026-W49", 1, "published", ZoneInfo("Europe/Zurich"), of, people)
    )


def test_sheets_laid_out_beside_the_server_say_what_those_laid_out_at_once_say(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    of = [sheet("Sven Berg", sheets.SHORT), sheet("ليلى منصور", 3)]
    beside = made(*of)
    monkeypatch.setattr(sheets, "SHORT", 1000)
    assert beside == made(*of)
    assert len(beside) >= 2
    assert "revision 1" in beside[0]
    assert beside[0].count("Haul rope <inspection>") >= 5


def test_each_sheet_begins_on_a_page_of_its_own_and_nobody_with_work_is_a_page_that_says_so() -> None:
    pages = made(sheet("Sven Berg", 2), sheet("Ana Li", 2))
    assert [name in page for name, page in zip(("Sven Berg", "Ana Li"), pages, strict=True)] == [True, True]
    assert "Nobody has work in these days yet" in made()[0]


def test_what_went_wrong_while_pages_were_laid_out_is_told_and_not_an_empty_file(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(paper.sys, "executable", "false")
    with pytest.raises(RuntimeError, match="could not be laid out"):
        paper.pdf_aside("<p>Monday</p>")
