"""Layers that read others: order, caches, what an edit changes, circles."""

from __future__ import annotations

from typing import Literal

import numpy as np
import pytest

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.contents.base import Around, Content, Values
from mudskipper.core.document.scene import Layer, Scene
from mudskipper.core.draw.operations import Image
from mudskipper.core.draw.pen import Pen
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.bezier import Floats
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import ResolveCache, resolve
from tests.conftest import EXAMPLES, layer, scene
from tests.core.documents_at_random import Documents
from tests.core.test_edits import done


class Ruler(Content):
    """A content as wide as another layer is turned, and 10 px more than a ruler that it reads."""

    kind: Literal["ruler"] = "ruler"
    of: str
    asks: str = ""

    @property
    def default_name(self) -> str:
        return "Ruler"

    @property
    def needs(self) -> tuple[str, ...]:
        return (self.of,)

    def box(self, values: Values, around: Around) -> Floats:
        turned = around.value(self.asks or self.of, "rotation")
        width = np.zeros((1, 1)) if turned is None else turned
        rest = np.broadcast_to([0.0, 0.0, 50.0], (len(width), 3))
        return np.concatenate([rest[:, :2], width, rest[:, 2:]], axis=1)

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        pen.image("ruler", self.box(values, around))


TURN = {"rest": 0, "keys": [{"frame": 0, "value": 0, "ease": "ease-in-out"}, {"frame": 40, "value": 300}]}


def ruler(name: str, of: str, **changes: str) -> Layer:
    made = Layer.model_validate(layer(name, rotation=TURN, position=[0, 0]))
    return made.model_copy(update={"content": Ruler(of=of, **changes)})


def reading(*rulers: Layer) -> Scene:
    """A turning plate, one that rests, and rulers between them."""
    plates = scene(layer("plate", rotation=TURN), layer("rests"))
    return plates.with_layers((*rulers, *plates.layers))


def test_a_layer_reads_another_at_the_same_frames() -> None:
    """Alone or with all, frame by frame or at once, drawn or measured; whichever of the two stands in front."""
    made, frames = reading(ruler("r", "plate")), np.arange(60)
    turned = resolve(made, frames, NO_MEDIA).layers["plate"].values["rotation"]
    whole = resolve(made, frames, NO_MEDIA, ids=["r"])
    assert list(whole.layers) == ["r"]
    assert np.array_equal(whole.layers["r"].box[:, 2:3], turned)
    single = [Context(made, NO_MEDIA).one(made.layer("r"), frame).box[0, 2] for frame in frames]
    assert np.array_equal(single, turned[:, 0])
    (group,) = draw_list(whole).groups
    (image,) = group.parts
    assert isinstance(image, Image)
    assert np.array_equal(image.box[:, 2:3], turned.astype(np.float32))


def test_what_changes_reaches_every_layer_that_reads_it() -> None:
    """By way of others too: in `changed`, and in a cache, where all else stays as it was."""
    made, frames, cache = reading(ruler("far", "near"), ruler("near", "plate")), np.arange(30), ResolveCache()
    before = resolve(made, frames, NO_MEDIA, cache).layers
    turned = done(made, {"edit": "set_key", "layer": "plate", "property": "rotation", "frame": 20, "value": 77})
    assert turned.changed == ("far", "near", "plate")
    after = resolve(turned.scene, frames, NO_MEDIA, cache).layers
    assert after["rests"] is before["rests"]
    assert after["near"].box[20, 2] == 77
    assert after["far"] is not before["far"]
    rested = done(made, {"edit": "rename_layer", "layer": "rests", "name": "Other"})
    assert rested.changed == ("rests",)
    again = resolve(rested.scene, frames, NO_MEDIA, cache).layers
    assert np.array_equal(again["near"].box, before["near"].box)
    gone = done(made, {"edit": "delete_layers", "layers": ["plate"]})
    assert gone.changed == ("far", "near")
    assert resolve(gone.scene, frames, NO_MEDIA, cache).layers["near"].box.tolist() == [[0, 0, 0, 50]]


def test_a_trial_of_a_layer_reads_the_scene() -> None:
    """An edit tries what a layer would be: what it reads, and what others read of it, is what stands in the scene."""
    made = reading(ruler("r", "plate"))
    context = Context(made, NO_MEDIA)
    tried = Layer.model_validate(layer("plate", rotation=10))
    found = context.resolve([tried, made.layer("r")], [20])
    assert [one.values["rotation"][0, 0] for one in found] == [10, 150]
    assert found[1].box[0, 2] == 150
    assert context.value("plate", "rotation", np.array([20.0])) == [[150]]
    assert context.value("plate", "nothing", np.array([20.0])) is None


def test_a_long_chain_and_a_circle() -> None:
    chain = [ruler(f"r{n}", f"r{n - 1}" if n else "plate") for n in range(1_500)]
    assert resolve(reading(*chain), [20], NO_MEDIA, ids=["r1499"]).layers["r1499"].box[0, 2] == 150
    kept = ResolveCache()
    assert len(resolve(reading(*chain), [20], NO_MEDIA, kept).layers) == 1_502
    circle = reading(ruler("a", "b"), ruler("b", "c"), ruler("c", "a"))
    with pytest.raises(Refused, match=r"in a circle: '.' needs '.' needs '.' needs '.'"):
        resolve(circle, [0], NO_MEDIA)
    with pytest.raises(Refused, match="in a circle"):
        apply_edits(circle, [], NO_MEDIA)


def test_a_layer_reads_none_that_it_does_not_name() -> None:
    with pytest.raises(LookupError, match="reads rests"):
        resolve(reading(ruler("r", "plate", asks="rests")), [0], NO_MEDIA)


def test_what_formulas_read_of_a_place_is_what_is_painted() -> None:
    """The matrix of every layer of documents that hold everything, by both ways."""
    frames = np.array([3.0, 17.0, 40.0])
    for seed in range(EXAMPLES * 2):
        made = Documents(seed)
        context = Context(made.scene(), made.media())
        for one in context.resolve(context.scene.layers, frames):
            read = context.formulas.matrix(one.layer, frames)
            assert np.abs(np.broadcast_to(one.matrix, read.shape) - read).max() <= 1e-9, (seed, one.layer.name)
