"""Formulas of layers evaluated: what they may ask for, in which order, and what becomes of those that fail.

A formula that fails leaves its property what it is without it. Those that need each other in a circle all fail.
"""

from __future__ import annotations

import re
from collections import OrderedDict
from collections.abc import Iterable, Sequence
from contextlib import nullcontext
from graphlib import CycleError, TopologicalSorter
from typing import TYPE_CHECKING

import numpy as np

from ...contents.base import UnitOf
from ...document.items_as_layers import outer_path
from ...document.properties import label_of
from ...document.scene import Layer
from ...formulas.language import program_of
from ...formulas.mends import label_of as button_of
from ...formulas.problem import Circle, Faulty, FormulaProblem, Mend, TooMany
from ...formulas.table import function_of, may_be_random
from ...formulas.texts import Texts, codes_of, padded, texts_of
from ...geometry.bezier import Floats
from ...geometry.transform import multiply
from ...ground.deep_calls import deep_calls
from ...ground.errors import Refused
from ...tracks.base import Track
from ...tracks.evaluate import evaluate
from ..place import NOWHERE, PLACED_BY, place, windowed
from ..sound.loudness import level_of
from .scope import WRITTEN, Scope, slugs

if TYPE_CHECKING:
    from ..context import Context, LayerContext

Member = tuple[str, str]
"""A layer's id and the path of one of its properties."""
UNIT_NAMES = frozenset(("unit", "units", "progress", "unit_box"))
"""What a formula reads that is another one for each unit of a cascade."""
MOST_MOMENTS = 20_000
"""Moments that all formulas of a scene may ask each other for at one frame: with several delays each follower
multiplies them. Where it is more, those that ask for it have no value, whatever frames are asked for."""
LAST_STOP = 4_000_000
"""Moments at which an evaluation stops whose moments no count foresaw."""
COUNTS: OrderedDict[object, frozenset[Member]] = OrderedDict()
"""The formulas that ask for too many moments, by all that they depend on; of the latest scenes."""


