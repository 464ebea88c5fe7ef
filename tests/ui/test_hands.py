"""The main view by mouse and keyboard, bad input, two windows, and a server that goes away."""

from __future__ import annotations

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.ui.studio import Studio


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    return Studio(page, server, "Opener").open("?frame=60")


@pytest.mark.thorough
def test_anchor_drag_on_a_turned_stretched_keyed_layer(studio: Studio) -> None:
    """To any station, the picture unmoved to the byte at this frame."""
    studio.select("Nine days")
    for field, value in (("Rotation", "24"), ("Scale x", "130")):
        studio.type(field, value)
    mark = studio.page.get_by_test_id("anchor-mark")
    before = studio.pixels()
    for point in ((0, 0), (0.5, 1), (1, 0.5), (0.5, 0.5)):
        start = tuple(map(float, mark.get_attribute("data-scene").split(",")))
        goal = studio.point("Nine days", point, 60)
        studio.drag(start, (goal[0] + 4, goal[1] + 4))
        expect(studio.field("Anchor x")).to_have_value(f"{point[0] * 100:g}")
        assert studio.layer("Nine days")["anchor"]["rest"] == list(point)
        assert (studio.pixels() == before).all()


@pytest.mark.thorough
def test_held_keys_choose_what_stays(studio: Studio) -> None:
    """W slides the picture under its anchor; Q and a digit of the number pad set a station; Esc gives a drag back."""
    studio.select("Name plate")
    was = studio.layer("Name plate")
    studio.drag((614, 798), (700, 798), hold="w")
    expect(studio.field("Anchor x")).to_have_value("40")
    slid = studio.layer("Name plate")
    assert (slid["position"], slid["anchor"]["rest"]) == (was["position"], [0.4, 0.5])
    studio.page.keyboard.down("q")
    studio.page.keyboard.press("Numpad7")
    studio.page.keyboard.up("q")
    expect(studio.field("Anchor y")).to_have_value("0")
    assert studio.layer("Name plate")["anchor"]["rest"] == [0, 0]
    kept, shown = studio.layer("Name plate"), studio.pixels()
    studio.drag((500, 840), (800, 500), drop=False)
    expect(studio.field("Position x")).not_to_have_value(f"{kept['position']['rest'][0]:g}")
    studio.page.keyboard.press("Escape")
    studio.page.mouse.up()
    expect(studio.field("Position x")).to_have_value(f"{kept['position']['rest'][0]:g}")
    assert (studio.pixels() == shown).all()
    assert studio.layer("Name plate") == kept


def test_layers_are_moved_by_drag_and_by_keys(studio: Studio) -> None:
    """Whole pixels; Ctrl lets go of the magnet; arrows nudge; each is one step to undo."""
    studio.select("Week title")
    was = studio.layer("Week title")["position"]["rest"]
    keys = len(studio.layer("Week title")["position"]["keys"])
    studio.drag((900, 330), (947, 361), hold="Control")
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Moved Week title by 47, 31 px")
    moved = studio.layer("Week title")["position"]["keys"]
    assert len(moved) == keys + 1
    assert moved[-1]["value"] == [was[0] + 47, was[1] + 31]
    studio.page.keyboard.press("Shift+ArrowLeft")
    expect(studio.field("Position x")).to_have_value(f"{was[0] + 37:g}")
    for _ in range(2):
        studio.page.keyboard.press("Control+z")
    expect(studio.field("Position x")).to_have_value(f"{was[0]:g}")


@pytest.mark.thorough
def test_numbers_take_sums_and_refuse_nonsense(studio: Studio) -> None:
    studio.select("Plate edge")
    before = studio.layer("Plate edge")
    was = f"{before['position']['rest'][0]:g}"
    for text in ("abc", "1/0", "", "1e999", "99999999"):
        studio.type("Position x", text)
        expect(studio.said()).to_contain_text("1000000" if text == "99999999" else f"“{text}” is neither")
        if text != "99999999":
            studio.page.keyboard.press("Escape")
        expect(studio.field("Position x")).to_have_value(was)
        assert studio.layer("Plate edge") == before, text
    for text, kept in (("1920/2", 960), ("-3 * (4 + .5)", -13.5)):
        studio.type("Position x", text)
        expect(studio.field("Position x")).to_have_value(f"{kept:g}")
        expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set position of Plate edge")
        assert studio.layer("Plate edge")["position"]["rest"] == [kept, before["position"]["rest"][1]]


def test_lanes_move_trim_and_key(studio: Studio) -> None:
    """Spans are dragged and trimmed, keys dragged in time, by as many frames as the pointer went."""
    row = studio.row("Plate edge")
    bar = row.get_by_test_id("span")
    studio.select("Plate edge")
    box = bar.bounding_box()
    frame = box["width"] / 150
    mouse = studio.page.mouse

    def pull(x: float, frames: int) -> None:
        mouse.move(x, box["y"] + 8)
        studio.page.keyboard.down("Control")
        mouse.down()
        mouse.move(x + frames * frame / 2, box["y"] + 8)
        mouse.move(x + frames * frame, box["y"] + 8)
        mouse.up()
        studio.page.keyboard.up("Control")

    pull(box["x"] + box["width"] / 2, 9)
    expect(bar).to_have_attribute("data-start", "21")
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Moved Plate edge by +9 frames")
    pull(box["x"] + box["width"] + 9 * frame - 2, -20)
    expect(bar).to_have_attribute("data-length", "130")
    row.get_by_role("button", name="Open the lanes of Plate edge").click()
    pebble = row.get_by_role("button", name="Key of Scale at frame 33")
    spot = pebble.bounding_box()
    box["y"] = spot["y"] - 4
    pull(spot["x"] + 4, 10)
    expect(row.get_by_role("button", name="Key of Scale at frame 43")).to_be_visible()
    assert [key["frame"] for key in studio.layer("Plate edge")["scale"]["keys"]] == [0, 22]
    studio.page.keyboard.press("Delete")
    expect(studio.said()).to_contain_text("Deleted 1 key.")
    studio.said().get_by_role("button", name="Undo").click()
    expect(row.get_by_role("button", name="Key of Scale at frame 43")).to_be_visible()
    # A span's edge is trimmed on its whole height, where a key stands on it, too.
    box = bar.bounding_box()
    pull(box["x"], 5)
    expect(bar).to_have_attribute("data-start", "26")


