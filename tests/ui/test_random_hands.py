"""Hands that do anything at all: whatever they did, the picture is true and every step can be taken back."""

from __future__ import annotations

import random
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import httpx
import numpy as np
import pytest
from playwright.sync_api import Page, TimeoutError, expect

from mudskipper.core.document.scene import SCHEMA
from tests.conftest import SEARCHING, Server, layer
from tests.ui.studio import Studio

HELD = [(), (), (), ("Shift",), ("Control",), ("Alt",), ("q",), ("w",)]
KEYS = [
    *("ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Shift+ArrowLeft", "Shift+ArrowDown", "Tab", "Shift+Tab"),
    *("Period", "Comma", "Shift+Period", "Shift+Comma", "Home", "End", "Escape", "Delete", "Space", "9", "0"),
    *("Control+z", "Control+z", "Control+Shift+z", "Control+d", "Control+c", "Control+v", "Control+a"),
    *("BracketLeft", "BracketRight"),
]
NUMBERS = ["120", "-40", "+15", "*1.5", "1/3", "1e999", "abc", "", "1/0", "0", "99999999", "٣"]


class Monkey:
    """Does something at random, as quick as the page takes it."""

    def __init__(self, studio: Studio, seed: int) -> None:
        self.studio, self.page, self.dice = studio, studio.page, random.Random(seed)
        self.did: list[str] = []

    def point(self, beyond: float = 0) -> tuple[float, float]:
        """A point of the stage, or as far beyond its edge as told."""
        box = self.page.get_by_test_id("stage").bounding_box()
        assert box
        x, y = (self.dice.uniform(0.01 - beyond, 0.99 + beyond) for _ in "xy")
        return box["x"] + x * box["width"], box["y"] + y * box["height"]

    def drag(self) -> None:
        """From anywhere to anywhere, with or without keys held, given back at times."""
        held = self.dice.choice(HELD)
        start, end = self.point(), self.point(0.2)
        self.did.append(f"drag {start} {end} {held}")
        for key in held:
            self.page.keyboard.down(key)
        self.page.mouse.move(*start)
        self.page.mouse.down()
        steps = self.dice.randint(1, 6)
        for n in range(1, steps + 1):
            self.page.mouse.move(*(a + (b - a) * n / steps for a, b in zip(start, end, strict=True)))
        if self.dice.random() < 0.2:
            self.page.keyboard.press("Escape")
        self.page.mouse.up()
        for key in held:
            self.page.keyboard.up(key)

    def mark(self) -> None:
        """The anchor's mark, where there is one, taken somewhere."""
        mark = self.page.get_by_test_id("anchor-mark")
        box = mark.bounding_box() if mark.is_visible() else None
        if not box:
            return
        start = box["x"] + 12, box["y"] + 12
        end = self.point(0.2)
        self.did.append(f"mark {start} {end}")
        self.page.mouse.move(*start)
        self.page.mouse.down()
        self.page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
        self.page.mouse.move(*end)
        self.page.mouse.up()

    def click(self) -> None:
        """Anywhere on the stage."""
        at = self.point()
        self.did.append(f"click {at}")
        self.page.mouse.click(*at)

    def press(self) -> None:
        """A key on the stage."""
        key = self.dice.choice(KEYS)
        self.did.append(f"press {key}")
        self.page.get_by_test_id("stage").focus()
        self.page.keyboard.press(key)

    def type(self) -> None:
        """Anything into a number of the panel."""
        fields = self.page.get_by_test_id("panel").locator("input[inputmode=decimal]:enabled")
        count = fields.count()
        if not count:
            return
        field, text = fields.nth(self.dice.randrange(count)), self.dice.choice(NUMBERS)
        self.did.append(f"type {text!r} into {field.get_attribute('aria-label', timeout=1000)}")
        field.click(timeout=1000)
        field.fill(text, timeout=1000)
        self.page.keyboard.press("Enter")
        self.page.keyboard.press("Escape")

    def key(self) -> None:
        """Keying begun or ended for a property."""
        pebbles = self.page.get_by_test_id("panel").locator("button[data-testid^=pebble-]")
        count = pebbles.count()
        if count:
            pebble = pebbles.nth(self.dice.randrange(count))
            self.did.append(f"pebble {pebble.get_attribute('data-testid', timeout=1000)}")
            pebble.click(timeout=1000)

    def go(self, steps: int) -> None:
        """So many things, one after another."""
        ways: list[Callable[[], None]] = [self.drag, self.drag, self.mark, self.click, self.press, self.type, self.key]
        for _ in range(steps):
            with suppress(TimeoutError):  # what it reached for was gone before it was there
                self.dice.choice(ways)()


def comparable(document: dict[str, Any]) -> dict[str, Any]:
    """A document without what counts its changes."""
    return {name: value for name, value in document.items() if name != "revision"}


def scene_for(server: Server, seed: int) -> str:
    """A scene with a keyed, a turned and a locked layer; its name."""
    dice = random.Random(seed)
    keyed = {"rest": [100, 100], "keys": [{"frame": 0, "value": [80, 80]}, {"frame": 30, "value": [150, 60]}]}
    layers = [
        layer("Ground", position=[320, 180], scale=[320, 360], locked=True),
        layer("Plate", position=[200, 120], rotation=dice.uniform(-90, 90)),
        layer("Sign", position=[420, 200], scale=keyed, anchor=[0, 0.5]),
    ]
    for one, fill in zip(layers, ("#f6f1e7", "#0e6b61", "#d9482f"), strict=True):
        one["id"] = f"{one['id']}-{seed}"
        one["content"]["items"][0]["fill"] = fill
    document = {"schema": SCHEMA, "name": f"Anyhow {seed}", "width": 640, "height": 360, "length": 60, "layers": layers}
    project = server.get("api/projects")[0]["id"]
    answer = httpx.post(f"{server.url}api/projects/{project}/documents", json=document)
    assert answer.status_code == 201, answer.text
    return document["name"]


def step_through(studio: Studio, way: str, most: int = 10_000) -> int:
    """Undo or redo as long as there is something, or so many steps; how many it were."""
    button, steps = studio.page.get_by_test_id(way), 0
    while steps < most and (words := studio.server.get(f"api/scenes/{studio.scene_id}")[way]):
        expect(button).to_have_attribute("aria-label", f"{way.capitalize()}: {words}")
        with studio.page.expect_response(f"**/{way}*"):
            button.click()
        steps += 1
    return steps


@pytest.mark.parametrize("seed", range(6 if SEARCHING else 1))
@pytest.mark.thorough
def test_anything_can_be_done_and_taken_back(server: Server, page: Page, seed: int) -> None:
    """Forty things at random: no script fails, the stage equals the export, all undone is as it was, redone as well."""
    name = scene_for(server, seed)
    studio = Studio(page, server, name).open("?frame=12")
    first = comparable(server.document(name))
    monkey = Monkey(studio, seed)
    monkey.go(40)
    if page.get_by_test_id("play").inner_text() == "Pause":
        page.get_by_test_id("play").click()
    page.get_by_test_id("stage").focus()
    page.keyboard.press("Escape")
    page.wait_for_timeout(300)
    last = comparable(server.document(name))
    frame = int(studio.picture.get_attribute("data-painted") or -1)
    gap = np.abs(studio.pixels() - studio.still(frame)).max()
    assert gap <= 2, monkey.did
    steps = step_through(studio, "undo")
    assert steps, monkey.did
    assert comparable(server.document(name)) == first, monkey.did
    assert step_through(studio, "redo", steps) == steps
    assert comparable(server.document(name)) == last, monkey.did
