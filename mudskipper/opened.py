"""One way in: a data folder, a store or a scene's file, opened as projects, their scenes, and what is done with these.

```python
import mudskipper

scene = mudskipper.open("demo-data").project("Low Tide Week").scene("Opener")
scene.edit({"edit": "set_property", "layer": "…", "property": "rotation", "frame": 0, "value": 12})
pixels = scene.paint(30)  # (height, width, 4) bytes
scene.render("opener.webm")
```
"""

from __future__ import annotations

import os
import tempfile
from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

import numpy as np
from pydantic import TypeAdapter, ValidationError

from .core.checks import check_scene
from .core.checks.base import Finding, or_left
from .core.checks.loud import over_full_scale
from .core.contents.assets import NO_MEDIA, Assets
from .core.document.read import read_scene
from .core.document.scene import Scene
from .core.draw.operations import DrawList
from .core.edits import Edit, Outcome, apply_edits
from .core.edits.any_edit import AnyEdit
from .core.ground.errors import Refused, refusal_of
from .core.resolve.context import Context
from .core.resolve.drawing import draw_list
from .core.resolve.resolved import Resolved, resolve
from .core.resolve.shutter import exposed
from .export.choices import PLAIN, Choices
from .export.media_loader import MediaLoader
from .export.order import make_order
from .export.processes import process_pool
from .export.render import render_file
from .export.writers import FORMATS
from .export.writers.base import Run
from .media.files import MediaFiles
from .media.folder import media_in_folder
from .media.sounds import samples_in
from .paint.exposure import paint_exposed
from .paint.painter import Painter
from .paint.picture_checks import look_at
from .store.faults import DATABASE, disk_faults
from .store.store import Store

if TYPE_CHECKING:
    from .media.clips import ClipFrames

T = TypeVar("T")
EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[AnyEdit])


class OpenScene(ABC):
    """A scene, and what is done with it."""

    @property
    @abstractmethod
    def document(self) -> Scene:
        """The scene as it stands."""

    @property
    @abstractmethod
    def assets(self) -> Assets:
        """What must be known of its media."""

    @property
    @abstractmethod
    def files(self) -> MediaFiles:
        """The files of its media."""

    @abstractmethod
    def _keep(self, edits: list[Edit]) -> Outcome:
        """Apply edits as one step, and keep what they make."""

    def edit(self, *edits: Edit | dict[str, Any]) -> Outcome:
        """Apply edits, written as the API takes them, as one step: all of them, or Refused in words and none."""
        try:
            given = EDITS.validate_python(list(edits))
        except ValidationError as error:
            raise refusal_of(error, "edits") from None
        return self._keep(list(given))

    def resolve(self, frames: Any = None, ids: Iterable[str] | None = None) -> Resolved:
        """Its layers, or those named, as arrays at some frames (any array-like of numbers), by default at all."""
        at = np.arange(self.document.length) if frames is None else frames
        return resolve(self.document, at, self.assets, ids=ids)

    def draw(self, frames: Any = None) -> DrawList:
        """What painters draw at some frames, by default at all."""
        return draw_list(self.resolve(frames))

    def painter(self, frame: float, scale: float = 1.0, clips: ClipFrames | None = None) -> Painter:
        """A painter with a frame on its surface, in pixels of the scene times `scale`; Refused beyond the scene."""
        here = self.document
        if not 0 <= frame < here.length:
            raise Refused(
                f"Frame {frame:g} is outside '{here.name}', which has frames 0 to {here.length - 1}.", where="frame"
            )
        painter = Painter(here.width, here.height, MediaLoader(self.files, clips), scale)
        paint_exposed(painter, exposed(here, frame, self.assets))
        return painter

    def paint(self, frame: float) -> np.ndarray:
        """A frame as (height, width, 4) bytes r g b a, not premultiplied."""
        return self.painter(frame).pixels()

    def render(
        self, out: str | Path, kind: str = "", first: int = 0, stop: int | None = None, *, workers: int | None = None,
        choices: Choices = PLAIN, progress: Callable[[int], None] = lambda done: None,
    ) -> tuple[str, ...]:  # fmt: skip
        """Write frames first…stop (not included; by default to the end) as a file of a kind, by default that of its
        ending, with what is chosen besides; what it could not keep, a sentence each."""
        path = Path(out)
        form = FORMATS[kind_of(path, kind)]
        stop = first + 1 if form.still else self.document.length if stop is None else stop
        order = make_order(self.document, self.assets, self.files, form.kind, first, stop, choices)
        pool = ThreadPoolExecutor(1) if form.still else process_pool(workers or os.cpu_count() or 1)
        with disk_faults(path.parent), pool, tempfile.TemporaryDirectory(dir=path.parent) as work:
            return render_file(order, self.files, path, Run(Path(work) / "parts", pool, progress))

    def check(self, *, pictures: bool = False, clips: ClipFrames | None = None) -> list[Finding]:
        """What the checks find; with `pictures` also what is seen in the painted pictures, and heard."""
        found = check_scene(self.document, self.assets)
        return [*found, *self.look(clips)] if pictures else found

    def look(self, clips: ClipFrames | None = None) -> list[Finding]:
        """What is found in the painted pictures, and in the sound."""
        found = look_at(self.document, self.assets, MediaLoader(self.files, clips))
        loud = over_full_scale(Context(self.document, self.assets), samples_in(self.files))
        return [*found, or_left(loud, self.document.layer(loud.layer))] if loud else found

    def save(self, out: str | Path) -> None:
        """Write the document."""
        Path(out).write_text(self.document.to_json() + "\n")


