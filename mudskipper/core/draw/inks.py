"""What groups and outlines are painted with: strokes, gradients, masks, mattes and effects; and how groups are laid."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal, Protocol

import numpy as np

from ..geometry.bezier import Floats
from ..geometry.transform import UNMOVED
from .operations import Cap, Join, MaskMode

if TYPE_CHECKING:
    from .pen import Pen

OPAQUE = np.array([[255.0]])
BLACK = np.array([[0.0, 0.0, 0.0, 255.0]])
SEEN = np.array([[1.0]])


@dataclass(frozen=True)
class GradientInk:
    """A gradient in the pixels of what it paints, (n, k) each; as `operations.GradientPaint`."""

    kind: Literal["linear", "radial", "conic"]
    geometry: Floats
    offsets: Floats
    colours: Floats
    matrix: Floats | None = None


Ink = Floats | GradientInk
"""A colour (n, 4), or a gradient."""


@dataclass(frozen=True)
class StrokeInk:
    """How an outline is stroked, (n, k) each; as `operations.Path`."""

    colour: Ink
    width: Floats
    cap: Cap = "butt"
    join: Join = "miter"
    mitre: Floats = field(default_factory=lambda: np.array([[10.0]]))
    dash: Floats | None = None
    dash_offset: Floats | None = None


@dataclass(frozen=True)
class MaskInk:
    """What masks a group, (n, k) each; as `operations.MaskPath`, under a matrix within the group and with the blur in
    pixels there. `draw` draws outlines alone, in whatever colour."""

    draw: Callable[[Pen], None]
    strength: Floats
    blur: Floats
    matrix: Floats
    mode: MaskMode
    inverted: bool = False


@dataclass(frozen=True)
class MatteInk:
    """A drawing that limits where a group is shown; as `operations.Matte`."""

    draw: Callable[[Pen], None]
    by: Literal["opacity", "brightness"]
    inverted: bool


class EffectInk(Protocol):
    """An effect on a group, its arrays (1 | n, k)."""

    @property
    def kind(self) -> str:
        """The painters' name of it."""

    @property
    def acts(self) -> Floats:
        """The frames at which it does anything."""

    @property
    def reach(self) -> Floats:
        """How far it reaches beyond what it lies on: left, top, right, bottom, in the pixels of that."""

    @property
    def softened(self) -> Floats:
        """How far in from the edges of what it lies on that may be see-through afterwards, as `reach`."""

    def share(self, lengths: Floats) -> Floats:
        """By which shares (n, 2), along x and y, a sheet may be smaller on which a pixel has these lengths (n, 2) and
        nothing of the effect be lost."""

    def numbers(self, matrix: Floats) -> Floats:
        """What its painters read (n, k), on a sheet to which `matrix` (n, 6) takes the pixels of what it lies on: along
        its axes, or turned by a quarter."""


@dataclass(frozen=True)
class Layering:
    """How parts are laid over what is below as one: under a matrix, masked, through effects, shown in a matte, faded
    and blended, (n, k) each."""

    matrix: Floats = field(default_factory=lambda: UNMOVED)
    opacity: Floats = field(default_factory=lambda: OPAQUE)
    blend: str = "normal"
    visible: Floats = field(default_factory=lambda: SEEN)
    masks: Sequence[MaskInk] = ()
    effects: Sequence[EffectInk] = ()
    extent: Floats | None = None
    """left, top, width, height of all that is painted within, in its pixels, where that is known: effects need no more
    of a sheet."""
    matte: MatteInk | None = None
    filters: bool = False
    """Whether its effects run on what lies below, along the scene's axes."""
