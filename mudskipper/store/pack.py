"""A project as one open file: a ZIP of its scenes as JSON, its media by their digests, a manifest and its schemas."""

from __future__ import annotations

import hashlib
import json
import re
import zipfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import Field, ValidationError

from ..core.document.read import read_scene
from ..core.document.scene import Scene, new_id
from ..core.edits.layers import free_among
from ..core.ground.base_model import Id, Model, Name
from ..core.ground.errors import Refused, refusal_of
from ..media.part_files import part_of
from .faults import disk_faults
from .presets import KINDS, PresetKind
from .project_differences import project_differences
from .store import Store
from .tables import Project, SceneRow

FORMAT = "mudskipper.project/1"
MANIFEST = "manifest.json"
MOST_TEXT = 256 * 2**20
"""Bytes that a document in it may have."""
MOST_BYTES = 64 * 2**30
"""Bytes that all of it may have unpacked."""
STEEP = 200
"""How many times smaller than itself a part of some size may be packed."""
PIECE = 2**20
ENDING = re.compile(r"\.[a-z0-9]{1,8}")
SHARED: tuple[PresetKind, ...] = ("colour", "style")
"""What scenes follow by its id, and what goes along with some of them."""


class PackedScene(Model):
    """A scene: its document's place in the file."""

    id: Id
    name: Name
    file: Annotated[str, Field(max_length=300)]


class PackedMedium(Model):
    """A picture, a clip or a font: its file by the SHA-256 of its bytes."""

    id: Id
    kind: Literal["picture", "clip", "font"]
    name: Annotated[str, Field(max_length=300)]
    file: Annotated[str, Field(max_length=300)]
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Manifest(Model):
    """What a file holds."""

    format: Annotated[str, Field(max_length=100)] = FORMAT
    name: Name
    scenes: Annotated[tuple[PackedScene, ...], Field(max_length=10_000)] = ()
    media: Annotated[tuple[PackedMedium, ...], Field(max_length=100_000)] = ()
    left: tuple[Annotated[str, Field(max_length=300)], ...] = ()
    """Fonts that are not in it, since their licence bits forbid to give them out, by their names."""
    presets: dict[str, dict[str, Any]] = Field(default_factory=dict)
    """What the project keeps under names, by kinds: easings, cascades, looks, colours, styles, motions, exports."""


def pack(
    store: Store, project_id: str, out: Path, scenes: tuple[str, ...] | None = None, *, stays: bool = False
) -> Manifest:
    """Write a project as one file, whole or not at all; or of some of its scenes alone, those within them, and the
    media that they need. A file that `stays` on this server holds fonts that may not be given out, too."""
    project = store.project(project_id)
    part = part_of(out)
    try:
        with disk_faults(out.parent), zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as zipped:
            manifest = _written(store, project, zipped, scenes, stays)
        part.replace(out)
    finally:
        part.unlink(missing_ok=True)
    return manifest


