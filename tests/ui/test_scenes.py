"""Scenes inside scenes and carried layers in the real page: put in, gone into, changed, come out of, taken apart."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio


def block(name: str, position: Any, fill: str = "#0e3f45", **more: Any) -> dict[str, Any]:
    item = {"shape": "rectangle", "size": [160, 80], "fill": fill}
    return layer(name, content={"kind": "shape", "items": [item]}, position=position, **more)


@pytest.fixture
def studio(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A plate that moves and a sign on it, behind a buoy."""
    keys = [{"frame": 0, "value": [200, 120]}, {"frame": 40, "value": [300, 160]}]
    plate = block("Plate", {"rest": [200, 120], "keys": keys})
    sign = block("Sign", [230, 130], "#f2b544", rotation=20)
    name = server.keep(f"Outer {request.node.name}", [plate, sign, block("Buoy", [520, 300], "#d9482f")])
    return Studio(page, server, name).open("?frame=20")


def put_in(studio: Studio, *names: str) -> None:
    """Put layers into a scene of their own, from the menu of the last one, by keys."""
    page = studio.page
    for number, name in enumerate(names):
        studio.row(name).get_by_role("button", name=name, exact=True).click(modifiers=["Shift"] if number else [])
    page.get_by_role("button", name=f"More for {names[-1]}").click()
    page.get_by_role("menuitem", name="Put into a scene of its own…").click()
    dialog = page.get_by_test_id("nest-dialog")
    expect(dialog.get_by_label("Name of the scene")).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.type("Strip")


@pytest.mark.thorough
def test_layers_are_put_in_gone_into_changed_and_seen_from_outside(studio: Studio, browser: Browser) -> None:
    page, server = studio.page, studio.server
    before = studio.pixels()
    put_in(studio, "Plate", "Sign")
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("nest-dialog")).to_have_count(0)
    assert [one["name"] for one in studio.stored()["layers"]] == ["Plate", "Sign", "Buoy"]
    put_in(studio, "Plate", "Sign")
    # A second press is meant for the dialog, too: it does not go into the scene that there is now.
    page.keyboard.press("Enter")
    page.wait_for_timeout(250)
    page.keyboard.press("Enter")
    expect(studio.row("Strip")).to_be_visible()
    studio.settle()
    assert studio.steps() == ["Put 2 layers into a scene of its own"]
    now = studio.pixels()
    other = (now != before).any(axis=2)
    first, last = np.argwhere(other)[[0, -1]] if other.any() else ((0, 0), (0, 0))
    assert not other.any(), (other.sum(), first, last, before[tuple(first)], now[tuple(first)], studio.pixels()[first])
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    expect(studio.row("Plate")).to_be_visible()
    page.keyboard.press("Control+Shift+z")
    expect(studio.row("Strip")).to_be_visible()
    # A second window on the outer scene.
    other = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    second = Studio(other, server, studio.name).open("?frame=20")
    was = second.pixels()
    # In by a double click, at the frame that is shown.
    at = studio.to_page(200, 140)
    page.mouse.click(*at)
    expect(studio.row("Strip")).to_have_attribute("data-selected", "yes")
    page.mouse.dblclick(*at)
    expect(page.get_by_test_id("inner-note")).to_contain_text(f"{studio.name} › Strip")
    inner = Studio(page, server, "Strip")
    expect(inner.picture).to_have_attribute("data-painted", "20")
    expect(page.get_by_test_id("surroundings")).to_have_attribute("data-frame", "20")
    # The way back stays after a reload.
    page.reload()
    expect(page.get_by_test_id("inner-note")).to_be_visible()
    expect(inner.picture).to_have_attribute("data-ready", "yes")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("m")
    inner.drag((235, 135), (235, 215))
    inner.settle()
    assert inner.layer("Sign")["position"]["rest"] == [230, 210]
    expect(second.picture).to_have_attribute("data-ready", "yes")
    other.wait_for_function("() => document.documentElement.dataset.underWay === '0'")
    other.wait_for_timeout(300)
    now = second.pixels()
    assert (now != was).any()
    assert np.abs(now - second.still(20)).max() <= 2
    other.context.close()
    page.get_by_role("button", name="Surroundings").click()
    expect(page.get_by_test_id("surroundings")).to_have_count(0)
    page.get_by_role("button", name="Surroundings").click()
    expect(page.get_by_test_id("surroundings")).to_have_count(1)
    page.get_by_role("button", name=f"Come out to {studio.name}").first.click()
    expect(page.get_by_test_id("inner-note")).to_have_count(0)
    expect(studio.picture).to_have_attribute("data-painted", "20")
    expect(studio.row("Strip")).to_have_attribute("data-selected", "yes")
    assert (studio.pixels() == now).all()


