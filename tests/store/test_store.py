"""The store: nothing acknowledged is lost, and every step can be taken back."""

from __future__ import annotations

import gc
import sqlite3
import weakref
import zlib
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from mudskipper.bench import storing
from mudskipper.core.document.read import read_written
from mudskipper.core.ground.errors import Refused
from mudskipper.demo.low_tide_week import fill_store
from mudskipper.store.faults import Gone
from mudskipper.store.packing import LONG, packed, unpacked
from mudskipper.store.store import Store
from mudskipper.store.tables import MIGRATIONS, SceneRow
from tests.conftest import layer, scene
from tests.core.test_edits import EDIT

EDITS: st.SearchStrategy[dict[str, Any]] = st.one_of(
    st.floats(-900, 900).map(
        lambda n: {"edit": "set_property", "layer": "a", "property": "rotation", "frame": 3, "value": n}
    ),
    st.integers(0, 59).map(lambda f: {"edit": "start_keying", "layer": "b", "property": "scale", "frame": f}),
    st.integers(0, 59).map(lambda f: {"edit": "stop_keying", "layer": "b", "property": "scale", "frame": f}),
    st.sampled_from(["left", "top", "centre"]).map(
        lambda s: {"edit": "move_anchor", "layer": "a", "frame": 9, "to": {"station": s}, "scope": "throughout"}
    ),
    st.integers(-20, 20).map(lambda n: {"edit": "move_span", "layer": "b", "start": n}),
    st.integers(0, 3).map(lambda n: {"edit": "reorder_layer", "layer": "a", "to": n}),
    st.just({"edit": "duplicate_layers", "layers": ["b"]}),
    st.just({"edit": "apply_recipe", "layers": ["a"], "frame": 20, "recipe": {"recipe": "impact"}}),
    st.sampled_from([[24, 1], [25, 1], [30000, 1001]]).map(lambda rate: {"edit": "set_scene", "frame_rate": rate}),
)


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(edits=st.lists(EDITS, min_size=1, max_size=8))
def test_every_step_is_taken_back_and_done_again(tmp_path: Path, edits: list[dict[str, Any]]) -> None:
    """Undo to the start and redo to the end give the very same documents, also to a store opened afresh."""
    store = Store(tmp_path)
    made = store.make_scene(store.make_project("Test"), scene(layer("A"), layer("B")))
    states = [made.scene]
    for edit in edits:
        try:
            head, *_ = store.apply(made.scene.id, [EDIT.validate_python(edit)])
        except Refused:
            head = store.head(made.scene.id)
            assert head.scene == states[-1]
        if head.scene != states[-1]:
            states.append(head.scene)
    for state in reversed(states[:-1]):
        assert store.undo(made.scene.id).scene == state
    with pytest.raises(Refused, match="nothing left to undo"):
        store.undo(made.scene.id)
    fresh = Store(tmp_path)
    for state in states[1:]:
        assert fresh.redo(made.scene.id).scene == state
    with pytest.raises(Refused, match="nothing to redo"):
        fresh.redo(made.scene.id)


def test_a_list_of_edits_is_all_or_nothing(tmp_path: Path) -> None:
    store = Store(tmp_path)
    made = store.make_scene(store.make_project("Test"), scene(layer("A")))
    good = EDIT.validate_python({"edit": "rename_layer", "layer": "a", "name": "Kept?"})
    bad = EDIT.validate_python({"edit": "rename_layer", "layer": "ghost", "name": "Never"})
    with pytest.raises(Refused):
        store.apply(made.scene.id, [good, bad])
    assert store.head(made.scene.id) == made


def test_the_demo_is_put_in_once(tmp_path: Path) -> None:
    for _ in range(2):
        store = Store(tmp_path)
        fill_store(store)
    ((project, scenes),) = store.projects()
    assert (project.name, [one.name for one in scenes]) == (
        "Low Tide Week",
        [
            "Opener",
            "Tide gauge",
            "Bird race",
            "Shore crab",
            "Harbour window",
            "Lower third",
            "Harbour at dusk",
            "Welcome board",
            "Festival poster",
            "Festival titles",
            "Speakers",
        ],
    )
    with pytest.raises(Gone, match="This scene is not there"):
        store.head("ghost")


def test_tables_carry_their_version(tmp_path: Path) -> None:
    """Safe settings on every connection; tables of a later version are left alone, and it is said."""
    Store(tmp_path)
    with sqlite3.connect(tmp_path / "mudskipper.sqlite3") as database:
        assert database.execute("PRAGMA user_version").fetchone() == (len(MIGRATIONS),)
        assert database.execute("PRAGMA journal_mode").fetchone() == ("wal",)
        database.execute("PRAGMA user_version = 99")
    with pytest.raises(SystemExit, match="written by a later Mudskipper"):
        Store(tmp_path)


