"""Commands that write files of scenes."""

from __future__ import annotations

import os
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn

from .core.ground.errors import Refused, refusal_of
from .export.choices import Choices
from .scene_files import Media, SceneFile, console, frame_range, scene_at


def install(app: typer.Typer) -> None:
    """Add the commands to the command line."""
    app.command()(render)
    app.command()(formats)


def render(
    scene: SceneFile,
    out: Annotated[Path, typer.Option(help="The file to write; its ending names the format.")],
    form: Annotated[
        str | None, typer.Option("--format", help="As `mudskipper formats` names it; by default that of the ending.")
    ] = None,
    frame: Annotated[int | None, typer.Option(help="One frame, for a still.")] = None,
    frames: Annotated[str | None, typer.Option(help="FIRST:STOP, the last not included; by default all.")] = None,
    quality: Annotated[int | None, typer.Option(min=1, max=100, help="From the smallest file to the best.")] = None,
    most: Annotated[float | None, typer.Option(help="Megabytes at most, in place of a quality.")] = None,
    scale: Annotated[float | None, typer.Option(help="Pixels of the file for one of the scene.")] = None,
    width: Annotated[int | None, typer.Option(min=1, help="Pixels across, in place of a scale.")] = None,
    rate: Annotated[str | None, typer.Option(help="Frames a second, such as 25 or 30000/1001.")] = None,
    behind: Annotated[str | None, typer.Option(help="A colour #rrggbb behind what is transparent.")] = None,
    premultiplied: Annotated[bool, typer.Option(help="Colours multiplied by their alpha.")] = False,
    plays: Annotated[int | None, typer.Option(min=0, help="How often it plays; 0 is without end.")] = None,
    sound: Annotated[bool, typer.Option(help="With its sound, or without.")] = True,
    media: Media = None,
    workers: Annotated[int, typer.Option(min=1, max=64, help="Processes.")] = os.cpu_count() or 1,
) -> None:
    """Render a film, a moving picture, a still or a sound: as the file's ending says, or the format named."""
    from .export.writers import FORMATS
    from .opened import kind_of

    opened = scene_at(scene, media)
    kind = kind_of(out, form or "")
    still = FORMATS[kind].still
    if still:
        first = frame if frame is not None else frame_range(frames)[0] if frames else 0
        stop = first + 1
    else:
        first, stop = frame_range(frames) if frames else (0, opened.document.length)
    if width is not None:
        scale = width / opened.document.width
    told = {
        "quality": quality, "most": most, "scale": scale, "rate": _rate(rate), "behind": behind, "plays": plays,
        "premultiplied": premultiplied or None, "sound": None if sound else False,
    }  # fmt: skip
    choices = _choices({name: value for name, value in told.items() if value is not None})
    total = choices.count(first, stop, opened.document.frame_rate)
    columns = (TextColumn("{task.description}"), BarColumn(), MofNCompleteColumn(), TimeRemainingColumn())
    with Progress(*columns, console=console, disable=still) as progress:
        task = progress.add_task(out.name, total=total)
        lost = opened.render(
            out,
            kind,
            first,
            stop,
            workers=workers,
            choices=choices,
            progress=lambda done: progress.update(task, completed=done),
        )
    what = f"frame {first}" if still else f"frames {first} to {stop - 1}"
    console.print(" ".join((f"Wrote {what} to {out}.", *lost)))


def _rate(text: str | None) -> tuple[int, int] | None:
    """Frames a second, as a fraction."""
    if text is None:
        return None
    try:
        found = Fraction(text).limit_denominator(100_000)
    except (ValueError, ZeroDivisionError):
        found = Fraction(0)
    if found <= 0:
        raise Refused(f"{text!r} is no rate.", where="--rate", mend="Write 25, 23.976 or 30000/1001.")
    return found.numerator, found.denominator


def _choices(told: dict[str, Any]) -> Choices:
    try:
        return Choices.model_validate(told)
    except ValidationError as error:
        raise refusal_of(error, "these choices") from None


def formats() -> None:
    """The formats of files, what each is good for, and what can be chosen of it."""
    from .export.writers import FORMATS

    for form in FORMATS.values():
        print(f"{form.kind:14} {form.suffix:6} {form.label}: {form.note(transparent=False)}")
        print(f"{'':21} {', '.join(form.takes) or 'no choices'}")
