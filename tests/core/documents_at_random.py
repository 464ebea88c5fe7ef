"""Documents made up at random that hold everything at once: formulas, keys of every easing, cadences, carriers, masks,
framing, items in groups, patterns, nested scenes; and where all of it stands."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mudskipper.core.contents.assets import Assets, ClipInfo
from mudskipper.core.document.scene import Scene
from mudskipper.core.resolve.corners import corners
from mudskipper.core.resolve.items import items_resolved
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import layer, scene
from tests.core.edits_at_random import EASES, LETTERS
from tests.core.effects_at_random import RANGES, effect

WORDS = ["Low tide", "مد 2:30 גאות", "ज्वार ते"]
NAMES = ["Plate", "Sign", "Mast", "Crab", "Flag", "Strip", "Gull"]
Quads = dict[str, NDArray[np.float64]]


GRADIENT = {
    "gradient": "linear",
    "stops": [{"at": {"rest": 0}, "colour": "#ffd23f"}, {"at": {"rest": 100}, "colour": "#b5342fcc"}],
}


def cascaded(dice: random.Random) -> dict[str, Any]:
    """A cascade at random, with some of all that it may do."""

    def moving(rest: Any, to: Any) -> dict[str, Any]:
        keys = [{"frame": 0, "value": rest}, {"frame": 50, "value": to}]
        return {"rest": rest, **({"keys": keys} if dice.random() < 0.2 else {})}

    values: list[tuple[str, Any]] = [
        ("offset", moving([dice.uniform(-60, 60), dice.uniform(-60, 60)], [9, 9])),
        ("scale", moving([0, 140], [50, 50])), ("tracking", moving(300, 10)),
        ("turn_x", moving(-80, 20)), ("turn_y", moving(70, 10)), ("turn_z", moving(-45, 45)), ("skew", moving(20, -20)),
        ("opacity", moving(0, 60)), ("fill", {"rest": "#d24b1eff"}), ("blur", moving(6, 2)),
        ("fill", {"gradient": dice.choice(["linear", "radial", "conic"]), "angle": {"rest": 30},
                  "stops": [{"at": {"rest": 10}, "colour": {"rest": "#d24b1eff"}},
                            {"at": moving(90, 40), "colour": {"rest": "#f4c95dc0"}}]}),
        ("stroke_width", moving(9, 1)),
    ]  # fmt: skip
    made: dict[str, Any] = dict(dice.sample(values, dice.randint(1, 4)))
    if dice.random() < 0.5:
        made["distance"] = {"rest": dice.choice([200, 700])}
    if dice.random() < 0.3:
        made["choice"] = {"start": dice.randint(0, 3), "stop": dice.randint(5, 12), "soft_stop": dice.choice([0, 2])}
    if dice.random() < 0.25:
        made["axes"] = [{"tag": "wght", "name": "Weight", "value": moving(900, 300)}]
    made |= {"scramble": dice.random() < 0.2, "caret": dice.random() < 0.2}
    return made | {
        "unit": dice.choice(["letter", "letter", "word", "line", "whole"]),
        "way": dice.choice(["in", "in", "out", "through"]),
        "start": dice.choice([0, 6.5, 20]), "each": dice.choice([0, 8, 15]), "amount": dice.choice([0.5, 2, 6]),
        "spread": dice.choice(["stagger", "overlap", "total"]), "ease": dice.choice(["ease-out", "linear", "ease"]),
        "order": dice.choice(
            ["forward", "back", "from the middle", "from the ends", "random", "by distance", "each line"]
        ),
        "past": dice.random() < 0.3, "anchor": dice.choice(["centre", "baseline left", "top right", "baseline"]),
        "about": dice.choice(["unit", "unit", "word", "line", "whole", "point"]), "point": [40, -30],
        "offset_in": dice.choice(["px", "%"]), "shift": [dice.choice([0, 12]), 0],
    }  # fmt: skip


def dressed(dice: random.Random, shape: str | None = None) -> dict[str, Any]:
    """How a text may be set beyond its size: parts, a block, strokes, gradients, axes of its font, the outline of a
    layer that is a shape, at random."""

    def moving(rest: float, to: float) -> dict[str, Any]:
        keys = [{"frame": 0, "value": rest}, {"frame": 50, "value": to, "ease": "ease"}]
        return {"rest": rest, **({"keys": keys} if dice.random() < 0.3 else {})}

    made: dict[str, Any] = {"align": dice.choice(["left", "centre", "right"])}
    if dice.random() < 0.35:
        made["parts"] = [
            {"start": start, "stop": start + dice.randint(1, 4), **dict(dice.sample(LETTERS[:9], dice.randint(1, 3)))}
            for start in (0, 4)
        ]
    if dice.random() < 0.35:
        made["block"] = {
            "width": moving(dice.choice([60, 130, 400]), 300), "height": dice.choice([None, moving(90, 120)]),
            "stands": dice.choice(["top", "middle", "bottom"]),
            "hanging": dice.random() < 0.3, "indent": {"rest": dice.choice([0, 12])}, "gap": {"rest": 4},
            "least": dice.choice([None, {"rest": 6}]),
        }  # fmt: skip
        made["align"] = dice.choice(["left", "centre", "right", "justify"])
    if dice.random() < 0.35:
        made["stroke"] = {"colour": dice.choice(["#0e6b61", GRADIENT]), "width": moving(3, 8), "join": "round"}
        made["stroke_behind"] = dice.random() < 0.5
        if dice.random() < 0.3:
            made["stroke"]["part"] = {"end": moving(30, 100)}
    if dice.random() < 0.3:
        made |= {"fill": GRADIENT, "spread": dice.choice(["text", "line", "letter"])}
    if dice.random() < 0.3:
        made |= {
            "font": {"family": dice.choice(["Archivo", "Noto Sans"]), "weight": 500},
            "axes": [
                {"tag": "wght", "name": "Weight", "value": moving(200, 800)},
                {"tag": "wdth", "name": "Width", "value": moving(80, 95)},
            ],
        }  # fmt: skip
    if shape is not None and dice.random() < 0.4:
        sides = {"side": dice.choice(["above", "below", "inside"]), "upright": dice.random() < 0.3}
        made["path"] = {"layer": shape, "start": moving(5, 60), "shift": {"rest": -9}, **sides}
    if dice.random() < 0.2:
        made["leading"] = moving(30, 60)
    if dice.random() < 0.2:
        made["features"] = dice.choice([["optical kerning"], ["tabular figures"]])
    if dice.random() < 0.25:
        made["cascades"] = [cascaded(dice) for _ in range(dice.randint(1, 2))]
    return made | {
        "vertical": dice.random() < 0.15,
        "tinted": dice.random() < 0.5,
        "direction": dice.choice(["auto", "auto", "right to left", "left to right"]),
        "case": dice.choice(["typed", "typed", "upper", "small capitals"]),
        "measure": dice.choice(["lines", "lines", "ink", "capitals"]),
    }


class Documents:
    """Draws scenes."""

    def __init__(self, seed: int) -> None:
        self.random = random.Random(seed)

    def scene(self) -> Scene:
        """A scene of five to seven layers."""
        names = NAMES[: self.random.randint(5, 7)]
        made = [self.layer(name, names[:place]) for place, name in enumerate(names)]
        return scene(*made, beats=[{"frame": 5}, {"frame": 33}])

    def media(self) -> Assets:
        """What the scenes show."""
        inner = scene(layer("Words", rotation={"rest": 0, "formula": "t * 20"}), id="strip", name="Strip")
        return Assets(clips={"surf": ClipInfo.steady("surf", (320, 180), 90, (25, 1))}, scenes={"strip": inner})

    def often(self, share: float) -> bool:
        return self.random.random() < share

    def number(self, low: float, high: float) -> float:
        return round(self.random.uniform(low, high), 1)

    def track(self, rest: Any, low: float, high: float, formulas: list[str], *, handles: bool = False) -> Any:
        """A value that rests, or is keyed, has a formula, a cadence, goes on beyond its keys."""
        dice = self.random

        def value() -> Any:
            drawn = [self.number(low, high) for _ in (rest if isinstance(rest, list) else [rest])]
            return drawn if isinstance(rest, list) else drawn[0]

        made: dict[str, Any] = {"rest": rest if self.often(0.5) else value()}
        if self.often(0.4):
            frames = sorted(dice.sample(range(0, 58), dice.randint(1, 3)))
            made["keys"] = [{"frame": frame, "value": value(), "ease": dice.choice(EASES)} for frame in frames]
            if handles and self.often(0.4):
                made["keys"][0]["leave"] = [self.number(-60, 60), 30]
        if made.get("keys") and self.often(0.25):
            made |= {"after": dice.choice(["repeat", "bounce", "carry on"])}
        if self.often(0.15):
            made["cadence"] = dice.choice([{"on": 2}, {"on": 3}, {"per_second": 8.0}])
        if self.often(0.35):
            made["formula"] = dice.choice(formulas)
        return made

    def motion(self, others: list[str]) -> dict[str, Any]:
        """Anchor, position, scale, rotation and opacity of a layer or an item."""
        read = f'scene["{self.random.choice(others)}"]' if others else "scene"
        turns = ["base + t * 40", "t * 90", "base * 2", "base + wander(1, 20)", "base"]
        ways = ["base + (t * 30, 9)", "(t * 30 + 100, 80)", "base * 1.5", "base + wander(2, 15)"]
        if others:
            turns.append(f"base + {read}.rotation / 2")
            ways.append(f"base + {read}.position.at(t - 0.2) / 4")
        position: Any = self.track([self.number(100, 500), self.number(50, 300)], 0, 500, ways, handles=True)
        if self.often(0.2):
            position = {
                "x": self.track(200.0, 0, 500, ["base + t * 20", "300"]), "y": self.track(90.0, 0, 300, ["base * 2"]),
            }  # fmt: skip
        return {
            "position": position,
            "rotation": self.track(self.number(-180, 180), -180, 180, turns),
            "scale": self.track([self.number(50, 150)] * 2, 40, 160, ["base + (t * 10, 0)", "(80, 90)", "base * 0.5"]),
            "anchor": self.track([0.5, 0.5], 0, 1, ["base + (t / 10, 0)", "(0.2, t / 3)"])
            | {"pinned": self.often(0.7)},
            "opacity": self.track(80.0, 30, 100, ["50 + 40 * sin(t * tau)"]),
        }

    def item(self, depth: int = 0) -> dict[str, Any]:
        """A shape, or a group of some."""
        dice = self.random
        own: dict[str, Any] = {}
        if self.often(0.6):
            own["transform"] = self.motion([])
            own["transform"]["position"] = self.track([self.number(-60, 60), 10.0], -80, 80, ["base + (t * 5, 0)"])
        if self.often(0.2):
            own["repeat"] = {"copies": 3, "move": self.track([30.0, 0.0], -40, 40, ["base"]), "turn": 10.0}
        if depth < 2 and self.often(0.3):
            inner = [self.item(depth + 1) for _ in range(dice.randint(1, 3))]
            return {"shape": "group", "items": inner, **own, **({"masks": [self.mask()]} if self.often(0.3) else {})}
        size = self.track([self.number(30, 120), self.number(30, 120)], 20, 140, ["base + (t * 20, 0)", "(50, 60)"])
        kinds: list[dict[str, Any]] = [
            {"shape": "rectangle", "size": size, "corners": self.track(4.0, 0, 30, ["t * 4"])},
            {"shape": "ellipse", "size": size}, {"shape": "star", "size": size, "points": 5},
            {"shape": "line", "start": [0, 0], "end": [60, 20], "stroke": {"colour": "#112233"}},
        ]  # fmt: skip
        if self.often(0.1):
            own["effects"] = [effect(dice, dice.choice(list(RANGES)))]
        made = {**dice.choice(kinds), **own, "at": [self.number(-40, 40), self.number(-30, 30)]}
        if made["shape"] == "line":
            made.pop("at")
        else:
            made["fill"] = "#0e6b61"
        return made

    def mask(self) -> dict[str, Any]:
        """A mask, which may move."""
        shape = {"shape": "ellipse", "size": self.track([90.0, 70.0], 30, 140, ["base + (t * 9, 0)"]), "at": [5, 5]}
        if self.often(0.3):
            part = {"end": self.track(60.0, 0, 100, ["t * 40"])}
            shape["stroke"] = {"colour": "#000000", "width": self.track(20.0, 4, 40, ["base + t"]), "part": part}
        moving = self.motion([])
        moving["position"] = self.track([10.0, 5.0], -30, 40, ["base + (t, 0)"])
        return {"name": "Window", "shape": shape, "mode": self.random.choice(["add", "subtract", "intersect"])} | (
            {"transform": moving} if self.often(0.5) else {}
        )

    def layer(self, name: str, others: list[str]) -> dict[str, Any]:
        """A layer of any kind that others may carry."""
        dice = self.random
        contents: list[dict[str, Any]] = [
            {"kind": "shape", "items": [self.item() for _ in range(dice.randint(1, 4))]},
            {"kind": "shape", "items": [self.item() for _ in range(dice.randint(1, 3))]},
            {
                "kind": "text", "text": WORDS[len(others) % 3], "size": self.track(40.0, 20, 60, ["base + t"]),
                **dressed(self.random, dice.choice(others).lower() if others else None),
            },
            {"kind": "scene", "asset": "strip"}, {"kind": "carrier"}, {"kind": "clip", "asset": "surf"},
            {"kind": "filter"},
        ]  # fmt: skip
        content = dice.choice(contents)
        if content["kind"] in ("shape", "scene") and self.often(0.3):
            content["cascades"] = [cascaded(dice) | {"unit": dice.choice(["item", "whole"]), "axes": ()}]
        made = layer(name, content=content, span={"start": dice.choice([0, 0, 4]), "length": dice.choice([50, 60])})
        made |= self.motion(others)
        if content["kind"] == "carrier":
            made["anchor"] = {"rest": [0.0, 0.0], "pinned": False}
        elif self.often(0.25):
            made["masks"] = [self.mask() for _ in range(dice.randint(1, 2))]
        if content["kind"] != "carrier" and self.often(0.15):
            made["framing"] = {"zoom": self.track(120.0, 80, 200, ["base + t"]), "offset": [10, 5]}
        if self.often(0.25):
            amount = self.track([9.0, 4.0], 0, 40, ["base * 2", "wander(1, 9)"])
            made["effects"] = [{"effect": "soft-blur", "amount": amount}]
            if self.often(0.6):
                made["effects"].append(effect(dice, dice.choice(list(RANGES))))
        if others and self.often(0.35):
            made["carrier"] = dice.choice(others).lower()
        return made


def quads(of: Scene, frames: list[float], media: Assets) -> Quads:
    """The corners in the scene (n, 4, 2) of every layer, item and mask by its address."""
    found: Quads = {}
    for name, one in resolve(of, frames, media).layers.items():
        found[name] = _whole(corners(one), len(frames))
        for address, item in items_resolved(one).items():
            found[address] = _whole(corners(item), len(frames))
    return found


def _whole(places: NDArray[np.float64], count: int) -> NDArray[np.float64]:
    return np.broadcast_to(places, (count, 4, 2))
