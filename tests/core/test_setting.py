"""Text as it is set: lines broken, justified and fitted, parts, axes of fonts, strokes and gradients."""

from __future__ import annotations

import random
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from playwright.sync_api import Browser
from uniseg.linebreak import line_break_units

from mudskipper.core.checks import check_scene
from mudskipper.core.contents.assets import NO_MEDIA, Assets
from mudskipper.core.contents.text import TextContent
from mudskipper.core.contents.text_block import spills
from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import Scene
from mudskipper.core.draw.operations import glyph_runs
from mudskipper.core.edits import apply_edits
from mudskipper.core.edits.add_layers import AddLayers
from mudskipper.core.edits.layers import DeleteLayers, DuplicateLayers
from mudskipper.core.edits.move_anchor import MoveAnchor
from mudskipper.core.edits.put_into_scene import PutIntoScene
from mudskipper.core.edits.scenes import SetScene
from mudskipper.core.edits.take_apart import TakeApart
from mudskipper.core.edits.text_parts import SetLetters, flat
from mudskipper.core.edits.text_path import PutOnPath
from mudskipper.core.edits.values_and_keys import SetProperty
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.drawing import draw_list
from mudskipper.core.resolve.resolved import resolve
from mudskipper.core.text.breaking import chances
from mudskipper.core.text.clusters import clusters
from mudskipper.core.text.families import INSTALLED
from mudskipper.core.text.features import tags_of
from mudskipper.core.text.fonts import Font, Style, outline
from mudskipper.core.text.layout import Setting, plain
from mudskipper.core.text.letters import merged
from mudskipper.core.text.written import shifted
from mudskipper.core.tracks.walk import evaluated, tracks_in
from mudskipper.paint.painter import Painter, _built
from mudskipper.readers.svg.outlines import path_contours
from tests.conftest import cases, layer, scene
from tests.core.documents_at_random import GRADIENT, dressed
from tests.core.edits_at_random import LETTERS


def text_of(words: str, **fields: Any) -> TextContent:
    return TextContent.model_validate({"text": words, "size": 40, "fill": "#1b2628", **fields})


def set_at(content: TextContent, *frames: float) -> Setting:
    """A text as it is set at frames."""
    values = evaluated(dict(tracks_in(content)), np.array(frames or (0.0,)), 30.0)
    return content.set_with(values, INSTALLED)


PARAGRAPHS = [
    "The tide comes in twice a day, and with it the whole shore moves up by a metre (or so): that’s “normal”.",
    "Übermorgen 12.500 Menschen – mindestens; 3/4 davon im Hafen-Café, e-Mail an hallo@hafen.example!",
    "सागर किनारे ज्वार दिन में दो बार आता है, और हर बार रेत नई हो जाती है।",
    "يأتي المد مرتين في اليوم، ومعه يتحرك الشاطئ كله (Low tide) إلى الأعلى.",
    "Extra­ordi­narily long words are part­ed where a soft hy­phen lets them",
    "Приливы бывают два раза в день; вода поднимается на метр — не больше.",
]
BROKEN = """([texts, faces]) => {
  const block = document.createElement('div');
  Object.assign(block.style, {font: '600 40px Figtree', fontOpticalSizing: 'none', whiteSpace: 'pre-wrap',
    textRendering: 'geometricPrecision', hyphens: 'manual', fontFamily: faces});
  document.body.append(block);
  return texts.map(([text, width]) => {
    block.style.width = width + 'px';
    block.textContent = text;
    block.dir = 'auto';
    const node = block.firstChild, range = document.createRange(), ends = [];
    let last = null;
    for (let at = 0; at < text.length; at++) {
      range.setStart(node, at); range.setEnd(node, at + 1);
      const box = [...range.getClientRects()].at(-1);
      if (!box || !box.width) continue;
      if (last !== null && box.top > last + 20) ends.push(at);
      last = Math.max(last ?? 0, box.top);
    }
    return ends;
  });
}"""


