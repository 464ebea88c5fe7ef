"""What a layer shows: what every kind of content can tell, and draw."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping
from typing import ClassVar, Protocol

import numpy as np

from ..assets import PictureInfo
from ..base_model import Model
from ..bezier import Floats
from ..draw.pen import Pen

Values = Mapping[str, Floats]
"""Evaluated tracks by the path that they have in the content, (1 | n, d) each."""


class Around(Protocol):
    """What a content may ask for beyond its own values, at the `frames` (n,) at which its layer is resolved."""

    frames: Floats

    def picture(self, picture_id: str) -> PictureInfo:
        """A picture of the project; Refused in words where it is gone."""

    def value(self, layer_id: str, path: str) -> Floats | None:
        """A property of another layer (1 | n, d), one that `needs` names; None where that layer is gone."""


class Content(Model):
    """What a layer shows, in content pixels. `values` are its evaluated tracks."""

    told_by: ClassVar[str] = "kind"
    can_cover: ClassVar[bool] = False
    """Whether it may be meant to fill the scene from edge to edge."""
    kind: str

    @property
    @abstractmethod
    def default_name(self) -> str:
        """What a new layer that shows it is called."""

    @property
    def words(self) -> str | None:
        """The text that it shows to be read; None where it shows none."""
        return None

    @property
    def pictures(self) -> tuple[str, ...]:
        """The ids of the pictures that it needs."""
        return ()

    @property
    def needs(self) -> tuple[str, ...]:
        """The ids of the other layers that it reads: it is resolved again whenever one of them changes."""
        return ()

    @property
    def grown(self) -> tuple[str, ...]:
        """The paths of the pairs that grow as its box is drawn larger; none where it has no size of its own."""
        return ()

    @abstractmethod
    def box(self, values: Values, around: Around) -> Floats:
        """left, top, width, height: (1, 4), or (n, 4) where it changes."""

    def baselines(self, values: Values) -> Floats:
        """The first and the last baseline (1 | n, 2), y in content pixels; (1, 0) where it has none."""
        return np.zeros((1, 0))

    @abstractmethod
    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        """Draw it on a pen."""
