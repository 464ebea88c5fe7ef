"""What a layer shows: what every kind of content can tell, and draw."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import TYPE_CHECKING, ClassVar, Protocol, Self

import numpy as np
from numpy.typing import NDArray

from ..draw.pen import Pen
from ..geometry.bezier import Floats
from ..ground.base_model import Model
from ..shapes.gradient import Gradient
from ..shapes.several import Laid
from ..shapes.stroke import Stroke
from ..text.families import Fonts
from ..tracks.colour import ColourTrack
from ..tracks.source_time import SourceTime
from .assets import Assets, ClipInfo, PictureInfo
from .audible import Sound
from .filled import Filled

if TYPE_CHECKING:
    from ..document.scene import Scene
    from .cascade import Cascade
    from .cascade_units import UnitsOf
    from .text_parts import TextPart
    from .text_style import TextStyle

Values = Mapping[str, Floats]
"""Evaluated tracks by the path that they have in the content, (1 | n, d) each."""


class UnitOf(Protocol):
    """A unit of a cascade, as its formulas read it."""

    @property
    def index(self) -> int:
        """Its number as it is read, 0 the first."""

    @property
    def count(self) -> int:
        """How many there are."""

    @property
    def box(self) -> Floats:
        """Its box (1 | n, 4) in the layer's pixels: left, top, width, height."""

    def progress(self, local: Floats) -> Floats:
        """How far it is on its way, 0…1, at frames (n,) counted from the layer's start."""


class Around(Protocol):
    """What a content may ask for beyond its own values, at the `frames` (n,) at which its layer is resolved."""

    frames: Floats
    local: Floats
    """The same frames counted from the layer's start."""
    there: NDArray[np.bool_]
    """Whether the layer is there at each of them (n,)."""
    fps: float
    size: tuple[int, int]
    """That of the scene, in pixels."""
    fonts: Fonts
    """The fonts that are at hand."""
    kept: dict[str, tuple[object, ...]]
    """What a content keeps between its box and its baselines."""

    def picture(self, picture_id: str) -> PictureInfo:
        """A picture of the project; Refused in words where it is gone."""

    def clip(self, clip_id: str) -> ClipInfo:
        """A clip of the project; Refused in words where it is gone."""

    def scene(self, scene_id: str, fills: tuple[Filled, ...] = ()) -> Scene:
        """A scene of the project, its slots filled; an empty one where it is gone."""

    @property
    def opened(self) -> tuple[Values, Around] | None:
        """Where these frames are moments of one for which a shutter is open, what is asked for at that frame itself."""

    def inner(
        self, scene_id: str, frames: Floats, opened: float | None = None, fills: tuple[Filled, ...] = ()
    ) -> InnerPicture:
        """What another scene, its slots filled, shows at its own frames (n,), or at moments of one of them for which a
        shutter is open; Refused in words where scenes lie in each other in a circle."""

    def outline(self, layer_id: str) -> tuple[str, Floats] | None:
        """The outline of another layer that is a single shape, in its own pixels: verbs and points (1 | n, 2k); `needs`
        must name it. None where it is gone, or none."""

    def of_units(self, path: str, units: Sequence[UnitOf]) -> Floats | None:
        """A value of a cascade for each of its units (n, u, d), by its path in the content; None where it is one for
        all."""

    def value(self, layer_id: str, path: str) -> Floats | None:
        """A property of another layer (1 | n, d), one that `needs` names; None where that layer is gone."""


class Painted(Protocol):
    """What has a fill and a stroke."""

    @property
    def fill(self) -> ColourTrack | Gradient | None:
        """Its fill."""

    @property
    def stroke(self) -> Stroke | None:
        """Its stroke."""


class InnerPicture(Protocol):
    """What a scene shows at some of its frames."""

    @property
    def apart(self) -> NDArray[np.bool_]:
        """The frames (1 | n,) at which it looks other unless it is cropped by its frame and laid in as one: something
        reaches beyond that, or blends with what lies below in another way than lying over it."""

    @property
    def way(self) -> float:
        """How far anything in it goes over its frames, in its own pixels."""

    @property
    def boxes(self) -> Floats:
        """The boxes (1 | n, u, 4) of its layers that show anything, in its own pixels, there or not."""

    def draw(self, pen: Pen, laid: Sequence[Laid] = ()) -> None:
        """Draw its layers on a pen, in its own pixels, as if its frame had no edge; `laid` is how each of those lies
        that have a box."""


