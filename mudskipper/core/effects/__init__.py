"""The kinds of effects; a new one is a file here, a line in the list, and a painter of its name on both sides."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Field

from ..ground.kinds import Kinds, OneOf
from .base import MOST_EFFECTS, Effect, effect_inks
from .soft_blur import SoftBlur

EFFECTS: Kinds[type[Effect]] = Kinds("mudskipper.effects", SoftBlur)
AnyEffect: Any = Effect if TYPE_CHECKING else Annotated[Any, OneOf(EFFECTS)]
Effects = Annotated[tuple[AnyEffect, ...], Field(max_length=MOST_EFFECTS)]

__all__ = ["EFFECTS", "AnyEffect", "Effect", "Effects", "SoftBlur", "effect_inks"]
