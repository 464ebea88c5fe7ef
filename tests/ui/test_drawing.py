"""Drawing on the stage: shapes, lines, text boxes and masks by a drag, by what is typed, and by keys alone."""

from __future__ import annotations

import itertools

import httpx
import pytest
from playwright.sync_api import Page, expect

from mudskipper.core.document.scene import SCHEMA
from mudskipper.core.tracks.colour import contrast
from tests.conftest import Server, layer
from tests.ui.studio import Studio

NUMBERS = itertools.count(1)
DARK = "#0e3f45ff"


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """A dark scene with a turned plate."""
    name = f"Drawn {next(NUMBERS)}"
    plate = layer(position=[160, 260], rotation=30)
    document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 60, "background": DARK,
                "layers": [plate]}  # fmt: skip
    project = server.get("api/projects")[0]["id"]
    assert httpx.post(f"{server.url}api/projects/{project}/documents", json=document).status_code == 201
    opened = Studio(page, server, name).open()
    page.get_by_test_id("stage").focus()
    return opened


def choose(studio: Studio, what: str) -> None:
    studio.page.keyboard.press("d")
    studio.page.get_by_role("menuitem", name=what, exact=True).click()
    expect(studio.page.get_by_test_id("draw-note")).to_contain_text(what)


def drag(studio: Studio, start: tuple[float, float], end: tuple[float, float], typed: str = "") -> None:
    """From point to point of the scene, past all magnets; what is typed meanwhile."""
    page = studio.page
    page.mouse.move(*studio.to_page(*start))
    page.mouse.down()
    page.keyboard.down("Control")
    page.mouse.move(*studio.to_page((start[0] + end[0]) / 2, end[1]))
    page.mouse.move(*studio.to_page(*end))
    page.keyboard.up("Control")
    if typed:
        page.keyboard.type(typed)
    page.mouse.up()


def added(studio: Studio, name: str) -> dict:  # type: ignore[type-arg]
    expect(studio.page.get_by_test_id("draw-note")).to_have_count(0)
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", f"Undo: Added {name}")
    studio.settle()
    found: dict = studio.stored()["layers"][-1]  # type: ignore[type-arg]
    return found


def test_shapes_are_drawn_by_a_drag_or_by_their_size(studio: Studio) -> None:
    """Place and size are those of the drag; what is typed is the size, to the tenth; the colour shows on the ground."""
    page = studio.page
    choose(studio, "Rectangle")
    drag(studio, (300, 60), (500, 160))
    made = added(studio, "Rectangle")
    item = made["content"]["items"][0]
    assert made["position"]["rest"] == pytest.approx([400, 110], abs=2)
    assert item["size"]["rest"] == pytest.approx([200, 100], abs=3)
    assert contrast(item["fill"]["rest"], DARK) >= 4.5
    expect(studio.row(made["name"])).to_have_attribute("data-selected", "yes")
    choose(studio, "Ellipse")
    drag(studio, (520, 300), (420, 240), "240 x 80,5")
    made = added(studio, "Ellipse")
    assert made["content"]["items"][0]["size"]["rest"] == [240, 80.5]
    assert made["position"]["rest"] == pytest.approx([400, 259.8], abs=2)
    assert len(studio.steps()) == 2
    page.keyboard.press("Control+z")
    studio.settle()
    assert len(studio.stored()["layers"]) == 2


def test_by_keys_alone_and_given_up(studio: Studio) -> None:
    """A typed size and Enter, once also where it is held; Esc gives a choice or a drag back; a click has a size too."""
    page = studio.page
    page.keyboard.press("d")
    expect(page.get_by_role("menu", name="Draw on the stage")).to_be_visible()
    page.keyboard.press("l")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("draw-note")).to_contain_text("Line")
    page.keyboard.type("3000")
    page.keyboard.press("Backspace")
    for _ in range(3):
        page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    made = added(studio, "Line")
    line = made["content"]["items"][0]
    assert (line["start"]["rest"], line["end"]["rest"], made["position"]["rest"]) == ([-150, 0], [150, 0], [320, 180])
    assert studio.steps() == ["Added Line"]
    choose(studio, "Star")
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("draw-note")).to_have_count(0)
    choose(studio, "Star")
    page.mouse.move(*studio.to_page(300, 60))
    page.mouse.down()
    page.mouse.move(*studio.to_page(400, 100))
    page.keyboard.press("Escape")
    page.mouse.up()
    choose(studio, "Polygon")
    page.mouse.click(*studio.to_page(500, 100))
    made = added(studio, "Polygon")
    assert made["content"]["items"][0]["size"]["rest"] == [90, 90]
    assert studio.steps() == ["Added Line", "Added Polygon"]


def test_a_text_box_is_written_at_once_and_a_mask_lies_where_it_was_drawn(studio: Studio) -> None:
    """What is typed right after the drag goes into the text; the mask of a turned layer covers what was drawn over."""
    page = studio.page
    choose(studio, "Text box")
    drag(studio, (300, 40), (560, 110))
    page.keyboard.type("Spring tide")
    page.keyboard.press("Control+Enter")
    studio.settle()
    made = studio.stored()["layers"][-1]
    assert made["content"]["text"] == "Spring tide"
    assert made["content"]["block"]["width"]["rest"] == pytest.approx(260, abs=3)
    assert contrast(made["content"]["fill"]["rest"], DARK) >= 4.5
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    page.get_by_role("menuitem", name="Mask", exact=True).click()
    drag(studio, (160, 250), (200, 270))
    expect(studio.said()).to_contain_text("select one first")
    studio.select("Plate")
    page.get_by_test_id("stage").focus()
    choose(studio, "Mask")
    drag(studio, (160, 260), (220, 300))
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Masked Plate")
    mask = studio.layer("Plate")["masks"][0]["shape"]

    # In the pixels of the layer the drag is the box about both its ends: 60, 40 turned back by 30°.
    cos, sin = 3**0.5 / 2, 0.5
    assert mask["size"]["rest"] == pytest.approx([60 * cos + 40 * sin, abs(-60 * sin + 40 * cos)], abs=3)
