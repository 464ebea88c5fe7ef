"""What a formula may read: its own property, layer and scene, other layers, sounds and beats, at some frames."""

from __future__ import annotations

import difflib
import zlib
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from ...contents.base import UnitOf
from ...document.items_as_layers import MASKS
from ...document.properties import label_of
from ...document.scene import Layer, Scene
from ...formulas.environment import Reference, Run
from ...formulas.problem import Faulty, FormulaProblem, Mend
from ...formulas.reader import give_names
from ...formulas.texts import Texts
from ...formulas.values import plain
from ...geometry.bezier import Floats
from ...geometry.transform import apply, inverse
from ...tracks.base import Track

if TYPE_CHECKING:
    from .evaluation import Formulas

WRITTEN = "content.written"
"""The path of a text that a formula writes."""
MOST_STEPPED = 200
"""How often `stepped` is evaluated in one formula: each evaluates the lines above it again."""
CASCADES = "content.cascades."
UNITS = ("unit", "units", "progress")
FARTHEST = 1e7
"""Seconds and frames beyond which no moment is looked at."""


class Scope:
    """A formula's property at some frames (n,)."""

    def __init__(
        self, formulas: Formulas, layer: Layer, path: str, frames: Floats, base: Floats, *, held: bool = False,
        track: Track | None = None, unit: UnitOf | None = None,
    ) -> None:  # fmt: skip
        """`held` says that the frames are held to the property's cadence already; `track` is the property where it is
        another one than that of the layer, `unit` that of a cascade for which it is evaluated."""
        self.formulas = formulas
        self.subject = layer
        self.path = path
        self._unit = unit
        self.lines: Sequence[tuple[str, Run]] = ()
        self.done = 0
        self.names: dict[str, Any] = {}
        self._elsewhere = [0]
        self.scene: Scene = formulas.context.scene
        self._base = base
        track = self._track = track or layer.tracks[path]
        local = frames - layer.span.start
        kept = local if held or track.cadence is None else track.cadence.hold(local, self.scene.fps)
        self.frames = kept + layer.span.start
        self.begin = layer.span.start + track.formula_from
        """The scene frame at which the formula's time is 0."""
        self.local = kept - track.formula_from
        self.seconds = self.local / self.scene.fps

    def value(self, name: str) -> Any:
        if name == "t":
            return self.seconds[:, None]
        if name == "frame":
            return self.local[:, None]
        if name == "fps":
            return np.array([[self.scene.fps]])
        if name == "base":
            return _Base(self)
        if name in UNITS:
            return self._of_unit(name)
        alike_ones = [one.id for one in self.scene.layers if one.content.kind == self.subject.content.kind]
        if name == "count":
            return np.array([[float(len(alike_ones))]])
        return np.array([[float(alike_ones.index(self.subject.id)) if self.subject.id in alike_ones else 0.0]])

    def thing(self, name: str) -> Reference:
        if name == "scene":
            return _SceneThing(self)
        if name == "unit_box":
            self._of_unit(name)
            return _UnitBox(self._unit)
        return _Box(self, self.subject, self.frames) if name == "box" else _Beat(self)

    def _of_unit(self, name: str) -> Floats:
        """What a unit of a cascade is; where no unit is meant, as in the panel, what the first is before it begins."""
        if not self.path.startswith(CASCADES):
            raise Faulty(FormulaProblem(sentence=f"'{name}' is known in the values of a cascade alone."))
        if self._unit is None:
            return np.array([[1.0 if name == "units" else 0.0]])
        if name == "progress":
            return self._unit.progress(self.frames - self.subject.span.start)[:, None]
        return np.array([[float(self._unit.index if name == "unit" else self._unit.count)]])

    def own(self, name: str) -> Reference:
        return _Property(self, self.subject, name, self.frames)

    def layer(self, name: str, put: Callable[[str], str]) -> Reference:
        found = self.formulas.named(name)
        if not found:
            near = difflib.get_close_matches(name, [one.name for one in self.scene.layers], 1, 0.5)
            hint = f" Did you mean '{near[0]}'?" if near else ""
            mends = (Mend(label=f"Write {near[0]}", text=put(near[0])),) if near else ()
            raise Faulty(FormulaProblem(sentence=f"There is no layer '{name}'.{hint}", mends=mends))
        if len(found) > 1:
            raise Faulty(FormulaProblem(sentence=f"{len(found)} layers are called '{name}'. Rename one of them."))
        return _LayerThing(self, found[0])

    @property
    def seed(self) -> int:
        # Each unit goes its own way.
        return seed_of(self.subject, self.path) + (self._unit.index * 7_919 if self._unit else 0)

    @property
    def is_point(self) -> bool:
        return self.subject.shown[self.path].about.is_point

    def at_seconds(self, seconds: Floats, value: Run) -> Any:
        self._elsewhere[0] += 1
        if self._elsewhere[0] > MOST_STEPPED:
            raise Faulty(FormulaProblem(sentence="stepped(…) stands in itself too often. Use fewer of them."))
        frames = np.round(seconds * self.scene.fps, 6) + self.begin
        there = Scope(
            self.formulas,
            self.subject,
            self.path,
            frames,
            self._base_of(frames),
            held=True,
            track=self._track,
            unit=self._unit,
        )
        there._elsewhere = self._elsewhere
        # What the lines above gave is of these moments, too.
        there.lines = self.lines
        give_names(there, self.done)
        return plain(value(there))

    def placed(self, name: str, point: Floats, of: Layer | None = None) -> Floats:
        """A point in the scene, in a layer's pixels, or the angle to it; of the layer at these frames."""
        frames, layer = self.frames, of or self.subject
        if point.shape[1] != 2:
            raise Faulty(FormulaProblem(sentence=f"{name}(point) takes a pair (x, y)."))
        if name == "angle_to":
            away = point - _place(self.formulas, layer, frames)
            return np.degrees(np.arctan2(away[:, 1:], away[:, :1]))
        matrix = self.formulas.matrix(layer, frames)
        if name == "in_layer":
            back = inverse(matrix)
            if back is None:
                raise Faulty(FormulaProblem(sentence=f"'{layer.name}' has scale 0 at some frame."))
            matrix = back
        return apply(matrix, np.broadcast_to(point, (len(frames), 2)))

    def moment(self, seconds: Floats) -> Floats:
        """Scene frames (n,) of moments (n | 1, 1) in seconds of the layer."""
        if seconds.shape[1] != 1:
            raise Faulty(FormulaProblem(sentence="at(…) takes one moment in seconds, such as t - 0.2."))
        at = np.broadcast_to(seconds[:, 0], self.frames.shape) * self.scene.fps
        return np.clip(np.nan_to_num(np.round(at, 6)), -FARTHEST, FARTHEST) + self.begin

    def base_at(self, frames: Floats | None = None) -> Floats | Texts:
        """The property without its formula."""
        if self.path == WRITTEN:
            return Texts((self.subject.content.words or "",))
        return self._base if frames is None else self._base_of(frames)

    def _base_of(self, frames: Floats) -> Floats:
        track = self._track
        # These moments are held already: what is read there is not held once more.
        free = track if track.cadence is None else track.model_copy(update={"cadence": None})
        return self.formulas.base(self.subject, free, frames)