@pytest.fixture(scope="module")
def families(browser: Browser) -> Any:
    """A page that has the families which the paragraphs are set in."""
    import base64

    page = browser.new_page()
    page.goto("about:blank")
    names = ["Figtree", "Noto Sans", "Noto Sans Arabic", "Noto Sans Devanagari"]
    files = [(name, base64.b64encode(INSTALLED.family_of(name).files[0].path.read_bytes()).decode()) for name in names]
    page.evaluate(
        """async faces => { for (const [name, data] of faces) {
          const face = new FontFace(name, `url(data:font/ttf;base64,${data})`, {weight: '1 1000'});
          document.fonts.add(face); await face.load(); } }""",
        files,
    )
    yield page, ", ".join(f'"{name}"' for name in names)
    page.close()


def test_lines_end_where_chromium_ends_them(families: Any) -> None:
    """Paragraphs in six scripts at a hundred widths: each line begins with the same letter."""
    page, faces = families
    dice = random.Random(5)
    asked = [(text, dice.uniform(140, 900)) for text in PARAGRAPHS for _ in range(17)]
    told = page.evaluate(BROKEN, [asked, faces])
    wrong = []
    for (text, width), ends in zip(asked, told, strict=True):
        content = text_of(text, block={"width": {"rest": width}})
        lines = content.lines(evaluated(dict(tracks_in(content)), np.zeros(1), 30.0), INSTALLED)[0]
        mine, at = [], 0
        for line in lines[:-1]:
            at = text.index(line.text.rstrip("‐-")[:4].rstrip() or line.text[:1], at) + len(line.text.rstrip("‐"))
            while at < len(text) and text[at] in " \u00ad":
                at += 1
            mine.append(at)
        if mine != ends:
            wrong.append((round(width), text[:20], mine, ends))
    assert not wrong, f"{len(wrong)} of {len(asked)}: {wrong[:4]}"


@cases(150)
@given(st.text(st.sampled_from([*"ab1 !?日本語。、ゃアสवि\u00a0\u00ad\u200b\u2060🙂"]), max_size=24))
def test_lines_may_end_where_another_implementation_lets_them(text: str) -> None:
    """UAX 14 as a package in plain Python has it, which shares no line with the one that is used; of signs in numbers
    both know versions of the standard that differ."""
    assert list(chances(text)) == np.cumsum([len(unit) for unit in line_break_units(text)]).tolist()


def test_a_justified_block_is_full_and_what_fits_is_as_large_as_it_can_be() -> None:
    words = "The tide comes in twice a day and with it the whole shore moves up by a metre"
    setting = set_at(text_of(words, align="justify", block={"width": {"rest": 400}}))
    lines = np.unique(setting.lines.reshape(-1, 4), axis=0)
    assert (np.abs(lines[:-1, 2] - 400) < 1e-9).all()
    assert lines[-1, 2] < 390, "the last line stands apart"
    for seed in range(40):
        dice = random.Random(seed)
        fields = dressed(dice) | {"measure": "lines"}
        block = {"width": {"rest": dice.uniform(80, 500)}, "height": {"rest": dice.uniform(30, 200)}}
        content = text_of(" ".join(dice.choices(words.split(), k=dice.randint(1, 14))), **fields | {"block": block})
        fitted = content.model_validate({**content.model_dump(), "block": {**block, "least": {"rest": 0.5}}})
        setting = set_at(fitted)
        assert spills(setting).max() <= 1e-3, seed
        was = set_at(content)
        if spills(was).max() > 1e-3:
            share = float(setting.size[0, 0] / was.size[0, 0])
            more = {**fitted.model_dump(), "size": 40 * share * 1.002}
            del more["block"]["least"]
            assert spills(set_at(TextContent.model_validate(more))).max() > 0, f"{seed}: it could be larger"
    told = scene(layer("Sign", content={**text_of(words, block={"width": {"rest": 60}}).model_dump(), "kind": "text"}))
    (found,) = [one for one in check_scene(told, NO_MEDIA) if one.check == "block"]
    assert "wider than their block at frame 0" in found.sentence
    mended = apply_edits(told, list(found.edits), NO_MEDIA).scene
    assert not [one for one in check_scene(mended, NO_MEDIA) if one.check == "block"]


