"""The installed font files, for a text that is edited where it stands."""

from __future__ import annotations

from functools import cache

from fastapi import APIRouter, HTTPException
from fastapi.responses import FileResponse

from ..core.text.families import Family, FontFile, families
from .problem_details import binary
from .schemas import FamilyAnswer, FontFileAnswer

router = APIRouter(prefix="/api/fonts", tags=["fonts"])


@cache
def _files() -> dict[str, FontFile]:
    """The files by the last part of their addresses."""
    return {
        f"{family.slug}-{number}.ttf": file
        for family in families().values()
        for number, file in enumerate(family.files)
    }


def family_answer(family: Family) -> FamilyAnswer:
    """A family as the page is told of it."""
    files = [
        FontFileAnswer(
            address=f"/api/fonts/{family.slug}-{number}.ttf",
            italic=file.italic,
            weights=(family.lightest, family.heaviest) if file.weight is None else (file.weight, file.weight),
        )
        for number, file in enumerate(family.files)
    ]
    return FamilyAnswer(
        name=family.name, weights=list(family.weights), italic=family.italic, kinds=list(family.kinds),
        scripts=list(family.scripts), files=files,
    )  # fmt: skip


@router.get("/{file}", response_class=FileResponse, responses=binary("font/ttf"))
def font_file(file: str) -> FileResponse:
    """A font file."""
    known = _files().get(file)
    if known is None:
        raise HTTPException(404, f"There is no font file {file[:80]!r}.")
    return FileResponse(known.path, media_type="font/ttf", headers={"Cache-Control": "max-age=86400"})
