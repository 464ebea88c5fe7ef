"""SVG files as layers: painted as Chromium paints them, refused where they must be, and whole where they can be."""

from __future__ import annotations

import base64
import gzip
import io
import random
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser

from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.items_as_layers import item_layer
from mudskipper.core.document.read import read_scene
from mudskipper.core.document.scene import Scene, Span
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.items import items_resolved
from mudskipper.core.resolve.resolved import resolve
from mudskipper.paint.painter import Painter
from mudskipper.readers.apart import MUCH, layers_of
from mudskipper.readers.art import MOST_BYTES, notes_in_words, read_art
from tests.conftest import SEARCHING, THOROUGH, TRIALS
from tests.readers.samples import BLOB, SAMPLES, svg

FINER = 4
SPAN = Span(start=0, length=60)


def painted(scene: Scene, scale: float = 1) -> np.ndarray:
    """The first frame, premultiplied."""
    painter = Painter(scene.width, scene.height, lambda _: None, scale)
    painter.paint(draw_list(resolve(scene, [0.0], NO_MEDIA)), 0)
    return premultiplied(painter.pixels())


def premultiplied(pixels: np.ndarray) -> np.ndarray:
    return np.concatenate([pixels[..., :3] * (pixels[..., 3:] / 255), pixels[..., 3:].astype(float)], axis=2)


