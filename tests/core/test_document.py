"""The document: what is refused, in which words, and what is read back."""

from __future__ import annotations

import ast
import doctest
import importlib
import json
import os
import pkgutil
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mudskipper import core
from mudskipper.core.contents import CONTENTS
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import read_scene, read_written
from mudskipper.core.document.scene import SCHEMA, Scene
from mudskipper.core.easings import EASINGS
from mudskipper.core.edits import EDITS
from mudskipper.core.ground.errors import Refused
from mudskipper.core.recipes import RECIPES
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.shapes import SHAPES
from mudskipper.demo.low_tide_week import opener, tide_gauge
from tests.conftest import layer, scene
from tests.toys import installed

ROOT = Path(__file__).resolve().parents[2] / "mudskipper"
TEXT = {"kind": "text", "text": "Low tide"}


def keyed(*keys: dict[str, Any]) -> dict[str, Any]:
    return {"rest": 0, "keys": list(keys)}


@pytest.mark.parametrize(
    ("change", "told"),
    [
        ({"wdith": 3}, "wdith is a field that is not known here"),
        ({"width": "640"}, "width must be a whole number (given: '640')"),
        ({"width": 0}, "width"),
        ({"schema": "mudskipper.scene/9"}, "schema must be 'mudskipper.scene/3'"),
        ({"frame_rate": [0, 1]}, "frame_rate[0]"),
        ({"layers": [layer(), layer()]}, "two layers have the id 'plate'"),
        ({"layers": [layer(span={"start": 0, "length": 0})]}, "layers[0].span.length"),
        (
            {"layers": [layer(content={**TEXT, "font": {"family": ""}})]},
            "content.font.family",
        ),
        ({"layers": [layer(content={**TEXT, "text": " \n"})]}, "content.text a text needs at least one character"),
        ({"layers": [layer(opacity=130)]}, "opacity an opacity in percent must lie between 0 and 100, but rest is 130"),
        ({"layers": [layer(rotation=1e300)]}, "layers[0].rotation.rest"),
        ({"layers": [layer(rotation=float("nan"))]}, "layers[0].rotation.rest must be a finite number"),
        (
            {"layers": [layer(rotation=keyed({"frame": 9, "value": 1}, {"frame": 4, "value": 2}))]},
            "keys must stand in order",
        ),
        (
            {"layers": [layer(rotation=keyed({"frame": 9, "value": 1}, {"frame": 9, "value": 2}))]},
            "frame 9 stands twice",
        ),
        (
            {"layers": [layer(rotation=keyed({"frame": 9, "value": 1, "ease": {"bezier": [2, 0, 1, 1]}}))]},
            "keys[0].ease",
        ),
        (
            {"layers": [layer(rotation={"rest": 0, "keys": [{"frame": i, "value": 0} for i in range(10_001)]})]},
            "at most 10,000",
        ),
        (
            {"layers": [layer(content={"kind": "shape", "items": [{"shape": "rectangle", "size": [-1, 4]}]})]},
            "size in pixels",
        ),
        (
            {"layers": [layer(content={"kind": "shape", "items": [{"shape": "star", "size": 3}]})]},
            "scene: layers[0].content.items[0].size.rest must be a list (given: 3). Nothing",
        ),
        (
            {"layers": [layer(content={"kind": "shape", "items": [{"shape": "blob", "size": [9, 9]}]})]},
            "items[0] is of the kind blob, which is not known; the kinds are 'rectangle', 'ellipse'",
        ),
        (
            {"layers": [layer(rotation=keyed({"frame": 9, "value": 1, "ease": {"spring": {"response": -1}}}))]},
            "scene: layers[0].rotation.keys[0].ease.spring.response must be at least 0.02 (given: -1). Nothing",
        ),
        (
            {"layers": [layer(rotation=keyed({"frame": 9, "value": 1, "ease": "wobble"}))]},
            "layers[0].rotation.keys[0].ease must be 'linear', 'hold',",
        ),
        (
            {"layers": [layer(position={"x": {"rest": 1}, "y": {"rest": "k"}})]},
            "scene: layers[0].position.y.rest must be a number (given: 'k'). Nothing",
        ),
        (
            {
                "layers": [
                    layer(
                        content={
                            "kind": "shape",
                            "items": [
                                {"shape": "star", "size": [9, 9], "fill": {"gradient": "linear", "stops": [{"at": 0}]}}
                            ],
                        }
                    )
                ]
            },
            "items[0].fill.stops[0].colour is missing. Nothing",
        ),
        ({"background": "reddish"}, "a colour must be written #rrggbb"),
    ],
)
def test_a_wrong_document_is_refused_with_its_place(change: dict[str, Any], told: str) -> None:
    data = {"schema": SCHEMA, "name": "Test", "width": 640, "height": 360, "length": 60} | change
    with pytest.raises(Refused) as refusal:
        read_scene(json.dumps(data), "wrong.json")
    assert str(refusal.value).startswith("wrong.json: ")
    # What is wrong is one thing, and nothing is said of all that it might have been.
    assert told.removeprefix("scene: ") in str(refusal.value)
    assert not told.startswith("scene: ") or str(refusal.value).count(";") == 0


