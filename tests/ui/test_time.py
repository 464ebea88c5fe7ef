"""Setting, retiming and easing keys: pose strip, lanes, curves, playing; judged by document and pixels."""

from __future__ import annotations

import base64
import math
import re
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect

from mudskipper.core.document.scene import SCHEMA
from tests.conftest import Server, layer
from tests.ui.studio import Studio, decoded, middle

LANDING = {"bezier": [0.1, 0.8, 0.3, 1.0]}


def key(frame: float, value: Any, **more: Any) -> dict[str, Any]:
    return {"frame": frame, "value": value, **more}


def make_scene(server: Server, name: str, layers: list[dict[str, Any]], **fields: Any) -> None:
    document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 60, "layers": layers, **fields}
    project = server.get("api/projects")[0]["id"]
    answer = httpx.post(f"{server.url}api/projects/{project}/documents", json=document)
    assert answer.status_code == 201, answer.text


count = iter(range(1000))


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    """A plate that moves, turns and fades, and a sign that rests."""
    number = next(count)
    path = {"rest": [100, 180], "keys": [key(0, [100, 80]), key(20, [300, 180]), key(40, [500, 80])]}
    plate = layer("Plate", position=path, rotation={"rest": 0, "keys": [key(20, 0), key(40, 90)]},
                  opacity={"rest": 100, "keys": [key(0, 0), key(20, 100)]})  # fmt: skip
    sign = layer("Sign", position=[320, 300])
    for one in (plate, sign):
        one["id"] += str(number)
    make_scene(server, f"Time {number}", [plate, sign])
    return Studio(page, server, f"Time {number}").open("?frame=20")


def undo_says(studio: Studio, words: str | re.Pattern[str]) -> None:
    expect(studio.page.get_by_test_id("undo")).to_have_attribute(
        "aria-label", f"Undo: {words}" if isinstance(words, str) else words
    )


def frames(studio: Studio, name: str, track: str) -> list[float]:
    return [one["frame"] for one in studio.layer(name)[track]["keys"]]


def card(studio: Studio, frame: int) -> Locator:
    return studio.page.locator(f'[data-testid="pose-card"][data-frame="{frame}"]')


def pull(studio: Studio, start: tuple[float, float], by: tuple[float, float], *keys: str, drop: bool = True) -> None:
    """Press at a page point, go by pixels in three steps, let go."""
    mouse = studio.page.mouse
    mouse.move(*start)
    for held in keys:
        studio.page.keyboard.down(held)
    mouse.down()
    for step in (0.3, 0.7, 1.0):
        mouse.move(start[0] + by[0] * step, start[1] + by[1] * step)
    if drop:
        mouse.up()
    for held in keys:
        studio.page.keyboard.up(held)


def per_frame(studio: Studio) -> float:
    """The width of a frame on the lanes."""
    bar = studio.row("Sign").get_by_test_id("span").bounding_box()
    return bar["width"] / 60


def test_land_first_then_bring_in(studio: Studio) -> None:
    """The sign has landed; it is let in from the left, tried on the stage while chosen, kept as ordinary keys."""
    page = studio.page
    studio.select("Sign")
    expect(page.get_by_test_id("pose-strip")).to_contain_text("No poses yet")
    rest, stored = studio.pixels(), studio.layer("Sign")
    page.get_by_role("button", name="In…").click()
    sheet = page.get_by_test_id("bring-in")
    sheet.get_by_role("radio", name="top").click()
    sheet.get_by_label("From transparent").check()
    # The preview runs on the stage, and nothing is kept of it.
    page.wait_for_function("() => Number(document.querySelector('[data-testid=playhead]').dataset.frame) < 20")
    assert studio.layer("Sign") == stored
    sheet.get_by_label("Length of the move").fill("-50")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("takes at least 1, and “-50” is less")
    sheet.get_by_label("Length of the move").fill("10")
    page.keyboard.press("Enter")
    studio.settle()
    # Enter took the number; once more it takes the move.
    page.keyboard.press("Enter")
    undo_says(studio, "Brought Sign in, landing at frame 20")
    sign = studio.layer("Sign")
    assert [(k["frame"], k["value"]) for k in sign["position"]["keys"]] == [(10, [320, -50]), (20, [320, 300])]
    assert [(k["frame"], k["value"]) for k in sign["opacity"]["keys"]] == [(10, 0), (20, 100)]
    expect(card(studio, 10)).to_be_visible()
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "20")
    assert (studio.pixels() == rest).all()
    page.keyboard.press("Escape")
    studio.select("Plate")
    studio.select("Sign")
    page.get_by_role("button", name="Out…").click()
    page.get_by_test_id("take-out").get_by_role("button", name="Take out").click()
    undo_says(studio, "Took Sign out from frame 20")
    assert frames(studio, "Sign", "position") == [10, 20, 32]


