"""The password: asked for by a page, kept as a session that ends, changed while the server runs; in a real browser."""

from __future__ import annotations

import re
import shlex
import socket
import subprocess
from contextlib import nullcontext
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Browser, expect
from starlette.websockets import WebSocketDisconnect

from mudskipper.core.ground.errors import Refused
from mudskipper.store.store import Store
from mudskipper.web.app import create_app
from mudskipper.web.login import Brake, own_path
from mudskipper.web.passwords import IDLE, LONGEST, MOST, Password, Sessions, write_password
from tests.conftest import CHROMIUM, Server
from tests.web.conftest import HOST
from tests.web.other_host import NAME, other_host
from tests.web.test_security import is_problem


def test_a_password_opens_a_session(tmp_path: Path) -> None:
    """Asked by a page, kept as a cookie that no script reads and no other site sends; guessing is slowed down."""
    app = create_app(Store(tmp_path), password="mud")
    with TestClient(app, base_url=HOST, follow_redirects=False) as client:
        assert "asks for its password" in is_problem(client.get("/api/projects"), 401)
        page = client.get("/scene/x")
        assert page.status_code == 401
        assert 'type="password"' in page.text
        with pytest.raises(WebSocketDisconnect), client.websocket_connect("ws://127.0.0.1/api/scenes/x/live"):
            pass
        wrong = client.post("/login", data={"password": "dry"})
        assert (wrong.status_code, "set-cookie" in wrong.headers) == (401, False)
        right = client.post("/login", data={"password": "mud"})
        assert (right.status_code, right.headers["location"]) == (303, "/")
        cookie = right.headers["set-cookie"].lower()
        assert "httponly" in cookie
        assert "samesite=strict" in cookie
        assert "secure" not in cookie
        assert client.get("/api/projects").status_code == 200
        assert client.get("/api/facts").json()["password"]
        client.cookies.clear()
        client.cookies.set("mudskipper", "guessed")
        assert client.get("/api/projects").status_code == 401
        tries = [client.post("/login", data={"password": f"no {n}"}).status_code for n in range(40)]
        assert tries.count(401) <= 6
        assert tries[-1] == 429
        assert client.post("/login", data={"password": "mud"}).status_code == 429


def test_the_brake_lets_go(monkeypatch: pytest.MonkeyPatch) -> None:
    clock = [100.0]
    monkeypatch.setattr("mudskipper.web.login.time.monotonic", lambda: clock[0])
    brake = Brake()
    for _ in range(7):
        brake.failed("a")
    assert brake.wait("a") == pytest.approx(4)
    assert brake.wait("b") == 0
    clock[0] += 4
    assert brake.wait("a") == 0
    brake.passed("a")
    brake.failed("a")
    assert brake.wait("a") == 0


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> list[float]:
    """The time that sessions go by."""
    now = [5_000.0]
    monkeypatch.setattr("mudskipper.web.passwords.time.monotonic", lambda: now[0])
    return now


def test_a_session_ends_when_it_is_left_and_after_a_week(clock: list[float]) -> None:
    sessions = Sessions()
    left, used = sessions.begin(), sessions.begin()
    for _ in range(30):
        clock[0] += IDLE * 0.6
        if not sessions.goes_on(used):
            break
    assert LONGEST < clock[0] - 5_000 < LONGEST + IDLE
    assert not sessions.goes_on(left)
    # To be told of others' changes does not use a session.
    told = sessions.begin()
    for _ in range(3):
        clock[0] += IDLE * 0.4
        heard = sessions.goes_on(told, use=False)
    assert not heard
    first = sessions.begin()
    more = [sessions.begin() for _ in range(MOST)]
    assert (sessions.goes_on(first), sessions.goes_on(more[0])) == (False, True)
    sessions.end(more[0])
    assert (sessions.goes_on(more[0]), sessions.goes_on(more[1])) == (False, True)


@pytest.mark.parametrize(
    ("to", "own"),
    [("/scene/9?frame=3", "/scene/9?frame=3"), ("//evil.example", "/"), ("/\\evil.example", "/"),
     ("https://evil.example", "/"), ("", "/"), ("/a\r\nSet-Cookie: x", "/")],
)  # fmt: skip
def test_the_way_back_stays_on_this_server(to: str, own: str) -> None:
    assert own_path(to) == own


def test_a_password_is_changed_while_the_server_runs(tmp_path: Path) -> None:
    """By the command line; every session ends with it, an open socket too. A file that is gone opens nothing."""
    path = write_password(tmp_path, "mud")
    assert "mud" not in path.read_text()
    assert path.stat().st_mode & 0o077 == 0
    app = create_app(Store(tmp_path / "data"), password=Password(file=path))
    with TestClient(app, base_url=HOST, follow_redirects=False) as client:
        client.post("/login", data={"password": "mud"})
        project = client.post("/api/projects", json={"name": "P"}).json()["id"]
        plain = {"name": "S", "width": 64, "height": 36, "length": 10}
        made = client.post(f"/api/projects/{project}/scenes", json=plain).json()["scene"]["id"]
        with client.websocket_connect(f"ws://127.0.0.1/api/scenes/{made}/live") as live:
            write_password(tmp_path, "silt")
            live.send_text("{}")
            with pytest.raises(WebSocketDisconnect) as ended:
                live.receive_bytes()
        assert ended.value.code == 4401
        # One that only listens is told nothing more, either.
        client.post("/login", data={"password": "silt"})
        with client.websocket_connect(f"ws://127.0.0.1/api/scenes/{made}/live") as live:
            write_password(tmp_path, "clay")
            app.state.hub.announce(made, type="revision", revision=9)
            with pytest.raises(WebSocketDisconnect) as ended:
                live.receive_bytes()
        assert ended.value.code == 4401
        write_password(tmp_path, "silt")
        assert client.get("/api/projects").status_code == 401
        assert client.post("/login", data={"password": "mud"}).status_code == 401
        path.unlink()
        assert client.get("/api/projects").status_code == 401
        assert client.post("/login", data={"password": "silt"}).status_code == 303
        assert client.get("/api/projects").status_code == 200
        assert client.post("/logout").status_code == 204
        assert client.get("/api/projects").status_code == 401
    for text in ("", "  \n"):
        with pytest.raises(Refused, match="at least one letter"):
            write_password(tmp_path, text)


