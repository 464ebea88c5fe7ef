"""Every name that a formula may use, in one table: editor, documentation and the sentences of errors read it."""

from __future__ import annotations

from ..ground.kinds import Named
from .entry import Entry
from .functions import FUNCTIONS, Function


def _value(name: str, unit: str, sentence: str, example: str, written: str = "", yields: bool = False) -> Entry:
    return Entry(name=name, written=written or name, unit=unit, sentence=sentence, example=example, yields=yields)


VALUES = [
    _value("t", "s", "Seconds since the layer began; trimming or splitting it changes nothing.", "t * 90"),
    _value("frame", "f", "Frames since the layer began; trimming or splitting it changes nothing.", "frame * 2"),
    _value("fps", "f/s", "Frames a second of the scene.", "frame / fps"),
    _value("base", "", "The property without its formula: its keys, or what it rests at.", "base + 10"),
    _value("index", "", "The place of the layer among those of its kind, 0 at the back.", "base + index * 20"),
    _value("count", "", "How many layers of its kind there are.", "index / count * 360"),
    _value("unit", "", "In a cascade: the number of the unit as it is read, 0 the first.", "unit * 10", yields=True),
    _value("units", "", "In a cascade: how many units there are.", "unit / units * 90", yields=True),
    _value("progress", "", "In a cascade: how far the unit is on its way, 0 to 1.", "40 * (1 - progress)", yields=True),
    _value("unit_box", "px", "In a cascade: the unit's box in the layer's pixels: left, top, width, height.",
           "unit_box.width / 2", "unit_box.width", yields=True),
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

TABLE: Named[Entry] = Named("mudskipper.functions", {entry.name: entry for entry in (*VALUES, *FUNCTIONS)})


def function_of(name: str) -> Function | None:
    """A function by its name; None where nothing or no function is called so."""
    found = TABLE.get(name)
    return found if isinstance(found, Function) else None


def may_be_random(text: str) -> bool:
    """Whether a formula names a function whose values look random."""
    return any(isinstance(one, Function) and one.random and one.name in text for one in TABLE.values())
