"""Typing, undo and the keyboard: each field takes what is typed once, and one rule says who has the keyboard."""

from __future__ import annotations

import itertools
import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import LAG, Studio

NUMBERS = itertools.count(1)


def key(frame: float, value: Any, **more: Any) -> dict[str, Any]:
    return {"frame": frame, "value": value, **more}


def keyed(*keys: dict[str, Any], rest: Any = 0) -> dict[str, Any]:
    return {"rest": rest, "keys": list(keys)}


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """A plate with keys at 0, 25 and 50, a sign that rests, and a locked ground; at frame 10."""
    number = next(NUMBERS)
    path = keyed(key(0, [100, 100]), key(25, [300, 100]), key(50, [500, 200]), rest=[100, 100])
    layers = [
        layer("Ground", scale=[320, 360], locked=True),
        layer("Plate", position=path, rotation=keyed(key(0, 0), key(50, 90))),
        layer("Sign", position=[320, 280]),
    ]
    for one in layers:
        one["id"] += f"-{number}"
    page.add_init_script(LAG)
    return Studio(page, server, server.keep(f"Typing {number}", layers, length=90)).open("?frame=10")


def frames(studio: Studio, track: str = "position") -> list[float]:
    return [one["frame"] for one in studio.layer("Plate")[track]["keys"]]


def undo_says(studio: Studio, words: str) -> None:
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile(f"^Undo: {words}"))


def playhead(studio: Studio, frame: int) -> None:
    expect(studio.page.get_by_test_id("playhead")).to_have_attribute("data-frame", str(frame))


def on_stage(studio: Studio) -> None:
    expect(studio.page.get_by_test_id("stage")).to_be_focused()


@pytest.mark.thorough
def test_a_time_is_taken_once(studio: Studio) -> None:
    """A move's length, a card's time and the playhead: each is one step and no more, with ripple."""
    page = studio.page
    studio.select("Plate")
    for text, after in (("15", [0, 15, 40]), ("+12", [0, 27, 52]), ("-7", [0, 20, 45])):
        page.get_by_label(re.compile("^Length of the move from 0:00")).fill(text)
        page.keyboard.press("Enter")
        undo_says(studio, "Moved the later keys of Plate")
        on_stage(studio)
        expect(page.locator(f'[data-testid="pose-card"][data-frame="{after[1]}"]')).to_be_visible()
        assert frames(studio) == after
    assert len(studio.steps()) == 3
    page.get_by_label("Time of the pose at 0:20").fill("25f")
    page.keyboard.press("Enter")
    expect(page.locator('[data-testid="pose-card"][data-frame="25"]')).to_be_visible()
    assert frames(studio) == [0, 25, 50]
    assert len(studio.steps()) == 4
    expect(studio.said()).not_to_contain_text("no key")
    field = page.get_by_label("Playhead", exact=True)
    field.fill("+12")
    page.keyboard.press("Enter")
    playhead(studio, 22)
    # Left clean, a field writes nothing; left with a draft, it takes it, once.
    field.click()
    page.get_by_label("Start of the span").click()
    assert len(studio.steps()) == 4
    page.keyboard.type("3")
    page.keyboard.press("Tab")
    undo_says(studio, r"Moved Plate by \+3 frames")
    assert len(studio.steps()) == 5


