"""The kinds of easing; a new one is a file of its own and a line here."""

from ..ground.kinds import Kinds
from .base import Easing
from .bezier import Bezier
from .bounce import Bounce, BounceNumbers
from .overshoot import Overshoot
from .points import Points
from .spring import Spring, SpringNumbers
from .steps import Steps

EASINGS: Kinds[type[Easing]] = Kinds("mudskipper.easings", Bezier, Steps, Points, Overshoot, Bounce, Spring)

__all__ = [
    "EASINGS", "Bezier", "Bounce", "BounceNumbers", "Easing", "Overshoot", "Points", "Spring", "SpringNumbers", "Steps",
]  # fmt: skip
