"""Edits of every kind, made up from their models: sound ones, wild ones, and those that name what is not there."""

from __future__ import annotations

import random
from typing import Any

from pydantic import TypeAdapter, ValidationError

from mudskipper.core.document.items_as_layers import item_layer
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import EDITS, Edit
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.edits.recipes import AnyRecipe
from mudskipper.core.recipes import RECIPES as RECIPE_KINDS
from mudskipper.core.shapes import Group
from tests.core.effects_at_random import RANGES as EFFECT_RANGES
from tests.core.effects_at_random import effect

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)
RECIPE: TypeAdapter[Any] = TypeAdapter(AnyRecipe)
KINDS: dict[str, type[Edit]] = {kind.model_fields["edit"].default: kind for kind in EDITS}
RECIPES = [kind.model_fields["recipe"].default for kind in RECIPE_KINDS]
EASES: list[Any] = [
    "linear", "hold", "ease", "ease-in-out", {"bezier": [0.4, -0.6, 0.5, 1.7]}, {"steps": 4},
    {"steps": 3, "jump": "both"},
    {"points": [[0, 0.3], [0.4, 1.2], [1, 0.8]]}, {"overshoot": 30.0}, {"bounce": {"count": 2}}, {"spring": {}},
]  # fmt: skip
CASCADES = [
    {"start": 3, "each": 9, "amount": 2, "offset": {"rest": [0, 40], "formula": "(unit, 40)"}, "opacity": 0},
    {"way": "out", "unit": "word", "start": 30, "turn_x": 60, "distance": 300, "spread": "overlap", "amount": 1.5},
]
SPECK = {"kind": "shape", "items": [{"shape": "ellipse", "size": [9, 9], "fill": "#112233"}]}
POINTED = (
    "set_paint", "add_stop", "remove_stop", "aim_gradient", "move_points", "bend_point", "set_point", "shape_points",
    "add_point", "extend_path", "remove_points", "close_path",
)  # fmt: skip
STATIONS = ["top left", "centre", "bottom", "right", "first baseline", "north"]


FORMULAS = [
    "base + 3", "t * 90", "(t, base.y)", 'scene["Sign"].position', "wander(2, (9, 9))", "1 / (t -", "rotation", "",
    'scene["Plate"].rotation.at(t - 0.2)', "frame % 7 / (frame - 9)", "length(in_scene(box.at(0, 1)))",
    "beat.phase * 9", 'format(t * 9, "0.0")', "letters(base, t * 5)", 'scene["Surf"].loudness', 'base + "!"',
]  # fmt: skip


LETTERS: list[tuple[str, Any]] = [
    ("fill", "#ffd23f"), ("size", {"rest": 140}), ("case", "upper"), ("raised", {"rest": 6}),
    ("tracking", {"rest": 90}),
    ("font", {"family": "Oswald", "weight": 300}), ("features", ["tabular figures"]), ("bare", True),
    ("stroke", {"colour": "#0e6b61", "width": {"rest": 2, "formula": "base + t"}}), ("font", None), ("no", 1),
    ("axes", [{"tag": "wght", "value": {"rest": 300, "formula": "300 + t * 90"}}]),
]  # fmt: skip

LOOKS: list[dict[str, Any]] = [
    {"size": 40, "fill": "#12345678"},
    {"font": {"family": "Literata", "weight": 700}, "size": 64, "tracking": 30, "case": "upper", "leading": 70,
     "fill": {"rest": "#0e3f45ff", "named": "coral"}, "stroke": {"colour": "#fbf8f2ff", "width": 3}},
]  # fmt: skip


SLOT_EDITS = frozenset({"make_slot", "change_slot", "remove_slot", "fill_slots", "add_rows", "set_cells", "delete_rows",
                        "mend_row"})  # fmt: skip
OTHER_PARTS = ["content.text", "content.asset", "content.font.family", "visible", "span.length", "content.wobble"]


