"""Effects as small pictures of the layer they are for, and the looks that a project keeps."""

from __future__ import annotations

from typing import Annotated

import msgpack
import numpy as np
from fastapi import APIRouter, Depends, Query, Response
from pydantic import BaseModel, Field

from ..core.document.items_as_layers import item_layer
from ..core.edits import apply_edits
from ..core.edits.effects import AddEffect, PasteEffects
from ..core.effects import EFFECTS, Effect, Effects
from ..core.ground.base_model import Name
from ..core.ground.errors import Refused
from ..core.resolve.resolved import resolve
from ..store.store import Store
from .problem_details import binary
from .resolved_message import pack_resolved
from .schemas import store_of

router = APIRouter(prefix="/api", tags=["scenes"])
Kept = Annotated[Store, Depends(store_of)]
MOST_FRAME = 1_000_000
LOOK = "look: "


class Look(BaseModel):
    """Effects that a project keeps together, under a name."""

    name: Name
    effects: Annotated[Effects, Field(min_length=1)]


@router.get(
    "/scenes/{scene_id}/layers/{layer_id:path}/effects", response_class=Response,
    responses=binary("application/vnd.msgpack"),
)  # fmt: skip
def effects(
    scene_id: str, layer_id: str, store: Kept, frame: Annotated[int, Query(ge=0, le=MOST_FRAME)] = 0
) -> Response:
    """What each effect, with its numbers as they come, would make of a layer at a frame, as MessagePack: as `recipes`
    has it; so of the looks that the project keeps, by `look: ` and their names."""
    head = store.head(scene_id)
    item_layer(head.scene, layer_id)
    assets = store.assets(head.project_id)
    every: dict[str, AddEffect | PasteEffects] = {}
    for kind in EFFECTS:
        name = kind.model_fields[Effect.told_by].default
        every[name] = AddEffect(layer=layer_id, effect=name)
    for name, look in store.presets.of(head.project_id, "look").items():
        every[f"{LOOK}{name}"] = PasteEffects(layers=(layer_id,), effects=look)
    items: dict[str, bytes] = {}
    refused: dict[str, str] = {}
    known: set[str] = set()
    top = layer_id.split("/")[0]
    span = head.scene.layer(top).span
    below = [layer.id for layer in head.scene.layers[: head.scene.places[top]]]
    seen_with = [*below, top] if head.scene.layer(top).content.filters else [top]
    at = min(max(frame, span.start), span.end - 1)
    for name, edit in every.items():
        try:
            after = apply_edits(head.scene, [edit], assets).scene
            shown = after.with_layer(after.layer(top).model_copy(update={"visible": True}))
            seen = resolve(shown, np.array([float(at)]), assets, ids=seen_with)
            items[name] = pack_resolved(seen, None, known, type="resolved", revision=head.revision)
        except Refused as refusal:
            refused[name] = f"{refusal.sentence} {refusal.mend}".strip()
    packed = msgpack.packb({"type": "recipes", "items": items, "refused": refused})
    return Response(packed, media_type="application/vnd.msgpack")


@router.get("/projects/{project_id}/looks")
def looks(project_id: str, store: Kept) -> list[Look]:
    """The looks that a project keeps, by name."""
    return [Look(name=name, effects=look) for name, look in store.presets.of(project_id, "look").items()]


@router.put("/projects/{project_id}/looks")
def keep_look(project_id: str, look: Look, store: Kept) -> list[Look]:
    """Keep a look; one of the same name is replaced."""
    store.presets.keep(project_id, "look", look.name, look.effects)
    return looks(project_id, store)


@router.delete("/projects/{project_id}/looks/{name}")
def drop_look(project_id: str, name: str, store: Kept) -> list[Look]:
    """Keep a look no longer."""
    store.presets.keep(project_id, "look", name, None)
    return looks(project_id, store)
