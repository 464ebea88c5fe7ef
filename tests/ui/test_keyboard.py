"""Every key of the main view that is in the list behind `?`, by what it does."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable
from typing import Any

import httpx
import pytest
from playwright.sync_api import Page, expect

from mudskipper.core.document.scene import SCHEMA
from tests.conftest import Server, layer
from tests.ui.studio import Studio, middle

NUMBERS = itertools.count(1)


def key(frame: int, value: Any) -> dict[str, Any]:
    return {"frame": frame, "value": value}


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """A scene with a still plate, a sign in motion and a locked ground; the sign is selected, at frame 10."""
    way = {"rest": [100, 100], "keys": [key(0, [100, 100]), key(20, [300, 100]), key(40, [300, 250])]}
    layers = [
        layer("Ground", scale=[320, 360], locked=True), layer("Plate", position=[200, 250]), layer("Sign", position=way)
    ]  # fmt: skip
    number = next(NUMBERS)
    name = f"Keys {number}"
    for one in layers:
        one["id"] = f"{one['id']}k{number}"
    document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 60, "layers": layers}
    project = server.get("api/projects")[0]["id"]
    assert httpx.post(f"{server.url}api/projects/{project}/documents", json=document).status_code == 201
    opened = Studio(page, server, name).open("?frame=10")
    opened.select("Sign")
    page.get_by_test_id("stage").focus()
    return opened


Check = Callable[[Studio], None]


def frame(number: int) -> Check:
    return lambda studio: expect(studio.page.get_by_test_id("playhead")).to_have_attribute("data-frame", str(number))


def says(words: str) -> Check:
    return lambda studio: expect(studio.said()).to_contain_text(words)


def did(words: str) -> Check:
    told = re.compile(f"^Undo: {words}")
    return lambda studio: expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", told)


def nothing_done(studio: Studio) -> None:
    expect(studio.page.get_by_test_id("undo")).to_be_disabled()


def renaming(studio: Studio) -> None:
    expect(studio.field("Layer name")).to_be_focused()


def selected(*names: str) -> Check:
    def check(studio: Studio) -> None:
        rows = studio.page.locator("[role=listitem][data-selected=yes]")
        expect(rows).to_have_count(len(names))
        for name in names:
            expect(studio.row(name)).to_have_attribute("data-selected", "yes")

    return check


def value(name: str, text: str) -> Check:
    return lambda studio: expect(studio.field(name)).to_have_value(text)


def choice(label: str, text: str) -> Check:
    return lambda studio: expect(studio.page.get_by_label(label, exact=True)).to_have_value(text)


def scale(told: str) -> Check:
    return lambda studio: expect(studio.page.get_by_test_id("stage")).to_have_attribute("data-scale", re.compile(told))


def playing(on: bool) -> Check:
    return lambda studio: expect(studio.page.get_by_test_id("play")).to_contain_text("Pause" if on else "Play")


def solo(on: bool) -> Check:
    def check(studio: Studio) -> None:
        note = studio.page.get_by_test_id("note")
        expect(note).to_contain_text("Solo: Sign") if on else expect(note).to_have_count(0)

    return check


# What is pressed, one after another, and what is to be seen after each.
WAYS: dict[str, list[tuple[str, Check]]] = {
    "time": [
        (".", frame(11)), ("Shift+Period", frame(21)), (",", frame(20)), ("Shift+Comma", frame(10)), ("End", frame(59)),
        ("Home", frame(0)), ("]", frame(20)), ("]", frame(40)), ("]", says("no further pose")), ("[", frame(20)),
        ("Alt+3", frame(40)), ("Alt+2", frame(20)), ("Alt+4", says("There is no pose 4: this layer has 3.")),
        ("b", did(".*beat")), ("Home", frame(0)), ("}", frame(20)), ("}", says("no further beat")),
        ("Home", frame(0)), ("{", says("no further beat")), ("Escape", selected()), ("]", says("Select a layer")),
    ],
    "playing": [
        (" ", playing(True)), (" ", playing(False)), ("Home", frame(0)), (".", frame(1)),
        ("Shift+Home", says("Looping over frames 1 to 59")), ("Shift+Period", frame(11)),
        ("Shift+End", says("Looping over frames 1 to 11")),
    ],
    "layers": [
        ("ArrowRight", did("Moved Sign by 1, 0 px")), ("Shift+ArrowUp", did("Moved Sign by 1, -10 px")),
        ("Control+z", nothing_done), ("Control+Shift+z", did("Moved Sign by 1, -10 px")),
        ("Control+z", nothing_done), ("Control+y", did("Moved Sign by 1, -10 px")),
        ("Control+d", did("Duplicated Sign")), ("Shift+n", selected("Ground")), ("n", selected("Sign 2")),
        ("F2", renaming), ("Escape", selected("Sign 2")), ("Control+a", selected("Sign 2", "Sign", "Plate")),
        ("Delete", did("Deleted 3 layers")), ("Control+z", did("Duplicated Sign")), ("Escape", selected()),
        ("n", selected("Sign 2")), ("n", selected("Sign")), ("Backspace", did("Deleted Sign")),
        ("Control+z", did("Duplicated Sign")),
    ],
    "keys": [
        ("Control+c", says("Copied Sign. Paste with Ctrl V, in any scene")),
        ("Alt+ArrowRight", says("Select keys in the lanes")),
        ("k", did("Keyed")),
        ("t", lambda studio: expect(studio.page.get_by_test_id("key-table")).to_be_focused()),
        ("Escape", lambda studio: expect(studio.page.get_by_test_id("stage")).to_be_focused()),
        ("t", lambda studio: expect(studio.page.get_by_test_id("key-table")).to_have_count(0)),
        ("i", did("Brought Sign in, landing at frame 10")), ("Control+z", did("Keyed")),
        ("o", did("Took Sign out from frame 10")), ("Control+z", did("Keyed")),
        ("x", did("Split Sign")),
    ],
    "anchor": [
        ("q+Numpad7", value("Anchor x", "0")), ("q+Numpad3", value("Anchor y", "100")),
        ("q+Shift+ArrowLeft", value("Anchor x", "95")), ("q+ArrowUp", value("Anchor y", "99")),
        ("w+ArrowRight", value("Anchor x", "94.5")), ("w+Shift+ArrowDown", value("Anchor y", "89")),
    ],
    "view": [
        ("9", scale("^1$")), ("z", scale(r"^4\.")), ("9", scale("^1$")),
        ("+", scale("^1.25$")), ("-", scale("^1$")), ("+", scale("^1.25$")), ("0", scale("^1$")),
        ("m", says("The magnet is off.")), ("m", says("The magnet is on.")), ("s", solo(True)), ("s", solo(False)),
    ],
}  # fmt: skip


def press(studio: Studio, keys: str) -> None:
    """A key; with `q+` or `w+` while that one is held."""
    keyboard = studio.page.keyboard
    held, plus, rest = keys.partition("+")
    if not (plus and held in ("q", "w")):
        keyboard.press(keys if keys != "+" else "Equal")
        return
    keyboard.down(held)
    keyboard.press(rest)
    keyboard.up(held)


@pytest.mark.parametrize("name", WAYS)
def test_each_key_does_what_the_list_says(studio: Studio, name: str) -> None:
    for keys, check in WAYS[name]:
        press(studio, keys)
        check(studio)


@pytest.mark.thorough
def test_no_key_works_through_a_field_or_a_dialog(studio: Studio) -> None:
    """Letters typed into a name or a number are letters; behind a dialog nothing is moved or deleted."""
    page, before = studio.page, studio.stored()
    studio.field("Rotation").click()
    page.keyboard.press("7")
    for keys in ("k", "x", "b", "s", "m", "Delete", "Backspace", "ArrowLeft", "Control+a"):
        page.keyboard.press(keys)
    page.keyboard.press("Escape")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog", name="Keys and gestures")
    expect(dialog).to_be_visible()
    for keys in ("ArrowRight", "Shift+ArrowDown", "Delete", "k"):
        page.keyboard.press(keys)
    expect(studio.page.get_by_test_id("play")).to_contain_text("Play")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    selected("Sign")(studio)
    assert studio.stored() == before
    expect(page.get_by_test_id("undo")).to_be_disabled()


LATE = """
    const paint = window.requestAnimationFrame.bind(window);
    window.requestAnimationFrame = (tell) =>
      paint(() => setTimeout(() => tell(performance.now()), window.late ?? 0));