def pixels(made: Scene, frame: int) -> np.ndarray:
    painter = Painter(made.width, made.height, lambda *_: None)
    painter.paint(draw_list(resolve(made, np.arange(made.length), NO_MEDIA)), frame)
    return painter.pixels()


@pytest.mark.parametrize(
    "fields",
    [
        {}, {"fill": GRADIENT, "spread": "letter"},
        {"stroke": {"colour": "#0e6b61", "width": 3}, "stroke_behind": True},
        {"block": {"width": {"rest": 200}, "least": {"rest": 6}, "height": {"rest": 60}}, "align": "justify"},
        {"parts": [{"start": 4, "stop": 9, "size": {"rest": 150}, "fill": GRADIENT}], "case": "small capitals"},
        {"written": {"formula": 'format(frame, "0") + " tides"'}, "stroke": {"colour": "#0e6b61", "part": {"end": 60}}},
    ],
)  # fmt: skip
def test_what_is_keyed_is_at_each_frame_what_stands_still_there(fields: dict[str, Any]) -> None:
    """Axes of a font that are keyed, with all else that letters may have: the picture of each frame is that of a text
    whose axes rest where they are at that frame, to the byte."""
    ends = {"wght": (150.0, 850.0), "wdth": (70.0, 110.0)}

    def made(frame: int | None) -> Scene:
        axes = []
        for tag, (low, high) in ends.items():
            here = low if frame is None else low + (high - low) * frame / 59
            value: dict[str, Any] = {"rest": here}
            if frame is None:
                value["keys"] = [{"frame": 0, "value": low}, {"frame": 59, "value": high}]
            axes.append({"tag": tag, "value": value})
        font = {"family": "Archivo", "weight": 400}
        content = {"kind": "text", "text": "Low tides", "size": 60, "fill": "#1b2628", "font": font, "axes": axes}
        return scene(layer("Sign", content=content | fields), background="#fff8eaff")

    moving = made(None)
    for frame in (0, 23, 59):
        still = pixels(made(frame), frame)
        assert (pixels(moving, frame) == still).all(), frame
        assert (still != still[0, 0]).any()
    assert (pixels(moving, 0) != pixels(moving, 59)).any()


def test_values_on_an_axis_stop_at_the_ends_that_its_font_has() -> None:
    """Typed, by a formula and by an easing that goes beyond its keys; said by the axis' own name."""
    axis = {"tag": "wdth", "name": "Width", "low": 62, "high": 125}
    font = {"family": "Archivo", "weight": 400}

    def made(value: Any) -> Scene:
        content = {"kind": "text", "text": "Low", "font": font, "axes": [{**axis, "value": value}]}
        return scene(layer("Sign", id="sign", content=content))

    path = "content.axes.0.value"
    typed = apply_edits(made(100), [SetProperty(layer="sign", property=path, frame=0, value=5000.0)], NO_MEDIA)
    assert typed.notices == ("Width goes from 62 to 125: 5000 stops at 125.",)
    assert typed.scene.layer("sign").content.axes[0].value.rest == 125
    keys = [{"frame": 0, "value": 70, "ease": {"overshoot": 90.0}}, {"frame": 50, "value": 120}]
    for value in ({"rest": 100, "formula": "base + t * 900"}, {"rest": 70, "keys": keys}):
        one = resolve(made(value), np.arange(60), NO_MEDIA).layers["sign"]
        assert (one.values[path].min(), one.values[path].max()) >= (62, 125)
        assert one.values[path].max() == 125
    resolved = resolve(made({"rest": 100, "formula": "base + t * 900"}), np.arange(60), NO_MEDIA)
    told = resolved.context.formulas.beyond["sign", path].sentence
    assert told.startswith("Width goes from 62 to 125, and stops there")


