"""Formulas of layers evaluated: what they may ask for, in which order, and what becomes of those that fail.

A formula that fails leaves its property what it is without it. Those that need each other in a circle all fail.
"""

from __future__ import annotations

import difflib
import sys
import zlib
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from .bezier import Floats
from .easing import ease_at
from .easing_text import read_ease
from .errors import Refused
from .expressions import functions as fn
from .expressions.environment import Reference
from .expressions.language import alike, numbers, part_of, program_of
from .expressions.problem import Circle, Faulty, FormulaProblem, Mend, TooMany
from .inside import MASKS
from .motion import anchor_points
from .properties import label_of
from .resolved_layer import content_values
from .scene import Layer, Scene
from .tracks import Track, evaluate
from .transform import apply, inverse, matrices, multiply
from .window import window_on

if TYPE_CHECKING:
    from .context import Context

Member = tuple[str, str]
"""A layer's id and the path of one of its properties."""
# A chain of followers is as deep as it is long; calls of Python functions take no room on the stack of the process.
sys.setrecursionlimit(max(sys.getrecursionlimit(), 20_000))
MOST_MOMENTS = 200
"""Moments of other formulas that one may ask for at each frame: with several delays each follower multiplies them."""
FARTHEST = 1e7
"""Seconds and frames beyond which no moment is looked at."""


