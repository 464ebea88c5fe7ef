"""Shapes from the shelf, and the line along them: what the panel offers, as it is stored and painted."""

from __future__ import annotations

import itertools
import re
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.ui.studio import Studio

NUMBERS = itertools.count(1)


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    return Studio(page, server, server.keep(f"Shapes {next(NUMBERS)}", [])).open()


def added(studio: Studio, tile: str) -> dict[str, Any]:
    """The shape that a tile of the shelf adds, as it is stored."""
    page = studio.page
    if not page.get_by_test_id("drawer").count():
        page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("drawer").get_by_role("button", name=tile, exact=True).click()
    undo_says(studio, "Added")
    studio.settle()
    (item,) = studio.layer(tile)["content"]["items"]
    return item


def undo_says(studio: Studio, words: str) -> None:
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile(f"^Undo: {words}"))


@pytest.mark.thorough
def test_every_shape_of_the_shelf_is_painted_as_it_is_exported(studio: Studio) -> None:
    """Each by its own name, with its own rows, and to the byte what the export holds."""
    for tile, row, value in (
        ("Pie", "Sweep", "270"), ("Ring", "Hole", "60"), ("Sunburst", "Share", "50"), ("Arrow", "Head", "40"),
        ("Line", "Line width", "8"), ("Arc", "Sweep", "180"), ("Polygon", "Rounding", "0"),
    ):  # fmt: skip
        added(studio, tile)
        expect(studio.field(row)).to_have_value(value)
        expect(studio.row(tile)).to_contain_text(tile.lower())
        expect(studio.row(tile)).to_have_attribute("data-unseen", "")
    assert (studio.pixels() == studio.still(0)).all()
    studio.select("Ring")
    expect(studio.field("Start")).to_have_count(0)
    studio.type("Sweep", "120")
    studio.type("Start", "-60")
    studio.page.get_by_label("Closed by").select_option("chord")
    undo_says(studio, "Set closing of Ring")
    ring = studio.layer("Ring")["content"]["items"][0]
    assert (ring["sweep"]["rest"], ring["start"]["rest"], ring["closing"]) == (120, -60, "chord")
    studio.type("Sweep", "999")
    expect(studio.said()).to_contain_text("Sweep goes from -360 to 360 °: 999 stops at 360.")
    assert (studio.pixels() == studio.still(0)).all()


@pytest.mark.thorough
def test_corners_go_apart_and_come_together(studio: Studio) -> None:
    """They begin as all four were; the one radius is away meanwhile, and back by undo."""
    added(studio, "Rounded box")
    together = studio.pixels()
    studio.page.get_by_role("button", name="Corners apart").click()
    undo_says(studio, "Set corners apart of Rounded box")
    expect(studio.field("Low right")).to_have_value(studio.field("Top left").input_value())
    expect(studio.field("Corners")).to_have_count(0)
    assert (studio.pixels() == together).all()
    studio.type("Low right", "0")
    studio.settle()
    apart = studio.layer("Rounded box")["content"]["items"][0]["apart"]
    assert (apart["bottom_right"]["rest"], apart["top_left"]["rest"]) == (0, 18)
    changed = np.argwhere((studio.pixels() != together).any(axis=2))
    box = studio.point("Rounded box", (0.5, 0.5), 0)
    assert (changed > np.array(box)[::-1]).all()
    for _ in range(2):
        studio.page.keyboard.press("Control+z")
    expect(studio.field("Corners")).to_have_value("18")
    assert (studio.pixels() == together).all()


@pytest.mark.thorough
def test_a_line_draws_itself(studio: Studio) -> None:
    """Drawn in part, keyed from nothing to all of it; dashes and round ends; each frame as the export has it."""
    page = studio.page
    added(studio, "Line")
    whole = studio.pixels()
    page.get_by_role("button", name="In part").click()
    undo_says(studio, "Set drawn part of Line")
    assert (studio.pixels() == whole).all()
    studio.type("Part to", "0")
    page.get_by_role("button", name="Part to is not keyed. Start keying here").click()
    undo_says(studio, "Keyed part to of Line")
    studio.go(40)
    studio.type("Part to", "100")
    studio.settle()
    part = studio.layer("Line")["content"]["items"][0]["stroke"]["part"]
    assert [(key["frame"], key["value"]) for key in part["end"]["keys"]] == [(0, 0), (40, 100)]
    ink = {}
    for frame in (0, 10, 20, 40):
        studio.go(frame)
        picture = studio.pixels()
        assert (picture == studio.still(frame)).all()
        ink[frame] = int((picture[:, :, 3] > 127).sum())
    assert ink[0] == 0
    assert ink[40] == (whole[:, :, 3] > 127).sum()
    assert ink[10] == pytest.approx(ink[40] / 4, rel=0.02)
    assert ink[20] == pytest.approx(ink[40] / 2, rel=0.02)
    page.get_by_role("button", name="Dashes").click()
    undo_says(studio, "Set dashes of Line")
    dashed = studio.pixels()
    assert (dashed == studio.still(40)).all()
    assert (dashed[:, :, 3] > 127).sum() == pytest.approx(ink[40] * 20 / 32, rel=0.08)
    page.get_by_label("Ends of the stroke").select_option("round")
    undo_says(studio, "Set ends of Line")
    assert (studio.pixels()[:, :, 3] > 127).sum() > (dashed[:, :, 3] > 127).sum()
    assert studio.layer("Line")["content"]["items"][0]["stroke"]["cap"] == "round"
    expect(page.get_by_label("Ends of the stroke")).to_have_value("round")