"""
"""A page whose next frame is late by so many milliseconds (`window.late`)."""


def test_keys_right_after_a_menu_or_a_sheet_opens_are_its_own(studio: Studio) -> None:
    """Also where it gets the keyboard late, as on a busy machine: nothing moves, and no key is lost."""
    page = studio.page
    page.add_init_script(LATE)
    page.reload()
    studio.select("Sign")
    before = studio.stored()["layers"]
    page.evaluate("() => { window.late = 40 }")
    studio.row("Sign").get_by_role("button", name="More for Sign").press("Enter")
    for name in ("ArrowDown", "ArrowDown", "Escape"):
        page.keyboard.press(name)
    expect(page.get_by_role("menu")).to_have_count(0)
    page.get_by_test_id("stage").focus()
    page.keyboard.press("?")
    for name in ("ArrowDown", "Delete", "Escape"):
        page.keyboard.press(name)
    expect(page.locator("[role=dialog][data-state=open]")).to_have_count(0)
    expect(page.get_by_test_id("stage")).to_be_focused()
    # Enter presses what has the keyboard there, here what closes it.
    page.get_by_role("button", name="Explain the anchor: both spaces and the calculation").focus()
    for _ in range(2):
        page.keyboard.press("Enter")
    expect(page.locator("[role=dialog][data-state=open]")).to_have_count(0)
    page.get_by_test_id("stage").focus()
    page.evaluate("() => { window.late = 0 }")
    page.keyboard.press("ArrowDown")
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("^Undo: Moved Sign by 0, 1 px"))
    assert [one["name"] for one in studio.stored()["layers"]] == [one["name"] for one in before]
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()


@pytest.mark.thorough
def test_a_sheet_that_closes_takes_the_keyboard_from_nobody(studio: Studio) -> None:
    """What got the keyboard while a frame is late keeps it; a sheet gives it back only where nothing has it."""
    page = studio.page
    easing = page.get_by_role("button", name="Easing of the move from 0:00 to 0:20")
    sheet = page.locator("[data-scope=popover][data-part=content]")
    easing.press("Enter")
    expect(sheet.locator(":focus")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(sheet).to_have_count(0)
    expect(easing).to_be_focused()
    easing.press("Enter")
    expect(sheet.locator(":focus")).to_have_count(1)
    page.evaluate(
        "() => { const next = requestAnimationFrame;"
        " window.requestAnimationFrame = go => setTimeout(() => next(go), 200); }"
    )
    page.keyboard.press("Escape")
    more = studio.row("Plate").get_by_role("button", name="More for Plate")
    more.focus()
    page.wait_for_timeout(600)
    expect(more).to_be_focused()


def test_a_second_click_is_meant_for_what_the_first_one_hit(studio: Studio) -> None:
    """On a busy machine the pose strip may have grown over the name in the lanes before it comes."""
    page = studio.page
    studio.select("Plate")
    x, y = middle(studio.row("Sign").get_by_role("button", name="Sign", exact=True))
    page.mouse.click(x, y)
    expect(page.get_by_test_id("pose-strip")).to_have_attribute("data-room", "cards")
    assert not page.evaluate("([x, y]) => document.elementFromPoint(x, y).closest('[data-lanes]')?.textContent", [x, y])
    page.mouse.down(click_count=2)
    page.mouse.up(click_count=2)
    expect(page.get_by_role("textbox", name="Layer name")).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    # Words and the box that they name are one.
    page.get_by_role("button", name="What the lanes show").click()
    check = page.get_by_role("checkbox", name="Curves as speed")
    page.locator("label").filter(has=check).dblclick(position={"x": 90, "y": 8})
    expect(check).not_to_be_checked()
    page.locator("label").filter(has=check).click(position={"x": 90, "y": 8})
    expect(check).to_be_checked()


@pytest.mark.thorough
def test_who_goes_to_another_field_while_a_text_opens_writes_there(studio: Studio) -> None:
    """The words of the new text are about to be selected on the stage; the panel's field is taken first."""
    page = studio.page
    page.add_init_script(LATE)
    page.reload()
    page.get_by_role("button", name="Add", exact=True).click()
    page.evaluate("() => { window.late = 150 }")
    page.get_by_test_id("drawer").get_by_role("button", name="Text", exact=True).click()
    field = page.get_by_role("textbox", name="Text", exact=True)
    field.fill("High water")
    page.keyboard.press("Control+Enter")
    page.evaluate("() => { window.late = 0 }")
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("^Undo: Set text of New title"))
    expect(studio.row("High water")).to_be_visible()
