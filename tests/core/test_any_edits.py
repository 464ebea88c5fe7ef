"""Whatever edits are made, in whatever order: only Refused leaves them, and what they make can be read again."""

from __future__ import annotations

import random
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import Assets, ClipInfo
from mudskipper.core.document.read import read_scene, read_written
from mudskipper.core.document.scene import Layer, Scene
from mudskipper.core.document.verify import verified
from mudskipper.core.edits import apply_edits
from mudskipper.core.ground.base_model import Model
from mudskipper.core.ground.errors import Refused
from mudskipper.core.slots.filling import holders, with_value
from mudskipper.core.slots.inner import INNER
from tests.conftest import cases, layer, scene
from tests.core.edits_at_random import EDIT, KINDS, Dice


def busy() -> Scene:
    """Layers of every kind of motion: curved, on a cadence, split, repeating, with beats and odd rates."""
    way = [
        {"frame": 0, "value": [80, 60], "leave": [60, -90]},
        {"frame": 22, "value": [300, 200], "ease": {"overshoot": 30}},
        {"frame": 50, "value": [520, 90], "arrive": [-30, 80]},
    ]
    swing = [{"frame": 4.25, "value": -30, "ease": {"steps": 3}}, {"frame": 30, "value": 90, "ease": {"spring": {}}}]
    swing.append({"frame": 44, "value": 10})
    split = {"x": {"rest": 5, "keys": [{"frame": 3, "value": 9}, {"frame": 33, "value": 400}]}, "y": {"rest": 90}}
    words: dict[str, Any] = {
        "kind": "text",
        "text": "Low Tide",
        "style": "display",
        "fill": {"rest": "#0e3f45", "named": "coral"},
    }
    words["size"] = {"rest": 40, "keys": [{"frame": 9, "value": 60}]}
    inner = {"rest": 40, "keys": [{"frame": 2, "value": 20, "ease": {"overshoot": 80}}, {"frame": 30, "value": 95}]}
    star = {"shape": "star", "size": [120, 90], "points": 7, "inner": inner, "rounding": 4, "fill": "#f2b544"}
    polygon = {"shape": "polygon", "size": [80, 80], "at": [40, 0], "rounding": 9, "stroke": {"colour": "#000000"}}
    others = [
        {"shape": "ellipse", "size": [90, 60], "sweep": 200, "hole": inner, "closing": "chord"},
        {"shape": "sunburst", "size": [300, 300], "rays": 5, "twist": 30, "fill": "#f2b544"},
        {
            "shape": "line",
            "start": [0, 0],
            "end": [50, 9],
            "stroke": {"colour": "#f2b544", "dashes": {"gap": inner}, "part": {"end": inner}, "cap": "round"},
        },
        {"shape": "star", "size": [20, 20], "repeat": {"copies": inner, "move": [30, 0], "turn": 9, "grow": [95, 95]}},
        {"shape": "arrow", "start": [0, 0], "end": {"rest": [90, 10], "keys": [{"frame": 3, "value": [50, 50]}]}},
        {"shape": "rectangle", "size": [90, 40], "apart": {"top_left": 9, "bottom_left": inner}},
    ]
    return scene(
        layer(
            "Plate",
            position={"rest": [0, 0], "keys": way, "after": "carry on"},
            rotation={"rest": 0, "keys": swing},
            masks=[window(inner)],
            framing={"zoom": inner},
            crop={"left": -90, "top": -80, "right": inner, "bottom": 60},
        ),
        layer("Sign", position=split, span={"start": 7, "length": 40}, opacity={"rest": 80, "keys": swing[:0]}),
        layer(
            "Title",
            masks=[window(inner)],
            effects=[
                {"effect": "soft-blur", "amount": {"rest": [9, 0], "keys": [{"frame": 9, "value": [0, 4]}]}},
                {"effect": "soft-blur", "amount": {"rest": [9, 9], "formula": "wander(2, 9)"}, "name": "Mist"},
            ],
            content=words,
            rotation={"rest": 0, "keys": swing, "cadence": {"on": 3}, "after": "repeat"},
        ),
        layer(
            "Flyer",
            content={"kind": "shape", "items": [star, polygon, *others]},
            masks=[{"shape": DRAWN_OUTLINE}],
            matte={"layer": "title", "by": "brightness"},
        ),
        crab(),
        layer("Drawn", content={"kind": "shape", "items": [DRAWN]}),
        layer(
            "Surf", content={"kind": "clip", "asset": "surf", "time": {"speed": -50.0, "start": 3.0, "freeze": 30.0}}
        ),
        layer("Gulls", content={"kind": "clip", "asset": "surf", "time": {"keyed": inner, "after": "loop"}}),
        layer(
            "Vane",
            rotation={"rest": 4, "formula": "base + wander(2, 30)", "cadence": {"on": 2}},
            opacity={"rest": 80, "keys": swing[:0], "formula": "50 + 40 * sin(t * tau)"},
            position={"rest": [9, 9], "formula": 'scene["Pennant"].position.at(t - 0.3) + (index, count)'},
            scale={"rest": [80, 80], "formula": "(t *"},
        ),
        layer("Gauge", content={"kind": "text", "text": "0 m", "written": {"formula": 'format(t, "0.0") + " m"'}}),
        layer("Mast", content={"kind": "carrier"}, rotation={"rest": 0, "keys": swing}),
        layer("Pennant", carrier="mast", position=split),
        layer(
            "Strip",
            carrier="mast",
            content={
                "kind": "scene",
                "asset": "strip",
                "background": True,
                "time": {"speed": -50.0, "start": 1.5},
                "fills": [{"slot": "word", "value": "#12345678"}],
            },
        ),
        beats=[{"frame": 5}, {"frame": 33, "label": "splash"}],
        slots=[
            {"id": f"s{number}", "name": f"Slot {number}", "places": [{"layer": one, "path": path}], **more}
            for number, (one, path, more) in enumerate(SLOTS)
        ],
        rows=[
            {"id": "r1", "cells": [{"slot": "s0", "text": "Bram"}, {"slot": "s3", "text": "#fb4"}]},
            {"id": "r2", "mends": [{"slot": "s0", "size": 70, "lines": True}], "accepted": True},
        ],
    )