@pytest.mark.parametrize(
    ("scheme", "host"), [pytest.param("https", "localhost", marks=pytest.mark.thorough), ("http", NAME)]
)
def test_a_browser_logs_in_works_and_logs_out(browser: Browser, tmp_path: Path, scheme: str, host: str) -> None:
    """By the names of this machine, and by one that others know it by, in a network of its own: back to the page that
    was asked for; an edit is seen in a second window, a picture comes in, and after logging out nothing is told any
    more."""
    with other_host(tmp_path) if host == NAME else nullcontext([]) as there:
        if there is None:
            there, host = [], socket.gethostname()
        _logs_in_works_and_logs_out(browser, tmp_path, scheme, host, there)


def _logs_in_works_and_logs_out(browser: Browser, tmp_path: Path, scheme: str, host: str, there: list[str]) -> None:
    (tmp_path / "password").write_text("mud\n")
    options = ["--host", "0.0.0.0", "--password-file", str(tmp_path / "password")]
    if scheme == "https":
        made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost"]
        made += ["-keyout", str(tmp_path / "key.pem"), "-out", str(tmp_path / "cert.pem")]
        if subprocess.run(made, capture_output=True, check=False).returncode:
            pytest.skip("openssl is not here to make a certificate")
        options += ["--certificate", str(tmp_path / "cert.pem"), "--key", str(tmp_path / "key.pem")]
    server = Server(tmp_path / "data", options=options, before=there)
    server.start()
    port = server.url.rstrip("/").rpartition(":")[2]
    url = f"{scheme}://{host}:{port}/"
    args = [*CHROMIUM.split(), "--ignore-certificate-errors"]
    if not there:
        args.append(f"--host-resolver-rules=MAP {host} 127.0.0.1")
    program = tmp_path / "chromium"
    program.write_text(f'#!/bin/sh\nexec {shlex.join([*there, "/usr/bin/chromium-headless-shell"])} "$@"\n')
    program.chmod(0o755)
    chromium = browser.browser_type.launch(executable_path=program, args=args)
    page = chromium.new_context(viewport={"width": 1280, "height": 800}).new_page()
    try:
        page.goto(url)
        for word in ("dry", "mud"):
            page.get_by_label("Password of this server").fill(word)
            page.keyboard.press("Enter")
        page.get_by_test_id("scene-card").first.click()
        expect(page.get_by_test_id("undo")).to_be_visible()
        here = page.url
        assert page.context.cookies()[0]["secure"] is (scheme == "https")
        other = page.context.new_page()
        other.goto(here)
        expect(other.get_by_test_id("undo")).to_be_visible()
        page.get_by_role("button", name="Add", exact=True).first.click()
        page.get_by_test_id("picture-file").set_input_files(Path(__file__).parents[2] / "docs/screenshots/home.png")
        expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("^Undo: Added"))
        expect(other.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("^Undo: Added"))
        page.goto(url)
        page.get_by_role("button", name="Log out").click()
        expect(page.get_by_label("Password of this server")).to_be_visible()
        assert other.evaluate("() => fetch('/api/projects').then((answer) => answer.status)") == 401
        here += "?frame=12"
        other.goto(here)
        other.get_by_label("Password of this server").fill("mud")
        other.keyboard.press("Enter")
        expect(other.get_by_test_id("undo")).to_be_visible()
        assert other.url == here
    finally:
        chromium.close()
        server.kill()


@pytest.mark.thorough
def test_what_was_edited_when_the_session_ended_is_sent_after_the_next_login(browser: Browser, tmp_path: Path) -> None:
    (tmp_path / "password").write_text("mud\n")
    server = Server(tmp_path / "data", options=["--password-file", str(tmp_path / "password")])
    server.start()
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    try:
        page.goto(server.url)
        page.get_by_label("Password of this server").fill("mud")
        page.keyboard.press("Enter")
        page.get_by_test_id("scene-card").first.click()
        expect(page.get_by_test_id("undo")).to_be_visible()
        page.context.clear_cookies()
        page.keyboard.press("b")
        expect(page.get_by_test_id("said")).to_contain_text("The session has ended. The change is kept here")
        other = page.context.new_page()
        other.goto(server.url)
        other.get_by_label("Password of this server").fill("mud")
        other.keyboard.press("Enter")
        expect(other.get_by_test_id("scene-card").first).to_be_visible()
        expect(page.get_by_test_id("undo")).to_have_attribute("aria-label", re.compile("^Undo: .*beat"))
    finally:
        page.context.close()
        server.kill()
