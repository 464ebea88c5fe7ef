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
    from .core.contents.assets import Assets
    from .core.document.slots import Row
    from .core.slots import Asked
    from .media.files import MediaFiles
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
    """Write a file of each row of a table: its cells in the slots of the scene. Rows that need a look are listed and
    left out; then the exit code is 2. Example: mudskipper batch third.json names.csv --out titles --files "{Name}"."""
    from .core.checks.rows import RowChecks
    from .core.slots.rows import file_names, twice
    from .export.writers import FORMATS
    from .opened import LoneScene
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
    asked, assets, media_files = _known(scene, media, rows, opened)
    checks = RowChecks(here, asked, assets, at)
    for note in read.notes:
        console.print(note)
    out.mkdir(parents=True, exist_ok=True)
    left = 0
    for number, (row, name) in enumerate(zip(rows, names, strict=True), 1):
        shown, troubles = checks.look(row)
        told = [one.sentence for one in troubles] + ([f"The same as row {same[row.id]}."] if row.id in same else [])
        for sentence in told:
            console.print(f"Row {number}: {sentence}")
        if told and not anyway:
            left += 1
            continue
        title = LoneScene(shown.model_copy(update={"rows": ()}), assets, media_files)
        path = out / f"{name}{FORMATS[form].suffix}"
        still = FORMATS[form].still
        title.render(path, form, at if still else 0, None, workers=workers)
    console.print(f"Wrote {len(rows) - left} of {len(rows)} titles to {out}.")
    if left:
        raise typer.Exit(2)


def _known(file: Path, media: Path | None, rows: Sequence[Row], opened: LoneScene) -> tuple[Asked, Assets, MediaFiles]:
    """What cells are read with: the media that they name are files of the scene's folder, by their own names; those
    that cannot be read are not known. And these media with those of the scene itself."""
    from .core.slots import Asked
    from .core.slots.filling import holders
    from .media.folder import media_in_folder

    here, assets, files = opened.document, opened.assets, opened.files
    named: dict[tuple[str, str], str] = {}
    for slot in here.slots:
        for one in holders(here, slot, assets)[:1]:
            if one.kind.medium not in ("picture", "clip", "sound"):
                continue
            for text in dict.fromkeys((row.text_of(slot.id) or "").strip() for row in rows):
                try:
                    shown = here.with_layer(one.kind.put(one.layer, one.path, text, slot, opened.assets))
                    more, more_files = media_in_folder(shown, media or file.parent, file.name)
                except (Refused, OSError, ValueError):
                    continue
                named[one.kind.name, text.casefold()] = text
                pictures, clips = {**assets.pictures, **more.pictures}, {**assets.clips, **more.clips}
                assets = replace(assets, pictures=pictures, clips=clips)
                files = files.with_more(more_files)
    return Asked(here.frame_rate, named, {}, frozenset(assets.fonts.families)), assets, files