class Formulas:
    """Evaluates the formulas of a context's scene; from one thread, as the context."""

    def __init__(self, context: Context) -> None:
        self._context = context
        self._open: list[Member] = []
        self._known: dict[Member, tuple[Floats, Floats]] = {}
        self._broken: set[Member] = set()
        self._left = 0
        self._names: dict[str, list[Layer]] | None = None
        self._bases: dict[Member, tuple[Layer, Floats, Floats]] = {}
        self.problems: dict[Member, FormulaProblem] = {}

    def value(self, layer: Layer, path: str, frames: Floats, base: Floats | None = None) -> Floats:
        """A property of a layer (n, d) at scene frames (n,), its formula counted in; `base` is its value without."""
        track = layer.tracks[path]
        if track.expression is None:
            return self._plain(layer, path, frames) if base is None else base
        if not self._context.is_own(layer):
            return self._evaluated(layer, path, frames, base)
        member = layer.id, path
        known = self._known.get(member)
        if known is None:
            rising = len(frames) == 1 or bool((frames[1:] > frames[:-1]).all())
            times = frames if rising else np.unique(frames)
            found = self._evaluated(layer, path, times, base if rising else None)
            if rising:
                if member not in self.problems or not self._open:
                    self._known[member] = times, found
                return found
        else:
            times, found = known
            if times is frames or (len(times) == len(frames) and (times == frames).all()):
                return found
            fresh = np.setdiff1d(frames, times)
            if fresh.size:
                more = self._evaluated(layer, path, fresh)
                order = np.argsort(np.concatenate([times, fresh]), kind="stable")
                times, found = np.concatenate([times, fresh])[order], np.concatenate([found, more])[order]
        if member not in self.problems or not self._open:
            self._known[member] = times, found
        return found[np.searchsorted(times, frames)]

    def _plain(self, layer: Layer, path: str, frames: Floats) -> Floats:
        """A property without a formula; kept for whoever asks for it at the same frames."""
        kept = self._bases.get((layer.id, path))
        if kept is not None and kept[0] is layer and len(kept[1]) == len(frames) and (kept[1] == frames).all():
            return kept[2]
        found = self._base(layer, layer.tracks[path], frames)
        self._bases[layer.id, path] = layer, frames, found
        return found

    def _base(self, layer: Layer, track: Track, frames: Floats) -> Floats:
        (found,) = evaluate([track], [frames - layer.span.start], self._context.scene.fps)
        return np.broadcast_to(found, (len(frames), found.shape[1]))

    def named(self, name: str) -> list[Layer]:
        """The layers of the scene of that name."""
        if self._names is None:
            self._names = {}
            for layer in self._context.scene.layers:
                self._names.setdefault(layer.name, []).append(layer)
        return self._names.get(name, [])

    def _evaluated(self, layer: Layer, path: str, frames: Floats, known: Floats | None = None) -> Floats:
        """The value of a formula (n, d) at frames (n,), each by itself; what it is without where that fails."""
        track, member = layer.tracks[path], (layer.id, path)
        if known is None:
            base = self._base(layer, track, frames)
        else:
            base = np.broadcast_to(known, (len(frames), known.shape[1]))
        if member in self._broken:
            return base
        if member in self._open:
            members = tuple(self._open[self._open.index(member) :])
            self._broken.update(members)
            raise Circle(FormulaProblem(sentence=self._circle(members, layer)), members)
        self._left = self._left - len(frames) if self._open else MOST_MOMENTS * (len(frames) + 10)
        if self._left < 0:
            sentence = f"This asks for over {MOST_MOMENTS} moments of others at each frame. Let fewer formulas follow."
            raise TooMany(FormulaProblem(sentence=sentence))
        self._open.append(member)
        try:
            program = program_of(track.expression or "")
            with np.errstate(all="ignore"):
                found = numbers(program.run(_Here(self, layer, path, frames, base)))
            return self._fitting(layer, path, track, frames, np.asarray(found, dtype=np.float64), base)
        except Circle as circle:
            self.problems[member] = circle.problem
            if member != circle.members[0] and member in circle.members:
                raise
            return base
        except TooMany as many:
            if len(self._open) > 1:
                raise
            self.problems[member] = many.problem
            return base
        except Faulty as faulty:
            self.problems[member] = faulty.problem
            return base
        except RecursionError:
            self.problems[member] = FormulaProblem(sentence="Too many layers follow one another here.")
            return base
        except Refused as refusal:
            self.problems[member] = FormulaProblem(sentence=refusal.sentence)
            return base
        finally:
            self._open.pop()

    def _circle(self, members: tuple[Member, ...], layer: Layer) -> str:
        def said(member: Member) -> str:
            there = self._context.scene.places.get(member[0])
            of = layer if there is None else self._context.scene.layers[there]
            return f"{label_of(member[1], of).lower()} of {of.name}"

        line = [*map(said, members), said(members[0])]
        return f"{line[0][0].upper()}{line[0][1:]} needs {', which needs '.join(line[1:])}."

    def _fitting(self, layer: Layer, path: str, track: Track, frames: Floats, found: Floats, base: Floats) -> Floats:
        """A value in the form of its property; Faulty where it is of another kind."""
        width = base.shape[1]
        text = track.expression or ""
        if found.shape[1] != width:
            raise Faulty(_other_kind(label_of(path, layer), found.shape[1], width, text))
        found = np.array(np.broadcast_to(found, base.shape))
        there = (frames >= layer.span.start) & (frames < layer.span.end)
        wrong = ~np.isfinite(found).all(axis=1)
        if wrong.any():
            found[wrong] = base[wrong]
        at = frames[wrong & there]
        if at.size:
            self._told(
                layer.id, path,
                FormulaProblem(
                    sentence=f"There is no value at frame {at[0]:g}{_more(len(at))}: something is divided by 0, or is "
                    "too large. The value without the formula stands there.",
                    frames=tuple(int(one) for one in at[:100]),
                ),
            )  # fmt: skip
        about = layer.shown[path].about
        if about.low is not None and about.high is not None and width < 4:
            out = ((found < about.low) | (found > about.high)).any(axis=1) & ~wrong & there
            if out.any():
                unit = f" {about.unit}" if about.unit else ""
                self._told(
                    layer.id, path,
                    FormulaProblem(
                        sentence=f"{about.label} goes from {about.low:g} to {about.high:g}{unit}, and is beyond that "
                        f"at frame {frames[out][0]:g}{_more(int(out.sum()))}.",
                        frames=tuple(int(one) for one in frames[out][:100]),
                    ),
                )  # fmt: skip
            found = np.clip(found, about.low, about.high)
        return np.rint(np.clip(found, 0, 255)) if width == 4 else found

    def _told(self, layer_id: str, path: str, problem: FormulaProblem) -> None:
        self.problems.setdefault((layer_id, path), problem)

    def inner(self, layer: Layer, frames: Floats) -> tuple[Floats, dict[str, Floats]]:
        """The box of a layer (1 | n, 4) at frames, and the values that it came from."""
        wanted = [path for path in layer.tracks if path.startswith(("content.", "masks.", "crop.", "framing."))]
        values = {path: self.value(layer, path, frames) for path in wanted}
        box = layer.content.box(content_values(values), self._context.around(layer, frames))
        return window_on(layer, values, box).box, values

    def matrix(self, layer: Layer, frames: Floats) -> Floats:
        """The matrix (n, 6) from a layer's pixels to the scene; of its numbers only those are asked that make it."""
        box, _ = self.inner(layer, frames)
        anchor, _ = anchor_points(layer.anchor.pinned, self.value(layer, "anchor", frames), box)
        scale, rotation = (self.value(layer, name, frames) for name in ("scale", "rotation"))
        own = matrices(anchor, _property(self, layer, "position", frames), scale, rotation[:, 0])
        own = np.broadcast_to(own, (len(frames), 6))
        if layer.carrier is None or layer.carrier not in self._context.scene.places:
            return own
        return multiply(self.matrix(self._context.scene.layer(layer.carrier), frames), own)

    @property
    def context(self) -> Context:
        """What it belongs to."""
        return self._context


def _more(count: int) -> str:
    return f" and {count - 1} more" if count > 1 else ""