@pytest.mark.thorough
def test_a_scene_is_added_runs_as_a_clip_does_and_no_circle_is_made(studio: Studio) -> None:
    page, server = studio.page, studio.server
    strip = server.keep(f"Strip of {studio.name}", [block("Plate", [100, 50])], width=200, height=100, length=30)
    page.reload()
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button", name="Scene", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button").filter(has_text=strip).click()
    expect(studio.row(strip)).to_have_attribute("data-selected", "yes")
    expect(page.get_by_test_id("source-frame")).to_have_text("Scene 0:20 shows 0:00 of the scene")
    assert studio.layer(strip)["span"] == {"start": 20, "length": 30}
    studio.type("Speed", "50")
    studio.settle()
    assert studio.layer(strip)["content"]["time"]["speed"] == 50
    page.get_by_text("With its own background").click()
    studio.settle()
    assert studio.layer(strip)["content"]["background"] is True
    page.get_by_role("button", name="Go in", exact=True).click()
    expect(page.get_by_test_id("inner-note")).to_be_visible()
    page.get_by_role("button", name="Media", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button").filter(has_text=studio.name).first.click()
    expect(studio.said()).to_contain_text("Scenes would show each other in a circle")
    assert len(server.document(strip)["layers"]) == 1
    page.go_back()
    expect(studio.row(strip)).to_be_visible()
    expect(page.get_by_test_id("inner-note")).to_have_count(0)
    # What would change is said, and it is done all the same where that is wanted.
    studio.row(strip).get_by_role("button", name=strip, exact=True).click()
    page.get_by_role("button", name="Take apart", exact=True).click()
    expect(studio.said()).to_contain_text("would change what is seen: it runs at its own speed again")
    page.get_by_role("button", name="Take apart anyway").click()
    expect(studio.row("Plate 2")).to_be_visible()
    studio.settle()
    assert "scene" not in {one["content"]["kind"] for one in studio.stored()["layers"]}


@pytest.mark.thorough
def test_a_layer_is_carried_moved_by_hand_and_released(studio: Studio) -> None:
    """The carrier takes it along; a hand on it works in the scene; released, nothing is seen to change."""
    page = studio.page
    studio.select("Sign")
    before = studio.pixels()
    page.get_by_role("combobox", name="Carried by").select_option("Plate")
    studio.settle()
    assert studio.layer("Sign")["carrier"] == "plate"
    assert (studio.pixels() == before).all()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("m")
    start = studio.point("Sign", (0.9, 0.5), 20)
    studio.drag(start, (start[0] + 60, start[1] - 20))
    studio.settle()
    moved = studio.point("Sign", (0.9, 0.5), 20)
    assert np.allclose(np.subtract(moved, start), (60, -20), atol=0.01)
    later = studio.point("Sign", (0.5, 0.5), 40)
    assert np.allclose(np.subtract(later, studio.point("Sign", (0.5, 0.5), 20)), (50, 20), atol=0.5)
    # Carrier and carried chosen together move once.
    plate = studio.point("Plate", (0.1, 0.2), 20)
    studio.row("Plate").get_by_role("button", name="Plate", exact=True).click(modifiers=["Shift"])
    studio.drag(plate, (plate[0] - 40, plate[1] + 30))
    studio.settle()
    assert np.allclose(np.subtract(studio.point("Sign", (0.9, 0.5), 20), moved), (-40, 30), atol=0.01)
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    studio.settle()
    studio.select("Plate")
    expect(page.get_by_role("combobox", name="Carried by").locator("option")).to_have_text(["nothing", "Buoy"])
    studio.select("Sign")
    whole = [studio.point("Sign", (0.3, 0.8), frame) for frame in range(0, 60, 5)]
    page.get_by_role("combobox", name="Carried by").select_option("nothing")
    studio.settle()
    assert studio.layer("Sign").get("carrier") is None
    assert np.allclose(whole, [studio.point("Sign", (0.3, 0.8), frame) for frame in range(0, 60, 5)], atol=0.06)


@pytest.mark.thorough
def test_an_empty_layer_is_a_mark_that_is_taken_and_carries(studio: Studio) -> None:
    page = studio.page
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button", name="Carrier", exact=True).click()
    expect(studio.row("Carrier")).to_have_attribute("data-selected", "yes")
    expect(studio.marks).to_have_attribute("data-empties", "1")
    studio.settle()
    studio.select("Buoy")
    page.get_by_role("combobox", name="Carried by").select_option("Carrier")
    studio.settle()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Escape")
    page.mouse.click(*studio.to_page(320, 180))
    expect(studio.row("Carrier")).to_have_attribute("data-selected", "yes")
    buoy = studio.point("Buoy", (0.5, 0.5), 20)
    studio.type("Rotation", "90")
    studio.settle()
    x, y = np.subtract(buoy, (320, 180))
    assert np.allclose(studio.point("Buoy", (0.5, 0.5), 20), (320 - y, 180 + x), atol=0.01)
    page.get_by_role("button", name="Explain the anchor").click()
    page.keyboard.press("Escape")
    studio.select("Buoy")
    page.get_by_role("button", name="Explain the anchor").click()
    expect(page.get_by_test_id("sum")).to_contain_text("in the pixels of “Carrier”, which carries it")
