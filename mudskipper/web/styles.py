"""The named colours of a project, and its styles of texts: changing one changes all that follow it."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query
from pydantic import BaseModel

from ..core.contents.text_style import TextStyle
from ..core.document.scene import Scene, new_id
from ..core.edits import Edit
from ..core.edits.base import EditContext
from ..core.edits.named import Recolour, Restyle
from ..core.ground.base_model import Id, Name
from ..core.ground.errors import Refused
from ..core.tracks.colour import Colour, contrast, readable_on
from ..store.presets import KeptColour, KeptStyle, PresetKind
from ..store.store import Store
from .live import Hub
from .schemas import hub_of, store_of

router = APIRouter(prefix="/api/projects/{project_id}", tags=["projects"])
Kept = Annotated[Store, Depends(store_of)]
Windows = Annotated[Hub, Depends(hub_of)]
MOST = 500
"""Colours, and styles, that a project keeps."""


class NamedColour(BaseModel):
    """A colour of the project, and its contrast (WCAG 2.2) with the colour that was asked for."""

    name: Name
    id: Id
    colour: Colour
    contrast: float | None = None


class NamedStyle(BaseModel):
    """A style of texts of the project."""

    name: Name
    id: Id
    look: TextStyle


class ColourGiven(BaseModel):
    """A colour to be kept: a new one, or with `id` another colour or another name for one that there is."""

    name: Name
    colour: Colour
    id: Id | None = None


class StyleGiven(BaseModel):
    """A style to be kept, as a text looks: a new one, or with `id` another look or another name for one that there is;
    without a text the look stays."""

    name: Name
    scene: Id | None = None
    layer: Id | None = None
    id: Id | None = None


class ColoursAnswer(BaseModel):
    """The project's colours by name, and in words what followed."""

    colours: list[NamedColour]
    said: str = ""
    id: Id | None = None


class ReadableAnswer(BaseModel):
    """A colour that stands out on a ground."""

    colour: str


class StylesAnswer(BaseModel):
    """The project's styles by name, and in words what followed."""

    styles: list[NamedStyle]
    said: str = ""
    id: Id | None = None


@router.get("/colours")
def colours(project_id: str, store: Kept, on: Annotated[Colour | None, Query()] = None) -> list[NamedColour]:
    """The named colours of a project; with `on` each with its contrast to that."""
    kept: dict[str, KeptColour] = store.presets.of(project_id, "colour")
    return [
        NamedColour(
            name=name, id=one.id, colour=one.colour, contrast=round(contrast(one.colour, on), 2) if on else None
        )
        for name, one in kept.items()
    ]


@router.get("/colours/readable")
def readable(
    project_id: str, ground: Annotated[Colour, Query()], first: Annotated[Colour, Query()], store: Kept
) -> ReadableAnswer:
    """A colour for what is new on a ground: the first one if it stands out there, else one of the project's, else white
    or black."""
    kept: dict[str, KeptColour] = store.presets.of(project_id, "colour")
    return ReadableAnswer(colour=readable_on(ground, [first, *(one.colour for one in kept.values())]))


@router.put("/colours")
def keep_colour(project_id: str, given: ColourGiven, store: Kept, hub: Windows) -> ColoursAnswer:
    """Keep a colour under a name; where it was another, all that follows it in the project's scenes changes."""
    known: dict[str, KeptColour] = store.presets.of(project_id, "colour")
    name, before = _place(known, given.name, given.id, "colour")
    made = KeptColour(id=before.id if before else new_id(), colour=given.colour)
    said = f"Kept {given.colour[:7]} as {given.name}."
    if before:
        edit = Recolour(colour=made.id, name=given.name, was=before.colour, value=made.colour)
        said = _everywhere(store, hub, project_id, edit) if before.colour != made.colour else ""
        _in_styles(store, project_id, edit)
    _keep(store, project_id, "colour", name, given.name, made)
    return ColoursAnswer(colours=colours(project_id, store), said=said, id=made.id)


@router.delete("/colours/{name}")
def drop_colour(project_id: str, name: str, store: Kept) -> list[NamedColour]:
    """Keep a colour no longer; what followed it stays as it is."""
    store.presets.keep(project_id, "colour", name, None)
    return colours(project_id, store)