class Formulas:
    """Evaluates the formulas of a context's scene; from one thread, as the context."""

    def __init__(self, context: Context) -> None:
        self._context = context
        self._open: list[Member] = []
        self._known: dict[Member, tuple[Floats, Floats]] = {}
        self._broken: set[Member] = set()
        self._left = 0
        self._names: dict[str, list[Layer]] | None = None
        self._slugs: dict[int, tuple[Layer, dict[str, str]]] = {}
        self._bases: dict[Member, tuple[Layer, Floats, Floats]] = {}
        self._asked: dict[Member, list[Floats]] | None = None
        self._made_up = False
        self._excess: frozenset[Member] | None = None
        self.problems: dict[Member, FormulaProblem] = {}
        self.beyond: dict[Member, FormulaProblem] = {}
        """What is said of values that stop at the ends of their property's range: hints, and nothing that fails."""

    def value(self, layer: Layer, path: str, frames: Floats, base: Floats | None = None) -> Floats:
        """A property of a layer (n, d) at scene frames (n,), its formula counted in; `base` is its value without."""
        track = layer.tracks[path]
        if self._asked is not None:
            if track.formula is not None:
                self._asked.setdefault((layer.id, path), []).append(frames)
            if self._made_up:
                # Other moments have other values: those that go by them are counted as many.
                return np.broadcast_to(np.sin(frames * 12.9898 + len(layer.id))[:, None], (len(frames), track.dims))
            return np.zeros((len(frames), track.dims))
        if track.formula is None:
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
                if path == WRITTEN:
                    wide = max(found.shape[1], more.shape[1])
                    found, more = padded(found, wide), padded(more, wide)
                order = np.argsort(np.concatenate([times, fresh]), kind="stable")
                times, found = np.concatenate([times, fresh])[order], np.concatenate([found, more])[order]
        if member not in self.problems or not self._open:
            self._known[member] = times, found
        return found[np.searchsorted(times, frames)]

    def of_units(self, layer: Layer, path: str, frames: Floats, units: Sequence[UnitOf]) -> Floats | None:
        """A value of a cascade for each unit (n, u, d) at scene frames (n,); None where it is one for all, or fails."""
        track = layer.tracks[path]
        if track.formula is None or (layer.id, path) in self.problems:
            return None
        try:
            program = program_of(track.formula)
            if not program.names & UNIT_NAMES and not may_be_random(track.formula):
                return None
            base = self.base(layer, track, frames)
            found = []
            with np.errstate(all="ignore"):
                for unit in units:
                    value = np.asarray(program.run(Scope(self, layer, path, frames, base, unit=unit)), dtype=np.float64)
                    found.append(self._fitting(layer, path, track, frames, value, base))
        except (Faulty, Refused) as wrong:
            told = wrong.problem if isinstance(wrong, Faulty) else FormulaProblem(sentence=wrong.sentence)
            self._told(layer.id, path, told)
            return None
        return np.stack(found, axis=1) if found else None

    def foresee(self, layers: Iterable[Layer], frames: Floats) -> None:
        """Evaluate those formulas that others read at all frames at which these will ask for them, once each: a chain
        of followers costs as much as it is long. What cannot be foreseen is evaluated when it is asked for."""
        wanted = {layer.id for layer in layers if self._context.is_own(layer)}
        if self._open or not any(self._followed(self._context.scene.layer(name)) for name in wanted):
            return
        order = self._followers_first(wanted)
        excess = self._too_many()
        asked: dict[Member, list[Floats]] = {}
        members: list[tuple[Layer, str, Floats]] = []
        for layer in order:
            for path in layer.formulas:
                parts = asked.pop((layer.id, path), []) + ([frames] if layer.id in wanted else [])
                if not parts or (layer.id, path) in excess:
                    continue
                times = np.unique(np.concatenate(parts)) if len(parts) > 1 or layer.id not in wanted else parts[0]
                members.append((layer, path, times))
                for member, more in self._asks(layer, path, times).items():
                    asked.setdefault(member, []).extend(more)
        for layer, path, times in reversed(members):
            self.value(layer, path, times)

    def _too_many(self) -> frozenset[Member]:
        """The formulas that have no value, since they ask for too many moments of others: counted at one frame for the
        whole scene, so that it is the same whatever layers and frames are asked for."""
        if self._excess is None:
            layers = [layer for layer in self._context.scene.layers if layer.formulas]
            scene = self._context.scene
            key = (
                scene.length,
                scene.frame_rate,
                scene.beats,
                *((one.id, one.name, one.span, one.carrier, *one.formulas.items()) for one in layers),
            )
            found = COUNTS.pop(key, None)
            # Meanwhile nothing is in excess: what is counted asks for it, too.
            self._excess = frozenset()
            COUNTS[key] = self._excess = self._counted(layers) if found is None else found
            while len(COUNTS) > 64:
                COUNTS.popitem(last=False)
        return self._excess

    def _counted(self, layers: list[Layer]) -> frozenset[Member]:
        if not any(self._followed(layer) for layer in layers):
            return frozenset()
        frame = np.array([self._context.scene.length // 3], dtype=np.float64)
        asked: dict[Member, list[Floats]] = {}
        readers: dict[Member, set[Member]] = {}
        counts: dict[Member, int] = {}
        total = 0
        members = [(one, path) for one in self._followers_first({one.id for one in layers}) for path in one.formulas]
        most = max(MOST_MOMENTS, 4 * len(members))
        self._made_up = True
        try:
            for layer, path in members:
                times = np.unique(np.concatenate([frame, *asked.pop((layer.id, path), [])]))
                counts[layer.id, path] = len(times)
                total += len(times)
                if total > most:
                    break
                for member, more in self._asks(layer, path, times).items():
                    asked.setdefault(member, []).extend(more)
                    readers.setdefault(member, set()).add((layer.id, path))
            else:
                return frozenset()
        finally:
            self._made_up = False
        found: set[Member] = set()
        open_members = [max(counts, key=lambda member: counts[member])]
        while open_members:
            fresh = readers.get(open_members.pop(), set()) - found
            found |= fresh
            open_members += fresh
        return frozenset(found)

    def _followed(self, layer: Layer) -> list[Layer]:
        """The layers with formulas that the formulas of one read."""
        return [other for name in layer.named for other in self.named(name) if other.formulas]

    def _followers_first(self, wanted: set[str]) -> list[Layer]:
        """Layers with formulas and those that they read, each before those that it reads; none where they read each
        other in a circle."""
        graph: dict[str, set[str]] = {}
        open_ids = [name for name in wanted if self._context.scene.layer(name).formulas]
        while open_ids:
            name = open_ids.pop()
            if name not in graph:
                graph[name] = {other.id for other in self._followed(self._context.scene.layer(name))} - {name}
                open_ids += graph[name]
        try:
            order = list(TopologicalSorter(graph).static_order())
        except CycleError:
            return []
        return [self._context.scene.layer(name) for name in reversed(order)]

    def _asks(self, layer: Layer, path: str, frames: Floats) -> dict[Member, list[Floats]]:
        """The frames (n,) at which a formula asks for others: it is run with 0 for each of their values."""
        found: dict[Member, list[Floats]] = {}
        try:
            program = program_of(layer.formulas[path])
            if not program.layers:
                return found
            base = self.base(layer, layer.tracks[path], frames)
            self._asked = found
            with np.errstate(all="ignore"):
                program.run(self._scope(layer, path, frames, base))
        except (Faulty, Refused):
            pass
        finally:
            self._asked = None
        return found

    def _plain(self, layer: Layer, path: str, frames: Floats) -> Floats:
        """A property without a formula; kept for whoever asks for it at the same frames."""
        kept = self._bases.get((layer.id, path))
        if kept is not None and kept[0] is layer and len(kept[1]) == len(frames) and (kept[1] == frames).all():
            return kept[2]
        found = self.base(layer, layer.tracks[path], frames)
        self._bases[layer.id, path] = layer, frames, found
        return found

    def base(self, layer: Layer, track: Track, frames: Floats) -> Floats:
        """A property without its formula (n, d) at scene frames (n,)."""
        (found,) = evaluate([track], [frames - layer.span.start], self._context.scene.fps)
        return np.broadcast_to(found, (len(frames), found.shape[1]))

    def named(self, name: str) -> list[Layer]:
        """The layers of the scene of that name."""
        if self._names is None:
            self._names = {}
            for layer in self._context.scene.layers:
                self._names.setdefault(layer.name, []).append(layer)
        return self._names.get(name, [])

    def slugs(self, layer: Layer) -> dict[str, str]:
        """The properties of a layer by their names in formulas, found once for each layer."""
        if id(layer) not in self._slugs:
            self._slugs[id(layer)] = layer, slugs(layer)
        return self._slugs[id(layer)][1]

    def _evaluated(self, layer: Layer, path: str, frames: Floats, known: Floats | None = None) -> Floats:
        """The value of a formula (n, d) at frames (n,), each by itself; what it is without where that fails."""
        track, member = layer.tracks[path], (layer.id, path)
        if known is None:
            base = self.base(layer, track, frames)
        else:
            base = known if len(known) == len(frames) else np.broadcast_to(known, (len(frames), known.shape[1]))
        if member in self._broken:
            return base
        if member in self._open:
            members = tuple(self._open[self._open.index(member) :])
            self._broken.update(members)
            raise Circle(FormulaProblem(sentence=self._circle(members, layer)), members)
        if layer.named and member in self._too_many():
            self.problems[member] = FormulaProblem(sentence=TOLD_MANY)
            return base
        self._left = self._left - len(frames) if self._open else LAST_STOP
        if self._left < 0:
            raise TooMany(FormulaProblem(sentence=TOLD_MANY))
        # A chain of followers is as deep as it is long.
        deep = nullcontext() if self._open else deep_calls()
        self._open.append(member)
        try:
            program = program_of(track.formula or "")
            with deep, np.errstate(all="ignore"):
                found = program.run(self._scope(layer, path, frames, base))
            if path == WRITTEN:
                return self._written(layer, found, len(frames), track.formula or "")
            if isinstance(found, Texts):
                raise Faulty(FormulaProblem(sentence=f"{label_of(path, layer)} is no text, and the formula gives one."))
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

    def _scope(self, layer: Layer, path: str, frames: Floats, base: Floats) -> Scope:
        """Where a formula is evaluated. That of an item, while its layer is for the moment a scene of its own, reads
        what it does in its layer."""
        lent = self._context.around_items
        if lent is not None and layer.id in self._context.scene.places:
            around, parent = lent
            address = f"{parent}/{layer.id}"
            try:
                place = outer_path(around.scene, address, path)
                subject = around.scene.layer(address.split("/")[0])
            except Refused:
                return Scope(self, layer, path, frames, base)
            if place in subject.tracks:
                return Scope(around.formulas, subject, place, frames, base, track=layer.tracks[path])
        return Scope(self, layer, path, frames, base)

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
        text = track.formula or ""
        if found.shape[1] != width:
            raise Faulty(_other_kind(label_of(path, layer), found.shape[1], width, text))
        if len(found) != len(base):
            found = np.broadcast_to(found, base.shape)
        there = (frames >= layer.span.start) & (frames < layer.span.end)
        whole = np.isfinite(found)
        if not whole.all():
            wrong = ~whole.all(axis=1)
            found = found.copy()
            found[wrong] = base[wrong]
            at = frames[wrong & there]
            there &= ~wrong
            if at.size:
                self._told(
                    layer.id, path,
                    FormulaProblem(
                        sentence=f"There is no value at frame {at[0]:g}{_more(len(at))}: {_why_none(text)}. The value "
                        "without the formula stands there.",
                        frames=tuple(int(one) for one in at[:100]),
                    ),
                )  # fmt: skip
        about = layer.shown[path].about
        low, high = about.low, about.high
        if low is not None and high is not None and width < 4 and ((found < low) | (found > high)).any():
            out = ((found < low) | (found > high)).any(axis=1) & there
            if out.any():
                unit = f" {about.unit}" if about.unit else ""
                *above, last = text.split("\n")
                mend = "\n".join([*above, f"clamp({last.strip()}, {low:g}, {high:g})"])
                self.beyond[layer.id, path] = FormulaProblem(
                    sentence=f"{layer.shown[path].label} goes from {low:g} to {high:g}{unit}, and stops there: this is "
                    f"beyond it at frame {frames[out][0]:g}{_more(int(out.sum()))}.",
                    frames=tuple(int(one) for one in frames[out][:100]),
                    mends=(Mend(label=button_of(mend.split("\n")[-1]), text=mend),),
                )  # fmt: skip
            found = np.clip(found, low, high)
        return np.rint(np.clip(found, 0, 255)) if width == 4 else found

    def _written(self, layer: Layer, found: Floats | Texts, count: int, text: str) -> Floats:
        """A text as code points (count, d); Faulty where it is a number."""
        if isinstance(found, Texts):
            return codes_of(found, count)
        lines = text.split("\n")
        last = lines[-1].strip()
        mends = [
            Mend(label=f'Write format(…, "{how}")', text="\n".join([*lines[:-1], f'format({last}, "{how}")']))
            for how in ("0", "0.0", "0:00")
        ]
        raise Faulty(
            FormulaProblem(
                sentence=f"The text of '{layer.name}' takes a text, and the formula gives "
                f"{'a number' if found.shape[1] == 1 else 'something else'}.",
                line=len(lines), column=1, end=len(lines[-1]) + 1,
                mends=tuple(mends) if found.shape[1] == 1 else (),
            )
        )  # fmt: skip

    def _told(self, layer_id: str, path: str, problem: FormulaProblem) -> None:
        self.problems.setdefault((layer_id, path), problem)

    def read(self, layer: Layer, path: str, frames: Floats) -> Floats | Texts:
        """A property of a layer at scene frames (n,), both axes of a position that is in two, a text as texts."""
        if path != WRITTEN:
            return self.numbers(layer, path, frames)
        plain = layer.content.words or ""
        if path not in layer.tracks:
            return Texts((plain,))
        codes = self.value(layer, path, frames)
        return Texts(tuple(texts_of(codes)) if codes.shape[1] else (plain,))

    def numbers(self, layer: Layer, path: str, frames: Floats) -> Floats:
        """As `read`, of a property that is no text."""
        if path == "position" and path not in layer.tracks:
            return np.concatenate([self.value(layer, f"position.{axis}", frames) for axis in "xy"], axis=1)
        return self.value(layer, path, frames)

    def level(self, layer: Layer, frames: Floats) -> Floats:
        """How loud a layer is (n, 1) from each of some frames to the next, 0…1."""
        if self._asked is not None:
            return np.zeros((len(frames), 1))
        return level_of(layer, self._context, frames, lambda path, at: self.value(layer, path, at))

    def inner(self, layer: Layer, frames: Floats) -> tuple[Floats, dict[str, Floats]]:
        """The box of a layer (1 | n, 4) at frames, and the values that it came from."""
        wanted = [path for path in layer.tracks if path.startswith(("content.", "masks.", "crop.", "framing."))]
        values = {path: self.value(layer, path, frames) for path in wanted}
        around = self._around(layer, frames)
        return (NOWHERE if around is None else windowed(layer, values, around)[1].box), values

    def _around(self, layer: Layer, frames: Floats) -> LayerContext | None:
        """What a layer's content may ask for; nothing while it is only found out what formulas read."""
        return None if self._asked is not None else self._context.around(layer, frames)

    def matrix(self, layer: Layer, frames: Floats) -> Floats:
        """The matrix (n, 6) from a layer's pixels to the scene; of its numbers only those are asked that make it."""
        values = {path: self.value(layer, path, frames) for path in layer.tracks if path.startswith(PLACED_BY)}
        own = np.broadcast_to(place(layer, values, self._around(layer, frames)).matrix, (len(frames), 6))
        if layer.carrier is None or layer.carrier not in self._context.scene.places:
            return own
        return multiply(self.matrix(self._context.scene.layer(layer.carrier), frames), own)

    @property
    def context(self) -> Context:
        """What it belongs to."""
        return self._context


TOLD_MANY = (
    f"With those that it follows this asks for over {MOST_MOMENTS:,} moments of others at each frame. Use fewer "
    "formulas that follow each other with several delays."
)


def _why_none(text: str) -> str:
    """Why a formula may have no value, in words: of its functions and operators those that can fail."""
    called = set(re.findall(r"\b([a-z]+)\s*\(", text))
    found = [one.fails for one in map(function_of, sorted(called)) if one is not None and one.fails]
    if "**" in text:
        found.append("a power that has no value")
    if re.search(r"/|%", text):
        found.append("a division by 0")
    found = list(dict.fromkeys(found)) or ["a value that is too large, or one that what it reads has not"]
    return f"there is {' or '.join(found)}" if len(found) < 3 else f"there is {', '.join(found[:-1])} or {found[-1]}"


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
    comma = re.sub(r"(?<![\d.])(\d+),(\d+)(?![\d.])", r"\1.\2", text)
    if (given, wanted) == (2, 1) and comma != text:
        mends.append(Mend(label=button_of(comma), text=comma))
    elif (given, wanted) == (2, 1):
        for part in "xy":
            mends.append(Mend(label=f"Take {part}", text=f"{before}({last}).{part}"))
    return FormulaProblem(
        sentence=f"{label} takes {kinds[wanted]}, and the formula gives {kinds.get(given, 'something else')}.",
        line=len(lines), column=1, end=len(lines[-1]) + 1, mends=tuple(mends),
    )  # fmt: skip
