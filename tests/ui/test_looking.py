"""Looking at the picture in the real page: a colour picked, kept and followed; styles of texts; distances; measures."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio


@pytest.fixture
def studio(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A teal plate on the left, a sand one on the right, and a text below them."""
    item = {"shape": "rectangle", "size": [200, 100], "fill": "#0e6b61"}
    left = layer("Left", content={"kind": "shape", "items": [item]}, position=[120, 100])
    right = layer("Right", content={"kind": "shape", "items": [item | {"fill": "#e8d9b5"}]}, position=[500, 100])
    sign = layer("Sign", content={"kind": "text", "text": "Low tide", "size": 60}, position=[320, 280])
    name = f"Looked at {request.node.name[:30]}"
    return Studio(page, server, server.keep(name, [left, right, sign], background="#ffffffff")).open()


def press(studio: Studio, x: float, y: float) -> None:
    studio.page.mouse.click(*studio.to_page(x, y))


def test_a_colour_is_picked_kept_followed_and_changed_everywhere(studio: Studio) -> None:
    page = studio.page
    studio.select("Right")
    pick = page.get_by_role("button", name="Pick fill from the stage")
    pick.click()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("pipette")).to_have_count(0)
    pick.click()
    press(studio, 120, 100)
    studio.settle()
    fill = studio.layer("Right")["content"]["items"][0]["fill"]
    assert (fill["rest"], fill["named"]) == ("#0e6b61ff", None)
    more = page.get_by_role("button", name="More colours for Fill")
    more.click()
    page.get_by_role("button", name="Keep this one under a name").click()
    page.get_by_label("Name of the colour").fill("Sea")
    page.keyboard.press("Enter")
    expect(studio.said()).to_have_text("Kept #0e6b61 as Sea.")
    studio.settle()
    kept = studio.layer("Right")["content"]["items"][0]["fill"]["named"]
    assert kept
    # Another layer takes it by its name; its contrast with the white ground is that of WCAG.
    studio.select("Sign")
    more.click()
    row = page.get_by_role("group", name="Colours of the project")
    expect(row).to_contain_text("6.4 AA")
    row.get_by_role("button", name="Sea, #0e6b61").click()
    studio.settle()
    assert studio.layer("Sign")["content"]["fill"]["named"] == kept
    more.click()
    row.get_by_role("button", name="Change Sea everywhere").click()
    page.get_by_label("Colour under this name").fill("#7b4397")
    page.get_by_label("Name of the colour").press("Enter")
    expect(studio.said()).to_contain_text("Changed the colour Sea in Looked at")
    page.keyboard.press("Escape")
    studio.settle()
    assert studio.layer("Right")["content"]["items"][0]["fill"]["rest"] == "#7b4397ff"
    assert studio.layer("Sign")["content"]["fill"]["rest"] == "#7b4397ff"
    assert studio.layer("Left")["content"]["items"][0]["fill"]["rest"] == "#0e6b61ff"
    assert studio.pixels()[100, 500].tolist() == [0x7B, 0x43, 0x97, 255]
    # One step of this scene to undo; then it has what it had, and follows no longer until it is given again.
    page.keyboard.press("Control+z")
    studio.settle()
    assert studio.layer("Sign")["content"]["fill"]["rest"] == "#0e6b61ff"
    more.click()
    row.get_by_role("button", name="Take Sea out of the project").click()
    expect(row.get_by_role("button", name="Sea, #7b4397")).to_have_count(0)


@pytest.mark.thorough
def test_a_look_is_kept_as_a_style_and_a_distance_is_measured(studio: Studio) -> None:
    page = studio.page
    studio.select("Sign")
    page.get_by_role("button", name="Keep how it looks as a style").click()
    page.get_by_label("Name of the style").fill("Display")
    page.keyboard.press("Enter")
    style = page.get_by_role("combobox", name="Style", exact=True)
    expect(style.locator("option:checked")).to_have_text("Display")
    studio.type("Text size", "90")
    studio.settle()
    page.get_by_role("button", name="Let Display be as this text is, everywhere").click()
    studio.settle()
    assert studio.layer("Sign")["content"]["size"]["rest"] == 90
    project = studio.server.get(f"api/scenes/{studio.scene_id}")["project"]
    (kept,) = studio.server.get(f"api/projects/{project}/styles")
    assert kept["look"]["size"]["rest"] == 90
    style.select_option("")
    studio.settle()
    assert studio.layer("Sign")["content"]["style"] is None
    # From station to station, which hold the pointer; clockwise from the right, as rotation counts.
    page.get_by_role("button", name="Guides").click()
    page.get_by_text("Colour under the pointer").click()
    page.get_by_role("button", name="Measure between two points").click()
    x, y = studio.to_page(121.5, 101)
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(*studio.to_page(400.7, 151.2), steps=4)
    page.mouse.up()
    expect(page.get_by_test_id("looking")).to_have_text("284.4 px · 10.1° · 280 across, 50 down")
    expect(page.get_by_test_id("pointer-colour")).to_contain_text("linear")
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("measure")).to_have_count(0)
    page.mouse.move(*studio.to_page(120, 100))
    expect(page.get_by_test_id("pointer-colour")).to_have_text("#0e6b61 · linear 0.004 0.147 0.120 · 120, 100")
    page.get_by_role("button", name="Guides").click()
    page.get_by_text("Waveform and histogram").click()
    expect(page.get_by_role("img", name="Waveform")).to_have_attribute("data-frame", "0")
    page.get_by_text("Colour under the pointer").click()
    page.get_by_text("Waveform and histogram").click()
    # What checks ask for every frame to be painted is looked at when it is asked for.
    page.keyboard.press("Escape")
    page.get_by_test_id("checks-count").click()
    page.get_by_role("button", name="Look at the pictures and the sound, too").click()
    expect(page.get_by_role("group", name="Checks")).to_contain_text("Pictures and sound were looked at, too.")
