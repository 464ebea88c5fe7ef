"""The stage while something moves: what is shown, what goes over the line, and how a press is given back."""

from __future__ import annotations

import base64
import json
import re
from collections.abc import Callable, Iterator
from typing import Any

import httpx
import msgpack
import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, Route, WebSocketRoute, expect

from mudskipper.bench.sample import bench_scene
from tests.conftest import Server
from tests.ui.studio import Studio, decoded

# A name plate of the demo, where it stands at frame 60.
PLATE = (900, 850)


@pytest.fixture
def studio(server: Server, page: Page) -> Iterator[Studio]:
    opened = Studio(page, server, "Opener").open("?frame=60")
    opened.select("Name plate")
    yield opened
    # The next test finds the scene as this one did, also where this one failed.
    while httpx.post(f"{server.url}api/scenes/{opened.scene_id}/undo").status_code == 200:
        pass


@pytest.fixture(scope="module")
def many(server: Server) -> str:
    """A scene of 50 keyed layers; its name."""
    project = server.get("api/projects")[0]["id"]
    document = bench_scene(50).model_dump(mode="json", by_alias=True) | {"name": "Many"}
    assert httpx.post(f"{server.url}api/projects/{project}/documents", json=document).status_code == 201
    return "Many"


def keep_what_moves(studio: Studio) -> None:
    """Have the page keep each picture that it shows in motion: it is there for as long as the hand moves."""
    studio.page.evaluate(
        "() => document.querySelector('[data-testid=picture]').addEventListener('painted', () => {"
        " const c = document.querySelector('[data-testid=moving]');"
        " if (c.style.display === 'block') window.moved = c.toDataURL().split(',')[1] })"
    )


def moved(studio: Studio) -> np.ndarray:
    """The last picture that was shown in motion, (height, width, 4) bytes."""
    return decoded(base64.b64decode(studio.page.evaluate("() => window.moved")))


def take(studio: Studio, dx: float) -> tuple[tuple[float, float], str]:
    """The plate taken, without the magnet, and drawn aside in page pixels; where it was taken, and its x then."""
    start = studio.to_page(*PLATE)
    scale = studio.to_page(1, 0)[0] - studio.to_page(0, 0)[0]
    studio.page.mouse.move(*start)
    studio.page.mouse.down()
    studio.page.keyboard.down("Control")
    studio.page.mouse.move(start[0] + dx, start[1])
    return start, f"{614 + round(dx / scale)}"


def let_go(studio: Studio) -> None:
    """The hand and Ctrl let go."""
    studio.page.mouse.up()
    studio.page.keyboard.up("Control")


def smaller(picture: np.ndarray, like: np.ndarray) -> np.ndarray:
    """A picture averaged down to the size of another one."""
    size = (like.shape[1], like.shape[0])
    return np.asarray(Image.fromarray(picture.astype(np.uint8)).resize(size, Image.Resampling.BOX)).astype(int)


def close_to(quick: np.ndarray, still: np.ndarray) -> None:
    """The same picture but for the edges' smoothing: hardly any pixel off by more than a shade."""
    gap = np.abs(quick - smaller(still, quick)).max(axis=2)
    assert np.median(gap) <= 2
    assert (gap > 48).mean() < 0.02, f"{(gap > 48).mean():.3f} of the pixels differ"


def test_what_plays_too_slowly_is_painted_coarser_and_rests_exact(server: Server, page: Page, many: str) -> None:
    """On a machine that is too slow the picture gets coarser, which is told, and is the same picture; once it rests
    it is the exporter's again."""
    studio = Studio(page, server, many).open()
    picture, seen = page.get_by_test_id("picture"), page.get_by_test_id("moving")
    expect(picture).to_have_attribute("data-share", "1")
    slow = page.context.new_cdp_session(page)
    slow.send("Emulation.setCPUThrottlingRate", {"rate": 30})
    page.keyboard.press("Space")
    expect(picture).to_have_attribute("data-share", "0.5", timeout=60_000)
    expect(page.get_by_test_id("rate")).to_contain_text("picture at 50 %", timeout=60_000)
    slow.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    frame, quick = page.evaluate(
        """() => [Number(document.querySelector('[data-testid=picture]').dataset.painted),
                  document.querySelector('[data-testid=moving]').toDataURL().split(',')[1]]"""
    )
    box = seen.bounding_box()
    page.keyboard.press("Space")
    small = decoded(base64.b64decode(quick))
    assert box
    assert small.shape[1] == pytest.approx(box["width"] / 2, abs=1)
    close_to(small, studio.still(frame))
    expect(picture).to_have_attribute("data-share", "1")
    expect(seen).to_be_hidden()
    now = int(picture.get_attribute("data-painted") or -1)
    assert np.abs(studio.pixels() - studio.still(now)).max() <= 2


