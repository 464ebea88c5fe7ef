"""Edits of the beats: labelled marks on the ruler."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..errors import Refused
from ..model import Whole
from ..scene import Beat, Scene
from ..time import timecode
from .base import Bench, Edit

Frame = Annotated[Whole, Field(ge=0)]
Frames = Annotated[tuple[Frame, ...], Field(min_length=1, max_length=10_000)]
Label = Annotated[str, Field(strict=True, max_length=200)]


def with_beats(scene: Scene, beats: dict[int, str]) -> Scene:
    """The scene with these beats, in order; refused beyond its end."""
    late = max(beats, default=0)
    if late >= scene.length:
        raise Refused(
            f"A beat at frame {late} would stand past the scene's end, at frame {scene.length - 1}.", where="frame"
        )
    kept = tuple(Beat(frame=frame, label=label) for frame, label in sorted(beats.items()))
    return scene.model_copy(update={"beats": kept})


def beats_of(scene: Scene) -> dict[int, str]:
    """Labels of the beats by their frames."""
    return {beat.frame: beat.label for beat in scene.beats}


def there(scene: Scene, frame: int) -> dict[int, str]:
    """The beats, refused where none stands at a frame."""
    beats = beats_of(scene)
    if frame not in beats:
        raise Refused(f"There is no beat at frame {frame}; it may have been moved in another window.", where="frame")
    return beats


class AddBeats(Edit):
    """Set beats at frames; one that stands there already keeps its label unless one is given."""

    edit: Literal["add_beats"] = "add_beats"
    frames: Frames
    label: Label = ""

    def apply(self, scene: Scene, bench: Bench) -> Scene:
        beats = beats_of(scene)
        return with_beats(scene, beats | {frame: self.label or beats.get(frame, "") for frame in self.frames})

    def words(self, scene: Scene) -> str:
        if len(self.frames) > 1:
            return f"Set {len(self.frames)} beats"
        return f"Set a beat at {timecode(self.frames[0], scene.frame_rate)}"


class MoveBeat(Edit):
    """Move a beat; one that stands where it goes is replaced."""

    edit: Literal["move_beat"] = "move_beat"
    frame: Frame
    to: Frame

    def apply(self, scene: Scene, bench: Bench) -> Scene:
        beats = there(scene, self.frame)
        label = beats.pop(self.frame)
        return with_beats(scene, beats | {self.to: label})

    def words(self, scene: Scene) -> str:
        return f"Moved a beat to {timecode(self.to, scene.frame_rate)}"


class LabelBeat(Edit):
    """Give a beat a label."""

    edit: Literal["label_beat"] = "label_beat"
    frame: Frame
    label: Label

    def apply(self, scene: Scene, bench: Bench) -> Scene:
        return with_beats(scene, there(scene, self.frame) | {self.frame: self.label})

    def words(self, scene: Scene) -> str:
        return f"Labelled the beat at {timecode(self.frame, scene.frame_rate)}"


class DeleteBeats(Edit):
    """Take beats away."""

    edit: Literal["delete_beats"] = "delete_beats"
    frames: Frames

    def apply(self, scene: Scene, bench: Bench) -> Scene:
        for frame in self.frames:
            there(scene, frame)
        return with_beats(scene, {at: label for at, label in beats_of(scene).items() if at not in self.frames})

    def words(self, scene: Scene) -> str:
        return "Deleted a beat" if len(self.frames) == 1 else f"Deleted {len(self.frames)} beats"
