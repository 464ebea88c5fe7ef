"""Answers that are late, out of order, dropped or broken: the window ends as the store has it, and nothing is stuck."""

from __future__ import annotations

import itertools
import json
import re
from typing import Any

import msgpack
import numpy as np
import pytest
from playwright.sync_api import Page, Route, WebSocketRoute, expect

from tests.conftest import Server, layer
from tests.ui.studio import LAG, Studio

NUMBERS = itertools.count(1)


def words(name: str, text: str, **more: Any) -> dict[str, Any]:
    content = {"kind": "text", "text": text, "size": 90, "fill": "#d9482f"}
    return layer(name, content=content, **more)


def made(server: Server, page: Page, *layers: dict[str, Any], **fields: Any) -> Studio:
    number = next(NUMBERS)
    for one in layers:
        one["id"] += f"-a{number}"
    return Studio(page, server, server.keep(f"Answers {number}", list(layers), **fields))


@pytest.fixture
def studio(server: Server, page: Page) -> Studio:
    page.add_init_script(LAG)
    way = {"rest": [100, 180], "keys": [{"frame": 0, "value": [100, 180]}, {"frame": 50, "value": [500, 180]}]}
    return made(server, page, layer("Plate", position=way), layer("Sign", position=[320, 280])).open("?frame=10")


def undo_says(studio: Studio, words: str) -> None:
    expect(studio.page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile(f"^Undo: {words}"))


@pytest.mark.thorough
def test_two_windows_at_once_with_late_answers(studio: Studio, server: Server, page: Page) -> None:
    """Each changes another layer while the other's answers are on their way: both end with both, to the byte."""
    other = Studio(page.context.new_page(), server, studio.name)
    other.page.add_init_script(LAG)
    other.open("?frame=10")
    page.evaluate("() => { window.lag = {edits: 500, resolved: 250} }")
    other.page.evaluate("() => { window.lag = {resolved: 700} }")
    studio.select("Plate")
    other.select("Sign")
    for n in range(3):
        studio.type("Rotation", str(10 * n + 5))
        other.type("Rotation", str(-10 * n - 5))
    for window in (studio, other):
        window.page.wait_for_timeout(2_500)
        window.page.evaluate("() => { window.lag = {} }")
    exported = studio.still(10)
    for window in (studio, other):
        for name, value in (("Plate", "25"), ("Sign", "-25")):
            window.select(name)
            expect(window.field("Rotation")).to_have_value(value)
        window.page.keyboard.press("Escape")
        assert np.abs(window.pixels() - exported).max() <= 2


@pytest.mark.thorough
def test_an_answer_that_cannot_be_read_stops_nothing(studio: Studio, page: Page) -> None:
    """It is told, the scene is loaded as it is stored, and the next change goes through; so it is with undo."""
    studio.select("Sign")
    page.evaluate("() => { window.garble = ['edits'] }")
    studio.type("Rotation", "30")
    expect(studio.said()).to_contain_text("The server's answer could not be read.")
    undo_says(studio, "Set rotation of Sign")
    expect(studio.field("Rotation")).to_have_value("30")
    studio.type("Opacity", "60")
    undo_says(studio, "Set opacity of Sign")
    page.evaluate("() => { window.garble = ['undo'] }")
    page.keyboard.press("Control+z")
    expect(studio.field("Opacity")).to_have_value("100")
    undo_says(studio, "Set rotation of Sign")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("undo")).to_be_disabled()


@pytest.mark.thorough
def test_an_outline_sent_in_an_answer_that_came_too_late_is_not_lost(server: Server, page: Page) -> None:
    """A letter typed, given back before its answer is there, and typed again is painted."""
    held: list[Any] = []

    def through(line: WebSocketRoute) -> None:
        upstream = line.connect_to_server()
        upstream.on_message(lambda message: held.append((line, message)) if hold[0] else line.send(message))

    hold = [False]
    page.route_web_socket("**/live", through)
    studio = made(server, page, words("Title", "Low Tide", position=[320, 180])).open("?frame=10")
    studio.select("Title")
    before = studio.pixels()
    text = page.get_by_role("textbox", name="Text", exact=True)
    hold[0] = True
    text.fill("Q")
    page.wait_for_timeout(400)
    page.keyboard.press("Escape")
    hold[0] = False
    for line, message in held:
        line.send(message)
    expect(text).to_have_value("Low Tide")
    assert (studio.pixels() == before).all()
    text.fill("Q")
    page.wait_for_timeout(500)
    tried = studio.pixels()
    page.keyboard.press("Control+Enter")
    undo_says(studio, "Set text of Title")
    assert (studio.pixels() == studio.still(10)).all()
    assert (tried == studio.pixels()).all()
    assert (tried != before).any()