@cases(60)
@given(st.integers(0, 10**6))
def test_the_box_of_the_ink_is_what_is_painted(seed: int) -> None:
    """Of texts set at random the box by ink holds all that is painted without strokes, and touches it on all sides."""
    dice = random.Random(seed)
    fields = dressed(dice) | {"measure": "ink", "stroke": None, "fill": "#000000", "cascades": []}
    fields["parts"] = [{**part, "stroke": None, "fill": None} for part in fields.get("parts", [])]
    words = dice.choice(["Low tide", "Agp", "ज्वार ते", "مد وجزر", "fi—ly"])
    made = scene(
        layer(
            "Sign", content={"kind": "text", "text": words, "size": 50, **fields}, anchor=[0, 0], position=[200, 120]
        ),
        background="#ffffffff",
    )
    resolved = resolve(made, [20], NO_MEDIA).layers[made.layers[0].id]
    left, top, width, height = resolved.box[0]
    painted = pixels(made, 20)[:, :, 0] < 250
    rows, columns = np.flatnonzero(painted.any(axis=1)), np.flatnonzero(painted.any(axis=0))
    assert len(rows)
    mine = (200, 120, 200 + width, 120 + height)
    theirs = columns[0], rows[0], columns[-1] + 1, rows[-1] + 1
    assert all(abs(a - b) <= 1.5 for a, b in zip(mine, theirs, strict=True)), (mine, theirs, left, top)


@cases(150)
@given(
    st.text(st.sampled_from("abcd 🙂e\u0301"), min_size=1, max_size=14),
    st.integers(0, 14), st.integers(0, 5), st.text(st.sampled_from("xy z"), max_size=4),
    st.lists(st.tuples(st.integers(0, 13), st.integers(1, 6)), max_size=3),
)  # fmt: skip
@example("Low tide", 0, 0, "S", [(0, 3), (4, 8)])
def test_parts_stay_on_their_letters_as_words_change(
    text: str, at: int, gone: int, typed: str, parts: list[tuple[int, int]]
) -> None:
    """Against letters that carry their part along: what is typed takes that of the letter before it, or of the first
    that was replaced; at the very start that of the first letter."""
    at = min(at, len(text))
    gone = min(gone, len(text) - at)
    stretches = [(start, min(start + length, len(text))) for start, length in parts if start < len(text)]
    after = text[:at] + typed + text[at + gone :]
    # Letters that stay the same at both ends of what was typed cannot be told from those that were there.
    if typed and (typed[0] in text or typed[-1] in text):
        return
    for stretch in stretches:
        marked = [stretch[0] <= place < stretch[1] for place in range(len(text))]
        if gone and typed:
            new = marked[at]
        elif at == 0:
            new = marked[0] and stretch[0] == 0
        else:
            new = marked[at - 1]
        wanted = marked[:at] + [new] * len(typed) + marked[at + gone :]
        if gone and not typed and text[at + gone : at + gone + 1] == text[at]:
            return
        ((start, stop),) = shifted([stretch], text, after)
        assert [start <= place < stop for place in range(len(after))] == wanted


