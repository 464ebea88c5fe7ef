"""Checks that look at the painted picture: contrast of texts, flashes, and what effects cost."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from ..core.checks.base import Finding, box_at, or_left
from ..core.checks.flashes import flashing
from ..core.contents.assets import Assets
from ..core.document.scene import Layer, Scene
from ..core.edits.values_and_keys import SetProperty
from ..core.ground.time import timecode
from ..core.resolve.drawing import draw_list
from ..core.resolve.layers import ResolvedLayer
from ..core.resolve.resolved import resolve
from ..core.tracks.colour import ColourTrack, luminance, to_linear
from .painter import Media, Painter

CONTRAST, FLASHES, COST = "contrast", "flashes", "costly effects"
WIDTH = 480
"""How many pixels wide a picture is looked at."""
CELLS = 48
"""Cells across, whose flashes are counted."""
AT_ONCE = 64
"""Frames that are resolved at once."""
MOST_FRAMES = 10_000
"""Frames of a scene, from its start, whose flashes are counted."""
LARGE = 24.0 / 1080.0
"""How large letters are, of the scene's height, for which less contrast does."""
SLOW = 0.1
"""Seconds a frame beyond which effects are told of."""
WHITE, INK = "#ffffffff", "#101414ff"


def look_at(scene: Scene, assets: Assets, load: Media, clock: Callable[[], float] = time.perf_counter) -> list[Finding]:
    """What is found in the pictures of a scene: texts without contrast, effects that cost much, and flashes."""
    found: list[Finding] = []
    for layer in reversed(scene.layers):
        if not layer.visible or not layer.content.shows:
            continue
        mine = contrast_of(scene, layer, assets, load), _cost(scene, layer, assets, load, clock)
        found += [or_left(one, layer) for one in mine if one is not None]
    flashes = _flashes(scene, assets, load)
    return [*found, flashes] if flashes else found


def _painted(scene: Scene, frame: int, ids: list[str], assets: Assets, load: Media, ground: bool) -> np.ndarray:
    """Some layers of a frame, small (h, w, 4), 0…1."""
    made = scene if ground else scene.model_copy(update={"background": "#00000000"})
    painter = Painter(scene.width, scene.height, load, min(WIDTH / scene.width, 1.0))
    painter.paint(draw_list(resolve(made, [frame], assets, ids=ids)), 0)
    return painter.pixels() / 255.0


def contrast_of(scene: Scene, layer: Layer, assets: Assets, load: Media) -> Finding | None:
    """A text that stands out too little from what lies behind it, at the worst of three frames at which it is seen."""
    if layer.content.look is None:
        return None
    one = resolve(scene, np.arange(scene.length), assets, ids=[layer.id]).layers[layer.id]
    opacity = np.broadcast_to(one.opacity[:, 0], one.visible.shape)
    there = np.flatnonzero(one.visible & (opacity >= 0.5 * max(opacity.max(), 0.01)))
    if not there.size:
        return None
    size = float(np.broadcast_to(one.values["content.size"][:, 0], one.visible.shape)[there[0]])
    scale = float(np.abs(one.matrix[0, :4]).max())
    wanted = 3.0 if size * scale >= LARGE * scene.height else 4.5
    below = [other.id for other in scene.layers[: scene.places[layer.id]]]
    worst, at, light = np.inf, 0, 0.0
    for share in (0.2, 0.5, 0.8):
        frame = int(there[int(share * (len(there) - 1))])
        ratio, behind = _measured(scene, layer, frame, below, float(opacity[frame]) * _solid(one), assets, load)
        if ratio < worst:
            worst, at, light = ratio, frame, behind
    # Letters at the edge of what is asked for are let pass.
    if worst >= wanted * 0.98:
        return None
    return Finding(
        check=CONTRAST, layer=layer.id, frame=at, figure=float(worst),
        sentence=f"'{layer.name}' has a contrast of {worst:.1f} : 1 with what lies behind it at "
        f"{timecode(at, scene.frame_rate)}; letters of its size need {wanted:g} (WCAG).",
        edits=_plain(layer, wanted, light), lines=(box_at(one, at),),
    )  # fmt: skip


def _measured(
    scene: Scene, layer: Layer, frame: int, below: list[str], alpha: float, assets: Assets, load: Media
) -> tuple[float, float]:
    """The contrast of a text, so opaque, with what lies behind its letters, and the luminance of that; endless where
    none is. Edges that are painted in part do not count: small letters have the colour that large ones have."""
    alone = _painted(scene, frame, [layer.id], assets, load, ground=False)
    ink = alone[..., 3] >= max(float(alone[..., 3].max()) * 0.8, 0.05)
    ground = _painted(scene, frame, below, assets, load, ground=True)
    seen = ink & (ground[..., 3] > 0.5)
    if not seen.any():
        return np.inf, 0.0
    # What is half transparent is seen with what lies behind it.
    letters = luminance(alone[seen][:, :3] * alpha + ground[seen][:, :3] * (1 - alpha))
    behind = luminance(ground[seen][:, :3])
    high, low = np.maximum(letters, behind), np.minimum(letters, behind)
    return float(np.median((high + 0.05) / (low + 0.05))), float(np.median(behind))


