"""The store: every edit is one revision, written in one transaction before it is acknowledged."""

from __future__ import annotations

import json
import os
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
from ..core.easings.batch import Ease
from ..core.edits import Edit, Outcome, apply_edits, unkeyed_in_pose, words_of
from ..core.edits.any_edit import AnyEdit
from ..core.geometry.bezier import Floats
from ..core.ground.errors import Refused
from ..media.files import MediaFiles
from ..media.pictures import Picture, read_picture
from ..media.sounds import Sounds
from .clips import Clips
from .faults import DATABASE, Gone, disk_faults
from .media_rows import digest_of
from .project_scenes import ProjectScenes
from .recent_scenes import KeptScenes
from .shown_scenes import ShownScenes
from .tables import ClipRow, Document, Job, PictureRow, PresetRow, Project, Revision, SceneRow, database, open_database


@dataclass(frozen=True)
class Head:
    """A scene as it stands: its revision, and whether there is something to undo or redo."""

    scene: Scene
    revision: int
    project_id: str
    undo_words: str | None
    redo_words: str | None


@dataclass(frozen=True)
class Step:
    """A step of a scene's history: its revision, what was done in words, when, and whether the scene stands there."""

    revision: int
    words: str
    made_at: str
    here: bool


MOST_HEADS = 200
"""Scenes that are kept as they stand; another one is read again when it is asked for."""


class SceneLock:
    """A lock that the thread which holds it may take again, and to which weak references can be made."""

    def __init__(self) -> None:
        self._lock = threading.RLock()

    def __enter__(self) -> None:
        self._lock.acquire()

    def __exit__(self, *_: object) -> None:
        self._lock.release()


EASES: TypeAdapter[Ease] = TypeAdapter(Ease)
EDITS: TypeAdapter[list[AnyEdit]] = TypeAdapter(list[AnyEdit])


