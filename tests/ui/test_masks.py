"""Masks drawn and edited by hand, content moved behind its window, mattes chosen: as stored and as painted."""

from __future__ import annotations

from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import LAG, Studio
from tests.ui.test_stage import AXE

GROUND = {"shape": "rectangle", "size": [320, 260], "at": [-20, 0], "fill": "#0e3f45"}
STRIPES = [
    GROUND,
    *(
        {"shape": "rectangle", "name": f"Stripe {n}", "size": [40, 260], "at": [40 * n - 160, 0], "fill": fill}
        for n, fill in enumerate(["#0e6b61", "#f2b544", "#0e3f45", "#f07a55"] * 2)
    ),
]
FIXED = {"rest": [0, 0], "pinned": False}


@pytest.fixture
def flag(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A scene of a striped flag, a word, and a star in front of both."""
    keyed = {"rest": 0, "keys": [{"frame": 0, "value": -6}, {"frame": 40, "value": 10}]}
    star = {"shape": "star", "size": [150, 150], "fill": "#ffffff"}
    data = [
        layer("Flag", content={"kind": "shape", "items": STRIPES}, rotation=keyed),
        layer("Word", content={"kind": "text", "text": "LOW TIDE", "size": 90, "fill": "#ffffff"}, position=[320, 300]),
        layer("Star", content={"kind": "shape", "items": [star]}, position=[330, 170]),
    ]
    return Studio(page, server, server.keep(f"Flag {request.node.name}", data)).open()


def masked(studio: Studio) -> dict[str, Any]:
    """The only mask of the flag, as it is stored."""
    (mask,) = studio.layer("Flag")["masks"]
    return mask


def add(studio: Studio, shape: str) -> None:
    studio.page.get_by_role("button", name="Add a mask").click()
    studio.page.get_by_role("menuitem", name=shape).click()


@pytest.mark.thorough
def test_content_moves_behind_a_mask_whose_pixels_stay(flag: Studio) -> None:
    """A mask from the menu, sized by its handle and feathered; then A and a drag, A and arrows, and the pad."""
    page = flag.page
    flag.select("Flag")
    add(flag, "Ellipse")
    expect(page.get_by_test_id("inside-note")).to_contain_text("Flag › Masks › Ellipse")
    expect(flag.marks).to_have_attribute("data-masks", "1")
    flag.type("Size w", "150")
    flag.type("Feather", "4")
    flag.settle()
    assert masked(flag)["shape"]["size"]["rest"][0] == 150
    assert masked(flag)["feather"]["rest"] == 4
    page.keyboard.press("Escape")
    expect(flag.row("Flag")).to_have_attribute("data-selected", "yes")
    expect(page.get_by_test_id("item-row").and_(page.get_by_role("group", name="Ellipse", exact=True))).to_be_visible()
    page.get_by_role("button", name="Close the lanes of Flag", exact=True).click()
    page.get_by_role("button", name="Hide Star").click()
    page.get_by_role("button", name="Hide Word").click()
    before, anchor = flag.pixels(), flag.layer("Flag")["anchor"]
    flag.drag((320, 180), (354, 172), drop=False, hold="a")
    expect(flag.marks).to_have_attribute("data-note", "Content behind its window · 34.6, −4.4 px · 100 %")
    page.mouse.up()
    after = flag.pixels()
    assert (after[..., 3] == before[..., 3]).all(), "the mask is where it was"
    assert (after != before).any()
    assert (np.abs(after - flag.still(0)) <= 2).all()
    offset = flag.layer("Flag")["framing"]["offset"]["rest"]
    page.keyboard.down("a")
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    page.keyboard.up("a")
    flag.settle()
    moved = flag.layer("Flag")
    assert np.hypot(*np.subtract(moved["framing"]["offset"]["rest"], offset)) == pytest.approx(3, abs=1e-3)
    assert moved["anchor"] == anchor
    page.keyboard.press("Control+z")
    flag.settle()
    assert flag.layer("Flag")["framing"]["offset"]["rest"] == pytest.approx(offset), "a row of steps is one step"
    pad = page.get_by_test_id("framing-pad")
    pad.scroll_into_view_if_needed()
    box = pad.bounding_box()
    assert box
    page.mouse.move(box["x"] + 60, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + 50, box["y"] + 40, steps=3)
    page.mouse.up()
    flag.settle()
    assert flag.layer("Flag")["framing"]["offset"]["rest"][0] < offset[0] - 5
    assert (flag.pixels()[..., 3] == before[..., 3]).all()


@pytest.mark.thorough
def test_a_mask_is_drawn_as_a_path_and_its_points_are_dragged(flag: Studio) -> None:
    """The picture stays whole until the path is closed; then the mask is what was drawn, and a point of it moves."""
    page = flag.page
    flag.select("Flag")
    whole = flag.pixels()
    add(flag, "Draw a path")
    corners = [(200, 100), (440, 110), (320, 270)]
    for corner in corners[:2]:
        page.mouse.click(*flag.to_page(*corner))
        flag.settle()
    assert (flag.pixels() == whole).all(), "an open path masks nothing"
    page.mouse.click(*flag.to_page(*corners[2]))
    flag.settle()
    page.mouse.click(*flag.to_page(*corners[0]))
    flag.settle()
    assert masked(flag)["shape"]["contours"] == [{"count": 3, "closed": True}]
    assert masked(flag)["shape"]["fill"] is None
    shown = flag.pixels()
    assert shown[250, 210].tolist() == [0, 0, 0, 0]
    assert shown[130, 300, 3] == 255
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Enter")
    flag.drag(corners[2], (320, 230))
    flag.settle()
    assert (np.abs(flag.pixels() - flag.still(0)) <= 2).all()
    assert flag.pixels()[255, 320, 3] == 0 or (flag.pixels()[255, 320] != shown[255, 320]).any()
    # What is left of it after a reload, and after it is deleted.
    page.reload()
    flag.open()
    assert (np.abs(flag.pixels() - flag.still(0)) <= 2).all()
    flag.select("Flag")
    page.get_by_test_id("stage").focus()
    page.get_by_role("list", name="Masks of Flag").get_by_role("button", name="Path", exact=True).click()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Delete")
    flag.settle()
    assert flag.layer("Flag")["masks"] == []
    assert (flag.pixels() == whole).all()


def test_the_shape_over_a_layer_becomes_its_mask(flag: Studio) -> None:
    page = flag.page
    flag.select("Flag")
    flag.row("Star").get_by_role("button", name="Star", exact=True).click(modifiers=["Shift"])
    page.get_by_role("button", name="Mask Flag with Star").click()
    flag.settle()
    assert [one["name"] for one in flag.stored()["layers"]] == ["Flag", "Word"]
    assert masked(flag)["name"] == "Star"
    assert (np.abs(flag.pixels() - flag.still(0)) <= 2).all()
    box = page.get_by_role("list", name="Masks of Flag")
    box.get_by_role("combobox", name="How Star acts").select_option("subtract")
    flag.settle()
    assert masked(flag)["mode"] == "subtract"
    assert flag.pixels()[170, 330, 3] == 0
    box.get_by_role("button", name="Hide Star").click()
    flag.settle()
    assert flag.pixels()[170, 330, 3] == 255
    # It may cover its stroke alone, and that in part.
    box.get_by_role("button", name="Show Star").click()
    box.get_by_role("combobox", name="How Star acts").select_option("add")
    box.get_by_role("button", name="Star", exact=True).click()
    page.get_by_role("combobox", name="What the mask covers").select_option("stroke")
    flag.type("Line width", "24")
    page.get_by_role("button", name="In part").click()
    flag.type("Part to", "40")
    flag.settle()
    shape = masked(flag)["shape"]
    assert (shape["fill"], shape["stroke"]["width"]["rest"], shape["stroke"]["part"]["end"]["rest"]) == (None, 24, 40)
    seen = flag.pixels()
    assert seen[170, 330, 3] == 0, "the inside"
    assert seen[..., 3].any()
    assert (np.abs(seen - flag.still(0)) <= 2).all()


@pytest.mark.thorough
def test_a_layer_is_shown_in_another_that_is_hidden(flag: Studio) -> None:
    page = flag.page
    flag.select("Flag")
    page.get_by_role("combobox", name="Matte", exact=True).select_option("Star")
    expect(flag.said()).to_contain_text("Star is hidden from the picture now")
    flag.settle()
    assert flag.layer("Star")["visible"] is False
    shown = flag.pixels()
    assert shown[170, 330, 3] == 255
    assert shown[100, 200, 3] == 0
    page.get_by_role("combobox", name="What of the matte counts").select_option("brightness")
    page.get_by_role("button", name="Shown where the matte is not").click()
    flag.settle()
    assert flag.layer("Flag")["matte"] == {"layer": flag.layer("Star")["id"], "by": "brightness", "inverted": True}
    assert (np.abs(flag.pixels() - flag.still(0)) <= 2).all()
    # A change of the matte is seen at once in the layer that it shows.
    flag.row("Star").get_by_role("button", name="Star", exact=True).click()
    flag.type("Position x", "200")
    flag.settle()
    assert (flag.pixels() != shown).any()
    assert (np.abs(flag.pixels() - flag.still(0)) <= 2).all()


def test_a_crop_is_keyed_and_the_picture_does_not_slide(flag: Studio) -> None:
    page = flag.page
    flag.select("Flag")
    before = flag.pixels()
    page.get_by_role("button", name="Crop the layer by its edges").click()
    flag.settle()
    assert (flag.pixels() != before).any(axis=2).mean() < 0.01, "but for the soft edge of the box"
    flag.type("Right", "20")
    flag.settle()
    assert flag.layer("Flag")["crop"]["right"]["rest"] == 20
    inside = flag.pixels()[60:300, 180:320]
    assert (inside == before[60:300, 180:320]).mean() > 0.97
    assert flag.pixels()[180, 420, 3] == 0 or (flag.pixels()[180, 420] != before[180, 420]).any()
    # What is typed is given back by Ctrl+Z, and not by a step of the scene.
    flag.field("Left").click()
    page.keyboard.type("77")
    page.keyboard.press("Control+z")
    page.keyboard.press("Escape")
    flag.settle()
    assert flag.layer("Flag")["crop"]["right"]["rest"] == 20
    page.get_by_role("button", name="Crop the layer by its edges").click()
    flag.settle()
    assert flag.layer("Flag")["crop"] is None


@pytest.mark.thorough
def test_masks_are_ordered_named_and_duplicated(flag: Studio) -> None:
    """What acts first, by the panel's buttons; a name by F2, Esc gives it back; back to the layer by the trail."""
    page = flag.page

    def names() -> list[str]:
        flag.settle()
        return [mask["name"] for mask in flag.layer("Flag").get("masks", [])]

    flag.select("Flag")
    add(flag, "Ellipse")
    expect(page.get_by_test_id("inside-note")).to_contain_text("Ellipse")
    page.keyboard.press("F2")
    page.keyboard.type("Buoy")
    page.keyboard.press("Enter")
    assert names() == ["Buoy"]
    page.keyboard.press("F2")
    page.keyboard.type("Never")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Duplicate the mask").click()
    first, second = names()
    assert first == "Buoy"
    assert second.startswith("Buoy")
    earlier = page.get_by_role("button", name="Let the mask act earlier")
    earlier.click()
    assert names() == [second, first]
    expect(earlier).to_be_disabled()
    page.get_by_role("button", name="Delete the mask").click()
    assert names() == [first]
    expect(flag.row("Flag")).to_have_attribute("data-selected", "yes")
    page.get_by_role("list", name="Masks of Flag").get_by_role("button", name="Buoy", exact=True).click()
    page.get_by_role("navigation", name="Lies in").get_by_role("button", name="‹ Flag").click()
    expect(flag.row("Flag")).to_have_attribute("data-selected", "yes")
    assert [words.split()[0] for words in flag.steps()] == [
        "Masked", "Renamed", "Duplicated", "Moved", "Deleted",
    ]  # fmt: skip


@pytest.mark.thorough
def test_two_windows_and_late_answers(flag: Studio, server: Server, browser: Browser) -> None:
    """A mask that another window deletes while it is selected, and two quick presses of a late button."""
    page = flag.page
    flag.select("Flag")
    add(flag, "Star")
    flag.settle()
    flag_id = flag.layer("Flag")["id"]
    gone = {"edits": [{"edit": "delete_layers", "layers": [f"{flag_id}/@/{masked(flag)['id']}"]}]}
    answer = httpx.post(f"{server.url}api/scenes/{flag.scene_id}/edits", json=gone)
    assert answer.status_code == 200, answer.text
    expect(page.get_by_test_id("inside-note")).to_have_count(0)
    assert (np.abs(flag.pixels() - flag.still(0)) <= 2).all()
    page.evaluate("() => {" + LAG + "}")
    page.evaluate("() => { window.lag = {edits: 300} }")
    flag.select("Flag")
    button = page.get_by_role("button", name="Crop the layer by its edges")
    button.evaluate("button => { button.click(); button.click(); }")
    flag.settle()
    page.evaluate("() => { window.lag = {} }")
    assert flag.layer("Flag")["crop"] is not None, "the second press says the same as the first"


@pytest.mark.thorough
def test_axe_finds_nothing_serious_where_layers_are_masked(flag: Studio) -> None:
    page = flag.page
    flag.select("Flag")
    page.get_by_role("button", name="Framing: move the content").click()
    add(flag, "Ellipse")
    flag.settle()
    page.evaluate(AXE.read_text())
    for _ in range(2):
        found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")["violations"]
        grave = [one["nodes"][0] for one in found if one["impact"] in ("serious", "critical")]
        told = [(node["html"][:160], node["failureSummary"]) for node in grave]
        assert told == []
        page.get_by_test_id("stage").focus()
        page.keyboard.press("Escape")
