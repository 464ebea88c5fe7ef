"""The application as a user has it: the real page, its visible controls, and the pixels of its stage."""

from __future__ import annotations

import base64
import io
from typing import Any

import httpx
import numpy as np
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from mudskipper.core.contents.assets import Assets, PictureInfo
from mudskipper.core.document.read import scene_of
from mudskipper.core.geometry.transform import apply
from mudskipper.core.resolve.context import Context
from mudskipper.core.resolve.layers import ResolvedLayer
from tests.conftest import Server

# A page whose answers are late (`window.lag = {part of an address: milliseconds}`) or cannot be read (`window.garble`).
LAG = """
  window.lag = {};
  window.garble = [];
  const fetched = window.fetch.bind(window);
  window.fetch = async (what, how) => {
    const address = typeof what === 'string' ? what : what.url;
    const late = Object.entries(window.lag).filter(([part]) => address.includes(part)).map(([, ms]) => ms);
    const answer = await fetched(what, how);
    if (late.length) await new Promise(go => setTimeout(go, Math.max(...late)));
    const garbled = window.garble.findIndex(part => address.includes(part));
    if (garbled < 0) return answer;
    window.garble.splice(garbled, 1);
    return new Response('{"scene": {"name": ', {status: 200, headers: {'Content-Type': 'application/json'}});
  };
"""


def decoded(png: bytes) -> np.ndarray:
    """A PNG as (height, width, 4) numbers 0…255, r g b a."""
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA")).astype(np.int32)


def at_rest(page: Page) -> None:
    """Wait until the pose strip has the room that it needs, one line where there is no pose, and the lanes the rest."""
    page.wait_for_function(
        """() => {
          const { room, poses } = document.querySelector('[data-testid=pose-strip]').dataset;
          const empty = poses === '0' && !document.querySelector('[data-testid=key-table]');
          return room === (empty ? 'line' : 'cards');
        }"""
    )


def middle(of: Locator) -> tuple[float, float]:
    """The middle of an element, in page pixels, once the lanes have come to rest below the pose strip."""
    at_rest(of.page)
    box = of.bounding_box()
    assert box
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