@cases(80)
@given(st.integers(0, 10**6))
def test_letters_are_set_one_after_another_as_if_each_had_its_own(seed: int) -> None:
    """Random letters of a text set and given back, against a table that holds what each letter has; it is read again,
    and no part lies over another."""
    dice = random.Random(seed)
    words = "Low té🙂 tide"
    made = scene(layer("Sign", content={"kind": "text", "text": words, "size": 40}))
    table: list[dict[str, Any]] = [{} for _ in words]
    for _ in range(6):
        start = dice.randint(0, len(words) - 1)
        stop = dice.randint(start + 1, len(words))
        to = dict(dice.sample(LETTERS[:9], dice.randint(0, 2)))
        edit = SetLetters(layer=made.layers[0].id, start=start, stop=stop, to=to)
        made = apply_edits(made, [edit], NO_MEDIA).scene
        for first, last in clusters(words):
            if first < stop and last > start:
                for place in range(first, last):
                    table[place] = {**table[place], **to} if to else {}
    again = scene_of(made.model_dump(mode="json", by_alias=True))
    assert again == made
    parts = made.layers[0].content.parts
    assert all(one.stop <= other.start for one, other in pairwise(parts))
    for low, high, part in flat(parts, len(words)):
        for place in range(low, high):
            assert {name for name in table[place] if part is None or getattr(part, name) in (None, False)} == set()
            assert part is None or {n for n, _ in LETTERS[:9] if getattr(part, n) not in (None, False)} == set(
                table[place]
            )


