"""Starters: scenes that ship to begin with; their words are there to be changed, each a layer of its own name."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..core.document.read import scene_of
from ..core.document.scene import SCHEMA, Scene, new_id

SOFT = {"bezier": [0.1, 0.8, 0.3, 1.0]}
INK, PAPER, SEA, SUN = "#1b2628ff", "#fbf3e2ff", "#0e3f45ff", "#f2b544ff"
RATE = 30
TEXT, FILL = "content.text", "content.items.@0.fill"


def _keyed(*pairs: tuple[float, Any], ease: Any = SOFT) -> dict[str, Any]:
    return {"rest": pairs[-1][1], "keys": [{"frame": at, "value": value, "ease": ease} for at, value in pairs]}


def _layer(name: str, content: dict[str, Any], start: int, length: int, **tracks: Any) -> dict[str, Any]:
    return {"id": new_id(), "name": name, "span": {"start": start, "length": length}, "content": content, **tracks}


def _words(text: str, size: float, weight: int = 600, fill: str = INK, **fields: Any) -> dict[str, Any]:
    font = {"family": "Figtree", "weight": weight}
    return {"kind": "text", "text": text, "size": size, "fill": fill, "font": font, **fields}


def _box(width: float, height: float, fill: str, **fields: Any) -> dict[str, Any]:
    return {"kind": "shape", "items": [{"shape": "rectangle", "size": [width, height], "fill": fill, **fields}]}


def _scene(
    name: str,
    width: int,
    height: int,
    seconds: float,
    background: str,
    *layers: dict[str, Any],
    slots: dict[str, tuple[str, str]],
) -> Scene:
    """`slots` are its slots by their names: the layer that each fills, and the path in it."""
    ids = {layer["name"]: layer["id"] for layer in layers}
    return scene_of({
        "schema": SCHEMA, "name": name, "width": width, "height": height, "length": round(seconds * RATE),
        "frame_rate": [RATE, 1], "background": background, "layers": list(layers),
        "slots": [
            {"id": new_id(), "name": slot, "places": [{"layer": ids[layer], "path": path}]}
            for slot, (layer, path) in slots.items()
        ],
    })  # fmt: skip


def lower_third() -> Scene:
    """A plate that grows from its left edge, with two lines that slide in behind it; all go at the end."""
    long, left = 180, [0.0, 0.5]
    # As wide as the longer of its lines, and room at their sides.
    size = {
        "rest": [620, 170],
        "formula": '(max(420, scene["Name"].box.width + 108, scene["Role"].box.width + 108), base.y)',
    }
    ground = {"kind": "shape", "items": [{"shape": "rectangle", "size": size, "fill": SEA, "corners": 14}]}
    gone = (long - 18, 100), (long - 2, 0)
    plate = _layer(
        "Plate", ground, 0, long, anchor=left, position=[120, 880],
        scale=_keyed((0, [0, 100]), (18, [100, 100])), opacity=_keyed(*gone),
    )  # fmt: skip
    edge = _layer(
        "Edge", _box(12, 170, SUN), 6, long - 6, position=[120, 965], anchor=[0.5, 1.0],
        scale=_keyed((0, [100, 0]), (16, [100, 100])), opacity=_keyed((long - 24, 100), (long - 8, 0)),
    )  # fmt: skip
    lines = [
        _layer(
            name, _words(text, size, weight, PAPER, align="left"), begin, long - begin, anchor=left,
            position=_keyed((0, [110, y]), (18, [164, y])),
            opacity={"rest": 100, "keys": [
                {"frame": 0, "value": 0, "ease": SOFT}, {"frame": 14, "value": 100},
                {"frame": long - begin - 18, "value": 100, "ease": "ease-in"}, {"frame": long - begin - 2, "value": 0},
            ]},
        )
        for name, text, size, weight, begin, y in (
            ("Name", "Ines Okafor-Lind", 62, 700, 12, 852), ("Role", "Intertidal ecologist", 40, 400, 18, 922),
        )
    ]  # fmt: skip
    return _scene("Lower third", 1920, 1080, 6, "#00000000", plate, edge, *lines,
        slots={"Name": ("Name", TEXT), "Role": ("Role", TEXT), "Plate": ("Plate", FILL), "Edge": ("Edge", FILL)},
    )  # fmt: skip


def title_card() -> Scene:
    """A title whose letters rise one after another, over a line that is drawn, and a smaller line."""
    rise = {"start": 4, "each": 18, "amount": 2, "offset": [0, 60], "offset_in": "%", "opacity": 0, "ease": SOFT}
    title = _layer("Title", _words("Low tide", 190, 800, cascades=[rise]), 0, 150, position=[960, 500])
    line = _layer(
        "Line", _box(520, 8, SUN), 14, 136, position=[960, 628], scale=_keyed((0, [0, 100]), (20, [100, 100]))
    )
    below = _layer(
        "Line below", _words("at the old jetty", 58, 400), 26, 124, position=[960, 708],
        opacity=_keyed((0, 0), (18, 100)),
    )  # fmt: skip
    return _scene("Title card", 1920, 1080, 5, PAPER, title, line, below,
        slots={"Title": ("Title", TEXT), "Line below": ("Line below", TEXT), "Line": ("Line", FILL)},
    )  # fmt: skip


def opener() -> Scene:
    """Three bands that sweep in about a corner, and a title that lands on them."""
    bands = [
        _layer(
            f"Band {number + 1}", _box(2600, 460, fill), 3 * number, 180 - 3 * number, anchor=[0.0, 1.0],
            position=[-160, 420 + 330 * number], rotation=_keyed((0, -38.0), (26, -6.0)),
        )
        for number, fill in enumerate((SUN, "#2b7f7aff", SEA))
    ]  # fmt: skip
    title = _layer(
        "Title", _words("The sea comes back", 150, 800, PAPER), 24, 156, anchor=[0.5, 0.5], position=[960, 640],
        scale=_keyed((0, [70, 70]), (22, [100, 100]), ease={"overshoot": 10}), opacity=_keyed((0, 0), (10, 100)),
    )  # fmt: skip
    return _scene("Opener", 1920, 1080, 6, PAPER, *bands, title,
        slots={"Title": ("Title", TEXT), **{band["name"]: (band["name"], FILL) for band in bands}},
    )  # fmt: skip


def square_post() -> Scene:
    """A round that pops up, with a number that counts and a line below."""
    disc = _layer(
        "Disc", {"kind": "shape", "items": [{"shape": "ellipse", "size": [720, 720], "fill": SEA}]}, 0, 180,
        position=[540, 500], scale=_keyed((0, [0, 0]), (24, [100, 100]), ease={"overshoot": 12}),
    )  # fmt: skip
    counts = {"rest": "", "formula": 'format(smoothstep(0, 1.6, t) * number(base), "0")'}
    number = _layer(
        "Number",
        _words("312", 260, 800, SUN, written=counts, features=["tabular figures"]),
        12,
        168,
        position=[540, 470],
    )
    what = _layer(
        "What", _words("crabs counted", 72, 600, PAPER), 20, 160, position=[540, 640], opacity=_keyed((0, 0), (14, 100))
    )
    below = _layer(
        "Where", _words("Low Tide Week", 56, 700), 30, 150, position=[540, 960], opacity=_keyed((0, 0), (14, 100))
    )
    return _scene("Square post", 1080, 1080, 6, PAPER, disc, number, what, below,
        slots={
            "Number": ("Number", TEXT), "What": ("What", TEXT), "Where": ("Where", TEXT), "Disc": ("Disc", FILL),
        },
    )  # fmt: skip


def ticker() -> Scene:
    """A band with words that go through it from the right, without end."""
    long = 600
    band = _layer("Band", _box(1920, 110, SEA), 0, long, position=[960, 1010])
    words = "High water 6:12 · the ferry leaves at nine · lanterns on the mole at dusk · "
    news = _layer(
        "News", _words(words, 54, 600, PAPER, align="left"), 0, long, anchor=[0.0, 0.5],
        # As fast however long the words are: out at the left, it comes again from the right.
        position={"rest": [1920, 1010], "formula": "(1920 - t * 211 % (1920 + box.width), base.y)"},
    )  # fmt: skip
    mark = _layer("Mark", _box(290, 110, SUN), 0, long, anchor=[0.0, 0.5], position=[0, 1010])
    name = _layer("Name", _words("TIDE", 52, 800, INK), 0, long, position=[196, 1010])
    return _scene("Ticker", 1920, 1080, 20, "#00000000", band, news, mark, name,
        slots={"News": ("News", TEXT), "Name": ("Name", TEXT), "Band": ("Band", FILL), "Mark": ("Mark", FILL)},
    )  # fmt: skip


def end_credits() -> Scene:
    """Names that go up past the frame, in one text."""
    long = 600
    words = "Pictures\nInes Okafor-Lind\n\nSound\nthe harbour itself\n\nThanks to all\nwho waited for the tide"
    names = _layer(
        "Credits", _words(words, 64, 500, PAPER, align="centre"), 0, long, anchor=[0.5, 0.0],
        # All of them go by in the time that there is.
        position={"rest": [960, 1100], "formula": f"(base.x, 1100 - (1120 + box.height) * frame / {long})"},
    )  # fmt: skip
    return _scene("End credits", 1920, 1080, 20, INK, names, slots={"Credits": ("Credits", TEXT)})


STARTERS: dict[str, Callable[[], Scene]] = {
    "Lower third": lower_third, "Title card": title_card, "Opener": opener, "Square post": square_post,
    "Ticker": ticker, "End credits": end_credits,
}  # fmt: skip
"""By their names, in the order in which they are offered."""
