"""Keys as numbers: a layer keyed by typing alone, from a spreadsheet, and what cannot be taken."""

from __future__ import annotations

import itertools
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from mudskipper.core.document.scene import SCHEMA
from tests.conftest import Server, layer
from tests.ui.studio import Studio

NUMBERS = itertools.count(1)


def make(server: Server, page: Page, **tracks: Any) -> Studio:
    """A scene with a plate, selected, its keys shown as numbers."""
    name = f"Numbers {next(NUMBERS)}"
    document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 90,
                "layers": [layer(span={"start": 0, "length": 90}, **tracks)]}  # fmt: skip
    project = server.get("api/projects")[0]["id"]
    assert httpx.post(f"{server.url}api/projects/{project}/documents", json=document).status_code == 201
    studio = Studio(page, server, name).open()
    studio.select("Plate")
    page.keyboard.press("t")
    expect(page.get_by_test_id("key-table")).to_be_focused()
    return studio


def cell(page: Page, row: int, column: int) -> Locator:
    return page.locator(f"[data-cell='{row} {column}']")


def paste(studio: Studio, text: str) -> None:
    studio.page.evaluate(
        """text => { const data = new DataTransfer(); data.setData('text/plain', text);
        document.activeElement.dispatchEvent(new ClipboardEvent('paste',
          {clipboardData: data, bubbles: true, cancelable: true})); }""", text
    )  # fmt: skip
    studio.settle()


def keys(studio: Studio, name: str) -> list[tuple[float, Any]]:
    return [(key["frame"], key["value"]) for key in studio.layer("Plate")[name]["keys"]]


def test_a_layer_is_keyed_by_typing_alone(server: Server, page: Page) -> None:
    """Times, values and easings without moving the playhead; what is typed shows on the stage before it is taken, Esc
    gives it back, and each cell is one step."""
    studio = make(server, page)
    for time, x in (("10", "100"), ("1:10", "+300")):
        page.keyboard.press("Home")
        page.keyboard.type(time)
        page.keyboard.press("Enter")
        row = ["10", "1:10"].index(time)
        expect(cell(page, row, 1)).to_have_attribute("data-active", "yes")
        page.keyboard.type(x)
        page.keyboard.press("Enter")
        studio.settle()
    assert keys(studio, "position") == [(10, [100, 180]), (40, [400, 180])]
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "0")
    assert studio.steps() == ["Typed position at frame 10 of Plate", "Typed position at frame 40 of Plate"]
    before = studio.pixels()
    page.keyboard.press("Control+Home")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.type("*2")
    page.wait_for_function("() => document.querySelector('[data-testid=picture]').dataset.ready === 'yes'")
    expect(studio.field("Position x")).to_have_value("200")
    page.keyboard.press("Escape")
    assert np.array_equal(studio.pixels(), before)
    page.keyboard.type("*2")
    # A key that is held takes it once.
    for _ in range(3):
        page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    studio.settle()
    assert keys(studio, "position") == [(10, [200, 180]), (40, [800, 180])]
    assert studio.steps()[-1] == "Typed 2 cells of the keys of Plate"
    page.keyboard.press("Control+z")
    studio.settle()
    assert keys(studio, "position") == [(10, [100, 180]), (40, [400, 180])]
    page.keyboard.press("Control+Home")
    page.keyboard.press("End")
    page.keyboard.type("soft landing")
    page.keyboard.press("Enter")
    expect(cell(page, 0, 7)).to_have_text("soft landing")
    assert studio.layer("Plate")["position"]["keys"][0]["ease"] == {"bezier": [0.1, 0.8, 0.3, 1.0]}


def test_what_cannot_be_taken_stays_in_the_hand(server: Server, page: Page) -> None:
    """A wrong cell says why and is typed on; so does one that another window has changed meanwhile."""
    studio = make(server, page, rotation={"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 30, "value": 90}]})
    cell(page, 1, 5).click()
    page.keyboard.type("wide")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("Rotation at 1:00: “wide” is no number")
    field = page.locator(".key-row input")
    expect(field).to_have_attribute("aria-invalid", "true")
    field.fill("45")
    field.press("Tab")
    studio.settle()
    assert keys(studio, "rotation") == [(0, 0), (30, 45)]
    expect(cell(page, 1, 6)).to_have_attribute("data-active", "yes")
    cell(page, 1, 0).click()
    page.keyboard.type("0:00")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("Two keys of rotation would stand at 0:00")
    page.keyboard.press("Escape")
    for text, told in (("1\t2\t3\t4", "columns wide"), ("1\n2\n3", "3 rows"), ("x\ty\n2\t3", "“x” is no number")):
        cell(page, 0, 5).click()
        paste(studio, text)
        expect(studio.said()).to_contain_text(told)
    assert keys(studio, "rotation") == [(0, 0), (30, 45)]


def test_a_spreadsheet_goes_in_and_out(server: Server, page: Page) -> None:
    """Rows with their times become keys, are filled down, copied out as they stand, and deleted."""
    studio = make(server, page)
    page.keyboard.press("Home")
    paste(studio, "0\t10\t20\t100\t100\t0\t0\tease-out\n15\t\t\t\t\t5\t\t\n45f\t300\t200\t50\t50\t90\t100\thold\n")
    assert keys(studio, "position") == [(0, [10, 20]), (45, [300, 200])]
    assert keys(studio, "rotation") == [(0, 0), (15, 5), (45, 90)]
    assert [key["ease"] for key in studio.layer("Plate")["opacity"]["keys"]] == ["ease-out", "hold"]
    page.keyboard.press("Control+a")
    out = page.evaluate(
        """() => { const data = new DataTransfer();
        document.activeElement.dispatchEvent(new ClipboardEvent('copy',
          {clipboardData: data, bubbles: true, cancelable: true})); return data.getData('text/plain'); }"""
    )
    assert out.split("\n")[1] == "0:15\t\t\t\t\t5\t\tlinear"
    cell(page, 0, 5).click()
    page.mouse.move(*centre(cell(page, 0, 5)))
    page.mouse.down()
    page.mouse.move(*centre(cell(page, 1, 5)))
    page.mouse.move(*centre(cell(page, 2, 5)))
    page.mouse.up()
    page.keyboard.press("Control+d")
    studio.settle()
    assert keys(studio, "rotation") == [(0, 0), (15, 0), (45, 0)]
    page.keyboard.press("Delete")
    studio.settle()
    assert keys(studio, "rotation") == []
    page.get_by_label("How times are shown").select_option("after")
    expect(cell(page, 1, 0)).to_have_text("45")


@pytest.mark.thorough
def test_two_thousand_keys_are_typed(server: Server, page: Page) -> None:
    """Of a long table there are only the rows that are seen, and each cell is taken."""
    long = {"rest": 0, "keys": [{"frame": n / 25, "value": n % 90} for n in range(2_000)]}
    studio = make(server, page, rotation=long)
    cell(page, 0, 5).click()
    for text in ("7", "*2", "-3"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
        studio.settle()
    assert keys(studio, "rotation")[0][1] == 7
    page.keyboard.press("Control+End")
    expect(cell(page, 2_000, 7)).to_be_visible()
    assert len(page.get_by_role("gridcell").all()) < 300


def centre(of: Locator) -> tuple[float, float]:
    box = of.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
