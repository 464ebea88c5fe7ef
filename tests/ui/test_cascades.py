"""Cascades through the page: ready-made, in the panel, as a staircase in the lanes, by their units on the stage."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.ui.studio import Studio


def opened(server: Server, page: Page, name: str, **fields: Any) -> Studio:
    content = {"kind": "text", "text": "Low tide", "size": 90, "fill": "#1b2628", **fields}
    layer = {"name": "Sign", "span": {"start": 0, "length": 120}, "content": content, "position": [320, 180]}
    studio = Studio(page, server, server.keep(name, [layer], length=120)).open()
    studio.select("Sign")
    return studio


def cascade(studio: Studio, index: int = 0) -> dict[str, Any]:
    found: dict[str, Any] = studio.layer("Sign")["content"]["cascades"][index]
    return found


def same(studio: Studio, *frames: int) -> None:
    """The stage shows what is exported."""
    for frame in frames:
        studio.go(frame)
        studio.settle()
        gap = np.abs(studio.pixels() - studio.still(frame))
        assert gap.max() <= 2, f"{(gap.max(axis=2) > 2).sum()} pixels differ by up to {gap.max()} at {frame}"


@pytest.mark.thorough
def test_a_ready_made_cascade_is_used_timed_and_taken_off(server: Server, page: Page) -> None:
    """A tile tried and taken as one step; its three times, of which each follows from the others; a value more; the
    staircase dragged; undone."""
    studio = opened(server, page, "Cascades")
    page.get_by_role("button", name="Recipes", exact=True).click()
    drawer = page.get_by_test_id("drawer")
    drawer.get_by_role("button", name="flip", exact=True).click()
    page.get_by_label("Length", exact=True).fill("44")
    page.get_by_label("Length", exact=True).press("Enter")
    steps = len(studio.steps())
    page.get_by_role("button", name="Use it").click()
    studio.settle()
    assert len(studio.steps()) == steps + 1
    made = cascade(studio)
    assert (made["name"], made["spread"], made["amount"], made["start"]) == ("flip", "total", 44, 0)
    block = page.get_by_role("group", name="Cascades", exact=True)
    overlap = block.get_by_label("Overlap", exact=True)
    overlap.fill("2")
    overlap.press("Enter")
    studio.settle()
    assert (cascade(studio)["spread"], cascade(studio)["amount"]) == ("overlap", 2)
    # Seven letters of 14 frames, two at once: 7 frames apart, 56 in all.
    expect(block.get_by_label("Stagger", exact=True)).to_have_value("7")
    expect(block.get_by_label("Total", exact=True)).to_have_value("56")
    block.get_by_role("button", name="Blur", exact=False).first.click()
    studio.settle()
    assert cascade(studio)["blur"]["rest"] == 8
    same(studio, 9, 30, 70)
    page.get_by_role("button", name="Open the lanes of Sign").click()
    bar = page.get_by_test_id("cascade-bar")
    expect(bar).to_have_attribute("data-total", "56")
    box = bar.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 6)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.75, box["y"] + 6, steps=4)
    page.mouse.up()
    studio.settle()
    assert cascade(studio)["start"] > 5
    end = page.get_by_test_id("cascade-end").bounding_box()
    assert end is not None
    page.mouse.move(end["x"] + 3, end["y"] + 10)
    page.mouse.down()
    page.mouse.move(end["x"] + 60, end["y"] + 10, steps=4)
    page.mouse.up()
    studio.settle()
    assert cascade(studio)["spread"] == "total"
    assert cascade(studio)["amount"] > 60
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    studio.settle()
    assert (cascade(studio)["start"], cascade(studio)["spread"]) == (0, "overlap")
    # Steps that follow one another fast are one.
    steps = len(studio.steps())
    each = block.get_by_label("Each takes", exact=True)
    each.focus()
    for _ in range(4):
        page.keyboard.press("ArrowUp")
    expect(each).to_have_value("18")
    studio.settle()
    assert (cascade(studio)["each"], len(studio.steps())) == (18, steps + 1)
    page.keyboard.press("Control+z")
    studio.settle()
    assert cascade(studio)["each"] == 14
    block.get_by_role("button", name="Remove the cascade").click()
    studio.settle()
    assert studio.layer("Sign")["content"]["cascades"] == []


@pytest.mark.thorough
def test_the_anchors_of_units_are_dragged_and_nothing_moves_at_rest(server: Server, page: Page) -> None:
    turned = {"turn_z": {"rest": 90}, "each": 20, "amount": 3, "start": 10}
    studio = opened(server, page, "Unit anchors", cascades=[turned])
    studio.go(110)
    page.get_by_role("button", name="Work on the cascade letter in").click()
    marks = page.locator("canvas[data-units='7']")
    expect(marks).to_be_visible()
    studio.settle()
    rest = studio.pixels()
    studio.go(25)
    moving = studio.pixels()
    studio.go(110)
    # The middle of the first letter, in the layer's box.
    x, y = studio.to_page(*studio.point("Sign", (0.06, 0.5), 110))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 10, y + 30, steps=5)
    page.mouse.up()
    studio.settle()
    shift = cascade(studio)["shift"]
    assert shift[1] > 10
    assert (studio.pixels() == rest).all(), "no pixel moves at rest"
    studio.go(25)
    studio.settle()
    assert (studio.pixels() != moving).any()
    page.keyboard.press("Control+z")
    studio.settle()
    assert cascade(studio)["shift"] == [0, 0]
    studio.go(110)
    # With Alt a click lets a unit take part alone, and again all.
    at = studio.to_page(*studio.point("Sign", (0.06, 0.2), 110))
    for picked in ({"picked": [0]}, None):
        page.keyboard.down("Alt")
        page.mouse.click(*at)
        page.keyboard.up("Alt")
        studio.settle()
        choice = cascade(studio)["choice"]
        assert (choice and {"picked": choice["picked"]}) == picked
    moves = page.get_by_test_id("cascade-moves").get_by_role("button")
    expect(moves).to_have_text("letter in 0:10 · 38 f")


@pytest.mark.thorough
def test_a_cascade_is_kept_and_found_among_the_ready_made(server: Server, page: Page) -> None:
    """Its colour made a gradient; kept by Enter under a name, which asks for no second; used on the text, undone; the
    letters of a part that has a name chosen by it; kept no longer."""
    parts = [{"start": 4, "stop": 8, "fill": "#d24b1e"}]
    studio = opened(server, page, "Kept", parts=parts, cascades=[{"opacity": 0, "fill": "#ff0000", "each": 6}])
    block = page.get_by_role("group", name="Cascades", exact=True)
    block.get_by_label("Unit colour: colour or gradient").select_option("linear")
    block.get_by_role("button", name="+ stop: add a stop to the unit colour").click()
    studio.settle()
    assert [stop["at"]["rest"] for stop in cascade(studio)["fill"]["stops"]] == [0, 50, 100]
    expect(block.get_by_label("Colour 3 alpha")).to_have_count(1)
    name = block.get_by_label("Name to keep the cascade by")
    name.fill("Tide in")
    name.press("Enter")
    name.press("Enter")
    expect(page.get_by_test_id("said")).to_contain_text("is kept")
    block.get_by_role("button", name="Ready-made").click()
    own = page.get_by_role("group", name="This project’s own")
    own.get_by_role("button", name="kept: Tide in").click()
    steps = len(studio.steps())
    page.keyboard.press("Escape")
    own.get_by_role("button", name="kept: Tide in").click()
    page.get_by_role("button", name="Use it").click()
    studio.settle()
    assert len(studio.steps()) == steps + 1
    assert (cascade(studio, 1)["name"], cascade(studio, 1)["each"]) == ("Tide in", 6)
    page.keyboard.press("Control+z")
    studio.settle()
    page.get_by_role("group", name="Parts").get_by_role("button").first.click()
    named = page.get_by_label("Name of these letters")
    named.fill("Wave")
    named.press("Escape")
    expect(named).to_have_value("")
    named.fill("Wave")
    named.press("Enter")
    studio.settle()
    page.get_by_role("button", name="Set all letters again, not these alone").click()
    block.get_by_role("button", name="Some letters").click()
    block.get_by_label("Which letters take part").select_option("Wave")
    studio.settle()
    assert cascade(studio)["choice"]["part"] == "Wave"
    page.get_by_role("button", name="Recipes", exact=True).click()
    own.get_by_role("button", name="Keep “Tide in” no longer").click()
    expect(own).to_have_count(0)


@pytest.mark.parametrize(
    "fields",
    [
        {"stroke": {"colour": "#d24b1e", "width": 3}, "cascades": [{"turn_y": 70, "distance": 400, "opacity": 0}]},
        {
            "fill": {"gradient": "linear", "stops": [{"at": 0, "colour": "#d24b1e"}, {"at": 100, "colour": "#0e6b61"}]},
            "cascades": [{"offset": [0, 50], "scale": [20, 20], "unit": "word", "opacity": 20}],
        },
        {"text": "Low 🙂 42", "cascades": [{"turn_x": 80, "distance": 300}, {"scramble": True, "caret": True}]},
        {
            "font": {"family": "Archivo", "weight": 500}, "text": "مرحبا tide",
            "cascades": [
                {"axes": [{"tag": "wdth", "value": 70}], "fill": "#d24b1e", "way": "through", "tracking": 300}
            ],
        },
    ],
)  # fmt: skip
@pytest.mark.thorough
def test_each_kind_of_cascade_is_exported_as_it_is_shown(server: Server, page: Page, fields: dict[str, Any]) -> None:
    """In perspective with strokes, with gradients, with emoji and other letters, along the axes of a font."""
    for one in fields["cascades"]:
        one |= {"each": 18, "amount": 3}
    opened(server, page, f"Kinds {len(str(fields))}", **fields)
    studio = Studio(page, server, f"Kinds {len(str(fields))}")
    same(studio, *range(0, 60, 3))