def _other_kind(label: str, given: int, wanted: int, text: str) -> FormulaProblem:
    kinds = {1: "one number", 2: "a pair (x, y)", 4: "a colour"}
    mends: list[Mend] = []
    lines = text.split("\n")
    last = lines[-1].strip()
    before = "\n".join([*lines[:-1], ""]) if len(lines) > 1 else ""
    if (given, wanted) == (1, 2):
        for words in (f"({last}, base.y)", f"(base.x, {last})", f"({last}, {last})"):
            mends.append(Mend(label=f"Write {words if len(words) < 40 else words[:38] + '…'}", text=before + words))
    if (given, wanted) == (2, 1):
        for part in "xy":
            mends.append(Mend(label=f"Take {part}", text=f"{before}({last}).{part}"))
    return FormulaProblem(
        sentence=f"{label} takes {kinds[wanted]}, and the formula gives {kinds.get(given, 'something else')}.",
        line=len(lines), column=1, end=len(lines[-1]) + 1, mends=tuple(mends),
    )  # fmt: skip


class _Here:
    """A formula's property at some frames (n,)."""

    def __init__(self, formulas: Formulas, layer: Layer, path: str, frames: Floats, base: Floats) -> None:
        self.formulas = formulas
        self.subject = layer
        self.path = path
        self.names: dict[str, Any] = {}
        self.scene: Scene = formulas.context.scene
        self._base = base
        track = layer.tracks[path]
        local = frames - layer.span.start
        held = local if track.cadence is None else track.cadence.hold(local, self.scene.fps)
        self.frames = held + layer.span.start
        self.begin = layer.span.start + track.expression_from
        """The scene frame at which the formula's time is 0."""
        self.local = held - track.expression_from
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
        alike_ones = [one.id for one in self.scene.layers if one.content.kind == self.subject.content.kind]
        if name == "count":
            return np.array([[float(len(alike_ones))]])
        return np.array([[float(alike_ones.index(self.subject.id)) if self.subject.id in alike_ones else 0.0]])

    def thing(self, name: str) -> Reference:
        if name == "scene":
            return _SceneThing(self)
        return _Box(self, self.subject, self.frames) if name == "box" else _Beat(self)

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

    def call(self, name: str, arguments: list[Callable[[Any], Any]], named: dict[str, Callable[[Any], Any]]) -> Any:
        if name == "stepped":
            return self._stepped(*arguments)
        if name == "ease":
            return self._ease(*arguments)
        found = [numbers(one(self)) for one in arguments]
        if name == "if_before":
            edge, before, after = found
            a, b = alike(before, after)
            return np.where(self.local[:, None] < edge, a, b)
        if name in ("to_scene", "from_scene", "angle_to"):
            return self._placed(name, found[0], self.subject, self.frames)
        seed = numbers(named["seed"](self)) if "seed" in named else np.zeros((1, 1))
        seed = seed + float(seed_of(self.subject, self.path))
        if name == "noise":
            return fn.noise(found[0], seed)
        if name == "wander":
            rate, reach = found
            return fn.wander(self.seconds[:, None] * rate, reach, seed)
        low, high = (np.zeros((1, 1)), found[0]) if len(found) == 1 else found
        return low + (high - low) * fn.hashed(np.zeros((1, 1)), seed)

    def _stepped(self, value: Callable[[Any], Any], per_second: Callable[[Any], Any]) -> Floats:
        rate = numbers(per_second(self))
        if not (rate > 0).all():
            raise Faulty(FormulaProblem(sentence="stepped(value, per_second) takes more than 0 times a second."))
        # As a cadence holds: a moment on the edge belongs to the value that begins there.
        held = np.floor(self.seconds * rate[:, 0] + 1e-9) / rate[:, 0]
        there = _Here(self.formulas, self.subject, self.path, held * self.scene.fps + self.begin, self._base)
        there.names = self.names
        return numbers(value(there))

    def _ease(self, name: Callable[[Any], Any], share: Callable[[Any], Any]) -> Floats:
        words = name(self)
        if not isinstance(words, str):
            raise Faulty(FormulaProblem(sentence='ease("name", k) takes the name of an easing in quotes.'))
        try:
            easing = read_ease(words)
        except Refused as refusal:
            raise Faulty(FormulaProblem(sentence=refusal.sentence)) from None
        u = numbers(share(self))
        return ease_at(easing, np.clip(u, 0, 1).reshape(-1)).reshape(u.shape)

    def _placed(self, name: str, point: Floats, layer: Layer, frames: Floats) -> Floats:
        if point.shape[1] != 2:
            raise Faulty(FormulaProblem(sentence=f"{name}(point) takes a pair (x, y)."))
        if name == "angle_to":
            away = point - _place(self.formulas, layer, frames)
            return np.degrees(np.arctan2(away[:, 1:], away[:, :1]))
        matrix = self.formulas.matrix(layer, frames)
        if name == "from_scene":
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

    def moved(self, frames: Floats) -> _Here:
        """The same formula at other scene frames."""
        base = self.formulas._base(self.subject, self.subject.tracks[self.path], frames)
        return _Here(self.formulas, self.subject, self.path, frames, base)

    def base_at(self, frames: Floats | None = None) -> Floats:
        """The property without its formula."""
        if frames is None:
            return self._base
        return self.formulas._base(self.subject, self.subject.tracks[self.path], frames)