@pytest.mark.parametrize("name", list(INSTALLED.families))
def test_letters_in_one_piece_cover_what_they_did(name: str) -> None:
    """Of every family, in its own script: outlines whose parts do not overlap are painted as those that do."""
    family = INSTALLED.family_of(name)
    words = "&@Agfßé8Rx" + "".join(map(chr, sorted(family.letters)[-300::12]))

    def drawn(shape: Any) -> np.ndarray:
        import skia

        surface = skia.Surface.MakeRasterN32Premul(1100, 360)
        surface.getCanvas().clear(skia.ColorWHITE)
        line = plain(words, Style(Font(family=name, weight=family.heaviest)))
        for number, one in enumerate(dict.fromkeys(line.names)):
            found = shape(one)
            path = _built(found.verbs, [coordinate * 60 / line.units[0] for coordinate in found.coordinates])
            path.offset(20 + 90 * (number % 12), 70 + 110 * (number // 12))
            surface.getCanvas().drawPath(path, skia.Paint(AntiAlias=True))
        return np.asarray(surface.makeImageSnapshot().toarray())[:, :, 0].astype(int)

    gap = np.abs(drawn(outline) - drawn(merged))
    assert (drawn(outline) < 128).any()
    # Where two edges of a letter met within a pixel, that was covered twice; of 35 letters a few pixels each.
    assert (gap > 40).sum() <= 45, f"{(gap > 40).sum()} pixels differ by up to {gap.max()}"


SPANS = """([spans, faces]) => {
  const line = document.createElement('span');
  Object.assign(line.style, {font: '600 40px Figtree', fontOpticalSizing: 'none', whiteSpace: 'pre',
    textRendering: 'geometricPrecision', fontFamily: faces});
  for (const [text, style] of spans) {
    const span = document.createElement('span');
    span.textContent = text;
    Object.assign(span.style, style);
    line.append(span);
  }
  document.body.append(line);
  const {width} = line.getBoundingClientRect();
  line.remove();
  return width;
}"""
ALIKE: list[tuple[dict[str, Any], dict[str, str]]] = [
    ({"size": {"rest": 150}}, {"fontSize": "150%"}),
    ({"font": {"family": "Noto Sans", "weight": 800}}, {"fontFamily": "Noto Sans", "fontWeight": "800"}),
    ({"case": "upper"}, {"textTransform": "uppercase"}),
    ({"case": "small capitals"}, {"fontVariantCaps": "small-caps"}),
    ({"features": ["tabular figures", "no kerning"]}, {"fontFeatureSettings": "'tnum', 'kern' 0"}),
    ({"axes": [{"tag": "wght", "value": 333}]}, {"fontVariationSettings": "'wght' 333"}),
    ({"raised": {"rest": 9}, "size": {"rest": 60}}, {"verticalAlign": "9px", "fontSize": "60%"}),
]


@pytest.mark.parametrize(("part", "style"), ALIKE)
def test_parts_are_as_wide_as_chromiums_spans(families: Any, part: dict[str, Any], style: dict[str, str]) -> None:
    page, faces = families
    words = ("Tide 1117 ", "AVATAR to 1211 Wave", " low")
    told = page.evaluate(SPANS, [[[words[0], {}], [words[1], style], [words[2], {}]], faces])
    start, stop = len(words[0]), len(words[0]) + len(words[1])
    mine = set_at(text_of("".join(words), parts=[{"start": start, "stop": stop, **part}])).box[0, 2]
    assert mine == pytest.approx(told, abs=0.06)


CURVES = [
    "M20 200 C 120 -60 260 380 420 120 S 600 60 620 200", "M40 60 L 300 300 L 600 80",
    "M60 180 A 140 140 0 1 1 340 181",
]  # fmt: skip
ALONG = """([curves, text, start]) => curves.map(curve => {
  const svg = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
  svg.innerHTML = `<path id="way" d="${curve}"/><text font-family="Figtree" font-weight="600" font-size="40"
    text-rendering="geometricPrecision"><textPath href="#way" startOffset="${start}">${text}</textPath></text>`;
  document.body.append(svg);
  const words = svg.querySelector('text');
  const found = [...text].map((_, at) => {
    const {x, y} = words.getStartPositionOfChar(at);
    return [x, y, words.getRotationOfChar(at)];
  });
  svg.remove();
  return found;
})"""


def test_letters_stand_along_a_path_where_chromium_puts_them(families: Any) -> None:
    """SVG's text on a path (SVG 2, 11.8): each letter by its middle, along curves, corners and an arc."""
    page, _ = families
    words, start = "Low-tide-week", 30
    told = page.evaluate(ALONG, [CURVES, words, start])
    for curve, wanted in zip(CURVES, told, strict=True):
        contours = path_contours(curve)
        shape = {
            "shape": "path", "contours": [{"count": len(one.points), "closed": one.closed} for one in contours],
            "points": {"rest": [point for one in contours for point in one.points]}, "stroke": {"colour": "#000000"},
        }  # fmt: skip
        way = layer("Way", content={"kind": "shape", "items": [shape]}, anchor=[0, 0], position=[0, 0])
        sign = layer("Sign", content={"kind": "text", "text": words, "size": 40}, position=[300, 300])
        made = scene(way, sign)
        ids = {one.name: one.id for one in made.layers}
        edits = [PutOnPath(layer=ids["Sign"], path=ids["Way"])]
        made = apply_edits(made, edits, NO_MEDIA).scene
        edits = [SetProperty(layer=ids["Sign"], property="content.path.shift", frame=0, value=start)]
        made = apply_edits(made, edits, NO_MEDIA).scene
        one = resolve(made, [0], NO_MEDIA)
        (glyphs,) = glyph_runs(draw_list(one).groups[1])
        mine = glyphs.matrices.reshape(-1, 6)
        turns = np.degrees(np.arctan2(mine[:, 1], mine[:, 0]))
        for (x, y, turn), matrix, angle in zip(wanted, mine, turns, strict=True):
            # Chromium measures curves by pieces that lie up to half a pixel off.
            assert np.hypot(matrix[4] - x, matrix[5] - y) < 0.3, (curve, matrix, x, y)
            assert abs((angle - turn + 180) % 360 - 180) < 0.5
        box = one.layers[ids["Sign"]].box[0]
        assert box[2] > 50
        gone = apply_edits(made, [DeleteLayers(layers=(ids["Way"],))], NO_MEDIA).scene
        straight = resolve(gone, [0], NO_MEDIA).layers[ids["Sign"]]
        assert straight.box[0, 3] == pytest.approx(48), "without its path it stands straight"


def along_a_ring() -> Scene:
    """Words that run along a ring which turns, one after another keyed."""
    ring = {"shape": "ellipse", "size": [200, 200], "stroke": {"colour": "#000000"}}
    turn = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 59, "value": 200}]}
    start = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 59, "value": 80}]}
    path = {"layer": "ring", "start": start}
    words = {"kind": "text", "text": "low tide", "size": 30, "fill": "#1b2628", "path": path}
    return scene(
        layer("Ring", id="ring", content={"kind": "shape", "items": [ring]}, position=[320, 180], rotation=turn),
        layer("Words", id="words", content=words, anchor={"rest": [0, 0], "pinned": False}, position=[0, 0],
              carrier="ring"),
    )  # fmt: skip


