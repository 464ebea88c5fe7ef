"""Projects as files: packed, opened again, merged, compared; backups that are restored."""

from __future__ import annotations

import io
import json
import os
import shutil
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema_rs
import pytest
from PIL import Image

from mudskipper.core.contents.text_style import TextStyle
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits.values_and_keys import SetProperty
from mudskipper.core.ground.errors import Refused
from mudskipper.opened import open_at
from mudskipper.store import pack as packing
from mudskipper.store.backup import back_up, restore
from mudskipper.store.bringing import bring
from mudskipper.store.pack import opened_pack, pack, told_apart, unpack
from mudskipper.store.presets import KeptColour, KeptStyle
from mudskipper.store.store import Store
from tests.conftest import layer, scene


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory, filled: Callable[[Path], Path]) -> Store:
    return Store(filled(tmp_path_factory.mktemp("data")))


@pytest.fixture(scope="module")
def packed(demo: Store, tmp_path_factory: pytest.TempPathFactory) -> Path:
    out = tmp_path_factory.mktemp("packed") / "week.zip"
    pack(demo, project_of(demo), out)
    return out


def project_of(store: Store) -> str:
    return str(store.projects()[0][0].id)


def scenes_of(store: Store, project: str) -> dict[str, Scene]:
    return {one.name: one for one in (store.head(name).scene for name in store.scene_ids(project))}


def test_a_packed_project_opens_as_it_was(demo: Store, packed: Path, tmp_path: Path) -> None:
    """Scenes paint the same pixels; media by their digests; what is kept under names; the schemas hold."""
    with zipfile.ZipFile(packed) as files:
        manifest = json.loads(files.read("manifest.json"))
        for name, part in (("manifest", manifest), ("scene", json.loads(files.read(manifest["scenes"][0]["file"])))):
            schema = json.loads(files.read(f"schemas/{name}.schema.json"))
            assert list(jsonschema_rs.Draft202012Validator(schema).iter_errors(part)) == []
        assert all(one["sha256"] in one["file"] for one in manifest["media"])
    fresh = Store(tmp_path)
    project, said, _ = unpack(fresh, packed)
    assert fresh.project(project).name == "Low Tide Week"
    was, now = scenes_of(demo, project_of(demo)), scenes_of(fresh, project)
    assert sorted(now) == sorted(was)
    assert len(said) == len(was)
    assert fresh.presets.of(project, "colour") == demo.presets.of(project_of(demo), "colour")
    here, there = (open_at(one).project("Low Tide Week") for one in (demo, fresh))
    for name in ("Opener", "Harbour window", "Festival titles", "Harbour at dusk"):
        frame = was[name].length // 2
        assert (here.scene(name).paint(frame) == there.scene(name).paint(frame)).all(), name
    # Once more: nothing is taken twice, and what was changed meanwhile comes in beside it.
    counts = [len(fresh.pictures.rows(project)), len(fresh.clips.rows(project)), len(fresh.fonts.rows(project))]
    again = unpack(fresh, packed, project).said
    assert all("is there already" in one for one in again)
    assert counts == [len(fresh.pictures.rows(project)), len(fresh.clips.rows(project)), len(fresh.fonts.rows(project))]
    assert len(fresh.scene_ids(project)) == len(was)


@pytest.mark.thorough
def test_merging_keeps_both_and_differences_are_told(demo: Store, packed: Path, tmp_path: Path) -> None:
    """A scene that was changed comes in under a free name; the differences name the layer, and what of it."""
    fresh = Store(tmp_path)
    project = unpack(fresh, packed).project
    pack(fresh, project, tmp_path / "before.zip")
    opener = scenes_of(fresh, project)["Opener"]
    layer = opener.layers[-1]
    edit = {"edit": "set_property", "layer": layer.id, "property": "rotation", "value": 12.5, "frame": 0}
    fresh.apply(opener.id, [SetProperty.model_validate(edit)])
    pack(fresh, project, tmp_path / "later.zip")
    with opened_pack(tmp_path / "before.zip") as one, opened_pack(tmp_path / "later.zip") as other:
        told = told_apart(one, other)
        assert told_apart(one, one) == []
    assert told == [f"“Opener”: “{layer.name}” has another rotation."]
    # Into the project that it came from: all but the one scene are there as they are.
    mine = demo.make_project("Merged")
    unpack(demo, packed, mine)
    count = len(demo.scene_ids(mine))
    said = unpack(demo, tmp_path / "later.zip", mine).said
    assert [one for one in said if "is there already" not in one] == ["“Opener”, now “Opener 2”: 6 layers."]
    assert len(demo.scene_ids(mine)) == count + 1


