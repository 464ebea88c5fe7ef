"""Layers with keyed masks, crops, framings, mattes and patterns: what is painted of them stays while they are moved in
time, cut, copied, or given another rate; and a shape becomes a mask with its motion. Against the draw lists."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.operations import Group, Path
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import layer, scene
from tests.core.edits_at_random import EASES
from tests.core.test_items import edited
from tests.core.test_masks import outline_in_scene

FRAMES = np.arange(60)
BEYOND = ("hold", "repeat", "bounce", "carry on")
# What no single mask can be: nothing is seen at scale 0, a number out of bounds, axes that cannot be one track.
NO_MASK_OF_IT = (
    "scale 0", "must lie between", "between 0 and 100", "go on differently beyond their keys", "at different cadences",
)  # fmt: skip


class Made:
    """Draws data of layers of every kind of window and motion."""

    def __init__(self, seed: int) -> None:
        self.dice = random.Random(seed)

    def maybe(self, share: float) -> bool:
        return self.dice.random() < share

    def track(self, low: float, high: float, *, pair: bool = False) -> Any:
        def value() -> Any:
            numbers = [round(self.dice.uniform(low, high), 2) for _ in range(2)]
            return numbers if pair else numbers[0]

        if self.maybe(0.3):
            return value()
        frames = sorted(self.dice.sample(range(60), self.dice.randint(1, 4)))
        keys = [{"frame": frame, "value": value(), "ease": self.dice.choice(EASES)} for frame in frames]
        ends = {"before": self.dice.choice(BEYOND), "after": self.dice.choice(BEYOND)}
        return {"rest": value(), "keys": keys, **ends} | ({"cadence": {"on": 3}} if self.maybe(0.2) else {})

    def transform(self) -> dict[str, Any]:
        return {
            "position": self.track(-60, 60, pair=True), "rotation": self.track(-90, 90), "opacity": self.track(10, 100),
            "scale": self.track(40, 150, pair=True), "anchor": [self.dice.random(), self.dice.random()],
        }  # fmt: skip

    def outline(self) -> dict[str, Any]:
        kind = self.dice.choice(["rectangle", "ellipse", "star"])
        return {"shape": kind, "size": self.track(20, 120, pair=True), "at": self.track(-30, 30, pair=True)}

    def mask(self) -> dict[str, Any]:
        made = {"shape": self.outline(), "mode": self.dice.choice(["add", "subtract", "intersect"])}
        made |= {"inverted": self.maybe(0.3), "feather": self.track(0, 20)}
        return made | ({"transform": self.transform()} if self.maybe(0.6) else {})

    def item(self) -> dict[str, Any]:
        made = self.outline() | {"fill": "#ffffff"}
        if self.maybe(0.5):
            made["transform"] = self.transform()
        if self.maybe(0.5):
            made["repeat"] = {
                "copies": self.track(1, 5), "move": self.track(-40, 40, pair=True), "turn": self.track(-40, 40),
                "grow": self.track(80, 120, pair=True), "fade": self.track(40, 100),
            }  # fmt: skip
        return made

    def layer(self, name: str) -> dict[str, Any]:
        items = [self.item() for _ in range(self.dice.randint(1, 3))]
        if self.maybe(0.4):
            items.append({"shape": "group", "items": [self.item()], "masks": [self.mask()]})
        made: dict[str, Any] = {
            "content": {"kind": "shape", "items": items}, "position": self.track(100, 400, pair=True),
            "rotation": self.track(-90, 90), "span": {"start": self.dice.randint(-5, 8), "length": 50},
            "masks": [self.mask() for _ in range(self.dice.randint(0, 2))],
        }  # fmt: skip
        if self.maybe(0.5):
            made["framing"] = {"offset": self.track(-50, 50, pair=True), "zoom": self.track(50, 200)}
        if self.maybe(0.4):
            low, high = {"left": -90, "top": -90}, {"right": 20, "bottom": 20}
            made["crop"] = {edge: self.track(at, at + 70) for edge, at in (low | high).items()}
        return layer(name, **made)


def parts(group: Group, row: int) -> Iterator[tuple[Any, ...]]:
    """All that a group paints in a frame, at any depth."""

    def at(column: np.ndarray) -> np.ndarray:
        return column[row if len(column) > 1 else 0].astype(float)

    if not at(group.visible)[0]:
        return
    yield at(group.matrix), at(group.opacity)
    for mask in group.masks:
        yield *(at(part.points) for part in mask.parts), at(mask.matrix), at(mask.strength), at(mask.blur)
    for part in (*(group.matte.parts if group.matte else ()), *group.parts):
        if isinstance(part, Group):
            yield from parts(part, row)
        elif isinstance(part, Path):
            yield (at(part.points),)


def painted(made: Scene, frames: np.ndarray) -> list[np.ndarray]:
    """All numbers that are painted at each frame."""
    groups = draw_list(resolve(made, frames, NO_MEDIA)).groups
    return [
        np.concatenate([number for group in groups for one in parts(group, row) for number in one] or [np.zeros(0)])
        for row in range(len(frames))
    ]


@pytest.mark.parametrize("seed", range(14))
def test_what_windows_show_keeps_its_times(seed: int) -> None:
    made = Made(seed)
    low, top = made.layer("Low"), made.layer("Top")
    if made.maybe(0.5):
        top["matte"] = {"layer": "low", "by": "opacity"}
    before = scene(low, top)
    start, length = top["span"]["start"], top["span"]["length"]
    moved = [{"edit": "move_span", "layer": one["id"], "start": one["span"]["start"] + 4} for one in (low, top)]
    ways: dict[str, tuple[list[dict[str, Any]], np.ndarray, np.ndarray]] = {
        "rate": ([{"edit": "set_scene", "frame_rate": [60, 1]}], FRAMES, 2 * FRAMES),
        "split": ([{"edit": "split_layer", "layer": "top", "frame": 25}], FRAMES, FRAMES),
        "trim": ([{"edit": "trim_span", "layer": "top", "start": start - 3, "length": length + 3}],
                 np.arange(max(start, 0), start + length), np.arange(max(start, 0), start + length)),
        "copy": ([{"edit": "duplicate_layers", "layers": ["top"], "ids": ["new"]},
                  {"edit": "delete_layers", "layers": ["top"]}], FRAMES, FRAMES),
        "move": (moved, FRAMES[:-4], FRAMES[4:]),
        "name": ([{"edit": "rename_layer", "layer": "top", "name": "Other"}], FRAMES, FRAMES),
    }  # fmt: skip
    for name, (edits, old, new) in ways.items():
        after = edited(before, *edits).scene
        for was, now in zip(painted(before, old), painted(after, new), strict=True):
            assert was.shape == now.shape, name
            assert np.abs(was - now).max(initial=0) < 0.01, name


@pytest.mark.parametrize("seed", range(40))
def test_any_shape_over_a_layer_becomes_its_mask_where_it_is(seed: int) -> None:
    """With curved, split, keyed, flipped and cadenced motion: at every frame where that is kept, else at the frame."""
    made = Made(seed)
    dice = made.dice
    size = round(dice.uniform(30, 200), 1)
    target = layer(
        "Low", position=[300, 200], rotation=dice.uniform(-200, 200), anchor=[dice.random(), dice.random()],
        scale=[size, size] if made.maybe(0.7) else [size, -50.0],
    )  # fmt: skip
    way = made.track(100, 400, pair=True)
    if made.maybe(0.3):
        way = {"x": made.track(100, 400), "y": made.track(100, 300)}
    elif isinstance(way, dict):
        for key in way["keys"]:
            key |= {handle: [dice.uniform(-80, 80), dice.uniform(-80, 80)] for handle in ("leave", "arrive")}
    over = layer(
        "Star", content={"kind": "shape", "items": [made.outline() | {"fill": "#ffffff"}]}, position=way,
        rotation=made.track(-90, 90), scale=made.track(-150, 150, pair=True), opacity=made.track(0, 100),
        anchor=made.track(0, 1, pair=True), span={"start": dice.randint(-5, 8), "length": 60},
    )  # fmt: skip
    before = scene(target, over)
    try:
        outcome = edited(before, {"edit": "mask_with", "layer": "low", "by": "star", "frame": 20})
    except Refused as refusal:
        words = str(refusal)
    else:
        frames = slice(20, 21) if any("without its own motion" in one for one in outcome.notices) else slice(0, 50)
        old, new = outline_in_scene(before, "star/0")[frames], outline_in_scene(outcome.scene, "low/@/0")[frames]
        assert np.abs(old - new).max() < 0.01
        return
    assert any(reason in words for reason in NO_MASK_OF_IT), words
