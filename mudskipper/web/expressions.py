"""Formulas for the interface: what may be written in them, and what one gives."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Depends
from pydantic import BaseModel, Field

from ..core.edits.expressions import SetExpression
from ..core.expressions.problem import FormulaProblem
from ..core.expressions.ready import READY
from ..core.expressions.table import TABLE
from ..core.formula_scope import slugs
from ..core.inside import item_layer
from ..core.items_resolved import items_resolved
from ..core.properties import track_of
from ..core.resolve import resolve
from ..store.store import Store
from .schemas import store_of

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]
MOST_POINTS = 240


class NameFacts(BaseModel):
    """A name that formulas may use."""

    name: str
    written: str
    unit: str
    sentence: str
    example: str
    function: bool


class ReadyFacts(BaseModel):
    """A ready formula; `{layer}` and `{property}` stand in it for what is chosen."""

    need: str
    number: str
    pair: str


class ExpressionFacts(BaseModel):
    """All that may be written in formulas."""

    names: list[NameFacts]
    ready: list[ReadyFacts]


class FormulaRequest(BaseModel):
    """A formula that is being written, of a property of a layer."""

    layer: Annotated[str, Field(max_length=300)]
    property: Annotated[str, Field(max_length=100)]
    text: Annotated[str, Field(max_length=20_000)]
    frame: Annotated[float, Field(ge=-1e6, le=1e6)] = 0.0


class FormulaAnswer(BaseModel):
    """What a formula gives at the frame, and without it; both over the layer's span from the frame `first` on, every
    `every` frames; what is wrong with it; and the names of the properties of each layer."""

    value: list[float]
    base: list[float]
    first: int
    every: int
    plot: list[list[float]]
    plain: list[list[float]]
    problem: FormulaProblem | None
    layers: dict[str, list[str]]


@router.get("/expressions")
def expressions() -> ExpressionFacts:
    """The names that formulas may use, and ready formulas."""
    names = [
        NameFacts(name=one.name, written=one.written, unit=one.unit, sentence=one.sentence, example=one.example,
                  function=one.is_function)
        for one in TABLE.values()
    ]  # fmt: skip
    return ExpressionFacts(names=names, ready=[ReadyFacts(**vars(one)) for one in READY])


@router.post("/scenes/{scene_id}/formula")
def formula(scene_id: str, request: FormulaRequest, store: Kept) -> FormulaAnswer:
    """What a formula would give, and what is wrong with it; nothing is stored."""
    head = store.head(scene_id)
    assets = store.assets(head.project_id)
    track_of(item_layer(head.scene, request.layer), request.property)
    texts: list[str | None] = [None, request.text if request.text.strip() else None]
    outer = request.layer.split("/")[0]
    span = head.scene.layer(outer).span
    every = max(span.length // MOST_POINTS, 1)
    frames = np.concatenate([np.arange(span.start, span.end, every, dtype=np.float64), [request.frame]])
    values, problem = [], None
    for text in texts:
        edit = SetExpression(layer=request.layer, property=request.property, text=(text or "")[:2_000])
        after = store.try_edits(scene_id, [edit]).scene
        found = resolve(after, frames, assets, ids=[outer])
        one = found.layers[outer]
        if "/" in request.layer:
            one = items_resolved(one, found.context.around(one.layer, frames)).get(request.layer, one)
        array = one.values[request.property]
        values.append(np.broadcast_to(array, (len(frames), array.shape[1])))
        if text is not None:
            wrong = found.layers[outer].problems
            named = found.layers[outer].layer.formulas
            problem = next((told for path, told in wrong.items() if named.get(path) == edit.text.strip("\n")), None)
    base, given = values
    return FormulaAnswer(
        value=given[-1].tolist(), base=base[-1].tolist(), first=span.start, every=every, plot=given[:-1].tolist(),
        plain=base[:-1].tolist(), problem=problem,
        layers={layer.name: list(slugs(layer)) for layer in head.scene.layers[:200]},
    )  # fmt: skip