@pytest.mark.parametrize(
    ("spoil", "told"),
    [
        ({"../outside.json": "{}"}, "lies outside of it"), ({"a\\\\b": "x"}, "lies outside of it"),
        ({"manifest.json": json.dumps({"format": "mudskipper.project/9"})}, "written by a later Mudskipper"),
        ({"manifest.json": json.dumps({"format": "other"})}, "no project of Mudskipper"),
        ({"manifest.json": "{"}, "manifest cannot be read"), ({"bomb": "0" * (65 * 2**20)}, "beyond all measure"),
        ({"media": b"other bytes"}, "is another than its manifest says"), ({"scene": "{}"}, "scenes/"),
    ],
)  # fmt: skip
def test_wrong_files_leave_nothing_behind(packed: Path, tmp_path: Path, spoil: dict[str, Any], told: str) -> None:
    """A path outside, a bomb, a later version, another file's bytes, a broken scene: a sentence, and no project."""
    ((name, data),) = spoil.items()
    with zipfile.ZipFile(packed) as files, zipfile.ZipFile(tmp_path / "bad.zip", "w", zipfile.ZIP_DEFLATED) as bad:
        manifest = json.loads(files.read("manifest.json"))
        place = {"media": manifest["media"][0]["file"], "scene": manifest["scenes"][0]["file"]}.get(name, name)
        for part in files.namelist():
            if part != place and (not part.startswith("media/") or name == "media"):
                bad.writestr(part, files.read(part))
        bad.writestr(place, data)
    store = Store(tmp_path / "data")
    with pytest.raises(Refused, match=told):
        unpack(store, tmp_path / "bad.zip")
    assert store.projects() == []
    assert list((tmp_path / "data" / "media").iterdir()) == []
    for broken in (b"", b"PK\x03\x04", packed.read_bytes()[:5000]):
        (tmp_path / "broken.zip").write_bytes(broken)
        with pytest.raises(Refused, match="no project of Mudskipper"):
            unpack(store, tmp_path / "broken.zip")


def test_a_full_disk_leaves_no_half_file(demo: Store, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*_: Any, **__: Any) -> None:
        raise OSError(28, "No space left on device")

    (tmp_path / "week.zip").write_bytes(b"the one before")
    monkeypatch.setattr(packing.zipfile.ZipFile, "write", full)
    with pytest.raises((Refused, OSError)):
        pack(demo, project_of(demo), tmp_path / "week.zip")
    assert [one.name for one in tmp_path.iterdir()] == ["week.zip"]
    assert (tmp_path / "week.zip").read_bytes() == b"the one before"


def test_what_a_killed_process_left_goes_with_the_next_file(tmp_path: Path) -> None:
    """Of the same name alone, and not of a process that still runs."""
    dead = subprocess.run([sys.executable, "-c", "import os; print(os.getpid())"], capture_output=True, check=True)
    kept = [tmp_path / f"week.zip.{os.getppid()}.part", tmp_path / f"other.zip.{int(dead.stdout)}.part"]
    for path in (*kept, tmp_path / f"week.zip.{int(dead.stdout)}.part"):
        path.touch()
    pack(store := Store(tmp_path / "data"), store.make_project("Week"), tmp_path / "week.zip")
    assert sorted(tmp_path.glob("*.zip*")) == sorted([*kept, tmp_path / "week.zip"])