def coarse(pixels: np.ndarray) -> np.ndarray:
    """The mean of each pixel's finer ones."""
    high, wide, depth = pixels.shape
    return pixels.reshape(high // FINER, FINER, wide // FINER, FINER, depth).mean(axis=(1, 3))


def test_art_is_painted_as_chromium_paints_it(browser: Browser) -> None:
    """Every fourth sample, before a hand-in every second, when searching each; painted by both four times finer, since
    rasterisers differ at edges of convex outlines: a mean difference up to 0.5 of 255, and at most one pixel of a
    thousand further off than 24."""
    assert len(SAMPLES) >= 60
    page = browser.new_page(viewport={"width": 160 * FINER, "height": 120 * FINER})
    wrong = {}
    for name, text in list(SAMPLES.items())[:: 1 if SEARCHING else 2 if THOROUGH else 4]:
        data = base64.b64encode(text.encode()).decode()
        size = f"width: {160 * FINER}px; height: {120 * FINER}px"
        style = f"display: block; {size}"
        page.set_content(f"<body style='margin:0'><img style='{style}' src='data:image/svg+xml;base64,{data}'>")
        page.wait_for_function("() => document.images[0].complete && document.images[0].naturalWidth")
        shot = Image.open(io.BytesIO(page.screenshot(omit_background=True))).convert("RGBA")
        art = read_art(text.encode(), f"{name}.svg")
        gap = np.abs(coarse(painted(art.scene(), FINER)) - coarse(premultiplied(np.asarray(shot))))
        far = float((gap.max(axis=2) > 24).mean())
        if gap.mean() > 0.5 or far > 0.001:
            wrong[name] = (round(float(gap.mean()), 2), round(far, 4))
    page.close()
    assert not wrong


LAUGHS = "".join(f'<!ENTITY l{n} "{f"&l{n - 1};" * 9 if n else "ha"}">' for n in range(9))
MANY = svg("".join('<use href="#a"/>' for _ in range(80)), defs='<g id="a">' + '<path d="M0 0h9v9"/>' * 80 + "</g>")
REFUSED: list[tuple[bytes, str]] = [
    (b"", "no XML that can be read"),
    (b"GIF89a not at all", "no XML that can be read"),
    (b"<html><body/></html>", "begins with an svg element"),
    (f"<!DOCTYPE svg [{LAUGHS}]>{svg('<text>&l8;</text>')}".encode(), "declares entities"),
    (b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg">&x;</svg>',
     "declares entities"),
    (svg("<script>alert(1)</script><rect/>").encode(), "holds a script"),
    (svg('<rect width="9" height="9" onclick="x()"/>').encode(), "holds a script"),
    (svg('<image href="https://example.org/a.png" width="9" height="9"/>').encode(), "lies outside of the file"),
    (svg('<use href="other.svg#a"/>').encode(), "lies outside of the file"),
    (svg('<rect style="fill:url(http://example.org/#a)"/>').encode(), "outside of the file"),
    (svg("<style>@import url(a.css);</style>").encode(), "imports another one"),
    (svg("", 'width="0" height="0" viewBox="0 0 0 0"').encode(), "view box has no size"),
    (svg("").encode(), "nothing in it that could be seen"),
    (svg("<rect/>", 'width="99999" height="10"').encode(), "at most 16,384 pixels"),
    (MANY.encode(), "more than 5,000 shapes"),
    (svg("<text y='9'>a</text>" * 2_001).encode(), "more than 2,000 layers of text"),
    (gzip.compress(svg("<rect/>").encode()), "no XML that can be read"),
    (b" " * (MOST_BYTES + 1), "at most 24 MB"),
    (svg("<rect/>", 'viewBox="0 0 10"').encode(), "nothing in it"),
    (("<g>" * 4000 + "</g>" * 4000).join(svg("|").split("|")).encode(), "too deep|nothing in it|no XML"),
]  # fmt: skip


@pytest.mark.parametrize(("data", "told_"), REFUSED, ids=[words for _, words in REFUSED])
def test_what_is_never_taken_in_is_refused_in_words(data: bytes, told_: str) -> None:
    with pytest.raises(Refused, match=told_) as refusal:
        read_art(data, "art.svg")
    assert refusal.value.where == "art.svg"


NOTED: list[tuple[str, str]] = [
    ('<use href="#gone"/>', "the missing element #gone"),
    ('<g id="round"><use href="#round"/></g>', "references that lead in a circle"),
    ('<circle r="9" fill="url(#pat)"/>', "pattern fills"),
    ('<circle r="9" filter="url(#f)"/>', "filters"),
    ('<path d="M0 0h50" stroke="red" marker-end="url(#m)"/>', "markers"),
    ('<path d="M0 0h50" stroke="red" stroke-dasharray="5 2 1 2"/>', "dashes of several lengths"),
    ('<image href="data:image/png;base64,AAAA" width="9" height="9"/>', "embedded pictures"),
    ('<foreignObject width="9" height="9"/>', "foreign content"),
    ('<text font-family="Nowhere Sans">Tide</text>', "the font Nowhere Sans (set in Figtree)"),
    ('<rect width="50" height="50" style="mix-blend-mode: multiply"/>', "blend modes"),
    ('<rect width="50" height="50" clip-path="url(#none)"/>', "the missing clip #none"),
]


def test_what_is_not_supported_is_listed_and_the_rest_comes_in() -> None:
    defs = '<pattern id="pat" width="4" height="4"><rect/></pattern>'
    for body, note in NOTED:
        art = read_art(svg(f'<rect width="30" height="30"/>{body}', defs=defs).encode(), "a.svg")
        assert note in art.notes, body
        assert painted(art.scene())[15, 15, 3] == 255
    every = read_art(
        svg('<rect width="30" height="30"/>' + "".join(body for body, _ in NOTED), defs=defs).encode(), "a.svg"
    )
    assert notes_in_words(every.notes).startswith("Not taken in, or not as in the file: ")
    assert notes_in_words(every.notes).count(" and ") == 1


CRAB = svg(
    '<g id="Shell"><ellipse cx="80" cy="60" rx="50" ry="30" fill="#d9482f"/>'
    '<circle id="Eye" cx="95" cy="40" r="6"/></g>'
    f'<g id="Claw" opacity=".5" transform="rotate(20 80 60)"><path id="Upper" d="{BLOB}"/><g><title>Lower claw</title>'
    '<rect x="10" y="10" width="20" height="8" stroke="red" transform="scale(2 1)"/><circle r="5"/></g></g>'
    '<text x="80" y="110" text-anchor="middle" font-size="16" font-family="serif" font-weight="bold">Shore <tspan>crab'
    '</tspan></text><circle id="Front" cx="150" cy="10" r="4"/>'
)


def test_groups_names_texts_and_anchors() -> None:
    """One layer of all shapes as far as no text parts them; or one of each top group. Anchors are in the middles."""
    art = read_art(CRAB.encode(), "Shore crab.svg")
    assert (art.width, art.height, art.notes) == (160, 120, ())
    whole = art.layers(SPAN)
    assert [(one.name, one.content.kind) for one in whole] == [
        ("Shore crab", "shape"), ("Shore crab", "text"), ("Shore crab", "shape")
    ]  # fmt: skip
    each = art.layers(SPAN, each=True)
    assert [one.name for one in each] == ["Shell", "Claw", "Shore crab", "Shore crab"]
    assert art.groups == 4
    scene = Scene(name="A", width=160, height=120, length=60, layers=tuple(
        one.model_copy(update={"id": f"n{number}"}) for number, one in enumerate(each)
    ))  # fmt: skip
    assert [item_layer(scene, f"n0/{key}").name for key in (0, 1)] == ["Ellipse 1", "Eye"]
    assert item_layer(scene, "n1/0").name == "Claw"
    assert item_layer(scene, "n1/0/0").name == "Upper"
    assert item_layer(scene, "n1/0/1").name == "Lower claw"
    resolved = resolve(scene, [0.0], NO_MEDIA)
    for one in resolved.layers.values():
        items = items_resolved(one, resolved.context.around(one.layer, resolved.frames))
        for found in (one, *items.values()):
            assert np.allclose(found.fraction, 0.5, atol=1e-6), found.layer.name
    assert np.abs(painted(scene) - painted(art.scene())).max() <= 2, "however it is divided"
    text: Any = whole[1].content
    assert (text.text, text.align, text.font.family, text.font.weight) == (
        "Shore crab",
        "centre",
        "Source Serif 4",
        700,
    )
    line = resolve(scene, [0.0], NO_MEDIA).layers["n2"]
    baseline = line.baselines[0, 0]
    assert np.allclose(line.matrix[0, 4:] + [0, baseline], [80, 110], atol=1e-3)


@pytest.mark.thorough
@pytest.mark.parametrize("each", [False, True])
def test_layers_of_much_art_are_made_in_a_process_of_their_own(each: bool) -> None:
    """The same, at the same places, and refused in the same words."""
    art = read_art(CRAB.replace("</svg>", '<text y="9">Tide</text>' * 160 + "</svg>").encode(), "crab.svg")
    here, apart = art.layers(SPAN, (7.0, 9.0), each=each), layers_of(art, SPAN, (7.0, 9.0), each=each)
    assert art.weight > MUCH
    assert [one.model_dump(exclude={"id"}) for one in apart] == [one.model_dump(exclude={"id"}) for one in here]
    full = replace(art, parts=[{**art.parts[0], "items": art.parts[0]["items"] * 5_000}])
    told = []
    for make in (full.layers, lambda *given, each: layers_of(full, *given, each=each)):
        with pytest.raises(Refused) as no:
            make(SPAN, (0.0, 0.0), each=each)
        told.append((no.value.sentence, no.value.where, no.value.mend))
    assert told[0] == told[1]


def test_groups_of_one_deep_groups_and_spaced_text() -> None:
    """A group of one leaves it its name; groups beyond what a layer takes are taken apart, and look the same."""
    art = read_art(svg('<g id="Eye"><circle cx="40" cy="40" r="9"/></g><circle r="4"/>').encode(), "EYES.SVG")
    (layer,) = art.layers(SPAN)
    assert (layer.name, [item.name for item in layer.content.items]) == ("EYES", ["Eye", ""])
    two = '<rect x="30" y="30" width="60" height="40" fill="teal"/><circle cx="60" cy="50" r="12" fill="gold"/>'
    deep = read_art(svg("".join(f'<g id="g{n}">{two}' for n in range(25)) + "</g>" * 25).encode(), "a.svg")
    assert deep.notes == ()
    assert (painted(deep.scene()) == painted(read_art(svg(two).encode(), "a.svg").scene())).all()
    spaced = '<text y="50" font-size="20" letter-spacing="3" transform="scale(2)">Tide</text>'
    (text,) = read_art(svg(spaced).encode(), "a.svg").layers(SPAN)
    assert (text.content.size.rest, text.content.tracking.rest) == (40, 150)


def test_art_that_reaches_past_its_frame_is_cropped_to_it() -> None:
    art = read_art(svg('<circle cx="0" cy="60" r="50" fill="teal"/>').encode(), "a.svg")
    (layer,) = art.layers(SPAN, (100, 50))
    assert layer.crop is not None
    wide = Scene(name="A", width=400, height=300, length=60, layers=(layer,))
    alpha = painted(wide)[..., 3]
    assert not alpha[:, :100].any()
    assert alpha[110, 110] == 255


def test_any_bytes_are_taken_or_refused_in_words() -> None:
    """Samples with parts cut out, doubled and changed."""
    dice = random.Random(5)
    texts = list(SAMPLES.values())
    for _ in range(25 * TRIALS):
        data = bytearray(dice.choice(texts).encode())
        for _ in range(dice.randint(1, 6)):
            at = dice.randrange(len(data))
            change = dice.choice(["cut", "byte", "double", "number"])
            if change == "cut":
                del data[at : at + dice.randint(1, 30)]
            elif change == "byte":
                data[at] = dice.randrange(256)
            elif change == "double":
                data[at:at] = data[at : at + 40]
            else:
                data[at:at] = dice.choice([b"-1e9", b"NaN", b"0", b"1e308", b"%", b"9999999999"])
        try:
            scene = read_art(bytes(data), "a.svg").scene()
        except Refused:
            continue
        assert read_scene(scene.to_json()) == scene
        painted(scene)


@pytest.mark.parametrize("size", ["0", "0px", "-4", "1e30", "1e400", "nan"])
@pytest.mark.parametrize("place", ["", 'x="1e39"', 'y="1e300"', 'transform="scale(1e30)"'])
def test_texts_of_any_size_and_place_come_in_or_are_not_seen(size: str, place: str) -> None:
    text = svg(f'<rect width="9" height="9"/><text font-size="{size}" {place}>Tide</text>')
    for made in read_art(text.encode(), "a.svg").scene().layers:
        assert 0 < getattr(made.content, "size", made.opacity).rest <= 10_000