@pytest.mark.parametrize(
    "first",
    [
        "web.app",
        *(
            pytest.param(one, marks=pytest.mark.thorough)
            for one in ("core.easings.batch", "core.shapes", "core.edits", "export.render")
        ),
    ],
)
def test_kinds_of_other_packages_are_found_whatever_is_imported_first(first: str, tmp_path: Path) -> None:
    """By their entry points, in a process of its own; one that cannot be loaded is told, and the others are there."""
    packages = installed(tmp_path / "packages")
    broken = packages / "broken-1.0.dist-info"
    broken.mkdir()
    (broken / "METADATA").write_text("Metadata-Version: 2.1\nName: broken\nVersion: 1.0\n")
    (broken / "entry_points.txt").write_text("[mudskipper.shapes]\nnone = nowhere:Nothing\n")
    program = f"""
import mudskipper.{first}
from mudskipper.core.document.read import scene_of
from mudskipper.core.easings.text import read_ease
from mudskipper.core.edits.any_edit import AnyEdit
from mudskipper.export.writers import FORMATS
from pydantic import TypeAdapter
kite = {{"shape": "kite", "size": [9, 9], "waist": 40.0}}
made = scene_of({{"schema": "{SCHEMA}", "name": "A", "width": 9, "height": 9, "length": 9, "layers": [
    {{"name": "A", "span": {{"start": 0, "length": 9}}, "content": {{"kind": "shape", "items": [kite]}}}}]}})
TypeAdapter(AnyEdit).validate_python({{"edit": "shout", "layer": "a"}})
print(type(made.layers[0].content.items[0]).__name__, type(read_ease("late(0.5)")).__name__, *FORMATS)
"""
    environment = {**os.environ, "PYTHONPATH": os.pathsep.join([str(packages), str(ROOT.parent)])}
    done = subprocess.run([sys.executable, "-c", program], env=environment, capture_output=True, text=True, check=True)
    assert done.stdout.split()[:2] == ["Kite", "Late"]
    assert done.stdout.split()[-2:] == ["means", "names"]
    assert "'none' of mudskipper.shapes could not be loaded from nowhere:Nothing" in done.stderr


def test_text_that_is_no_json_says_where() -> None:
    with pytest.raises(Refused, match="line 2, column 3"):
        read_scene(b"{\n  oops}")


@pytest.mark.parametrize("made", [opener("picture1"), tide_gauge()], ids=["opener", "tide gauge"])
def test_a_document_reads_back_as_itself(made: Scene) -> None:
    assert read_scene(made.to_json()) == made
    schema = json.loads(json.dumps(Scene.model_json_schema(by_alias=True)))
    assert set(schema["properties"]) == set(json.loads(made.to_json()))


def test_text_is_set_by_its_font() -> None:
    """Two lines, centred: the box is as wide as the wider line, and tracking widens it by its gaps alone."""
    plain = {"kind": "text", "text": "Tide\nat the jetty", "align": "centre", "size": 100, "line_height": 150}
    wide = plain | {"tracking": 50}
    resolved = resolve(scene(layer("A", content=plain), layer("B", content=wide)), [0], NO_MEDIA).layers
    left, top, width, height = resolved["a"].box[0]
    assert (top, height) == (0, 300)
    assert left == pytest.approx(-width / 2)
    gaps = len("at the jetty") - 1
    assert resolved["b"].box[0][2] - width == pytest.approx(gaps * 0.05 * 100)