class Content(Model):
    """What a layer shows, in content pixels. `values` are its evaluated tracks."""

    told_by: ClassVar[str] = "kind"
    can_cover: ClassVar[bool] = False
    """Whether it may be meant to fill the scene from edge to edge."""
    has_pixels: ClassVar[bool] = False
    """Whether it goes soft when it is enlarged."""
    shows: ClassVar[bool] = True
    """Whether there is anything to be seen of it."""
    placed: ClassVar[bool] = True
    """Whether it stands anywhere in the scene."""
    runs: ClassVar[bool] = False
    """Whether it has a source that runs in a time of its own, as `TimedContent` has."""
    filters: ClassVar[bool] = False
    """Whether its effects run on what lies below it, and it has no picture of its own."""
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
    def clips(self) -> tuple[str, ...]:
        """The ids of the clips that it needs."""
        return ()

    @property
    def scenes(self) -> tuple[str, ...]:
        """The ids of the other scenes that it shows."""
        return ()

    @property
    def filled(self) -> tuple[Filled, ...]:
        """What it fills the slots of those scenes with."""
        return ()

    @property
    def text_parts(self) -> tuple[TextPart, ...] | None:
        """The letters of its words that are set otherwise than the rest; None where it has none that could."""
        return None

    def painted(self, part: int | None) -> tuple[Painted, str] | None:
        """What has its fill and its stroke, or those of a part of its words, and how the path of that begins; None
        where it has no single one."""
        return None

    def outline(self, values: Values) -> tuple[str, Floats] | None:
        """Its outline, where it is a single shape: verbs and points (1 | n, 2k); None where it has none."""
        return None

    @property
    def families(self) -> tuple[str, ...]:
        """The names of the font families that its words are set in."""
        return ()

    def find_media(self, assets: Assets) -> None:
        """Refuse, in words, a content whose media are not all the project's."""
        for picture in self.pictures:
            assets.picture(picture)
        for clip in self.clips:
            assets.clip(clip)
        for scene in self.scenes:
            assets.scene(scene)

    @property
    def needs(self) -> tuple[str, ...]:
        """The ids of the other layers that it reads: it is resolved again whenever one of them changes."""
        return ()

    def relinked(self, ids: Mapping[str, str | None]) -> Self:
        """As it reads other layers by other ids; of those that are None it reads nothing any more."""
        return self

    @property
    def grown(self) -> tuple[str, ...]:
        """The paths of the pairs that grow as its box is drawn larger; none where it has no size of its own."""
        return ()

    @abstractmethod
    def box(self, values: Values, around: Around) -> Floats:
        """left, top, width, height: (1, 4), or (n, 4) where it changes."""

    def baselines(self, values: Values, around: Around) -> Floats:
        """The baselines of its lines (1 | n, l), y in content pixels; (1, 0) where it has none."""
        return np.zeros((1, 0))

    def set_out(self, values: Values, around: Around) -> tuple[UnitsOf, tuple[Cascade, ...]] | None:
        """Its units where they stand, and the cascades that move them; None where it has none."""
        return None

    @property
    def at_rest(self) -> Self:
        """As it is without its cascades."""
        return self.model_copy(update={"cascades": ()}) if getattr(self, "cascades", ()) else self

    @property
    def source_time(self) -> SourceTime | None:
        """How its source runs; None where it has none."""
        return None

    def shown_frames(self, values: Values, around: Around) -> Floats | None:
        """The frames of its source that are shown (1 | n, 1), −1 where none is; None where it has no source."""
        return None

    def sound_of(self, assets: Assets) -> Sound | None:
        """How loud it is heard; None where there is nothing to be heard of it."""
        return None

    def lasts(self, assets: Assets, fps: float) -> int | None:
        """For how many frames of a scene it goes on; None where it has no end."""
        return None

    def shifted(self, by: float, fps: float) -> Self:
        """As it runs in a layer whose frames are counted from `by` frames earlier, so that it shows the same."""
        return self

    def cut(self) -> tuple[Self, Self]:
        """As it is in the two parts of a layer that is cut in two, each of which shows its own part of the time."""
        return self, self

    def at_rate(self, old_start: int, start: int, old: Fraction, rate: Fraction) -> Self:
        """As it runs at another frame rate, in a layer that starts at another frame, so that it shows the same."""
        return self

    @property
    def look(self) -> TextStyle | None:
        """How it looks where nothing of it moves; None where it has no look that others could have."""
        return None

    def in_style(self, name: str, look: TextStyle) -> tuple[Content, list[str]]:
        """In a style of the project, and the fields that move and stay as they are."""
        return self, []

    def restyled(self, was: TextStyle, look: TextStyle) -> Content:
        """As it is when the style that it follows changes."""
        return self

    def way(self, values: Values, around: Around) -> float:
        """How far anything in it goes over the frames, in content pixels, though its box rests."""
        return 0.0

    @abstractmethod
    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        """Draw it on a pen."""
