"""What is done to the picture of a layer, and what every kind of it must say."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, ClassVar

import numpy as np
from pydantic import Field, StringConstraints

from ..geometry.bezier import Floats
from ..ground.base_model import MOST_NAME, Flag, Model
from ..tracks.walk import tracks_in

Values = Mapping[str, Floats]
"""The values (1 | n, d) of an effect's own tracks, by their paths in it."""
MOST_EFFECTS = 40


class Effect(Model, ABC):
    """One effect on a layer. A kind is a subclass with its tracks, an `effect` that tells it apart in documents, and
    painters of that name in `paint/effects` and in the page's `paint/effects`."""

    told_by = "effect"
    noun: ClassVar[str] = "effect"
    label: ClassVar[str]
    """What the kind is called: `soft blur`."""

    id: Annotated[str, Field(strict=True, pattern=r"^[0-9a-z]{0,12}$")] = ""
    name: Annotated[str, StringConstraints(strict=True, strip_whitespace=True, max_length=MOST_NAME)] = ""
    visible: Flag = True
    """Whether it is on."""

    @abstractmethod
    def acts(self, values: Values) -> Floats:
        """The frames (1 | n, 1) at which it changes anything."""

    @abstractmethod
    def reach(self, values: Values) -> Floats:
        """How far it reaches beyond what it lies on: left, top, right, bottom (1 | n, 4), in the pixels of that."""

    def softened(self, values: Values) -> Floats:
        """How far in from the edges of what it lies on that may be see-through afterwards, as `reach`; as far as it
        reaches out, unless a kind knows better."""
        return self.reach(values)

    def share(self, values: Values, lengths: Floats) -> Floats:
        """As `EffectInk.share`; a kind that keeps every detail needs the whole sheet."""
        return np.ones_like(lengths)

    @abstractmethod
    def numbers(self, values: Values, matrix: Floats) -> Floats:
        """As `EffectInk.numbers`."""


@dataclass(frozen=True)
class ResolvedEffect:
    """An effect with the values of its tracks, as a pen takes it (`draw.inks.EffectInk`)."""

    effect: Effect
    values: Values

    @property
    def kind(self) -> str:
        return str(getattr(self.effect, self.effect.told_by))

    @property
    def acts(self) -> Floats:
        return self.effect.acts(self.values)

    @property
    def reach(self) -> Floats:
        return self.effect.reach(self.values)

    @property
    def softened(self) -> Floats:
        return self.effect.softened(self.values)

    def share(self, lengths: Floats) -> Floats:
        return self.effect.share(self.values, lengths)

    def numbers(self, matrix: Floats) -> Floats:
        return self.effect.numbers(self.values, matrix)


def effect_inks(effects: Sequence[Effect], values: Mapping[str, Floats]) -> tuple[ResolvedEffect, ...]:
    """The effects of a layer that are on, as they are drawn; `values` are the layer's, their paths beginning with
    `effects.`."""
    return tuple(
        ResolvedEffect(one, {path: values[f"effects.{index}.{path}"] for path, _ in tracks_in(one)})
        for index, one in enumerate(effects)
        if one.visible
    )
