"""The store: every edit is one revision, written in one transaction before it is acknowledged."""

from __future__ import annotations

import json
import re
import sqlite3
import threading
import zlib
from collections import OrderedDict
from collections.abc import Iterator, Sequence
from collections.abc import Set as AbstractSet
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from weakref import WeakValueDictionary

from pydantic import TypeAdapter

from ..core.contents.assets import Assets, PictureInfo
from ..core.document.nesting import Shows, refuse_nesting_around
from ..core.document.read import read_scene, read_written, schema_form
from ..core.document.scene import Scene, new_id
from ..core.edits import Edit, Outcome, apply_edits, unkeyed_in_pose, words_of
from ..core.edits.any_edit import AnyEdit
from ..core.edits.layers import free_among
from ..core.geometry.bezier import Floats
from ..core.ground.errors import Refused
from ..media.files import MediaFiles
from ..media.fonts import fonts_of
from ..media.sounds import Sounds
from .clips import Clips
from .connection import Connection
from .faults import Gone
from .fonts import OwnFonts
from .history import Step, child_of, line_of, steps_of
from .jobs import Jobs
from .packing import packed, unpacked
from .pictures import Pictures
from .presets import Presets
from .project_scenes import ProjectScenes
from .recent_scenes import KeptScenes
from .shown_scenes import ShownScenes
from .tables import ClipRow, Document, FontRow, Job, PictureRow, Project, Revision, SceneRow


@dataclass(frozen=True)
class Head:
    """A scene as it stands: its revision, and whether there is something to undo or redo."""

    scene: Scene
    revision: int
    project_id: str
    undo_words: str | None
    redo_words: str | None


MOST_TRIED = 64
"""Scenes of which the last trial is kept: what follows it is most often the same edit, to be kept."""
ID = re.compile(r"[A-Za-z0-9_-]{1,64}")
MOST_HEADS = 200
"""Scenes that are kept as they stand; another one is read again when it is asked for."""


@dataclass(frozen=True)
class _Tried:
    """What edits make of a scene as it stood."""

    head: Head
    assets: Assets
    edits: list[Edit]
    outcome: Outcome

    def goes_for(self, head: Head, assets: Assets, edits: list[Edit]) -> bool:
        """Whether these edits of a scene are the ones that were tried on it, and would give the same once more: what
        other scenes show may have changed meanwhile."""
        same = self.head is head and self.assets is assets and self.edits == edits
        return same and not head.scene.scenes and not self.outcome.scene.scenes


class SceneLock:
    """A lock that the thread which holds it may take again, and to which weak references can be made."""

    def __init__(self) -> None:
        self._lock = threading.RLock()

    def __enter__(self) -> None:
        self._lock.acquire()

    def __exit__(self, *_: object) -> None:
        self._lock.release()


EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[AnyEdit])


