"""The first job, step by step, as a new user does it: anchor, keys, easing, play, undo, reload, export."""

from __future__ import annotations

import io
from pathlib import Path

import av
import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.ui.studio import Studio

PLATE = (614.0, 798.0)
LEFT = (184.0, 798.0)


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """The demo's Opener, from the list of projects."""
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Low Tide Week")).to_be_visible()
    expect(page.get_by_alt_text("Frame 144 of Opener")).to_have_js_property("complete", True)
    page.get_by_test_id("scene-card").filter(has_text="Opener").click()
    made = Studio(page, server, "Opener")
    expect(made.picture).to_have_attribute("data-ready", "yes")
    return made


@pytest.mark.thorough
def test_the_job_of_a_new_user(studio: Studio, server: Server, page: Page, tmp_path: Path) -> None:
    """One after another, each step judged by what is painted and stored."""
    # Select the name plate on the stage, and drag its anchor mark to the left station.
    studio.go(30)
    page.mouse.click(*studio.to_page(900, 850))
    expect(page.get_by_test_id("panel").get_by_text("Name plate")).to_be_visible()
    expect(studio.field("Anchor x")).to_have_value("50")
    before = studio.pixels()
    studio.drag(PLATE, (LEFT[0] + 6, LEFT[1] - 5), drop=False)
    expect(studio.marks).to_have_attribute("data-lit", "left")
    assert (studio.pixels() == before).all(), "the picture moved while the anchor was dragged"
    page.mouse.up()
    expect(studio.field("Anchor x")).to_have_value("0")
    expect(studio.field("Position x")).to_have_value("184")
    expect(page.get_by_role("img", name="Left edge · 184, 798 px")).to_be_attached()
    expect(page.get_by_test_id("undo")).to_be_enabled()
    assert (studio.pixels() == before).all()
    assert studio.layer("Name plate")["anchor"]["rest"] == [0, 0.5]
    assert studio.layer("Name plate")["position"]["rest"] == [184, 798]

    # Key the scale where it has landed; then where it comes from, x alone.
    page.get_by_role("button", name="Scale is not keyed. Start keying here").click()
    expect(page.get_by_test_id("pebble-scale")).to_have_attribute("data-state", "here")
    studio.go(18)
    expect(page.get_by_test_id("pebble-scale")).to_have_attribute("data-state", "between")
    page.get_by_role("button", name="Unlink Scale x and y").click()
    studio.type("Scale x", "0")
    expect(page.get_by_test_id("pebble-scale")).to_have_attribute("data-state", "here")
    keys = studio.layer("Name plate")["scale"]["keys"]
    assert [(key["frame"], key["value"]) for key in keys] == [(6, [0, 100]), (18, [100, 100])]

    # Choose an easing.
    page.get_by_role("combobox", name="Easing").select_option("soft landing")
    expect(page.get_by_label("Easing in words")).to_have_value("cubic-bezier(0.1, 0.8, 0.3, 1)")
    assert studio.layer("Name plate")["scale"]["keys"][0]["ease"] == {"bezier": [0.1, 0.8, 0.3, 1]}

    # Play: the plate grows from its left edge.
    page.keyboard.press("Escape")
    page.keyboard.press("Space")
    expect(page.get_by_test_id("play")).to_contain_text("Pause")
    page.wait_for_function("() => Number(document.querySelector('[data-testid=picture]').dataset.painted) > 45")
    page.keyboard.press("Space")
    edges = []
    for frame in (19, 22, 25, 30):
        studio.go(frame)
        plate = (np.abs(studio.pixels()[860:878, :, :3] - [14, 63, 69]).max(axis=2) <= 1).all(axis=0)
        columns = np.flatnonzero(plate)
        edges.append((columns.min(), columns.max()))
        assert (studio.pixels() == studio.still(frame)).all()
    assert {left for left, _ in edges} <= set(range(184, 218)), edges
    rights = [right for _, right in edges]
    assert rights == sorted(rights)
    assert rights[-1] > rights[0] + 300

    # Undo, redo, reload: all still there.
    for _ in range(2):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("redo")).to_be_enabled()
    expect(studio.said()).to_contain_text("Undone: Set scale of Name plate")
    assert len(studio.layer("Name plate")["scale"]["keys"]) == 1
    for _ in range(2):
        page.keyboard.press("Control+Shift+z")
    expect(page.get_by_test_id("redo")).to_be_disabled()
    expect(studio.said()).to_contain_text("Done again: ")
    shown = studio.pixels()
    page.reload()
    expect(studio.picture).to_have_attribute("data-painted", "30")
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    assert (studio.pixels() == shown).all()
    assert studio.layer("Name plate")["scale"]["keys"][0]["ease"] == {"bezier": [0.1, 0.8, 0.3, 1]}

    # Export a film and a still, with a progress bar; the files hold the stage's picture.
    page.get_by_role("button", name="Export", exact=True).click()
    page.get_by_label("First frame").fill("26")
    page.get_by_label("Last frame").fill("33")
    page.get_by_role("button", name="Start export").click()
    expect(page.get_by_role("progressbar", name="Export")).to_be_visible()
    page.get_by_role("radio", name="PNG still").click()
    page.get_by_role("button", name="Start export").click()
    jobs = page.get_by_test_id("export-job")
    expect(jobs).to_have_count(2)
    for job in (jobs.nth(0), jobs.nth(1)):
        expect(job).to_have_attribute("data-state", "done", timeout=90_000)
    files = []
    for job in (jobs.nth(0), jobs.nth(1)):
        with page.expect_download() as coming:
            job.get_by_role("link").click()
        files.append(tmp_path / coming.value.suggested_filename)
        coming.value.save_as(files[-1])
    still = np.asarray(Image.open(io.BytesIO(files[0].read_bytes())).convert("RGBA")).astype(int)
    assert (still == shown).all()
    with av.open(str(files[1])) as film:
        frames = [frame.to_ndarray(format="rgb24").astype(int) for frame in film.decode(video=0)]
    assert len(frames) == 8
    gaps = [np.abs(frame - shown[..., :3]).mean() for frame in frames]
    assert int(np.argmin(gaps)) == 4
    assert gaps[4] < 2.5