def test_a_backup_is_restored(demo: Store, tmp_path: Path) -> None:
    """Into an empty folder, or in place of another that is kept; one that does not hold is refused."""
    back_up(demo.folder, tmp_path / "backup")
    assert restore(tmp_path / "backup", tmp_path / "one") is None
    assert sorted(scenes_of(Store(tmp_path / "one"), project_of(demo))) == sorted(scenes_of(demo, project_of(demo)))
    with pytest.raises(Refused, match="something in the data folder"):
        restore(tmp_path / "backup", tmp_path / "one")
    aside = restore(tmp_path / "backup", tmp_path / "one", replace=True)
    assert (aside is not None and (aside / "mudskipper.db").is_file()) or aside is not None
    shutil.rmtree(tmp_path / "backup" / "media")
    with pytest.raises(Refused, match="does not hold"):
        restore(tmp_path / "backup", tmp_path / "two")
    assert not (tmp_path / "two").exists()


def test_layers_are_brought_with_the_styles_and_colours_that_they_follow(tmp_path: Path) -> None:
    """Kept once in the other project, under a name that is free there; what they do not follow stays behind."""
    store = Store(tmp_path)
    here, there = store.make_project("Here"), store.make_project("There")
    look = TextStyle.model_validate({"size": 40})
    for project, name, kind, value in (
        (here, "Title", "style", KeptStyle(id="title", look=look)),
        (here, "Aside", "style", KeptStyle(id="aside", look=look)),
        (here, "Sea", "colour", KeptColour(id="sea", colour="#0e6b61ff")),
        (there, "Title", "style", KeptStyle(id="other", look=look)),
    ):  # fmt: skip
        store.presets.keep(project, kind, name, value)  # type: ignore[arg-type]
    fill = {"rest": "#0e6b61ff", "named": "sea"}
    words = layer("Words", content={"kind": "text", "text": "Low tide", "style": "title", "fill": fill})
    layers = scene(words).layers
    for _ in range(2):
        assert bring(store, layers, here, there)[0].content.style == "title"  # type: ignore[union-attr]
    styles = {name: one.id for name, one in store.presets.of(there, "style").items()}
    assert styles == {"Title": "other", "Title 2": "title"}
    assert [one.id for one in store.presets.of(there, "colour").values()] == ["sea"]


def test_what_fills_slots_goes_along(tmp_path: Path) -> None:
    """Scenes that are packed alone, and layers that are brought: with the media that fill the slots of what they show,
    and those that rows of a table name, under the ids that these have there."""
    store = Store(tmp_path / "one")
    project, other = store.make_project("One"), store.make_project("Two")
    ids = {}
    for name, colour in (("shell", "red"), ("gull", "blue"), ("crab", "green"), ("sand", "tan")):
        data = io.BytesIO()
        Image.new("RGB", (8, 6), colour).save(data, "PNG")
        ids[name] = str(store.pictures.add(project, f"{name}.png", data.getvalue()).id)
    slot = {"id": "face", "name": "Face", "places": [{"layer": "face", "path": "content.asset"}]}
    rows = [{"cells": [{"slot": "face", "text": "Crab.png"}]}]
    face = layer("Face", content={"kind": "picture", "asset": ids["shell"]})
    inner = store.make_scene(project, scene(face, id="card", name="Card", slots=[slot], rows=rows)).scene
    fills = [{"slot": "face", "value": ids["gull"], "medium": "picture"}]
    use = layer("Use", content={"kind": "scene", "asset": inner.id, "fills": fills})
    outer = store.make_scene(project, scene(use, id="outer", name="Outer")).scene
    assert (outer.pictures, store.uses(project)[ids["gull"]]) == ({ids["gull"]}, ["Outer"])
    with pytest.raises(Refused, match="used in 'Outer'"):
        store.remove_media(project, ids["gull"], True)
    manifest = pack(store, project, tmp_path / "outer.zip", (outer.id,))
    assert sorted(one.name for one in manifest.media) == ["crab.png", "gull.png", "shell.png"]
    (brought,) = bring(store, outer.layers, project, other)
    (fill,) = brought.content.filled
    assert {row.id: row.name for row in store.pictures.rows(other)}[fill.value] == "gull.png"
    assert str(fill.value) in store.assets(other).pictures
    assert fill.value != ids["gull"]
    fresh = Store(tmp_path / "fresh")
    there = unpack(fresh, tmp_path / "outer.zip").project
    (now,) = scenes_of(fresh, there)["Outer"].layers
    assert str(now.content.filled[0].value) in fresh.assets(there).pictures
    assert scenes_of(fresh, there)["Card"].rows == inner.rows
