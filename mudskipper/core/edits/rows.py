"""Edits of the table of a scene: its rows, each a title that fills the slots."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ..contents.filled import SlotText
from ..document.scene import Scene
from ..document.slots import MOST_CELLS, MOST_ROWS, Cell, Row, RowMend
from ..ground.base_model import Flag, Id, Model, Whole
from ..ground.errors import Refused
from .base import Edit, EditContext

Rows = Annotated[tuple[Row, ...], Field(max_length=MOST_ROWS)]


class AddRows(Edit):
    """Add rows to the table of titles, before the row at a place (from 0) or at the end; or in place of all."""

    takes_items: ClassVar[bool] = False

    edit: Literal["add_rows"] = "add_rows"
    rows: Rows
    at: Annotated[Whole, Field(ge=0, le=MOST_ROWS)] | None = None
    instead: Flag = False

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        before = () if self.instead else scene.rows
        at = len(before) if self.at is None else min(self.at, len(before))
        return with_rows(scene, (*before[:at], *self.rows, *before[at:]))

    def words(self, scene: Scene) -> str:
        what = _count(len(self.rows))
        return f"Put {what} in place of the table" if self.instead else f"Added {what} to the table"


class SetCells(Edit):
    """Type into cells of the table; null is as in the scene. Cells of rows that are gone are left out, and said."""

    takes_items: ClassVar[bool] = False

    class CellGiven(Model):
        """What is typed for a slot in a row."""

        row: Id
        slot: Id
        text: SlotText | None

    edit: Literal["set_cells"] = "set_cells"
    cells: Annotated[tuple[CellGiven, ...], Field(min_length=1, max_length=MOST_CELLS)]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        known = {row.id for row in scene.rows}
        of: dict[str, dict[str, str | None]] = {}
        for cell in self.cells:
            of.setdefault(cell.row, {})[cell.slot] = cell.text
        gone = of.keys() - known
        if gone == of.keys():
            raise Refused("These rows are gone; they may have been deleted in another window.", where="cells")
        if gone:
            context.notices.append(f"{_count(len(gone))} of these {'is' if len(gone) == 1 else 'are'} gone.")
        return with_rows(scene, tuple(_typed(row, of[row.id]) if row.id in of else row for row in scene.rows))

    def words(self, scene: Scene) -> str:
        if len(self.cells) == 1:
            slot = next((one.name for one in scene.slots if one.id == self.cells[0].slot), "a cell")
            number = next((n for n, row in enumerate(scene.rows, 1) if row.id == self.cells[0].row), 0)
            return f"Typed {slot} of row {number}"
        return f"Typed {len(self.cells)} cells of the table"


def _typed(row: Row, texts: dict[str, str | None]) -> Row:
    """A row with cells typed over; what was accepted in it was accepted of what stood there."""
    cells = {cell.slot: cell for cell in row.cells}
    for slot, text in texts.items():
        if text is None:
            cells.pop(slot, None)
        else:
            cells[slot] = Cell(slot=slot, text=text)
    return row.model_copy(update={"cells": tuple(cells.values()), "accepted": False})


class DeleteRows(Edit):
    """Delete rows of the table."""

    takes_items: ClassVar[bool] = False

    edit: Literal["delete_rows"] = "delete_rows"
    rows: Annotated[tuple[Id, ...], Field(min_length=1, max_length=MOST_ROWS)]

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        gone = set(self.rows)
        left = tuple(row for row in scene.rows if row.id not in gone)
        if len(left) == len(scene.rows):
            raise Refused("These rows are gone already.", where="rows")
        return with_rows(scene, left)

    def words(self, scene: Scene) -> str:
        return f"Deleted {_count(len(self.rows))} of the table"


class MendRow(Edit):
    """Mend a text of a row, by its letters smaller or its words on two lines; and accept what needs a look in it, or no
    longer."""

    takes_items: ClassVar[bool] = False

    edit: Literal["mend_row"] = "mend_row"
    row: Id
    mend: RowMend | None = None
    accepted: Flag | None = None

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        row = next((one for one in scene.rows if one.id == self.row), None)
        if row is None:
            raise Refused("This row is gone; it may have been deleted in another window.", where="row")
        changed = row
        if self.mend is not None:
            others = tuple(one for one in row.mends if one.slot != self.mend.slot)
            kept = (self.mend,) if self.mend.size < 100 or self.mend.lines else ()
            changed = changed.model_copy(update={"mends": (*others, *kept)})
        if self.accepted is not None:
            changed = changed.model_copy(update={"accepted": self.accepted})
        return with_rows(scene, tuple(changed if one is row else one for one in scene.rows))

    def words(self, scene: Scene) -> str:
        number = next((n for n, row in enumerate(scene.rows, 1) if row.id == self.row), 0)
        what = "Mended" if self.mend is not None else "Accepted" if self.accepted else "No longer accepted"
        return f"{what} row {number} of the table"


def with_rows(scene: Scene, rows: tuple[Row, ...]) -> Scene:
    """The scene with these rows; Refused in words where they are too many, or two are one."""
    if len(rows) > MOST_ROWS:
        raise Refused(
            f"A table has at most {MOST_ROWS:,} rows, and this would make {len(rows):,}.",
            mend="Divide it between two scenes.",
        )  # fmt: skip
    if len({row.id for row in rows}) < len(rows):
        raise Refused("Two rows would have one id.", where="rows", mend="Leave the ids out.")
    cells = sum(len(row.cells) for row in rows)
    if cells > MOST_CELLS:
        raise Refused(f"A table has at most {MOST_CELLS:,} cells, and this would make {cells:,}.")
    return scene.model_copy(update={"rows": rows})


def _count(count: int) -> str:
    return "1 row" if count == 1 else f"{count} rows"
