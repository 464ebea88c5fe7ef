"""Keyframes of CSS as keys of a layer: individual transforms and `transform` in their order, opacity, about the point
that `transform-origin` says (CSS Animations Level 1, CSS Transforms Level 2)."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field, replace
from typing import Any

import tinycss2
from pydantic import TypeAdapter

from ..core.contents.assets import Assets
from ..core.document.scene import Layer, Scene
from ..core.easings.text import read_ease
from ..core.edits import apply_edits
from ..core.edits.any_edit import AnyEdit
from ..core.ground.errors import Refused
from ..core.resolve.resolved import resolve

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)

MOST_KEYS = 2_000
ORDER = ("translate", "rotate", "scale")
"""How a layer is placed: what stands in another order is not taken."""
TURNS = {"deg": 1.0, "rad": 180 / math.pi, "grad": 0.9, "turn": 360.0}
LENGTHS = {"px": 1.0, "in": 96.0, "cm": 96 / 2.54, "mm": 9.6 / 2.54, "pt": 4 / 3, "pc": 16.0}
AGAIN = ("infinite", "reverse", "alternate", "alternate-reverse")
HELD = re.compile(r"step-end|steps\(\s*1\s*(,\s*(jump-)?end)?\s*\)")
NO_PROPERTY = "properties other than translate, rotate, scale, transform and opacity"
NO_ORDER = "transforms in another order than translate, rotate, scale"
NO_UNIT = "lengths that depend on a font or a page"
NO_ROUNDS = "repeats and directions (choose After the last key: repeat)"


Moment = tuple[float, list[Any], str]
"""A part (0…1) of an animation, what a property is there, and the easing to the next."""


@dataclass
class _Frame:
    """What stands at a part (0…1) of an animation: values by property, and the easing to the next."""

    offset: float
    values: dict[str, list[Any]] = field(default_factory=dict)
    ease: str = ""


@dataclass
class _Run:
    """Keyframes by their name, for how long and how much later they run, and the easing of those that tell none."""

    name: str
    seconds: float = 1.0
    delay: float = 0.0
    ease: str = "ease"


@dataclass
class _Timing:
    runs: list[_Run] = field(default_factory=list)
    origin: list[Any] = field(default_factory=list)
    rounds: bool = False


def css_edits(
    data: bytes, name: str, scene: Scene, layer: Layer, assets: Assets, frame: float
) -> tuple[list[dict[str, Any]], list[str]]:
    """Edits that write the keyframes of a style sheet as keys of a layer, from a frame of the scene on, counted from
    where it stands there; and what was left out, a sentence. Where several are animated in it, the one of the layer's
    name is taken, or else the first. Refused in words where there are none."""
    try:
        return _edits(data, name, scene, layer, assets, frame)
    except Refused:
        raise
    except (AttributeError, IndexError, TypeError, ValueError):
        raise Refused(
            "A value in it cannot be read.",
            where=name,
            mend="Write plain lengths, angles and numbers in the keyframes.",
        ) from None


def _edits(
    data: bytes, name: str, scene: Scene, layer: Layer, assets: Assets, frame: float
) -> tuple[list[dict[str, Any]], list[str]]:
    rules = tinycss2.parse_stylesheet(data.decode("utf-8", "replace"), skip_comments=True, skip_whitespace=True)
    found = {one.prelude[-1].value: _frames(one) for one in _keyframes(rules)}
    if not found:
        raise Refused("There are no keyframes in it.", where=name, mend="Copy them with their @keyframes.")
    notes: dict[str, None] = {}
    timing = _timing(rules, layer.name, list(found))
    if timing.rounds:
        notes[NO_ROUNDS] = None
    edits: list[dict[str, Any]] = []
    resolved = resolve(scene, [frame], assets, ids=[layer.id]).layers[layer.id]
    reader = _Reader(scene, resolved, notes)
    if timing.origin:
        # The anchor first, the picture staying: what comes turns about it, and counts from where it stands then.
        to = {"fraction": reader.origin(timing.origin)}
        edits.append({"edit": "move_anchor", "layer": layer.id, "frame": frame, "to": to})
        scene = apply_edits(scene, [EDIT.validate_python(edits[0])], assets).scene
        reader = _Reader(scene, resolve(scene, [frame], assets, ids=[layer.id]).layers[layer.id], notes)
    keys: list[dict[str, Any]] = []
    for run in timing.runs:
        start, long = frame + run.delay * scene.fps, run.seconds * scene.fps
        for prop, moments in _channels(found[run.name], run.ease).items():
            keys += reader.keys(prop, moments, start, long)
    if not keys:
        raise Refused("Nothing in these keyframes moves a layer.", where=name, mend=f"Left out: {', '.join(notes)}.")
    if len(keys) > MOST_KEYS:
        raise Refused(f"These are {len(keys):,} keys; {MOST_KEYS:,} are the most.", where=name)
    first = min(key["at"] for key in keys)
    loose = [{**{k: v for k, v in key.items() if k != "at"}, "after": key["at"] - first} for key in keys]
    edits.append({"edit": "paste_keys", "layers": [layer.id], "frame": first, "beyond": True, "keys": loose})
    return edits, [f"Left out: {', '.join(notes)}."] if notes else []


def _keyframes(rules: list[Any]) -> list[Any]:
    found = []
    for one in rules:
        if one.type != "at-rule" or one.content is None:
            continue
        if one.lower_at_keyword in ("media", "supports", "layer"):
            inner = tinycss2.parse_blocks_contents(one.content, skip_comments=True, skip_whitespace=True)
            found += _keyframes(inner)
        elif re.fullmatch(r"(-[a-z]+-)?keyframes", one.lower_at_keyword):
            names = [part for part in one.prelude if part.type in ("ident", "string")]
            if names:
                one.prelude = names
                found.append(one)
    return found


def _frames(rule: Any) -> list[_Frame]:
    frames: dict[float, _Frame] = {}
    for one in tinycss2.parse_blocks_contents(rule.content, skip_comments=True, skip_whitespace=True):
        if one.type != "qualified-rule":
            continue
        said = tinycss2.parse_blocks_contents(one.content, skip_comments=True, skip_whitespace=True)
        declared = {each.lower_name: _bare(each.value) for each in said if each.type == "declaration"}
        ease = tinycss2.serialize(declared.pop("animation-timing-function", [])).strip()
        for part in tinycss2.serialize(one.prelude).split(","):
            word = part.strip().lower()
            at = {"from": 0.0, "to": 1.0}.get(word)
            if at is None and re.fullmatch(r"[\d.]+%", word):
                at = float(word[:-1]) / 100
            if at is None or not 0 <= at <= 1:
                continue
            frame = frames.setdefault(at, _Frame(at))
            frame.values |= declared
            frame.ease = ease or frame.ease
    return [frames[at] for at in sorted(frames)]


def _bare(tokens: list[Any]) -> list[Any]:
    return [one for one in tokens if one.type not in ("whitespace", "comment")]


def _timing(rules: list[Any], name: str, known: list[str]) -> _Timing:
    """How the keyframes run: by the rule of the layer's name, or the first that animates; else all of them at once."""
    wanted = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    chosen: _Timing | None = None
    for rule in rules:
        if rule.type != "qualified-rule":
            continue
        said = tinycss2.parse_blocks_contents(rule.content, skip_comments=True, skip_whitespace=True)
        declared = {each.lower_name: _bare(each.value) for each in said if each.type == "declaration"}
        timing = _of_rule(declared, known)
        if not timing.runs:
            continue
        selector = tinycss2.serialize(rule.prelude)
        if chosen is None or re.search(rf"[.#]{re.escape(wanted)}(?![\w-])", selector):
            chosen = timing
    return chosen or _Timing([_Run(one) for one in known])