@pytest.mark.thorough
def test_a_drag_is_shown_at_the_size_seen_and_rests_at_the_scenes_own(studio: Studio) -> None:
    """In motion a smaller canvas shows the moved layer; at rest, held or let go, the scene's own size does."""
    before, page = studio.pixels(), studio.page
    start = studio.to_page(*PLATE)
    scale = studio.to_page(1, 0)[0] - studio.to_page(0, 0)[0]
    page.mouse.move(*start)
    page.mouse.down()
    page.keyboard.down("Control")
    keep_what_moves(studio)
    for step in range(1, 61):
        page.mouse.move(start[0] + step * scale * 4, start[1] - step * scale * 5)
    expect(studio.field("Position x")).to_have_value("854")
    quick = moved(studio)
    assert quick.shape[1] == pytest.approx(1920 * scale, abs=1)
    held = studio.pixels()
    expect(page.get_by_test_id("moving")).to_be_hidden()
    assert (held != before).any(axis=2).mean() > 0.02
    page.mouse.up()
    page.keyboard.up("Control")
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Moved Name plate by 240, -300 px")
    assert (studio.pixels() == held).all()
    assert (studio.pixels() == studio.still(60)).all()
    # Dragged on from there and back: the last that moved is the picture at rest, smaller.
    page.mouse.move(start[0] + 240 * scale, start[1] - 300 * scale)
    page.mouse.down()
    page.keyboard.down("Control")
    for step in [*range(1, 30), *range(30, -1, -1)]:
        page.mouse.move(start[0] + (240 + step) * scale, start[1] - 300 * scale)
    page.mouse.move(start[0] + 250 * scale, start[1] - 300 * scale)
    expect(studio.field("Position x")).to_have_value("864")
    page.mouse.move(start[0] + 240 * scale, start[1] - 300 * scale)
    expect(studio.field("Position x")).to_have_value("854")
    quick = moved(studio)
    page.keyboard.press("Escape")
    page.keyboard.up("Control")
    page.mouse.up()
    close_to(quick, studio.still(60))
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    assert (studio.pixels() == before).all()


@pytest.mark.thorough
def test_playing_is_shown_at_the_size_seen_and_the_frame_it_stops_at_is_exact(studio: Studio) -> None:
    """Each picture caught in the playing is that of the frame it says; at the stop every pixel is the export's."""
    page = studio.page
    page.keyboard.press("Escape")
    caught: list[tuple[int, np.ndarray]] = []
    studio.go(0)
    page.keyboard.press("Space")
    expect(page.get_by_test_id("moving")).to_be_visible()
    for _ in range(4):
        page.wait_for_timeout(250)
        told = page.evaluate(
            "() => { const c = document.querySelector('[data-testid=moving]'), p ="
            " document.querySelector('[data-testid=picture]');"
            " return [Number(p.dataset.painted), c.style.display, c.toDataURL().split(',')[1]] }"
        )
        assert told[1] == "block"
        caught.append((told[0], decoded(base64.b64decode(told[2]))))
    page.keyboard.press("Space")
    assert len({frame for frame, _ in caught}) == len(caught)
    for frame, quick in caught:
        close_to(quick, studio.still(frame))
    shown = studio.pixels()
    expect(page.get_by_test_id("moving")).to_be_hidden()
    assert (shown == studio.still(int(studio.picture.get_attribute("data-painted") or -1))).all()


@pytest.mark.thorough
def test_only_the_newest_trial_waits_and_its_answer_is_shown(server: Server, page: Page) -> None:
    """On a slow line one trial is under way at a time; of those made meanwhile only the last goes out; Esc forgets."""
    sent: list[dict[str, Any]] = []
    answered: list[int] = []
    passed_over: list[int] = []
    at_once: list[int] = []

    def slow(line: WebSocketRoute) -> None:
        server_side = line.connect_to_server()

        def up(message: str | bytes) -> None:
            sent.append(json.loads(message))
            passed_over.append(sent[-1]["seq"] - (answered[-1] if answered else 0) - 1)
            at_once.append(len(sent) - len(answered))
            server_side.send(message)

        def down(message: str | bytes) -> None:
            told = msgpack.unpackb(message)
            if told["type"] == "tried":
                page.wait_for_timeout(120)
                answered.append(told["seq"])
            line.send(message)

        line.on_message(up)
        server_side.on_message(down)

    page.route_web_socket("**/live", slow)
    studio = Studio(page, server, "Opener").open("?frame=60")
    studio.select("Name plate")
    start, tried = take(studio, 40)
    for step in range(41):
        page.mouse.move(start[0] + step, start[1])
        page.wait_for_timeout(10)
    expect(studio.field("Position x")).to_have_value(tried)
    assert 2 <= len(sent) < 20
    assert [one["seq"] for one in sent] == sorted({one["seq"] for one in sent})
    assert set(at_once) == {1}, "a second trial was under way"
    assert max(passed_over) > 1
    assert sent[-1]["edits"][0]["by"][0] == float(tried) - 614
    page.mouse.move(start[0] + 200, start[1])
    page.keyboard.press("Escape")
    page.wait_for_timeout(400)
    expect(studio.field("Position x")).to_have_value("614")
    page.keyboard.up("Control")
    page.mouse.up()
    assert studio.layer("Name plate")["position"]["rest"] == [614, 798]


