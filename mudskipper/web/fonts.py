"""The installed font files, for a text that is edited where it stands."""

from __future__ import annotations

from functools import cache

from fastapi import APIRouter, HTTPException
from fastapi.responses import FileResponse

from ..core.text.families import Family, FontFile, installed
from .problem_details import binary
from .schemas import AxisAnswer, FamilyAnswer, FontFileAnswer, InstanceAnswer

router = APIRouter(prefix="/api/fonts", tags=["fonts"])


@cache
def _files() -> dict[str, FontFile]:
    """The files by the last part of their addresses."""
    return {f"{file.key}.ttf": file for family in installed().values() for file in family.files}


def family_answer(family: Family, folder: str = "/api/fonts") -> FamilyAnswer:
    """A family as the page is told of it, its files in a folder of the server."""
    files = [
        FontFileAnswer(
            address=f"{folder}/{file.key}.ttf",
            italic=file.italic,
            weights=(family.lightest, family.heaviest) if file.weight is None else (file.weight, file.weight),
        )
        for file in family.files
    ]
    plain = family.file(400, False)
    return FamilyAnswer(
        name=family.name, weights=list(family.weights), italic=family.italic, kinds=list(family.kinds),
        scripts=list(family.scripts), files=files,
        axes=[AxisAnswer(tag=one.tag, name=one.name, low=one.low, rest=one.rest, high=one.high) for one in plain.axes],
        instances=[InstanceAnswer(name=one.name, values=dict(one.values)) for one in plain.instances],
    )  # fmt: skip


@router.get("/{file}", response_class=FileResponse, responses=binary("font/ttf"))
def font_file(file: str) -> FileResponse:
    """A font file."""
    known = _files().get(file)
    if known is None:
        raise HTTPException(404, f"There is no font file {file[:80]!r}.")
    return FileResponse(known.path, media_type="font/ttf", headers={"Cache-Control": "max-age=86400"})
