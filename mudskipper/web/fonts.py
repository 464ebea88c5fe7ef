"""The font files that ship, for a text that is edited where it stands."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException
from fastapi.responses import FileResponse

from ..core.text.fonts import FAMILIES, FOLDER, SUBSETS, Family
from .problem_details import binary

router = APIRouter(prefix="/api/fonts", tags=["fonts"])


def files_of(family: Family) -> dict[str, list[str]]:
    """The addresses of a family's files by style, in the order in which a letter is looked for."""
    styles = ("normal", "italic") if family.italic else ("normal",)
    return {style: [f"/api/fonts/{family.stem}-{style}-{subset}.ttf" for subset in SUBSETS] for style in styles}


KNOWN = {address for family in FAMILIES.values() for addresses in files_of(family).values() for address in addresses}


@router.get("/{file}", response_class=FileResponse, responses=binary("font/ttf"))
def font_file(file: str) -> FileResponse:
    """A font file."""
    if f"/api/fonts/{file}" not in KNOWN:
        raise HTTPException(404, f"There is no font file {file[:80]!r}.")
    return FileResponse(FOLDER / file, media_type="font/ttf", headers={"Cache-Control": "max-age=86400"})
