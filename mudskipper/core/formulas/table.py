"""Every name that a formula may use, in one table: editor, documentation and the sentences of errors read it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from . import functions as fn

Numpy = Callable[..., Any]


@dataclass(frozen=True)
class Entry:
    """A name: how it is written, in which unit its value is, what it is in a sentence, and an example."""

    name: str
    written: str
    unit: str
    sentence: str
    example: str
    least: int = 0
    most: int = 0
    """How many arguments a function takes at least and at most; 0 of a value."""
    named: tuple[str, ...] = ()
    """Arguments that may be given by name."""
    run: Numpy | None = None

    @property
    def is_function(self) -> bool:
        return self.most > 0


def _value(name: str, unit: str, sentence: str, example: str, written: str = "") -> Entry:
    return Entry(name, written or name, unit, sentence, example)


VALUES = [
    _value("t", "s", "Seconds since the layer began; trimming or splitting it changes nothing.", "t * 90"),
    _value("frame", "f", "Frames since the layer began; trimming or splitting it changes nothing.", "frame * 2"),
    _value("fps", "f/s", "Frames a second of the scene.", "frame / fps"),
    _value("base", "", "The property without its formula: its keys, or what it rests at.", "base + 10"),
    _value("index", "", "The place of the layer among those of its kind, 0 at the back.", "base + index * 20"),
    _value("count", "", "How many layers of its kind there are.", "index / count * 360"),
    _value("pi", "", "Half a turn in radians.", "sin(pi / 4)"),
    _value("tau", "", "A whole turn in radians.", "sin(t * tau)"),
    _value("scene", "", "The scene: its width, height, centre, fps, length (seconds) and t (its own seconds); and "
           'every layer by its name: scene["Name"].position, .box.width, .in_scene(point), .loudness; .at(…) after a '
           "property for another moment.", "(scene.width / 2, base.y)", 'scene["Name"]'),
    _value("box", "px", "The layer's box in its pixels: left, top, width, height; at(x, y) is a point by shares.",
           "box.width / 2", "box.width"),
    _value("beat", "s", "The beats: last and next in seconds of the layer, phase from 0 to 1 between them.",
           "100 + 20 * (1 - beat.phase)", "beat.phase"),
    _value("position", "px", "The layer's own position.", "position.x / 4"),
    _value("scale", "%", "The layer's own scale.", "scale.x / 10"),
    _value("rotation", "°", "The layer's own rotation.", "rotation * 2"),
    _value("opacity", "%", "The layer's own opacity.", "opacity / 2"),
    _value("anchor", "", "The layer's own anchor, in shares of its box while pinned, else in pixels.", "anchor.x * 10"),
]  # fmt: skip


def _plain(name: str, least: int, most: int, run: Numpy, sentence: str, example: str, written: str, unit: str = "",
           named: tuple[str, ...] = ()) -> Entry:  # fmt: skip
    return Entry(name, written, unit, sentence, example, least, most, named, run)


FUNCTIONS = [
    _plain("sin", 1, 1, np.sin, "The sine of an angle in radians.", "30 * sin(t * tau)", "sin(angle)"),
    _plain("cos", 1, 1, np.cos, "The cosine of an angle in radians.", "30 * cos(t * tau)", "cos(angle)"),
    _plain("tan", 1, 1, np.tan, "The tangent of an angle in radians.", "tan(radians(30))", "tan(angle)"),
    _plain("asin", 1, 1, np.arcsin, "The angle in radians whose sine it is.", "degrees(asin(0.5))", "asin(share)"),
    _plain("acos", 1, 1, np.arccos, "The angle in radians whose cosine it is.", "degrees(acos(0.5))", "acos(share)"),
    _plain("atan2", 2, 2, np.arctan2, "The angle in radians of the arrow (x, y), y first.", "degrees(atan2(1, 1))",
           "atan2(y, x)"),
    _plain("degrees", 1, 1, np.degrees, "Radians in degrees.", "degrees(pi)", "degrees(angle)", "°"),
    _plain("radians", 1, 1, np.radians, "Degrees in radians.", "sin(radians(90))", "radians(angle)"),
    _plain("sqrt", 1, 1, np.sqrt, "The square root.", "sqrt(t) * 100", "sqrt(value)"),
    _plain("pow", 2, 2, np.power, "A number to a power; ** is the same.", "pow(t, 2) * 10", "pow(value, power)"),
    _plain("exp", 1, 1, np.exp, "e to a power.", "100 * exp(-3 * t)", "exp(power)"),
    _plain("log", 1, 1, np.log, "The natural logarithm.", "log(1 + t) * 50", "log(value)"),
    _plain("abs", 1, 1, np.abs, "Without its sign.", "abs(sin(t * tau)) * 40", "abs(value)"),
    _plain("sign", 1, 1, np.sign, "−1, 0 or 1.", "sign(sin(t)) * 20", "sign(value)"),
    _plain("floor", 1, 1, np.floor, "The next whole number below.", "floor(t) * 15", "floor(value)"),
    _plain("ceil", 1, 1, np.ceil, "The next whole number above.", "ceil(t) * 15", "ceil(value)"),
    _plain("round", 1, 1, np.rint, "The nearest whole number.", "round(t) * 15", "round(value)"),
    _plain("min", 2, 8, lambda *a: np.minimum.reduce(np.broadcast_arrays(*a)), "The least of several.",
           "min(t * 100, 80)", "min(a, b, …)"),
    _plain("max", 2, 8, lambda *a: np.maximum.reduce(np.broadcast_arrays(*a)), "The largest of several.",
           "max(t * 100, 20)", "max(a, b, …)"),
    _plain("hypot", 2, 4, fn.hypot, "The length of the arrow (x, y).", "hypot(3, 4)", "hypot(x, y)"),
    _plain("length", 1, 1, fn.length, "How long a pair is, as an arrow.", "length(base)", "length(pair)"),
    _plain("mix", 3, 3, fn.mix, "From a at k = 0 to b at k = 1.", "mix(base, 50, 0.5)", "mix(a, b, k)"),
    _plain("clamp", 3, 3, fn.clamp, "Not below low, and not above high.", "clamp(t * 50, 0, 100)",
           "clamp(value, low, high)"),
    _plain("step", 2, 2, fn.step, "0 below the edge, 1 from it on.", "step(1, t) * 100", "step(edge, value)"),
    _plain("smoothstep", 3, 3, fn.smoothstep, "0 up to low, 1 from high on, and smoothly between.",
           "smoothstep(0, 1, t) * 100", "smoothstep(low, high, value)"),
    _plain("fract", 1, 1, fn.saw, "What is behind the point: 2.25 gives 0.25.", "fract(t) * 100", "fract(value)"),
    _plain("remap", 5, 5, fn.remap, "What lies between a0 and a1 as far between b0 and b1.",
           "remap(t, 0, 2, 0, 100)", "remap(value, a0, a1, b0, b1)"),
    _plain("saw", 1, 1, fn.saw, "0 to 1 in each turn.", "saw(t) * 100", "saw(turns)"),
    _plain("triangle", 1, 1, fn.triangle, "0 to 1 and back in each turn.", "triangle(t) * 100", "triangle(turns)"),
    _plain("square", 1, 1, fn.square, "1 in the first half of each turn, 0 in the second.", "square(t) * 100",
           "square(turns)"),
    _plain("noise", 1, 1, fn.noise, "Smooth random values between −1 and 1, one turn for each whole number.",
           "noise(t * 3) * 20", "noise(value, seed=0)", named=("seed",)),
    _plain("wander", 2, 2, fn.wander, "Random motion: about `rate` turns a second, at most `reach` away.",
           "wander(2, 30)", "wander(rate, reach, seed=0)", named=("seed",)),
    _plain("random", 1, 2, fn.hashed, "One random number from low to high that stays; another seed gives another one.",
           "random(0, 360, seed=3)", "random(low, high, seed=0)", named=("seed",)),
    _plain("stepped", 2, 2, fn.mix, "A value that is renewed only so many times a second.", "stepped(t * 90, 8)",
           "stepped(value, per_second)"),
    _plain("ease", 2, 2, fn.mix, "How far an easing has come at a share k of its time.",
           'ease("soft landing", clamp(t, 0, 1)) * 100', 'ease("name", k)'),
    _plain("angle_to", 1, 1, fn.mix, "The angle in degrees from the layer's anchor to a point of the scene.",
           "angle_to((0, 0))", "angle_to(point)", "°"),
    _plain("if_before", 3, 3, fn.mix, "One value before a frame of the layer, another from it on.",
           "if_before(30, base, 50)", "if_before(frame, before, after)"),
    _plain("in_scene", 1, 1, fn.mix, "Where a point of the layer stands in the scene.",
           "length(in_scene(box.at(0, 0)))",
           "in_scene(point)", "px"),
    _plain("in_layer", 1, 1, fn.mix, "Which point of the layer a point of the scene is.",
           "length(in_layer((0, 0)))", "in_layer(point)", "px"),
    _plain("format", 2, 2, fn.mix, 'A number as a text: "0.0" with one place behind the point, "0:00" as a clock.',
           'format(t * 25, "0.0")', 'format(value, "0.0")'),
    _plain("letters", 2, 2, fn.mix, "The first letters of a text, so many as the count.", 'letters("Low tide", t * 8)',
           "letters(text, count)"),
]  # fmt: skip

TABLE: dict[str, Entry] = {entry.name: entry for entry in (*VALUES, *FUNCTIONS)}