@pytest.mark.thorough
def test_the_playhead_may_leave_while_an_answer_is_on_its_way(server: Server, page: Page) -> None:
    """In a scene of several pieces: where the playhead went meanwhile is painted, of the new revision."""
    page.add_init_script(LAG)
    swing = {"rest": 0, "keys": [{"frame": 0, "value": 0}, {"frame": 550, "value": 720}]}
    long = layer("Plate", rotation=swing, span={"start": 0, "length": 600})
    studio = made(server, page, long, length=600).open("?frame=20")
    studio.select("Plate")
    studio.page.evaluate("() => { window.lag = {resolved: 600} }")
    studio.type("Opacity", "40")
    page.keyboard.press("End")
    expect(studio.picture).to_have_attribute("data-painted", "599")
    undo_says(studio, "Set opacity of Plate")
    page.evaluate("() => { window.lag = {} }")
    page.wait_for_timeout(900)
    assert np.abs(studio.pixels() - studio.still(599)).max() <= 2


@pytest.mark.thorough
def test_keys_and_clicks_wait_for_a_typed_time(studio: Studio, page: Page) -> None:
    """The core reads it: what is pressed before its answer meets what it brought about, whether taken or refused."""
    page.evaluate("() => { window.lag = {'time?': 400} }")
    playhead, field = page.get_by_test_id("playhead"), page.get_by_label("Playhead", exact=True)
    field.fill("1:05")
    for key in ("Enter", "Period", "Shift+Period"):
        page.keyboard.press(key)
    expect(playhead).to_have_attribute("data-frame", "46")
    expect(page.get_by_test_id("stage")).to_be_focused()
    studio.select("Sign")
    field.fill("+4")
    page.keyboard.press("Enter")
    page.keyboard.press("k")
    undo_says(studio, "Keyed")
    assert [key["frame"] for key in studio.layer("Sign")["position"]["keys"]] == [50]
    # A press of a button ends a draft as Enter does, and comes after it.
    page.get_by_role("button", name="In…").click()
    sheet = page.get_by_test_id("bring-in")
    sheet.get_by_label("Length of the move").fill("8")
    sheet.get_by_role("button", name="Bring in").click()
    undo_says(studio, "Brought Sign in")
    assert [key["frame"] for key in studio.layer("Sign")["position"]["keys"]] == [42, 50]
    field.fill("no time")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    expect(field).to_have_value("1:20")
    # Refused, it is back in the hand, and the keys that came after it are dropped.
    field.fill("5 o'clock")
    page.keyboard.press("Enter")
    page.keyboard.press("Period")
    expect(studio.said()).to_contain_text("Playhead: “5 o'clock” is no time: a time is written as 45, 45f, 1:10")
    expect(field).to_be_focused()
    expect(field).to_have_value("5 o'clock")
    expect(playhead).to_have_attribute("data-frame", "50")
    field.fill("3")
    page.keyboard.press("Enter")
    expect(playhead).to_have_attribute("data-frame", "3")
    expect(studio.said()).not_to_contain_text("is no time")
    # While the server is away nothing can be read: the draft stays, and the keys after a moment go their way.
    page.route("**/time?*", lambda route: route.abort())
    field.fill("7")
    page.keyboard.press("Enter")
    expect(studio.said()).to_contain_text("Playhead: The server does not answer.")
    expect(field).to_have_value("7")
    page.keyboard.press("Escape")
    page.keyboard.press("Period")
    expect(playhead).to_have_attribute("data-frame", "4")


@pytest.mark.thorough
def test_what_was_missed_while_the_line_was_away_is_loaded(studio: Studio, server: Server, page: Page) -> None:
    """The line drops, another window edits, a change of one's own waits: all is there once the line is back."""
    studio.select("Sign")
    page.context.set_offline(True)
    page.evaluate("() => { window.lag = {} }")
    other_page = page.context.browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    other = Studio(other_page, server, studio.name).open("?frame=10")
    other.select("Plate")
    other.type("Opacity", "35")
    expect(other_page.get_by_test_id("undo")).to_have_attribute("aria-label", "Undo: Set opacity of Plate")
    studio.type("Rotation", "15")
    expect(studio.said()).to_contain_text("The server does not answer")
    page.context.set_offline(False)
    undo_says(studio, "Set rotation of Sign")
    studio.select("Plate")
    expect(studio.field("Opacity")).to_have_value("35")
    page.keyboard.press("Escape")
    assert np.abs(studio.pixels() - studio.still(10)).max() <= 2
    other_page.context.close()