def test_ways_of_coming_in_are_mixed_and_done_again(studio: Studio) -> None:
    """By a distance, from a scale, wiped, eased, two layers one after another; by one key the same again."""
    page = studio.page
    studio.select("Sign")
    studio.row("Plate").get_by_role("button", name="Plate", exact=True).click(modifiers=["Shift"])
    page.get_by_role("button", name="In…").click()
    sheet = page.get_by_test_id("bring-in")
    sheet.get_by_label("How far").select_option("distance")
    sheet.get_by_label("Scaled at").select_option("its anchor")
    sheet.get_by_role("textbox", name="Scale").fill("80")
    page.keyboard.press("Enter")
    sheet.get_by_label("Wiped in").select_option("left")
    sheet.get_by_label("Easing of the move").select_option(label="linear")
    sheet.get_by_label("Stagger").fill("5")
    page.keyboard.press("Enter")
    studio.settle()
    sheet.get_by_role("button", name="Bring in").click()
    undo_says(studio, "Brought 2 layers in, landing at frame 20")
    sign = studio.layer("Sign")
    assert [(k["frame"], k["value"]) for k in sign["position"]["keys"]] == [(8, [280, 300]), (20, [320, 300])]
    assert [k["value"] for k in sign["scale"]["keys"]] == [[80, 80], [100, 100]]
    assert frames(studio, "Plate", "scale") == [13, 25]
    assert [mask["name"] for mask in sign["masks"]] == ["From the left"]
    for keys, told in (("Control+z", ""), ("Escape", ""), ("i", "Brought Sign in, landing at frame 20")):
        if keys == "i":
            studio.select("Sign")
        page.keyboard.press(keys)
        studio.settle()
        if told:
            undo_says(studio, told)
    assert studio.layer("Sign") == sign


def test_a_whole_moment_is_moved_with_ripple_and_without(studio: Studio) -> None:
    """By its card, by its time, by the length of the move; typed nonsense changes nothing."""
    page = studio.page
    studio.select("Plate")
    pull(studio, middle(card(studio, 20).get_by_role("button", name=re.compile("^Pose at"))), (24, 0), "Control")
    undo_says(studio, "Moved the later keys of Plate by +6 frames")
    assert (frames(studio, "Plate", "position"), frames(studio, "Plate", "rotation")) == ([0, 26, 46], [26, 46])
    assert frames(studio, "Plate", "opacity") == [0, 26]
    page.get_by_label("Ripple").uncheck()
    pull(studio, middle(card(studio, 26).get_by_role("button", name=re.compile("^Pose at"))), (-24, 0), "Control")
    undo_says(studio, "Moved 3 keys of Plate by -6 frames")
    assert frames(studio, "Plate", "position") == [0, 20, 46]
    length = page.get_by_label("Length of the move from 0:20 to 1:16")
    for text in ("soon", "0", "-50"):
        length.fill(text)
        page.keyboard.press("Enter")
        expect(studio.said()).to_contain_text("Nothing was changed")
        page.keyboard.press("Escape")
        expect(length).to_have_value("26 f")
    length.fill("20f")
    page.keyboard.press("Enter")
    undo_says(studio, "Moved 2 keys of Plate by -6 frames")
    time = page.get_by_label("Time of the pose at 1:10")
    time.fill("+12")
    page.keyboard.press("Enter")
    undo_says(studio, "Moved 2 keys of Plate by +12 frames")
    assert frames(studio, "Plate", "rotation") == [20, 52]
    page.get_by_label("Time of the pose at 1:22").fill("2:10")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("is outside the span of 'Plate'")
    pull(studio, middle(card(studio, 52).get_by_role("button", name=re.compile("^Pose at"))), (-40, 0), drop=False)
    page.keyboard.press("Escape")
    page.mouse.up()
    assert frames(studio, "Plate", "rotation") == [20, 52]
    card(studio, 52).get_by_role("button", name="Delete the pose at 1:22").click()
    undo_says(studio, "Deleted 2 keys of Plate")


