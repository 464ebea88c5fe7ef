"""The rooms of the core: each imports from those before it alone, and nothing late to hide that it does not."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from pathlib import Path

import mudskipper.core

CORE = Path(mudskipper.core.__file__).parent
ROOMS = [
    "ground", "geometry", "text", "easings", "tracks", "draw", "effects", "shapes", "formulas", "contents", "document",
    "resolve", "moves", "recipes", "edits", "checks",
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