def test_layers_are_resolved_for_the_asked_frames_only() -> None:
    """A slice resolves as the slice of the whole; a layer that reads no other is alone what it is among all."""
    made = tide_gauge()
    whole = resolve(made, np.arange(175), NO_MEDIA)
    part = resolve(made, np.arange(40, 90), NO_MEDIA)
    alone = resolve(made.with_layers(made.layers[5:6]), np.arange(175), NO_MEDIA)
    for name, one in part.layers.items():
        assert np.array_equal(
            np.broadcast_to(whole.layers[name].matrix, (175, 6))[40:90], np.broadcast_to(one.matrix, (50, 6))
        )
    only = made.layers[5].id
    assert np.array_equal(alone.layers[only].matrix, whole.layers[only].matrix)


def test_imports_point_one_way() -> None:
    """core <- paint, media, readers <- store, export <- web, cli; the core imports its own packages only."""
    ranks = {
        "core": 0,
        "paint": 1,
        "media": 1,
        "readers": 1,
        "fonts": 1,
        "store": 2,
        "export": 2,
        "demo": 3,
        "starters": 3,
        "web": 4,
        "bench": 4,
        "cli": 5,
    }
    parsers = {"tinycss2", "uharfbuzz", "fontTools", "regex", "bidi", "unicode_segmentation_rs", "pathops"}
    allowed = {"pydantic_core", "numpy", "pydantic", "mudskipper", *parsers}
    import sys

    for path in ROOT.rglob("*.py"):
        inside = path.relative_to(ROOT).with_suffix("").parts
        if len(inside) == 1 and inside[0] not in ranks:
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom) and node.level:
                base = ("mudskipper", *inside[:-1])[: len(inside) + 1 - node.level]
                target = (*base, *(node.module or "").split("."))[1:2] or (node.names[0].name,)
                target = target if target[0] else (node.names[0].name,)
                assert ranks.get(target[0], 0) <= ranks[inside[0]], f"{path} imports {target[0]}"
            elif inside[0] == "core" and isinstance(node, ast.Import | ast.ImportFrom):
                names = [node.module or ""] if isinstance(node, ast.ImportFrom) else [a.name for a in node.names]
                for name in names:
                    top = name.split(".")[0]
                    assert top in allowed or top in sys.stdlib_module_names, f"{path} imports {name}"


FLOORS = [
    {"api", "theme"}, {"parts", "paint"}, {"geometry"}, {"state"}, {"document"}, {"session"}, {"play"}, {"acts"},
    {"fields", "keys"}, {"formula", "slots"}, {"easing", "kinds"},
    {"compare", "variants", "stage", "lanes", "poses", "shelf", "history", "export", "checks"},
    {"panel", "titles", "find"}, {"main", "home", "player"}, {"main.tsx"},
]  # fmt: skip
"""The folders of the front end from the lowest floor up; those on one floor know nothing of each other."""


def test_the_map_names_every_file() -> None:
    """`docs/files.md` has a line for each file of the core, the front end and the rest of the server, and for none that
    is gone; files of a comment alone may be left out."""
    text = (ROOT.parent / "docs" / "files.md").read_text()
    named = set(re.findall(r"^\| `([^`]+\.[a-z]+)` \|", text, re.MULTILINE))
    front = ROOT.parent / "frontend" / "src"
    rest = [path for path in ROOT.rglob("*.py") if path.relative_to(ROOT).parts[0] != "core"]
    files = {str(path.relative_to(ROOT / "core")) for path in (ROOT / "core").rglob("*.py")}
    files |= {str(path.relative_to(front)) for path in front.rglob("*.ts*")}
    files |= {str(path.relative_to(ROOT)) for path in rest}
    bare = [path for path in ROOT.rglob("__init__.py") if len(ast.parse(path.read_text()).body) <= 1]
    bare_names = {
        str(path.relative_to(root)) for path in bare for root in (ROOT, ROOT / "core") if root in path.parents
    }
    assert files - named <= bare_names | {"__init__.py", "api/schema.d.ts"}
    assert named <= files
    told = set(re.findall(r"`([\w/]+\.(?:py|tsx?))`", text))
    assert {name for name in told if not any((root / name).is_file() for root in (ROOT, ROOT / "core", front))} == set()


