"""The look, as far as it can be measured: the room of the picture, the panel's grid, sizes of type, contrasts."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server, layer
from tests.ui.studio import Studio

AXE = Path(__file__).resolve().parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
SHARE = """() => {
  const { width, height } = document.querySelector('[data-testid=picture]').getBoundingClientRect();
  return width * height / innerWidth / innerHeight;
}"""

# What stands in the rows of properties, and whatever else is pressed or typed into in the panel.
EDGES = """() => {
  const panel = document.querySelector('[data-testid=panel]');
  const box = one => { const { left, right, height } = one.getBoundingClientRect(); return [left, right, height]; };
  const rows = [...panel.querySelectorAll('[role=group][data-reads]')];
  return {
    fields: rows.flatMap(row => [...row.querySelectorAll('label, input[type=color]')].map(box)),
    controls: [...panel.querySelectorAll('label:has(> input[inputmode]), select, [data-pill]')].map(box),
    ends: panel.scrollWidth - panel.clientWidth,
  };
}"""

SIZES = """() => {
  const found = new Set();
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const { parentElement: one, textContent } = walker.currentNode;
    if (textContent.trim() && one.checkVisibility() && one.tagName !== 'SCRIPT' && one.tagName !== 'STYLE')
      found.add(getComputedStyle(one).fontSize);
  }
  return [...found];
}"""

# A colour over another, both as the page computes them.
CONTRASTS = """() => {
  const light = text => {
    const canvas = document.createElement('canvas').getContext('2d');
    canvas.fillStyle = text;
    canvas.fillRect(0, 0, 1, 1);
    const [r, g, b] = [...canvas.getImageData(0, 0, 1, 1).data].slice(0, 3).map(n => n / 255)
      .map(n => n <= 0.04045 ? n / 12.92 : ((n + 0.055) / 1.055) ** 2.4);
    return 0.2126 * r + 0.7152 * g + 0.0722 * b + 0.05;
  };
  const role = name => light(getComputedStyle(document.documentElement).getPropertyValue(`--chakra-colors-${name}`));
  const of = (a, b) => Math.max(role(a), role(b)) / Math.min(role(a), role(b));
  return {
    field: of('field', 'paper'), span: of('span-edge', 'paper'), chosen: of('act', 'chosen'),
    quiet: of('quiet', 'paper'), lighter: role('well') - role('paper'),
  };
}"""


@pytest.fixture
def rows(server: Server, page: Page) -> Studio:
    """Six layers of several kinds, one of them keyed."""
    keys = [{"frame": at, "value": 100 * at / 50} for at in (0, 50)]
    text: dict[str, Any] = {"content": {"kind": "text", "text": "Nine days", "size": 60}}
    crop = {"left": -90, "top": -40, "right": 90, "bottom": 40}
    data = [
        layer("Ground"), layer("Sign", opacity={"rest": 100, "keys": keys}), layer("Title", **text),
        layer("Carrier", content={"kind": "carrier"}), layer("Plate"), layer("Flag", crop=crop),
    ]  # fmt: skip
    return Studio(page, server, server.keep("Look", data, width=1920, height=1080)).open("?frame=10")


@pytest.mark.thorough
def test_the_picture_has_its_share_of_the_window_until_the_lanes_are_pulled(rows: Studio) -> None:
    """At both sizes, before and after a layer is selected; by F the whole of it, and back by Esc."""
    page = rows.page
    for size, least in (((1280, 800), 0.38), ((1680, 1050), 0.44)):
        page.set_viewport_size({"width": size[0], "height": size[1]})
        page.wait_for_function(f"() => ({SHARE})() >= {least}")
        whole = page.evaluate(SHARE)
        rows.select("Sign")
        expect(page.get_by_test_id("pose-strip")).to_have_attribute("data-room", "cards")
        assert page.evaluate(SHARE) == whole, "the picture does not move"
        rows.deselect()
    page.keyboard.press("f")
    page.wait_for_function(f"() => ({SHARE})() > 0.75")
    page.keyboard.press("Escape")
    page.wait_for_function(f"() => ({SHARE})() < 0.6")
    # Who goes on by Tab sees where.
    page.keyboard.press("f")
    page.wait_for_function(f"() => ({SHARE})() > 0.75")
    for _ in range(2):
        page.keyboard.press("Tab")
    page.wait_for_function(f"() => ({SHARE})() < 0.6")
    grip = page.get_by_role("separator", name="Height of the lanes")
    grip.click()
    assert page.evaluate("() => localStorage.getItem('mudskipper.lanes.pulled')") is None, "a press pulls nothing"
    grip.focus()
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    page.wait_for_function(f"() => ({SHARE})() < {whole - 0.03}")
    page.reload()
    expect(rows.picture).to_have_attribute("data-ready", "yes")
    page.wait_for_timeout(300)
    assert page.evaluate(SHARE) < whole - 0.03, "what was pulled stays"
    grip.dblclick()
    page.wait_for_function(f"() => Math.abs(({SHARE})() - {whole}) < 0.01")


def test_the_panel_stands_on_one_grid(rows: Studio) -> None:
    """Of every kind: values at one place and in two halves, one height of all controls, nothing beyond the panel."""
    page = rows.page
    lefts: set[float] = set()
    for name in ("Sign", "Title", "Carrier", "Flag", "all"):
        if name == "all":
            page.keyboard.press("Control+a")
            expect(page.get_by_test_id("panel")).to_contain_text("6 layers")
        else:
            rows.select(name)
        found = page.evaluate(EDGES)
        lefts |= {round(left) for left, _, _ in found["fields"]}
        assert len({round(right) for _, right, _ in found["fields"]}) <= 2, name
        assert {round(height) for _, _, height in found["controls"]} == {24}, name
        assert found["ends"] <= 0, name
        if name in ("Sign", "Title"):
            block = page.get_by_test_id("panel").get_by_role("group", name="Anchor", exact=True).first.bounding_box()
            assert block
            assert block["height"] <= 120, name
    assert len(lefts) == 2, lefts


def test_four_sizes_of_type_and_edges_that_are_seen(rows: Studio) -> None:
    page = rows.page
    rows.select("Sign")
    for theme in ("day", "night"):
        contrasts = page.evaluate(CONTRASTS)
        assert min(contrasts[one] for one in ("field", "span", "chosen")) >= 3, (theme, contrasts)
        assert contrasts["quiet"] >= 4.5
        assert contrasts["lighter"] > 0
        assert set(page.evaluate(SIZES)) <= {"11px", "12.5px", "13px", "15px"}
        page.get_by_role("button", name=re.compile("(Night|Day) theme")).click()


@pytest.mark.thorough
def test_drawers_push_and_messages_keep_to_the_stage(rows: Studio) -> None:
    """At every size a drawer stands beside stage, poses and lanes, down to the bottom, and closes by its cross."""
    page = rows.page

    def box(name: str) -> dict[str, float]:
        found = page.get_by_test_id(name).bounding_box()
        assert found, name
        return dict(found)

    rows.select("Sign")
    for width, height in ((1280, 800), (1024, 700), (853, 533)):
        page.set_viewport_size({"width": width, "height": height})
        for drawer in ("Add", "Recipes", "Media"):
            page.get_by_role("navigation", name="Shelf").get_by_role("button", name=drawer).click()
            place = box("drawer")
            right = place["x"] + place["width"]
            assert place["y"] + place["height"] == height
            assert place["width"] == (300 if width > 1000 else pytest.approx(width * 0.3, abs=0.1))
            for part in ("stage", "pose-strip", "layer-list"):
                assert right <= box(part)["x"] + 0.5, (width, drawer, part)
                assert box(part)["x"] + box(part)["width"] <= box("panel")["x"], (width, drawer, part)
        page.get_by_role("button", name="Close Media").click()
        expect(page.get_by_test_id("drawer")).to_have_count(0)
        expect(page.get_by_test_id("stage")).to_be_focused()
        page.keyboard.press("m")
        said, stage = box("said"), box("stage")
        assert said["y"] + said["height"] <= stage["y"] + stage["height"], "it lies over no lane"
        assert said["x"] >= stage["x"]


@pytest.mark.thorough
def test_keys_are_found_by_words_and_a_file_is_called_as_asked(rows: Studio) -> None:
    """The list behind ? by sections, searched; an export under a name of its own, started by Enter, once."""
    page = rows.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("?")
    dialog = page.get_by_role("dialog", name="Keys and gestures")
    expect(dialog.get_by_role("region", name="Time")).to_be_visible()
    page.keyboard.type("anchor nudge")
    expect(dialog.get_by_role("region")).to_have_count(1)
    expect(dialog.get_by_role("region", name="Anchor")).to_contain_text("Nudge the anchor")
    page.keyboard.type("zzz")
    expect(dialog).to_contain_text("No key or gesture is told with “anchor nudgezzz”")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    page.get_by_role("button", name="Export", exact=True).click()
    dialog = page.get_by_role("dialog", name="Export")
    dialog.get_by_role("group", name="Stills").get_by_role("radio", name="PNG still").click()
    name = dialog.get_by_label("File name")
    expect(name).to_have_value("Look")
    name.fill("Sign: at / rest")
    for _ in range(2):
        page.keyboard.press("Enter")
    job = dialog.get_by_test_id("export-job")
    expect(job).to_have_attribute("data-state", "done", timeout=60_000)
    expect(job).to_have_count(1)
    with page.expect_download() as taken:
        job.get_by_role("link").click()
    assert taken.value.suggested_filename == "Sign- at - rest.png"


@pytest.mark.thorough
def test_axe_finds_nothing_serious_in_what_opens_over_the_page(rows: Studio) -> None:
    """Drawers, sheets, menus and dialogs, by day and by night."""
    page = rows.page
    rows.select("Title")
    page.evaluate(AXE.read_text())
    opens = {
        "fonts": page.get_by_role("button", name="Font: Figtree"),
        "colours": page.get_by_role("button", name="More colours for Fill"),
        "guides": page.get_by_role("button", name="Guides"),
        "checks": page.get_by_test_id("checks-count"),
        "menu": page.get_by_role("button", name="More for Title"),
        "export": page.get_by_role("button", name="Export", exact=True),
        "explanation": page.get_by_role("button", name="Explain the anchor: both spaces and the calculation"),
        "keys": page.get_by_role("button", name="Keys and gestures"),
        **{
            name: page.get_by_role("navigation", name="Shelf").get_by_role("button", name=name)
            for name in ("Add", "Recipes", "Media", "Slots")
        },
        "bring in": page.get_by_role("button", name="In…"),
        "find": page.get_by_role("button", name="Find anything"),
        "filter": page.get_by_role("button", name="Filter the lanes"),
        "numbers": page.get_by_role("button", name="Keys as numbers"),
        "cards": page.get_by_role("button", name="Poses as cards"),
    }
    for theme in ("day", "night"):
        for name, button in opens.items():
            if name in ("fonts", "cards"):
                # Esc on the stage has let it go.
                rows.select("Title")
            button.click()
            page.wait_for_timeout(300)
            found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")["violations"]
            grave = [one["nodes"][0] for one in found if one["impact"] in ("serious", "critical")]
            assert [(node["html"][:160], node["failureSummary"]) for node in grave] == [], (theme, name)
            page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("(Night|Day) theme")).click()