def _written(
    store: Store, project: Project, zipped: zipfile.ZipFile, chosen: tuple[str, ...] | None, stays: bool
) -> Manifest:
    project_id = str(project.id)
    scenes = []
    every = [store.head(scene_id).scene for scene_id in store.scene_ids(project_id)]
    if chosen is not None:
        inner = _within({scene.id: scene for scene in every}, chosen)
        every = [scene for scene in every if scene.id in inner]
    needed = {asset for scene in every for asset in (*scene.pictures, *scene.clips)}
    named = {cell.text.strip().casefold() for scene in every for row in scene.rows for cell in row.cells}
    for scene in every:
        file = f"scenes/{_plain(scene.name)}-{scene.id}.json"
        zipped.writestr(file, scene.to_json())
        scenes.append(PackedScene(id=scene.id, name=scene.name, file=file))
    media = []
    folder = store.folder / "media"
    found: list[tuple[Literal["picture", "clip", "font"], str, str, Path]] = [
        *(("picture", row.id, row.name, folder / f"{row.digest}.png") for row in store.pictures.rows(project_id)),
        *(("clip", row.id, row.name, Path(store.clips.file(row).path)) for row in store.clips.rows(project_id)),
        *(("font", row.id, row.name, folder / f"{row.digest}.sfnt") for row in store.fonts.rows(project_id)),
    ]
    bound = set() if stays else {row.id for row in store.fonts.rows(project_id) if not json.loads(row.facts)["embeds"]}
    for kind, medium, name, path in found:
        used = medium in needed or str(name).casefold() in named
        if not path.is_file() or (chosen is not None and kind != "font" and not used):
            continue  # a clip whose file is missing is said to be so where it is opened
        if medium in bound:
            continue
        digest = _digest(path)
        ending = Path(name).suffix.lower()
        file = f"media/{digest}{ending if ENDING.fullmatch(ending) else path.suffix}"
        if file not in zipped.NameToInfo:
            # Media are packed already.
            zipped.write(path, file, zipfile.ZIP_STORED)
        media.append(PackedMedium(id=medium, kind=kind, name=name, file=file, sha256=digest))
    presets = {
        kind: {
            name: KINDS[kind].dump_python(value, mode="json", by_alias=True)
            for name, value in store.presets.of(project_id, kind).items()
        }
        for kind in (KINDS if chosen is None else SHARED)
    }
    manifest = Manifest(
        name=str(project.name), scenes=tuple(scenes), media=tuple(media),
        left=tuple(name for _, medium, name, _ in found if medium in bound),
        presets={kind: kept for kind, kept in presets.items() if kept},
    )  # fmt: skip
    zipped.writestr(MANIFEST, manifest.model_dump_json(indent=1))
    for name, schema in (("manifest", Manifest.model_json_schema()), ("scene", Scene.model_json_schema())):
        zipped.writestr(f"schemas/{name}.schema.json", json.dumps(schema, indent=1))
    return manifest


def _within(scenes: Mapping[str, Scene], chosen: tuple[str, ...]) -> set[str]:
    """Scenes with all that lie in them, at any depth."""
    found: set[str] = set()
    open_ones = list(chosen)
    while open_ones:
        name = open_ones.pop()
        if name in scenes and name not in found:
            found.add(name)
            open_ones += scenes[name].scenes
    return found