@pytest.mark.thorough
def test_a_pose_keys_what_was_chosen(studio: Studio) -> None:
    page = studio.page
    studio.select("Sign")
    page.get_by_role("button", name="What a pose keys").click()
    chosen = page.get_by_test_id("pose-properties")
    chosen.get_by_label("what is keyed already").uncheck()
    chosen.get_by_label("Opacity").uncheck()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Pose", exact=True).click()
    undo_says(studio, "Keyed position, scale, rotation of Sign at frame 20")
    sign = studio.layer("Sign")
    assert [len(sign[name]["keys"]) for name in ("position", "scale", "rotation", "opacity")] == [1, 1, 1, 0]
    page.reload()
    studio.select("Sign")
    studio.go(30)
    page.keyboard.press("k")
    undo_says(studio, "Keyed position, scale, rotation of Sign at frame 30")
    assert frames(studio, "Sign", "scale") == [20, 30]
    studio.go(45)
    card(studio, 20).get_by_role("button", name="Copy the pose at 0:20 to the playhead").click()
    undo_says(studio, "Copied 3 keys")


@pytest.mark.thorough
def test_the_ghost_pebble_shows_before_a_change_is_made(studio: Studio) -> None:
    """Keyed with no key here: a dashed pebble stands where a change will make one, in the lane too."""
    studio.select("Plate")
    studio.row("Plate").get_by_role("button", name="Open the lanes of Plate").click()
    lane = studio.row("Plate").get_by_test_id("lane-rotation")
    expect(lane.get_by_test_id("ghost-pebble")).to_be_hidden()
    studio.go(33)
    expect(lane.get_by_test_id("ghost-pebble")).to_be_visible()
    expect(studio.page.get_by_test_id("panel").get_by_test_id("pebble-rotation")).to_have_attribute(
        "data-state", "between"
    )
    assert frames(studio, "Plate", "rotation") == [20, 40]
    studio.type("Rotation", "30")
    expect(lane.get_by_test_id("ghost-pebble")).to_be_hidden()
    assert frames(studio, "Plate", "rotation") == [20, 33, 40]
    lane.get_by_role("button", name="Stop keying Rotation in the lanes").click()
    expect(studio.said()).to_contain_text("Removed 3 keys of rotation.")
    studio.said().get_by_role("button", name="Undo").click()
    expect(lane.get_by_role("button", name="Key of Rotation at frame 33")).to_be_visible()