SLOTS: list[tuple[str, str, dict[str, Any]]] = [
    ("title", "content.text", {"most": 40}), ("title", "effects.@1.amount", {}), ("plate", "scale", {}),
    ("crab", "content.items.@1.items.@0.fill.stops.1.colour", {}), ("crab", "content.items.@2.transform.rotation", {}),
    ("flyer", "masks.@0.feather", {"low": 0, "high": 9}), ("surf", "content.asset", {"fit": "inside"}),
    ("sign", "visible", {}), ("gauge", "span.length", {}), ("strip", "content.fills.@word", {}),
    ("title", "content.font.family", {}), ("gone", "opacity", {}),
]  # fmt: skip


def strip() -> Scene:
    """A scene that lies in another one, at a rate of its own."""
    slots = [
        {"id": "word", "name": "Word", "places": [{"layer": "words", "path": "content.items.@0.fill"}]},
        {"id": "edge", "name": "Edge", "places": [{"layer": "edge", "path": "opacity"}]},
    ]
    return scene(
        layer("Words"), layer("Edge", carrier="words"), id="strip", name="Strip", frame_rate=(25, 1), slots=slots
    )


MEDIA = Assets(clips={"surf": ClipInfo.steady("surf", (320, 180), 90, (25, 1))}, scenes={"strip": strip()})


DRAWN = {
    "shape": "path", "contours": [{"count": 2, "closed": True}, {"count": 3}], "fill": "#112233",
    "points": [[0, 0, 0, 0, 20, -30], [90, 10, -20, 0, 20, 0], [50, 80, 0, 0, 0, 0], [10, 10, 0, 0, 0, 0],
               [9, 9, 1, 0, 0, 0]],
}  # fmt: skip


DRAWN_OUTLINE = {name: part for name, part in DRAWN.items() if name != "fill"}


def window(inner: dict[str, Any]) -> dict[str, Any]:
    """A mask that turns, and of which the corners and the feather are keyed."""
    turning = {"rest": 0, "keys": [{"frame": 2, "value": 0}, {"frame": 40, "value": 90}]}
    return {
        "name": "Window", "shape": {"shape": "rectangle", "size": [120, 70], "corners": inner}, "feather": inner,
        "transform": {"rotation": turning, "opacity": 80},
    }  # fmt: skip


def crab() -> dict[str, Any]:
    """A layer of a shell and, in a group that turns, a claw that is keyed and a path that becomes another."""
    opening = {"rest": 0, "keys": [{"frame": 2, "value": 0}, {"frame": 22, "value": -50}]}
    morph = [[0, 0, 0, 0, 0, 0], [40, 0, 0, -9, 0, 9], [20, 40, 0, 0, 0, 0]]
    other = [[5, 5, 0, 0, 0, 0], [60, 0, 0, -9, 0, 9], [20, 60, 3, 0, -3, 0]]
    keys = [{"frame": 4, "value": morph}, {"frame": 40, "value": other, "ease": {"overshoot": 40}}]
    claw = {
        "shape": "path", "name": "Claw", "contours": [{"count": 3, "closed": True}], "fill": "#d9482f",
        "points": {"rest": morph, "keys": keys},
        "transform": {"anchor": [0, 0.5], "position": [80, 0], "rotation": opening},
    }  # fmt: skip
    stops = [{"at": 0, "colour": "#ffffff"}, {"at": {"rest": 40, "keys": opening["keys"][:1]}, "colour": "#000000"}]
    stops.append({"at": 100, "colour": "#d9482f"})
    eye = {"shape": "ellipse", "size": [20, 20], "at": [30, -40], "fill": {"gradient": "radial", "stops": stops}}
    group = {
        "shape": "group", "items": [eye, claw], "transform": {"position": [50, 0], "rotation": 10},
        "masks": [window({"rest": 3}), {"shape": {"shape": "ellipse", "size": [90, 90]}, "mode": "subtract"}],
    }  # fmt: skip
    shell = {"shape": "ellipse", "size": [160, 90], "fill": "#d9482f"}
    plain = {"shape": "group", "items": [{**shell, "at": [9, 9]}], "transform": {"rotation": 30}}
    return layer("Crab", content={"kind": "shape", "items": [shell, group, plain]}, scale=[80, 90], rotation=12)


