"""Text through the page: letters that are set otherwise, blocks, fonts of a project's own, axes, gradients."""

from __future__ import annotations

from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.media.test_fonts import NAME, renamed, saved
from tests.ui.studio import Studio


def opened(server: Server, page: Page, name: str, **fields: Any) -> Studio:
    """A scene with one text, opened and the text selected."""
    content = {"kind": "text", "text": "Low tide week", "size": 64, "fill": "#1b2628", "align": "centre", **fields}
    layer = {"name": "Sign", "span": {"start": 0, "length": 60}, "content": content, "position": [320, 180]}
    studio = Studio(page, server, server.keep(name, [layer])).open()
    studio.select("Sign")
    return studio


def same(studio: Studio, frame: int = 0) -> None:
    """The stage shows what is exported."""
    studio.settle()
    gap = np.abs(studio.pixels() - studio.still(frame))
    assert gap.max() <= 2, f"{(gap.max(axis=2) > 2).sum()} pixels differ by up to {gap.max()}"


def parts(studio: Studio) -> list[dict[str, Any]]:
    return studio.layer("Sign")["content"]["parts"]


def test_letters_are_chosen_on_the_stage_and_set_otherwise(server: Server, page: Page) -> None:
    """By the keyboard and by a double click; from the bar and from the panel; keyed, typed into, and given back."""
    studio = opened(server, page, "Letters")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    field = page.get_by_test_id("text-in-place")
    expect(field).to_be_focused()
    bar = page.get_by_role("toolbar", name="Chosen letters")
    expect(bar).to_have_count(0)
    page.keyboard.press("Home")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    bar.get_by_role("button", name="Larger").click()
    studio.settle()
    (low,) = parts(studio)
    assert (low["start"], low["stop"], low["size"]["rest"]) == (0, 3, 110)
    expect(field).to_be_focused()
    same(studio)
    # A press finds the letter where the picture has it: the second word, by a double click.
    page.keyboard.press("End")
    studio.settle()
    place = studio.to_page(*studio.point("Sign", (0.5, 0.5), 0))
    page.mouse.dblclick(*place)
    assert field.evaluate("field => field.value.slice(field.selectionStart, field.selectionEnd)") == "tide"
    bar.get_by_role("button", name="Capitals").click()
    studio.settle()
    panel = page.get_by_test_id("panel")
    expect(panel.get_by_role("group", name="Chosen letters")).to_contain_text("tide")
    panel.get_by_role("button", name="Own fill").click()
    studio.settle()
    assert [(one["start"], one["stop"], one["case"]) for one in parts(studio)] == [(0, 3, None), (4, 8, "upper")]
    assert parts(studio)[1]["fill"]["rest"] == "#1b2628ff", "it begins as it was"
    same(studio)
    # What is typed within a part belongs to it, and what stands behind it moves along.
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Home")
    page.keyboard.press("ArrowRight")
    page.keyboard.type("o")
    page.keyboard.press("Control+Enter")
    expect(field).to_have_count(0)
    assert [(one["start"], one["stop"]) for one in parts(studio)] == [(0, 4), (5, 9)]
    same(studio)
    panel.get_by_role("button", name="Set the letters “tide”").click()
    panel.get_by_role("button", name="As the rest").click()
    studio.settle()
    assert [(one["start"], one["stop"]) for one in parts(studio)] == [(0, 4)]
    page.keyboard.press("Control+z")
    studio.settle()
    assert len(parts(studio)) == 2


@pytest.mark.thorough
def test_a_block_breaks_its_lines_and_fits(server: Server, page: Page) -> None:
    """Made by a press without anything moving; narrower by typing; justified, of its own height, and fitted; and typed
    in where it stands, its lines ending where the picture ends them."""
    studio = opened(server, page, "Block", text="The tide comes in twice a day, and the shore moves", size=28)
    before = studio.pixels()
    panel = page.get_by_test_id("panel")
    panel.get_by_role("button", name="Block: lines").click()
    studio.settle()
    assert (studio.pixels() == before).all()
    width = panel.get_by_role("textbox", name="Width", exact=True)
    width.fill("200")
    width.press("Enter")
    panel.get_by_label("Alignment", exact=True).select_option("justify")
    panel.get_by_role("button", name="Own height").click()
    height = panel.get_by_role("textbox", name="Height", exact=True)
    height.fill("60")
    height.press("Enter")
    studio.settle()
    expect(page.get_by_test_id("checks-count")).to_have_attribute("aria-label", "Checks: 2 findings")
    panel.get_by_role("button", name="Fit: set smaller").click()
    studio.settle()
    block = studio.layer("Sign")["content"]["block"]
    expect(page.get_by_test_id("checks-count")).to_have_attribute("aria-label", "Checks: 1 finding")
    assert (block["width"]["rest"], block["height"]["rest"], block["least"]["rest"]) == (200, 60, 8)
    same(studio)
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    field = page.get_by_test_id("text-in-place")
    expect(field).to_be_focused()
    tall, wide = field.evaluate("field => [field.scrollHeight, field.scrollWidth]")
    assert tall <= 62
    assert wide <= 202
    page.keyboard.press("Escape")


