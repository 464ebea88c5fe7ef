"""The history as a tree, against a model of it: whatever is edited, undone, gone to and opened afresh."""

from __future__ import annotations

import shutil
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, precondition, rule

from mudskipper.core.document.scene import Scene
from mudskipper.core.ground.errors import Refused
from mudskipper.store.faults import Gone
from mudskipper.store.store import Store
from mudskipper.store.tables import SceneRow
from tests.conftest import layer, scene
from tests.core.test_edits import EDIT
from tests.store.test_store import EDITS


class History(RuleBasedStateMachine):
    """A store beside a plain tree of documents; every rule does the same to both."""

    @initialize()
    def begin(self) -> None:
        self.folder = Path(tempfile.mkdtemp())
        self.store = Store(self.folder)
        self.project = self.store.make_project("Test")
        head = self.store.make_scene(self.project, scene(layer("A"), layer("B")))
        other = self.store.make_scene(self.project, scene(layer("C")))
        self.scene, self.other = head.scene.id, other
        self.head = head.revision
        self.documents: dict[int, Scene] = {head.revision: head.scene}
        self.parents: dict[int, int | None] = {head.revision: None}
        self.tokens: dict[str, int] = {}

    def teardown(self) -> None:
        if hasattr(self, "folder"):
            shutil.rmtree(self.folder)

    def child(self) -> int | None:
        """What redo takes: the newest made from here."""
        return max((n for n, parent in self.parents.items() if parent == self.head), default=None)

    @rule(edits=st.lists(EDITS, min_size=1, max_size=3), token=st.sampled_from([None, "a", "b", "c"]))
    def edit(self, edits: list[dict[str, Any]], token: str | None) -> None:
        """All of them as one step, or none; a token that was used before does nothing more."""
        again = token in self.tokens
        try:
            head, *_ = self.store.apply(self.scene, [EDIT.validate_python(one) for one in edits], token)
        except Refused:
            return
        if again or head.revision == self.head:
            assert head.revision == self.head
            return
        assert head.revision > max(self.documents)
        self.documents[head.revision], self.parents[head.revision] = head.scene, self.head
        self.head = head.revision
        if token:
            self.tokens[token] = head.revision

    @rule()
    def undo(self) -> None:
        parent = self.parents[self.head]
        if parent is None:
            with pytest.raises(Refused, match="nothing left to undo"):
                self.store.undo(self.scene)
        else:
            self.head = self.store.undo(self.scene).revision
            assert self.head == parent

    @rule()
    def redo(self) -> None:
        child = self.child()
        if child is None:
            with pytest.raises(Refused, match="nothing to redo"):
                self.store.redo(self.scene)
        else:
            self.head = self.store.redo(self.scene).revision
            assert self.head == child

    @rule(data=st.data())
    def go_to(self, data: st.DataObject) -> None:
        """To any step that ever was, also one that a later edit left beside the line."""
        goal = data.draw(st.sampled_from(sorted(self.documents)))
        self.head = self.store.go_to(self.scene, goal).revision
        assert self.head == goal

    @rule()
    def go_astray(self) -> None:
        """A step of another scene, or of none, is refused, and nothing moves."""
        for wrong in (self.other.revision, 10_000):
            with pytest.raises(Gone):
                self.store.go_to(self.scene, wrong)

    @rule()
    def open_afresh(self) -> None:
        """As after a crash: nothing but what is on the disk."""
        self.store = Store(self.folder)

    @precondition(lambda self: len(self.documents) > 1)
    @rule(removed=st.booleans())
    def put_away(self, removed: bool) -> None:
        """Out of the lists and back: its history is not touched."""
        self.store.set_removed(SceneRow, self.scene, removed)
        listed = [one.id for _, scenes in self.store.projects() for one in scenes]
        assert (self.scene in listed) is not removed

    @invariant()
    def as_the_model_has_it(self) -> None:
        if not hasattr(self, "store"):
            return
        head = self.store.head(self.scene)
        assert head.revision == self.head
        assert head.scene == self.documents[self.head]
        assert (head.undo_words is None) is (self.parents[self.head] is None)
        assert (head.redo_words is None) is (self.child() is None)
        line, at = [self.head], self.parents[self.head]
        while at is not None:
            line.insert(0, at)
            at = self.parents[at]
        told, *_ = self.store.history(self.scene)
        assert [step.revision for step in told][: len(line)] == line
        assert [step.revision for step in told if step.here] == [self.head]
        assert self.store.head(self.other.scene.id).scene == self.other.scene


History.TestCase.settings = settings(max_examples=15, stateful_step_count=20, deadline=None)
test_any_way_through_the_history = History.TestCase


def test_many_hands_at_once_lose_nothing(tmp_path: Path) -> None:
    """Eight threads edit one scene: every edit is a step of its own, and none is overwritten by another's."""
    store = Store(tmp_path)
    names = [f"L{n}" for n in range(8)]
    made = store.make_scene(store.make_project("Test"), scene(*(layer(name) for name in names)))

    def work(name: str) -> None:
        for value in range(1, 9):
            told = {"edit": "set_property", "layer": name.lower(), "property": "rotation", "frame": 0, "value": value}
            store.apply(made.scene.id, [EDIT.validate_python(told)])

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(work, names))
    head = Store(tmp_path).head(made.scene.id)
    assert [one.rotation.rest for one in head.scene.layers] == [8] * 8
    steps, *_ = store.history(made.scene.id)
    assert len(steps) == 65
    seen = {name.lower(): 0.0 for name in names}
    for step in steps[1:]:
        kept = store.revision(made.scene.id, step.revision)
        changed = {one.id: one.rotation.rest for one in kept.layers if one.rotation.rest != seen[one.id]}
        assert len(changed) == 1
        (who, value), *_ = changed.items()
        assert value == seen[who] + 1
        seen |= changed
