"""The rooms of the core: each imports from those before it alone, and nothing late to hide that it does not."""

from __future__ import annotations

import ast
import subprocess
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import pytest

import mudskipper.core

CORE = Path(mudskipper.core.__file__).parent
ROOMS = [
    "ground", "geometry", "text", "easings", "tracks", "draw", "effects", "shapes", "formulas", "contents", "document",
    "slots", "resolve", "moves", "recipes", "edits", "checks",
]  # fmt: skip


def imported(tree: ast.AST, package: list[str], late: bool = False) -> Iterator[tuple[str, bool]]:
    """The modules of the core that a module imports, by their full names, and whether within a function; not those for
    types alone."""
    for node in ast.iter_child_nodes(tree):
        if isinstance(node, ast.If) and isinstance(node.test, ast.Name) and node.test.id == "TYPE_CHECKING":
            continue
        if isinstance(node, ast.ImportFrom) and node.level:
            base = package[: len(package) - node.level + 1]
            yield ".".join([*base, *([node.module] if node.module else [a.name for a in node.names][:1])]), late
        yield from imported(node, package, late or isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef))


def test_modules_are_found_by_the_names_that_they_had() -> None:
    """In a process that knows them by no other name yet; they stay what they are."""
    program = """
from mudskipper.earlier_names import EARLIER
from importlib import import_module
EARLIER |= {"formats.svg.tree": "readers.svg.tree", "export.formats.base": "export.writers.base"}
for name, today in EARLIER.items():
    found = import_module(f"mudskipper.{name}")
    assert found is import_module(f"mudskipper.{today}"), name
    assert found.__spec__.name == found.__name__ == f"mudskipper.{today}", name
from mudskipper.core.document import read_scene, scene_of
from mudskipper.core.formulas.language import Program, read
from mudskipper.core.resolve import Resolved, resolve
from mudskipper.core.tracks import ColourTrack, NumberTrack, evaluate, value_at
"""
    subprocess.run([sys.executable, "-c", program], check=True)
    with pytest.raises(ImportError, match="sundial"):
        import_module("mudskipper.core.sundial")


def test_rooms_import_one_way() -> None:
    found = sorted(path.name for path in CORE.iterdir() if path.is_dir() and (path / "__init__.py").exists())
    assert found == sorted(ROOMS)
    assert [path.name for path in CORE.glob("*.py")] == ["__init__.py"]
    wrong = []
    for path in CORE.rglob("*.py"):
        inside = path.relative_to(CORE).parts
        package = ["core", *inside[:-1]]
        for name, late in imported(ast.parse(path.read_text()), package):
            room = name.split(".")[1] if name.startswith("core.") else ""
            if room not in ROOMS or room == inside[0]:
                continue
            up = ROOMS.index(room) > ROOMS.index(inside[0])
            if late or up:
                wrong.append(f"{'/'.join(inside)} imports {name}{' within a function' if late else ''}")
    assert not wrong, "\n".join(wrong)
