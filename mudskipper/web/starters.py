"""Starters: scenes that ship, and those that a project keeps, to begin with."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response
from pydantic import BaseModel

from ..core.document.scene import Scene, new_id
from ..core.ground.base_model import Name
from ..core.ground.errors import Refused
from ..starters import STARTERS
from ..store.store import Store
from .schemas import SceneAnswer, scene_answer, store_of

router = APIRouter(prefix="/api/projects/{project_id}")
Kept = Annotated[Store, Depends(store_of)]


class Starter(BaseModel):
    """A scene to begin with: one that ships, or one that the project keeps."""

    name: str
    own: bool
    width: int
    height: int
    layers: list[str]


class Begun(BaseModel):
    """Which starter a scene begins as, and what it is called."""

    starter: Name
    own: bool = False
    name: Name | None = None


@router.get("/starters")
def starters(project_id: str, store: Kept) -> list[Starter]:
    """All starters, those of the project last."""
    own = store.presets.of(project_id, "starter")
    return [
        *(_starter(name, make(), False) for name, make in STARTERS.items()),
        *(_starter(name, scene, True) for name, scene in own.items()),
    ]


@router.post("/starters/begin", status_code=201, response_model=SceneAnswer)
def begin(project_id: str, begun: Begun, store: Kept) -> Response:
    """A new scene as a starter is."""
    own = store.presets.of(project_id, "starter")
    if begun.starter not in (own if begun.own else STARTERS):
        raise Refused(f"There is no starter “{begun.starter}”.", mend=f"There are {', '.join([*STARTERS, *own])}.")
    scene: Scene = own[begun.starter] if begun.own else STARTERS[begun.starter]()
    made = scene.model_copy(update={"id": new_id(), "name": begun.name or begun.starter})
    return scene_answer(store.make_scene(project_id, made), status=201)


@router.put("/starters")
def keep(project_id: str, scene: Annotated[str, Query(max_length=64)], store: Kept) -> list[Starter]:
    """Keep a scene of the project as a starter, by its name."""
    head = store.head(scene)
    if head.project_id != project_id:
        raise Refused("This scene is of another project.", mend="Bring it to this project first.")
    store.presets.keep(project_id, "starter", head.scene.name, head.scene.model_copy(update={"rows": ()}))
    return starters(project_id, store)


@router.delete("/starters/{name}")
def drop(project_id: str, name: str, store: Kept) -> list[Starter]:
    """Keep a starter no longer."""
    store.presets.keep(project_id, "starter", name, None)
    return starters(project_id, store)


def _starter(name: str, scene: Scene, own: bool) -> Starter:
    texts = [layer.name for layer in scene.layers if layer.content.words is not None]
    return Starter(name=name, own=own, width=scene.width, height=scene.height, layers=texts)
