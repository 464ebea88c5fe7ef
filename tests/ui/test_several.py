"""Several layers at once in the panel: what they share is set for all, what differs is told, each goes from its own."""

from __future__ import annotations

import itertools
from typing import Any

import httpx
import pytest
from playwright.sync_api import Page, expect

from mudskipper.core.document.scene import SCHEMA
from tests.conftest import Server, layer
from tests.ui.studio import Studio, middle

NUMBERS = itertools.count(1)


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """Three layers, two of them texts, all selected."""
    name = f"Several {next(NUMBERS)}"
    turning = {"rest": 0, "keys": [{"frame": 0, "value": 0, "ease": "hold"}, {"frame": 30, "value": 90}]}
    layers = [
        layer("Pole"), layer("Low", content={"kind": "text", "text": "Low tide"}, rotation=turning),
        layer("Light", content={"kind": "text", "text": "low light"}, blend="multiply")
        | {"span": {"start": 6, "length": 30}},
        layer("Over", position=[500, 90]),
    ]  # fmt: skip
    document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 60, "layers": layers}
    project = server.get("api/projects")[0]["id"]
    assert httpx.post(f"{server.url}api/projects/{project}/documents", json=document).status_code == 201
    opened = Studio(page, server, name).open("?frame=10")
    opened.select("Over")
    for other in ("Light", "Low"):
        opened.row(other).get_by_role("button", name=other, exact=True).click(modifiers=["Shift"])
    expect(page.get_by_test_id("panel")).to_contain_text("3 layers")
    return opened


def layers(studio: Studio) -> list[dict[str, Any]]:
    studio.settle()
    found: list[dict[str, Any]] = studio.stored()["layers"]
    return found


def test_what_several_share_is_set_for_all_at_once(studio: Studio) -> None:
    """Carrier, blend, span, pebbles, easing, names and words: one step each, and one undo."""
    page = studio.page
    panel = page.get_by_test_id("panel")
    panel.get_by_label("Carried by", exact=True).select_option(label="Pole")
    assert [one["carrier"] for one in layers(studio)] == [None, "pole", "pole", "pole"]
    expect(panel.get_by_label("Blend", exact=True)).to_have_value("several")
    panel.get_by_label("Blend", exact=True).select_option("screen")
    assert [one["blend"] for one in layers(studio)[1:]] == ["screen"] * 3
    start = panel.get_by_label("Start of the spans")
    expect(start).to_have_value("several")
    start.fill("+4")
    start.press("Enter")
    assert [one["span"]["start"] for one in layers(studio)] == [0, 4, 10, 4]
    pebble = panel.get_by_test_id("pebble-rotation")
    for count in ([3, 1, 1], [2, 0, 0]):
        pebble.click()
        assert [len(one["rotation"]["keys"]) for one in layers(studio)[1:]] == count
    panel.get_by_role("combobox", name="Easing", exact=True).select_option("ease-out")
    assert layers(studio)[1]["rotation"]["keys"][0]["ease"] == "ease-out"
    name = panel.get_by_label("Name of all, with {n} for a number")
    name.fill("Bar {n}")
    name.press("Enter")
    assert [one["name"] for one in layers(studio)] == ["Pole", "Bar 3", "Bar 2", "Bar 1"]
    panel.get_by_label("Find in the texts").fill("l")
    expect(panel.get_by_role("button", name="Replace 2")).to_be_visible()
    panel.get_by_label("Find in the texts").fill("low")
    panel.get_by_label("Replace with").fill("High")
    for _ in range(3):
        page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    assert [one["content"].get("text") for one in layers(studio)[1:3]] == ["Low tide", "High light"]
    panel.get_by_role("button", name="Shown").click()
    assert [one["visible"] for one in layers(studio)] == [True, False, False, False]
    assert len(studio.steps()) == 9
    page.get_by_test_id("stage").focus()
    for _ in range(9):
        page.keyboard.press("Control+z")
        studio.settle()
    assert [one["name"] for one in layers(studio)] == ["Pole", "Low", "Light", "Over"]


def test_what_cannot_be_done_for_all_is_said_and_undone_for_none(studio: Studio) -> None:
    page = studio.page
    panel = page.get_by_test_id("panel")
    before = layers(studio)
    length = panel.get_by_label("Length of the spans")
    for text, told in (("-40", "would be there for -10 frames"), ("soon", "is no time")):
        length.fill(text)
        length.press("Enter")
        expect(studio.said()).to_contain_text(told)
        length.press("Escape")
        expect(length).to_have_value("several")
    assert layers(studio) == before
    panel.get_by_role("button", name="Locked").click()
    studio.settle()
    expect(panel.get_by_label("Carried by", exact=True)).to_be_disabled()
    expect(length).to_be_disabled()


def test_lanes_are_filtered_and_pasted_keys_are_selected(studio: Studio) -> None:
    """By words and by what layers do; nothing is moved among rows of which some are left out; Esc shows all again."""
    page = studio.page
    rows = page.get_by_test_id("layer-row")
    page.get_by_role("button", name="Filter the lanes").click()
    field = page.get_by_label("Filter of the lanes")
    expect(field).to_be_focused()
    page.keyboard.type("text l")
    expect(rows).to_have_count(2)
    before = [one["id"] for one in layers(studio)]
    x, y = middle(studio.row("Light").get_by_role("button", name="Light", exact=True))
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 20)
    page.mouse.move(x, y + 50)
    page.mouse.up()
    expect(studio.said()).to_contain_text("Clear the filter")
    assert [one["id"] for one in layers(studio)] == before
    page.get_by_label("Which layers the lanes show").select_option("keyed")
    expect(rows).to_have_count(1)
    field.fill("nothing")
    expect(page.get_by_test_id("layer-list")).to_contain_text("None of the 4 layers is like that")
    field.press("Escape")
    expect(rows).to_have_count(4)
    studio.row("Low").get_by_role("button", name="Keys of Low at frame 0").click()
    page.keyboard.press("Control+c")
    studio.select("Over")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+v")
    studio.settle()
    expect(studio.row("Over").get_by_role("button", name="Keys of Over at frame 10")).to_have_attribute(
        "aria-pressed", "true"
    )


def test_the_stage_has_a_menu_where_the_hand_is(studio: Studio) -> None:
    """Of the layer under the pointer, with all that lies below it; by keys of the selected one; on the empty stage of
    what may come there."""
    page = studio.page
    studio.deselect()
    page.mouse.click(*studio.to_page(320, 180), button="right")
    menu = page.get_by_role("menu", name="Light")
    expect(menu.get_by_role("menuitem")).to_contain_text(["Select Low", "Select Pole", "Rename"])
    menu.get_by_role("menuitem", name="Select Pole").click()
    expect(studio.row("Pole")).to_have_attribute("data-selected", "yes")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Shift+F10")
    expect(page.get_by_role("menu", name="Pole")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("stage")).to_be_focused()
    page.mouse.click(*studio.to_page(30, 20), button="right")
    menu = page.get_by_role("menu", name="Stage")
    expect(menu.get_by_role("menuitem", name="Draw: Ellipse")).to_be_visible()
    menu.get_by_role("menuitem", name="Draw: Ellipse").click()
    expect(page.get_by_test_id("draw-note")).to_contain_text("Ellipse")