class StoredScene(OpenScene):
    """A scene of a data folder: each edit is a step of its history."""

    def __init__(self, store: Store, scene_id: str) -> None:
        self.store, self.id = store, scene_id

    @property
    def document(self) -> Scene:
        return self.store.head(self.id).scene

    @property
    def assets(self) -> Assets:
        return self.store.assets(self.store.head(self.id).project_id)

    @property
    def files(self) -> MediaFiles:
        return self.store.media_files(self.store.head(self.id).project_id)

    def _keep(self, edits: list[Edit]) -> Outcome:
        return self.store.apply(self.id, edits)[1]


class LoneScene(OpenScene):
    """A scene by itself: edits are kept as long as it is open."""

    def __init__(self, document: Scene, assets: Assets = NO_MEDIA, files: MediaFiles | None = None) -> None:
        self._document, self._assets, self._files = document, assets, files or MediaFiles()

    @property
    def document(self) -> Scene:
        return self._document

    @property
    def assets(self) -> Assets:
        return self._assets

    @property
    def files(self) -> MediaFiles:
        return self._files

    def _keep(self, edits: list[Edit]) -> Outcome:
        outcome = apply_edits(self._document, edits, self._assets)
        self._document = outcome.scene
        return outcome


class OpenProject:
    """A project and its scenes, by their names in the order in which they were made."""

    def __init__(self, name: str, scenes: dict[str, list[OpenScene]]) -> None:
        self.name, self._scenes = name, scenes

    @property
    def scenes(self) -> list[str]:
        """The names of its scenes."""
        return [name for name, same in self._scenes.items() for _ in same]

    def scene(self, name: str) -> OpenScene:
        """A scene by its name; Refused in words where there is none, or several are called so."""
        return _only(self._scenes, name, f"scene of '{self.name}'")


class Opened:
    """What was opened."""

    def __init__(self, projects: dict[str, list[OpenProject]]) -> None:
        self._projects = projects

    @property
    def projects(self) -> list[str]:
        """The names of the projects."""
        return [name for name, same in self._projects.items() for _ in same]

    def project(self, name: str) -> OpenProject:
        """A project by its name; Refused in words where there is none, or several are called so."""
        return _only(self._projects, name, "project")


def open_at(place: str | Path | Store) -> Opened:
    """Open a data folder, a store, or the file of a scene with its media beside it."""
    if isinstance(place, Store):
        return _opened(place)
    path = Path(place)
    if path.is_dir():
        if not (path / DATABASE).is_file():
            raise Refused("This folder is no data folder.", where=str(path), mend="Name one that a server wrote to.")
        return _opened(Store(path))
    scene = open_scene(path)
    name = path.parent.resolve().name
    return Opened({name: [OpenProject(name, {scene.document.name: [scene]})]})


def open_scene(path: Path, media: Path | None = None) -> LoneScene:
    """The scene of a file, and its pictures and clips: files of the folder `media`, by default beside it, that are
    named by their ids with or without an ending."""
    try:
        scene = read_scene(path.read_bytes(), path.name)
    except OSError as error:
        raise Refused(f"It cannot be read: {error.strerror}.", where=str(path)) from None
    return LoneScene(scene, *media_in_folder(scene, media or path.parent, path.name))


def kind_of(out: Path, kind: str = "") -> str:
    """The format of a file: the one named, or that of its ending, a still before a moving picture. Refused in words
    where there is none."""
    endings: dict[str, str] = {}
    for form in FORMATS.values():
        if form.by_ending:
            endings.setdefault(form.suffix, form.kind)
    found = kind or endings.get(out.suffix.lower(), "")
    if not found:
        raise Refused(
            f"The file's ending names the format: {', '.join(endings)}; {out.name!r} has none of them.", where="--out"
        )
    if found not in FORMATS:
        raise Refused(f"There is no format {found!r}.", where="kind", mend=f"Formats: {', '.join(FORMATS)}.")
    return found


def _opened(store: Store) -> Opened:
    projects: dict[str, list[OpenProject]] = {}
    for project, rows in store.projects():
        scenes: dict[str, list[OpenScene]] = {}
        for row in rows:
            scenes.setdefault(row.name, []).append(StoredScene(store, row.id))
        projects.setdefault(project.name, []).append(OpenProject(project.name, scenes))
    return Opened(projects)


def _only(known: dict[str, list[T]], name: str, what: str) -> T:
    same = known.get(name, [])
    if len(same) == 1:
        return same[0]
    if same:
        raise Refused(f"{len(same)} times there is a {what} called '{name}'.", mend="Rename one of them.")
    there = ", ".join(f"'{one}'" for one in known) or "none"
    raise Refused(f"There is no {what} called '{name}'.", mend=f"There are {there}.")
