"""Text in every script: directions against another implementation, advances against Chromium's own text engine."""

from __future__ import annotations

import base64
import random
import re
from typing import Any

import numpy as np
import pytest
import regex
from bidi import get_display
from hypothesis import example, given
from hypothesis import strategies as st
from playwright.sync_api import Browser

from mudskipper.core.checks import check_scene
from mudskipper.core.contents.assets import NO_MEDIA
from mudskipper.core.document.read import scene_of
from mudskipper.core.edits import apply_edits
from mudskipper.core.geometry.bezier import Floats
from mudskipper.core.geometry.transform import apply
from mudskipper.core.ground.errors import Refused
from mudskipper.core.resolve.context import Context
from mudskipper.core.text.clusters import clusters
from mudskipper.core.text.directions import levels_of
from mudskipper.core.text.families import INSTALLED, Family, installed
from mudskipper.core.text.fonts import Font, Style, outline
from mudskipper.core.text.layout import plain
from mudskipper.core.text.runs import TextRun, missing_in, runs_of
from tests.conftest import cases, layer, scene
from tests.core.test_formulas import made

# Letters of which each stands once in a text, so that the order in which they are seen tells where each comes from.
LATIN, HEBREW, ARABIC = "abcdefgh", "אבגדהוזח", "بتثجحخدذ"
NUMBERS, SIGNS = "0123456789٠١٢٣", " .,:-+/!()[]"


@cases(250)
@given(st.permutations([*LATIN, *HEBREW, *ARABIC, *NUMBERS, *SIGNS]), st.integers(1, 30))
def test_letters_stand_in_the_order_of_another_implementation(letters: list[str], count: int) -> None:
    """The display order of the crate `unicode-bidi`, which shares no line with what sets directions here."""
    line = "".join(letters[:count]).strip()
    if not line:
        return
    levels = levels_of(line)
    order = list(range(len(line)))
    for level in range(max(levels), 0, -1):
        at = 0
        while at < len(order):
            stop = at
            while stop < len(order) and levels[order[stop]] >= level:
                stop += 1
            order[at:stop] = reversed(order[at:stop])
            at = max(stop, at + 1)
    assert "".join(line[at] for at in order) == get_display(line)
    seen = [place for run in runs(line) for place in _places(run.start, run.stop, run.level)]
    assert seen == order, "the runs stand in that order, too"


def runs(line: str) -> list[TextRun]:
    return runs_of(line, (), (Style(),))


def widths(text: str, style: Style) -> float:
    """The width of a line in ems."""
    return float(plain(text, style).advance.sum())


def _places(start: int, stop: int, level: int) -> list[int]:
    places = list(range(start, stop))
    return places[::-1] if level % 2 else places


WORDS = {
    "Figtree": [
        "Low",
        "Tide",
        "Week",
        "AVATAR",
        "Tofu",
        "fjord",
        "Ünïcödé",
        "Łódź",
        "Ōsaka",
        "3.4",
        "“To”",
        "Ångström",
    ],
    "Source Serif 4": ["office", "affluent", "Type", "Voilà", "Καλημέρα", "Привет", "мир", "Wörter", "Æsop"],
    "Caveat": ["mudflats", "jetty", "Привет", "waves"],
    "Noto Sans": ["Tây", "Nguyễn", "Ελλάδα", "Київ", "नमस्ते", "क्षत्रिय", "दुनिया"],
    "Noto Sans Arabic": ["مرحبا", "بالعالم", "الميناء", "لا", "إلى", "سلام"],
    "Amiri": ["مرحبا", "بِسْمِ", "اللّٰه"],
    "Heebo": ["שלום", "עולם", "ים", "tide"],
    "Noto Sans Devanagari": ["ज्वार", "समुद्र", "हिन्दी", "श्री", "र्क"],
    "Noto Sans Thai": ["สวัสดี", "น้ำลง", "ที่นี่"],
    "Noto Sans Tamil": ["வணக்கம்", "கடல்", "நெய்தல்"],
    "Noto Sans Telugu": ["తెలుగు", "సముద్రం", "శ్రీ"],
    "Noto Sans Khmer": ["សួស្តី", "សមុទ្រ", "ខ្មែរ"],
    "Kanit": ["สวัสดี", "Tide"],
    "Anton": ["LOW", "TIDE", "WAVE"],
}
MEASURE = """async ([faces, texts]) => {
  for (const [name, data, italic] of faces)
    if (![...document.fonts].some(face => face.family.replaceAll('"', '') === name)) {
      const face = new FontFace(name, `url(data:font/ttf;base64,${data})`, {weight: '1 1000'});
      document.fonts.add(face);
      await face.load();
    }
  const line = document.createElement('span');
  Object.assign(line.style, {fontSize: '100px', whiteSpace: 'pre', fontOpticalSizing: 'none',
    textRendering: 'geometricPrecision'});
  document.body.append(line);
  return texts.map(([names, weight, text, direction]) => {
    Object.assign(line.style, {fontFamily: names.map(name => `"${name}"`).join(', '), fontWeight: weight, direction});
    line.textContent = text;
    return line.getBoundingClientRect().width;
  });
}"""