@pytest.mark.thorough
def test_a_font_of_its_own_comes_in_and_axes_are_keyed(server: Server, page: Page) -> None:
    """A file that is chosen in Add; texts that name it are set in it at once; a damaged one says why. An axis of a
    variable font is a property like any other."""
    studio = opened(server, page, "Own font", font={"family": NAME, "weight": 700})
    before = studio.pixels()
    page.get_by_role("button", name="Add", exact=True).click()
    files = [
        {"name": "harbour.woff2", "mimeType": "font/woff2", "buffer": saved(renamed(700), "woff2")},
        {"name": "bad.ttf", "mimeType": "font/ttf", "buffer": b"OTTOnothing"},
    ]
    page.locator("input[type=file]").first.set_input_files(files)
    expect(studio.said()).to_contain_text("Added the font Harbour Test")
    expect(studio.said()).to_contain_text("bad.ttf: It begins like a font but is damaged")
    expect(page.get_by_test_id("checks-count")).to_have_attribute("aria-label", "Checks: nothing found")
    assert (studio.pixels() != before).any()
    same(studio)
    studio.select("Sign")
    panel = page.get_by_test_id("panel")
    panel.get_by_role("button", name=f"Font: {NAME}").click()
    expect(page.locator("#font-0")).to_contain_text("in this scene")
    page.keyboard.type("Archivo")
    page.keyboard.press("Enter")
    studio.settle()
    panel.get_by_role("button", name="Axes: weight").click()
    page.get_by_role("menuitem", name="Width (62 to 125)").click()
    studio.settle()
    (axis,) = studio.layer("Sign")["content"]["axes"]
    assert (axis["tag"], axis["name"], axis["value"]["rest"]) == ("wdth", "Width", 100)
    field = panel.get_by_role("textbox", name="Width", exact=True)
    field.fill("70")
    field.press("Enter")
    same(studio)


@pytest.mark.thorough
def test_a_text_has_a_stroke_and_a_gradient(server: Server, page: Page) -> None:
    studio = opened(server, page, "Stroked", font={"family": "Pacifico", "weight": 400})
    panel = page.get_by_test_id("panel")
    panel.get_by_role("button", name="Stroke", exact=True).click()
    panel.get_by_role("button", name="Behind: the stroke").click()
    panel.get_by_role("button", name="More colours for Fill").click()
    page.get_by_role("radio", name="linear").check(force=True)
    page.keyboard.press("Escape")
    studio.settle()
    same(studio)
    panel.get_by_role("combobox", name="Gradient over").select_option("letter")
    studio.settle()
    same(studio)
    content = studio.layer("Sign")["content"]
    assert (content["fill"]["gradient"], content["spread"], content["stroke_behind"]) == ("linear", "letter", True)
    panel.get_by_role("button", name="In part").click()
    studio.settle()
    end = panel.get_by_role("textbox", name="Part to", exact=True)
    end.fill("40")
    end.press("Enter")
    same(studio)
    assert httpx.get(f"{server.url}api/facts").status_code == 200


@pytest.mark.thorough
def test_what_is_typed_and_what_is_set_are_undone_each_by_itself(server: Server, page: Page) -> None:
    """Letters typed and set before they were taken: they are counted in what was typed. Undo while the text is open
    undoes what was set; with a draft it undoes the typing."""
    studio = opened(server, page, "Undone")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    field = page.get_by_test_id("text-in-place")
    expect(field).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.type(" at four 🙂 bells")
    for _ in range(5):
        page.keyboard.press("Shift+ArrowLeft")
    page.get_by_role("toolbar", name="Chosen letters").get_by_role("button", name="Capitals").click()
    studio.settle()
    text = "Low tide week at four 🙂 bells"
    assert studio.layer("Sign")["content"]["text"] == text
    (part,) = parts(studio)
    assert text[part["start"] : part["stop"]] == "bells"
    expect(field).to_be_focused()
    page.keyboard.press("Control+z")
    studio.settle()
    assert studio.layer("Sign")["content"].get("parts", []) == []
    expect(field).to_have_value(text)
    page.keyboard.type("!")
    page.keyboard.press("Control+z")
    expect(field).to_have_value(text)
    page.keyboard.press("Escape")
    studio.settle()
    assert studio.layer("Sign")["content"]["text"] == text