@pytest.mark.thorough
def test_keys_are_framed_stretched_snapped_and_copied(studio: Studio) -> None:
    """A frame selects them; the bracket's end stretches them about the other; they snap to beats and keys."""
    page = studio.page
    studio.row("Plate").get_by_role("button", name="Open the lanes of Plate").click()
    row = studio.row("Plate")
    wide = per_frame(studio)
    lanes = row.get_by_test_id("lane-position").bounding_box()
    bar = row.get_by_test_id("span").bounding_box()
    x = bar["x"]
    start = (x + 10 * wide, lanes["y"] - 2)
    pull(studio, start, (35 * wide, 2 * 27), drop=False)
    expect(page.get_by_test_id("key-marquee")).to_be_visible()
    page.mouse.up()
    expect(row.get_by_role("button", name="Key of Position at frame 40")).to_have_attribute("aria-pressed", "true")
    expect(row.get_by_role("button", name="Key of Position at frame 0")).to_have_attribute("aria-pressed", "false")
    bracket = page.get_by_test_id("bracket")
    expect(bracket).to_have_attribute("data-first", "20")
    pull(studio, middle(page.get_by_test_id("bracket-last")), (10 * wide, 0), "Control")
    undo_says(studio, re.compile(r"Undo: Stretched \d keys to 150 %"))
    assert (frames(studio, "Plate", "position"), frames(studio, "Plate", "rotation")) == ([0, 20, 50], [20, 50])
    # The one that is dragged onto another wins, and it is said.
    pebble = row.get_by_role("button", name="Key of Opacity at frame 0")
    studio.deselect()
    pull(studio, middle(pebble), (20 * wide, 0))
    expect(studio.said()).to_contain_text("One key was replaced by the one moved onto it.")
    assert frames(studio, "Plate", "opacity") == [20]
    page.keyboard.press("Control+z")
    expect(row.get_by_role("button", name="Key of Opacity at frame 0")).to_be_visible()
    row.get_by_role("button", name="Key of Rotation at frame 20").click()
    page.keyboard.down("Shift")
    row.get_by_role("button", name="Key of Rotation at frame 50").click()
    page.keyboard.up("Shift")
    page.keyboard.press("Control+c")
    expect(studio.said()).to_contain_text("Copied 2 keys.")
    studio.select("Sign")
    studio.go(5)
    page.keyboard.press("Control+v")
    undo_says(studio, "Pasted 2 keys on Sign")
    assert [(k["frame"], k["value"]) for k in studio.layer("Sign")["rotation"]["keys"]] == [(5, 0), (35, 90)]
    row.get_by_role("button", name="Key of Rotation at frame 50").click(button="right")
    page.get_by_role("menu", name="Selected keys").get_by_role("menuitem", name="All of this property").click()
    page.keyboard.press("Alt+ArrowRight")
    undo_says(studio, "Moved 2 keys of Plate by +1 frames")
    assert frames(studio, "Plate", "rotation") == [21, 51]


@pytest.mark.thorough
def test_one_axis_of_many_keys_is_set_and_the_other_left_bit_for_bit(studio: Studio) -> None:
    """With a preview of what changes, tried on the stage; left, nothing was changed."""
    page = studio.page
    studio.row("Plate").get_by_role("button", name="Open the lanes of Plate").click()
    row = studio.row("Plate")
    row.get_by_role("button", name="Key of Position at frame 0").click(button="right")
    page.get_by_role("menuitem", name="All of this property").click()
    before, was = studio.layer("Plate")["position"]["keys"], studio.pixels()
    page.keyboard.press("e")
    dialog = page.get_by_test_id("values-dialog")
    dialog.get_by_role("radio", name="y only").click()
    dialog.get_by_label("Value").fill("222.125")
    page.keyboard.press("Enter")
    expect(dialog.get_by_test_id("values-preview")).to_contain_text("300, 180 → 300, 222.125")
    page.wait_for_timeout(300)
    assert (studio.pixels() != was).any()
    assert studio.layer("Plate")["position"]["keys"] == before
    dialog.get_by_role("button", name="Change 3 keys").click()
    undo_says(studio, "Changed y of 3 keys to 222.125")
    after = studio.layer("Plate")["position"]["keys"]
    assert [k["value"] for k in after] == [[100, 222.125], [300, 222.125], [500, 222.125]]
    page.keyboard.press("e")
    dialog.get_by_role("radio", name="Multiply by").click()
    dialog.get_by_label("Value").fill("3")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Leave them").click()
    page.wait_for_timeout(200)
    assert studio.layer("Plate")["position"]["keys"] == after


