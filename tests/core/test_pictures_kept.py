"""Any edit leaves the picture of all that it does not name where it was, and of what it names where the docs say so."""

from __future__ import annotations

import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mudskipper.core.document.items_as_layers import MASKS
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Layer, Scene
from mudskipper.core.edits import Edit, apply_edits
from mudskipper.core.edits.of_items import _named
from mudskipper.core.formulas.language import read
from mudskipper.core.formulas.reader import Program
from mudskipper.core.ground.errors import Refused
from tests.conftest import EXAMPLES, FIRST
from tests.core.documents_at_random import Documents, Quads, quads
from tests.core.edits_at_random import Dice

NEAR = 0.06
FARTHEST = 100_000
"""Pixels or degrees; beyond them keys keep a picture as near as their numbers are large."""
OF_THE_SCENE = {"set_scene", "add_beats", "delete_beats", "move_beat", "take_apart", "put_into_scene", "reorder_layer"}
"""Edits that change the scene itself or its frame; those of the order and of layers as a whole are looked at apart."""
STILL = {
    "frame",
    "box",
    "index",
    "count",
    "position",
    "anchor",
    "scale",
    "rotation",
    "in_scene",
    "in_layer",
    "angle_to",
}
"""Words by which formulas of items read what lies around them."""


def named_by(edit: Edit) -> set[str]:
    """The addresses that an edit names, in any of its fields."""
    found = set(_named(edit))
    for field in ("by", "matte", "carrier", "into"):
        value = getattr(edit, field, None)
        if isinstance(value, str):
            found.add(value)
    return found


def reads_around(layer: Layer) -> bool:
    programs = (read(text) for text in layer.formulas.values())
    return any(isinstance(one, Program) and one.names & STILL for one in programs)


def unnamed(before: Scene, after: Scene, edit: Edit) -> set[str]:
    """The addresses of all that an edit does not name and that reads nothing that it may have changed."""
    named = named_by(edit)
    outer = {name.split("/")[0] for name in named}
    touched = before.with_dependents(outer & before.places.keys()) if outer else set()
    if len(before.layers) != len(after.layers):
        touched |= {one.id for one in before.layers if one.formulas and one.looks_around}
    free = {one.id for one in before.layers if one.id not in touched and one.id in after.places}
    inside = {name for name in outer if any("/" in one and one.startswith(f"{name}/") for one in named)}
    return free | {name for name in inside if name in after.places}


def kept_in(address: str, named: set[str]) -> bool:
    """Whether something inside a layer is neither named, nor lies in what is, nor holds it."""
    return not any(f"{address}/".startswith(f"{one}/") or f"{one}/".startswith(f"{address}/") for one in named)


def moved(before: Quads, after: Quads, address: str) -> float:
    old, new = before[address], after[address]
    both = np.isfinite(old) & np.isfinite(new)
    return float(np.abs(np.where(both, old - new, 0.0)).max())


def promised(edit: Edit, before: Scene) -> tuple[set[str], list[float] | None]:
    """The addresses whose picture an edit keeps though it names them, and the frames at which it does; None for all."""
    kind, fields = edit.edit, edit.model_dump()
    at = [float(fields["frame"])] if "frame" in fields and not isinstance(fields["frame"], str) else None
    if kind in ("start_keying", "key_pose", "pin_anchor", "split_position", "join_position"):
        return named_by(edit), None
    if kind == "carry_layers":
        return set(fields["layers"]), at if fields["keep"] == "frame" else None
    if kind == "move_anchor" and fields["keep"] == "picture":
        return (
            ({fields["layer"]}, at)
            if fields["scope"] == "frame"
            else (({fields["layer"]}, None) if fields["scope"] == "throughout" else (set(), None))
        )
    return set(), None


def stays(seed: int, kind: str | None = None) -> str:
    """Make an edit over a random document; what moved that should not have, in words; empty where nothing did."""
    source, dice = Documents(seed), Dice(seed)
    before, media = source.scene(), source.media()
    edit = dice.edit(before, kind)
    if kind is None and edit.edit in OF_THE_SCENE:
        return ""
    by = getattr(edit, "by", 0.0)
    if any(isinstance(one, float | int) and abs(one) > FARTHEST for one in (by if isinstance(by, tuple) else (by,))):
        return ""
    try:
        outcome = apply_edits(before, [edit], media)
    except Refused:
        return ""
    after = outcome.scene
    assert read_scene(after.to_json()) == after
    frames = sorted(random.Random(seed).sample(range(4, 50), 6))
    look: list[float] = [float(frame) for frame in frames]
    old, new = quads(before, look, media), quads(after, look, media.with_scenes(outcome.made))
    named = named_by(edit)
    for layer_id in sorted(unnamed(before, after, edit)):
        inside = any(one.startswith(f"{layer_id}/") for one in named)
        if inside and (reads_around(before.layer(layer_id)) or edit.edit in REORDERING):
            continue
        for address in sorted(old):
            if address.split("/")[0] != layer_id or address not in new or (inside and not kept_in(address, named)):
                continue
            if inside and address.split("/")[0] == address:
                continue
            by = moved(old, new, address)
            if by > NEAR:
                return f"{address} moved by {by:.3f} px by {edit!r}"
    if edit.edit in ("group_items", "ungroup_items"):
        # Their addresses are others now: each stands where one stands.
        for address in sorted(one for one in old if _within(one, named, edit.edit) and MASKS not in one.split("/")):
            twins = [moved({"": old[address]}, {"": there}, "") for place, there in new.items() if MASKS not in place]
            if min(twins) > NEAR:
                return f"{address}, made or taken apart, stands {min(twins):.3f} px off by {edit!r}"
    mine, when = promised(edit, before)
    if mine:
        if when is not None:
            when = [frame for frame in when if all(_there(before, one, frame) for one in mine)]
            if not when:
                return ""
            old, new = quads(before, when, media), quads(after, when, media)
        for address in sorted(mine & old.keys() & new.keys()):
            if when is None and not _whole_frames(before, address):
                continue
            by = moved(old, new, address)
            if by > NEAR:
                return f"{address}, which is promised, moved by {by:.3f} px by {edit!r}"
    return ""


def _within(address: str, named: set[str], kind: str) -> bool:
    """Whether something is a shape that is put into a group, or comes out of one."""
    return any(address.startswith(f"{one}/") or (address == one and kind == "group_items") for one in named)


REORDERING = {"group_items", "ungroup_items", "duplicate_layers", "delete_layers", "mask_with", "make_paths"}
"""Edits of items after which others have other addresses."""


def _there(before: Scene, address: str, frame: float) -> bool:
    span = before.layer(address.split("/")[0]).span
    return span.start <= frame < span.end


def _whole_frames(before: Scene, address: str) -> bool:
    return address.split("/")[0] in before.places and MASKS not in address.split("/")


@settings(max_examples=EXAMPLES * 4)
@given(seed=st.integers(0, 2**40))
def test_an_edit_moves_nothing_that_it_does_not_name(seed: int) -> None:
    assert stays(seed) == ""


HOLDING: list[str] = [
    "carry_layers", "move_anchor", "pin_anchor", "start_keying", "key_pose", "split_position", "join_position",
    "group_items", "ungroup_items", "delete_layers", "set_repeat", "move_layers", "set_crop", "add_mask", "mask_with",
    "make_paths",
]  # fmt: skip


@pytest.mark.parametrize("kind", HOLDING)
def test_what_is_held_stays_where_it_is(kind: str) -> None:
    for seed in range(EXAMPLES):
        assert stays(FIRST + seed * 7919 + 13, kind) == "", seed
