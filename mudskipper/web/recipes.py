"""Recipes as small moving pictures of the layer they are for, and the cascades that a project keeps."""

from __future__ import annotations

from typing import Annotated, Any

import msgpack
from fastapi import APIRouter, Depends, Query, Response
from pydantic import BaseModel, Field

from ..core.contents.cascade import Cascade
from ..core.document.items_as_layers import item_layer, located
from ..core.edits.recipes import within_preview
from ..core.ground.base_model import Address, Id, Name
from ..core.ground.errors import Refused
from ..core.recipes import RECIPES
from ..core.recipes.cascades import KeptCascade
from ..core.recipes.kept_motion import KeptMotion, motion_of
from ..core.recipes.preview import preview
from ..core.resolve.context import Context
from ..store.store import Store
from .problem_details import binary
from .resolved_message import pack_resolved
from .schemas import store_of

router = APIRouter(prefix="/api", tags=["scenes"])
MOST_FRAME = 1_000_000
KEPT, MOTION = "kept: ", "motion: "
ALONE = [kind for kind in RECIPES if kind.offered and not kind.together]
"""Recipes that move one layer by itself."""


class KeptName(BaseModel):
    """A cascade that a project keeps, under its name."""

    name: Name
    length: Annotated[int, Field(ge=1, le=100_000)]
    cascade: Cascade


class MotionGiven(BaseModel):
    """A layer whose motion is to be kept, and under which name."""

    name: Name
    scene: Id
    layer: Address


@router.get("/projects/{project_id}/cascades")
def cascades(project_id: str, store: Annotated[Store, Depends(store_of)]) -> list[KeptName]:
    """The cascades that a project keeps, by name."""
    found = store.presets.of(project_id, "cascade")
    return [KeptName(name=name, length=one.length, cascade=one.kept) for name, one in found.items()]


@router.put("/projects/{project_id}/cascades")
def keep_cascade(project_id: str, told: KeptName, store: Annotated[Store, Depends(store_of)]) -> list[KeptName]:
    """Keep a cascade; one of the same name is replaced."""
    each = min(round(told.cascade.each), 100_000)
    kept = KeptCascade(name=told.name, length=told.length, each=each, kept=told.cascade)
    store.presets.keep(project_id, "cascade", told.name, kept)
    return cascades(project_id, store)


@router.delete("/projects/{project_id}/cascades/{name}")
def drop_cascade(project_id: str, name: str, store: Annotated[Store, Depends(store_of)]) -> list[KeptName]:
    """Keep a cascade no longer."""
    store.presets.keep(project_id, "cascade", name, None)
    return cascades(project_id, store)


@router.get("/projects/{project_id}/motions")
def motions(project_id: str, store: Annotated[Store, Depends(store_of)]) -> list[KeptMotion]:
    """The motions that a project keeps, by name."""
    return list(store.presets.of(project_id, "motion").values())


@router.put("/projects/{project_id}/motions")
def keep_motion(project_id: str, told: MotionGiven, store: Annotated[Store, Depends(store_of)]) -> list[KeptMotion]:
    """Keep the keyed motion of a layer under a name; one of the same name is replaced."""
    head = store.head(told.scene)
    scene, layer = located(head.scene, told.layer)
    motion = motion_of(layer, scene, Context(scene, store.assets(head.project_id)), told.name)
    store.presets.keep(project_id, "motion", told.name, motion)
    return motions(project_id, store)


@router.delete("/projects/{project_id}/motions/{name}")
def drop_motion(project_id: str, name: str, store: Annotated[Store, Depends(store_of)]) -> list[KeptMotion]:
    """Keep a motion no longer."""
    store.presets.keep(project_id, "motion", name, None)
    return motions(project_id, store)


@router.get(
    "/scenes/{scene_id}/layers/{layer_id:path}/recipes",
    response_class=Response,
    responses=binary("application/vnd.msgpack"),
)
def recipes(
    scene_id: str,
    layer_id: str,
    store: Annotated[Store, Depends(store_of)],
    frame: Annotated[int, Query(ge=0, le=MOST_FRAME)] = 0,
) -> Response:
    """What each recipe, with its numbers as they come, would make of a layer from a frame on, as MessagePack:
    {"items": {recipe: message like that of `resolved`}, "refused": {recipe: sentence}}; so of the cascades that the
    project keeps, by `kept: ` and their names, and of its motions by `motion: `. A shape within a layer is seen in its
    layer."""
    head = store.head(scene_id)
    item_layer(head.scene, layer_id)
    assets = store.assets(head.project_id)
    items: dict[str, bytes] = {}
    refused: dict[str, str] = {}
    known: set[str] = set()
    every: dict[str, Any] = {one.recipe: one for one in (kind.model_validate({}) for kind in ALONE)}
    every |= {f"{KEPT}{name}": one for name, one in store.presets.of(head.project_id, "cascade").items()}
    every |= {f"{MOTION}{name}": one for name, one in store.presets.of(head.project_id, "motion").items()}
    for name, recipe in every.items():
        try:
            within = "/" in layer_id
            seen = (within_preview if within else preview)(head.scene, layer_id, recipe, frame, assets)
            items[name] = pack_resolved(seen, None, known, type="resolved", revision=head.revision)
        except Refused as refusal:
            refused[name] = f"{refusal.sentence} {refusal.mend}".strip()
    packed = msgpack.packb({"type": "recipes", "items": items, "refused": refused})
    return Response(packed, media_type="application/vnd.msgpack")
