"""Motion blur through the page: switched on for the scene, seen at rest as it is exported, off for one layer."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio

PLATE = {"kind": "shape", "items": [{"shape": "rectangle", "size": [90, 60], "fill": "#ffb27a"}]}


@pytest.mark.thorough
def test_what_moves_is_smeared_at_rest_as_in_the_export(server: Server, page: Page) -> None:
    keys = [{"frame": 0, "value": [60, 180]}, {"frame": 10, "value": [560, 180]}]
    fast = layer("Fast", content=PLATE, position={"rest": [60, 180], "keys": keys})
    studio = Studio(page, server, server.keep("Smeared", [fast], background="#12454fff")).open()
    studio.go(5)
    sharp = studio.pixels()
    page.get_by_role("button", name="Motion blur: what moves").click()
    studio.settle()
    shutter = page.get_by_label("Shutter", exact=True)
    shutter.fill("360")
    shutter.press("Enter")
    studio.settle()
    for frame in (5, 6):
        studio.go(frame)
        smeared = studio.pixels()
        assert (smeared == studio.still(frame)).all()
    assert np.abs(smeared - sharp).max() > 40
    studio.select("Fast")
    page.get_by_role("button", name="Blurred").click()
    studio.settle()
    studio.go(5)
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    assert (studio.pixels() == sharp).all()
    assert studio.stored()["motion_blur"]["shutter"] == 360
    page.keyboard.press("Control+z")
    studio.deselect()
    page.get_by_role("button", name="Motion blur: what moves").click()
    studio.settle()
    assert studio.stored()["motion_blur"] is None
    assert (studio.pixels() == sharp).all()
