"""Colours at places along a gradient."""

from __future__ import annotations

from typing import Annotated, ClassVar

from ..ground.base_model import Model
from ..ground.shown import Shown
from .colour import ColourTrack
from .kinds import NumberTrack

MOST_STOPS = 32


class Stop(Model):
    """A colour at a place along a gradient."""

    noun: ClassVar[str] = "stop"
    told_first: ClassVar[bool] = True

    at: Annotated[NumberTrack, Shown("Place", "%", low=0, high=100, what="the place of a stop in percent")]
    colour: Annotated[ColourTrack, Shown("Colour")]
