"""Choices of the panel, the lanes' menus, home, and what the window remembers."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    return Studio(page, server, "Opener").open("?frame=60")


def undo_says(studio: Studio, words: str) -> None:
    """Wait until the newest step is told in these words."""
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", f"Undo: {words}")


@pytest.mark.thorough
def test_the_picture_stays_put_throughout(studio: Studio) -> None:
    """On a layer in motion the choice is offered, and every frame of the span stays as it was, to the byte."""
    studio.select("Speaker name")
    beside = studio.page.get_by_role("radiogroup", name="When the picture stays put")
    expect(beside).to_be_visible()
    studio.type("Rotation", "10")
    undo_says(studio, "Set rotation of Speaker name")
    shown = []
    for frame in (28, 36, 60):
        studio.go(frame)
        shown.append(studio.pixels())
    beside.get_by_role("radio", name="throughout").click()
    studio.page.get_by_role("button", name="Anchor: reset and more").click()
    expect(studio.page.get_by_role("menuitem", name="Picture stays put: throughout")).to_contain_text("✓")
    studio.page.keyboard.press("Escape")
    pad = studio.page.get_by_test_id("anchor-pad")
    pad.get_by_role("radio", name="bottom right", exact=True).focus()
    studio.page.keyboard.press("Enter")
    undo_says(studio, "Moved the anchor of Speaker name to bottom right, picture stays put throughout")
    assert studio.layer("Speaker name")["anchor"]["rest"] == [1, 1]
    for frame, before in zip((28, 36, 60), shown, strict=True):
        studio.go(frame)
        assert np.abs(studio.pixels() - before).max() <= 40
        assert (np.abs(studio.pixels() - before) > 2).any(axis=2).mean() < 1e-4


@pytest.mark.thorough
def test_a_locked_or_hidden_layer_says_so(studio: Studio) -> None:
    """Locked, its numbers rest and a click goes through to what is below; hidden, it is gone from the picture."""
    row = studio.row("Name plate")
    row.get_by_role("button", name="More for Name plate").click()
    studio.page.get_by_role("menuitem", name="Lock", exact=True).click()
    undo_says(studio, "Locked Name plate")
    studio.select("Name plate")
    expect(studio.page.get_by_text("This layer is locked.")).to_be_visible()
    expect(studio.field("Opacity")).to_be_disabled()
    studio.page.mouse.click(*studio.to_page(900, 860))
    expect(studio.page.get_by_test_id("panel").get_by_text("Harbour at dusk", exact=True)).to_be_visible()
    before = studio.pixels()
    row.get_by_role("button", name="Hide Name plate").click()
    undo_says(studio, "Hid Name plate")
    assert (studio.pixels() != before).any(axis=2)[720:880, 220:1000].mean() > 0.5
    for words in ("Locked Name plate", "Set"):
        studio.page.keyboard.press("Control+z")
        if words != "Set":
            undo_says(studio, words)
    assert (studio.pixels() == before).all()


@pytest.mark.thorough
def test_the_menu_renames_copies_reorders_and_deletes(studio: Studio) -> None:
    page = studio.page

    def choose(layer: str, act: str) -> None:
        studio.row(layer).get_by_role("button", name=f"More for {layer}").click()
        page.get_by_role("menuitem", name=act, exact=True).click()

    choose("Nine days", "Duplicate")
    expect(studio.row("Nine days 2")).to_be_visible()
    choose("Nine days 2", "Rename")
    page.get_by_role("textbox", name="Layer name").fill("Ten days")
    page.keyboard.press("Enter")
    expect(studio.row("Ten days")).to_be_visible()
    choose("Ten days", "Bring forward")
    undo_says(studio, "Moved Ten days forward")
    names = [one["name"] for one in studio.stored()["layers"]]
    assert names.index("Ten days") == names.index("Name plate") + 1
    choose("Ten days", "Delete")
    expect(studio.row("Ten days")).to_have_count(0)


@pytest.mark.thorough
def test_an_easing_is_typed_or_refused_in_words(studio: Studio) -> None:
    """The four numbers as CSS writes them; what is no curve changes nothing."""
    studio.select("Plate edge")
    studio.go(20)
    numbers = studio.page.get_by_label("Easing in words")
    expect(numbers).to_have_value("cubic-bezier(0.1, 0.8, 0.3, 1)")
    numbers.fill("cubic-bezier(0.3, 1.4, .5, 1)")
    studio.page.keyboard.press("Enter")
    undo_says(studio, "Eased 1 key of Plate edge: cubic-bezier(0.3, 1.4, 0.5, 1)")
    studio.go(24)
    assert (studio.pixels() == studio.still(24)).all()
    studio.go(20)
    for wrong, why in (("soon", ""), ("2, 0, 1, 1", ": x1 and x2"), ("bounce(3)", ": bounce() takes 2 numbers, and 1")):
        numbers.fill(wrong)
        studio.page.keyboard.press("Enter")
        expect(studio.said()).to_contain_text(f"“{wrong}” is no easing{why}")
        expect(studio.said()).to_contain_text("Write a name such as ease-out")
    assert studio.layer("Plate edge")["scale"]["keys"][0]["ease"] == {"bezier": [0.3, 1.4, 0.5, 1]}


@pytest.mark.thorough
def test_keys_are_stepped_through_and_keying_stops_in_words(studio: Studio) -> None:
    page = studio.page
    studio.select("Plate edge")
    page.get_by_role("button", name="Previous key of Scale").click()
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "24")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("[")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "12")
    page.keyboard.press("]")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "24")
    page.get_by_role("button", name="Stop keying Scale").click()
    expect(studio.said()).to_contain_text("Removed 2 keys of scale.")
    expect(page.get_by_test_id("pebble-scale")).to_have_attribute("data-state", "still")
    studio.said().get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("pebble-scale")).to_have_attribute("data-state", "here")


@pytest.mark.thorough
def test_the_window_remembers_frame_layer_and_theme(studio: Studio) -> None:
    """A reload comes back to them; the night theme keeps the picture as it is."""
    page = studio.page
    studio.select("Week title")
    studio.go(72)
    shown = studio.pixels()
    page.get_by_role("button", name="Night theme").click()
    expect(page.locator("html")).to_have_class("dark")
    page.wait_for_url("**frame=72&layer=**")
    page.reload()
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    expect(page.locator("html")).to_have_class("dark")
    expect(page.get_by_label("Playhead", exact=True)).to_have_value("2:12")
    expect(page.get_by_test_id("panel").get_by_text("Week title")).to_be_visible()
    assert (studio.pixels() == shown).all()
    page.get_by_role("combobox", name="Zoom").select_option("1")
    expect(page.get_by_test_id("stage")).to_have_attribute("data-scale", "1")


@pytest.mark.thorough
def test_a_removed_scene_comes_back(server: Server, page: Page) -> None:
    page.goto(server.url)
    card = page.get_by_test_id("scene-card").filter(has_text="Tide gauge")
    page.get_by_role("button", name="Remove Tide gauge").click()
    expect(card).to_have_count(0)
    expect(page.get_by_test_id("said")).to_contain_text("Removed Tide gauge.")
    page.get_by_test_id("said").get_by_role("button", name="Undo").click()
    expect(card).to_have_count(1)
    page.get_by_role("button", name="New project").click()
    expect(page.get_by_role("heading", name="Project 2")).to_be_visible()


@pytest.mark.thorough
def test_the_list_of_keys_and_the_shelf(studio: Studio) -> None:
    page = studio.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys and gestures")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="Media", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button").filter(has_text="Harbour at dusk.png").click()
    expect(studio.row("Harbour at dusk 2")).to_be_visible()
    undo_says(studio, "Added Harbour at dusk 2")


@pytest.mark.thorough
def test_the_choice_beside_the_mark_leaves_the_handles_free(server: Server, page: Page) -> None:
    """On a keyed layer whose corner lies near the mark, the corner is still there to be dragged."""
    keyed = {"rest": [100, 100], "keys": [{"frame": 10, "value": [100, 100]}, {"frame": 40, "value": [100, 100]}]}
    studio = Studio(page, server, server.keep("Near", [layer("Sign", scale=keyed)])).open("?frame=20")
    studio.select("Sign")
    choice = page.get_by_role("radiogroup", name="When the picture stays put")
    for corner in ((420, 230), (220, 130), (420, 130), (320, 230)):
        box = choice.bounding_box()
        assert box
        x, y = studio.to_page(*corner)
        assert not (box["x"] <= x <= box["x"] + box["width"] and box["y"] <= y <= box["y"] + box["height"]), corner
    studio.drag((420, 230), (470, 230))
    undo_says(studio, "Scaled Sign by its bottom right handle")
    assert [key["frame"] for key in studio.layer("Sign")["scale"]["keys"]] == [10, 20, 40]


@pytest.mark.thorough
def test_a_blend_is_chosen_in_the_panel(server: Server, page: Page) -> None:
    """The picture is the export's, the step is told, and one undo brings the plain picture back."""
    below = layer("Below", scale=[320, 360])
    below["content"]["items"][0]["fill"] = "#f2b544"
    studio = Studio(page, server, server.keep("Blended", [below, layer("Plate")])).open()
    studio.select("Plate")
    before = studio.pixels()
    page.get_by_label("Blend", exact=True).select_option("color-dodge")
    undo_says(studio, "Blended Plate by color dodge")
    blended = studio.pixels()
    assert (blended != before).any(axis=2).mean() > 0.01
    assert np.abs(blended - studio.still(0)).max() <= 2
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Blend", exact=True)).to_have_value("normal")
    assert (studio.pixels() == before).all()