class Store:
    """Projects, scenes and media under one data folder. Safe to call from several threads."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        for name in ("media", "exports", "cache"):
            (folder / name).mkdir(parents=True, exist_ok=True)
        path = folder / DATABASE
        open_database(path)
        # As long as one connection is open the log of the database stays where it is: on a full disk a new one could
        # not be made, and nothing could be read.
        self._keeper = sqlite3.connect(path, check_same_thread=False)
        self._keeper.execute("SELECT count(*) FROM scene").fetchone()
        self._lock = threading.RLock()
        # Whoever holds a lock keeps it; one that nobody holds is gone.
        self._locks: WeakValueDictionary[str, SceneLock] = WeakValueDictionary()
        self._heads: OrderedDict[str, Head] = OrderedDict()
        self._kept = KeptScenes()
        self._shown = ShownScenes(self._shown_by)
        self._assets: dict[str, Assets] = {}
        self.sounds = Sounds(folder / "cache" / "sounds")
        self.clips = Clips(folder, self._lock, self.session, self._writing, self._assets)

    @contextmanager
    def session(self) -> Iterator[None]:
        """A connection of this thread's own for the time of a block."""
        if database.is_closed():
            with database.connection_context():
                yield
        else:
            yield

    @contextmanager
    def _writing(self) -> Iterator[None]:
        """One transaction; a full disk is answered in words, and nothing is half written."""
        with disk_faults(self.folder), self.session(), database.atomic("IMMEDIATE"):
            yield

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
        with self.session():
            found = Project.get_or_none(Project.id == project_id)
        if found is None:
            raise Gone("This project is not there any more.", mend="Go back to the list of projects.")
        return found

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
        """Keep a new scene in a project."""
        self.project(project_id)
        with self._lock, self.session():
            if SceneRow.get_or_none(SceneRow.id == scene.id):
                scene = scene.model_copy(update={"id": new_id()})
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
        return zlib.decompress(row.body), str(row.form)

    def recover(self, scene_id: str) -> Head:
        """Bring a scene that cannot be read to its last revision that can; Refused where there is none, or no need."""
        with self._of(scene_id), self.session():
            row = self._scene_row(scene_id)
            line, here = self._line(scene_id, row.head)
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
        return apply_edits(head.scene, edits, self.assets(head.project_id))

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
        if row.run != run or row.parent is None or self._child(head.scene.id, head.revision) is not None:
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
            child = self._child(scene_id, head.revision)
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
            child = self._child(scene.id, number)
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

    @staticmethod
    def _child(scene_id: str, number: int) -> Revision | None:
        fields = Revision.select(Revision.id, Revision.words)
        found = fields.where((Revision.scene_id == scene_id) & (Revision.parent == number))
        child: Revision | None = found.order_by(Revision.id.desc()).first()
        return child

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
            line, here = self._line(scene_id, head.revision)
            if first is None:
                first = here // count * count if count else 0
            wanted = line[first : None if count is None else first + count]
            rows: dict[int, tuple[str, str]] = {}
            for start in range(0, len(wanted), 500):
                part = wanted[start : start + 500]
                query = Revision.select(Revision.id, Revision.words, Revision.made_at).where(Revision.id.in_(part))
                rows |= {row.id: (row.words, row.made_at.isoformat()) for row in query}
        steps = [Step(number, *rows[number], number == head.revision) for number in wanted]
        return steps, first, len(line), here

    @staticmethod
    def _line(scene_id: str, head: int) -> tuple[list[int], int]:
        """The revisions from the first to the head, and on to the newest made from it; and the place of the head."""
        up = database.execute_sql(
            "WITH RECURSIVE up (id, parent) AS (SELECT id, parent FROM revision WHERE id = ? UNION ALL"
            " SELECT r.id, r.parent FROM revision r JOIN up ON r.id = up.parent) SELECT id FROM up",
            (head,),
        ).fetchall()
        down = database.execute_sql(
            "WITH RECURSIVE down (id) AS (VALUES (?) UNION ALL SELECT (SELECT max(c.id) FROM revision c"
            " WHERE c.scene_id = ? AND c.parent = down.id) AS child FROM down WHERE child IS NOT NULL)"
            " SELECT id FROM down WHERE id IS NOT NULL",
            (head, scene_id),
        ).fetchall()
        return [number for (number,) in reversed(up)] + [number for (number,) in down[1:]], len(up) - 1

    def go_to(self, scene_id: str, revision: int) -> Head:
        """Move the head to any step of the scene's history."""
        with self._of(scene_id), self.session():
            return self._move_head(self.head(scene_id), revision)

    # presets

    def presets(self, project_id: str) -> dict[str, Ease]:
        """A project's own easings by name."""
        self.project(project_id)
        with self.session():
            rows = list(PresetRow.select().where(PresetRow.project_id == project_id).order_by(PresetRow.name))
        return {row.name: EASES.validate_json(row.ease) for row in rows}

    def keep_preset(self, project_id: str, name: str, ease: Ease | None) -> None:
        """Keep an easing under a name, in place of one that had it; None takes it away."""
        self.project(project_id)
        with self._writing():
            PresetRow.delete().where((PresetRow.project_id == project_id) & (PresetRow.name == name)).execute()
            if ease is not None:
                ease_text = EASES.dump_json(ease).decode()
                PresetRow.create(project_id=project_id, name=name, ease=ease_text)

    # media

    def add_picture(self, project_id: str, name: str, data: bytes) -> PictureRow:
        """Take a picture into a project; the same file twice is one picture."""
        self.project(project_id)
        with disk_faults(self.folder), read_picture(data, name, self.folder / "media") as picture:
            return self.keep_picture(project_id, name, picture)

    def keep_picture(self, project_id: str, name: str, picture: Picture) -> PictureRow:
        """Keep a decoded picture; its file is moved to its place."""
        digest = digest_of(picture.file)
        with self._lock, self.session():
            same = (PictureRow.project_id == project_id) & (PictureRow.digest == digest)
            there = PictureRow.get_or_none(same)
            if there is not None:
                if there.removed:
                    with self._writing():
                        there.removed = False
                        there.save()
                return there
            with disk_faults(self.folder):
                move_whole(picture.file, self.folder / "media" / f"{digest}.png")
            with self._writing():
                row = PictureRow.create(
                    id=new_id(), project_id=project_id, name=name[:200] or "Picture", digest=digest,
                    width=picture.width, height=picture.height,
                )  # fmt: skip
            self._assets.pop(project_id, None)
        return row

    def pictures(self, project_id: str) -> list[PictureRow]:
        """The pictures of a project."""
        with self.session():
            return list(PictureRow.select().where(PictureRow.project_id == project_id).order_by(PictureRow.made_at))

    def picture_file(self, picture_id: str) -> Path:
        """Where a picture's PNG file is."""
        with self.session():
            row = PictureRow.get_or_none(PictureRow.id == picture_id)
        if row is None:
            raise Gone("This picture is not there any more.")
        path = self.folder / "media" / f"{row.digest}.png"
        if not path.is_file():
            raise Gone(f"The file of the picture '{row.name}' is missing.", mend="Add the picture again.")
        return path

    def uses(self, project_id: str) -> dict[str, list[str]]:
        """The scenes that show or play each picture, clip and scene of a project, by their names."""
        found: dict[str, list[str]] = {}
        for row in next((rows for project, rows in self.projects() if project.id == project_id), []):
            try:
                scene = self.head(row.id).scene
            except (Refused, zlib.error):
                continue
            for asset in sorted(scene.pictures | scene.clips | scene.scenes):
                found.setdefault(asset, []).append(scene.name)
        return found

    def remove_media(self, project_id: str, asset: str, removed: bool) -> None:
        """Take a picture or clip that no scene uses out of the list, or bring it back. Its file stays, so that the
        history of the scenes can be walked; Refused where it is used."""
        users = self.uses(project_id).get(asset, []) if removed else []
        if users:
            more = f" and {len(users) - 1} more" if len(users) > 1 else ""
            raise Refused(f"It is used in '{users[0]}'{more}.", mend="Delete the layers that show it, then try again.")
        with self._writing():
            for kind in (PictureRow, ClipRow):
                mine = (kind.project_id == project_id) & (kind.id == asset)
                if kind.update(removed=removed).where(mine).execute():
                    return
        raise Gone("This picture or clip is not in the project any more.")

    def assets(self, project_id: str) -> Assets:
        """What the core must know of a project's media."""
        found = self._assets.get(project_id)
        if found is None:
            # Media come in under the same lock: what is kept here knows of all that there are.
            with self._lock:
                rows = self.pictures(project_id)
                pictures = {row.id: PictureInfo(id=row.id, width=row.width, height=row.height) for row in rows}
                scenes = ProjectScenes(project_id, self._project_and_scene, lambda: self._scene_ids(project_id))
                found = Assets(pictures, self.clips.infos(project_id), scenes, partial(self._squares, project_id))
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

    def _scene_ids(self, project_id: str) -> list[str]:
        with self.session():
            return [str(row.id) for row in SceneRow.select(SceneRow.id).where(SceneRow.project_id == project_id)]

    def _shown_by(self, project_id: str) -> dict[str, Shows]:
        """What each scene of a project shows, of those that can be read."""
        scenes = self.assets(project_id).scenes
        found = ((name, scenes.get(name)) for name in self._scene_ids(project_id))
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
        pictures = {row.id: str(self.folder / "media" / f"{row.digest}.png") for row in self.pictures(project_id)}
        return MediaFiles(pictures, self.clips.files(project_id), str(self.folder / "cache" / "sounds"))

    # jobs

    def jobs(self, scene_id: str | None = None) -> list[Job]:
        """Export jobs, newest first."""
        with self.session():
            found = Job.select() if scene_id is None else Job.select().where(Job.scene_id == scene_id)
            return list(found.order_by(Job.made_at.desc()))

    def job(self, job_id: str) -> Job:
        """An export job."""
        with self.session():
            found = Job.get_or_none(Job.id == job_id)
        if found is None:
            raise Gone("This export is not there any more.")
        return found

    def make_job(self, **fields: object) -> Job:
        """Keep a new job."""
        with self._writing():
            return Job.create(id=new_id(), **fields)

    def update_job(self, job_id: str, **fields: object) -> None:
        """Change fields of a job."""
        with self._writing():
            Job.update(**fields).where(Job.id == job_id).execute()


def packed(scene: Scene) -> bytes:
    """A document as it is stored; a long one is packed fast rather than small."""
    text = scene.to_json().encode()
    return zlib.compress(text, 6 if len(text) < 2**20 else 1)


def shared(scene: Scene, like: Scene) -> Scene:
    """The scene with each layer that equals one of `like` replaced by that very object, so that caches hold."""
    known = {layer.id: layer for layer in like.layers}
    layers = tuple(known[one.id] if known.get(one.id) == one else one for one in scene.layers)
    return scene.with_layers(layers)


def move_whole(source: Path, path: Path) -> None:
    """Move a file of the same disk so that it is there whole or not at all."""
    with source.open("rb") as file:
        os.fsync(file.fileno())
    source.replace(path)