def seed_of(layer: Layer, path: str) -> int:
    """What the random motion of a property's formula starts from."""
    own = layer.tracks[path].formula_seed
    return seed_of_place(layer, path) if own is None else own


def seed_of_place(layer: Layer, path: str) -> int:
    """What it starts from where it has no seed of its own."""
    return zlib.crc32(f"{layer.id} {path}".encode())


def _place(formulas: Formulas, layer: Layer, frames: Floats) -> Floats:
    """Where a layer's anchor stands in the scene (n, 2): its position, or that in what carries it."""
    position = formulas.numbers(layer, "position", frames)
    if layer.carrier is None or layer.carrier not in formulas.context.scene.places:
        return position
    return apply(formulas.matrix(formulas.context.scene.layer(layer.carrier), frames), position)


class _Base(Reference):
    def __init__(self, here: Scope) -> None:
        self._here = here

    def now(self) -> Floats | Texts:
        return self._here.base_at()

    def at(self, *given: Floats) -> Floats | Texts:
        return self._here.base_at(self._here.moment(*_one(given)))


class _Property(Reference):
    def __init__(self, here: Scope, layer: Layer, path: str, frames: Floats) -> None:
        self._here, self._layer, self._path, self._frames = here, layer, path, frames

    def now(self) -> Floats | Texts:
        return self._here.formulas.read(self._layer, self._path, self._frames)

    def at(self, *given: Floats) -> Floats | Texts:
        return self._here.formulas.read(self._layer, self._path, self._here.moment(*_one(given)))


class _Box(Reference):
    has_parts = True

    def __init__(self, here: Scope, layer: Layer, frames: Floats) -> None:
        self._here, self._layer, self._frames = here, layer, frames

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence="box has left, top, width and height; box.at(0.5, 0.5) is its middle."))

    def _box(self) -> Floats:
        return self._here.formulas.inner(self._layer, self._frames)[0]

    def part(self, name: str) -> Any:
        names = ("left", "top", "width", "height")
        if name not in names:
            raise Faulty(FormulaProblem(sentence=f"A box has left, top, width and height, and no '{name}'."))
        index = names.index(name)
        return self._box()[:, index : index + 1]

    def at(self, *given: Floats) -> Floats:
        if len(given) != 2 or any(one.shape[1] != 1 for one in given):
            raise Faulty(FormulaProblem(sentence="box.at(x, y) takes two shares: box.at(0.5, 0.5) is the middle."))
        share = np.concatenate(np.broadcast_arrays(*given), axis=1)
        box = self._box()
        return box[:, :2] + share * box[:, 2:]


class _UnitBox(Reference):
    has_parts = True

    def __init__(self, unit: UnitOf | None) -> None:
        self._box = np.zeros((1, 4)) if unit is None else unit.box

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence="unit_box has left, top, width and height."))

    def part(self, name: str) -> Any:
        names = ("left", "top", "width", "height")
        if name not in names:
            raise Faulty(FormulaProblem(sentence=f"unit_box has left, top, width and height, and no '{name}'."))
        index = names.index(name)
        return self._box[:, index : index + 1]