@pytest.mark.thorough
def test_a_dragged_easing_equals_the_typed_one(studio: Studio) -> None:
    """In the editor and in the lane: handles snap to flat; presets are kept in the project; text is read or refused."""
    page = studio.page
    studio.select("Plate")
    page.get_by_role("button", name="Easing of the move from 0:20 to 1:10").click()
    editor = page.get_by_test_id("easing-editor")
    editor.get_by_role("slider", name="Handle at the start").hover()
    handle = middle(editor.get_by_role("slider", name="Handle at the start"))
    scale = 272 / 1.16, 132 / 1.7
    pull(studio, handle, ((0.6 - 1 / 3) * scale[0], (1 / 3 - 0.02) * scale[1]))
    undo_says(studio, re.compile("Undo: Eased 2 keys of Plate: cubic-bezier"))
    dragged = studio.layer("Plate")["rotation"]["keys"][0]["ease"]["bezier"]
    assert dragged[:2] == [pytest.approx(0.6, abs=0.01), 0]
    value = studio.resolved("Plate", 27).values["rotation"][0, 0]
    text = editor.get_by_label("Easing as text")
    expect(text).to_have_value("cubic-bezier({:g}, {:g}, {:g}, {:g})".format(*dragged))
    text.fill("hold")
    page.keyboard.press("Enter")
    undo_says(studio, "Eased 2 keys of Plate: hold")
    text.fill("cubic-bezier({}, {}, {}, {})".format(*dragged))
    page.keyboard.press("Enter")
    undo_says(studio, re.compile("cubic-bezier"))
    assert studio.resolved("Plate", 27).values["rotation"][0, 0] == value
    text.fill("nonsense(3)")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("“nonsense(3)” is no easing: there is no easing nonsense()")
    editor.get_by_label("Name of a new preset").fill("Heavy door")
    editor.get_by_role("button", name="Keep", exact=True).click()
    expect(editor.get_by_role("button", name="Heavy door", exact=True)).to_be_visible()
    editor.get_by_role("button", name="spring", exact=True).click()
    undo_says(studio, "Eased 2 keys of Plate: spring")
    editor.get_by_label("Damping").fill("0.3")
    page.keyboard.press("Enter")
    expect(text).to_have_value("spring(0.35, 0.3)")
    page.reload()
    studio.select("Plate")
    page.get_by_role("combobox", name="Easing").select_option("Heavy door")
    undo_says(studio, re.compile("cubic-bezier"))
    assert studio.layer("Plate")["rotation"]["keys"][0]["ease"]["bezier"] == dragged
    # In the lane itself.
    row = studio.row("Plate")
    row.get_by_role("button", name="Open the lanes of Plate").click()
    row.get_by_role("button", name="Make the lane of Rotation taller").click()
    tip = row.get_by_role("slider", name="Arriving handle of rotation from frame 20")
    tip.focus()
    page.keyboard.press("Shift+ArrowLeft")
    undo_says(studio, re.compile("Eased 1 key of Plate"))
    moved = studio.layer("Plate")["rotation"]["keys"][0]["ease"]["bezier"]
    assert moved[2] == pytest.approx(dragged[2] - 0.1)
    pull(studio, middle(tip), (0, 30))
    expect(tip).not_to_have_attribute("aria-valuenow", f"{moved[3]:g}")
    assert studio.layer("Plate")["rotation"]["keys"][0]["ease"]["bezier"][3] < moved[3]