@router.get("/styles")
def styles(project_id: str, store: Kept) -> list[NamedStyle]:
    """The styles of texts of a project."""
    kept: dict[str, KeptStyle] = store.presets.of(project_id, "style")
    return [NamedStyle(name=name, id=one.id, look=one.look) for name, one in kept.items()]


@router.put("/styles")
def keep_style(project_id: str, given: StyleGiven, store: Kept, hub: Windows) -> StylesAnswer:
    """Keep how a text looks under a name; where it was another look, all texts of the project that follow it change."""
    known: dict[str, KeptStyle] = store.presets.of(project_id, "style")
    name, before = _place(known, given.name, given.id, "style")
    look = before.look if before else None
    if given.scene is not None and given.layer is not None:
        look = store.head(given.scene).scene.layer(given.layer).content.look
    if look is None:
        raise Refused("A style is made of a text.", where="layer", mend="Name a scene and a text of it.")
    made = KeptStyle(id=before.id if before else new_id(), look=look)
    said = f"Kept {given.name} as a style."
    if before:
        edit = Restyle(style=made.id, name=given.name, was=before.look, look=look)
        said = _everywhere(store, hub, project_id, edit) if before.look != look else ""
    _keep(store, project_id, "style", name, given.name, made)
    return StylesAnswer(styles=styles(project_id, store), said=said, id=made.id)


@router.delete("/styles/{name}")
def drop_style(project_id: str, name: str, store: Kept) -> list[NamedStyle]:
    """Keep a style no longer; texts that followed it stay as they are."""
    store.presets.keep(project_id, "style", name, None)
    return styles(project_id, store)


def _place(known: dict[str, Any], name: str, given: str | None, what: str) -> tuple[str | None, Any]:
    """The name under which something with an id is kept, and what is; Refused where another has the new name."""
    before = next((old for old, one in known.items() if one.id == given), None) if given else None
    if given is not None and before is None:
        raise Refused(f"This {what} is not in the project any more.", where="id", mend=f"Choose another {what}.")
    if name in known and name != before:
        raise Refused(f"The project has a {what} {name!r} already.", where="name", mend="Choose another name.")
    if before is None and len(known) >= MOST:
        raise Refused(f"A project keeps at most {MOST} of them.", where="name", mend="Take one away first.")
    return before, known[before] if before else None


def _in_styles(store: Store, project_id: str, edit: Recolour) -> None:
    """Change a colour in the styles that follow it, so that texts are still as these have it."""

    def changed(part: Any) -> Any:
        if isinstance(part, dict):
            if part.get("named") == edit.colour and part.get("rest") == edit.was:
                return part | {"rest": edit.value}
            return {name: changed(inner) for name, inner in part.items()}
        return [changed(inner) for inner in part] if isinstance(part, list) else part

    kept: dict[str, KeptStyle] = store.presets.of(project_id, "style")
    for name, style in kept.items():
        look = TextStyle.model_validate(changed(style.look.model_dump(mode="json")))
        if look != style.look:
            store.presets.keep(project_id, "style", name, KeptStyle(id=style.id, look=look))


def _keep(store: Store, project_id: str, kind: PresetKind, before: str | None, name: str, value: Any) -> None:
    if before is not None and before != name:
        store.presets.keep(project_id, kind, before, None)
    store.presets.keep(project_id, kind, name, value)


def _everywhere(store: Store, hub: Hub, project_id: str, edit: Edit) -> str:
    """Apply an edit to each scene of the project that it changes, a step of each, and tell where."""
    names = []
    for scene_id in store.scene_ids(project_id):
        try:
            head = store.head(scene_id)
        except Refused:
            # It is in the bin, or cannot be read; it keeps what it has.
            continue
        if not _changes(edit, head.scene, store, project_id):
            continue
        after, outcome, _ = store.apply(scene_id, [edit], None)
        hub.changed(store, scene_id, revision=after.revision, client="", said=outcome.words)
        names.append(head.scene.name)
    words = edit.words(Scene(name="Any", width=1, height=1, length=1))
    where = f" in {', '.join(names[:4])}{' and others' if len(names) > 4 else ''}" if names else "; nothing follows it"
    return f"{words}{where}."


def _changes(edit: Edit, scene: Scene, store: Store, project_id: str) -> bool:
    return edit.apply(scene, EditContext(store.assets(project_id))) != scene