def test_undo_play_and_letters_work_wherever_the_focus_is(studio: Studio) -> None:
    page = studio.page
    studio.select("Plate")
    studio.type("Rotation", "45")
    undo_says(studio, "Set rotation of Plate")
    assert frames(studio, "rotation") == [0, 10, 50]
    on_stage(studio)
    page.keyboard.press("Period")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    playhead(studio, 11)
    # In the middle of typing Ctrl+Z is the text's; taken back there is nothing left to store.
    studio.field("Rotation").click()
    page.keyboard.type("7")
    page.keyboard.press("Control+z")
    page.keyboard.press("Tab")
    assert frames(studio, "rotation") == [0, 50]
    assert studio.steps() == []
    # In a number in which nobody types a letter is no shortcut, but Space is the main view's, and Ctrl+Z the scene's.
    page.get_by_test_id("stage").focus()
    page.keyboard.press("k")
    undo_says(studio, "Keyed .* of Plate")
    studio.field("Opacity").click()
    for letter in "kmb":
        page.keyboard.press(letter)
        expect(studio.said()).to_contain_text(f"“{letter}” is no number.")
    assert len(studio.steps()) == 1
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("play")).to_contain_text("Pause")
    page.keyboard.press("Space")
    expect(page.get_by_test_id("play")).to_contain_text("Play")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Home")
    # A button pressed by the mouse gives the keyboard back; Space does not press it again.
    page.get_by_role("button", name="Opacity is not keyed. Start keying here").click()
    undo_says(studio, "Keyed opacity of Plate")
    on_stage(studio)
    for button in ("Hide Sign", "Media"):
        page.get_by_role("button", name=button, exact=True).click()
        page.keyboard.press("Space")
        expect(page.get_by_test_id("play")).to_contain_text("Pause")
        page.keyboard.press("Space")
    page.get_by_role("button", name="Guides").click()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("view-menu")).to_have_count(0)
    page.keyboard.press("Space")
    expect(page.get_by_test_id("play")).to_contain_text("Pause")
    page.keyboard.press("Space")
    assert studio.steps()[-1] == "Hid Sign"
    assert len(studio.layer("Plate")["opacity"]["keys"]) == 1
    # Reached by Tab, a button is pressed by Space.
    page.get_by_role("button", name="Hide Plate").focus()
    page.keyboard.press("Shift+Tab")
    page.keyboard.press("Tab")
    page.keyboard.press("Space")
    undo_says(studio, "Hid Plate")
    expect(page.get_by_test_id("play")).to_contain_text("Play")
    # Held, a key does its work once.
    page.get_by_test_id("stage").focus()
    count = len(studio.steps())
    for _ in range(4):
        page.keyboard.down("Control")
        page.keyboard.down("d")
    page.keyboard.up("d")
    page.keyboard.up("Control")
    undo_says(studio, "Duplicated Plate")
    assert len(studio.steps()) == count + 1


FOCUSED = "() => { const e = document.activeElement; if (!e || e === document.body) return '';" \
    " if (!e.dataset.walked) e.dataset.walked = String(window.walked = (window.walked ?? 0) + 1);" \
    " return e.dataset.walked + ' ' + (e.dataset.testid ?? e.ariaLabel ?? e.textContent.slice(0, 30)) }"  # fmt: skip


def walk(page: Page, key: str) -> list[str]:
    """What has the focus now, and then after each press of a key until it leaves the page or is where it began."""
    seen = [page.evaluate(FOCUSED)]
    while len(seen) < 300:
        page.keyboard.press(key)
        now = page.evaluate(FOCUSED)
        if not now or now == seen[0]:
            break
        seen.append(now)
    return seen


@pytest.mark.thorough
def test_tab_walks_the_whole_page_and_back(studio: Studio) -> None:
    """Stage, panel, cards and lanes are reached and left again; the way back is the same, in reverse."""
    page = studio.page
    studio.select("Plate")
    studio.row("Plate").get_by_role("button", name="Open the lanes of Plate").click()
    page.get_by_role("link", name="mudskipper").focus()
    there = walk(page, "Tab")
    assert 60 < len(there) < 300
    assert len(set(there)) == len(there)
    told = "\n".join(there)
    for part in (
        "stage",
        "Anchor x",
        "Rotation",
        "Pose at",
        "Length of the move",
        "Hide Plate",
        "Key of Position",
        "Export",
    ):
        assert part in told or page.locator(f"[data-walked][aria-label^='{part}']").count(), f"{part} is not reached"
    page.keyboard.press("Shift+Tab")
    back = walk(page, "Shift+Tab")
    assert back == there[::-1]
    assert page.get_by_test_id("anchor-pad").locator("[data-walked]").count() == 1