def _strings() -> list[tuple[str, str]]:
    """Families and what is written in them: words, several of them, and those of other scripts among them."""
    dice = random.Random(8)
    found = [(family, word) for family, words in WORDS.items() for word in words]
    for family, words in WORDS.items():
        found += [(family, " ".join(dice.choices(words, k=dice.randint(2, 4)))) for _ in range(13)]
        for _ in range(4):
            other = WORDS[dice.choice(list(WORDS))]
            found.append((family, f"{dice.choice(words)} {dice.choice(other)} {dice.choice(words)}"))
    return found


def test_advances_are_those_of_chromium(browser: Browser) -> None:
    """The same files, over 300 strings in ten scripts, also mixed ones: each line as wide as Chromium sets it, within
    0.02 px at 100 px for each stretch of one direction, which Chromium rounds to 1/64 px."""
    texts = _strings()
    assert len(texts) >= 300
    used = dict.fromkeys(one for family, _ in texts for one in INSTALLED.in_turn(family)[:9])

    def data(family: Family) -> str:
        return base64.b64encode(family.file(400, False).path.read_bytes()).decode()

    page = browser.new_page()
    page.goto("about:blank")
    asked = [
        [
            [one.name for one in INSTALLED.in_turn(family) if one in used],
            400,
            text,
            "rtl" if levels_of(text)[0] else "ltr",
        ]
        for family, text in texts
    ]
    told = page.evaluate(MEASURE, [[[one.name, data(one), False] for one in used], asked])
    page.close()
    wrong = []
    for (family, text), width in zip(texts, told, strict=True):
        mine = widths(text, Style(Font(family=family, weight=400))) * 100
        stretches = 1 + int(np.count_nonzero(np.diff(levels_of(text))))
        if abs(mine - width) > 0.02 * stretches:
            wrong.append((family, text, round(mine, 3), round(width, 3)))
    assert not wrong, f"{len(wrong)} of {len(texts)}: {wrong[:12]}"


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("e\u0301a", ["e\u0301", "a"]), ("नमस्ते", ["न", "म", "स्ते"]),
        ("👩‍🚀!", ["👩‍🚀", "!"]), ("สวัสดี", ["ส", "วั", "ส", "ดี"]),
        ("🇯🇵🇫🇷", ["🇯🇵", "🇫🇷"]), ("각가", ["각", "가"]),
    ],
)  # fmt: skip
def test_letters_are_grapheme_clusters(text: str, found: list[str]) -> None:
    """By the examples of UAX 29 and its rules for Indic conjuncts; tracking widens between them, and within none."""
    assert [text[start:stop] for start, stop in clusters(text)] == found


SIGNS_OF_ALL = [*"ae\u0301\u200d\u0308 ", *"क्षिस्ত", *"각ᄀ", *"👩🚀🏽🇯🇵", *"\r\n", "\u0e33", "\u0600"]


@cases(150)
@given(st.text(st.sampled_from(SIGNS_OF_ALL), max_size=14))
def test_letters_are_those_of_another_implementation(text: str) -> None:
    """UAX 29 as `regex` has it, where no sign that joins consonants stands without one before it."""
    if not re.search(r"(?<![क-ह])्", text):
        assert [text[start:stop] for start, stop in clusters(text)] == regex.findall(r"\X", text)


