"""A value that fills a slot of a scene that a layer shows."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..ground.base_model import Flag, Id, Model, Number, Pair

MOST_FILLED = 200
SlotText = Annotated[str, Field(strict=True, max_length=5_000)]
SlotValue = Flag | Number | SlotText | Pair
"""What a slot holds: yes or no, a number, words (a colour, the id of a medium, a font family as well), or a pair."""


class Filled(Model):
    """The value of one slot. `medium` says of a picture, a clip or a sound which of these it is, so that what a layer
    needs is known without a look at the scene that it shows."""

    slot: Id
    value: SlotValue
    medium: Annotated[str, Field(strict=True, max_length=20)] = ""


Fills = Annotated[tuple[Filled, ...], Field(max_length=MOST_FILLED)]
