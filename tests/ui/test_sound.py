"""Sound in the real page: waves and fades in the lanes, level and mute in the panel, and playing in step with it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.films import clicks, write_sound
from tests.ui.studio import Studio

TONES = [0.5, 1.0, 1.5]

# Keeps, of every part that is heard, where its tones lie in seconds of the audio clock; and of each frame painted what
# that clock was when the display frame before began, and what it is just then: the page reads it in between.
EAR = """
  window.ear = {tones: [], frames: [], context: null, ticks: []};
  const heardNow = () => window.ear.context.currentTime - window.ear.context.outputLatency;
  const ask = window.requestAnimationFrame.bind(window);
  window.requestAnimationFrame = wanted => ask(now => {
    const { context, ticks } = window.ear;
    if (context && ticks.at(-1)?.[0] !== now) window.ear.ticks = [...ticks.slice(-1), [now, heardNow()]];
    wanted(now);
  });
  const make = AudioContext.prototype.createBufferSource;
  AudioContext.prototype.createBufferSource = function () {
    const node = make.call(this);
    window.ear.context = this;
    const start = node.start.bind(node);
    node.start = (when, offset = 0) => {
      const data = node.buffer.getChannelData(0);
      for (let i = 1; i < data.length; i += 1)
        if (Math.abs(data[i]) > 0.02 && data.slice(Math.max(i - 2000, 0), i).every(v => Math.abs(v) <= 0.02))
          window.ear.tones.push((when || this.currentTime) + (i / 48000 - offset) / node.playbackRate.value);
      start(when, offset);
    };
    return node;
  };
  const watch = () => {
    const picture = document.querySelector('[data-testid=picture]');
    if (!picture) return requestAnimationFrame(watch);
    const painted = () => {
      const { context, ticks } = window.ear;
      if (context && ticks.length) window.ear.frames.push([ticks[0][1], heardNow(), Number(picture.dataset.painted)]);
    };
    new MutationObserver(painted).observe(picture, {attributes: true, attributeFilter: ['data-painted']});
  };
  requestAnimationFrame(watch);
