"""Kinds of effects against sums by their definitions, on random pictures: in numpy, and browsers' own filters."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
import skia
from playwright.sync_api import Browser

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.scene import Scene
from mudskipper.core.edits import apply_edits
from mudskipper.core.effects import EFFECTS
from mudskipper.core.effects.base import Beneath, Effect, ResolvedEffect
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.tracks.walk import evaluated, tracks_in
from mudskipper.paint.effects import PAINTERS
from mudskipper.paint.painter import Painter
from mudskipper.paint.pixels import read, written
from tests.conftest import SEARCHING, layer, scene
from tests.core.edits_at_random import EDIT
from tests.core.effects_at_random import RANGES, effect

KINDS: dict[str, Any] = {kind.model_fields[Effect.told_by].default: kind for kind in EFFECTS}
WIDE, HIGH = 90, 70


def picture(seed: int, opaque: bool = False) -> np.ndarray:
    """Random pixels in large patches, some of them see-through."""
    dice = np.random.default_rng(seed)
    small = dice.integers(0, 256, (7, 9, 4))
    small[..., 3] = 255 if opaque else dice.choice([0, 90, 255, 255], (7, 9))
    return np.kron(small, np.ones((10, 10, 1))).astype(np.uint8)


def run(kind: str, pixels: np.ndarray, box: tuple[float, ...] = (0, 0, WIDE, HIGH), **fields: Any) -> np.ndarray:
    """What an effect makes of pixels whose box is this."""
    made = KINDS[kind].model_validate({"effect": kind, **fields})
    values = evaluated(dict(tracks_in(made)), np.zeros(1), 30.0)
    ink = ResolvedEffect(made, values, Beneath(np.array([box], dtype=float), np.zeros(1)))
    numbers = ink.numbers(np.array([[1.0, 0, 0, 1, 0, 0]])).astype(np.float32)[0].tolist()
    surface = PAINTERS[ink.kind](written(pixels), numbers, 1.0)
    return read(surface).astype(int)


def seen(pixels: np.ndarray) -> np.ndarray:
    """Pixels as they cover: premultiplied."""
    found = pixels.astype(float)
    found[..., :3] *= found[..., 3:] / 255.0
    return found


def same(one: np.ndarray, other: np.ndarray, within: float) -> None:
    gap = np.abs(seen(one) - seen(other))
    assert gap.max() <= within, gap.max()


CSS = """async ({pixels, width, height, filter}) => {
  const from = new OffscreenCanvas(width, height), to = new OffscreenCanvas(width, height);
  from.getContext('2d').putImageData(new ImageData(new Uint8ClampedArray(pixels), width, height), 0, 0);
  const on = to.getContext('2d');
  on.filter = filter;
  on.drawImage(from, 0, 0);
  return [...on.getImageData(0, 0, width, height).data];
}"""


@pytest.mark.parametrize(
    ("kind", "fields", "css", "within"),
    [
        ("tones", {"contrast": 0, "saturation": 40}, "saturate(0.4)", 1.5),
        ("tones", {"contrast": 0, "saturation": 180}, "saturate(1.8)", 1.5),
        ("tones", {"contrast": 0, "hue": 75}, "hue-rotate(75deg)", 1.5),
        ("tones", {"contrast": -40}, "contrast(0.6)", 1.5),
        ("tones", {"contrast": 0, "white": [50, 100]}, "brightness(2)", 1.5),
        ("soft-blur", {"amount": [4, 4]}, "blur(4px)", 1.5),
        ("shadow", {"blur": 3, "offset": [6, 4], "colour": "#102030a0"}, "drop-shadow(6px 4px 3px #102030a0)", 2.5),
    ],
)
def test_what_browsers_filter_too_is_the_same(
    browser: Browser, kind: str, fields: dict[str, Any], css: str, within: float
) -> None:
    page = browser.new_page()
    pixels = np.pad(picture(3), ((20, 20), (20, 20), (0, 0)))
    high, wide = pixels.shape[:2]
    told = page.evaluate(CSS, {"pixels": pixels.reshape(-1).tolist(), "width": wide, "height": high, "filter": css})
    page.close()
    same(run(kind, pixels, (20, 20, WIDE, HIGH), **fields), np.array(told).reshape(high, wide, 4), within)


def test_colours_go_by_their_brightness_to_two_or_to_a_gradient() -> None:
    pixels = picture(5, opaque=True)
    light = (pixels[..., :3] @ [0.213, 0.715, 0.072])[..., None] / 255.0
    dark, bright = np.array([18, 69, 79]), np.array([255, 178, 122])
    toned = run("two-tone", pixels, dark="#12454fff", light="#ffb27aff", amount=100)
    assert np.abs(toned[..., :3] - (dark + (bright - dark) * light)).max() <= 2
    half = run("two-tone", pixels, dark="#12454fff", light="#ffb27aff", amount=50)
    assert np.abs(half[..., :3] - (toned[..., :3] + pixels[..., :3]) / 2).max() <= 1
    stops = [
        {"at": {"rest": at}, "colour": colour} for at, colour in ((0, "#000000"), (40, "#ff0000"), (100, "#ffff00"))
    ]
    mapped = run("gradient-map", pixels, stops=stops, amount=100)
    red = np.interp(light[..., 0] * 100, [0, 40, 100], [0, 255, 255])
    green = np.interp(light[..., 0] * 100, [0, 40, 100], [0, 0, 255])
    assert np.abs(mapped[..., 0] - red).max() <= 3
    assert np.abs(mapped[..., 1] - green).max() <= 3
    washed = run("colour-wash", pixels, colour="#d24b1eff", amount=100)
    assert (washed[..., :3] == [210, 75, 30]).all()
    stopped = run("tones", pixels, contrast=0, exposure=1)
    linear = np.where(pixels / 255 <= 0.04045, pixels / 255 / 12.92, ((pixels / 255 + 0.055) / 1.055) ** 2.4)
    twice = np.clip(2 * linear, 0, 1)
    back = np.where(twice <= 0.0031308, twice * 12.92, 1.055 * twice ** (1 / 2.4) - 0.055) * 255
    assert np.abs(stopped[..., :3] - back[..., :3]).max() <= 1


AROUND = 40


def averaged(pixels: np.ndarray, moved: Any) -> np.ndarray:
    """The average of 64 copies, each drawn at its share of the way by a painter, in floats."""
    high, wide = pixels.shape[:2]
    total = np.zeros(pixels.shape)
    image, ink = written(pixels).makeImageSnapshot(), skia.Paint(AntiAlias=True)
    for number in range(64):
        surface = skia.Surface.MakeRaster(skia.ImageInfo.MakeN32Premul(wide, high))
        surface.getCanvas().setMatrix(moved((number + 0.5) / 64 - 0.5))
        surface.getCanvas().drawImage(image, 0, 0, skia.SamplingOptions(skia.FilterMode.kLinear), ink)
        total += seen(read(surface))
    return total / 64


def test_blurs_along_a_way_are_averages_of_64_copies() -> None:
    def turned(share: float) -> skia.Matrix:
        matrix = skia.Matrix()
        matrix.setRotate(40 * share, AROUND + 0.3 * WIDE, AROUND + 0.6 * HIGH)
        return matrix

    def zoomed(share: float) -> skia.Matrix:
        matrix = skia.Matrix()
        matrix.setScale(1.5**share, 1.5**share, AROUND + WIDE / 2, AROUND + HIGH / 2)
        return matrix

    def gone(share: float) -> skia.Matrix:
        return skia.Matrix.Translate(30 * share * np.cos(np.pi / 6), 30 * share * np.sin(np.pi / 6))

    pixels = np.pad(picture(7), ((AROUND, AROUND), (AROUND, AROUND), (0, 0)))
    for kind, fields, moved in (
        ("directional-blur", {"length": 30, "angle": 30}, gone),
        ("turn-blur", {"angle": 40, "centre": [30, 60]}, turned),
        ("zoom-blur", {"amount": 50}, zoomed),
    ):
        found = run(kind, pixels, (AROUND, AROUND, WIDE, HIGH), **fields)
        gap = np.abs(seen(found) - averaged(pixels, moved))
        # Copies that are drawn again and again get softer by a part of a pixel, where patches meet.
        assert gap.mean() <= 1.5, kind
        assert np.percentile(gap, 99) <= 14, kind


def test_an_outline_reaches_as_far_as_a_disc() -> None:
    pixels = picture(11)
    inside = pixels[..., 3] >= 128
    ys, xs = np.nonzero(inside)
    found = run("outline", pixels, width=6, colour="#ffd23fff")
    y, x = np.mgrid[:HIGH, :WIDE]
    far = np.sqrt(((y[..., None] - ys) ** 2 + (x[..., None] - xs) ** 2).min(axis=2))
    assert (found[..., 3][far <= 5.4] == 255).all()
    assert (found[..., 3][(far >= 6.6) & (pixels[..., 3] == 0)] == 0).all()
    assert (found[inside & (pixels[..., 3] == 255)] == pixels[inside & (pixels[..., 3] == 255)]).all()


def test_cells_of_a_mosaic_are_averages_and_grain_is_none_on_average() -> None:
    pixels = picture(13)
    found = run("pixels", pixels, size=[14, 9], box=(3, 2, 80, 60))
    whole = seen(pixels)
    for top in range(2 - 9, HIGH, 9):
        for left in range(3 - 14, WIDE, 14):
            cell = np.s_[max(top, 0) : max(top + 9, 0), max(left, 0) : max(left + 14, 0)]
            if whole[cell].size:
                mean = whole[cell].reshape(-1, 4).mean(axis=0)
                assert np.abs(seen(found)[cell] - mean).max() <= 1.5
    grey = np.full((HIGH, WIDE, 4), 128, dtype=np.uint8)
    grey[..., 3] = 255
    grains = run("grain", grey, amount=40, size=2, coloured=True) - 128
    assert abs(grains[..., :3].mean()) < 2
    assert 14 < grains[..., :3].std() < 26
    assert (grains[0:2, 0:2, 0] == grains[0, 0, 0]).all(), "a cell of two pixels"
    assert (run("grain", grey, amount=40, seed=2) != run("grain", grey, amount=40, seed=3)).any()


def test_a_ground_that_is_keyed_out_leaves_the_opacity_that_is_known() -> None:
    """A subject mixed with a green ground by a known opacity: gone where it is the ground, whole where it is not."""
    pixels = picture(17, opaque=True)
    pixels[..., :3] = [34, 177, 76]
    pixels[20:50, 20:60, :3] = [210, 75, 30]
    found = run("key-out", pixels, colour="#22b14cff", tolerance=20, softness=20, spill=0)
    assert (found[..., 3] == np.pad(np.full((30, 40), 255), ((20, 20), (20, 30)))).all()
    assert (found[25, 25, :3] == [210, 75, 30]).all()
    mixed = pixels.copy()
    mixed[..., :3] = [90, 150, 66]
    dry = run("key-out", mixed, colour="#22b14cff", tolerance=0, softness=1, spill=100)[0, 0]
    assert dry[3] == 255
    assert dry[1] - dry[[0, 2]].mean() < 30, "what was left of the green is taken off"


def test_stripes_dots_edges_and_fields_are_where_they_are_said_to_be() -> None:
    full = np.full((HIGH, WIDE, 4), 255, dtype=np.uint8)
    striped = run("stripes", full, period=20, left=50, angle=0)[30, :, 3]
    assert striped.tolist() == ([128] + [255] * 9 + [127] + [0] * 9) * 4 + [128] + [255] * 9 or (
        abs(striped[1:9] - 255).max() == 0 and striped[11:19].max() == 0 and (striped[20:40] == striped[:20]).all()
    )
    edges = run("vignette", full, colour="#000000ff", amount=100, size=50, softness=50)
    assert (edges[HIGH // 2, WIDE // 2, :3] >= 254).all()
    assert edges[HIGH // 2, WIDE - 1, 0] < 4
    black = full.copy()
    black[..., :3] = 0
    dots = run("halftone", black, ink="#102030ff", paper="#fff8eaff", size=10)
    assert (dots[10:-10, 10:-10, :3] == [16, 32, 48]).all(), "black is all ink"
    assert (run("halftone", full, size=10)[..., :3] == [255, 248, 234]).all(), "white is all paper"
    clouds = run("noise-field", full, dark="#000000ff", light="#ffffffff", size=[30, 30], contrast=100)[..., 0]
    assert 90 < clouds.mean() < 165
    assert np.abs(np.diff(clouds, axis=1)).max() < 40, "smooth"
    steps = [run("noise-field", full, dark="#000000ff", light="#ffffffff", evolution=at)[..., 0] for at in (0, 0.01, 1)]
    assert np.abs(steps[1] - steps[0]).mean() < 2 < np.abs(steps[2] - steps[0]).mean()


WHERE = """moves => moves.map(({css, points}) => {
  const matrix = new DOMMatrix(css);
  return points.map(([x, y]) => {
    const at = matrix.transformPoint(new DOMPoint(x, y, 0, 1));
    return [at.x / at.w, at.y / at.w];
  });
})"""


def test_a_card_that_flips_lies_where_css_turns_it(browser: Browser) -> None:
    """The corners of a turned card are where Chromium's matrices put them; pinned ones where they were pinned, and all
    of it between them; what a bulge moves by its closed form."""
    page = browser.new_page()
    dice = random.Random(2)
    moves, mine = [], []
    corners = np.array([[0, 0], [WIDE, 0], [WIDE, HIGH], [0, HIGH]], dtype=float)
    beneath = Beneath(np.array([[0.0, 0.0, WIDE, HIGH]]), np.zeros(1))
    for _ in range(40):
        x, y, far = dice.uniform(-170, 170), dice.uniform(-170, 170), dice.uniform(300, 900)
        made = KINDS["perspective-turn"].model_validate(
            {"about_x": x, "about_y": y, "distance": far, "centre": [30, 70]}
        )
        values = evaluated(dict(tracks_in(made)), np.zeros(1), 30.0)
        cx, cy = 0.3 * WIDE, 0.7 * HIGH
        turned = f"perspective({far}px) rotateX({x}deg) rotateY({y}deg)"
        css = f"translate({cx}px, {cy}px) {turned} translate({-cx}px, {-cy}px)"
        moves.append({"css": css, "points": corners.tolist()})
        mine.append(made.corners(values, beneath)[0])
    told = page.evaluate(WHERE, moves)
    page.close()
    assert np.abs(np.array(told) - np.array(mine)).max() < 0.05
    pixels = picture(19, opaque=True)
    pinned = run("corner-pin", pixels, top_left=[10, 20], top_right=[90, 5], bottom_right=[80, 95], bottom_left=[5, 80])
    quad = np.array([[9, 14], [81, 3.5], [72, 66.5], [4.5, 56]])
    y, x = np.mgrid[:HIGH, :WIDE] + 0.5
    sides = []
    for (ax, ay), (bx, by) in zip(quad, np.roll(quad, -1, axis=0), strict=True):
        sides.append((bx - ax) * (y - ay) - (by - ay) * (x - ax))
    away = np.min([side / np.hypot(*(quad[(i + 1) % 4] - quad[i])) for i, side in enumerate(sides)], axis=0)
    assert (pinned[..., 3][away > 1] == 255).all()
    assert (pinned[..., 3][away < -1] == 0).all()
    bulged = run("bulge", pixels, amount=100, radius=30)
    for px in (5, 11, 17, 23):
        # At a share r of the radius what lies at r squared is seen.
        source = WIDE / 2 + 30 * ((px + 0.5) / 30) ** 2
        assert np.abs(bulged[34, WIDE // 2 + px] - pixels[34, int(source)]).max() <= 110
    crossed = run(
        "corner-pin", pixels, top_left=[50, 50], top_right=[50, 50], bottom_right=[50, 50], bottom_left=[50, 50]
    )
    assert (crossed[..., 3] == 0).all(), "corners in one point show nothing"


@pytest.mark.parametrize("kind", list(RANGES))
def test_nothing_of_any_kind_is_cut_off(kind: str) -> None:
    """On the layer in the scene as on a larger ground, turned and not; and nothing where it changes nothing."""
    dice = random.Random(kind)
    places: list[dict[str, Any]] = [
        {"position": [60, 330]},
        {"position": [600, 40], "rotation": 30, "scale": [120, 80]},
    ]
    for place in places if SEARCHING else [dice.choice(places)]:
        items = [{"shape": "star", "size": [150, 130], "points": 5, "fill": "#d24b1e"},
                 {"shape": "ellipse", "size": [50, 50], "fill": "#0e6b61"}]  # fmt: skip
        made = layer("Star", content={"kind": "shape", "items": items}, **place) | {"effects": [effect(dice, kind)]}
        by = 420
        carrier = layer("All", content={"kind": "carrier"}, position=[by, by], anchor={"rest": [0, 0], "pinned": False})
        small = shown(scene(made))
        large = shown(scene(made | {"carrier": "all"}, carrier, width=640 + 2 * by, height=360 + 2 * by))
        gap = np.abs(seen(small) - seen(large[by : by + 360, by : by + 640])).max(axis=2)
        # What is turned is drawn bilinear, from a sheet that may begin at another part of a pixel.
        straight = not place.get("rotation")
        assert np.percentile(gap, 99.5) <= (1 if straight else 26), kind
        assert (gap > 40).mean() < 0.002, kind


def shown(made: Scene) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    painter.paint(draw_list(resolve(made, np.array([7.0]), NO_MEDIA)), 0)
    return painter.pixels()


def test_effects_are_put_on_several_and_on_shapes_within() -> None:
    """Copied with other ids and names of their own, also within groups; switches and stops set; 41 are refused."""
    star = {"shape": "star", "size": [80, 80], "points": 5, "fill": "#d24b1e"}
    group = {"shape": "group", "items": [star, {**star, "at": [50, 0]}]}
    made = scene(layer("One", content={"kind": "shape", "items": [star, group]}),
                 layer("Two", content={"kind": "text", "text": "Hi", "size": 90, "fill": "#112233"}))  # fmt: skip

    def edited(before: Scene, *edits: dict[str, Any]) -> Scene:
        return apply_edits(before, [EDIT.validate_python(one) for one in edits], NO_MEDIA).scene

    put = {"edit": "paste_effects", "effects": [{"effect": "shadow", "name": "Shadow"}, {"effect": "grain"}]}
    after = edited(made, put | {"layers": ["one", "two"]}, put | {"layers": ["one"]})
    assert [(one.id, one.name) for one in after.layer("one").effects] == [
        ("0", "Shadow"), ("1", "Grain"), ("2", "Shadow 2"), ("3", "Grain 2"),
    ]  # fmt: skip
    assert len(edited(after, put | {"layers": ["one"], "replace": True}).layer("one").effects) == 2
    inside = edited(made, {"edit": "add_effect", "layer": "one/1", "effect": "colour-wash"})
    inside = edited(inside, {"edit": "set_effect", "layer": "one/1", "effect": "0", "fields": {"shaded": True}})
    inside = edited(
        inside, {"edit": "set_property", "layer": "one/1", "property": "effects.0.amount", "frame": 0, "value": 100}
    )
    content: Any = inside.layer("one").content
    assert content.items[1].effects[0].shaded
    assert content.items[0].effects == ()
    changed = (shown(inside) != shown(made)).any(axis=2)
    assert changed.any()
    assert Scene.model_validate_json(inside.to_json()) == inside
    many = edited(made, {"edit": "paste_effects", "layers": ["one"], "effects": [{"effect": "grain"}] * 40})
    with pytest.raises(Exception, match="would have 41 effects, and 40"):
        edited(many, {"edit": "paste_effects", "layers": ["one"], "effects": [{"effect": "grain"}]})
    with pytest.raises(Exception, match="has no 'sparkle'"):
        edited(many, {"edit": "set_effect", "layer": "one", "effect": "0", "fields": {"sparkle": 1}})


def test_sheets_that_are_kept_are_those_of_their_frames() -> None:
    """One painter over frames in any order, effects at rest and in motion, is a fresh painter of each."""
    dice = random.Random(4)
    item = {"shape": "star", "size": [150, 130], "points": 5, "fill": "#d24b1e"}
    layers = [
        layer(f"L{number}", content={"kind": "shape", "items": [item]}, position=[120 + 90 * number, 180])
        | {"effects": [effect(dice, kind, 0.5), effect(dice, "tones", 0.5)]}
        for number, kind in enumerate(("shadow", "grain", "wave", "soft-blur", "halftone"))
    ]
    drawing = draw_list(resolve(scene(*layers), np.arange(60.0), NO_MEDIA))
    one = Painter(640, 360, lambda *_: None)
    for frame in (5, 5, 30, 5, 59, 59, 31, 30):
        one.paint(drawing, frame)
        fresh = Painter(640, 360, lambda *_: None)
        fresh.paint(drawing, frame)
        assert (one.pixels() == fresh.pixels()).all(), frame
