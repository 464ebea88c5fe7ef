"""Effects in the real page: added, typed, keyed, run in another order, switched off; painted as the export has them."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.core.effects_at_random import RANGES, effect
from tests.ui.studio import Studio

PLATE = {"kind": "shape", "items": [{"shape": "rectangle", "size": [260, 140], "fill": "#0e3f45"}]}


@pytest.mark.thorough
def test_an_effect_is_added_by_keys_changed_and_taken_off(server: Server, page: Page) -> None:
    name = server.keep("Misty", [layer("Plate", content=PLATE, position=[300, 180], rotation=25)])
    studio = Studio(page, server, name).open()
    studio.select("Plate")
    plain = studio.pixels()

    def same_as_export() -> None:
        studio.settle()
        assert np.abs(studio.pixels() - studio.still(0)).max() <= 2

    page.get_by_role("button", name="Add an effect").focus()
    page.keyboard.press("Enter")
    drawer = page.get_by_test_id("drawer")
    wanted = drawer.get_by_label("Find an effect")
    wanted.fill("out of focus")
    expect(drawer.get_by_role("button", name="soft blur")).to_be_visible()
    expect(drawer.get_by_role("button", name="shadow")).to_have_count(0)
    for _ in range(2):
        wanted.press("Enter")
        studio.settle()
    page.get_by_role("button", name="Close Effects").click()
    # C, held, wipes the picture with what it is without the effects, at the pointer and right of it.
    page.mouse.move(*studio.to_page(320, 180))
    page.get_by_test_id("stage").focus()
    page.keyboard.down("c")
    before = page.get_by_test_id("before")
    expect(before).to_have_attribute("data-painted", "0")
    page.mouse.move(*studio.to_page(160, 180))
    assert before.evaluate("c => c.style.clipPath").startswith("inset(0px 0px 0px 25")
    sharp = before.evaluate(
        "c => { const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;"
        " return [c.width, d.filter((_, i) => i % 4 === 3 && d[i] > 3 && d[i] < 250).length]; }"
    )
    assert sharp[1] < 4 * sharp[0], "only edges are seen in part"
    page.keyboard.up("c")
    expect(before).to_have_count(0)
    assert [one["name"] for one in studio.layer("Plate")["effects"]] == ["Soft blur", "Soft blur 2"]
    assert (studio.pixels() != plain).any()
    second = page.get_by_role("listitem", name="Soft blur 2")
    page.get_by_role("button", name="Unlink Amount x and y").last.click()
    across = second.get_by_label("Amount x", exact=True)
    across.fill("30")
    across.press("Enter")
    down = second.get_by_label("Amount y", exact=True)
    down.fill("lots")
    down.press("Enter")
    expect(down).to_have_value("lots")
    down.press("Escape")
    down.fill("0")
    down.press("Tab")
    same_as_export()
    assert studio.layer("Plate")["effects"][1]["amount"]["rest"] == [30, 0]
    page.keyboard.press("Control+z")
    studio.settle()
    assert studio.layer("Plate")["effects"][1]["amount"]["rest"] == [30, 10]
    second.get_by_role("button", name="Run Soft blur 2 earlier").click()
    studio.settle()
    assert [one["name"] for one in studio.layer("Plate")["effects"]] == ["Soft blur 2", "Soft blur"]
    page.reload()
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    same_as_export()
    for one in ("Soft blur", "Soft blur 2"):
        page.get_by_role("button", name=f"Switch {one} off", exact=True).click()
        studio.settle()
    assert (studio.pixels() == plain).all()
    page.get_by_role("button", name="Take Soft blur off", exact=True).click()
    studio.settle()
    assert [one["name"] for one in studio.layer("Plate")["effects"]] == ["Soft blur 2"]
    assert studio.steps()[-2:] == ["Switched Soft blur 2 of Plate off", "Took Soft blur off Plate"]


@pytest.mark.thorough
def test_every_kind_is_exported_as_it_is_shown(server: Server, page: Page) -> None:
    """All kinds at random, turned and stretched, at rest and in motion, in one scene: the stage has the export's bytes,
    but for a rounding."""
    gradient = {"gradient": "linear", "stops": [
        {"at": {"rest": 0}, "colour": "#d24b1e"}, {"at": {"rest": 100}, "colour": "#0e6b61"}]}  # fmt: skip
    contents: list[dict[str, Any]] = [
        {"kind": "shape", "items": [{"shape": "star", "size": [90, 80], "points": 6, "fill": gradient}]},
        {"kind": "text", "text": "Tide", "size": 44, "fill": "#0e6b61d0"},
        {"kind": "shape", "items": [{"shape": "rectangle", "size": [90, 60], "corners": 9, "fill": "#ffb27a"},
                                    {"shape": "ellipse", "size": [44, 44], "fill": "#0e6b61"}]},
    ]  # fmt: skip
    dice = random.Random(5)
    layers = []
    for number, kind in enumerate(RANGES):
        place = [65 + number % 5 * 128, 40 + number // 5 * 70]
        turned = {"rotation": dice.choice([0, 0, 90, 25]), "scale": dice.choice([[100, 100], [130, 70]])}
        made = layer(f"L{number}", content=contents[number % 3], position=place, **turned)
        layers.append(made | {"effects": [effect(dice, kind, 0.6)]})
    many = layer("Many", content=contents[0], position=[500, 300], opacity=80, blend="multiply")
    many["effects"] = [effect(dice, kind) for kind in ("shadow", "wave", "two-tone", "grain")]
    item = {"shape": "ellipse", "size": [80, 60], "fill": "#d24b1e", "effects": [effect(dice, "halftone")]}
    inside = layer("Inside", content={"kind": "shape", "items": [item, contents[0]["items"][0]]}, position=[380, 300])
    window = {"name": "Window", "shape": {"shape": "ellipse", "size": [300, 200], "at": [200, 150]}, "feather": 8}
    over = layer("Over", content={"kind": "filter"}, position=[320, 180], masks=[window], opacity=70)
    over["effects"] = [effect(dice, kind) for kind in ("soft-blur", "tones")]
    mixed = layer("Mixed", content={"kind": "filter"}, position=[320, 180], blend="screen", opacity=40)
    mixed["effects"] = [effect(dice, "grain"), effect(dice, "wave")]
    studio = Studio(page, server, server.keep("Kinds", [*layers, many, over, inside, mixed])).open()
    for frame in (0, 25):
        studio.go(frame)
        studio.settle()
        gap = np.abs(studio.pixels() - studio.still(frame)).max(axis=2)
        rows, columns = np.nonzero(gap > 2)
        assert not len(rows), f"{len(rows)} pixels by up to {gap.max()}, first at {columns[:1]}, {rows[:1]}"


def test_effects_are_tried_taken_pointed_at_kept_and_pasted(server: Server, page: Page) -> None:
    """Under the pointer an effect shows on the stage and is given back; its point is dragged there, held by a station;
    what a layer has is pasted on another, and kept as a look; a row is dragged to another place."""
    other = layer("Other", content=PLATE, position=[330, 280])
    studio = Studio(
        page, server, server.keep("Looks", [layer("Plate", content=PLATE, position=[300, 120]), other])
    ).open()
    studio.select("Plate")
    plain = studio.pixels()
    page.get_by_role("button", name="Effects", exact=True).click()
    drawer = page.get_by_test_id("drawer")
    box = studio.picture.bounding_box()
    assert box

    def seen() -> bytes:
        return page.screenshot(clip={"x": box["x"], "y": box["y"], "width": box["width"], "height": box["height"]})

    def waits(shows: Callable[[], bool]) -> None:
        deadline = time.monotonic() + 20
        while not shows():
            assert time.monotonic() < deadline
            page.wait_for_timeout(50)

    before = seen()
    drawer.get_by_role("button", name="colour wash", exact=True).hover()
    waits(lambda: seen() != before)
    drawer.get_by_label("Find an effect").hover()
    waits(lambda: seen() == before)
    studio.settle()
    assert (studio.pixels() == plain).all()
    assert studio.layer("Plate")["effects"] == []
    drawer.get_by_role("button", name="turn blur", exact=True).click()
    studio.settle()
    drawer.get_by_role("button", name="colour wash", exact=True).click()
    studio.settle()
    page.get_by_role("button", name="Close Effects").click()
    # What was added with a point shows it.
    expect(page.get_by_role("button", name="Points of Turn blur on the stage")).to_have_attribute(
        "aria-pressed", "true"
    )
    expect(studio.marks).to_have_attribute("data-effect-points", "1")
    studio.drag((300, 120), (428, 188))
    studio.settle()
    assert studio.layer("Plate")["effects"][0]["centre"]["rest"] == [100, 100]
    grips = page.get_by_test_id("effect-grip")
    first, second = (grips.nth(at).bounding_box() for at in (0, 1))
    assert first
    assert second
    page.mouse.move(second["x"] + 5, second["y"] + 6)
    page.mouse.down()
    page.mouse.move(first["x"] + 5, first["y"] - 4, steps=4)
    page.mouse.up()
    studio.settle()
    assert [one["effect"] for one in studio.layer("Plate")["effects"]] == ["colour-wash", "turn-blur"]
    washed = seen()
    held = page.get_by_role("button", name="Before: held").bounding_box()
    assert held
    page.mouse.move(held["x"] + 9, held["y"] + 9)
    page.mouse.down()
    waits(lambda: seen() != washed)
    page.mouse.up()
    waits(lambda: seen() == washed)
    page.get_by_role("button", name="Copy, paste or keep effects").click()
    page.get_by_role("menuitem", name="Copy the effects").click()
    page.get_by_role("button", name="Copy, paste or keep effects").click()
    page.get_by_role("menuitem", name="Keep as a look of the project…").click()
    page.get_by_label("Name of the look").fill("Warm spin")
    page.get_by_label("Name of the look").press("Enter")
    studio.select("Other")
    page.get_by_role("button", name="Copy, paste or keep effects").click()
    page.get_by_role("menuitem", name="Paste effects after these").click()
    studio.settle()
    assert [one["effect"] for one in studio.layer("Other")["effects"]] == ["colour-wash", "turn-blur"]
    page.keyboard.press("Control+z")
    studio.settle()
    page.get_by_role("button", name="Effects", exact=True).click()
    page.get_by_role("group", name="This project’s looks").get_by_role("button", name="Warm spin", exact=True).click()
    studio.settle()
    assert [one["name"] for one in studio.layer("Other")["effects"]] == ["Colour wash", "Turn blur"]