class Store:
    """Projects, scenes and media under one data folder. Safe to call from several threads."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        for name in ("media", "exports", "cache"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        self._connection = connection = Connection(folder)
        self.session, self._writing = connection.session, connection.writing
        # As long as one connection is open the log of the database stays where it is: on a full disk a new one could
        # not be made, and nothing could be read.
        self._keeper = sqlite3.connect(connection.path, check_same_thread=False)
        self._keeper.execute("SELECT count(*) FROM scene").fetchone()
        self._lock = threading.RLock()
        # Whoever holds a lock keeps it; one that nobody holds is gone.
        self._locks: WeakValueDictionary[str, SceneLock] = WeakValueDictionary()
        self._heads: OrderedDict[str, Head] = OrderedDict()
        self._tried: OrderedDict[str, _Tried] = OrderedDict()
        self._kept = KeptScenes()
        self._shown = ShownScenes(self._shown_by)
        self._assets: dict[str, Assets] = {}
        self.sounds = Sounds(folder / "cache" / "sounds")
        self.clips = Clips(connection, self._lock, self._assets)
        self.pictures = Pictures(connection, self._lock, self._assets)
        self.fonts = OwnFonts(connection, self._lock, self._assets)
        self.presets = Presets(connection)
        self.jobs = Jobs(connection)

    def _of(self, scene_id: str) -> SceneLock:
        """The lock under which one scene is changed; the others go on meanwhile."""
        with self._lock:
            found = self._locks.get(scene_id)
            if found is None:
                found = self._locks[scene_id] = SceneLock()
            return found

    # projects and scenes

    def projects(self) -> list[tuple[Project, list[SceneRow]]]:
        """Projects, newest first, with their scenes in the order in which they were made."""
        with self.session():
            found = list(Project.select().where(~Project.removed).order_by(Project.made_at.desc()))
            scenes = list(SceneRow.select().where(~SceneRow.removed).order_by(SceneRow.made_at))
        return [(project, [scene for scene in scenes if scene.project_id == project.id]) for project in found]

    def make_project(self, name: str) -> str:
        """A new, empty project; its id."""
        with self._writing():
            return str(Project.create(id=new_id(), name=name).id)

    def project(self, project_id: str) -> Project:
        """A project by its id."""
        return self._connection.project(project_id)

    def rename_project(self, project_id: str, name: str) -> Project:
        """Give a project another name."""
        with self._writing():
            if not Project.update(name=name).where(Project.id == project_id).execute():
                raise Gone("This project is not there any more.", mend="Go back to the list of projects.")
        return self.project(project_id)

    def removed(self) -> tuple[list[Project], list[tuple[SceneRow, Project]]]:
        """The projects that were removed, and the removed scenes of those that were not, with their projects."""
        with self.session():
            projects = list(Project.select().where(Project.removed).order_by(Project.made_at.desc()))
            there = {row.id: row for row in Project.select().where(~Project.removed)}
            scenes = list(SceneRow.select().where(SceneRow.removed).order_by(SceneRow.made_at.desc()))
        return projects, [(row, there[row.project_id]) for row in scenes if row.project_id in there]

    def set_removed(self, kind: type[Project] | type[SceneRow], item_id: str, removed: bool) -> None:
        """Take a project or scene out of the lists, or bring it back; nothing is erased."""
        users = self.shown_in(item_id) if kind is SceneRow and removed else []
        if users:
            more = f" and {len(users) - 1} more" if len(users) > 1 else ""
            raise Refused(
                f"This scene is shown in '{users[0]}'{more}.",
                mend="Delete the layers that show it there, then try again.",
            )
        with self._writing():
            if not kind.update(removed=removed).where(kind.id == item_id).execute():
                raise Gone("This is not there any more.")

    def make_scene(self, project_id: str, scene: Scene) -> Head:
        """Keep a new scene in a project, under a name and an id that nothing else there has."""
        self.project(project_id)
        with self._lock, self.session():
            # A document that named its scene as a file is called gets an id that an address can hold.
            if not ID.fullmatch(scene.id) or SceneRow.get_or_none(SceneRow.id == scene.id):
                scene = scene.model_copy(update={"id": new_id()})
            there = SceneRow.select(SceneRow.name).where(
                (SceneRow.project_id == project_id) & (SceneRow.removed == False)  # noqa: E712, a column
            )
            name = free_among({row.name for row in there}, scene.name)
            if name != scene.name:
                scene = scene.model_copy(update={"name": name})
            body = packed(scene)
            with self._nesting(scene.with_layers(()), scene, project_id), self._writing():
                SceneRow.create(id=scene.id, project_id=project_id, name=scene.name, head=0)
                first = self._write(scene, body, 0, None, "New scene", "[]")
        return self._remember(scene, first, project_id)

    def head(self, scene_id: str) -> Head:
        """A scene as it stands."""
        found = self._heads.get(scene_id)
        if found is not None:
            return found
        with self._of(scene_id), self.session():
            row = self._scene_row(scene_id)
            return self._remember(self._at_hand(scene_id, row.head), row.head, row.project_id)

    def _scene_row(self, scene_id: str) -> SceneRow:
        row = SceneRow.get_or_none(SceneRow.id == scene_id)
        if row is None:
            raise Gone("This scene is not there any more.", mend="Go back to the list of projects.")
        return row

    def revision(self, scene_id: str, number: int) -> Scene:
        """The document of a scene at a revision."""
        text, form = self._written(scene_id, number)
        return read_written(text.decode()) if form == schema_form() else read_scene(text)

    def document(self, scene_id: str, number: int | None = None) -> bytes:
        """The document of a scene at a revision, or as it stands, as the JSON text that was stored; not read."""
        return self._written(scene_id, number)[0]

    def _written(self, scene_id: str, number: int | None) -> tuple[bytes, str]:
        """The JSON text that was stored, and the schema that it was written by."""
        with self.session():
            if number is None:
                number = self._scene_row(scene_id).head
            query = Document.select(Document.body, Document.form).join(Revision, on=(Document.revision == Revision.id))
            row = query.where((Revision.id == number) & (Revision.scene_id == scene_id)).first()
        if row is None:
            raise Gone("This step of the scene is not there any more.")
        return unpacked(row.body), str(row.form)

    def recover(self, scene_id: str) -> Head:
        """Bring a scene that cannot be read to its last revision that can; Refused where there is none, or no need."""
        with self._of(scene_id), self.session():
            row = self._scene_row(scene_id)
            line, here = line_of(scene_id, row.head)
            for number in reversed(line[: here + 1]):
                try:
                    scene = self.revision(scene_id, number)
                except (Refused, zlib.error):
                    continue
                if number == row.head:
                    raise Refused("This scene can be read as it stands.")
                with self._nesting(scene.with_layers(()), scene, row.project_id, again=True), self._writing():
                    self._set_head(scene, row.head, number)
                return self._remember(scene, number, row.project_id)
        raise Refused("No revision of this scene can be read.", mend="Take the raw file, and correct it by hand.")

    # edits

    def try_edits(self, scene_id: str, edits: list[Edit]) -> Outcome:
        """What edits would make of a scene; nothing is kept."""
        head = self.head(scene_id)
        assets = self.assets(head.project_id)
        with self._lock:
            last = self._tried.get(scene_id)
        if last is not None and last.goes_for(head, assets, edits):
            return last.outcome
        outcome = apply_edits(head.scene, edits, assets)
        with self._lock:
            self._tried[scene_id] = _Tried(head, assets, edits, outcome)
            self._tried.move_to_end(scene_id)
            while len(self._tried) > MOST_TRIED:
                self._tried.popitem(last=False)
        return outcome

    def apply(
        self, scene_id: str, edits: list[Edit], token: str | None = None, run: str | None = None
    ) -> tuple[Head, Outcome, int]:
        """Apply edits to the newest revision, as one step, and keep the result; with a known token nothing is done.

        Where the newest revision is a step of the same `run` and of the same kind, the two become one revision. The
        third part of the answer is the revision that the edits were applied to.
        """
        with self._of(scene_id), self.session():
            head = self.head(scene_id)
            done = self._known(scene_id, token)
            if done is not None:
                whole = tuple(layer.id for layer in head.scene.layers)
                return head, Outcome(head.scene, done, (), whole), -1
            outcome = self.try_edits(scene_id, edits)
            if outcome.scene == head.scene:
                return head, outcome, head.revision
            parent, words = head.revision, outcome.words
            joined = self._joined(head, edits, run)
            if joined is not None:
                parent, edits, words = joined
                if outcome.keying:
                    # What is keyed in a pose starts from what was there before the run, not before its last step.
                    first = self._kept.get(parent) or self.revision(scene_id, parent)
                    unkeyed, keying = unkeyed_in_pose(first, outcome.scene, edits, outcome.changed)
                    outcome = replace(outcome, unkeyed=unkeyed, keying=tuple(keying))
            edits_text = json.dumps([edit.model_dump(mode="json") for edit in edits])
            body = packed(outcome.scene)
            with self._nesting(head.scene, outcome.scene, head.project_id, outcome.made), self._writing():
                for made in outcome.made:
                    if SceneRow.get_or_none(SceneRow.id == made.id):
                        raise Refused(f"A scene with the id {made.id} is there already.", mend="Leave the id out.")
                    SceneRow.create(id=made.id, project_id=head.project_id, name=made.name, head=0)
                    self._write(made, packed(made), 0, None, "New scene", "[]")
                number = self._write(outcome.scene, body, head.revision, parent, words, edits_text, token, run)
                if joined is not None and not Job.select().where(Job.revision == head.revision).exists():
                    Document.delete().where(Document.revision == head.revision).execute()
                    Revision.delete().where(Revision.id == head.revision).execute()
            return self._remember(outcome.scene, number, head.project_id), outcome, head.revision

    @contextmanager
    def _nesting(
        self, before: Scene, after: Scene, project_id: str, made: Sequence[Scene] = (), *, again: bool = False
    ) -> Iterator[None]:
        """A block in which a scene is written, and those that it was put into: where it shows more than before, no two
        such at a time, and Refused where scenes would show each other in a circle by it, or too much. What was removed
        is not shown; by a step that is taken `again` it comes back."""
        now = Shows.of(after)
        if not now.may_be_more_than(Shows.of(before)):
            yield
            return
        known = self._shown.of(project_id)
        with self._lock:
            changed = {one.id: Shows.of(one) for one in made} | {after.id: now}
            refuse_nesting_around(after.id, {**known, **changed})
            self._bring_back(after.scenes - before.scenes, again)
            yield
            known.update(changed)

    def _bring_back(self, scenes: AbstractSet[str], again: bool) -> None:
        """Before scenes come to be shown: those that were removed come back, or are Refused."""
        removed = list(SceneRow.select().where(SceneRow.id.in_(sorted(scenes)) & SceneRow.removed)) if scenes else []
        if removed and not again:
            raise Refused(
                f"'{removed[0].name}' was removed.",
                where="content.asset", mend="Bring it back on Home, or choose another scene.",
            )  # fmt: skip
        for row in removed:
            self.set_removed(SceneRow, row.id, removed=False)

    def _joined(self, head: Head, edits: list[Edit], run: str | None) -> tuple[int, list[Edit], str] | None:
        """Parent, edits and words of the newest revision and a further step of its run as one; None where they are
        two."""
        if run is None or len(edits) != 1:
            return None
        row = Revision.get_by_id(head.revision)
        if row.run != run or row.parent is None or child_of(head.scene.id, head.revision) is not None:
            return None
        before = EDITS.validate_json(row.edits)
        both = before[0].joined(edits[0]) if len(before) == 1 else None
        if both is None:
            return None
        return row.parent, [both], words_of(both, head.scene)

    def undo(self, scene_id: str) -> Head:
        """Move the head to its parent."""
        with self._of(scene_id), self.session():
            head = self.head(scene_id)
            parent = Revision.get_by_id(head.revision).parent
            if parent is None:
                raise Refused("There is nothing left to undo in this scene.")
            return self._move_head(head, parent)

    def redo(self, scene_id: str) -> Head:
        """Move the head to the newest revision that was made from it."""
        with self._of(scene_id), self.session():
            head = self.head(scene_id)
            child = child_of(scene_id, head.revision)
            if child is None:
                raise Refused("There is nothing to redo in this scene.")
            return self._move_head(head, child.id)

    def _move_head(self, head: Head, number: int) -> Head:
        scene = self._kept.get(number)
        if scene is None or scene.id != head.scene.id:
            scene = shared(self.revision(head.scene.id, number), head.scene)
        with self._nesting(head.scene, scene, head.project_id, again=True), self._writing():
            self._set_head(scene, head.revision, number)
        return self._remember(scene, number, head.project_id)

    def _set_head(self, scene: Scene, expected: int, number: int) -> None:
        """Let a scene stand at a revision; Refused where it does not stand where it was believed to."""
        query = SceneRow.update(head=number, name=scene.name)
        if not query.where((SceneRow.id == scene.id) & (SceneRow.head == expected)).execute():
            self._heads.pop(scene.id, None)
            raise Refused(
                "This scene was changed by another program that has its data folder open. Nothing of that was lost.",
                mend="Reload the page, and let only one server use the folder.",
            )

    def _known(self, scene_id: str, token: str | None) -> str | None:
        """The words of the step that a token stands for, if it was kept already."""
        if token is None:
            return None
        row = Revision.select(Revision.words).where((Revision.scene_id == scene_id) & (Revision.token == token)).first()
        return str(row.words) if row else None

    def _write(
        self, scene: Scene, body: bytes, expected: int, parent: int | None, words: str, edits: str,
        token: str | None = None, run: str | None = None,
    ) -> int:  # fmt: skip
        row = Revision.create(scene_id=scene.id, parent=parent, words=words, edits=edits, token=token, run=run)
        Document.create(revision=row.id, body=body, form=schema_form())
        self._set_head(scene, expected, row.id)
        return int(row.id)

    def _remember(self, scene: Scene, number: int, project_id: str) -> Head:
        with self.session():
            row = Revision.select(Revision.words, Revision.parent).where(Revision.id == number).get()
            child = child_of(scene.id, number)
        undo = row.words if row.parent is not None else None
        head = Head(scene, number, project_id, undo, child.words if child else None)
        with self._lock:
            self._heads[scene.id] = head
            self._heads.move_to_end(scene.id)
            while len(self._heads) > MOST_HEADS:
                self._heads.popitem(last=False)
        self._kept.keep(number, scene)
        self._shown.stands(project_id, scene)
        return head

    # history

    def history(
        self, scene_id: str, first: int | None = 0, count: int | None = None
    ) -> tuple[list[Step], int, int, int]:
        """The steps that led to where the scene stands, oldest first, and after them those that redo would take.

        Of these `count` from `first` on, or where `first` is None, the page of `count` in which the scene stands; with
        the first of them, how many there are in all, and at which of them the scene stands.
        """
        head = self.head(scene_id)
        with self.session():
            line, here = line_of(scene_id, head.revision)
            if first is None:
                first = here // count * count if count else 0
            steps = steps_of(line[first : None if count is None else first + count], head.revision)
        return steps, first, len(line), here

    def go_to(self, scene_id: str, revision: int) -> Head:
        """Move the head to any step of the scene's history."""
        with self._of(scene_id), self.session():
            return self._move_head(self.head(scene_id), revision)

    # media

    def uses(self, project_id: str) -> dict[str, list[str]]:
        """The scenes that show or play each picture, clip and scene of a project, by their names."""
        found: dict[str, list[str]] = {}
        fonts = [(row.id, json.loads(row.facts)["family"]) for row in self.fonts.rows(project_id)]
        for row in next((rows for project, rows in self.projects() if project.id == project_id), []):
            try:
                scene = self.head(row.id).scene
            except (Refused, zlib.error):
                continue
            mine = {font for font, family in fonts if family in scene.families}
            for asset in sorted(scene.pictures | scene.clips | scene.scenes | mine):
                found.setdefault(asset, []).append(scene.name)
        return found

    def families(self, project_id: str) -> set[str]:
        """The font families that the scenes of a project are set in, of those scenes that can be read."""
        scenes = self.assets(project_id).scenes
        found = (scenes.get(name) for name in self.scene_ids(project_id))
        return {family for scene in found if scene is not None for family in scene.families}

    def remove_media(self, project_id: str, asset: str, removed: bool) -> None:
        """Take a picture, clip or font that no scene uses out of the list, or bring it back. Its file stays, so that
        the history of the scenes can be walked; Refused where it is used."""
        users = self.uses(project_id).get(asset, []) if removed else []
        if users:
            more = f" and {len(users) - 1} more" if len(users) > 1 else ""
            raise Refused(f"It is used in '{users[0]}'{more}.", mend="Delete the layers that show it, then try again.")
        with self._writing():
            for kind in (PictureRow, ClipRow, FontRow):
                mine = (kind.project_id == project_id) & (kind.id == asset)
                if kind.update(removed=removed).where(mine).execute():
                    if kind is FontRow:
                        self._assets.pop(project_id, None)
                    return
        raise Gone("This picture, clip or font is not in the project any more.")

    def assets(self, project_id: str) -> Assets:
        """What the core must know of a project's media."""
        found = self._assets.get(project_id)
        if found is None:
            # Media come in under the same lock: what is kept here knows of all that there are.
            with self._lock:
                rows = self.pictures.rows(project_id)
                pictures = {row.id: PictureInfo(id=row.id, width=row.width, height=row.height) for row in rows}
                scenes = ProjectScenes(project_id, self._project_and_scene, lambda: self.scene_ids(project_id))
                found = Assets(
                    pictures, self.clips.infos(project_id), scenes, partial(self._squares, project_id),
                    fonts_of(tuple(self.fonts.faces(project_id))),
                )  # fmt: skip
                self._assets[project_id] = found
        return found

    def _squares(self, project_id: str, clip_id: str) -> Floats:
        """How loud a clip of a project is: `Assets.squares`."""
        return self.sounds.squares(self.clips.files(project_id)[clip_id])

    def _project_and_scene(self, scene_id: str) -> tuple[str, Scene]:
        """A scene as it stands; without its lock, which whoever looks for circles must not wait for."""
        head = self._heads.get(scene_id)
        if head is not None:
            return head.project_id, head.scene
        with self.session():
            row = self._scene_row(scene_id)
            return str(row.project_id), self._at_hand(scene_id, row.head)

    def _at_hand(self, scene_id: str, number: int) -> Scene:
        found = self._kept.get(number)
        if found is None:
            found = self.revision(scene_id, number)
            self._kept.keep(number, found)
        return found

    def scene_ids(self, project_id: str) -> list[str]:
        """The ids of all scenes of a project, removed ones too."""
        with self.session():
            return [str(row.id) for row in SceneRow.select(SceneRow.id).where(SceneRow.project_id == project_id)]

    def _shown_by(self, project_id: str) -> dict[str, Shows]:
        """What each scene of a project shows, of those that can be read."""
        scenes = self.assets(project_id).scenes
        found = ((name, scenes.get(name)) for name in self.scene_ids(project_id))
        return {name: Shows.of(scene) for name, scene in found if scene is not None}

    def shown_in(self, scene_id: str) -> list[str]:
        """The names of the scenes of a project, those that were removed left out, that show a scene."""
        with self.session():
            row = self._scene_row(scene_id)
            here = (SceneRow.project_id == row.project_id) & ~SceneRow.removed & (SceneRow.id != scene_id)
            others = list(SceneRow.select().where(here).order_by(SceneRow.made_at))
        scenes = self.assets(row.project_id).scenes
        return [other.name for other in others if scene_id in getattr(scenes.get(other.id), "scenes", ())]

    def media_files(self, project_id: str) -> MediaFiles:
        """Where the files of a project's pictures and clips are."""
        digests = {row.id: row.digest for row in self.pictures.rows(project_id)}
        pictures = {name: str(self.folder / "media" / f"{digest}.png") for name, digest in digests.items()}
        sounds = str(self.folder / "cache" / "sounds")
        fonts = self.fonts.faces(project_id)
        names = {row.id: row.name for row in self.pictures.rows(project_id)}
        names |= {row.id: row.name for row in self.clips.rows(project_id)}
        return MediaFiles(pictures, self.clips.files(project_id), sounds, digests, fonts, names)


def shared(scene: Scene, like: Scene) -> Scene:
    """The scene with each layer that equals one of `like` replaced by that very object, so that caches hold."""
    known = {layer.id: layer for layer in like.layers}
    layers = tuple(known[one.id] if known.get(one.id) == one else one for one in scene.layers)
    return scene.with_layers(layers)
