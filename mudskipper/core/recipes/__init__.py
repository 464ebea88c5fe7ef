"""The kinds of recipe: ready-made moves that land as ordinary keys; a new one is a file of its own and a line here."""

from ..ground.kinds import Kinds
from .base import Recipe
from .cascades import CASCADES
from .cuts import CUTS
from .draw_line import DrawLine
from .drop import DropIn
from .grow import GrowFromEdge
from .impact import Impact
from .kept_motion import KeptMotion
from .orbit import Orbit
from .pop import Pop
from .push import PushIn
from .push_to import PushTo
from .settle import Settle
from .slide import SlideByAnchor
from .speed_ramp import SpeedRamp
from .spin import EndlessSpin
from .steady import Breathe, Shake, Sway
from .swing import SwingIn
from .together import Carousel, SwapPlaces
from .wipe import Wipe

RECIPES: Kinds[type[Recipe]] = Kinds(
    "mudskipper.recipes", GrowFromEdge, SwingIn, DropIn, SlideByAnchor, Pop, DrawLine, Orbit, PushIn, PushTo, Impact,
    Sway, Breathe, Shake, SpeedRamp, EndlessSpin, Wipe, Settle, SwapPlaces, Carousel, *CUTS, KeptMotion, *CASCADES,
)  # fmt: skip

__all__ = [
    "RECIPES",
    "DropIn",
    "EndlessSpin",
    "GrowFromEdge",
    "Impact",
    "Orbit",
    "PushIn",
    "Recipe",
    "Settle",
    "SlideByAnchor",
    "SwingIn",
    "Wipe",
]
