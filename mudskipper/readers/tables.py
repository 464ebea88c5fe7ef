"""Tables: CSV as spreadsheets write it, and XLSX."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass

import openpyxl

from ..core.ground.errors import Refused
from .text_files import text_of

MOST_CELLS = 1_000_000
MOST_UNPACKED = 256 * 2**20
"""Bytes that a workbook's parts may have unpacked."""

Cell = str | float


@dataclass(frozen=True)
class TableFile:
    """Its head, and rows as long as that."""

    heads: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]


def read_table(data: bytes, name: str) -> TableFile:
    """A table by its content, not by its name; Refused in words where it is none, or too large."""
    rows = _workbook(data, name) if data.startswith(b"PK") else _separated(data, name)
    found: list[tuple[Cell, ...]] = []
    cells = 0
    for row in rows:
        cells += len(row)
        if cells > MOST_CELLS:
            raise Refused(
                f"It has more than {MOST_CELLS:,} cells.", where=name, mend="Leave out the rows that are not needed."
            )
        if any(cell != "" for cell in row):
            found.append(row)
    if len(found) < 2:
        raise Refused("It needs a row of heads, and a row of values below.", where=name)
    heads = tuple(str(cell).strip() for cell in found[0])
    wide = len(heads)
    return TableFile(heads, tuple((*row[:wide], *[""] * (wide - len(row))) for row in found[1:]))


def _workbook(data: bytes, name: str, typed: bool = False) -> Iterator[tuple[Cell, ...]]:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as parts:
            if sum(part.file_size for part in parts.infolist()) > MOST_UNPACKED:
                raise Refused("It is too large a workbook.", where=name, mend="Save the sheet alone, or as CSV.")
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        for row in sheet.iter_rows(values_only=True):
            yield tuple(_typed(value) if typed else _cell(value) for value in row)
    except Refused:
        raise
    except Exception:
        raise Refused("It is no workbook that can be read.", where=name, mend="Save it as XLSX, or as CSV.") from None


def typed_rows(data: bytes, name: str) -> tuple[list[list[str]], list[str]]:
    """The cells of a workbook's first sheet as they are read, and what is said of it: formulas that hold no value, and
    cells that are merged, of which the first alone has what stands there."""
    found: list[list[str]] = []
    cells = 0
    for row in _workbook(data, name, typed=True):
        cells += len(row)
        if cells > MOST_CELLS:
            raise Refused(
                f"It has more than {MOST_CELLS:,} cells.", where=name, mend="Leave out the rows that are not needed."
            )
        found.append([str(cell) for cell in row])
    return found, _said_of(data)


def _said_of(data: bytes) -> list[str]:
    """What of a workbook's first sheet is not as it looks."""
    with zipfile.ZipFile(io.BytesIO(data)) as parts:
        first = next((name for name in sorted(parts.namelist()) if name.startswith("xl/worksheets/sheet")), None)
        sheet = parts.read(first) if first else b""
    notes = []
    if b"<mergeCell " in sheet:
        notes.append("Some of its cells are merged: what stands there is in the first of them alone.")
    if re.search(rb"<f[ >/](?:(?!</c>).)*?(?:</f>|/>)\s*(?:<v\s*/>|<v></v>)?\s*</c>", sheet, re.DOTALL):
        notes.append("Some of its formulas hold no value yet: open it in a spreadsheet and save it again.")
    return notes


def _separated(data: bytes, name: str) -> Iterator[tuple[Cell, ...]]:
    text = text_of(data, name)
    first = text.split("\n", 1)[0]
    # A number may have a decimal comma where the fields are parted otherwise.
    delimiter = max(";\t,", key=lambda one: (first.count(one), one == ","))
    comma = delimiter != ","
    try:
        for row in csv.reader(io.StringIO(text), delimiter=delimiter, strict=True):
            yield tuple(_number(cell.strip(), comma) for cell in row)
    except csv.Error as fault:
        raise Refused(f"It is no table: {fault}.", where=name, mend="Save it as CSV in UTF-8.") from None


def _cell(value: object) -> Cell:
    if value is None:
        return ""
    if isinstance(value, bool):
        return str(value).lower()
    return float(value) if isinstance(value, int | float) else _number(str(value).strip(), False)


def _typed(value: object) -> str:
    """A cell as text: numbers as short as they can be told."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:.15g}" if isinstance(value, int | float) else str(value)


def _number(text: str, comma: bool) -> Cell:
    """A cell as a number where it is one."""
    plain = text.replace(",", ".") if comma and text.count(",") == 1 and "." not in text else text
    try:
        return float(plain) if plain[:1] in "+-.0123456789" and plain else text
    except ValueError:
        return text