def seed_of(layer: Layer, path: str) -> int:
    """What the random motion of a property's formula starts from."""
    own = layer.tracks[path].expression_seed
    return zlib.crc32(f"{layer.id} {path}".encode()) if own is None else own


def _place(formulas: Formulas, layer: Layer, frames: Floats) -> Floats:
    """Where a layer's anchor stands in the scene (n, 2): its position, or that in what carries it."""
    position = _property(formulas, layer, "position", frames)
    if layer.carrier is None or layer.carrier not in formulas.context.scene.places:
        return position
    return apply(formulas.matrix(formulas.context.scene.layer(layer.carrier), frames), position)


def _property(formulas: Formulas, layer: Layer, path: str, frames: Floats) -> Floats:
    if path == "position" and path not in layer.tracks:
        return np.concatenate([formulas.value(layer, f"position.{axis}", frames) for axis in "xy"], axis=1)
    return formulas.value(layer, path, frames)


class _Base(Reference):
    def __init__(self, here: _Here) -> None:
        self._here = here

    def now(self) -> Floats:
        return self._here.base_at()

    def at(self, *given: Floats) -> Floats:
        return self._here.base_at(self._here.moment(*_one(given)))


class _Property(Reference):
    def __init__(self, here: _Here, layer: Layer, path: str, frames: Floats) -> None:
        self._here, self._layer, self._path, self._frames = here, layer, path, frames

    def now(self) -> Floats:
        return _property(self._here.formulas, self._layer, self._path, self._frames)

    def at(self, *given: Floats) -> Floats:
        return _property(self._here.formulas, self._layer, self._path, self._here.moment(*_one(given)))


class _Box(Reference):
    has_parts = True

    def __init__(self, here: _Here, layer: Layer, frames: Floats) -> None:
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
        if len(given) != 2:
            raise Faulty(FormulaProblem(sentence="box.at(x, y) takes two shares: box.at(0.5, 0.5) is the middle."))
        share = np.concatenate(np.broadcast_arrays(*given), axis=1)
        box = self._box()
        return box[:, :2] + share * box[:, 2:]


class _SceneThing(Reference):
    has_parts = True

    def __init__(self, here: _Here) -> None:
        self._here = here

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence="scene has width, height, fps, length and t."))

    def part(self, name: str) -> Any:
        scene = self._here.scene
        known = {"width": scene.width, "height": scene.height, "fps": scene.fps, "length": scene.length / scene.fps}
        if name == "t":
            return (self._here.frames / scene.fps)[:, None]
        if name not in known:
            raise Faulty(FormulaProblem(sentence=f"The scene has width, height, fps, length and t, and no '{name}'."))
        return np.array([[float(known[name])]])


class _Beat(Reference):
    has_parts = True

    def __init__(self, here: _Here) -> None:
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


class _LayerThing(Reference):
    has_parts = True

    def __init__(self, here: _Here, layer: Layer) -> None:
        self._here, self._layer = here, layer

    def now(self) -> Floats:
        raise Faulty(FormulaProblem(sentence=f'Which of its numbers? layer("{self._layer.name}").position, for one.'))

    def part(self, name: str) -> Any:
        if name == "box":
            return _Box(self._here, self._layer, self._here.frames)
        paths = slugs(self._layer)
        if name not in paths:
            near = difflib.get_close_matches(name, paths, 1, 0.5)
            hint = f" Did you mean {near[0]}?" if near else f" It has {', '.join(paths)}."
            raise Faulty(FormulaProblem(sentence=f"'{self._layer.name}' has no '{name}'.{hint}"))
        return _Property(self._here, self._layer, paths[name], self._here.frames)


def slugs(layer: Layer) -> dict[str, str]:
    """The properties of a layer by their names in formulas: as they are shown, in small letters."""
    found: dict[str, str] = {"position": "position"}
    for path in layer.tracks:
        if f".{MASKS}" not in path:
            found.setdefault(label_of(path, layer).lower().replace(" ", "_").replace("-", "_"), path)
    return found


def _one(given: tuple[Floats, ...]) -> tuple[Floats]:
    if len(given) != 1:
        raise Faulty(FormulaProblem(sentence="at(…) takes one moment in seconds, such as at(t - 0.2)."))
    return (given[0],)


__all__ = ["Formulas", "part_of", "slugs"]
