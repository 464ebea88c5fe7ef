"""Projects, their scenes and their pictures."""

from __future__ import annotations

import zlib
from typing import Annotated, Any

from anyio.to_thread import run_sync
from fastapi import APIRouter, Depends, Request, Response, UploadFile
from fastapi.responses import FileResponse

from ..core.document.read import read_scene
from ..core.document.scene import Scene
from ..core.ground.errors import Refused
from ..core.resolve.resolved import resolve
from ..export.jobs import safe_name
from ..media.pictures import MOST_BYTES
from ..store.store import Store
from ..store.tables import Project, SceneRow
from .problem_details import binary
from .schemas import (
    NewProject,
    NewScene,
    PictureAnswer,
    ProjectCard,
    ProjectName,
    RemovedAnswer,
    SceneAnswer,
    SceneCard,
    picture_answer,
    scene_answer,
    store_of,
)

TAKES_JSON = {"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}}
JSON_FILE: dict[int | str, dict[str, Any]] = {200: {"content": {"application/json": {"schema": {"type": "object"}}}}}

router = APIRouter(prefix="/api")
Kept = Annotated[Store, Depends(store_of)]


@router.get("/projects")
def projects(store: Kept) -> list[ProjectCard]:
    """All projects with their scenes."""
    return [
        ProjectCard(id=project.id, name=project.name, scenes=[scene_card(store, row) for row in rows])
        for project, rows in store.projects()
    ]


def scene_card(store: Store, row: SceneRow) -> SceneCard:
    """A scene's card; its picture is taken where most of the work stands."""
    try:
        head = store.head(row.id)
    except (Refused, zlib.error) as error:
        why = error.sentence if isinstance(error, Refused) else "Its stored document is damaged."
        return SceneCard(
            id=row.id, name=row.name, width=0, height=0, frame_rate=(30, 1), length=0, revision=row.head, poster=0,
            fault=f"This scene cannot be read: {why}",
        )  # fmt: skip
    scene = head.scene
    return SceneCard(
        id=scene.id, name=scene.name, width=scene.width, height=scene.height, frame_rate=scene.frame_rate,
        length=scene.length, revision=head.revision, poster=scene.length * 3 // 5,
    )  # fmt: skip


@router.post("/projects", status_code=201)
def make_project(new: NewProject, store: Kept) -> ProjectCard:
    """A new project."""
    return ProjectCard(id=store.make_project(new.name), name=new.name, scenes=[])


@router.put("/projects/{project_id}")
def rename_project(project_id: str, given: ProjectName, store: Kept) -> ProjectCard:
    """Give a project another name."""
    row = store.rename_project(project_id, given.name)
    return ProjectCard(id=row.id, name=row.name, scenes=[])


@router.get("/removed")
def removed(store: Kept) -> list[RemovedAnswer]:
    """Projects and scenes that were removed, newest first; they can be brought back."""
    projects, scenes = store.removed()
    return [
        *(RemovedAnswer(id=row.id, kind="project", name=row.name, project=row.name) for row in projects),
        *(RemovedAnswer(id=row.id, kind="scene", name=row.name, project=of.name) for row, of in scenes),
    ]


@router.put("/projects/{project_id}/removed")
def remove_project(project_id: str, removed: bool, store: Kept) -> None:
    """Take a project out of the list, or bring it back."""
    store.set_removed(Project, project_id, removed)


@router.put("/scenes/{scene_id}/removed")
def remove_scene(scene_id: str, removed: bool, store: Kept) -> None:
    """Take a scene out of its project's list, or bring it back."""
    store.set_removed(SceneRow, scene_id, removed)


@router.post("/projects/{project_id}/scenes", status_code=201, response_model=SceneAnswer)
def make_scene(project_id: str, new: NewScene, store: Kept) -> Response:
    """A new scene in a project, under a name that no other scene of it has."""
    return scene_answer(store.make_scene(project_id, Scene(**new.model_dump())), status=201)


@router.post("/projects/{project_id}/documents", status_code=201, openapi_extra=TAKES_JSON, response_model=SceneAnswer)
async def open_document(project_id: str, request: Request, store: Kept) -> Response:
    """Take a scene document in as a new scene of a project; its pictures must be the project's."""
    body = await request.body()

    def take() -> Response:
        document = read_scene(body, "document")
        for layer in document.layers:
            layer.content.find_media(store.assets(project_id))
        resolve(document, [0], store.assets(project_id))
        return scene_answer(store.make_scene(project_id, document), status=201)

    return await run_sync(take)


@router.get("/scenes/{scene_id}/raw", response_class=Response, responses=JSON_FILE)
def raw(scene_id: str, store: Kept) -> Response:
    """The scene's document as it was stored, also where it cannot be read."""
    headers = {"Content-Disposition": f'attachment; filename="scene-{safe_name(scene_id)}.json"'}
    return Response(store.document(scene_id), media_type="application/json", headers=headers)


@router.post("/scenes/{scene_id}/recover", response_model=SceneAnswer)
def recover(scene_id: str, store: Kept) -> Response:
    """Bring a scene that cannot be read to its last revision that can."""
    return scene_answer(store.recover(scene_id))


@router.get("/scenes/{scene_id}/document", response_class=Response, responses=JSON_FILE)
def document(scene_id: str, store: Kept) -> Response:
    """The scene as a document file."""
    head = store.head(scene_id)
    name = f"{safe_name(head.scene.name)}.json"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(head.scene.to_json(), media_type="application/json", headers=headers)


@router.get("/projects/{project_id}/pictures")
def pictures(project_id: str, store: Kept) -> list[PictureAnswer]:
    """The pictures of a project."""
    return [picture_answer(row) for row in store.pictures.rows(project_id)]


@router.get("/projects/{project_id}/uses")
def uses(project_id: str, store: Kept) -> dict[str, list[str]]:
    """The scenes that show or play each picture, clip and scene of a project, by their names."""
    return store.uses(project_id)


@router.put("/projects/{project_id}/media/{asset}/removed")
def remove_media(project_id: str, asset: str, removed: bool, store: Kept, request: Request) -> None:
    """Take a picture, clip or font that no scene uses out of its project's list, or bring it back."""
    store.remove_media(project_id, asset, removed)
    if any(row.id == asset for row in store.fonts.rows(project_id)):
        request.app.state.hub.fonts_changed(store, project_id)


@router.post("/projects/{project_id}/pictures", status_code=201)
async def add_picture(project_id: str, file: UploadFile, store: Kept, request: Request) -> PictureAnswer:
    """Take a PNG, JPEG, WebP, AVIF or HEIC file in; known by its content, not by its name."""
    name = (file.filename or "Picture").replace("\\", "/").rsplit("/", 1)[-1][:200]

    def take() -> PictureAnswer:
        data = file.file.read(MOST_BYTES + 1)
        if not data:
            raise Refused("The file is empty.", where=name, mend="Choose a PNG, JPEG, WebP, AVIF or HEIC file.")
        return picture_answer(store.pictures.add(project_id, name, data))

    return await run_sync(take, limiter=request.app.state.uploads)


@router.get("/pictures/{picture_id}/file", response_class=FileResponse, responses=binary("image/png"))
def picture_file(picture_id: str, store: Kept) -> FileResponse:
    """A picture as both painters read it: PNG, sRGB."""
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return FileResponse(store.pictures.file(picture_id), media_type="image/png", headers=headers)