def test_marks_and_joined_letters_keep_together_when_lines_are_widened() -> None:
    one, marked = plain("ab", Style()), plain("a\u0301b", Style())
    assert one.fresh.sum() == marked.fresh.sum() == 1
    assert marked.fresh[-1] == 1
    hebrew = plain("שלום", Style())
    assert hebrew.fresh.tolist() == [0, 1, 1, 1], "widened from left to right, whatever is read first"


ANY = [*"aZé ﬁ٣", *"بلاأ", *"שׁ", *"क्षि", "\u200d", "\u202e", "\u202c", "\u2067", "\u2068", "\u2069", "🙂", "日"]


@cases(120)
@given(st.text(st.sampled_from(ANY), max_size=30) | st.text(max_size=20))
@example("\U00010218,\U0001084c")  # from right to left, and not in all tables yet
@example("a\u2029ب\u0085א")
def test_any_text_is_set(text: str) -> None:
    """In all of it each letter is in one run, every number is finite, and every outline is there."""
    assert sorted(place for run in runs(text) for place in range(run.start, run.stop)) == list(range(len(text)))
    glyphs = plain(text, Style())
    assert all(np.isfinite(part).all() for part in (glyphs.dx, glyphs.dy, glyphs.advance, glyphs.letters))
    assert glyphs.letters.sum() == pytest.approx(glyphs.advance.sum())
    assert all(outline(name).verbs for name in glyphs.names)


def text_scene(words: str, **font: Any) -> Any:
    content = {"kind": "text", "text": words, "size": 40, "font": {"family": "Figtree", "weight": 600, **font}}
    return scene(layer("Sign", content=content))


def test_what_no_font_has_is_found_and_a_font_that_is_missing_keeps_its_name() -> None:
    """Both are findings; the second is mended by what stands in for it, and nothing is seen to change."""
    assert missing_in("Tide مرحبا 日\u200e\u202e\u034f", Style()) == ["日"]
    assert len(runs("AV\u200eAV\u00adAV")) == 1, "what is not seen parts no run"
    (found,) = check_scene(text_scene("日本 Tide"), NO_MEDIA)
    assert found.check == "font"
    assert found.sentence.startswith("No font here has “日”, “本” of 'Sign'")
    assert check_scene(text_scene("مرحبا שלום नमस्ते"), NO_MEDIA) == []
    lost = text_scene("Tide", family="Nowhere Sans", weight=950)
    again = scene_of(lost.model_dump(mode="json", by_alias=True))
    assert again.layers[0].content.font.family == "Nowhere Sans"
    (found,) = check_scene(again, NO_MEDIA)
    assert "is set in Nowhere Sans, which is not here; Figtree stands in for it" in found.sentence
    mended = apply_edits(again, list(found.edits), NO_MEDIA).scene
    assert check_scene(mended, NO_MEDIA) == []

    def outlines(font: Font) -> tuple[tuple[str, ...], Floats]:
        glyphs = plain("Tide", Style(font))
        return glyphs.names, glyphs.advance

    before, after = (outlines(one.layers[0].content.font) for one in (again, mended))
    assert before[0] == after[0]
    assert (before[1] == after[1]).all()


def test_any_package_of_fonts_that_is_installed_is_known() -> None:
    """Whole files: a family has its weights, its italic, and letters beyond the Latin ones where it has them."""
    known = installed()
    assert len(known) >= 30
    assert {"Figtree", "Noto Sans Arabic", "Heebo", "Noto Sans Devanagari", "Kanit"} <= known.keys()
    assert known["Kanit"].weights == (100, 200, 300, 400, 500, 600, 700, 800, 900)
    assert known["Kanit"].file(700, False).weight == 700
    assert known["Source Serif 4"].italic
    assert not known["Heebo"].italic
    assert ord("ξ") in known["Source Serif 4"].letters


