"""The kinds of effects; a new one is a file here, a line in the list, and a painter of its name on both sides."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any

from pydantic import Field

from ..ground.kinds import Kinds, OneOf
from .base import MOST_EFFECTS, Effect, effect_inks
from .bulge import Bulge
from .colour_wash import ColourWash
from .corner_pin import CornerPin
from .directional_blur import DirectionalBlur
from .glow import Glow
from .gradient_map import GradientMap
from .grain import Grain
from .halftone import Halftone
from .key_out import KeyOut
from .noise_field import NoiseField
from .outline import Outline
from .perspective_turn import PerspectiveTurn
from .pixels import Pixels
from .shadow import Shadow
from .soft_blur import SoftBlur
from .stripes import Stripes
from .tones import Tones
from .turn_blur import TurnBlur
from .two_tone import TwoTone
from .vignette import Vignette
from .wave import Wave
from .zoom_blur import ZoomBlur

EFFECTS: Kinds[type[Effect]] = Kinds(
    "mudskipper.effects", TwoTone, Tones, ColourWash, GradientMap, SoftBlur, DirectionalBlur, TurnBlur, ZoomBlur,
    Shadow, Glow, Outline, Grain, NoiseField, Vignette, Pixels, Halftone, Stripes, KeyOut, Bulge, Wave, CornerPin,
    PerspectiveTurn,
)  # fmt: skip
AnyEffect: Any = Effect if TYPE_CHECKING else Annotated[Any, OneOf(EFFECTS)]
Effects = Annotated[tuple[AnyEffect, ...], Field(max_length=MOST_EFFECTS)]

__all__ = ["EFFECTS", "AnyEffect", "Effect", "Effects", "SoftBlur", "effect_inks"]