@pytest.mark.thorough
def test_another_size_of_the_scene_repaints_its_pictures(server: Server, page: Page) -> None:
    """A picture's edge lies otherwise in a smaller frame: what the stage paints is what is exported."""
    studio = Studio(page, server, "Opener").open("?frame=60")
    page.get_by_label("Scene width").click()
    page.get_by_label("Scene width").fill("1280")
    page.keyboard.press("Enter")
    expect(studio.picture).to_have_attribute("width", "1280")
    assert (studio.pixels() == studio.still(60)).all()
    page.keyboard.press("Control+z")
    expect(studio.picture).to_have_attribute("width", "1920")
    assert (studio.pixels() == studio.still(60)).all()


@pytest.mark.thorough
def test_a_picture_that_fails_is_not_fetched_at_every_paint(server: Server, page: Page) -> None:
    asked: list[str] = []

    def fail(route: Any) -> None:
        asked.append(route.request.url)
        route.abort()

    page.route("**/pictures/*/file", fail)
    studio = Studio(page, server, "Opener")
    page.goto(f"{server.url}scene/{studio.scene_id}?frame=60")
    expect(studio.picture).to_have_attribute("data-painted", "60")
    for _ in range(20):
        page.keyboard.press("Period")
    page.wait_for_timeout(300)
    assert len(asked) <= 2
    page.unroute("**/pictures/*/file")
    expect(studio.picture).to_have_attribute("data-ready", "yes", timeout=10_000)
    page.wait_for_timeout(4_500)
    frame = int(studio.picture.get_attribute("data-painted") or 0)
    assert (studio.pixels() == studio.still(frame)).all()


@pytest.mark.thorough
def test_stored_choices_that_cannot_be_read_are_dropped(server: Server, page: Page) -> None:
    """Nonsense in this machine's storage opens the scene as if it were new; what is good in it is kept."""
    scene = server.scene_id("Tide gauge")
    stored = {
        "habits": json.dumps({"state": {"poseProperties": {}, "ripple": "maybe", "carry": "fit"}, "version": 0}),
        "folded": "{oops",
        "colours": "7",
        f"look.{scene}": json.dumps(
            {"state": {"guides": 5, "surround": "pink", "safe": True, "follow": "x"}, "version": 0}
        ),
        f"scene.{scene}": json.dumps({"solo": {}, "laneZoom": "wide", "range": [1], "frame": 9}),
    }
    for name, text in stored.items():
        page.add_init_script(f"localStorage.setItem('mudskipper.{name}', {json.dumps(text)})")
    studio = Studio(page, server, "Tide gauge").open()
    expect(page.get_by_test_id("playhead")).to_have_attribute("data-frame", "9")
    page.get_by_role("button", name="Guides").click()
    expect(page.get_by_label("Title-safe and action-safe")).to_be_checked()
    expect(page.get_by_role("combobox", name="Surround")).to_have_value("mid")
    expect(page.get_by_role("combobox", name="How layers go along with the size")).to_have_value("fit")
    assert (studio.pixels() == studio.still(9)).all()


@pytest.mark.parametrize("again", [1, 9])
@pytest.mark.thorough
def test_a_page_of_another_version_loads_itself_again(server: Server, page: Page, again: int) -> None:
    """Once, and says so; where that does not help it says what to do, and does not load forever."""
    name = server.keep(f"Versions {again}", [layer("Plate")])
    studio = Studio(page, server, name)
    loads, other = [], [again]
    page.on("request", lambda request: loads.append(1) if request.is_navigation_request() else None)

    def answer(route: Route) -> None:
        response = route.fetch()
        message = msgpack.unpackb(response.body())
        if other[0]:
            other[0] -= 1
            message["wire"] = 1
        route.fulfill(response=response, body=msgpack.packb(message))

    page.route("**/resolved?*", answer)
    page.goto(f"{server.url}scene/{studio.scene_id}")
    if again == 1:
        expect(studio.said()).to_contain_text("Mudskipper was updated, and this page was loaded again.")
        expect(studio.picture).to_have_attribute("data-ready", "yes")
    else:
        expect(page.get_by_text("The server is of another version than this page.")).to_be_visible()
        page.wait_for_timeout(400)
    assert len(loads) == 2
