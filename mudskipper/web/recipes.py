"""Recipes as small moving pictures of the layer they are for."""

from __future__ import annotations

from typing import Annotated, Any

import msgpack
from fastapi import APIRouter, Depends, Query, Response

from ..core.document.items_as_layers import item_layer
from ..core.edits.recipes import within_preview
from ..core.ground.errors import Refused
from ..core.recipes import RECIPES
from ..core.recipes.preview import preview
from ..store.store import Store
from .problem_details import binary
from .resolved_message import pack_resolved
from .schemas import store_of

router = APIRouter(prefix="/api/scenes/{scene_id}/layers/{layer_id:path}/recipes", tags=["scenes"])
MOST_FRAME = 1_000_000


@router.get("", response_class=Response, responses=binary("application/vnd.msgpack"))
def recipes(
    scene_id: str,
    layer_id: str,
    store: Annotated[Store, Depends(store_of)],
    frame: Annotated[int, Query(ge=0, le=MOST_FRAME)] = 0,
) -> Response:
    """What each recipe, with its numbers as they come, would make of a layer from a frame on, as MessagePack:
    {"items": {recipe: message like that of `resolved`}, "refused": {recipe: sentence}}. A shape within a layer is seen
    in its layer."""
    head = store.head(scene_id)
    item_layer(head.scene, layer_id)
    assets = store.assets(head.project_id)
    items: dict[str, bytes] = {}
    refused: dict[str, str] = {}
    known: set[str] = set()
    for kind in RECIPES:
        recipe: Any = kind.model_validate({})
        try:
            within = "/" in layer_id
            seen = (within_preview if within else preview)(head.scene, layer_id, recipe, frame, assets)
            items[recipe.recipe] = pack_resolved(seen, None, known, type="resolved", revision=head.revision)
        except Refused as refusal:
            refused[recipe.recipe] = f"{refusal.sentence} {refusal.mend}".strip()
    packed = msgpack.packb({"type": "recipes", "items": items, "refused": refused})
    return Response(packed, media_type="application/vnd.msgpack")
