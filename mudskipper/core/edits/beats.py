"""Edits of the beats: labelled marks on the ruler."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..document.scene import Beat, Scene
from ..ground.errors import Refused
from ..ground.time import timecode
from ..tracks.base import SAME
from .base import Edit, EditContext

Frame = Annotated[float, Field(strict=True, ge=0, le=1e6)]
Frames = Annotated[tuple[Frame, ...], Field(min_length=1, max_length=10_000)]
Label = Annotated[str, Field(strict=True, max_length=200)]


def with_beats(scene: Scene, beats: dict[float, str]) -> Scene:
    """The scene with these beats, in order."""
    kept = tuple(Beat(frame=frame, label=label) for frame, label in sorted(beats.items()))
    return scene.model_copy(update={"beats": kept})


def beats_of(scene: Scene) -> dict[float, str]:
    """Labels of the beats by their frames."""
    return {beat.frame: beat.label for beat in scene.beats}


def within_scene(scene: Scene, frame: float) -> None:
    """Refuse a place for a beat past the scene's end; beats that a shorter scene left there may stay."""
    if frame > scene.length - 1 + SAME:
        raise Refused(
            f"A beat at frame {frame:g} would stand past the scene's end, at frame {scene.length - 1}.", where="frame"
        )


def found(scene: Scene, frame: float) -> float | None:
    """The frame of the beat that stands at a frame, within the tolerance for frames; None where there is none."""
    return next((beat.frame for beat in scene.beats if abs(beat.frame - frame) <= SAME), None)


def there(scene: Scene, frame: float) -> float:
    """The frame of the beat at a frame, refused where there is none."""
    at = found(scene, frame)
    if at is None:
        raise Refused(f"There is no beat at frame {frame:g}; it may have been moved in another window.", where="frame")
    return at


class AddBeats(Edit):
    """Set beats at frames; one that stands there already keeps its label unless one is given."""

    edit: Literal["add_beats"] = "add_beats"
    frames: Frames
    label: Label = ""

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        beats = beats_of(scene)
        for frame in self.frames:
            within_scene(scene, frame)
            at = found(scene, frame)
            at = frame if at is None else at
            beats[at] = self.label or beats.get(at, "")
        return with_beats(scene, beats)

    def words(self, scene: Scene) -> str:
        if len(self.frames) > 1:
            return f"Set {len(self.frames)} beats"
        return f"Set a beat at {timecode(self.frames[0], scene.frame_rate)}"


class MoveBeat(Edit):
    """Move a beat; on the frame of another the two are merged and keep both labels."""

    edit: Literal["move_beat"] = "move_beat"
    frame: Frame
    to: Frame

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        within_scene(scene, self.to)
        beats = beats_of(scene)
        label = beats.pop(at := there(scene, self.frame))
        over = found(scene, self.to)
        if over is not None and over != at:
            other = beats.pop(over)
            label = " / ".join(dict.fromkeys(part for part in (other, label) if part))[:200]
            context.notices.append(f"Two beats at {timecode(self.to, scene.frame_rate)} became one.")
        return with_beats(scene, beats | {self.to: label})

    def words(self, scene: Scene) -> str:
        return f"Moved a beat to {timecode(self.to, scene.frame_rate)}"


class LabelBeat(Edit):
    """Give a beat a label."""

    edit: Literal["label_beat"] = "label_beat"
    frame: Frame
    label: Label

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        return with_beats(scene, beats_of(scene) | {there(scene, self.frame): self.label})

    def words(self, scene: Scene) -> str:
        return f"Labelled the beat at {timecode(self.frame, scene.frame_rate)}"


class DeleteBeats(Edit):
    """Take beats away."""

    edit: Literal["delete_beats"] = "delete_beats"
    frames: Frames

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        gone = {there(scene, frame) for frame in self.frames}
        return with_beats(scene, {at: label for at, label in beats_of(scene).items() if at not in gone})

    def words(self, scene: Scene) -> str:
        return "Deleted a beat" if len(self.frames) == 1 else f"Deleted {len(self.frames)} beats"