@pytest.mark.thorough
def test_chosen_letters_keep_their_keys_and_fonts_are_tried_on_them_alone(server: Server, page: Page) -> None:
    size = {"rest": 100, "keys": [{"frame": 0, "value": 100}, {"frame": 30, "value": 150}]}
    studio = opened(server, page, "Keyed letters", align="left", parts=[{"start": 4, "stop": 8, "size": size}])
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    field = page.get_by_test_id("text-in-place")
    expect(field).to_be_focused()
    field.evaluate("field => field.setSelectionRange(4, 8)")
    bar = page.get_by_role("toolbar", name="Chosen letters")
    expect(bar).to_contain_text("100 %")
    bar.get_by_role("button", name="Larger").click()
    studio.settle()
    assert [key["value"] for key in parts(studio)[0]["size"]["keys"]] == [110, 150]
    expect(bar).to_contain_text("110 %")
    before = studio.pixels()
    chooser = page.get_by_test_id("panel").get_by_role("button", name="Font: Figtree")
    chooser.click()
    search = page.get_by_label("Search fonts")
    expect(search).to_be_focused()
    search.fill("Abril")
    page.keyboard.press("ArrowDown")
    expect(search).to_have_attribute("aria-activedescendant", "font-0")
    for _ in range(100):
        tried = studio.pixels()
        if (tried != before).any():
            break
        page.wait_for_timeout(50)
    assert (tried != before).any()
    page.keyboard.press("Escape")
    studio.settle()
    assert (studio.pixels() == before).all()
    chooser.click()
    search.fill("Abril")
    page.keyboard.press("Enter")
    studio.settle()
    content = studio.layer("Sign")["content"]
    assert (content["font"]["family"], content["parts"][0]["font"]["family"]) == ("Figtree", "Abril Fatface")
    assert (studio.pixels() == tried).all(), "what was tried is what is taken"


@pytest.mark.thorough
def test_letters_are_kerned_by_keys_and_a_text_shrinks_to_another_layer(server: Server, page: Page) -> None:
    """The letter before the caret goes on less with each press, the caret stays; emoji take the fill; a text that is
    wider than another layer is set smaller in one step; lines run down."""
    studio = opened(server, page, "Kerned")
    plate = layer("Other", span={"start": 0, "length": 60}, position=[90, 60])
    studio = Studio(page, server, server.keep("Kerned beside", [studio.layer("Sign"), plate])).open()
    studio.select("Sign")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    field = page.get_by_test_id("text-in-place")
    expect(field).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.type(" 🙂")
    page.keyboard.press("Home")
    page.keyboard.press("ArrowRight")
    for _ in range(3):
        page.keyboard.press("Alt+Shift+Comma")
        studio.settle()
    page.keyboard.press("Alt+Shift+Period")
    studio.settle()
    assert [(part["start"], part["stop"], part["tracking"]["rest"]) for part in parts(studio)] == [(0, 1, -20)]
    assert field.evaluate("field => field.selectionStart") == 1
    page.keyboard.press("Escape")
    studio.settle()
    assert studio.layer("Sign")["content"]["text"] == "Low tide week 🙂"
    before = studio.pixels()
    page.get_by_role("button", name="Emoji in the fill").click()
    studio.settle()
    assert (studio.pixels() != before).any()
    steps = len(studio.steps())
    page.get_by_role("combobox", name="Shrink to").select_option("Other")
    studio.settle()
    content = studio.layer("Sign")["content"]
    assert content["block"]["width"]["formula"] == 'scene["Other"].box.width'
    assert content["block"]["least"]
    assert content["block"]["height"]
    assert len(studio.steps()) == steps + 1
    page.keyboard.press("Control+z")
    studio.settle()
    wide = studio.resolved("Sign", 0).box[0]
    page.get_by_role("button", name="Vertical").click()
    studio.settle()
    tall = studio.resolved("Sign", 0).box[0]
    assert wide[2] > wide[3]
    assert tall[3] > tall[2]
