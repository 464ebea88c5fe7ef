"""What the live line answers while a hand moves, held against what the same edits give once they are kept."""

from __future__ import annotations

import json
from base64 import b64decode
from pathlib import Path
from typing import Any

import msgpack
import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.resolve.context import Context, TrackMemo
from mudskipper.core.resolve.resolved import resolve
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from mudskipper.web.live import answer
from mudskipper.web.resolved_message import pack_resolved
from tests.conftest import layer, scene
from tests.core.test_edits import EDIT
from tests.web.conftest import HOST


def moving(rate: tuple[int, int] = (24, 1)) -> Scene:
    """Two layers in motion, one of them on twos by the second, and a text with a keyed size."""
    keyed = {"rest": [10, 10], "keys": [{"frame": 0, "value": [10, 10]}, {"frame": 40, "value": [600, 300]}]}
    swing = {
        "rest": 0,
        "keys": [{"frame": 0, "value": -40}, {"frame": 50, "value": 90, "ease": {"overshoot": 20}}],
        "cadence": {"per_second": 8},
    }
    grows = {"rest": 40, "keys": [{"frame": 0, "value": 20}, {"frame": 30, "value": 60}]}
    words = {"kind": "text", "text": "Low Tide", "font": {"family": "Figtree", "weight": 500}, "size": grows}
    return scene(
        layer("A", position=keyed, rotation=swing), layer("B", position=[100, 100], scale=keyed),
        layer("C", content=words, rotation=swing), frame_rate=rate,
    )  # fmt: skip


EDITS: st.SearchStrategy[dict[str, Any]] = st.one_of(
    st.tuples(st.sampled_from([["a"], ["b"], ["a", "c"], ["a", "b", "c"]]), st.integers(-90, 90)).map(
        lambda told: {"edit": "move_layers", "layers": told[0], "frame": 20, "by": [told[1], 7]}
    ),
    st.tuples(st.sampled_from("abc"), st.integers(-200, 200)).map(
        lambda told: {"edit": "set_property", "layer": told[0], "property": "rotation", "frame": 12, "value": told[1]}
    ),
    st.sampled_from(["left", "centre", "top right"]).map(
        lambda name: {"edit": "move_anchor", "layer": "a", "frame": 9, "to": {"station": name}, "scope": "every key"}
    ),
    st.integers(-10, 20).map(lambda start: {"edit": "move_span", "layer": "b", "start": start}),
)
WINDOWS = st.sampled_from([(0, 60), (0, 60), (20, 45), (59, 60)])


@pytest.mark.parametrize("rate", [(24, 1), (30000, 1001)])
@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(trials=st.lists(st.tuples(EDITS, WINDOWS), min_size=1, max_size=6))
def test_what_is_tried_is_what_will_be_kept(
    tmp_path: Path, rate: tuple[int, int], trials: list[tuple[dict[str, Any], tuple[int, int]]]
) -> None:
    """One after another on one line: each answer holds the very arrays that the edit gives in the store."""
    store = Store(tmp_path)
    project = store.make_project("Test")
    made = store.make_scene(project, moving(rate)).scene
    known, memo = set[str](), TrackMemo()
    for number, (edit, (first, stop)) in enumerate(trials):
        text = json.dumps({"seq": number, "first": first, "stop": stop, "edits": [edit]})
        told = msgpack.unpackb(answer(store, made.id, text, known, memo))
        assert told["type"] == "tried", told
        copy = store.make_scene(project, made)
        head, outcome, _ = store.apply(copy.scene.id, [EDIT.validate_python(edit)])
        whole = resolve(head.scene, np.arange(first, stop, dtype=float), NO_MEDIA)
        kept = msgpack.unpackb(pack_resolved(whole, set(outcome.changed), set(), revision=0))
        assert told["layers"] == kept["layers"]
        assert told["order"] == kept["order"]
        assert store.head(made.id).scene == made


def test_a_memo_keeps_only_the_last_answer() -> None:
    """It does not grow with what was tried, and other times or another rate are computed again."""
    memo, made = TrackMemo(), moving()
    tracks = [one.rotation for one in made.layers]
    times = [np.arange(60.0)] * 3
    first = memo.evaluate(tracks, times, 24)
    assert all(a is b for a, b in zip(first, memo.evaluate(tracks, times, 24), strict=True))
    slower = memo.evaluate(tracks[:1], times[:1], 12)
    assert (slower[0] != first[0]).any()
    assert memo.evaluate(tracks, times, 24)[1] is not first[1]
    assert (memo.evaluate(tracks, times, 24)[1] == first[1]).all()
    later = memo.evaluate(tracks, [at + 10 for at in times], 24)
    assert (later[0][:50] == first[0][10:]).all()


@pytest.mark.parametrize("nested", [False, True])
def test_what_was_tried_is_not_worked_out_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, nested: bool) -> None:
    """By the edit that keeps it, whose arrays are those of the trial, to the byte what resolving afresh gives; after
    another edit, or where other scenes are shown, which may have changed, it is."""
    store = Store(tmp_path)
    project = store.make_project("Test")
    inner = store.make_scene(project, scene(layer(), id="aa", width=80, height=45)).scene
    shown = layer("Shown", content={"kind": "scene", "asset": inner.id}) if nested else layer("Plain")
    made = store.make_scene(project, moving().model_copy(update={"layers": (*moving().layers, *scene(shown).layers)}))
    applied, resolved = [], []
    real = apply_edits
    monkeypatch.setattr("mudskipper.store.store.apply_edits", lambda *given: applied.append(1) or real(*given))
    placed = Context.resolve

    def counted(self: Context, layers: Any, frames: Any) -> Any:
        resolved.extend(one.id for one in layers if self.is_own(one))
        return placed(self, layers, frames)

    url = f"/api/scenes/{made.scene.id}"
    turn = {"edit": "set_property", "layer": "a", "property": "rotation", "frame": 12}
    with TestClient(create_app(store), base_url=HOST) as client:

        def trial(value: float) -> None:
            told = {"seq": 1, "first": 0, "stop": 60, "edits": [turn | {"value": value}]}
            assert (
                msgpack.unpackb(answer(store, made.scene.id, json.dumps(told), set(), TrackMemo()))["type"] == "tried"
            )

        def kept(value: float) -> tuple[int, list[str]]:
            """How often edits were applied, and which layers were resolved, for the answer; which is true."""
            applied.clear(), resolved.clear()
            window = {"known": store.head(made.scene.id).revision, "first": 0, "stop": 60}
            monkeypatch.setattr(Context, "resolve", counted)
            body = client.post(f"{url}/edits", json={"edits": [turn | {"value": value}], "window": window}).json()
            monkeypatch.setattr(Context, "resolve", placed)
            counts = len(applied), list(resolved)
            head = store.head(made.scene.id)
            afresh = resolve(head.scene, np.arange(60.0), store.assets(project))
            wanted = pack_resolved(afresh, {"a"}, set(), speeds=False, type="resolved", revision=head.revision)
            assert b64decode(body["arrays"]) == wanted
            return counts

        kept(1)  # the window's other layers are known from here on
        trial(5)
        applies, worked = kept(5)
        assert (applies, "a" in worked) == ((1, True) if nested else (0, False))
        trial(7)
        assert kept(8)[0] == 1
        trial(9)
        kept(2)
        assert kept(9)[0] == 1
        client.post(f"{url}/undo")
        trial(20)
        client.post(f"{url}/undo")
        assert kept(20)[0] == 1