def corners_of(made: Scene, name: str, assets: Assets = NO_MEDIA) -> np.ndarray:
    (one,) = (one for one in made.layers if one.name == name)
    resolved = resolve(made, [10, 40], assets).layers[one.id]
    return np.concatenate([resolved.matrix.reshape(-1), np.broadcast_to(resolved.box, (2, 4)).reshape(-1)])


def test_words_along_an_outline_go_with_it_wherever_it_goes() -> None:
    """Duplicated together, put into a scene of their own and taken apart beside layers of the same ids, at another
    rate, renamed, split, read again; without it they stand straight, and it is said."""
    made = along_a_ring()
    was = corners_of(made, "Words")
    twice = apply_edits(made, [DuplicateLayers(layers=("ring", "words"), ids=("ring2", "words2"))], NO_MEDIA).scene
    copy = twice.layer("words2")
    assert (copy.carrier, copy.content.needs) == ("ring2", ("ring2",))
    alone = apply_edits(twice, [DeleteLayers(layers=("ring", "words"))], NO_MEDIA).scene
    assert corners_of(alone, copy.name) == pytest.approx(was)
    put = PutIntoScene(layers=("ring", "words"), name="Inner", scene="inner", id="shown", frame="scene")
    outcome = apply_edits(made, [put], NO_MEDIA)
    assets = NO_MEDIA.with_scenes(outcome.made)
    back = apply_edits(outcome.scene, [AddLayers(ready=tuple(made.layers), name="Sign")], assets).scene
    apart = apply_edits(back, [TakeApart(layer="shown")], assets).scene
    assert scene_of(apart.model_dump(mode="json", by_alias=True)) == apart
    texts = [one for one in apart.layers if one.content.needs]
    assert len(texts) == 2
    for one in texts:
        assert one.content.needs == (one.carrier,)
        assert corners_of(apart, one.name, assets) == pytest.approx(was, abs=1e-6)
    faster = apply_edits(made, [SetScene(frame_rate=(60, 1))], NO_MEDIA).scene
    ((early, late), (then, there)) = (
        resolve(one, frames, NO_MEDIA).layers["words"].box for one, frames in ((made, [10, 40]), (faster, [20, 80]))
    )
    assert [*early, *late] == pytest.approx([*then, *there])
    outcome = apply_edits(made, [DeleteLayers(layers=("ring",))], NO_MEDIA)
    assert "'Words' stands straight now: it ran along Ring." in outcome.notices
    assert outcome.scene.layer("words").content.needs == ()


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        ({"start": 0, "stop": 3, "to": {"no": 1}}, "Letters have no 'no'"),
        ({"start": 5, "stop": 5, "to": {}}, "No letter was chosen"),
        ({"start": 0, "stop": 3, "to": {"size": {"rest": 0}}}, "must lie between 1 and 10000"),
        ({"start": 0, "stop": 3, "to": {"features": ["tnum"]}}, "there is no feature 'tnum'"),
        ({"start": 0, "stop": 3, "to": {"features": ["old-style figures", "lining figures"]}}, "cannot be together"),
        ({"start": 0, "stop": 3, "to": {"axes": [{"tag": "weight", "value": 3}]}}, "tag"),
    ],
)
def test_letters_are_refused_in_words(edit: dict[str, Any], said: str) -> None:
    made = scene(layer("Sign", content={"kind": "text", "text": "Low tide"}))
    with pytest.raises(Refused, match=said):
        apply_edits(made, [SetLetters(layer=made.layers[0].id, **edit)], NO_MEDIA)


