"""Shapes copied out of their layer stand, move and look as they did."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits.shapes_alone import shapes_alone
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.items import items_resolved
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.shapes import Group
from tests.conftest import cases, layer, scene
from tests.core.documents_at_random import Documents

FRAMES = np.arange(30.0)


def square(ident: str, x: float, y: float, **more: object) -> dict[str, object]:
    return {"shape": "rectangle", "id": ident, "size": [40, 30], "at": [x, y], "fill": "#0e6b61", **more}


def places(made: Scene, name: str, frames: np.ndarray = FRAMES, media: Assets = NO_MEDIA) -> dict[str, np.ndarray]:
    """The matrix of each shape to the scene, by its address."""
    resolved = resolve(made, frames, media)
    one = resolved.layers[name]
    found = items_resolved(one, resolved.context.around(one.layer, resolved.frames))
    return {address: np.broadcast_to(item.matrix, (len(frames), 6)) for address, item in found.items()}


def by_id(found: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    """The same by their ids alone."""
    return {address.rsplit("/", 1)[-1]: matrix for address, matrix in found.items()}


@pytest.mark.parametrize("wanted", [["a"], ["g/c"], ["g/c", "b"], ["g"], ["g/h/e"]])
def test_they_stand_and_move_as_they_did(wanted: list[str]) -> None:
    """Under pinned anchors of the layer and of groups, keys, and motion at random: every shape at every frame."""
    turn = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 20, "value": 90}]}
    group = {"anchor": [0.1, 0.9], "position": [20, 30], "rotation": turn}
    deep = {"anchor": [1, 0], "position": [9, 9], "scale": [120, 80]}
    shaky = {"position": {"rest": [5, 5], "formula": "base + wander(3, (9, 9))"}}
    items = [
        square("a", -50, 0), square("b", 30, 60, transform=shaky),
        {
            "shape": "group", "id": "g", "transform": group,
            "items": [
                square("c", 0, 0, transform=shaky), square("d", 90, 10),
                {"shape": "group", "id": "h", "transform": deep, "items": [square("e", 5, 70), square("f", -60, -60)]},
            ],
        },
    ]  # fmt: skip
    moved = {"anchor": [0.8, 0.2], "position": [200, 120], "rotation": turn, "locked": True}
    before = scene(layer("Crab", content={"kind": "shape", "items": items}, **moved), length=30)
    (alone,) = shapes_alone(before, [f"crab/{one}" for one in wanted], NO_MEDIA)
    after = before.with_layers((alone,))
    assert Scene.model_validate_json(after.to_json()) == after
    was, now = by_id(places(before, "crab")), by_id(places(after, "crab"))
    last = {one.rsplit("/", 1)[-1] for one in wanted}
    assert last <= now.keys()
    # Where a box moves at random, an anchor in it is followed within 0.001 px.
    for name in now.keys() - {"g", "h"} | last:
        assert np.abs(was[name] - now[name]).max() <= 2e-3, name
    shapes = {name for name in now if name not in ("g", "h")}
    inside = {"g": {"c", "d", "e", "f"}}
    assert shapes == set().union(*(inside.get(one, {one}) for one in last))
    assert isinstance(before.layers[0].content.items[2], Group)  # type: ignore[union-attr]


def addresses(items: tuple[Any, ...], above: str) -> Iterator[str]:
    """Of all shapes and groups, at any depth."""
    for item in items:
        yield f"{above}/{item.id}"
        yield from addresses(getattr(item, "items", ()), f"{above}/{item.id}")


@cases(8)
@given(seed=st.integers(0, 10_000))
def test_of_any_layer_any_shape_stays_where_it_was(seed: int) -> None:
    """Over documents at random, at every frame at which their layer is there."""
    dice, made, media = random.Random(seed), Documents(seed).scene(), Documents(seed).media()
    for one in made.layers:
        every = list(addresses(getattr(one.content, "items", ()), one.id))
        if len(every) < 2:
            continue
        wanted = dice.choice(every)
        (alone,) = shapes_alone(made, [wanted], media)
        frames = np.arange(one.span.start, 30.0)
        was, now = (places(of, one.id, frames, media)[wanted] for of in (made, made.with_layer(alone)))
        assert np.abs(was - now).max() <= 0.01, wanted


def test_what_is_not_there_is_refused() -> None:
    made = scene(layer("Crab", content={"kind": "shape", "items": [square("a", 0, 0)]}))
    with pytest.raises(Refused, match="is gone"):
        shapes_alone(made, ["crab/9"], NO_MEDIA)
    with pytest.raises(Refused, match="Masks are not copied"):
        shapes_alone(made, ["crab/@/0"], NO_MEDIA)
    assert shapes_alone(made, ["crab", "crab/a"], NO_MEDIA) == made.layers