@pytest.mark.thorough
def test_held_keys_lose_no_step(studio: Studio) -> None:
    """Eight presses with late answers: eight steps, in a number, with Q held, in a nudge; each run one to undo."""
    page = studio.page
    page.evaluate("() => { window.lag = {edits: 120, resolved: 40} }")
    studio.select("Sign")
    for start, presses, value, words in (
        (lambda: studio.field("Rotation").click(), "ArrowUp", ("Rotation", "8"), "Set rotation"),
        (lambda: page.keyboard.down("q"), "ArrowRight", ("Position x", "328"), "Moved the anchor"),
        (lambda: None, "ArrowRight", ("Position x", "336"), "Moved Sign by 8, 0 px"),
    ):
        page.get_by_test_id("stage").focus()
        start()
        for _ in range(8):
            page.keyboard.press(presses)
            page.wait_for_timeout(33)
        page.keyboard.up("q")
        expect(studio.field(value[0])).to_have_value(value[1])
        undo_says(studio, words)
        page.wait_for_timeout(1_100)
        expect(studio.field(value[0])).to_have_value(value[1])
    assert len(studio.steps()) == 3
    page.get_by_test_id("stage").focus()
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    assert studio.layer("Sign")["position"]["rest"] == [320, 280]


@pytest.mark.thorough
def test_a_press_is_given_back_by_undo_and_survives_another_size_of_the_window(studio: Studio) -> None:
    page = studio.page
    studio.select("Sign")
    studio.type("Opacity", "80")
    undo_says(studio, "Set opacity of Sign")
    studio.drag((320, 280), (400, 240), drop=False)
    expect(studio.field("Position x")).not_to_have_value("320")
    page.keyboard.press("Control+z")
    expect(studio.field("Position x")).to_have_value("320")
    page.mouse.move(*studio.to_page(420, 200))
    page.mouse.up()
    undo_says(studio, "Set opacity of Sign")
    assert studio.layer("Sign")["position"]["rest"] == [320, 280]
    # The window grows and shrinks in the middle of a drag: the layer stays in the hand.
    scale = studio.to_page(1, 0)[0] - studio.to_page(0, 0)[0]
    start = studio.to_page(385, 305)
    page.mouse.move(*start)
    page.keyboard.down("Control")
    page.mouse.down()
    page.mouse.move(start[0] + 40, start[1])
    for size in ((1000, 620), (1280, 800), (1100, 700)):
        page.set_viewport_size({"width": size[0], "height": size[1]})
        page.wait_for_timeout(80)
        page.mouse.move(start[0] + 41, start[1])
    page.mouse.move(start[0] + 40, start[1])
    page.mouse.up()
    page.keyboard.up("Control")
    undo_says(studio, f"Moved Sign by {round(40 / scale)}, 0 px")


@pytest.mark.thorough
def test_a_locked_layer_in_the_hand_keeps_what_is_behind_it(studio: Studio) -> None:
    page = studio.page
    studio.select("Sign")
    studio.row("Sign").get_by_role("button", name="More for Sign").click()
    page.get_by_role("menuitem", name="Lock", exact=True).click()
    undo_says(studio, "Locked Sign")
    studio.row("Ground").get_by_role("button", name="Unlock Ground").click()
    undo_says(studio, "Unlocked Ground")
    before = studio.layer("Ground")["position"]
    studio.select("Sign")
    studio.drag((350, 270), (450, 200))
    expect(studio.said()).to_contain_text("'Sign' is locked. Unlock it in the lanes")
    assert studio.layer("Ground")["position"] == before
    undo_says(studio, "Unlocked Ground")
    # A copy is what is worked on next.
    page.keyboard.press("Control+d")
    expect(studio.row("Sign 2")).to_have_attribute("data-selected", "yes")
    expect(studio.row("Sign")).to_have_attribute("data-selected", "")


TYPED = [
    ("Opacity", "150", "100", "Opacity goes from 0 to 100 %: 150 stops at 100."),
    ("Opacity", "50%", "50", ""),
    ("Position x", "1 000 px", "1000", ""),
    ("Position y", "+10px", "290", ""),
    ("Rotation", "-90°", "-90", ""),
    ("Scale x", "1/0", None, "Scale x takes a number or a calculation"),
]


