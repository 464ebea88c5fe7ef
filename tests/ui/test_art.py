"""Vector art and patterns through the page: files chosen and dropped, a dial made by one press."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.readers.samples import svg
from tests.readers.test_svg import CRAB
from tests.ui.studio import Studio

BAR = {"shape": "rectangle", "size": [14, 60], "at": [0, -120], "fill": "#0e6b61"}


@pytest.fixture
def dial(server: Server, page: Page, request: pytest.FixtureRequest) -> Studio:
    """A scene of one bar whose anchor is the middle of the frame."""
    data = layer(
        "Dial", content={"kind": "shape", "items": [BAR]}, anchor={"rest": [0, 0], "pinned": False}, position=[320, 180]
    )
    return Studio(page, server, server.keep(f"Dial {request.node.name}", [data])).open()


def names(studio: Studio) -> list[str]:
    return [one["name"] for one in studio.stored()["layers"]]


@pytest.mark.thorough
def test_an_svg_file_is_asked_about_and_comes_in(dial: Studio, tmp_path: Path) -> None:
    """Esc takes nothing in; Enter adds once, however often it is pressed; each top group its own layer if so chosen."""
    page = dial.page
    art, bad = tmp_path / "crab.svg", tmp_path / "bad.svg"
    art.write_text(CRAB)
    bad.write_text(svg("<script>1</script>"))
    dialog = page.get_by_test_id("art-dialog")

    def choose(*files: Path) -> None:
        page.get_by_role("button", name="Add", exact=True).first.click()
        page.get_by_test_id("picture-file").set_input_files(list(files))
        expect(dialog).to_be_visible()

    choose(art)
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    dial.settle()
    assert names(dial) == ["Dial"]
    choose(art)
    expect(dialog.get_by_role("button", name="Add", exact=True)).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.press("Enter")
    expect(dial.said()).to_contain_text("Added crab.svg as 3 layers.")
    dial.settle()
    assert names(dial) == ["Dial", "crab", "Shore crab", "crab 2"]
    assert (np.abs(dial.pixels() - dial.still(0)) <= 2).all()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Control+z")
    dial.settle()
    assert names(dial) == ["Dial"]
    choose(bad, art)
    dialog.get_by_role("radio", name="A layer for each top group").click()
    dialog.get_by_role("button", name="Add", exact=True).click()
    expect(dial.said()).to_contain_text("It holds a script")
    dial.settle()
    assert names(dial)[1:3] == ["Shell", "Claw"], "a file that is refused does not keep the others out"


@pytest.mark.thorough
def test_a_dial_is_made_by_one_press(dial: Studio) -> None:
    """Its copies turn about the layer's anchor; a number changes them all, and Ctrl+Z takes one step back."""
    page = dial.page
    dial.select("Dial")
    before = dial.pixels()
    page.get_by_role("button", name="Draw it several times, each a step further").click()
    expect(page.get_by_test_id("inside-note")).to_contain_text("Dial › Rectangle")
    dial.settle()
    shown = dial.pixels()
    at = 30 * np.arange(12)
    places = [(320 + 120 * np.sin(np.radians(a)), 180 - 120 * np.cos(np.radians(a))) for a in at]
    assert all(shown[round(y), round(x), 3] == 255 for x, y in places)
    assert (np.abs(shown - dial.still(0)) <= 2).all()
    dial.type("Copies", "3")
    dial.type("Fade to", "50")
    dial.settle()
    alphas = [dial.pixels()[round(y), round(x), 3] for x, y in places[:4]]
    assert alphas == [255, 128, 64, 0]
    page.get_by_test_id("stage").focus()
    for _ in range(3):
        page.keyboard.press("Control+z")
    dial.settle()
    assert (dial.pixels() == before).all()
