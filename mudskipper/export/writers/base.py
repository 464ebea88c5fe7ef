"""What every format of a file is: what it can hold, and how a scene is written as one."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator
from concurrent.futures import Executor
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from ...media.part_files import part_of
from ..film import Film

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ...media.files import MediaFiles
    from ..order import Order


class Cancelled(Exception):
    """The export was stopped on request."""


@dataclass(frozen=True)
class Run:
    """How an order is carried out: parts of the file may be kept in the folder `work`, where the next run finds them;
    `executor` runs what can be done at once; `progress` is told how many frames are done; between parts `stopped` is
    asked."""

    work: Path
    executor: Executor
    progress: Callable[[int], None] = lambda done: None
    stopped: Callable[[], bool] = lambda: False


class Format(ABC):
    """A kind of file."""

    kind: str
    label: str
    suffix: str
    media_type: str
    alpha: bool = False
    """Whether it can be transparent."""
    sound: bool = False
    """Whether it can be heard."""
    still: bool = False
    """Whether it holds a single frame."""
    group: Literal["film", "moving picture", "sequence", "still", "sound", "web", "edit"] = "moving picture"
    """Among which it is offered."""

    takes: tuple[str, ...] = ()
    """The choices (`Choices`) that it heeds."""
    sound_bytes: int = 0
    """Bytes a second of its sound, where it is encoded with loss."""
    by_ending: bool = True
    """Whether the ending of a file's name may mean it; of several the first does."""
    even: bool = False
    """Whether its sides must be whole numbers of twos."""

    def check(self, film: Film) -> None:  # noqa: B027, most formats hold anything
        """Refuse, in words, what the format cannot hold."""

    def check_scene(self, scene: Scene, assets: Assets) -> None:  # noqa: B027, most formats hold any scene
        """Refuse, in words, a scene that makes no such file."""

    def lost(self, scene: Scene, assets: Assets, film: Film) -> tuple[str, ...]:
        """What of a scene it cannot say, a sentence each; told before it is written, and with the file."""
        return ()

    @abstractmethod
    def note(self, transparent: bool) -> str:
        """What it is good for, in a sentence."""

    @abstractmethod
    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        """Write a scene as an order says; what could not be kept, a sentence each: what `lost` told, and what was
        found in writing. Cancelled where it was stopped."""


@contextmanager
def whole(path: Path) -> Iterator[Path]:
    """A path to write to, which becomes `path` once all is written; what is written by halves is removed."""
    part = part_of(path)
    try:
        yield part
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
