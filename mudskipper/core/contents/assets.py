"""What the core must know of a project's media."""

from __future__ import annotations

from collections import ChainMap
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Annotated, TypeVar

import numpy as np
from pydantic import Field

from ..geometry.bezier import Floats
from ..ground.base_model import MediaName, Model, Whole
from ..ground.errors import Refused
from ..text.families import INSTALLED, Fonts

if TYPE_CHECKING:
    from ..document.scene import Scene


class PictureInfo(Model):
    """What the core must know of a picture: its size in pixels."""

    id: MediaName
    width: Annotated[Whole, Field(ge=1)]
    height: Annotated[Whole, Field(ge=1)]


@dataclass(frozen=True)
class ClipInfo:
    """What the core must know of a clip: its size in pixels (0 of a sound), when its frames begin (m,) from 0 on, when
    the last one ends, in seconds, and whether it has a sound."""

    id: str
    width: int
    height: int
    times: Floats
    length: float
    sound: bool = False

    @classmethod
    def steady(
        cls, clip_id: str, size: tuple[int, int], count: int, rate: tuple[int, int], sound: bool = False
    ) -> ClipInfo:
        """A clip of `count` frames at a constant rate, as [frames, seconds]."""
        return cls(clip_id, *size, np.arange(count) * rate[1] / rate[0], count * rate[1] / rate[0], sound)


Squares = Callable[[str], Floats]
"""The sums (m + 1,) of the squares of a clip's samples up to each block of 5 ms (`loudness.squares_of`)."""


def silent(_: str) -> Floats:
    """Of clips whose sound is not at hand."""
    return np.zeros(1)


@dataclass(frozen=True)
class Assets:
    """What a project has by their ids: its media, and its scenes as they stand; `squares` tells how loud a clip is.
    And the fonts that its texts are set in."""

    pictures: Mapping[str, PictureInfo] = field(default_factory=dict)
    clips: Mapping[str, ClipInfo] = field(default_factory=dict)
    scenes: Mapping[str, Scene] = field(default_factory=dict)
    squares: Squares = silent
    fonts: Fonts = INSTALLED

    def with_scenes(self, scenes: Iterable[Scene]) -> Assets:
        """With these scenes, each in place of one of its id."""
        return replace(self, scenes=ChainMap({scene.id: scene for scene in scenes}, self.scenes))  # type: ignore[arg-type]

    def picture(self, picture_id: str) -> PictureInfo:
        """A picture; Refused in words where the project has it no more."""
        return _found(self.pictures, picture_id, "picture", "among the project's media", "Add the picture again")

    def clip(self, clip_id: str) -> ClipInfo:
        """A clip; Refused in words where the project has it no more."""
        return _found(self.clips, clip_id, "clip", "among the project's media", "Add the clip again")

    def scene(self, scene_id: str) -> Scene:
        """A scene; Refused in words where the project has it no more."""
        return _found(self.scenes, scene_id, "scene", "in this project", "Choose a scene of this project")


T = TypeVar("T")


def _found(all_of_them: Mapping[str, T], asset: str, kind: str, place: str, mend: str) -> T:
    """What a layer shows, by its id; Refused in words where it is not there."""
    found = all_of_them.get(asset)
    if found is None:
        raise Refused(
            f"This {kind} is not {place}.", where="content.asset",
            mend=f"{mend}, or delete the layer that shows it.",
        )  # fmt: skip
    return found


NO_MEDIA = Assets()
"""A project without any."""
