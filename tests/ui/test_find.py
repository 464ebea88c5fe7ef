"""One line finds whatever can be done, and does it."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio

MAIN = Path(__file__).parents[2] / "frontend" / "src" / "main"
TABLE = (MAIN / "commands.ts").read_text()


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """A plate that is selected, and a text."""
    words = layer("Words", content={"kind": "text", "text": "Low tide", "size": 40}, span={"start": 20, "length": 40})
    server.keep("Found", [layer("Plate"), words], beats=[{"frame": 40, "label": "splash"}])
    studio = Studio(page, server, "Found").open("?frame=10")
    studio.select("Plate")
    return studio


def find(studio: Studio, text: str, key: str = "Control+k") -> list[str]:
    """What is found by a text, the best first."""
    page = studio.page
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press(key)
    expect(page.get_by_label("Find", exact=True)).to_be_focused()
    page.keyboard.type(text)
    expect(page.get_by_role("listbox", name="Found")).to_have_attribute("data-asked", text)
    return [one.split("\n")[0] for one in page.get_by_role("option").all_inner_texts()]


def test_a_property_is_set_and_keyed_by_a_sentence(studio: Studio) -> None:
    """Now, or some frames on, each one step; a word that is part of none says so; Esc changes nothing."""
    page = studio.page
    assert find(studio, "rotation 45")[0] == "Set Rotation to 45°"
    page.keyboard.press("Enter")
    expect(page.get_by_label("Find", exact=True)).to_have_count(0)
    assert studio.layer("Plate")["rotation"]["rest"] == 45
    find(studio, "rotation -90 @ +12")
    expect(page.get_by_role("option").first).to_contain_text("a key at 0:22")
    # A key that is held takes it once.
    for _ in range(3):
        page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    expect(page.get_by_label("Find", exact=True)).to_have_count(0)
    keys = studio.layer("Plate")["rotation"]["keys"]
    assert [(key["frame"], key["value"]) for key in keys] == [(10, 45), (22, -90)]
    assert len(studio.steps()) == 2
    find(studio, "opacity 40")
    page.keyboard.press("Escape")
    assert len(studio.steps()) == 2
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    studio.settle()
    assert studio.layer("Plate")["rotation"]["rest"] == 0


def test_whatever_there_is_is_found_by_everyday_words(studio: Studio) -> None:
    """Properties, layers, effects, recipes, fonts, scenes; what cannot be done now says why."""
    page = studio.page
    find(studio, "see-through")
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Opacity", exact=True)).to_be_focused()
    page.keyboard.press("Escape")
    # Also from a field in which someone is typing, whatever is kept of what was found before.
    page.evaluate("() => localStorage.setItem('mudskipper.found', 'nonsense')")
    page.get_by_role("textbox", name="Opacity", exact=True).click()
    page.keyboard.type("5")
    assert "shadow" in find(studio, "shadow")
    page.keyboard.press("Enter")
    studio.settle()
    assert [one["effect"] for one in studio.layer("Plate")["effects"]] == ["shadow"]
    find(studio, "oswald")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    expect(page.get_by_role("option").first).to_contain_text("Select a text first.")
    page.keyboard.press("Escape")
    find(studio, "words")
    page.keyboard.press("Enter")
    expect(studio.row("Words")).to_have_attribute("data-selected", "yes")
    find(studio, "grow from an edge")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("drawer")).to_contain_text("grow from an edge")
    expect(page.get_by_role("button", name="Use it")).to_be_visible()


def test_the_playhead_goes_where_it_is_told(studio: Studio) -> None:
    """A time, a step, a beat, a layer by their names; from edge to edge by keys."""
    page, head = studio.page, studio.page.get_by_test_id("playhead")
    for text, frame in (("0:25", 25), ("+12", 37), ("splash", 40), ("Words", 20), ("1.5s", 45)):
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.keyboard.press("g")
        expect(page.get_by_label("Go to", exact=True)).to_be_focused()
        page.keyboard.type(text)
        # Before what the time means is known: Enter takes what is found then.
        page.keyboard.press("Enter")
        expect(head).to_have_attribute("data-frame", str(frame))
    studio.deselect()
    page.keyboard.press("Home")
    for frame in (20, 59):
        page.keyboard.press("Alt+Period")
        expect(head).to_have_attribute("data-frame", str(frame))
    page.keyboard.press("Alt+Comma")
    expect(head).to_have_attribute("data-frame", "20")


@pytest.mark.thorough
def test_every_command_is_found_by_its_name(studio: Studio) -> None:
    """The first that is found is the one; its key is shown beside it, and stands in the list of keys."""
    page = studio.page
    names = [one for one in re.findall(r'name:\s+"([^"]+)"', TABLE) if one != "Find anything"]
    assert len(names) > 60
    page.keyboard.press("Control+k")
    line = page.get_by_label("Find", exact=True)
    for name in names:
        line.fill(name)
        expect(page.get_by_role("option").first).to_contain_text(name)
    listed = (MAIN / "keyList.ts").read_text()
    for keys in re.findall(r'keys:\s+"([^"]+)"', TABLE):
        for cap in keys.split():
            assert f"`{cap}`" in listed, keys