def _of_rule(declared: dict[str, list[Any]], known: list[str]) -> _Timing:
    timing = _Timing(origin=declared.get("transform-origin", []))
    for part in _parted(declared.get("animation", [])):
        run = _Run("")
        times: list[float] = []
        for one in part:
            word = getattr(one, "lower_value", "") or ""
            if one.type == "ident" and one.value in known:
                run.name = one.value
            elif one.type == "dimension" and one.lower_unit in ("s", "ms"):
                times.append(_seconds(one))
            elif one.type == "function" or word in ("linear", "ease", "ease-in", "ease-out", "ease-in-out"):
                run.ease = tinycss2.serialize([one])
            elif word in AGAIN or (one.type == "number" and one.value != 1):
                timing.rounds = True
        run.seconds, run.delay = [*times, *(1.0, 0.0)[len(times) :]][:2]
        if run.name:
            timing.runs.append(run)
    names = [one[0].value for one in _parted(declared.get("animation-name", [])) if one and one[0].type == "ident"]
    if names:
        there = timing.runs or [_Run("")]
        timing.runs = [replace(there[at % len(there)], name=one) for at, one in enumerate(names) if one in known]
    for at, run in enumerate(timing.runs):
        for prop, attribute in (("animation-duration", "seconds"), ("animation-delay", "delay")):
            given = [one[0] for one in _parted(declared.get(prop, [])) if one and one[0].type == "dimension"]
            if given:
                setattr(run, attribute, _seconds(given[at % len(given)]))
        eases = _parted(declared.get("animation-timing-function", []))
        if eases:
            run.ease = tinycss2.serialize(eases[at % len(eases)]).strip()
        run.seconds = max(run.seconds, 0.001)
    counts = [getattr(one, "lower_value", "") for one in declared.get("animation-iteration-count", [])]
    timing.rounds |= "infinite" in counts
    return timing


