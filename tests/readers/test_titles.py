"""Tables of titles, as spreadsheets write them and as they are copied; read again by none of our own writers."""

from __future__ import annotations

import csv
import io

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.document.scene import Scene
from mudskipper.core.ground.errors import Refused
from mudskipper.readers.titles import names_slots, read_titles
from tests.conftest import cases, layer, scene


def third() -> Scene:
    """A scene with three slots."""
    return scene(
        layer("Words", content={"kind": "text", "text": "Ines"}), layer("Plate"),
        slots=[
            {"id": "n", "name": "Name", "places": [{"layer": "words", "path": "content.text"}]},
            {"id": "r", "name": "Role", "places": [{"layer": "plate", "path": "opacity"}]},
            {"id": "g", "name": "Ground", "places": [{"layer": "plate", "path": "content.items.@0.fill"}]},
        ],
    )  # fmt: skip


ROWS = [["Ines Okafor-Lind", "12", "#fb4"], ["Bram; the 2nd, “pilot”", "", "coral"], ["سلمى\nالبحري", "7,5", ""]]


def written(delimiter: str, heads: list[str], rows: list[list[str]]) -> str:
    """A table as the standard library writes one."""
    out = io.StringIO()
    csv.writer(out, delimiter=delimiter).writerows([heads, *rows] if heads else rows)
    return out.getvalue()


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
def test_tables_are_read_whatever_parts_their_cells(delimiter: str, encoding: str) -> None:
    """Columns by their heads in any order and case, the rest told and left out; without heads in the slots' order."""
    named = written(delimiter, ["GROUND", "shoe size", " name "], [[row[2], "9", row[0]] for row in ROWS])
    read = read_titles(named.encode(encoding), "t.csv", third())
    assert read.slots == ("g", None, "n")
    assert read.notes == ("No slot is called “shoe size”.",)
    found = [{cell.slot: cell.text for cell in row.cells} for row in read.as_rows(read.slots)]
    assert found == [{"g": row[2], "n": row[0]} for row in ROWS]
    bare = read_titles(written(delimiter, [], ROWS).encode(encoding), "t.csv", third())
    assert (bare.heads, bare.slots) == ((), ("n", "r", "g"))
    assert [list(row) for row in bare.rows] == ROWS


cells = st.text(st.characters(codec="utf-8", exclude_characters="\r\x00", exclude_categories=["Cs"]), max_size=20)


@cases(60)
@given(rows=st.lists(st.tuples(cells, cells, cells), min_size=1, max_size=5))
def test_what_a_spreadsheet_copies_comes_as_it_stands(rows: list[tuple[str, str, str]]) -> None:
    """But for spaces around, and rows of nothing."""
    kept = [tuple(cell.strip() for cell in row) for row in rows if any(cell.strip() for cell in row)]
    text = written("\t", ["Name", "Role", "Ground"], [list(row) for row in rows])
    if not kept:
        with pytest.raises(Refused, match="no rows below"):
            read_titles(text.encode(), "t", third())
        return
    assert list(read_titles(text.encode(), "t", third()).rows) == kept


def workbook(*rows: list[object], merged: str = "") -> bytes:
    """A workbook of one sheet."""
    book = openpyxl.Workbook()
    sheet = book.worksheets[0]
    for row in rows:
        sheet.append(row)
    if merged:
        sheet.merge_cells(merged)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_workbooks_are_read_with_what_is_not_as_it_looks() -> None:
    """Numbers as short as they are told; merged cells and formulas without a value are said."""
    plain = read_titles(workbook(["Name", "Role"], ["Ines", 12], ["007", 0.5], [None, True]), "t.xlsx", third())
    assert plain.rows == (("Ines", "12"), ("007", "0.5"), ("", "yes"))
    assert plain.notes == ()
    odd = read_titles(workbook(["Name", "Role"], ["Ines", "=1+1"], ["a", "b"], merged="A3:B3"), "t.xlsx", third())
    assert [note.split(":")[0] for note in odd.notes] == [
        "Some of its cells are merged", "Some of its formulas hold no value yet"
    ]  # fmt: skip
    assert names_slots(workbook(["Name"], ["x"]), "t.xlsx", third())
    assert not names_slots(b"frame,Name\n0,1\n", "t.csv", third())
    assert not names_slots(b"Sign.rotation\n0\n", "t.csv", third())


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no rows"), (b"Name,Role\n", "no rows below"), (b"\x00\x01", "no text"), (b"PK\x03\x04no", "no workbook"),
        ("\n".join(["a"] * 5_001).encode(), "at most 5,000 rows"), (b'Name\n"open', "no rows|no table"),
    ],
)  # fmt: skip
def test_what_is_no_table_is_told(data: bytes, said: str) -> None:
    if data == b'Name\n"open':
        assert read_titles(data, "t.csv", third()).rows == (("open",),)
        return
    with pytest.raises(Refused, match=said):
        read_titles(data, "t.csv", third())


def test_a_scene_without_slots_takes_none() -> None:
    with pytest.raises(Refused, match="no slots"):
        read_titles(b"a", "t.csv", scene(layer("Plate")))