class Dice:
    """Draws edits of a scene; most can be made."""

    def __init__(self, seed: int) -> None:
        self.random = random.Random(seed)

    def edit(self, scene: Scene, kind: str | None = None) -> Edit:
        """An edit of a kind, or of any."""
        while True:
            name = kind or self.random.choice(list(KINDS))
            fields = {
                field: value
                for field, about in KINDS[name].model_fields.items()
                if field != "edit" and (about.is_required() or self.random.random() < 0.6)
                for value in [self.value(name, field, scene)]
            }
            try:
                made: Edit = EDIT.validate_python({"edit": name, **fields})
            except ValidationError:
                continue
            return made

    def value(self, kind: str, field: str, scene: Scene) -> Any:
        """A value for a field of an edit."""
        dice = self.random
        number = dice.choice([0, 1, -1, 7.5, dice.uniform(-500, 1500), dice.randint(-40, 90), 1e6])
        ids = self.siblings(scene, kind) or ["none"]
        one = dice.choice(ids) if dice.random() < 0.97 else dice.choice(["ghost", "flyer/99", "plate/0/0"])
        layer = item_layer(scene, one) if one in ids and ids != ["none"] else None
        names = list(layer.tracks) if layer else ["position"]
        prop = (
            dice.choice(names)
            if dice.random() < 0.95
            else dice.choice(["wobble", "content.text", "content.written", "position.x"])
        )
        frame = dice.choice([0, 10, 20, 59, dice.randint(-5, 70), dice.uniform(0, 59)])
        keys = [
            {"layer": layer.id, "property": name, "frame": key.frame + layer.span.start}
            for layer in (item_layer(scene, address) for address in ids if ids != ["none"])
            for name, track in layer.tracks.items()
            for key in track.keys
        ]
        chosen = dice.sample(keys, min(len(keys), dice.randint(1, 5))) if keys else []
        pair = [dice.choice([None, number]), dice.uniform(-200, 800)]
        ways: dict[str, Any] = {
            "layer": one, "layers": dice.choices(ids, k=dice.randint(1, 3)), "property": prop, "frame": frame,
            "frames": [abs(frame) for _ in range(dice.randint(1, 2))], "ids": None, "id": f"new{dice.randint(0, 9)}",
            "properties": dice.sample(names, min(len(names), 3)), "by": number, "start": dice.randint(-60, 60),
            "length": dice.choice([1, 12, 60, 300, -3]), "name": dice.choice(["Buoy", "x" * 200, "Plate", "A"]),
            "ease": dice.choice(EASES), "about": dice.choice([frame, "box", "own"]),
            "factor": dice.choice([0.5, 2, 0.001, 1.3]),
            "station": dice.choice([*STATIONS, None]), "side": dice.choice(["left", "top", None]), "angle": number,
            "scope": dice.choice(["frame", "every key", "throughout"]), "keep": dice.choice(["picture", "anchor"]),
            "handle": dice.choice(STATIONS), "pinned": dice.random() < 0.5, "visible": dice.random() < 0.5,
            "locked": dice.random() < 0.1, "width": dice.choice([320, 640, 16_000]), "height": dice.choice([360, 9]),
            "frame_rate": dice.choice([[24, 1], [25, 1], [60, 1], [30000, 1001], [240, 1]]), "span": None,
            "carry": dice.choice(["place", "fraction", "fit"]), "label": dice.choice(["", "splash"]),
            "path": dice.choice(["text", "align", "cascades.0.each", "font", "items.0.fill", "items.0.stroke",
                                 "items.7.size", "asset",
                                 "items.0.points", "items.1.sides", "time.start", "time.after", "time.freeze"]),
            "speed": dice.choice([100.0, -250.0, 10.0, 3.0, dice.uniform(-1000, 1000)]), "stretch": dice.random() < 0.5,
            "axis": dice.choice([0, 1, "x", None]), "part": dice.choice([0, 1, None]),
            "edge": dice.choice(["left", "centre y"]),
            "was": 5.0 if not layer or prop not in layer.tracks else self.given(layer, prop),
            "leave": [dice.uniform(-90, 90), 30], "check": dice.choice(["sharpness", "jump", "x" * 41]),
            "arrive": dice.choice([None, [-40, 10]]), "position": [10, 20],
            "blend": dice.choice(["screen", "overlay", "dodge"]),
            "stagger": dice.randint(0, 5), "order": "random", "seed": 3, "transparent": dice.random() < 0.5,
            "recipe": {"recipe": dice.choice(RECIPES)}, "background": "#112233",
            "linked": dice.random() < 0.4,
            "content": dice.choice([{"kind": "text", "text": dice.choice(["Low tide", "x" * 90]), "size": 40,
                                     "cascades": dice.choice([[], CASCADES])}, SPECK,
                                    {"kind": "carrier"}, {"kind": "filter"},
                                    {"kind": "scene", "asset": dice.choice(["strip", "gone"])}]),
            "carrier": dice.choice([None, dice.choice(ids).split("/")[0]]), "scene": f"made{dice.randint(0, 99)}",
            "text": dice.choice(FORMULAS),
            "near": dice.choice([0.05, 3.0]),
            "padding": dice.choice([None, [40, 24.5, 8, 0], [-900, 0, 0, 0]]),
            "margin": dice.choice([0, 7, 5_000]), "anyway": dice.random() < 0.8,
            "points": [dice.randint(0, 5) for _ in range(dice.randint(1, 3))], "point": dice.randint(0, 5),
            "at": [dice.uniform(0, 600), 100], "closed": dice.random() < 0.5, "contour": dice.choice([None, 0, 0, 1]),
            "paint": dice.choice(["fill", "fill", "stroke"]),
            "kind": dice.choice(["colour", "linear", "radial", "conic"]),
            "stop": dice.randint(0, 3), "round": dice.random() < 0.5, "apart": dice.random() < 0.5,
            "into": dice.choice([None, "crab", "crab/1", "flyer/@"]),
            "shape": dice.choice(["rectangle", "star", "ellipse", "line"]), "mask": dice.choice(["0", "1", "9"]),
            "ready": [{"name": "Art", "span": {"start": 0, "length": 9}, "content": SPECK}],
            "mode": dice.choice(["add", "subtract", "intersect"]), "inverted": dice.random() < 0.5,
            "covers": dice.choice([None, "inside", "stroke", "both"]), "whole": dice.random() < 0.5,
            "effect": dice.choice(list(EFFECT_RANGES)) if kind == "add_effect" else dice.choice(["0", "1", "2", "9"]),
            "effects": [effect(dice, dice.choice(list(EFFECT_RANGES))) for _ in range(dice.randint(1, 2))],
            "fields": dice.choice([None, None, {"seed": 4}, {"inner": True}, {"sparkle": 1}]),
            "on": dice.random() < 0.7, "hide": dice.random() < 0.3,
            "colour": dice.choice(["coral", "sand"]), "named": dice.choice([None, None, None, "coral"]),
            "style": dice.choice([None, "display", "display"]), "look": dice.choice(LOOKS),
            "matte": dice.choice([None, dice.choice(ids).split("/")[0]]), "off": dice.random() < 0.2,
        }  # fmt: skip
        if kind == "type_keys" and field == "cells":
            return [
                {
                    "column": dice.choice(["value"] * 4 + ["time", "after", "ease"]),
                    **{"frame": frame, "property": prop, **({k: ref[k] for k in ("frame", "property")} if ref else {})},
                    "part": dice.choice([None, None, 0, 1]),
                    "text": dice.choice(["", "12", "+10", "*1.1", "-40, 3", "#d9482f", "fb4", "1:10", "ease-out", "x"]),
                }
                for ref in dice.choices([None, *(key for key in keys if key["layer"] == one)], k=dice.randint(1, 3))
            ]
        if kind == "set_spans" and field in ("start", "length"):
            return dice.choice(["+5", "10", "1:00", "-3", "0.5s", "soon", "9999999999", None])
        if kind == "replace_words" and field in ("find", "to"):
            return dice.choice(["Low", "tide", "T", "a", ""])
        if kind == "rename_layers" and field == "name":
            return dice.choice(["Bar {n}", "Plate", "Sign", "x" * 120, "{n}"])
        if kind in SLOT_EDITS:
            return self.of_slots(kind, field, scene, names, ways)
        if kind == "relink" and field == "content":
            return dice.choice([{"kind": "scene", "asset": dice.choice(["strip", "gone"])}, SPECK])
        if kind == "keys_from_values" and field == "frames":
            return [0.0, 12.0, 13.0]
        if field == "values":
            numbers = [dice.uniform(-90, 300) for _ in range(dice.choice([1, 1, 2, 2, 3]))]
            return dice.choice(
                [[numbers, numbers, [0.0] * len(numbers)], [numbers] * 3, ["#aabbccdd", "#12345678", "#000000"]]
            )
        if field == "was" and kind in ("recolour", "restyle"):
            return dice.choice(["#12345678", "#0e3f45ff"]) if kind == "recolour" else dice.choice(LOOKS)
        if field in ("frame", "frames") and "beat" in kind and scene.beats:
            at = dice.choice(scene.beats).frame
            return at if field == "frame" else [at]
        if field == "name" and "variant" in kind:
            return dice.choice(["A", "B", "C", "Low"])
        if field == "keys":
            if kind == "paste_keys":
                return [
                    {
                        "property": prop,
                        "after": abs(frame),
                        "value": self.given(layer, prop),
                        "ease": dice.choice(EASES),
                    }
                ]
            return chosen
        if field == "value":
            if kind == "recolour":
                return dice.choice(["#d9482fff", "#12345678"])
            return (
                self.given(layer, prop) if kind in ("set_property", "set_key") else dice.choice([number, "#12345678"])
            )
        if kind == "put_into_scene" and field == "frame":
            return dice.choice(["scene", "tight"])
        if kind == "carry_layers" and field == "keep":
            return dice.choice(["frame", "throughout"])
        if field == "leave" and kind == "leave_finding":
            return dice.random() < 0.6
        if field == "way":
            return dice.choice(["smooth", "straight", "stretch", "reverse", "snap", "set", "add", "multiply"])
        if kind == "put_on_path" and field == "path":
            return dice.choice([None, dice.choice(ids).split("/")[0]])
        if kind == "set_letters" and field in ("start", "stop"):
            return dice.randint(0, 9)
        if kind == "set_letters" and field == "to":
            return dict(dice.sample(LETTERS, dice.randint(0, 3)))
        if field == "to" and kind == "set_effect":
            return dice.choice([None, 0, 1, 5])
        if field == "to":
            return dice.choice(
                [{"station": ways["station"]}, {"scene": pair}, {"content": pair}, {"fraction": [0.3, None]},
                 [40, None], [40, 50], "scene centre", "selection", "scene", "first", dice.randint(0, 60)]
            )  # fmt: skip
        if field == "side" and kind == "bend_point":
            return dice.choice(["in", "out"])
        if field == "part" and kind == "set_point":
            return dice.choice(["place", "in", "out"])
        if field == "way" and kind == "shape_points":
            return dice.choice(["corner", "smooth"])
        if kind in POINTED[4:] and field in ("to", "by", "handle"):
            return pair if kind == "set_point" else [dice.uniform(-100, 700), dice.uniform(-100, 400)]
        if kind == "aim_gradient" and field == "part":
            return dice.choice(["start", "end", "centre", "radius x", "radius y", "angle", "stop"])
        if kind == "aim_gradient" and field == "to":
            return [dice.uniform(-100, 700), dice.uniform(-100, 400)]
        if kind == "add_stop" and field == "at":
            return dice.choice([None, dice.uniform(0, 100)])
        if field == "by" and kind == "set_matte":
            return dice.choice(["opacity", "brightness"])
        if field == "by" and kind == "mask_with":
            return dice.choice(ids)
        if field == "by" and kind in ("move_layers", "move_content"):
            return [number, dice.randint(-50, 50)]
        if field == "by" and kind == "drag_handle":
            return dice.choice(["scale", "size"])
        return ways.get(field)

    def of_slots(self, kind: str, field: str, scene: Scene, names: list[str], ways: dict[str, Any]) -> Any:
        """A value for a field of an edit of slots, or of the rows of the table."""
        dice = self.random
        slots = [one.id for one in scene.slots] or ["none"]
        rows = [one.id for one in scene.rows] or ["none"]
        shown = [one.id for one in scene.layers if one.content.scenes] or ["none"]
        slot, text = dice.choice([*slots, "ghost"]), dice.choice(["Bram", "", "12", "#fb4", "a b\nc", "x" * 90, "no"])
        cells = [{"row": dice.choice([*rows, "ghost"]), "slot": dice.choice(slots), "text": text} for _ in range(2)]
        inner = dice.choice(["word", "edge", "ghost"])
        fill = {"slot": slot, "value": dice.choice(["Bram", 12.0, [3.0, 4.0], True, "#aabbccff", "surf", "", None])}
        place = dice.choice([place.model_dump() for one in scene.slots for place in one.places] or [None])
        to_inner = kind == "fill_slots" and dice.random() < 0.3
        ways |= {
            "path": dice.choice([*names, *OTHER_PARTS, f"content.fills.@{inner}"]), "slot": slot, "to": 0,
            "bounds": {"low": dice.choice([None, -5.0]), "high": dice.choice([None, 90.0, -9.0]), "most": 20},
            "place": dice.choice([None, place]), "fit": "inside", "cells": cells, "at": dice.choice([None, 0, 9]),
            "fills": [{**fill, "slot": inner} if to_inner else fill], "instead": dice.random() < 0.3,
            "rows": [{"cells": [{"slot": slot, "text": text}]}] if kind == "add_rows" else dice.sample(rows, 1),
            "row": dice.choice(rows), "mend": {"slot": slot, "size": 60, "lines": True},
            "accepted": dice.random() < 0.5,
        }  # fmt: skip
        if kind == "make_slot" and field == "slot":
            return dice.choice([None, None, slot])
        if kind == "fill_slots" and field == "layer":
            return dice.choice(shown) if fill["value"] is None or dice.random() < 0.3 else None
        return ways.get(field)

    def siblings(self, scene: Scene, kind: str) -> list[str]:
        """Layers; or the items of one layer or group, by their addresses."""
        outer = [layer for layer in scene.layers if getattr(layer.content, "items", None)]
        often = 0.8 if kind in ("group_items", "ungroup_items") or kind in POINTED else 0.3
        if not outer or self.random.random() > often:
            return [layer.id for layer in scene.layers]
        paths = [layer.id for layer in outer if "crab" in layer.id or "drawn" in layer.id]
        name = self.random.choice(paths if paths and often > 0.5 else [layer.id for layer in outer])
        if name.startswith("drawn") and kind in POINTED:
            return [name]
        masks = scene.layer(name).masks
        if masks and self.random.random() < 0.3:
            return [f"{name}/@/{mask.id}" for mask in masks]
        places = [f"{name}/{item.id}" for item in scene.layer(name).content.items]
        groups = [place for place in places if isinstance(self.item(scene, place), Group)]
        if groups and self.random.random() < 0.4 and kind != "ungroup_items":
            name = self.random.choice(groups)
            if self.item(scene, name).masks and self.random.random() < 0.4:
                return [f"{name}/@/{mask.id}" for mask in self.item(scene, name).masks]
            return [f"{name}/{item.id}" for item in self.item(scene, name).items]
        return groups if groups and kind == "ungroup_items" else places

    @staticmethod
    def item(scene: Scene, address: str) -> Any:
        """The item at an address one level deep."""
        layer, key = address.split("/")
        return next(item for item in scene.layer(layer).content.items if item.id == key)

    def given(self, layer: Any, prop: str) -> Any:
        """A value of the kind that a property takes, mostly."""
        track = layer.tracks.get(prop) if layer else None
        if track is None or self.random.random() < 0.05:
            return 5
        rest = track.rest
        if isinstance(rest, str):
            return "#aabbccdd"
        if isinstance(rest, tuple) and isinstance(rest[0], tuple):
            return [[self.random.uniform(-90, 90) for _ in range(6)] for _ in rest]
        numbers = [self.random.choice([None, self.random.uniform(-100, 300)]) for _ in range(2)]
        return numbers if isinstance(rest, tuple) else self.random.uniform(-200, 400)