def _parted(tokens: list[Any]) -> list[list[Any]]:
    """Tokens between commas."""
    found: list[list[Any]] = [[]]
    for one in tokens:
        if one.type == "literal" and one.value == ",":
            found.append([])
        else:
            found[-1].append(one)
    return [part for part in found if part]


def _seconds(token: Any) -> float:
    return float(token.value) * (0.001 if token.lower_unit == "ms" else 1.0)


def _channels(frames: list[_Frame], ease: str) -> dict[str, list[Moment]]:
    found: dict[str, list[Moment]] = {}
    for frame in frames:
        for prop, value in frame.values.items():
            found.setdefault(prop, []).append((frame.offset, value, frame.ease or ease))
    return found


class _Reader:
    """Values of CSS as those of a layer: lengths count from where it stands, in percent of its box."""

    def __init__(self, scene: Scene, resolved: Any, notes: dict[str, None]) -> None:
        self._scene, self._notes = scene, notes
        self._box = [float(one) for one in resolved.box[0]]
        self._place = [float(one) for one in resolved.place[0]]
        values = resolved.values
        self._rest = {
            "scale": [float(one) for one in values["scale"][0]], "rotation": float(values["rotation"][0, 0]),
            "opacity": float(values["opacity"][0, 0]), "position": self._place,
        }  # fmt: skip

    def keys(
        self, prop: str, moments: list[tuple[float, list[Any], str]], start: float, long: float
    ) -> list[dict[str, Any]]:
        """Keys of the properties that one of CSS tells."""
        told: dict[str, list[tuple[float, Any, str]]] = {}
        for offset, tokens, ease in moments:
            for name, value in self._read(prop, tokens).items():
                told.setdefault(name, []).append((offset, value, ease))
        found = []
        for name, values in told.items():
            # A keyframe that is not told is what stands there without.
            if values[0][0] > 0:
                values.insert(0, (0.0, self._rest[name], moments[0][2]))
            if values[-1][0] < 1:
                values.append((1.0, self._rest[name], "linear"))
            for offset, value, ease in values:
                eased = (
                    "hold" if re.fullmatch(r"step-end|steps\(\s*1\s*(,\s*(jump-)?end)?\s*\)", ease) else read_ease(ease)
                )
                ready = eased if isinstance(eased, str) else eased.model_dump(mode="json")
                found.append({"property": name, "at": start + offset * long, "value": value, "ease": ready})
        return found

    def _read(self, prop: str, tokens: list[Any]) -> dict[str, Any]:
        if prop == "opacity":
            number = tokens[0].value * (1 if tokens[0].type == "percentage" else 100)
            return {"opacity": min(max(float(number), 0.0), 100.0)}
        if prop == "visibility":
            return {}
        if prop in ORDER:
            return self._part(prop, [] if _is_none(tokens) else tokens)
        if prop == "transform":
            return self._transform(tokens)
        self._notes[NO_PROPERTY] = None
        return {}

    def _part(self, prop: str, tokens: list[Any]) -> dict[str, Any]:
        if prop == "translate":
            steps = [self._length(one, axis) for axis, one in enumerate(tokens[:2])]
            x, y = [*steps, 0.0, 0.0][:2]
            return {"position": [self._place[0] + x, self._place[1] + y]}
        if prop == "rotate":
            return {"rotation": sum(_turn(one) for one in tokens if one.type in ("dimension", "number"))}
        numbers = [
            one.value * (1 if one.type == "percentage" else 100)
            for one in tokens
            if one.type in ("number", "percentage")
        ]
        pair = (numbers or [100.0])[:2]
        return {"scale": [pair[0], pair[-1]]}

    def _transform(self, tokens: list[Any]) -> dict[str, Any]:
        """A list of functions that stand as a layer is placed: moved, turned, grown."""
        found: dict[str, Any] = {} if not _is_none(tokens) else self._part("translate", [])
        if _is_none(tokens):
            return found | self._part("rotate", []) | self._part("scale", [])
        place = -1
        for one in tokens:
            if one.type != "function":
                continue
            given = [part for part in _bare(one.arguments) if part.type != "literal"]
            name, axis = one.lower_name, ""
            for long in ORDER:
                if name in (f"{long}x", f"{long}y"):
                    name, axis = long, name[-1]
            name = {"rotatez": "rotate"}.get(name, name)
            if name not in ORDER or ORDER.index(name) <= place:
                self._notes[NO_ORDER] = None
                continue
            place = ORDER.index(name)
            if axis:
                given = self._on_axis(name, axis, given)
            found |= self._part(name, given)
        return found

    @staticmethod
    def _on_axis(name: str, axis: str, given: list[Any]) -> list[Any]:
        other = tinycss2.parse_one_component_value("0px" if name == "translate" else "1")
        return [given[0], other] if axis == "x" else [other, given[0]]

    def _length(self, token: Any, axis: int) -> float:
        if token.type == "percentage":
            return float(token.value) / 100 * self._box[2 + axis]
        if token.type == "number":
            return float(token.value)
        if token.type == "dimension":
            if token.lower_unit in LENGTHS:
                return float(token.value) * LENGTHS[token.lower_unit]
            if token.lower_unit in ("vw", "vh"):
                return (
                    float(token.value) / 100 * (self._scene.width if token.lower_unit == "vw" else self._scene.height)
                )
        self._notes[NO_UNIT] = None
        return 0.0

    def origin(self, tokens: list[Any]) -> list[float]:
        """`transform-origin` as fractions of the box."""
        words = {"left": (0, 0.0), "right": (0, 1.0), "top": (1, 0.0), "bottom": (1, 1.0)}
        point = [0.5, 0.5]
        for axis, one in enumerate(tokens[:2]):
            word = getattr(one, "lower_value", None) if one.type == "ident" else None
            if word in words:
                which, share = words[word]
                point[which] = share
            elif word is None:
                extent = self._box[2 + axis]
                point[axis] = self._length(one, axis) / extent if extent else 0.5
        return point


def _is_none(tokens: list[Any]) -> bool:
    return len(tokens) == 1 and tokens[0].type == "ident"


def _turn(token: Any) -> float:
    return float(token.value) * TURNS.get(getattr(token, "lower_unit", "deg"), 1.0)
