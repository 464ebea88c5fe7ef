"""The command that writes a file of each title of a table."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from .core.ground.errors import Refused
from .scene_files import Media, SceneFile, console, scene_at

if TYPE_CHECKING:
    from .core.document.scene import Scene
    from .core.document.slots import Row
    from .core.slots import Asked
    from .opened import LoneScene


def install(app: typer.Typer) -> None:
    """Add the command to the command line."""
    app.command()(batch)


def batch(
    scene: SceneFile,
    table: Annotated[Path, typer.Argument(metavar="TABLE", help="CSV, TSV or XLSX, its first row names of slots.")],
    out: Annotated[Path, typer.Option(help="The folder of the files.")],
    files: Annotated[str, typer.Option(help='What they are called, such as "{row} {Name}".')] = "{row} {scene}",
    form: Annotated[str, typer.Option("--format", help="As `mudskipper formats` names it.")] = "webm",
    frame: Annotated[int | None, typer.Option(help="At which rows are looked at, and stills are; the middle.")] = None,
    anyway: Annotated[bool, typer.Option(help="Write rows that need a look, too.")] = False,
    media: Media = None,
    workers: Annotated[int, typer.Option(min=1, max=64, help="Processes.")] = os.cpu_count() or 1,
) -> None:
    """Write a file of each row of a table: its cells in the slots of the scene. Rows that need a look are told and left
    out; then the exit code is 2. Example: mudskipper batch lower-third.json names.csv --out titles --files "{Name}"."""
    from .core.checks.rows import RowChecks
    from .core.slots.rows import file_names, twice
    from .export.writers import FORMATS
    from .readers.titles import read_titles

    if form not in FORMATS:
        raise Refused(f"There is no format {form!r}.", where="--format", mend=f"There are {', '.join(FORMATS)}.")
    opened = scene_at(scene, media)
    here = opened.document
    try:
        read = read_titles(table.read_bytes(), table.name, here)
    except OSError as error:
        raise Refused(f"It cannot be read: {error.strerror}.", where=str(table)) from None
    rows = read.as_rows(read.slots)
    names, same = file_names(files, here, rows), twice(rows)
    at = here.length // 2 if frame is None else frame
    asked = _asked(here, rows, opened)
    checks = RowChecks(here, asked, opened.assets, at)
    for note in read.notes:
        console.print(note)
    out.mkdir(parents=True, exist_ok=True)
    left = 0
    for number, (row, name) in enumerate(zip(rows, names, strict=True), 1):
        troubles = checks.look(row)[1]
        told = [one.sentence for one in troubles] + ([f"The same as row {same[row.id]}."] if row.id in same else [])
        try:
            title = _title(scene, media, opened, row, asked)
        except Refused as refusal:
            told, title = [*told, str(refusal)], None
        for sentence in told:
            console.print(f"Row {number}: {sentence}")
        if title is None or (told and not anyway):
            left += 1
            continue
        path = out / f"{_plain(name)}{FORMATS[form].suffix}"
        still = FORMATS[form].still
        title.render(path, form, at if still else 0, None, workers=workers)
    console.print(f"Wrote {len(rows) - left} of {len(rows)} titles to {out}.")
    if left:
        raise typer.Exit(2)


def _plain(name: str) -> str:
    from .export.jobs import file_name

    return file_name(name)


def _asked(scene: Scene, rows: Sequence[Row], opened: LoneScene) -> Asked:
    """What cells are read with: the media that they name are files of the scene's folder, by their own names."""
    from .core.slots import Asked
    from .core.slots.filling import holders

    media: dict[tuple[str, str], str] = {}
    for slot in scene.slots:
        for one in holders(scene, slot, opened.assets)[:1]:
            if one.kind.medium in ("picture", "clip", "sound"):
                texts = {(row.text_of(slot.id) or "").strip() for row in rows}
                media |= {(one.kind.name, text.casefold()): text for text in texts if text}
    return Asked(scene.frame_rate, media, {}, frozenset(opened.assets.fonts.families))


def _title(file: Path, media: Path | None, opened: LoneScene, row: Row, asked: Asked) -> LoneScene:
    """A row as a scene of its own, with the media that it needs."""
    from .core.slots.rows import scene_of_row
    from .media.folder import media_in_folder
    from .opened import LoneScene

    here, _ = scene_of_row(opened.document, row, asked, opened.assets)
    assets, files = media_in_folder(here, media or file.parent, file.name)
    # With what the scene itself shows, the sizes of both are known, and the one lies in the box of the other.
    known = replace(
        assets, pictures={**opened.assets.pictures, **assets.pictures}, clips={**opened.assets.clips, **assets.clips}
    )
    fitted, _ = scene_of_row(opened.document, row, asked, known)
    return LoneScene(fitted.model_copy(update={"rows": ()}), assets, files)
