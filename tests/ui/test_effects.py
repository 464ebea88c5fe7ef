"""Effects in the real page: added, typed, keyed, run in another order, switched off; painted as the export has them."""

from __future__ import annotations

import numpy as np
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio

PLATE = {"kind": "shape", "items": [{"shape": "rectangle", "size": [260, 140], "fill": "#0e3f45"}]}


def test_an_effect_is_added_by_keys_changed_and_taken_off(server: Server, page: Page) -> None:
    name = server.keep("Misty", [layer("Plate", content=PLATE, position=[300, 180], rotation=25)])
    studio = Studio(page, server, name).open()
    studio.select("Plate")
    plain = studio.pixels()

    def same_as_export() -> None:
        studio.settle()
        assert np.abs(studio.pixels() - studio.still(0)).max() <= 2

    for _ in range(2):
        page.get_by_role("button", name="Add an effect").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("menu", name="Add an effect")).to_be_focused()
        page.keyboard.press("Enter")
        studio.settle()
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
