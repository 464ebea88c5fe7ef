"""What tests share: a small scene, a server of one's own, and Debian's Chromium."""

from __future__ import annotations

import functools
import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import httpx
import pytest
from hypothesis import settings
from playwright.sync_api import Browser, Error, Page, expect, sync_playwright

from mudskipper.core.document.read import scene_of
from mudskipper.core.document.scene import SCHEMA, Scene
from mudskipper.demo.low_tide_week import fill_store
from mudskipper.store.store import Store

CHROMIUM = "--no-sandbox --disable-gpu --disable-background-networking --disable-component-update --disable-sync"

TRIALS = int(os.environ.get("MUDSKIPPER_TRIALS", "1"))
"""How many times longer than in the suite the trials of trust are: killed servers, generated requests, pictures."""

# A busy machine may take any time over an example. The suite searches from fixed seeds, so that it gives the same
# answer every time; `make search` searches afresh for as long as it is given.
settings.register_profile("mudskipper", deadline=None, derandomize=True, database=None)
settings.register_profile("search", deadline=None, max_examples=2_000, print_blob=True)
settings.register_profile("quick", settings.get_profile("mudskipper"), max_examples=40)
SEARCHING = os.environ.get("MUDSKIPPER_SEARCH", "") == "yes"
THOROUGH = os.environ.get("MUDSKIPPER_THOROUGH", "") == "yes"
settings.load_profile("search" if SEARCHING else "mudskipper" if THOROUGH else "quick")
EXAMPLES = 1_500 if SEARCHING else 16 if THOROUGH else 8
"""Random cases of a test that draws its own."""