class _SceneThing(Reference):
    has_parts = True

    def __init__(self, here: Scope) -> None:
        self._here = here

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence="scene has width, height, centre, fps, length and t."))

    def part(self, name: str) -> Any:
        scene = self._here.scene
        known = {"width": scene.width, "height": scene.height, "fps": scene.fps, "length": scene.length / scene.fps}
        if name == "t":
            return (self._here.frames / scene.fps)[:, None]
        if name == "centre":
            return np.array([[scene.width / 2, scene.height / 2]])
        if name not in known:
            raise Faulty(
                FormulaProblem(
                    sentence=f"The scene has width, height, centre, fps, length and t, and no '{name}'. A layer is "
                    'named scene["Name"].'
                )
            )
        return np.array([[float(known[name])]])


class _Beat(Reference):
    has_parts = True

    def __init__(self, here: Scope) -> None:
        self._here = here

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence="beat has last, next and phase."))

    def part(self, name: str) -> Any:
        if name not in ("last", "next", "phase"):
            raise Faulty(FormulaProblem(sentence=f"beat has last, next and phase, and no '{name}'."))
        here = self._here
        beats = np.array(sorted(beat.frame for beat in here.scene.beats))
        if not beats.size:
            raise Faulty(FormulaProblem(sentence="This scene has no beats. Set some on the ruler with B."))
        place = np.searchsorted(beats, here.frames + 1e-6, side="right")
        last = beats[np.maximum(place - 1, 0)]
        following = beats[np.minimum(place, len(beats) - 1)]
        if name == "phase":
            wide = following - last
            return np.where(wide > 0, np.clip((here.frames - last) / np.where(wide > 0, wide, 1), 0, 1), 0.0)[:, None]
        chosen = last if name == "last" else following
        return ((chosen - here.begin) / here.scene.fps)[:, None]


class _Level(Reference):
    def __init__(self, here: Scope, layer: Layer) -> None:
        self._here, self._layer = here, layer

    def now(self) -> Floats:
        return self._here.formulas.level(self._layer, self._here.frames)

    def at(self, *given: Floats) -> Floats:
        return self._here.formulas.level(self._layer, self._here.moment(*_one(given)))


class _LayerThing(Reference):
    has_parts = True

    def __init__(self, here: Scope, layer: Layer) -> None:
        self._here, self._layer = here, layer

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence=f'Which of its numbers? scene["{self._layer.name}"].position, for one.'))

    def part(self, name: str) -> Any:
        if name == "box":
            return _Box(self._here, self._layer, self._here.frames)
        if name == "loudness":
            if self._layer.content.sound_of(self._here.formulas.context.assets) is None:
                raise Faulty(FormulaProblem(sentence=f"'{self._layer.name}' has no sound."))
            return _Level(self._here, self._layer)
        paths = self._here.formulas.slugs(self._layer)
        if name not in paths and name in (earlier := earlier_slugs(self._layer)):
            return _Property(self._here, self._layer, earlier[name], self._here.frames)
        if name not in paths:
            near = difflib.get_close_matches(name, paths, 1, 0.5)
            hint = f" Did you mean {near[0]}?" if near else f" It has {', '.join(paths)}."
            raise Faulty(FormulaProblem(sentence=f"'{self._layer.name}' has no '{name}'.{hint}"))
        return _Property(self._here, self._layer, paths[name], self._here.frames)

    def placed(self, way: str, point: Floats) -> Floats:
        return self._here.placed(way, point, self._layer)


def slugs(layer: Layer) -> dict[str, str]:
    """The properties of a layer by their names in formulas: as they are shown, in small letters."""
    found: dict[str, str] = {"position": "position"}
    if layer.content.words is not None:
        found["text"] = WRITTEN
    for path in layer.tracks:
        if f".{MASKS}" not in path:
            found.setdefault(label_of(path, layer).lower().replace(" ", "_").replace("-", "_"), path)
    return found


def earlier_slugs(layer: Layer) -> dict[str, str]:
    """The names that numbers of gradients had before stops and lines were told apart, and those of the framing had
    before it was called so; formulas of then use them."""
    found: dict[str, str] = {}
    named = {path: name for name, path in slugs(layer).items()}
    for path in layer.tracks:
        *_, stops, number, name = ("", "", *path.split("."))
        if path.startswith("framing.") and path in named:
            found.setdefault(named[path].replace("framing_", "content_"), path)
        if ".stroke.colour." in path and stops != "stops" and path in named:
            found.setdefault(named[path].removeprefix("line_"), path)
        if stops == "stops" and MASKS not in path:
            which = f"_of_part_{int(number) + 1}" if int(number) else ""
            found.setdefault(("stop" if name == "at" else name) + which, path)
    return found


def _one(given: tuple[Floats, ...]) -> tuple[Floats]:
    if len(given) != 1:
        raise Faulty(FormulaProblem(sentence="at(…) takes one moment in seconds, such as at(t - 0.2)."))
    return (given[0],)
