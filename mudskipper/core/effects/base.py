"""What is done to the picture of a layer, and what every kind of it must say."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, StringConstraints

from ..geometry.bezier import Floats
from ..ground.base_model import MOST_NAME, Flag, Model
from ..tracks.walk import tracks_in

Values = Mapping[str, Floats]
"""The values (1 | n, d) of an effect's own tracks, by their paths in it."""
Acts = NDArray[np.bool_]
MOST_EFFECTS = 40


@dataclass(frozen=True)
class Beneath:
    """What an effect lies on: the box (1 | n, 4) of the picture in its own pixels (left, top, width, height), frames
    (n,) counted from the start of its layer, and how far the effects before it reach beyond the box: left, top, right,
    bottom (1 | n, 4)."""

    box: Floats
    local: Floats
    beyond: Floats = field(default_factory=lambda: np.zeros((1, 4)))

    @property
    def corners(self) -> Floats:
        """The corners of all that is painted (1 | n, 4, 2), clockwise from the top left."""
        low = self.box[:, :2] - self.beyond[:, :2]
        high = self.box[:, :2] + self.box[:, 2:] + self.beyond[:, 2:]
        x0, y0, x1, y1 = np.broadcast_arrays(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
        return np.stack([np.stack(at, axis=1) for at in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))], axis=1)

    def at(self, share: Floats) -> Floats:
        """A point (1 | n, 2) that is given in percent of the box, in the pixels of that."""
        return np.asarray(self.box[:, :2] + share / 100.0 * self.box[:, 2:])


class Effect(Model, ABC):
    """One effect on a layer. A kind is a subclass with its tracks, an `effect` that tells it apart in documents, and
    painters of that name, or of that which it is `painted_by`, in `paint/effects` and in the page's `paint/effects`."""

    told_by = "effect"
    noun: ClassVar[str] = "effect"
    label: ClassVar[str]
    """What the kind is called: `soft blur`."""
    words: ClassVar[str] = ""
    """By which else it is found, and what it does: `softer, out of focus`."""
    painted_by: ClassVar[str] = ""
    points: ClassVar[tuple[str, ...]] = ()
    """Those of its tracks that are points in percent of the box of what it lies on, with marks on the stage."""

    id: Annotated[str, Field(strict=True, pattern=r"^[0-9a-z]{0,12}$")] = ""
    name: Annotated[str, StringConstraints(strict=True, strip_whitespace=True, max_length=MOST_NAME)] = ""
    visible: Flag = True
    """Whether it is on."""

    def acts(self, values: Values) -> Acts:
        """The frames (1 | n, 1) at which it changes anything."""
        return np.asarray(np.ones((1, 1), dtype=bool))

    def reach(self, values: Values, beneath: Beneath) -> Floats:
        """How far it reaches beyond what it lies on: left, top, right, bottom (1 | n, 4), in the pixels of that."""
        return np.zeros((1, 4))

    def softened(self, values: Values, beneath: Beneath) -> Floats:
        """How far in from the edges of what it lies on that may be see-through afterwards, as `reach`; as far as it
        reaches out, unless a kind knows better."""
        return self.reach(values, beneath)

    def share(self, values: Values, lengths: Floats) -> Floats:
        """As `EffectInk.share`; a kind that keeps every detail needs the whole sheet."""
        return np.ones_like(lengths)

    @abstractmethod
    def numbers(self, values: Values, matrix: Floats, beneath: Beneath) -> Floats:
        """As `EffectInk.numbers`."""


@dataclass(frozen=True)
class ResolvedEffect:
    """An effect with the values of its tracks on what it lies on, as a pen takes it (`draw.inks.EffectInk`)."""

    effect: Effect
    values: Values
    beneath: Beneath = field(default_factory=lambda: Beneath(np.zeros((1, 4)), np.zeros(1)))

    @property
    def kind(self) -> str:
        return self.effect.painted_by or str(getattr(self.effect, self.effect.told_by))

    @property
    def acts(self) -> Floats:
        return np.asarray(self.effect.acts(self.values), dtype=np.float64)

    @property
    def reach(self) -> Floats:
        return np.where(self.acts > 0, self.effect.reach(self.values, self.beneath), 0.0)

    @property
    def softened(self) -> Floats:
        return np.where(self.acts > 0, self.effect.softened(self.values, self.beneath), 0.0)

    def share(self, lengths: Floats) -> Floats:
        return self.effect.share(self.values, lengths)

    def numbers(self, matrix: Floats) -> Floats:
        rows = max(len(matrix), len(self.beneath.box), *map(len, self.values.values()), 1)
        return self.effect.numbers(self.values, np.broadcast_to(matrix, (rows, 6)), self.beneath)


def effect_inks(
    effects: Sequence[Effect], values: Mapping[str, Floats], box: Floats, local: Floats
) -> tuple[ResolvedEffect, ...]:
    """The effects of a layer that are on, as they are drawn; `values` are the layer's, their paths beginning with
    `effects.`; `box` (1 | n, 4) is what they lie on, `local` the frames (n,) from the start of the layer."""
    found: list[ResolvedEffect] = []
    beyond = np.zeros((1, 4))
    for index, one in enumerate(effects):
        if not one.visible:
            continue
        own = {path: values[f"effects.{index}.{path}"] for path, _ in tracks_in(one)}
        made = ResolvedEffect(one, own, Beneath(box, local, beyond))
        found.append(made)
        beyond = beyond + made.reach
    return tuple(found)