def keyed_text(words: str, name: str = "Sign") -> dict[str, Any]:
    """A text that turns, grows and moves."""
    content = {"kind": "text", "text": words, "size": 40, "fill": "#fff8ea"}
    turn = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 40, "value": 70}]}
    grow = {"rest": [100, 100], "keys": [{"frame": 0, "value": [60, 60]}, {"frame": 40, "value": [140, 90]}]}
    fade = {"rest": 100, "keys": [{"frame": 0, "value": 0}, {"frame": 20, "value": 80}]}
    return layer(name, content=content, rotation=turn, scale=grow, opacity=fade, anchor=[0.2, 1])


@pytest.mark.parametrize("words", ["Ines Okafor-Lind\nEcologist", "مرحبا بالعالم", "ज्वार"])
@pytest.mark.parametrize("padding", [None, [40, 10, 8, 24]])
def test_a_plate_fits_whatever_is_said(words: str, padding: list[float] | None) -> None:
    """Its corners are those of the text's box, moved out by the padding, at every frame, in every script; it lies
    behind the text, fades with it, and goes on to fit when the words change, which rename the text."""
    before = scene(layer("Ground"), keyed_text("Tide", "Tide"), layer("Front"))
    put = {"edit": "put_plate", "layer": "tide", "frame": 10} | ({"padding": padding} if padding else {})
    said = {"edit": "set_content", "layer": "tide", "path": "text", "value": words}
    plated = made(before, put)
    assert [one.name for one in plated.layers] == ["Ground", "Plate of Tide", "Tide", "Front"]
    for now in (plated, made(plated, said), scene_of(made(plated, said).model_dump(mode="json", by_alias=True))):
        text, plate = now.layer("tide"), now.layers[1]
        context = Context(now, NO_MEDIA)
        for frame in (0, 10, 33, 59):
            one, behind = (context.one(each, frame) for each in (text, plate))
            left, top, right, bottom = padding or (20, 12, 20, 12)
            x, y, w, h = one.box[0]
            corners = np.array([[x - left, y - top], [x + w + right, y + h + bottom]])
            wanted = [apply(one.matrix[0], corner) for corner in corners]
            got = [apply(behind.matrix[0], behind.box[0, :2] + share * behind.box[0, 2:]) for share in (0, 1)]
            assert np.allclose(got, wanted, atol=1e-6), frame
            assert behind.opacity[0] == pytest.approx(one.opacity[0])


def test_a_plate_reads_a_layer_of_any_name_and_keeps_to_it() -> None:
    """Quotes, signs and letters of any script in its name; renamed, trimmed, at another rate and read again it fits."""
    name = 'Say "tide\\n" {مد}'
    now = made(scene(keyed_text("Tide", name) | {"id": "sign"}), {"edit": "put_plate", "layer": "sign", "frame": 0})
    edits: list[dict[str, Any]] = [
        {"edit": "rename_layer", "layer": "sign", "name": "Other 'name'"},
        {"edit": "set_scene", "frame_rate": [24, 1]},
        {"edit": "trim_span", "layer": "sign", "start": 5, "length": 40},
        {"edit": "duplicate_layers", "layers": ["sign"], "ids": ["twin"]},
        {"edit": "split_layer", "layer": "sign", "frame": 30, "id": "rest"},
    ]
    for edit in [None, *edits]:
        now = scene_of((made(now, edit) if edit else now).model_dump(mode="json", by_alias=True))
        context = Context(now, NO_MEDIA)
        text, plate = context.one(now.layer("sign"), 20), context.one(now.layers[0], 20)
        assert not context.formulas.problems, edit
        assert plate.box[0, 2:] == pytest.approx(text.box[0, 2:] + [40, 24]), edit
        assert plate.opacity[0] == pytest.approx(text.opacity[0])


def test_a_plate_is_refused_where_it_would_follow_another_or_nothing() -> None:
    put = {"edit": "put_plate", "layer": "sign", "frame": 0}
    for others, why in (
        ([layer("Sign", content={"kind": "carrier"})], "is not seen"),
        ([layer("Sign"), {**layer("Sign"), "id": "other"}], "Several layers are called 'Sign'"),
        ([layer("Sign", locked=True)], "locked"),
    ):
        with pytest.raises(Refused, match=why):
            made(scene(*others), put)
