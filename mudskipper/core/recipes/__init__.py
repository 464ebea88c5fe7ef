"""The kinds of recipe: ready-made moves that land as ordinary keys; a new one is a file of its own and a line here."""

from ..ground.kinds import Kinds
from .base import Recipe
from .cascades import CASCADES
from .drop import DropIn
from .grow import GrowFromEdge
from .impact import Impact
from .orbit import Orbit
from .push import PushIn
from .settle import Settle
from .slide import SlideByAnchor
from .spin import EndlessSpin
from .swing import SwingIn
from .wipe import Wipe

RECIPES: Kinds[type[Recipe]] = Kinds(
    "mudskipper.recipes", GrowFromEdge, SwingIn, DropIn, SlideByAnchor, Orbit, PushIn, Impact, EndlessSpin, Wipe,
    Settle, *CASCADES,
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