class Packed:
    """A file that was opened: its manifest, and its scenes as they stand in it."""

    def __init__(self, zipped: zipfile.ZipFile, name: str) -> None:
        self._zipped, self._name = zipped, name
        self._check_parts()
        self.manifest = self._manifest()
        self.scenes = {one.id: self._scene(one) for one in self.manifest.scenes}

    def _check_parts(self) -> None:
        """Refuse paths that lead out of it, and what is packed to grow beyond all measure."""
        total = 0
        for part in self._zipped.infolist():
            pieces = part.filename.split("/")
            if "\\" in part.filename or part.filename.startswith("/") or ".." in pieces or ":" in part.filename:
                raise Refused(
                    f"It has a part “{part.filename}” that lies outside of it.", where=self._name,
                    mend="Nothing of it was opened; ask for it once more from whoever made it.",
                )  # fmt: skip
            total += part.file_size
            steep = part.file_size > 64 * 2**20 and part.file_size > STEEP * max(part.compress_size, 1)
            if steep or total > MOST_BYTES:
                raise Refused(
                    "It would grow beyond all measure unpacked.", where=self._name, mend="Nothing was opened."
                )

    def _manifest(self) -> Manifest:
        given = self._text(MANIFEST)
        try:
            told = json.loads(given)
        except ValueError:
            raise Refused("Its manifest cannot be read.", where=self._name) from None
        form = str(told.get("format", "")) if isinstance(told, dict) else ""
        if form != FORMAT:
            later = form.startswith("mudskipper.project/")
            raise Refused(
                f"It was written by a later Mudskipper ({form})." if later else "It is no project of Mudskipper.",
                where=self._name, mend="Open it with the later one." if later else "Choose a file that pack wrote.",
            )  # fmt: skip
        try:
            return Manifest.model_validate(told)
        except ValidationError as error:
            raise refusal_of(error, f"{self._name}: {MANIFEST}") from None

    def _scene(self, one: PackedScene) -> Scene:
        return read_scene(self._text(one.file), f"{self._name}: {one.file}")

    def _text(self, file: str) -> bytes:
        try:
            part = self._zipped.getinfo(file)
        except KeyError:
            raise Refused(f"It has no {file}.", where=self._name, mend="Choose a file that pack wrote.") from None
        if part.file_size > MOST_TEXT:
            raise Refused(f"Its {file} is too large.", where=self._name)
        try:
            return self._zipped.read(part)
        except (zipfile.BadZipFile, OSError, EOFError):
            raise Refused(f"Its {file} is damaged.", where=self._name, mend="Copy the file once more.") from None

    def take(self, medium: PackedMedium, into: Path) -> None:
        """Write the file of a medium; Refused where it is not what its digest says."""
        summed = hashlib.sha256()
        try:
            with self._zipped.open(medium.file) as part, into.open("wb") as file:
                while piece := part.read(PIECE):
                    summed.update(piece)
                    file.write(piece)
        except KeyError:
            raise Refused(f"It has no {medium.file}, the file of “{medium.name}”.", where=self._name) from None
        except (zipfile.BadZipFile, EOFError):
            raise Refused(f"The file of “{medium.name}” is damaged in it.", where=self._name) from None
        if summed.hexdigest() != medium.sha256:
            raise Refused(
                f"The file of “{medium.name}” is another than its manifest says.", where=self._name,
                mend="Copy the file once more.",
            )  # fmt: skip


@contextmanager
def opened_pack(path: Path, name: str = "") -> Iterator[Packed]:
    """A packed project; Refused in words where it is none, or of a later version."""
    name = name or path.name
    try:
        zipped = zipfile.ZipFile(path)
    except (zipfile.BadZipFile, OSError):
        raise Refused("It is no project of Mudskipper.", where=name, mend="Choose a file that pack wrote.") from None
    with zipped:
        yield Packed(zipped, name)


class Unpacked(NamedTuple):
    """The project that a file was taken into; what came in, a sentence each; the ids that media and scenes have there
    by those that they had."""

    project: str
    said: list[str]
    ids: dict[str, str]


def unpack(store: Store, path: Path, into: str | None = None, name: str = "") -> Unpacked:
    """Take a packed project in, as a new one or into another.

    All of it is read before anything is kept. Into another project, media that are there already are used, and a scene
    that is there as it stands in the file is left alone; one that differs comes in under a free name.
    """
    with opened_pack(path, name) as packed, TemporaryDirectory(dir=store.folder, prefix="unpack-") as work:
        files = {}
        with disk_faults(store.folder):
            for number, medium in enumerate(packed.manifest.media):
                files[medium.id] = Path(work) / f"{number}{Path(medium.file).suffix}"
                packed.take(medium, files[medium.id])
        taken = {str(row.name) for row, _ in store.projects()}
        project = into or store.make_project(free_among(taken, packed.manifest.name))
        try:
            return Unpacked(project, *_taken(store, project, packed, files))
        except BaseException:
            if into is None:
                store.set_removed(Project, project, True)
            raise


