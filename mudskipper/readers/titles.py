"""Tables of titles: cells as they were typed, and which column is which slot."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from ..core.document.scene import Scene
from ..core.document.slots import MOST_CELLS, MOST_ROWS, Cell, Row
from ..core.ground.errors import Refused
from .tables import typed_rows
from .text_files import text_of

LONGEST = 5_000
"""Letters of a cell."""


@dataclass(frozen=True)
class TitlesFile:
    """The heads of a table, none where it begins with its first row; the slot of each column, None where it has none;
    its rows, each as long as the longest; and what is said of it."""

    heads: tuple[str, ...]
    slots: tuple[str | None, ...]
    rows: tuple[tuple[str, ...], ...]
    notes: tuple[str, ...]

    def as_rows(self, slots: Sequence[str | None]) -> tuple[Row, ...]:
        """Its rows in the table of a scene, the columns being these slots; those without one are left out."""
        return tuple(
            Row(cells=tuple(Cell(slot=slot, text=text) for slot, text in zip(slots, row, strict=False) if slot))
            for row in self.rows
        )


def read_titles(data: bytes, name: str, scene: Scene) -> TitlesFile:
    """A file, CSV, TSV or XLSX, or what was copied of a spreadsheet, as rows of titles. Its first row names slots where
    any of it does; else its columns are the slots in their order. Refused in words where it has no rows, or too
    many."""
    if not scene.slots:
        raise Refused("This scene has no slots that a table could fill.", where=name, mend="Make a property a slot.")
    found, notes = typed_rows(data, name) if data.startswith(b"PK") else (_typed(text_of(data, name)), [])
    rows = [row for row in found if any(cell.strip() for cell in row)]
    if not rows:
        raise Refused("It has no rows.", where=name)
    wide = max(map(len, rows))
    table = [tuple(cell.strip()[:LONGEST] for cell in (*row, *[""] * (wide - len(row)))) for row in rows]
    names = {slot.name.casefold(): slot.id for slot in scene.slots}
    matched = [names.get(head.casefold()) for head in table[0]]
    heads: tuple[str, ...]
    slots: list[str | None]
    if any(matched):
        once = [slot if slot not in matched[:place] else None for place, slot in enumerate(matched)]
        heads, body, slots = table[0], table[1:], once
        left = [head for head, slot in zip(heads, once, strict=True) if slot is None and head]
        if left:
            notes.append(f"No slot is called {' or '.join(f'“{one}”' for one in left[:3])}.")
    else:
        heads, body = (), table
        slots = [*[slot.id for slot in scene.slots][:wide], *[None] * max(wide - len(scene.slots), 0)]
    if len(body) > MOST_ROWS or len(body) * wide > MOST_CELLS:
        raise Refused(
            f"It has {len(body):,} rows of {wide} cells, and a table of titles has at most {MOST_ROWS:,} rows and "
            f"{MOST_CELLS:,} cells.",
            where=name, mend="Divide it between two scenes.",
        )  # fmt: skip
    if not body:
        raise Refused("It has heads, and no rows below them.", where=name)
    return TitlesFile(tuple(heads), tuple(slots), tuple(body), tuple(notes))


def names_slots(data: bytes, name: str, scene: Scene) -> bool:
    """Whether the first row of a table names slots, and no times at which values would stand."""
    rows = typed_rows(data, name)[0] if data.startswith(b"PK") else _typed(text_of(data, name))
    heads = {cell.strip().casefold() for cell in rows[0]} if rows else set()
    return not heads & {"frame", "time"} and any(slot.name.casefold() in heads for slot in scene.slots)


def _typed(text: str) -> list[list[str]]:
    """The cells of CSV, or of what was copied of a spreadsheet, by what parts them most often in the first line."""
    first = text.lstrip("\ufeff").split("\n", 1)[0]
    delimiter = max("\t;,", key=lambda one: (first.count(one), one == "\t"))
    if not first.count(delimiter):
        delimiter = "\t"
    try:
        return list(csv.reader(io.StringIO(text.lstrip("\ufeff")), delimiter=delimiter))
    except csv.Error as fault:
        raise Refused(f"It is no table: {fault}.", mend="Save it as CSV in UTF-8.") from None