def test_playing_keeps_time_and_loops_over_what_is_chosen(studio: Studio) -> None:
    """Frames painted against the clock, at half speed half as many; over the marked range nothing outside it."""
    page = studio.page
    page.get_by_role("combobox", name="Speed").select_option("0.5")
    ruler = page.get_by_test_id("ruler").bounding_box()
    wide = per_frame(studio)
    pull(studio, (ruler["x"] + 10 + 10.5 * wide, ruler["y"] + 20), (20 * wide, 0), "Shift")
    expect(page.get_by_test_id("range")).to_be_visible()
    expect(page.get_by_role("combobox", name="Play over")).to_have_value("range")
    page.evaluate(
        "() => { window.seen = []; new MutationObserver(() => window.seen.push([performance.now(),"
        " Number(document.querySelector('[data-testid=playhead]').dataset.frame)])).observe("
        "document.querySelector('[data-testid=playhead]'), {attributes: true, attributeFilter: ['data-frame']}); }"
    )
    page.keyboard.press("Space")
    page.wait_for_timeout(2_600)
    expect(page.get_by_test_id("rate")).to_contain_text("of 15 fps")
    page.keyboard.press("Space")
    seen = np.array(page.evaluate("() => window.seen"))
    assert set(seen[1:, 1]) <= set(range(10, 31))
    steps = np.mod(np.diff(seen[1:, 1]), 21)
    rate = steps.sum() / (seen[-1, 0] - seen[1, 0]) * 1000
    assert rate == pytest.approx(15, rel=0.12)
    stats = page.evaluate("() => window.mudskipperPlay")
    assert stats["painted"] <= stats["due"]


@pytest.mark.thorough
def test_beats_are_tapped_labelled_and_snapped_to(studio: Studio) -> None:
    page = studio.page
    studio.go(14)
    page.keyboard.press("b")
    undo_says(studio, "Set a beat at 0:14")
    beat = page.get_by_test_id("beat")
    beat.press("Enter")
    page.get_by_label("Label of the beat").fill("splash")
    page.keyboard.press("Enter")
    undo_says(studio, "Labelled the beat at 0:14")
    page.get_by_label("Time of the beat").fill("1:04")
    page.keyboard.press("Enter")
    undo_says(studio, "Moved a beat to 1:04")
    page.keyboard.press("Escape")
    assert studio.stored()["beats"] == [{"frame": 34, "label": "splash"}]
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Home")
    page.keyboard.press("Shift+BracketRight")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "34")
    page.get_by_label("Playhead", exact=True).fill("45f")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "45")


@pytest.mark.thorough
def test_variants_side_by_side_and_the_history(studio: Studio) -> None:
    """Two versions in step, the difference told; any step of the history can be gone to, after a restart as well."""
    page = studio.page
    studio.select("Plate")
    first = studio.pixels()
    page.get_by_role("button", name="Keep this motion, and go on with a copy").click()
    undo_says(studio, "Kept the motion of Plate as a variant")
    studio.type("Rotation", "45")
    undo_says(studio, "Set rotation of Plate")
    page.get_by_role("button", name="Show variant A beside the one in use").click()
    expect(page.get_by_test_id("differences")).to_have_text("Rotation, key 1: 45 against 0.")
    shown = page.get_by_test_id("variant-beside")
    expect(shown).to_have_attribute("data-painted", "20")

    def canvas(which: str) -> np.ndarray:
        data = page.get_by_test_id(f"variant-{which}").evaluate("c => c.toDataURL().split(',')[1]")
        return decoded(base64.b64decode(data))

    assert (canvas("beside") == first).all()
    assert (canvas("used") != first).any()
    page.keyboard.press("Period")
    expect(shown).to_have_attribute("data-painted", "21")
    page.get_by_role("button", name="Back to the stage").click()
    page.get_by_role("button", name="A", exact=True).click()
    undo_says(studio, "Switched Plate to variant A")
    page.get_by_role("button", name="History of this scene").click()
    steps = page.get_by_role("list", name="Steps").get_by_role("button")
    expect(steps).to_have_count(4)
    expect(steps.nth(3)).to_have_attribute("aria-current", "step")
    steps.nth(2).click()
    expect(steps.nth(2)).to_have_attribute("aria-current", "step")
    expect(steps).to_have_count(4)
    plate = studio.layer("Plate")
    assert (plate["variant"], plate["rotation"]["keys"][0]["value"]) == ("B", 45)
    steps.nth(0).click()
    expect(steps.nth(0)).to_have_attribute("aria-current", "step")
    assert studio.layer("Plate")["variants"] == []