def test_what_a_number_understands_and_says(studio: Studio) -> None:
    studio.select("Sign")
    for field, text, value, told in TYPED:
        understood(studio, field, text, value, told)


def understood(studio: Studio, field: str, text: str, value: str | None, told: str) -> None:
    studio.type(field, text)
    if told:
        expect(studio.said()).to_contain_text(told)
    if value is None:
        # The draft stays to be mended; the error goes as soon as the next thing succeeds.
        expect(studio.field(field)).to_have_value(text)
        studio.type(field, "120")
        expect(studio.said()).to_have_text("")
        value = "120"
    expect(studio.field(field)).to_have_value(value)


@pytest.mark.thorough
def test_messages_in_plain_words(studio: Studio, tmp_path: Path) -> None:
    """No path of a field, no word of a library; several files that fail are told in one line."""
    page = studio.page
    studio.select("Sign")
    page.keyboard.press("F2")
    name = studio.field("Layer name")
    name.fill("x" * 201)
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("The name may hold at most 200 characters")
    expect(name).to_be_focused()
    expect(name).to_have_value("x" * 201)
    name.fill("Tide sign")
    page.keyboard.press("Enter")
    expect(studio.row("Tide sign")).to_be_visible()
    expect(studio.said()).to_have_text("")
    page.get_by_role("button", name="More colours for Fill").click()
    page.get_by_role("textbox", name="Fill as #rrggbbaa").fill("#abc")
    page.keyboard.press("Enter")
    undo_says(studio, "Set fill of Tide sign")
    assert studio.layer("Tide sign")["content"]["items"][0]["fill"]["rest"] == "#aabbccff"
    files = [tmp_path / "Mud.png", tmp_path / "Crab.jpg"]
    for file in files:
        file.write_text("no picture at all")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(files)
    expect(studio.said()).to_contain_text(re.compile("Mud.png: A picture must be.*Crab.jpg: A picture must be"))


@pytest.mark.thorough
def test_a_draft_outlives_a_late_answer(studio: Studio) -> None:
    """Text typed while an answer is on its way is not overwritten by it, in any field of the kind."""
    page = studio.page
    studio.select("Plate")
    studio.go(10)
    words = page.get_by_label("Easing in words")
    expect(words).to_have_value("linear")
    page.evaluate("() => { window.lag = {edits: 700} }")
    page.get_by_role("combobox", name="Easing").select_option("ease-in")
    words.fill("hold")
    page.wait_for_timeout(1_100)
    undo_says(studio, "Eased")
    expect(words).to_have_value("hold")
    page.keyboard.press("Enter")
    undo_says(studio, "Eased 2 keys of Plate: hold")
    studio.row("Plate").get_by_role("button", name="Hide Plate").click()
    page.keyboard.press("F2")
    studio.field("Layer name").fill("Plate of mud")
    page.wait_for_timeout(1_100)
    expect(studio.field("Layer name")).to_have_value("Plate of mud")
    page.keyboard.press("Enter")
    expect(studio.row("Plate of mud")).to_be_visible()


@pytest.mark.thorough
def test_f6_goes_from_part_to_part(studio: Studio) -> None:
    """Round and round and back; what was being typed is taken."""
    page = studio.page
    studio.select("Plate")
    where = "() => { const e = document.activeElement.closest('header, nav, aside, section, [data-testid=stage]');" \
        " return e.ariaLabel ?? e.tagName }"  # fmt: skip
    page.get_by_test_id("stage").focus()
    round_trip = []
    for press in ("F6",) * 6 + ("Shift+F6",) * 6:
        page.keyboard.press(press)
        round_trip.append(str(page.evaluate(where))[:6])
    assert round_trip[:6] == ["Panel", "Pose s", "Lanes", "HEADER", "Shelf", "Stage,"]
    assert round_trip[6:] == [*round_trip[4::-1], "Stage,"]
    studio.field("Rotation").click()
    page.keyboard.type("25")
    page.keyboard.press("F6")
    undo_says(studio, "Set rotation of Plate")
    assert 25 in [key["value"] for key in studio.layer("Plate")["rotation"]["keys"]]
