"""The export window in the real page: a format, what is chosen of it, a part as it will be, and the file."""

from __future__ import annotations

import re
from pathlib import Path

import av
import numpy as np
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio


def test_choices_are_seen_kept_and_in_the_file(server: Server, page: Page, tmp_path: Path) -> None:
    """Half size on a green ground around a beat, as MOV: the guess holds, the file is so; kept under a name."""
    moving = {"rest": [100, 180], "keys": [{"frame": 0, "value": [100, 180]}, {"frame": 40, "value": [500, 180]}]}
    plate = layer("Plate", position=moving)
    Studio(page, server, server.keep("To hand over", [plate], beats=[{"frame": 20, "label": "Bell"}])).open()
    page.get_by_role("button", name="Export", exact=True).click()
    dialog = page.get_by_test_id("export-dialog")
    dialog.get_by_role("radio", name="MOV (ProRes 4444)").click()
    dialog.get_by_label("Size", exact=True).select_option("a width of")
    dialog.get_by_label("Width", exact=True).fill("320")
    dialog.get_by_label("Frame rate").fill("15")
    dialog.get_by_role("radio", name="a colour").click()
    dialog.get_by_label("Colour behind it").fill("#00ff00")
    dialog.get_by_label("Frames of").select_option("beat 20")
    dialog.get_by_label("Seconds before and after").fill("0,5")
    expect(dialog.get_by_label("First frame")).to_have_value("0:05")
    expect(dialog.get_by_label("Last frame")).to_have_value("1:05")
    sample = dialog.get_by_test_id("export-sample")
    expect(sample).to_have_attribute("data-ready", "yes", timeout=30_000)
    guess = dialog.get_by_test_id("export-guess")
    expect(guess).to_contain_text("frames as they will be encoded · about")
    width, height = sample.locator("img").evaluate("one => [one.naturalWidth, one.naturalHeight]")
    assert (width, height) == (320, 180)
    dialog.get_by_role("button", name="Keep these…").click()
    page.keyboard.type("For the edit")
    page.keyboard.press("Enter")
    expect(dialog.get_by_label("Kept choices")).to_have_value("For the edit")
    dialog.get_by_label("File name").focus()
    page.keyboard.press("Enter")
    job = page.get_by_test_id("export-job")
    expect(job).to_have_count(1)
    expect(job).to_have_attribute("data-state", "done", timeout=60_000)
    with page.expect_download() as coming:
        job.get_by_role("link").click()
    out = tmp_path / "film.mov"
    coming.value.save_as(out)
    with av.open(str(out)) as film:
        frames = [frame.to_ndarray(format="rgb24").astype(int) for frame in film.decode(video=0)]
        assert film.streams.video[0].average_rate == 15
    assert len(frames) == 16
    assert frames[0].shape == (180, 320, 3)
    assert np.abs(frames[0][5, 5] - [0, 255, 0]).max() <= 4
    # Frames 5, 7, … of the scene: the plate of 100 px goes 5 px a frame to the right in the file's half size.
    seen = [np.flatnonzero(frame[90, :, 1] < 128) for frame in frames]
    assert [int(one[0]) for one in seen[:3]] == [25, 35, 45]
    told = re.search(r"about ([\d.]+) kB(?: to ([\d.]+) kB)?", guess.inner_text())
    assert told
    assert 0.6 * float(told[1]) <= out.stat().st_size / 1e3 <= 1.6 * float(told[2] or told[1])
    dialog.get_by_role("radio", name="PNG still").click()
    dialog.get_by_label("Kept choices").select_option("")
    dialog.get_by_label("Kept choices").select_option("For the edit")
    expect(dialog.get_by_role("radio", name="MOV (ProRes 4444)")).to_be_checked()
    expect(dialog.get_by_label("Frame rate")).to_have_value("15")
    dialog.get_by_role("button", name="Keep no longer").click()
    expect(dialog.get_by_label("Kept choices")).to_be_disabled()