@pytest.mark.thorough
def test_the_picture_is_fetched_once_as_the_scene_is_opened(server: Server, page: Page, many: str) -> None:
    """One block of arrays for the frames around the playhead, and none twice."""
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    Studio(page, server, many).open("?frame=20")
    blocks = [url.split("?")[1] for url in asked if "/resolved?" in url]
    assert "from=0&to=240" in blocks
    assert len(blocks) == len(set(blocks))


@pytest.mark.thorough
def test_what_is_selected_comes_into_view_in_the_lanes(server: Server, page: Page, many: str) -> None:
    """By a link and by N on the stage; what is in view already does not jump."""
    studio = Studio(page, server, many)
    layer = studio.layer("Layer 7")["id"]
    studio.open(f"?frame=20&layer={layer}")
    expect(studio.row("Layer 7")).to_be_in_viewport()
    top = "() => document.querySelector('[data-testid=layer-list]').scrollTop"
    kept = page.evaluate(top)
    studio.select("Layer 9")
    assert page.evaluate(top) == kept
    page.get_by_test_id("stage").focus()
    for _ in range(10):
        page.keyboard.press("n")
    chosen = page.locator("[role=listitem][data-selected=yes]")
    expect(chosen).to_be_in_viewport()
    expect(chosen).not_to_have_attribute("aria-label", "Layer 9")


Grip = Callable[[Studio], tuple[float, float]]


def middle(of: str) -> Grip:
    """Where something of the page can be taken."""

    def at(studio: Studio) -> tuple[float, float]:
        box = studio.page.locator(of).first.bounding_box()
        assert box
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    return at


GRIPS: dict[str, tuple[Grip, tuple[float, float], str]] = {
    "a number of the panel": (middle("input[aria-label='Rotation']"), (60, 0), "Rotation"),
    "the anchor pad": (middle("[data-testid=anchor-pad]"), (30, 20), "Anchor x"),
    "the layer": (lambda studio: studio.to_page(*PLATE), (40, -40), "Position x"),
    "a handle": (lambda studio: studio.to_page(1044, 798), (50, 0), "Scale x"),
    "the anchor's mark": (lambda studio: studio.to_page(614, 798), (60, 5), "Anchor x"),
}


@pytest.mark.thorough
def test_a_press_is_given_back(studio: Studio) -> None:
    """With Esc, and where the pointer is lost: the number is as before, nothing is stored, and the next press works."""
    for name in GRIPS:
        given_back(studio, name)


def given_back(studio: Studio, name: str) -> None:
    studio.select("Name plate")
    grip, (dx, dy), field = GRIPS[name]
    page, stored = studio.page, studio.layer("Name plate")
    was = studio.field(field).input_value()
    for way in ("Esc", "lost pointer", "let go"):
        x, y = grip(studio)
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(1, 6):
            page.mouse.move(x + dx * step / 5, y + dy * step / 5)
        expect(studio.field(field)).not_to_have_value(was)
        if way == "Esc":
            page.keyboard.press("Escape")
        elif way == "lost pointer":
            page.evaluate(
                "([x, y]) => (document.elementFromPoint(x, y) ?? window).dispatchEvent("
                "new PointerEvent('pointercancel', {bubbles: true, pointerId: 1}))",
                [x, y],
            )
        if way != "let go":
            expect(studio.field(field)).to_have_value(was)
        page.mouse.up()
        if way != "let go":
            page.wait_for_timeout(80)
            assert studio.layer("Name plate") == stored
            expect(page.get_by_test_id("undo")).to_be_disabled()
    expect(page.get_by_test_id("undo")).to_be_enabled()
    assert studio.layer("Name plate") != stored
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()


