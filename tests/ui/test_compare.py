"""Comparing in the real page: two moments of a scene, side by side, wiped, laid over one another; strips."""

from __future__ import annotations

import base64
import io

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio, decoded


def test_two_moments_are_wiped_and_a_strip_tells_where_a_ground_is_bare(server: Server, page: Page) -> None:
    item = {"shape": "rectangle", "size": [700, 400], "fill": "#2a7f9e"}
    keys = [{"frame": frame, "value": [x, 180]} for frame, x in ((10, 320), (30, 620))]
    ground = layer("Ground", content={"kind": "shape", "items": [item]}, position={"rest": [0, 0], "keys": keys})
    plate = layer("Plate", rotation={"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 50, "value": 200}]})
    studio = Studio(page, server, server.keep("Compared", [ground, plate])).open("?frame=12")
    here = studio.pixels()
    studio.select("Ground")
    page.get_by_role("button", name="Guides").click()
    page.get_by_label("Along the ruler").select_option("covering")
    strip = page.get_by_test_id("ruler-strip")
    expect(strip).to_have_attribute("data-words", "Ground does not cover the scene at 47 frames")
    page.get_by_label("Along the ruler").select_option("speed")
    expect(strip).to_have_attribute("data-words", "Ground goes at up to 450 px a second")
    page.get_by_role("button", name="Compare this moment with another").click()
    page.get_by_test_id("stage").focus()
    for _ in range(2):
        page.keyboard.press("Shift+Period")
    a, b = (page.get_by_test_id(f"variant-{which}") for which in ("used", "beside"))
    expect(a).to_have_attribute("data-painted", "32")
    expect(b).to_have_attribute("data-painted", "12")

    def canvas(which: str) -> np.ndarray:
        data = page.get_by_test_id(f"variant-{which}").evaluate("c => c.toDataURL().split(',')[1]")
        return decoded(base64.b64decode(data))

    assert (canvas("beside") == here).all()
    assert (canvas("used") == studio.still(32)).all()
    crosses = page.get_by_test_id("compared-anchor")
    assert [crosses.nth(n).get_attribute("data-scene") for n in (0, 1)] == ["620.00,180.00", "350.00,180.00"]

    page.get_by_role("radio", name="Wipe").click()
    edge = page.get_by_role("slider", name="Edge of the wipe")
    edge.focus()

    def seen() -> np.ndarray:
        return np.asarray(Image.open(io.BytesIO(edge.screenshot())).convert("RGB")).astype(int)

    wiped = {}
    for key, now in (("End", "100"), ("Home", "0")):
        page.keyboard.press(key)
        expect(edge).to_have_attribute("aria-valuenow", now)
        wiped[now] = seen()
    box = edge.bounding_box()
    assert box
    page.mouse.move(box["x"] + 3, box["y"] + 150)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 150, steps=3)
    page.mouse.up()
    expect(edge).to_have_attribute("aria-valuenow", "50")
    half, middle = seen(), wiped["0"].shape[1] // 2
    assert (wiped["0"] != wiped["100"]).any(axis=2).mean() > 0.2
    assert (half[8:-8, 8 : middle - 8] == wiped["100"][8:-8, 8 : middle - 8]).all()
    assert (half[8:-8, middle + 8 : -8] == wiped["0"][8:-8, middle + 8 : -8]).all()
    # The other moment is typed; where both are the same nothing differs.
    field = page.get_by_label("The other moment")
    field.fill("32f")
    field.press("Enter")
    expect(b).to_have_attribute("data-painted", "32")
    page.get_by_role("radio", name="Difference").click()
    shot = np.asarray(Image.open(io.BytesIO(a.screenshot())).convert("RGB"))
    assert shot[60:-4, 4:-4].max() <= 1
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("compare")).to_have_count(0)
    assert len(studio.stored()["layers"]) == 2