class Studio:
    """One window on one scene."""

    def __init__(self, page: Page, server: Server, name: str) -> None:
        self.page, self.server, self.name = page, server, name
        self.scene_id = server.scene_id(name)

    def open(self, query: str = "") -> Studio:
        """Open the scene, and wait until its picture is painted."""
        self.page.goto(f"{self.server.url}scene/{self.scene_id}{query}")
        expect(self.picture).to_have_attribute("data-ready", "yes", timeout=60_000)
        return self

    @property
    def picture(self) -> Locator:
        """The stage's canvas."""
        return self.page.get_by_test_id("picture")

    @property
    def marks(self) -> Locator:
        """The canvas over the picture: lines, motion, and what the hands can take; it tells what is lit and noted."""
        return self.page.get_by_test_id("marks")

    def row(self, name: str) -> Locator:
        """A layer's row in the lanes."""
        return self.page.get_by_role("listitem", name=name, exact=True)

    def select(self, name: str) -> None:
        """Select a layer by its name in the lanes, and wait until these have come to rest below the pose strip."""
        self.row(name).get_by_role("button", name=name, exact=True).click()
        # A pointer that stays in the lanes may be about to click again: they wait for it.
        self.page.mouse.move(640, 1)
        expect(self.row(name)).to_have_attribute("data-selected", "yes")
        at_rest(self.page)

    def deselect(self) -> None:
        """Select nothing by Esc, and wait until the lanes have come to rest."""
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_test_id("pose-strip")).to_have_attribute("data-room", "line")

    def go(self, frame: int) -> None:
        """Bring the playhead to a frame by keys alone."""
        self.page.get_by_test_id("stage").focus()
        self.page.keyboard.press("Home")
        for _ in range(frame // 10):
            self.page.keyboard.press("Shift+Period")
        for _ in range(frame % 10):
            self.page.keyboard.press("Period")
        expect(self.page.get_by_test_id("playhead")).to_have_attribute("data-frame", str(frame))
        expect(self.picture).to_have_attribute("data-painted", str(frame))

    def resolved(self, name: str, frame: float) -> ResolvedLayer:
        """A layer as it is stored, resolved at a frame by the core."""
        scene = scene_of(self.stored())
        pictures = {p["id"]: PictureInfo(**{k: p[k] for k in ("id", "width", "height")}) for p in self.pictures()}
        (layer,) = [one for one in scene.layers if one.name == name]
        return Context(scene, Assets(pictures)).one(layer, frame)

    def pictures(self) -> list[dict[str, Any]]:
        """The pictures of the scene's project."""
        project = self.server.get(f"api/scenes/{self.scene_id}")["project"]
        return self.server.get(f"api/projects/{project}/pictures")

    def point(self, name: str, share: tuple[float, float], frame: float) -> tuple[float, float]:
        """A point of a layer's box in the scene, by its fractions."""
        one = self.resolved(name, frame)
        x, y = apply(one.matrix[0], one.box[0, :2] + np.array(share) * one.box[0, 2:])
        return float(x), float(y)

    def answered(self) -> None:
        """Wait until no edit is under way."""
        self.page.wait_for_function("() => !Number(document.documentElement.dataset.underWay ?? 0)")

    def stored(self) -> dict[str, Any]:
        """The scene's document as it is stored, once all edits are answered."""
        self.answered()
        return self.server.document(self.name)

    def steps(self) -> list[str]:
        """The words of the scene's history up to where it stands, once all edits are answered."""
        self.answered()
        return self.server.steps(self.name)

    def settle(self) -> None:
        """Wait until no edit is under way, and for two painted frames: the canvas shows what is in the store."""
        self.answered()
        self.page.evaluate("() => new Promise(go => requestAnimationFrame(() => requestAnimationFrame(go)))")

    def pixels(self) -> np.ndarray:
        """The stage's canvas, (height, width, 4) bytes."""
        self.settle()
        expect(self.picture).to_have_attribute("data-ready", "yes")
        return decoded(base64.b64decode(self.picture.evaluate("canvas => canvas.toDataURL().split(',')[1]")))

    def still(self, frame: int) -> np.ndarray:
        """The exporter's picture of a frame."""
        data = httpx.get(f"{self.server.url}api/scenes/{self.scene_id}/still?frame={frame}").content
        return decoded(data)

    def to_page(self, x: float, y: float) -> tuple[float, float]:
        """A scene point in page pixels."""
        box = self.picture.bounding_box()
        assert box
        width = self.picture.evaluate("canvas => canvas.width")
        scale = box["width"] / width
        return box["x"] + x * scale, box["y"] + y * scale

    def comes_to(self, point: tuple[float, float], place: tuple[float, float]) -> None:
        """Wait until a scene point lies at a place of the page, in page pixels, to 1.5."""
        for _ in range(100):
            gap = np.abs(np.subtract(self.to_page(*point), place)).max()
            if gap <= 1.5:
                return
            self.page.wait_for_timeout(30)
        raise AssertionError(f"{point} is {gap} pixels from {place}")

    def drag(
        self,
        start: tuple[float, float],
        end: tuple[float, float],
        *,
        drop: bool = True,
        hold: str = "",
        keys: tuple[str, ...] = (),
        by: tuple[float, ...] = (0.2, 0.6, 1.0),
    ) -> None:
        """Drag between two scene points with the mouse."""
        mouse = self.page.mouse
        if hold:
            self.page.keyboard.down(hold)
        mouse.move(*self.to_page(*start))
        for key in keys:
            self.page.keyboard.down(key)
        mouse.down()
        for step in by:
            mouse.move(*self.to_page(*(a + (b - a) * step for a, b in zip(start, end, strict=True))))
            self.page.wait_for_timeout(40)
        if drop:
            mouse.up()
        for key in keys:
            self.page.keyboard.up(key)
        if hold:
            self.page.keyboard.up(hold)

    def layer(self, name: str) -> dict[str, Any]:
        """A layer as it is stored, once all edits are answered."""
        return next(one for one in self.stored()["layers"] if one["name"] == name)

    def field(self, name: str) -> Locator:
        """A number of the panel."""
        return self.page.get_by_role("textbox", name=name, exact=True)

    def type(self, name: str, text: str) -> None:
        """Type into a number of the panel, and take it."""
        self.field(name).click()
        self.field(name).fill(text)
        self.page.keyboard.press("Enter")

    def said(self) -> Locator:
        """The line that says what was done or what was wrong."""
        return self.page.get_by_test_id("said")
