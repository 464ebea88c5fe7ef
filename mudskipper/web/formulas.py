"""Formulas for the interface: what may be written in them, what one gives, and what the names in it are."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Depends
from pydantic import BaseModel, Field

from ..core.document.items_as_layers import item_layer
from ..core.edits.formula_trial import tried, values_of
from ..core.formulas.problem import FormulaProblem
from ..core.formulas.ready import READY
from ..core.formulas.table import TABLE
from ..core.formulas.texts import Texts
from ..core.geometry.bezier import Floats
from ..core.resolve.formulas.scope import slugs
from ..store.store import Store
from .schemas import store_of

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]
MOST_LAYERS = 200


class NameFacts(BaseModel):
    """A name that formulas may use."""

    name: str
    written: str
    unit: str
    sentence: str
    example: str
    function: bool


class ReadyField(BaseModel):
    """A number of a ready formula: `{name}` stands for it in the text."""

    name: str
    label: str
    unit: str
    value: float


class ReadyForm(BaseModel):
    """A ready formula; besides its fields `{layer}` and `{property}` stand in it for what is chosen."""

    text: str
    fields: list[ReadyField]


class ReadyFacts(BaseModel):
    """A need, and the formulas that meet it: of one number, of a pair, of a text; None where there is none."""

    need: str
    number: ReadyForm | None
    pair: ReadyForm | None
    text: ReadyForm | None


class FormulaNames(BaseModel):
    """All that may be written in formulas."""

    names: list[NameFacts]
    ready: list[ReadyFacts]


class FormulaPlace(BaseModel):
    """A property of a layer or an item, and a scene frame."""

    layer: Annotated[str, Field(max_length=300)]
    property: Annotated[str, Field(max_length=100)]
    frame: Annotated[float, Field(ge=-1e6, le=1e6)] = 0.0


class FormulaRequest(FormulaPlace):
    """A formula that is being written."""

    text: Annotated[str, Field(max_length=20_000)]


class FormulaAnswer(BaseModel):
    """What a formula gives at the frame, and without it; both over the layer's span from the frame `first` on, every
    `every` frames; what is wrong with it, and what looks wrong. Of a text there is `text` in place of numbers."""

    value: list[float]
    base: list[float]
    text: str | None
    first: int
    every: int
    plot: list[list[float]]
    plain: list[list[float]]
    problem: FormulaProblem | None
    hints: list[FormulaProblem]


class ValuesRequest(FormulaPlace):
    """Texts whose values are asked for where a formula stands."""

    texts: Annotated[list[Annotated[str, Field(max_length=2_000)]], Field(max_length=100)]


class LayerNames(BaseModel):
    """A layer's name, and the paths of its properties by their names in formulas."""

    id: str
    name: str
    sounds: bool
    properties: dict[str, str]


@router.get("/formulas")
def formulas() -> FormulaNames:
    """The names that formulas may use, and ready formulas."""
    names = [
        NameFacts(name=one.name, written=one.written, unit=one.unit, sentence=one.sentence, example=one.example,
                  function=one.is_function)
        for one in TABLE.values()
    ]  # fmt: skip
    return FormulaNames(names=names, ready=[ReadyFacts.model_validate(one.as_document()) for one in READY])


@router.post("/scenes/{scene_id}/formula")
def formula(scene_id: str, request: FormulaRequest, store: Kept) -> FormulaAnswer:
    """What a formula would give, and what is wrong with it; nothing is stored."""
    head = store.head(scene_id)
    item_layer(head.scene, request.layer)
    assets = store.assets(head.project_id)
    found = tried(head.scene, assets, request.layer, request.property, request.text[:2_000], request.frame)
    words = found.text
    numbers = words is None and found.values.shape[1] > 0
    every = max(int(found.frames[1] - found.frames[0]), 1) if len(found.frames) > 2 else 1
    return FormulaAnswer(
        value=found.values[-1].tolist() if numbers else [], base=found.base[-1].tolist() if numbers else [],
        text=words, first=int(found.frames[0]), every=every,
        plot=found.values[:-1].tolist() if numbers else [], plain=found.base[:-1].tolist() if numbers else [],
        problem=found.problem, hints=list(found.hints),
    )  # fmt: skip


@router.post("/scenes/{scene_id}/formula/values")
def formula_values(scene_id: str, request: ValuesRequest, store: Kept) -> list[str | None]:
    """What texts give at the frame where a formula stands, as they are written in formulas; null where nothing."""
    head = store.head(scene_id)
    item_layer(head.scene, request.layer)
    assets = store.assets(head.project_id)
    found = values_of(head.scene, assets, request.layer, request.property, request.texts, request.frame)
    return [None if one is None else _written(one) for one in found]


@router.get("/scenes/{scene_id}/formula/layers")
def formula_layers(scene_id: str, store: Kept) -> list[LayerNames]:
    """The layers that a formula of the scene may read, and the names of their properties; the first 200."""
    head = store.head(scene_id)
    assets = store.assets(head.project_id)
    return [
        LayerNames(id=layer.id, name=layer.name, sounds=layer.content.sound_of(assets) is not None,
                   properties=slugs(layer))
        for layer in head.scene.layers[:MOST_LAYERS]
    ]  # fmt: skip


def _written(value: Floats | Texts) -> str:
    """A value as it is written in formulas."""
    if isinstance(value, Texts):
        return f'"{value.rows[0]}"'
    row = np.atleast_2d(value)[0]
    if len(row) == 4:
        return "#" + "".join(f"{round(min(max(part, 0), 255)):02x}" for part in row)
    words = [f"{round(number, 3):g}" if abs(number) < 1e6 else f"{number:.4g}" for number in row.tolist()]
    return words[0] if len(words) == 1 else f"({', '.join(words)})"