def test_spans_slip_split_solo_and_change_places(studio: Studio) -> None:
    page = studio.page
    wide = per_frame(studio)
    bar = studio.row("Plate").get_by_test_id("span").bounding_box()
    spot = (bar["x"] + 30 * wide, bar["y"] + 2)
    pull(studio, spot, (4 * wide, 0), "Alt")
    undo_says(studio, "Slipped the keys of Plate by +4 frames")
    assert frames(studio, "Plate", "position") == [4, 24, 44]
    assert studio.layer("Plate")["span"] == {"start": 0, "length": 60}
    picture = studio.pixels()
    page.keyboard.press("s")
    expect(page.get_by_test_id("note")).to_contain_text("Solo: Plate.")
    assert (studio.pixels() != picture).any()
    page.keyboard.press("s")
    assert (studio.pixels() == picture).all()
    page.keyboard.press("x")
    undo_says(studio, "Split Plate at frame 20")
    expect(studio.row("Plate 2")).to_be_visible()
    assert (studio.pixels() == picture).all()
    grab = middle(studio.row("Sign").get_by_role("button", name="Sign", exact=True))
    pull(studio, grab, (0, 27 * 2 + 10))
    undo_says(studio, "Moved Sign back")
    assert studio.stored()["layers"][0]["name"] == "Sign"
    length = page.get_by_label("Length of the span")
    studio.select("Sign")
    length.fill("1:00")
    page.keyboard.press("Enter")
    undo_says(studio, "Trimmed Sign to frames 0 to 29")


@pytest.mark.thorough
def test_hundreds_of_layers_with_only_those_that_show(server: Server, page: Page) -> None:
    """300 opened layers of ten lanes each: a few rows are in the page, wherever the list is scrolled to."""
    motion = {"rest": 0, "keys": [key(0, 0), key(50, 90)]}
    layers = [{**layer(f"Row {n}", rotation=motion), "id": f"many{n}"} for n in range(300)]
    make_scene(server, "Many", layers)
    studio = Studio(page, server, "Many").open()
    page.get_by_role("button", name="What the lanes show").click()
    page.get_by_test_id("lanes-menu").get_by_role("radio", name="All").click()
    page.get_by_test_id("lanes-menu").get_by_label("Every layer opened").check()
    page.keyboard.press("Escape")
    rows = page.get_by_test_id("layer-row")
    assert rows.count() < 12
    tall = page.get_by_test_id("layer-list").evaluate("list => { list.scrollTop = 1e9; return list.scrollHeight; }")
    assert tall > 300 * 200
    expect(studio.row("Row 0")).to_be_visible()
    assert rows.count() < 12
    scrolled = page.evaluate(
        """() => new Promise(done => {
          const list = document.querySelector('[data-testid=layer-list]');
          let n = 0, most = 0;
          const step = () => {
            list.scrollTop -= 400;
            most = Math.max(most, document.querySelectorAll('[data-testid=layer-row]').length);
            if (++n < 60) requestAnimationFrame(step); else done(most);
          };
          step();
        })"""
    )
    assert scrolled < 16


@pytest.mark.thorough
def test_two_windows_on_the_same_keys(studio: Studio, page: Page, server: Server) -> None:
    """A key moved in one window is where it went in the other; one deleted there is refused here in words."""
    other = Studio(page.context.new_page(), server, studio.name).open("?frame=20")
    for one in (studio, other):
        one.select("Plate")
    time = other.page.get_by_label("Time of the pose at 1:10")
    time.fill("1:15")
    other.page.keyboard.press("Enter")
    expect(card(studio, 45)).to_be_visible()
    pose = card(studio, 45).get_by_role("button", name=re.compile("^Pose at"))
    pull(studio, middle(pose), (-20, 0), "Control", drop=False)
    card(other, 45).get_by_role("button", name="Delete the pose at 1:15").click()
    expect(other.said()).to_contain_text("Deleted 2 keys.")
    page.mouse.up()
    expect(studio.said()).to_contain_text("it may have been moved in another window")
    assert frames(studio, "Plate", "position") == [0, 20]
    expect(card(studio, 45)).to_have_count(0)