def _taken(store: Store, project: str, packed: Packed, files: Mapping[str, Path]) -> tuple[list[str], dict[str, str]]:
    said = [f"The font “{name}” may not be given out and is not in it: add it." for name in packed.manifest.left]
    ids: dict[str, str] = {}
    for medium in packed.manifest.media:
        if medium.kind == "picture":
            ids[medium.id] = str(store.pictures.add(project, medium.name, files[medium.id].read_bytes(), medium.id).id)
        elif medium.kind == "clip":
            part = store.clips.part()
            files[medium.id].replace(part)
            ids[medium.id] = str(store.clips.add(project, medium.name, part, wanted=medium.id)[0].id)
        else:
            store.fonts.add(project, medium.name, files[medium.id])
    there = {scene_id: store.head(scene_id).scene for scene_id in store.scene_ids(project)}
    for name in _inner_first(packed.scenes):
        scene = relinked(packed.scenes[name], ids)
        same = next((one for one, known in there.items() if _alike(known, scene)), None)
        if same is not None:
            ids[name] = same
            said.append(f"“{scene.name}” is there already as it is.")
            continue
        ids[name] = new_id() if _known(store, name) else name
        made = store.make_scene(project, scene.model_copy(update={"id": ids[name]}))
        renamed = f", now “{made.scene.name}”" if made.scene.name != scene.name else ""
        said.append(f"“{scene.name}”{renamed}: {len(scene.layers)} layers.")
    for kind, kept in packed.manifest.presets.items():
        if kind not in KINDS:
            continue
        mine = store.presets.of(project, kind)
        for label, value in kept.items():
            if label not in mine:
                try:
                    read = KINDS[kind].validate_python(value)
                    store.presets.keep(project, kind, label, relinked(read, ids) if kind == "starter" else read)
                except (ValidationError, Refused):
                    said.append(f"The {kind} “{label}” could not be read and is left out.")
    return said, ids


def _alike(one: Scene, other: Scene) -> bool:
    """Whether two scenes are the same but for their ids."""
    return one.name == other.name and one == other.model_copy(update={"id": one.id})


def told_apart(before: Packed, after: Packed) -> list[str]:
    """How one packed project differs from another, a sentence each: media are the same where their bytes are, scenes
    where their ids are, or else their names."""
    first, second = (_by_content(one) for one in (before, after))
    names = {scene.name: name for name, scene in first.items()}
    matched = {name if name in first else names.get(scene.name, name): scene for name, scene in second.items()}
    return list(project_differences(first, matched))


def _by_content(packed: Packed) -> dict[str, Scene]:
    ids = {medium.id: medium.sha256[:40] for medium in packed.manifest.media}
    ids |= {one.id: one.name.replace("/", " ")[:60] for one in packed.manifest.scenes}
    return {name: relinked(scene, ids).model_copy(update={"id": scene.id}) for name, scene in packed.scenes.items()}


def _known(store: Store, scene_id: str) -> bool:
    with store.session():
        return SceneRow.get_or_none(SceneRow.id == scene_id) is not None


def _inner_first(scenes: Mapping[str, Scene]) -> list[str]:
    """Scenes so that each comes after those that lie in it."""
    found: list[str] = []

    def visit(name: str, around: tuple[str, ...]) -> None:
        if name in found or name not in scenes:
            return
        if name in around:
            raise Refused("Two of its scenes lie in each other.", where=scenes[name].name)
        for inner in sorted(scenes[name].scenes):
            visit(inner, (*around, name))
        found.append(name)

    for name in scenes:
        visit(name, ())
    return found


def relinked(scene: Scene, ids: Mapping[str, str]) -> Scene:
    """A scene whose media and inner scenes are known by other ids."""
    document = json.loads(scene.to_json())

    def walk(value: Any) -> Any:
        if isinstance(value, dict):
            # What fills a slot is a medium where it says so.
            named = {"asset", "value"} if value.get("medium") else {"asset"}
            return {
                key: ids.get(part, part) if key in named and isinstance(part, str) else walk(part)
                for key, part in value.items()
            }
        return [walk(part) for part in value] if isinstance(value, list) else value

    return read_scene(json.dumps(walk(document)), scene.name)


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _plain(name: str) -> str:
    return (
        "".join(letter if letter.isalnum() and letter.isascii() else "-" for letter in name).strip("-").lower()[:60]
        or "scene"
    )