def test_a_removed_scene_is_not_shown_and_comes_back_with_the_step_that_shows_it(tmp_path: Path) -> None:
    store = Store(tmp_path)
    project = store.make_project("P")
    outer, inner = (store.make_scene(project, scene(id=name, name=name.title())).scene.id for name in ("out", "in"))
    show = EDIT.validate_python({"edit": "add_layer", "content": {"kind": "scene", "asset": inner}})
    store.apply(outer, [show])
    with pytest.raises(Refused, match="is shown in 'Out'"):
        store.set_removed(SceneRow, inner, removed=True)
    store.undo(outer)
    store.set_removed(SceneRow, inner, removed=True)
    with pytest.raises(Refused, match="'In' was removed"):
        store.apply(outer, [show])
    assert len(store.redo(outer).scene.layers) == 1
    assert [row.name for _, rows in store.projects() for row in rows] == ["Out", "In"]


def test_what_was_put_into_a_scene_is_known_to_show_what_it_does(tmp_path: Path) -> None:
    """Steps that are redone are asked, too, by scenes that were made and never opened."""
    store = Store(tmp_path)
    project = store.make_project("P")
    outer, inner = (store.make_scene(project, scene(id=name, name=name.title())).scene.id for name in ("out", "in"))

    def show(asset: str, name: str) -> Any:
        return EDIT.validate_python({"edit": "add_layer", "id": name, "content": {"kind": "scene", "asset": asset}})

    store.apply(outer, [show(inner, "a")])
    put = {"edit": "put_into_scene", "layers": ["a"], "name": "Strip", "scene": "strip"}
    store.apply(inner, [show(store.make_scene(project, scene(id="leaf", name="Leaf")).scene.id, "l")])
    store.apply(outer, [EDIT.validate_python(put)])
    assert store._shown.of(project)["strip"].scenes == {inner}
    with pytest.raises(Refused, match="show each other in a circle: 'In' shows 'Strip'"):
        store.apply(inner, [show("strip", "b")])


def test_an_inner_scene_grows_only_as_far_as_those_that_show_it_can_be_painted(tmp_path: Path) -> None:
    """Also where they show it by way of another; what lies within it costs as often as it is shown."""
    store = Store(tmp_path)
    project = store.make_project("P")
    names = [store.make_scene(project, scene(id=f"s{n}", name=f"S{n}")).scene.id for n in range(6)]
    for inner, outer in pairwise(names):
        layers = [EDIT.validate_python({"edit": "add_layer", "content": {"kind": "scene", "asset": inner}})] * 4
        more = [one.model_copy(update={"id": f"l{n}"}) for n, one in enumerate(layers)]
        store.apply(outer, more)
    grow = {"edit": "add_layer", "content": {"kind": "text", "text": "Tide"}}
    with pytest.raises(Refused, match="'S5' would draw 5,456 layers"):
        store.apply(names[0], [EDIT.validate_python({**grow, "id": f"t{n}"}) for n in range(4)])
    assert len(store.apply(names[0], [EDIT.validate_python(grow)])[0].scene.layers) == 1


def test_a_long_document_is_packed_in_groups_and_comes_back_as_it_was() -> None:
    """Whatever was changed in it: a layer in a group, their order, their number."""
    made = scene(*(layer(f"L{number}") for number in range(LONG + 3)))
    texts = []
    for changed in (
        made,
        made.with_layer(made.layers[70].model_copy(update={"name": "Surf"})),
        made.with_layers((*made.layers[1:], made.layers[0])),
        made.with_layers(made.layers[:-1]),
        made.with_layers(made.layers[: LONG - 1]),
        made,
    ):
        texts.append(packed(changed))
        assert unpacked(texts[-1]) == changed.to_json().encode()
        assert read_written(unpacked(texts[-1]).decode()) == changed
    assert texts[0] == texts[-1]
    with pytest.raises(zlib.error):
        unpacked(texts[0][:-9])


def test_a_long_document_goes_when_nobody_needs_it() -> None:
    """Its objects are left out of searches for garbage, so that no layers may keep each other in a ring."""
    made = scene(*(layer(f"L{number}") for number in range(LONG)))
    gone = [weakref.ref(one) for one in made.layers]
    gc.disable()
    try:
        packed(made)
        packed(made.with_layers((*made.layers[9:], *made.layers[:9])))
        del made
        assert not any(one() for one in gone)
    finally:
        gc.enable()


def test_what_the_bench_stores_can_be_stored(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(storing, "REVISIONS", 5)
    monkeypatch.setattr(storing, "LAYERS", 3)
    long = storing._long_history(tmp_path / "long")
    assert len(Store(tmp_path / "long").history(long, 0, 9)[0]) == 6
    large = storing._large_document(tmp_path / "large")
    assert len(Store(tmp_path / "large").head(large).scene.layers) == 3