@pytest.mark.thorough
def test_the_ticks_of_the_focus_are_drawn_for_keys_alone(studio: Studio) -> None:
    """In the corners of the stage for who came by the keyboard; a click of the mouse draws none."""
    page = studio.page
    box = page.get_by_test_id("stage").bounding_box()
    assert box
    clip = {"x": box["x"] - 2, "y": box["y"] - 2, "width": 24, "height": 4}
    page.mouse.click(box["x"] + 4, box["y"] + 200)
    plain = decoded(page.screenshot(clip=clip))
    page.keyboard.press("Shift+Period")
    expect(studio.picture).to_have_attribute("data-painted", "70")
    lit = decoded(page.screenshot(clip=clip))
    assert np.abs(lit - plain).max(axis=(1, 2))[:2].min() > 40
    assert (lit[2:, 2:] == plain[2:, 2:]).all()


@pytest.mark.thorough
def test_a_lost_line_keeps_the_gesture(server: Server, page: Page) -> None:
    """The line falls in mid-drag: it is said, the hand goes on, and what was drawn last is kept as one step."""
    lines: list[WebSocketRoute] = []

    def through(line: WebSocketRoute) -> None:
        line.connect_to_server()
        lines.append(line)

    page.route_web_socket("**/live", through)
    studio = Studio(page, server, "Opener").open("?frame=60")
    studio.select("Name plate")
    start, tried = take(studio, 60)
    expect(studio.field("Position x")).to_have_value(tried)
    page.mouse.move(start[0] + 20, start[1])
    lines[-1].close()
    page.mouse.move(start[0] + 60, start[1])
    expect(page.get_by_text("The live line to the server is back.")).to_be_visible()
    expect(studio.field("Position x")).to_have_value(tried)
    let_go(studio)
    expect(page.get_by_test_id("undo")).to_be_enabled()
    assert len(lines) == 2
    assert studio.layer("Name plate")["position"]["rest"][0] == float(tried)
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()


@pytest.mark.thorough
def test_where_moves_are_told_late_the_hand_works_the_same(server: Server, page: Page) -> None:
    """A browser that knows of `pointermove` alone drags as well, and no move is taken twice."""
    page.add_init_script(
        "const listen = EventTarget.prototype.addEventListener;"
        "EventTarget.prototype.addEventListener = function (name, ...rest) {"
        " if (name !== 'pointerrawupdate') listen.call(this, name, ...rest) }"
    )
    studio = Studio(page, server, "Opener").open("?frame=60")
    studio.select("Name plate")
    studio.drag(PLATE, (PLATE[0] + 100, PLATE[1]), keys=("Control",))
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Moved Name plate by 100, 0 px")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()


@pytest.mark.thorough
def test_a_picture_that_is_late_is_painted_when_it_is_there(server: Server, page: Page) -> None:
    """The stage does not call itself ready before every picture is in; then it equals the export."""
    held: list[Route] = []
    late = [True]
    page.route("**/pictures/*/file", lambda route: held.append(route) if late[0] else route.continue_())
    studio = Studio(page, server, "Opener")
    page.goto(f"{server.url}scene/{studio.scene_id}?frame=60")
    expect(studio.picture).to_have_attribute("data-painted", "60")
    expect(studio.picture).to_have_attribute("data-ready", "")
    assert held
    late[0] = False
    for route in held:
        route.continue_()
    expect(studio.picture).to_have_attribute("data-ready", "yes")
    assert (studio.pixels() == studio.still(60)).all()


@pytest.mark.thorough
def test_another_windows_revision_leaves_the_hand_its_layer(studio: Studio, page: Page) -> None:
    """In mid-drag another window changes this layer and deletes its neighbour: both stand, and the drag as well."""
    _, tried = take(studio, 50)
    expect(studio.field("Position x")).to_have_value(tried)
    plate, edge = studio.layer("Name plate")["id"], studio.layer("Plate edge")["id"]
    edits: list[dict[str, Any]] = [
        {"edit": "set_property", "layer": plate, "property": "opacity", "frame": 60, "value": 40},
        {"edit": "delete_layers", "layers": [edge]},
    ]
    url = f"{studio.server.url}api/scenes/{studio.scene_id}/edits"
    assert httpx.post(url, json={"edits": edits, "client": "another"}).status_code == 200
    expect(studio.row("Plate edge")).to_have_count(0)
    expect(studio.field("Opacity")).to_have_value("40")
    expect(studio.field("Position x")).to_have_value(tried)
    held = studio.pixels()
    let_go(studio)
    expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("Undo: Moved Name plate"))
    assert (studio.pixels() == held).all()
    assert (held == studio.still(60)).all()
    stored = studio.layer("Name plate")
    assert (stored["opacity"]["rest"], stored["position"]["rest"][0]) == (40, float(tried))
    for _ in range(2):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()
    assert studio.layer("Plate edge")["id"] == edge