def cases(number: int, **more: Any) -> settings:
    """
    How many cases a test draws: all before each hand-in (`make test-all`), fewer in each run, and when searching
    sixteen times as many, of fresh seeds.
    """
    drawn = number * 16 if SEARCHING else number if THOROUGH else min(number, max(8, number * 2 // 5))
    return settings(max_examples=drawn, derandomize=not SEARCHING, deadline=None, **more)


FIRST = int(os.environ.get("MUDSKIPPER_SEED", "0"))
"""From which seed it draws them."""

# A busy machine takes longer to answer than httpx waits by default. And httpx reads the system's certificates for each
# request, which takes longer than most answers.
for _name in ("get", "post", "put", "delete"):
    setattr(httpx, _name, functools.partial(getattr(httpx, _name), timeout=60, verify=False, trust_env=False))

# Two windows and a server share the machine with as much again of another worker.
expect.set_options(timeout=15_000)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest files first, so that no worker is left with one of them at the end."""
    folders = ["ui", "web", "export", "store", "media", "readers", "paint", "core"]
    items.sort(key=lambda item: folders.index(item.path.parent.name))


def layer(name: str = "Plate", **tracks: Any) -> dict[str, Any]:
    """Data of a layer with a 200 × 100 rectangle that is there for 60 frames."""
    item = {"shape": "rectangle", "size": [200, 100], "fill": "#0e3f45"}
    return {
        "id": name.lower(),
        "name": name,
        "span": {"start": 0, "length": 60},
        "content": {"kind": "shape", "items": [item]},
        "position": [320, 180],
        **tracks,
    }


def scene(*layers: dict[str, Any], **fields: Any) -> Scene:
    """A 640 × 360 scene of 60 frames."""
    base = {"schema": SCHEMA, "name": "Test", "width": 640, "height": 360, "length": 60, "layers": list(layers)}
    return scene_of(base | fields)


@dataclass
class Server:
    """A served application with the demo project, in a folder of its own."""

    folder: Path
    url: str = ""
    process: subprocess.Popen[str] | None = None
    packages: str = ""
    """A folder of packages that it finds besides those that are installed."""
    options: list[str] = field(default_factory=list)
    before: list[str] = field(default_factory=list)
    """The words before its command."""
    read: int = 0
    """How much of its log was read."""

    def start(self, port: int = 0) -> None:
        """Start it, and wait for the address it prints."""
        serve = [sys.executable, "-m", "mudskipper.cli", "serve", "--demo", "--port", str(port)]
        self.command = [*self.before, *serve, *self.options, "--data", str(self.folder)]
        paths = [path for path in (self.packages, os.environ.get("PYTHONPATH", "")) if path]
        environment = {**os.environ, "PYTHONUNBUFFERED": "1", "PYTHONPATH": os.pathsep.join(paths)}
        with self.log.open("a") as log:
            self.process = subprocess.Popen(
                self.command, stdout=subprocess.PIPE, stderr=log, text=True, env=environment
            )
        assert self.process.stdout
        self.url = self.process.stdout.readline().split()[-1]

    @property
    def log(self) -> Path:
        """What it writes to stderr."""
        return self.folder.with_name(f"{self.folder.name}.log")

    def faults(self) -> str:
        """What its log holds since it was asked last, where that tells of a fault of the server; else nothing."""
        text = self.log.read_text(errors="replace") if self.log.exists() else ""
        new, self.read = text[self.read :], len(text)
        return new[new.index("Traceback") :] if "Traceback" in new else ""

    def kill(self) -> None:
        """Kill it as a power cut would."""
        if self.process:
            self.process.kill()
            self.process.wait()

    def get(self, path: str) -> Any:
        """JSON of a path."""
        return httpx.get(self.url + path.lstrip("/")).raise_for_status().json()

    def scene_id(self, name: str) -> str:
        """The id of a demo scene."""
        return next(s["id"] for p in self.get("api/projects") for s in p["scenes"] if s["name"] == name)

    def document(self, name: str) -> dict[str, Any]:
        """A demo scene's document as it is stored."""
        return self.get(f"api/scenes/{self.scene_id(name)}")["scene"]

    def keep(self, name: str, layers: list[dict[str, Any]], **fields: Any) -> str:
        """A new scene of 640 × 360 and 60 frames with these layers, in the first project; its name."""
        document = {"schema": SCHEMA, "name": name, "width": 640, "height": 360, "length": 60, "layers": layers}
        project = self.get("api/projects")[0]["id"]
        answer = httpx.post(f"{self.url}api/projects/{project}/documents", json=document | fields)
        assert answer.status_code == 201, answer.text
        return name

    def steps(self, name: str) -> list[str]:
        """The words of a scene's history up to where it stands."""
        steps = self.get(f"api/scenes/{self.scene_id(name)}/history?first=0&count=500")["steps"]
        here = next(i for i, step in enumerate(steps) if step["here"])
        return [step["words"] for step in steps[1 : here + 1]]


@contextmanager
def serving(folder: Path) -> Iterator[Server]:
    """A server on a folder, killed at last."""
    served = Server(folder)
    served.start()
    try:
        yield served
    finally:
        served.kill()


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """A server for the tests of a module."""
    with serving(tmp_path_factory.mktemp("data")) as served:
        yield served


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """Debian's Chromium, without a screen."""
    with sync_playwright() as play:
        browser = play.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=[*CHROMIUM.split(), "--no-first-run"]
        )
        yield browser
        browser.close()


class Window:
    """A window of 1280 × 800 that goes from test to test: opening a scene in it takes half the time of opening one in a
    new window. A test that changes what a new address does not undo gets it for the last time."""

    CHANGES = ("add_init_script", "route", "set_viewport_size", "set_offline")

    def __init__(self, browser: Browser) -> None:
        self._browser = browser
        self._page: Page | None = None
        self.faults: list[str] = []

    def page(self) -> Page:
        """The window, empty, and nothing stored in it."""
        if self._page is None:
            context = self._browser.new_context(
                viewport={"width": 1280, "height": 800}, accept_downloads=True, reduced_motion="reduce"
            )
            page = self._page = context.new_page()
            page.on("pageerror", lambda error: self.faults.append(str(error)))
            page.on(
                "console",
                lambda told: self.faults.append(told.text) if "Content Security Policy" in told.text else None,
            )
            self._changed = False
            for of in (page, context):
                for name in self.CHANGES:
                    if hasattr(of, name):
                        setattr(of, name, self._noting(getattr(of, name)))
        self.faults.clear()
        return self._page

    def _noting(self, change: Callable[..., Any]) -> Callable[..., Any]:
        @functools.wraps(change)
        def noted(*given: Any, **named: Any) -> Any:
            self._changed = True
            return change(*given, **named)

        return noted

    def empty(self) -> None:
        """Make it as if it were new."""
        page = self._page
        if page is None or self._changed or page.is_closed():
            self.close()
            return
        for other in page.context.pages:
            if other is not page:
                other.close()
        try:
            page.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
        except Error:
            self.close()
            return
        origin = page.evaluate("() => location.origin")
        page.goto("about:blank")
        # What the page wrote while it was left.
        page.context.new_cdp_session(page).send(
            "Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "local_storage,indexeddb"}
        )
        page.mouse.up()
        page.mouse.move(-9, -9)
        for key in ("Shift", "Control", "Alt", "Space"):
            page.keyboard.up(key)

    def close(self) -> None:
        """Close it; the next test gets a new one."""
        if self._page is not None:
            self._page.context.close()
            self._page = None


@pytest.fixture(scope="session")
def window(browser: Browser) -> Iterator[Window]:
    """The window of the tests."""
    window = Window(browser)
    yield window
    window.close()


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo's project, filled once: tests copy it (`filled`)."""
    folder = tmp_path_factory.mktemp("demo")
    fill_store(Store(folder))
    return folder


@pytest.fixture(scope="session")
def filled(demo_data: Path) -> Callable[[Path], Path]:
    """Makes a folder, which is not there or empty, a data folder with the demo's project."""
    return lambda folder: Path(shutil.copytree(demo_data, folder, dirs_exist_ok=True))


@pytest.fixture
def page(window: Window) -> Iterator[Page]:
    """A window of 1280 × 800 as if it were new; a script error in it fails the test."""
    yield window.page()
    faults = list(window.faults)
    window.empty()
    assert not faults