def test_the_docs_name_every_edit() -> None:
    text = (ROOT.parent / "docs" / "edits.md").read_text()
    assert [name for kind in EDITS if f"`{(name := kind.model_fields['edit'].default)}`" not in text] == []


def edit_rows() -> list[str]:
    """The rows of the map's table of edits: each with what it does, where it is made, and what in the page sends it."""
    front = ROOT.parent / "frontend" / "src"
    pages = {str(path.relative_to(front)): path.read_text() for path in front.rglob("*.ts*")}
    del pages["api/schema.d.ts"]
    rows = []
    for kind in EDITS:
        name = kind.model_fields["edit"].default
        senders = sorted(page for page, text in pages.items() if f'"{name}"' in text)
        does = re.split(r"[.;:] ", " ".join((kind.__doc__ or "").split()).rstrip(".") + ". ")[0]
        made = f"`edits/{kind.__module__.rpartition('.')[2]}.py`"
        rows.append(f"| `{name}` | {does} | {made} | {', '.join(f'`{page}`' for page in senders) or '—'} |")
    return sorted(rows)


def test_the_map_tells_where_each_edit_is_made_and_sent() -> None:
    text = (ROOT.parent / "docs" / "files.md").read_text()
    rows = [line for line in text.splitlines() if re.match(r"\| `[a-z_]+` \| .*\| `edits/", line)]
    assert rows == edit_rows(), "The table of edits in docs/files.md is to be:\n" + "\n".join(edit_rows())


def test_front_end_imports_point_one_way() -> None:
    root = ROOT.parent / "frontend" / "src"
    ranks = {name: rank for rank, names in enumerate(FLOORS) for name in names}
    seen = 0
    for path in [one for suffix in ("ts", "tsx") for one in root.rglob(f"*.{suffix}")]:
        mine = path.relative_to(root).parts[0]
        for spec in re.findall(r'(?:from|import\() ?"(\.[^"]+)"', path.read_text()):
            other = (path.parent / spec).resolve().relative_to(root).parts[0]
            assert other == mine or ranks[other] < ranks[mine], f"{path.relative_to(root)} imports {spec}"
            seen += 1
    assert seen > 500


@pytest.mark.parametrize("name", ["Plain", ',"layers":[', '\\",\\"layers\\":[{}]', "]}", "Żabka\n—"])
def test_what_was_written_is_read_with_its_text(name: str) -> None:
    """A document that this version wrote is read as any other is, and each layer keeps the text it has in it."""
    turned = {"rest": 1e-7, "keys": [{"frame": 0.1, "value": -0.0}]}
    made = scene(layer("A") | {"name": name}, layer("B", rotation=turned), name=name)
    text = made.to_json()
    written, other = read_written(text), read_scene(text)
    assert written == other == made
    assert [one.__dict__["json_text"] for one in written.layers] == [
        one.model_dump_json(by_alias=True) for one in made.layers
    ]
    assert written.to_json() == text
    assert read_written(made.with_layers(()).to_json()) == made.with_layers(())
    assert read_written(json.dumps(json.loads(text), indent=1)) == made
    with pytest.raises(Refused, match="width must be at least 1"):
        read_written(text.replace('"width":640', '"width":-4'))
    for cut in range(0, len(text), 7):
        with pytest.raises(Refused):
            read_written(text[:cut])


def test_kinds_are_asked_and_not_told_apart() -> None:
    """No `isinstance` over kinds of shape, content, easing or recipe is left outside of their own folders: each kind
    answers for itself."""
    names = {kind.__name__ for kind in (*SHAPES, *CONTENTS, *EASINGS, *RECIPES)}
    folders = {"shapes", "contents", "easings", "recipes", "checks", "writers"}
    found = set()
    for path in ROOT.rglob("*.py"):
        if path.parent.name in folders:
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "isinstance":
                found |= {(path.name, part.id) for part in ast.walk(node.args[1]) if getattr(part, "id", "") in names}
    assert found == set()


def test_examples_in_docstrings_hold() -> None:
    """What the documentation of the core shows is what it does."""
    names = [one.name for one in pkgutil.walk_packages(core.__path__, "mudskipper.core.")]
    found = [doctest.testmod(importlib.import_module(name)) for name in names]
    assert sum(one.failed for one in found) == 0
    assert sum(one.attempted for one in found) >= 50