"""


@pytest.fixture
def bells(server: Server, page: Page, tmp_path: Path, request: pytest.FixtureRequest) -> Studio:
    """A scene of 60 frames at 30 fps with a sound of three tones, added from the shelf."""
    page.add_init_script(EAR)
    name = server.keep(f"Bells {request.node.name}", [layer("Plate", position=[60, 40])])
    studio = Studio(page, server, name).open()
    page.get_by_role("button", name="Add", exact=True).click()
    page.get_by_test_id("picture-file").set_input_files(
        write_sound(tmp_path / "Bells.wav", "pcm_s16le", clicks(2, TONES))
    )
    expect(studio.said()).to_contain_text("Added Bells.wav, 2.0 s.")
    studio.settle()
    return studio


@pytest.mark.thorough
def test_a_sound_is_seen_levelled_faded_and_muted(bells: Studio) -> None:
    page = bells.page
    wave = page.get_by_test_id("wave")
    page.wait_for_function("() => document.querySelector('[data-testid=wave]').dataset.drawn")
    high = wave.evaluate(
        """on => {
          const data = on.getContext('2d').getImageData(0, 0, on.width, on.height).data;
          const tall = Array.from({length: on.width}, (_, x) => {
            let rows = 0;
            for (let y = 0; y < on.height; y += 1) rows += data[(y * on.width + x) * 4 + 3] > 0 ? 1 : 0;
            return rows;
          });
          return tall.map((rows, x) => [rows, x / on.width * 2]).filter(([rows]) => rows > 14).map(([, at]) => at);
        }"""
    )
    assert len(high) >= 3
    assert all(min(abs(at - tone - 0.005) for tone in TONES) < 0.02 for at in high)
    panel = page.get_by_test_id("panel")
    expect(panel.get_by_text("Anchor", exact=True)).to_have_count(0)
    expect(bells.field("Position x")).to_have_count(0)
    bells.type("Level", "-6")
    bells.settle()
    assert bells.layer("Bells")["content"]["sound"]["level"]["rest"] == -6
    bells.type("Level", "30")
    bells.settle()
    assert bells.layer("Bells")["content"]["sound"]["level"]["rest"] == 12, "the most there is"
    corner = page.get_by_label("Span of Bells").get_by_test_id("fade_in").bounding_box()
    assert corner
    for drop in (False, True):
        page.mouse.move(corner["x"] + 4, corner["y"] + 4)
        page.mouse.down()
        page.mouse.move(corner["x"] + 124, corner["y"] + 4, steps=4)
        if not drop:
            page.keyboard.press("Escape")
        page.mouse.up()
        bells.settle()
        assert (bells.layer("Bells")["content"]["sound"]["fade_in"] > 0.1) == drop
    page.get_by_role("button", name="Mute").click()
    bells.settle()
    assert bells.layer("Bells")["content"]["sound"]["muted"] is True
    assert bells.server.get(f"api/scenes/{bells.scene_id}/heard") == []
    page.keyboard.press("Control+z")
    bells.settle()
    assert bells.server.get(f"api/scenes/{bells.scene_id}/heard") == [bells.layer("Bells")["id"]]


def heard(page: Page) -> tuple[np.ndarray, list[float]]:
    """The audio clock before and at each paint and the frame painted, and when tones are heard by that clock."""
    found: dict[str, Any] = page.evaluate("() => ({frames: ear.frames, tones: ear.tones})")
    return np.array(found["frames"]), found["tones"]


@pytest.mark.thorough
def test_the_picture_keeps_to_the_sound(bells: Studio) -> None:
    """Whatever is painted is the frame that is heard, also after a loop; nothing is heard where sound is off."""
    page = bells.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    heard_five = "() => ear.tones.length >= 5 && ear.context.currentTime > ear.tones[4] + 0.4"
    page.wait_for_function(heard_five, timeout=30_000)
    page.keyboard.press("Space")
    frames, tones = heard(page)
    begun = tones[0] - TONES[0]
    while_heard = frames[(frames[:, 0] > begun + 0.1) & (frames[:, 1] < tones[4])]
    before, now, frame = while_heard.T
    heard_before, heard_now = (before - begun) * 30, (now - begun) * 30
    # The same frame comes again in each round: the one that is nearest to what is heard.
    due = frame + np.round((heard_now - frame) / 60) * 60
    assert len(while_heard) > 15
    assert np.all((due >= heard_before - 2) & (due <= heard_now + 1)), np.c_[heard_before, heard_now, due]
    # Played over, it follows on itself: from the last tone of a round to the first of the next is a second.
    assert tones[3] - tones[2] == pytest.approx(1.0, abs=0.002)
    page.get_by_role("button", name="Sound is on").click()
    page.get_by_text("Sound while playing").click()
    page.keyboard.press("Escape")
    before = len(heard(page)[1])
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    page.wait_for_function("() => window.mudskipperPlay.painted > 30", timeout=20_000)
    page.keyboard.press("Space")
    assert len(heard(page)[1]) == before


@pytest.mark.thorough
def test_slow_playing_is_silent_or_slowed(bells: Studio) -> None:
    page = bells.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("2")
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    page.wait_for_timeout(900)
    page.keyboard.press("Space")
    assert heard(page)[1] == []
    page.get_by_role("button", name="Sound is on").click()
    page.get_by_text("Also at half and quarter speed").click()
    page.keyboard.press("Escape")
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Home")
    page.keyboard.press("Space")
    page.wait_for_function("() => ear.tones.length >= 2", timeout=20_000)
    page.keyboard.press("Space")
    tones = heard(page)[1]
    assert tones[1] - tones[0] == pytest.approx(1.0, abs=0.01)
