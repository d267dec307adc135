"""Costly and broken files end in a report, soon, and beside the server."""

from __future__ import annotations

import io
import time
import zipfile
from pathlib import Path

import pytest
from openpyxl import Workbook

from nundine.formats import confined as confining
from nundine.formats.bad import BadFile
from nundine.formats.confined import confined
from nundine.formats.foreign.table import foreign_tables
from nundine.formats.tables import read_tables

READERS = (read_tables, foreign_tables)


def workbook(rows: list[list[object]]) -> bytes:
    book = Workbook()
    for row in rows:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def with_sheet(change: dict[bytes, bytes], cut: int | None = None) -> bytes:
    """A sound workbook whose first sheet's XML was changed, or cut off."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(workbook([["area", "name"], ["north", "North"]]))) as old,
        zipfile.ZipFile(out, "w") as new,
    ):
        for part in old.infolist():
            body = old.read(part)
            if part.filename == "xl/worksheets/sheet1.xml":
                for a, b in change.items():
                    assert a in body
                    body = body.replace(a, b)
                body = body[:cut]
            new.writestr(part, body)
    return out.getvalue()


def bomb() -> bytes:
    """A megabyte that unpacks to a gigabyte."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as pack:
        pack.writestr("xl/worksheets/sheet1.xml", b" " * 2**20 * 300)
    return out.getvalue()


BROKEN = {
    "equal headings by the hundred thousand": b"a," * 200_000 + b"\n1,2\n",
    "rows without end": b"area,name\n" + b"n,N\n" * 250_000,
    "a field past all limits": b"area,name\nnorth," + b"x" * 200_000 + b"\n",
    "a field that is never closed": b'area,name\nnorth,"' + b"x\n" * 100_000,
    "broken UTF-16": b"\xff\xfe" + "area,name\n".encode("utf-16-le") + b"\x00\xd8\x01",
    "a control character in a heading": b"area,na\x01me\nnorth,N\n",
    "a workbook that is cut off": workbook([["area", "name"], ["north", "North"]])[:-300],
    "a sheet that is cut off": with_sheet({}, 400),
    "a cell with a broken reference": with_sheet({b'r="A1"': b'r="1A!"'}),
    "a cell far outside": with_sheet({b'r="A2"': b'r="AAAAAAAA99999999999"'}),
    "a packed bomb": bomb(),
    "no workbook inside": b"PK\x03\x04 and nothing else",
}


@pytest.mark.parametrize("what", BROKEN)
@pytest.mark.parametrize("read", READERS)
def test_a_broken_or_costly_file_is_read_soon_or_refused_in_words(read, what: str) -> None:
    began = time.process_time()
    try:
        tables = confined(read, "file.csv", BROKEN[what])
    except BadFile as bad:
        assert "file.csv" in str(bad) or "file" in str(bad)
    else:
        assert tables, "what can be read is read"
    assert time.process_time() - began < 5, "the work is done elsewhere"


def test_a_sound_file_comes_back_as_it_is() -> None:
    data = workbook([["area", "name"], ["north", "North valley"]])
    assert confined(read_tables, "a.xlsx", data) == read_tables("a.xlsx", data)
    csv = "area;name\nnorth;Nördliches Tal\n".encode()
    assert confined(foreign_tables, "a.csv", csv) == foreign_tables("a.csv", csv)


def read_for_ever(name: str, data: bytes) -> None:
    while True:
        pass


def read_all_memory(name: str, data: bytes) -> int:
    return len([bytes(2**24) for _ in range(1000)])


def read_and_die(name: str, data: bytes) -> None:
    raise SystemExit(7)


@pytest.mark.parametrize("read", [read_for_ever, read_all_memory, read_and_die])
def test_a_reader_that_goes_astray_is_ended_and_told(read, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(confining, "LONGEST", 4)
    monkeypatch.setenv("PYTHONPATH", str(Path(__file__).resolve().parents[2]))
    with pytest.raises(BadFile, match="longer|more time|memory"):
        confined(read, "a.csv", b"x")
