"""Several layers at once: names with numbers, words in texts, spans."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.resolved import resolve
from tests.conftest import layer, scene

EDIT: TypeAdapter[Any] = TypeAdapter(AnyEdit)


def text(name: str, words: str) -> dict[str, Any]:
    return layer(name, content={"kind": "text", "text": words})


READS = 'scene["Bar 1"].rotation * 2 + scene["A"].opacity'
MADE = scene(
    layer("A", span={"start": 3, "length": 10}),
    layer("Bar 1", id="bar1", rotation={"rest": 12}, span={"start": 7, "length": 20}),
    layer("B", rotation={"rest": 0, "formula": READS}), text("T", "Low tide, low light"), text("U", "High lowland"),
)  # fmt: skip


def edited(made: Scene = MADE, **edit: Any) -> Scene:
    after = apply_edits(made, [EDIT.validate_python(edit)], NO_MEDIA).scene
    assert Scene.model_validate_json(after.to_json()) == after
    return after


def names(made: Scene) -> list[str]:
    return [one.name for one in made.layers]


def test_layers_are_named_with_numbers_and_formulas_follow() -> None:
    """In the order given; what one takes from another is no mix-up, and what reads them goes on reading them."""
    ids = [MADE.layers[i].id for i in (0, 1)]
    before = resolve(MADE, [5], NO_MEDIA).layers["b"].values["rotation"]
    after = edited(edit="rename_layers", layers=ids, name="Bar {n}")
    assert names(after) == ["Bar 1", "Bar 2", "B", "T", "U"]
    assert np.array_equal(resolve(after, [5], NO_MEDIA).layers["b"].values["rotation"], before)
    assert names(edited(edit="rename_layers", layers=ids[::-1], name="B")) == ["B 3", "B 2", "B", "T", "U"]
    assert [len(name) for name in names(edited(edit="rename_layers", layers=ids, name="x" * 117 + "{n}"))[:2]] == [
        118,
        118,
    ]


@pytest.mark.parametrize(("find", "to", "any_case", "words"), [
    ("low", "high", False, ["Low tide, high light", "High highland"]),
    ("low", "ebb", True, ["ebb tide, ebb light", "High ebbland"]),
    ("light", "", False, ["Low tide, low ", "High lowland"]),
    (".", "x", True, None),
])  # fmt: skip
def test_words_are_replaced_in_all_texts(find: str, to: str, any_case: bool, words: list[str] | None) -> None:
    edit = {"edit": "replace_words", "layers": ["a", "t", "u"], "find": find, "to": to, "any_case": any_case}
    if words is None:
        with pytest.raises(Refused, match=r"No text of these layers has “\."):
            edited(**edit)
    else:
        contents: list[Any] = [one.content for one in edited(**edit).layers[3:]]
        assert [one.text for one in contents] == words


@pytest.mark.parametrize(("given", "spans"), [
    ({"start": "10"}, [(10, 10), (10, 20)]), ({"start": "+2"}, [(5, 10), (9, 20)]),
    ({"start": "0:05"}, [(5, 10), (5, 20)]), ({"length": "-5"}, [(3, 5), (7, 15)]),
    ({"start": "-3", "length": "1:00"}, [(0, 30), (4, 30)]),
])  # fmt: skip
def test_spans_are_typed_for_all_or_go_on_from_their_own(given: dict[str, str], spans: list[tuple[int, int]]) -> None:
    ids = [MADE.layers[i].id for i in (0, 1)]
    after = edited(edit="set_spans", layers=ids, **given)
    assert [(one.span.start, one.span.length) for one in after.layers[:2]] == spans


@pytest.mark.parametrize(("given", "sentence"), [
    ({"start": "soon"}, "is no time"), ({"length": "-15"}, "'A' would be there for -5 frames"), ({}, "Neither"),
    ({"start": "99999999999"}, "Span"),
])  # fmt: skip
def test_spans_that_cannot_be_are_refused(given: dict[str, str], sentence: str) -> None:
    with pytest.raises(Refused, match=sentence):
        edited(edit="set_spans", layers=[MADE.layers[i].id for i in (0, 1)], **given)
