"""Drawing operations in messages: as the API describes them, and of the version that the page was made for."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import jsonschema_rs
import numpy as np

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.draw.written import written
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from mudskipper.web.wire import page_file, schemas
from tests.core.test_any_edits import busy

PAGE = Path(__file__).parents[2] / "frontend/src/api/wire.ts"


def test_the_page_is_made_for_this_version() -> None:
    assert PAGE.read_text() == page_file(), "run make types"


def test_what_is_written_is_what_is_described(tmp_path: Path) -> None:
    """Every operation of a scene that holds everything, by the JSON Schema that the page's types come from."""
    made = busy()
    made = made.with_layers(tuple(one for one in made.layers if not one.content.clips and not one.content.scenes))
    columns: list[np.ndarray] = []

    def put(array: np.ndarray) -> int:
        columns.append(array)
        return len(columns) - 1

    drawing = draw_list(resolve(made, [0.0, 20.0, 40.0], NO_MEDIA))
    described = create_app(Store(tmp_path)).openapi()
    assert schemas().items() <= described["components"]["schemas"].items()
    check = jsonschema_rs.Draft202012Validator({"$ref": "#/components/schemas/GroupOperation", **described})
    kinds: set[str] = set()

    def look(part: Any) -> None:
        if isinstance(part, dict):
            kinds.add(part.get("op", "mask" if "strength" in part else ""))
            for inner in part.values():
                look(inner)
        elif isinstance(part, list):
            for inner in part:
                look(inner)

    for group in drawing.groups:
        entry = written(group, put)
        check.validate(entry)
        look(entry)
    assert {"group", "path", "glyphs", "mask"} <= kinds
    assert len(columns) > 50
