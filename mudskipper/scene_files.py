"""What commands say of a scene's file, and how they speak."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
from rich.console import Console

from .core.ground.errors import Refused

if TYPE_CHECKING:
    from .opened import LoneScene

console = Console(stderr=True, highlight=False, markup=False, soft_wrap=True)
SceneFile = Annotated[Path, typer.Argument(metavar="SCENE.json", help="A scene document.")]
Media = Annotated[Path | None, typer.Option(help="The folder of the scene's pictures; by default beside it.")]


def scene_at(path: Path, media: Path | None) -> LoneScene:
    """The scene of a file, with its pictures and clips."""
    from .opened import open_scene

    return open_scene(path, media)


def frame_range(text: str) -> tuple[int, int]:
    """`0:300` as (0, 300), the last not included."""
    first, colon, stop = text.partition(":")
    if not (colon and first.isdigit() and stop.isdigit() and int(first) < int(stop)):
        raise Refused(f"Frames are written FIRST:STOP, such as 0:300, and {text!r} was given.", where="--frames")
    return int(first), int(stop)