def _solid(one: ResolvedLayer) -> float:
    """How opaque the fill of a text is, where it is a plain colour."""
    fill = one.values.get("content.fill")
    return 1.0 if fill is None or fill.shape[1] != 4 else float(fill[0, 3]) / 255.0


def _plain(layer: Layer, wanted: float, behind: float) -> tuple[SetProperty, ...]:
    """White or dark letters, whichever stand out more; nothing where the fill moves, or is no plain colour."""
    track = layer.tracks.get("content.fill")
    if not isinstance(track, ColourTrack) or track.moves or layer.locked:
        return ()
    white, dark = 1.05 / (behind + 0.05), (behind + 0.05) / (0.05 + 0.006)
    if max(white, dark) < wanted:
        return ()
    value = WHITE if white >= dark else INK
    return (SetProperty(layer=layer.id, property="content.fill", value=value, frame=float(layer.span.start)),)


def _cost(scene: Scene, layer: Layer, assets: Assets, load: Media, clock: Callable[[], float]) -> Finding | None:
    """Effects that make a frame slow: the whole picture up to their layer, with them and without."""
    on = [effect for effect in layer.effects if effect.visible]
    if not on:
        return None
    frame = min(max((layer.span.start + layer.span.end) // 2, 0), scene.length - 1)
    ids = [layer.id] if not layer.content.filters else [one.id for one in scene.layers[: scene.places[layer.id] + 1]]

    def takes(made: Scene) -> float:
        painter = Painter(scene.width, scene.height, load)
        drawing = draw_list(resolve(made, [frame], assets, ids=ids))
        began = clock()
        painter.paint(drawing, 0)
        painter.pixels()
        return clock() - began

    plain = scene.with_layer(layer.model_copy(update={"effects": ()}))
    over = takes(scene) - takes(plain)
    if over <= SLOW:
        return None
    names = " and ".join(f"'{effect.name}'" for effect in on[:3])
    return Finding(
        check=COST, layer=layer.id, frame=frame, figure=over * 1000,
        sentence=f"{names} of '{layer.name}' cost{'s' if len(on) == 1 else ''} {over * 1000:.0f} ms a frame: the stage "
        "plays it with gaps, and an export takes as much longer.",
    )  # fmt: skip


def _flashes(scene: Scene, assets: Assets, load: Media) -> Finding | None:
    """More than three flashes in a second, over a quarter of a field of view (WCAG 2.3.1)."""
    scale = min(4 * CELLS / scene.width, 1.0)
    painter = Painter(scene.width, scene.height, load, scale)
    lights, reds, pure = [], [], []
    for first in range(0, min(scene.length, MOST_FRAMES), AT_ONCE):
        stop = min(first + AT_ONCE, scene.length, MOST_FRAMES)
        drawing = draw_list(resolve(scene, np.arange(first, stop, dtype=np.float64), assets))
        for index in range(stop - first):
            painter.paint(drawing, index)
            cells = _cells(to_linear(painter.pixels(premultiplied=True)[..., :3] / 255.0))
            lights.append(cells @ np.array([0.2126, 0.7152, 0.0722]))
            reds.append(np.maximum(cells[..., 0] - cells[..., 1] - cells[..., 2], 0.0))
            pure.append(cells[..., 0] >= 0.8 * np.maximum(cells.sum(axis=2), 1e-6))
    found = flashing(np.array(lights), np.array(reds), np.array(pure), scene.fps)
    if found is None:
        return None
    kind = "red flashes" if found.red else "flashes"
    return Finding(
        check=FLASHES, layer="", frame=found.frame, figure=float(found.count),
        sentence=f"{found.count} {kind} within the second up to {timecode(found.frame, scene.frame_rate)}: more than "
        "three may harm who is sensitive to them (WCAG 2.3.1). Make them fewer, smaller or fainter.",
    )  # fmt: skip


def _cells(light: np.ndarray) -> np.ndarray:
    """The means (h, w, 3) of cells of 4 × 4 pixels, or of fewer at the right and below."""
    high, wide = light.shape[:2]
    rows, columns = (np.arange(0, side, 4) for side in (high, wide))
    sums = np.add.reduceat(np.add.reduceat(light, rows, axis=0), columns, axis=1)
    counts = np.outer(np.diff([*rows, high]), np.diff([*columns, wide]))
    return np.asarray(sums / counts[..., None])