@pytest.mark.thorough
def test_two_windows_and_a_deleted_layer(studio: Studio, server: Server, page: Page) -> None:
    """Each window hears of the other; an edit of a layer deleted elsewhere is refused in words, in mid-drag too."""
    other = Studio(page.context.new_page(), server, "Opener").open("?frame=60")
    other.select("Speaker name")
    studio.select("Speaker name")
    other.type("Rotation", "12")
    expect(studio.field("Rotation")).to_have_value("12")
    studio.drag((330, 770), (420, 700), drop=False)
    other.page.keyboard.press("Escape")
    other.page.get_by_test_id("stage").focus()
    other.select("Speaker name")
    other.page.keyboard.press("Delete")
    expect(studio.row("Speaker name")).to_have_count(0)
    page.mouse.move(700, 300)
    page.mouse.up()
    expect(studio.said()).to_contain_text("may have been deleted in another window")
    page.keyboard.press("Control+z")
    expect(studio.row("Speaker name")).to_be_visible()
    expect(other.row("Speaker name")).to_be_visible()


def test_shapes_texts_and_pictures_are_added(studio: Studio, tmp_path: Path) -> None:
    """From the shelf, by choice of a file; a file that is no picture says so and adds nothing."""
    page = studio.page
    for button, name in (("Ellipse", "Ellipse"), ("Text", "New title")):
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_test_id("drawer").get_by_role("button", name=button, exact=True).click()
        expect(studio.row(name)).to_be_visible()
    page.get_by_role("textbox", name="Text", exact=True).fill("High water\nat noon")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("Set text of New title"))
    # Named by its words, it goes on to be.
    expect(studio.row("High water")).to_be_visible()
    assert studio.layer("High water")["content"]["text"] == "High water\nat noon"
    image = io.BytesIO()
    Image.fromarray(np.full((60, 90, 3), (12, 200, 90), np.uint8)).save(image, "WEBP", lossless=True)
    good, bad = tmp_path / "Buoy.webp", tmp_path / "Noise.png"
    good.write_bytes(image.getvalue())
    bad.write_bytes(b"no picture at all")
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files([good])
    expect(studio.row("Buoy")).to_be_visible()
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    assert studio.pixels()[540, 960].tolist() == [12, 200, 90, 255]
    count = len(studio.stored()["layers"])
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files([bad])
    expect(studio.said()).to_contain_text("Noise.png: A picture must be a PNG, JPEG, WebP, AVIF or HEIC file")
    assert len(studio.stored()["layers"]) == count


@pytest.mark.thorough
def test_a_server_that_goes_away_and_comes_back(studio: Studio, server: Server) -> None:
    """It is said; the window reconnects by itself; what was changed meanwhile is kept here, and lands once."""
    studio.select("Name plate")
    studio.type("Opacity", "80")
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set opacity of Name plate")
    was = studio.layer("Name plate")["position"]["rest"]
    port = int(server.url.rstrip("/").rsplit(":", 1)[1])
    server.kill()
    expect(studio.page.get_by_text("Line lost, reconnecting…")).to_be_visible()
    studio.type("Opacity", "30")
    expect(studio.said()).to_contain_text("The server does not answer.")
    expect(studio.said()).to_contain_text("is sent when the line is back")
    studio.drag((760, 830), (760, 732), hold="Control")
    server.start(port)
    expect(studio.page.get_by_text("Line lost, reconnecting…")).to_be_hidden(timeout=15_000)
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Moved Name plate by 0, -98 px")
    layer = studio.layer("Name plate")
    assert (layer["opacity"]["rest"], layer["position"]["rest"]) == (30, [was[0], was[1] - 98])
    for words in ("Set opacity of Name plate", "Set opacity of Name plate"):
        studio.page.keyboard.press("Control+z")
        expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", f"Undo: {words}")
    expect(studio.field("Opacity")).to_have_value("80")


@pytest.mark.thorough
def test_a_new_scene_by_purpose(server: Server, page: Page) -> None:
    """From home to an empty scene that says what to do next."""
    page.goto(server.url)
    page.get_by_role("button", name="New scene").click()
    page.get_by_label("Width").fill("0")
    page.get_by_role("button", name="Create scene").click()
    expect(page.get_by_role("alert")).to_contain_text("Width and height are whole numbers from 1 to 16384")
    page.get_by_role("button", name=re.compile("^Strip")).click()
    expect(page.get_by_text("No layers yet. Add a shape, a text or a picture")).to_be_visible()
    expect(page.get_by_label("Scene width")).to_have_value("1600")
    page.get_by_label("Scene height").click()
    page.get_by_label("Scene height").fill("200")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("picture")).to_have_attribute("height", "200")
