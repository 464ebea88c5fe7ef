"""Slots of a scene: properties under a name, which a table, a form or another scene fills; and the rows of a table."""

from __future__ import annotations

import secrets
from typing import Annotated, Literal

from pydantic import Field, field_validator

from ..contents.filled import SlotText
from ..ground.base_model import Flag, Id, Model, Name, Number, Whole

MOST_PLACES = 50
MOST_SLOTS = 200
MOST_ROWS = 5_000
MOST_CELLS = 100_000
Path = Annotated[str, Field(strict=True, min_length=1, max_length=200)]


class Place(Model):
    """A part of a layer that a slot fills, by its path, in which items, masks and effects stand with their ids:
    `content.text`, `opacity`, `content.items.@2.fill`."""

    layer: Id
    path: Path


class Slot(Model):
    """Some parts of layers that hold one value, and go by one name. What the first of them holds in the scene is its
    sample. A number lies from `low` to `high`, a text has at most `most` letters; another picture or clip fills the
    box of the one that it takes the place of, or lies inside of it (`fit`)."""

    id: Id
    name: Name
    places: Annotated[tuple[Place, ...], Field(min_length=1, max_length=MOST_PLACES)]
    low: Number | None = None
    high: Number | None = None
    most: Annotated[Whole, Field(ge=1, le=5_000)] | None = None
    fit: Literal["fill", "inside"] = "fill"


class Cell(Model):
    """What a row of the table has for a slot, as it was typed."""

    slot: Id
    text: SlotText


class RowMend(Model):
    """How a text of a row is mended: its letters smaller, in percent, or its words on two lines."""

    slot: Id
    size: Annotated[Number, Field(ge=5, le=100)] = 100.0
    lines: Flag = False


class Row(Model):
    """A row of the table: one title. With `accepted` it is rendered though something in it needs a look."""

    id: Id = Field(default_factory=lambda: secrets.token_hex(6))
    cells: Annotated[tuple[Cell, ...], Field(max_length=MOST_SLOTS)] = ()
    mends: Annotated[tuple[RowMend, ...], Field(max_length=MOST_SLOTS)] = ()
    accepted: Flag = False

    @field_validator("cells", "mends")
    @classmethod
    def _once(cls, given: tuple[Cell | RowMend, ...]) -> tuple[Cell | RowMend, ...]:
        names = [one.slot for one in given]
        if len(set(names)) < len(names):
            raise ValueError("a row holds one cell and one mend for each slot")
        return given

    def text_of(self, slot: str) -> str | None:
        """What was typed for a slot; None where nothing was, so that it is as in the scene."""
        return next((cell.text for cell in self.cells if cell.slot == slot), None)

    def mend_of(self, slot: str) -> RowMend:
        """How the text of a slot is mended."""
        return next((mend for mend in self.mends if mend.slot == slot), RowMend(slot=slot))


def checked_slots(slots: tuple[Slot, ...]) -> tuple[Slot, ...]:
    """Slots, each with an id, a name and places of its own."""
    named: dict[str, list[object]] = {
        "id": [one.id for one in slots],
        "name": [one.name.casefold() for one in slots],
        "place": [(place.layer, place.path) for one in slots for place in one.places],
    }
    for what, keys in named.items():
        twice = next((key for key in keys if keys.count(key) > 1), None) if len(set(keys)) < len(keys) else None
        if twice is not None:
            raise ValueError(f"two slots have the {what} {twice!r}; every slot needs its own")
    return slots


def checked_rows(rows: tuple[Row, ...]) -> tuple[Row, ...]:
    """Rows, each with an id of its own, and not more cells than a table holds."""
    if len({row.id for row in rows}) < len(rows):
        raise ValueError("two rows have one id; every row needs its own")
    cells = sum(len(row.cells) for row in rows)
    if cells > MOST_CELLS:
        raise ValueError(f"hold at most {MOST_CELLS:,} cells, and these would be {cells:,}")
    return rows