def test_time_without_a_mouse(studio: Studio) -> None:
    """Cards, pebbles, easing and lanes by keys alone."""
    page = studio.page
    page.get_by_test_id("stage").focus()
    page.keyboard.press("n")
    page.keyboard.press("n")
    expect(studio.row("Plate")).to_have_attribute("data-selected", "yes")
    page.keyboard.press("]")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "40")
    pose = card(studio, 40).get_by_role("button", name=re.compile("^Pose at"))
    pose.focus()
    page.keyboard.press("Shift+ArrowRight")
    undo_says(studio, "Moved the later keys of Plate by +10 frames")
    card(studio, 50).get_by_role("button", name=re.compile("^Pose at")).press("Enter")
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "50")
    page.get_by_role("button", name="Easing of the move from 0:20 to 1:20").press("Enter")
    handle = page.get_by_role("slider", name="Handle at the end")
    handle.focus()
    page.keyboard.press("Shift+ArrowUp")
    undo_says(studio, re.compile("Eased 2 keys of Plate"))
    assert studio.layer("Plate")["position"]["keys"][1]["ease"]["bezier"][3] == pytest.approx(0.77, abs=0.01)
    page.keyboard.press("Escape")
    expect(studio.row("Plate")).to_have_attribute("data-selected", "yes")
    studio.row("Plate").get_by_role("button", name="Open the lanes of Plate").press("Enter")
    pebble = studio.row("Plate").get_by_role("button", name="Key of Opacity at frame 20")
    pebble.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Shift+F10")
    menu = page.get_by_role("menu", name="Selected keys")
    expect(menu.get_by_role("menuitem", name="Edit values…")).to_have_attribute("data-highlighted", "")
    for _ in range(8):
        page.keyboard.press("ArrowDown")
    expect(menu.get_by_role("menuitem", name="All of this property")).to_have_attribute("data-highlighted", "")
    page.keyboard.press("Enter")
    page.keyboard.press("Delete")
    undo_says(studio, "Deleted 2 keys of Plate")
    assert studio.layer("Plate")["opacity"]["keys"] == []
    page.keyboard.press("Control+z")
    more = studio.row("Plate").get_by_role("button", name="More for Plate")
    more.press("Enter")
    page.keyboard.press("Escape")
    expect(more).to_be_focused()


@pytest.mark.thorough
def test_lanes_are_widened_and_show_speed(studio: Studio) -> None:
    """Ctrl and the wheel about the pointer, the wheel along; speed in units a second; other properties laid over."""
    page = studio.page
    row = studio.row("Plate")
    row.get_by_role("button", name="Open the lanes of Plate").click()
    row.get_by_role("button", name="Make the lane of Rotation taller").click()
    curve = row.get_by_test_id("curve-rotation")
    expect(curve).to_contain_text("90")
    page.get_by_role("button", name="What the lanes show").click()
    menu = page.get_by_test_id("lanes-menu")
    menu.get_by_label("Curves as speed").check()
    expect(curve).to_contain_text("135 a second")
    menu.get_by_label("Curves as speed").uncheck()
    menu.get_by_label("Other properties in tall lanes").check()
    expect(curve.locator('[data-other="opacity"]')).to_have_count(1)
    page.keyboard.press("Escape")
    wide = per_frame(studio)
    at = middle(row.get_by_role("button", name="Key of Rotation at frame 20"))
    page.mouse.move(at[0], at[1] - 90)
    page.keyboard.down("Control")
    page.mouse.wheel(0, -300)
    page.keyboard.up("Control")
    page.wait_for_timeout(200)
    assert per_frame(studio) == pytest.approx(wide * math.e, rel=0.02)
    assert middle(row.get_by_role("button", name="Key of Rotation at frame 20"))[0] == pytest.approx(at[0], abs=2)
    page.mouse.wheel(3 * wide * math.e, 0)
    page.wait_for_timeout(200)
    moved = middle(row.get_by_role("button", name="Key of Rotation at frame 20"))[0]
    assert moved == pytest.approx(at[0] - 3 * wide * math.e, abs=3)