FREE = {"low": None, "high": None, "most": None}


@cases(45)
# A number was added to the words of a text.
@example(seed=568883)
@given(seed=st.integers(0, 2**32))
def test_what_edits_make_can_be_read_again(seed: int) -> None:
    """Up to ten edits of any kinds: each is refused in words with nothing changed, or its document reads the same."""
    dice, now, media = Dice(seed), busy(), MEDIA
    for _ in range(10):
        edit = dice.edit(now)
        try:
            outcome = apply_edits(now, [edit], media)
        except Refused as refusal:
            told = str(refusal)
        else:
            told = ""
        assert "Track(" not in told
        if told:
            continue
        media = media.with_scenes(outcome.made)
        for after in (outcome.scene, *outcome.made):
            text = after.to_json()
            assert read_scene(text) == read_written(text) == after, edit
            for slot in after.slots:
                # What it holds is a value of it, and changes nothing; of a scene within, it is written down.
                for one in holders(after, slot, media)[:1]:
                    free = slot.model_copy(update=FREE)
                    same = with_value(after, free, one.value, media)
                    assert same.layers == after.layers or INNER.fullmatch(one.path), edit
                    assert with_value(same, free, one.value, media).layers == same.layers, edit
        now = outcome.scene


WRONG = [None, "", "none", "#12", -7, 0, 1e9, float("nan"), True, [], {"rest": "x"}]


def spoilt(dice: random.Random, part: Any, other: Any) -> Any:
    """A part of a document with something in it changed for what may be wrong there: another value, parts in another
    order, doubled, left out, or parts of another one in their place."""
    if isinstance(part, Model):
        if dice.random() < 0.05:
            return other
        name = dice.choice([name for name in type(part).model_fields if name != "id"])
        return part.model_copy(update={name: spoilt(dice, getattr(part, name), other)})
    if isinstance(part, tuple) and part and dice.random() < 0.9:
        at = dice.randrange(len(part))
        if dice.random() < 0.7:
            return (*part[:at], spoilt(dice, part[at], other), *part[at + 1 :])
        return dice.choice([part[::-1], (*part, part[at]), part[:at] + part[at + 1 :], (*part, other)])
    return dice.choice(WRONG)


@pytest.mark.filterwarnings("ignore:Pydantic serializer warnings")
@cases(300)
@given(seed=st.integers(0, 2**32))
def test_what_is_looked_at_where_it_changed_is_refused_as_the_whole_is(seed: int) -> None:
    """Also where a part keeps what was there before beside what is wrong."""
    dice, before = random.Random(seed), busy()
    layers = list(before.layers)
    others = [part for one in layers for part in (one.rotation, one.content, *getattr(one.content, "items", ()))]
    for at in {dice.randrange(len(layers)) for _ in range(2)}:
        layers[at] = spoilt(dice, layers[at], dice.choice(others))
    if not all(isinstance(one, Layer) and isinstance(one.name, str) for one in layers):
        return
    after = before.model_copy(update={"layers": tuple(layers)})

    def told(check: Callable[[], Any]) -> str:
        try:
            check()
        except Refused as no:
            return str(no)
        return ""

    fresh = told(lambda: verified(before.with_layers(()), after))
    # A model in the place of another kind is written as one of that kind where all of it is looked at.
    assert told(lambda: verified(before, after)) or not fresh, fresh


@pytest.mark.parametrize("kind", KINDS)
def test_each_kind_of_edit_is_reached(kind: str) -> None:
    """Of each kind some can be made, so that the property above is one of all of them."""
    dice = Dice(7)
    kept = [EDIT.validate_python({"edit": "keep_variant", "layer": one.id}) for one in busy().layers]
    for _ in range(400):
        try:
            apply_edits(busy(), [*(kept if "variant" in kind else []), dice.edit(busy(), kind)], MEDIA)
        except Refused:
            continue
        return
    pytest.fail(f"no edit of the kind {kind} could be made")
