"""What every format of a file is: what it can hold, and how a scene is written as one."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator
from concurrent.futures import Executor
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar, Literal

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

    kind: ClassVar[str]
    label: ClassVar[str]
    suffix: ClassVar[str]
    media_type: ClassVar[str]
    alpha: ClassVar[bool] = False
    """Whether it can be transparent."""
    sound: ClassVar[bool] = False
    """Whether it can be heard."""
    still: ClassVar[bool] = False
    """Whether it holds a single frame."""
    group: ClassVar[Literal["film", "moving picture", "still"]] = "moving picture"
    """Among which it is offered."""

    def check(self, film: Film) -> None:  # noqa: B027, most formats hold anything
        """Refuse, in words, what the format cannot hold."""

    @abstractmethod
    def note(self, transparent: bool) -> str:
        """What it is good for, in a sentence."""

    @abstractmethod
    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        """Write a scene as an order says; what could not be kept, a sentence each. Cancelled where it was stopped."""


@contextmanager
def whole(path: Path) -> Iterator[Path]:
    """A path to write to, which becomes `path` once all is written; what is written by halves is removed."""
    part = path.with_name(path.name + ".part")
    try:
        yield part
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