KERNED = ["AV", "To", "LT", "Ya", "WA", "P.", "Ty", "FA", "Kv", "r,"]


@pytest.mark.parametrize("family", ["Figtree", "Archivo", "Noto Serif"])
def test_optical_kerning_goes_where_the_makers_of_fonts_went(family: str) -> None:
    """What stands upright beside its like stays as the font has it; pairs that its maker brought together come together
    without his table, by about as much; what is joined by hand stays joined."""
    font = Font(family=family, weight=600)
    styles = [Style(font, features=tags) for tags in (("-kern",), (), tags_of(["optical kerning"]))]
    bare, kerned, optical = ({pair: plain(pair, one).advance.sum() for pair in (*KERNED, "HH", "nn")} for one in styles)
    assert optical["HH"] == pytest.approx(bare["HH"], abs=1e-9)
    assert optical["nn"] == pytest.approx(bare["nn"], abs=1e-9)
    shifts = np.array([(kerned[pair] - bare[pair], optical[pair] - bare[pair]) for pair in KERNED])
    assert (shifts[:, 1] < -0.005).mean() > 0.75, shifts
    assert np.abs(shifts[:, 0] - shifts[:, 1]).mean() < np.abs(shifts[:, 0]).mean(), shifts
    arabic = [plain("مرحبا", one).advance.sum() for one in styles]
    assert arabic[2] == arabic[0]
    setting = set_at(text_of("AVATAR To", features=["optical kerning"]))
    shaped = plain("AVATAR To", Style(Font(), features=tags_of(["optical kerning"])))
    assert setting.box[0, 2] == pytest.approx(shaped.advance.sum() * 40)


def test_lines_are_as_high_as_their_leading_in_pixels() -> None:
    """Whatever the size is, and smaller where a text is set smaller to fit."""
    for size in (20, 40, 90):
        setting = set_at(text_of("One\nTwo\nThree", size=size, leading={"rest": 50}))
        assert np.diff(setting.baselines[0]) == pytest.approx([50, 50])
        assert setting.box[0, 3] == pytest.approx(150)
    of_percent = set_at(text_of("One\nTwo", size=40, line_height={"rest": 125}))
    of_pixels = set_at(text_of("One\nTwo", size=40, leading={"rest": 50}))
    assert (of_percent.places == of_pixels.places).all()
    words = "The tide comes in twice a day and with it the whole shore"
    block = {"width": {"rest": 200}, "height": {"rest": 60}, "least": {"rest": 1}}
    fitted = set_at(text_of(words, block=block, leading={"rest": 60}))
    assert spills(fitted).max() <= 1e-3
    share = fitted.size[0, 0] / 40
    assert np.diff(fitted.baselines[0]) == pytest.approx([60 * share] * (fitted.baselines.shape[1] - 1))


def test_each_line_of_a_text_has_its_baseline_stations() -> None:
    made = scene(layer("Sign", content={**text_of("One\nTwo\nThree\nFour").model_dump(), "kind": "text"}))
    resolved = resolve(made, np.zeros(1), NO_MEDIA).layers["sign"]
    assert resolved.baselines.shape == (1, 4)
    tall = float(resolved.baselines[0, 1] - resolved.baselines[0, 0])

    def moved(station: str) -> Any:
        edit = {"edit": "move_anchor", "layer": "sign", "frame": 0, "to": {"station": station}}
        after = apply_edits(made, [MoveAnchor.model_validate(edit)], NO_MEDIA).scene
        return resolve(after, np.zeros(1), NO_MEDIA).layers["sign"].anchor[0, 1]

    stations = ("first baseline left", "line 2 baseline left", "line 3 baseline left", "last baseline left")
    assert np.diff([moved(station) for station in stations]) == pytest.approx([tall] * 3)
    with pytest.raises(Refused, match="no station 'line 4 baseline'"):
        moved("line 4 baseline")
