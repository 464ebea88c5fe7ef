"""A kind of everything from outside of the package: `docs/extending.md` says how each is made.

`installed` writes what an installed package would have beside them: the entry points by which every process finds them.
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Annotated, ClassVar, Literal, Self

import numpy as np

from mudskipper.core.checks.base import Check, Finding
from mudskipper.core.contents.assets import Assets
from mudskipper.core.contents.base import Around, Content
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.inks import Layering, StrokeInk
from mudskipper.core.draw.outlines import rounded
from mudskipper.core.draw.pen import Pen
from mudskipper.core.easings.base import Easing, numbers
from mudskipper.core.edits.base import Edit, EditContext, name_of, unlocked
from mudskipper.core.formulas.functions import Call, Function
from mudskipper.core.geometry.bezier import Floats
from mudskipper.core.geometry.values import Values
from mudskipper.core.ground.base_model import Id
from mudskipper.core.ground.shown import Shown
from mudskipper.core.resolve.layers import ResolvedLayer
from mudskipper.core.shapes.base import SizedItem
from mudskipper.core.tracks.colour import ColourTrack
from mudskipper.core.tracks.kinds import NumberTrack
from mudskipper.export.film import Film, Sound
from mudskipper.export.order import Order
from mudskipper.export.writers.base import Format, Run, whole
from mudskipper.export.writers.pixels import PixelFormat
from mudskipper.media.files import MediaFiles


class Late(Easing):
    """An easing: nothing until a share of the time, then evenly."""

    function: ClassVar[str] = "late"

    late: float

    def progress(self, u: Floats) -> Floats:
        return np.clip((u - self.late) / (1 - self.late), 0, 1)

    def slope(self, end: int) -> float:
        return 1 / (1 - self.late) if end else 0.0

    @property
    def text(self) -> str:
        return f"late({self.late:g})"

    @classmethod
    def read(cls, parts: list[str]) -> Self:
        (late,) = numbers(cls.function, parts, 1)
        return cls(late=late)

    def kinks(self, start: float, end: float) -> Floats:
        return np.array([self.late] if start < self.late < end else [])


class Kite(SizedItem):
    """A shape: four corners, the widest place at a height of its own."""

    label: ClassVar[str] = "kite"

    shape: Literal["kite"] = "kite"
    waist: Annotated[NumberTrack, Shown("Waist", "%", low=0, high=100)] = NumberTrack(rest=30.0)

    def outline(self, values: Values) -> tuple[str, Floats]:
        left, top, width, height = (self.box(values)[:, i] for i in range(4))
        across = top + values["waist"][:, 0] / 100 * height
        points = (left + width / 2, top, left + width, across, left + width / 2, top + height, left, across)
        return "MLLLZ", np.stack(np.broadcast_arrays(*points), axis=1)


class Nest(Content):
    """A content: squares in groups within groups, each turned, faded and blended."""

    kind: Literal["nest"] = "nest"
    depth: int = 3
    blend: str = "multiply"
    opacity: Annotated[NumberTrack, Shown("Nest opacity", "%", low=0, high=100)] = NumberTrack(rest=60.0)
    fill: Annotated[ColourTrack, Shown("Fill")] = ColourTrack(rest="#d9482fff")

    @property
    def default_name(self) -> str:
        return "Nest"

    def box(self, values: Values, around: Around) -> Floats:
        return np.array([[-100.0, -60.0, 200.0, 120.0]])

    def draw(self, pen: Pen, values: Values, around: Around) -> None:
        def level(depth: int) -> None:
            box, none = np.array([[-100.0, -60.0, 120.0, 90.0]]), np.zeros((1, 1))
            ink = np.array([[30.0, 60.0 * depth, 90.0, 200.0]])
            pen.path(*rounded(box, none, none), values["fill"], StrokeInk(ink, np.array([[7.0]])))
            if depth:
                turn = np.array([[0.8, 0.3, -0.3, 0.8, 25.0, 14.0]])
                with pen.group(
                    Layering(turn, np.rint(values["opacity"] * 2.55), self.blend if depth % 2 else "normal")
                ):
                    level(depth - 1)

        level(self.depth)


class Shout(Edit):
    """An edit: a layer's name in capitals."""

    edit: Literal["shout"] = "shout"
    layer: Id

    def apply(self, scene: Scene, context: EditContext) -> Scene:
        layer = unlocked(scene, self.layer)
        return scene.with_layer(layer.model_copy(update={"name": layer.name.upper()}))

    def words(self, scene: Scene) -> str:
        return f"Shouted {name_of(scene, self.layer)}"


class Whisper(Check):
    """A check: a name that shouts."""

    name: ClassVar[str] = "whisper"

    def find(self, scene: Scene, one: ResolvedLayer) -> Finding | None:
        if one.layer.name != one.layer.name.upper():
            return None
        sentence = f"'{one.layer.name}' shouts."
        return Finding(check=self.name, layer=one.layer.id, frame=0, figure=1.0, sentence=sentence)


class Means(PixelFormat):
    """A format: the mean colour of each frame, a line each."""

    kind, label, suffix, media_type = "means", "Mean colours", ".txt", "text/plain"

    def note(self, transparent: bool) -> str:
        return "One colour for each frame."

    def encode(self, path: Path, frames: Iterable[np.ndarray], film: Film) -> None:
        with whole(path) as part:
            part.write_text("".join(f"{np.rint(pixels.mean(axis=(0, 1)))[:3].tolist()}\n" for pixels in frames))

    def join(self, chunks: list[Path], lengths: list[int], out: Path, film: Film, sound: Sound | None = None) -> None:
        out.write_text("".join(chunk.read_text() for chunk in chunks))

    def is_whole(self, chunk: Path) -> bool:
        return chunk.exists()


class Names(Format):
    """A format that takes no pixels: the names of the layers, a line each."""

    kind, label, suffix, media_type = "names", "Names of layers", ".txt", "text/plain"

    def note(self, transparent: bool) -> str:
        return "What the layers are called."

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        with whole(out) as part:
            part.write_text("\n".join(layer.name for layer in scene.layers))
        run.progress(order.stop - order.first)
        return ("Everything but the names was left out.",)


def _tide(call: Call) -> Floats:
    return np.cos(call.number(0) * (2 * np.pi / 12.4))


KINDS = {
    "easings": {"late": Late}, "shapes": {"kite": Kite}, "contents": {"nest": Nest}, "edits": {"shout": Shout},
    "checks": {"whisper": "WHISPER"}, "writers": {"means": "MEANS", "names": "NAMES"}, "functions": {"tide": "TIDE"},
}  # fmt: skip
WHISPER, MEANS, NAMES = Whisper(), Means(), Names()
TIDE = Function(
    name="tide", written="tide(hours)", run=_tide, passes=slice(None),
    sentence="How high the tide stands after so many hours, 1 at high water.", example="tide(t) * 40",
)  # fmt: skip


def installed(folder: Path) -> Path:
    """A folder for the path of Python in which these kinds stand as an installed package's."""
    about = folder / "toys-1.0.dist-info"
    about.mkdir(parents=True)
    (about / "METADATA").write_text("Metadata-Version: 2.1\nName: toys\nVersion: 1.0\n")
    groups = "".join(
        f"[mudskipper.{group}]\n"
        + "".join(
            f"{name} = {__name__}:{kind if isinstance(kind, str) else kind.__name__}\n" for name, kind in kinds.items()
        )
        for group, kinds in KINDS.items()
    )
    (about / "entry_points.txt").write_text(groups)
    return folder
