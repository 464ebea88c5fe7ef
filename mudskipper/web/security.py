"""Who may come in: hosts, origins and kinds of request checked, bodies bounded, a password beyond this machine.

Every answer has a strict Content-Security-Policy, an unexpected fault included.
"""

from __future__ import annotations

import ipaddress
import logging
import secrets
from http.cookies import CookieError, SimpleCookie
from typing import cast
from urllib.parse import parse_qs

from starlette.datastructures import Headers
from starlette.middleware.body_limit import RequestBodyLimitMiddleware
from starlette.responses import HTMLResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .login import PAGE, Brake
from .problem_details import problem

log = logging.getLogger("mudskipper.web")
LOCAL = {"localhost", "127.0.0.1", "::1"}
COOKIE = "mudskipper"
MEGABYTE = 2**20
SAFE = ("GET", "HEAD", "OPTIONS")


SMALL, DOCUMENT, FILE, CLIP = 8, 64, 66, 4_097
"""The most megabytes of a body, by what it holds."""
FILES = ("/pictures", "/art")
"""How the paths end that take files."""


class Guard:
    """Refuses foreign hosts, origins and bodies, asks for the password where one is set, and adds the headers."""

    def __init__(self, app: ASGIApp, hosts: set[str], password: str | None = None) -> None:
        self.hosts = {host_name(host) for host in hosts} | {host.lower() for host in hosts}
        self.password = password
        self.brake = Brake()
        self.sessions: set[str] = set()
        self._inner = app
        self._limits = {
            size: RequestBodyLimitMiddleware(app, max_body_size=size * MEGABYTE)
            for size in (SMALL, DOCUMENT, FILE, CLIP)
        }

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self._inner(scope, receive, send)
            return
        nonce = secrets.token_urlsafe(16)
        scope.setdefault("state", {})["nonce"] = nonce
        started = False

        async def guarded(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                message["headers"] = [*message.get("headers", []), *policy(nonce)]
            await send(message)

        answer = await self._answer(scope, receive, Headers(scope=scope))
        if answer is not None:
            if scope["type"] == "websocket":
                await receive()
                await send({"type": "websocket.close", "code": 4403, "reason": "refused"})
            else:
                await answer(scope, receive, guarded)
            return
        try:
            await self._limits[_most(scope)](scope, receive, guarded)
        except Exception:
            log.exception("%s %s", scope.get("method", "WS"), scope["path"])
            if started or scope["type"] == "websocket":
                raise
            fail = problem(500, "Fault", "The server met a fault of its own. Nothing was changed.", "", "Try it again.")
            await fail(scope, receive, guarded)

    async def _answer(self, scope: Scope, receive: Receive, headers: Headers) -> Response | None:
        """What a request is answered that may not come in; None where it may."""
        host = headers.get("host", "")
        if not self._is_own(host, scope):
            return problem(421, "Refused", f"This server does not answer to the host {host!r}.")
        unsafe = scope["type"] == "websocket" or scope["method"] not in SAFE
        fault = (_foreign(scope, headers, host) or _too_large(scope, headers)) if unsafe else None
        if fault is not None:
            return fault
        if self.password is None:
            return None
        if scope["type"] == "http" and scope["path"] == "/login" and scope["method"] == "POST":
            return await self._login(scope, receive)
        if self._is_known(headers):
            return None
        if scope["type"] == "http" and scope["method"] in SAFE and not scope["path"].startswith("/api"):
            return HTMLResponse(PAGE.format(said=""), 401, {"Cache-Control": "no-store"})
        return problem(401, "Refused", "This server asks for its password.", "", "Open its first page to give it.")

    def _is_own(self, host: str, scope: Scope) -> bool:
        """Whether a Host is one of this server's: a name that it was given, or the very address that was reached."""
        name = host_name(host)
        if name in self.hosts:
            return True
        server = scope.get("server") or ("", 0)
        try:
            return ipaddress.ip_address(name) == ipaddress.ip_address(server[0])
        except ValueError:
            return False

    def _is_known(self, headers: Headers) -> bool:
        try:
            given = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
        except CookieError:
            return False
        return given is not None and given.value in self.sessions

    async def _login(self, scope: Scope, receive: Receive) -> Response:
        """The password given in the page's form: a session's cookie, or why not."""
        who = (scope.get("client") or ("", 0))[0]
        wait = self.brake.wait(who)
        if wait > 0:
            said = f"Too many wrong passwords. Try again in {wait:.0f} seconds."
            return HTMLResponse(PAGE.format(said=said), 429, {"Retry-After": f"{wait:.0f}"})
        body = b""
        while len(body) < 4096:
            message = await receive()
            body += message.get("body", b"")
            if not message.get("more_body"):
                break
        given = parse_qs(body.decode(errors="replace"), keep_blank_values=True).get("password", [""])[0]
        if not secrets.compare_digest(given.encode(), cast(str, self.password).encode()):
            self.brake.failed(who)
            return HTMLResponse(PAGE.format(said="That is not the password."), 401)
        self.brake.passed(who)
        token = secrets.token_urlsafe(32)
        self.sessions.add(token)
        answer = RedirectResponse("/", 303)
        secure = scope.get("scheme") == "https"
        answer.set_cookie(COOKIE, token, httponly=True, samesite="strict", secure=secure, path="/")
        return answer


def _most(scope: Scope) -> int:
    """The limit on bodies that a path has, in megabytes."""
    if scope["path"].endswith("/clips"):
        return CLIP
    if scope["path"].endswith(FILES):
        return FILE
    return DOCUMENT if scope["path"].endswith("/documents") else SMALL


def _too_large(scope: Scope, headers: Headers) -> Response | None:
    """Why a body that says that it is too large is not read; one that does not say is cut off as it comes."""
    given = headers.get("content-length", "")
    size, most = int(given) if given.isdigit() else 0, _most(scope)
    if size <= most * MEGABYTE:
        return None
    sentence = f"What is sent here may hold at most {most} MB, and this holds {size / MEGABYTE:.0f} MB."
    return problem(413, "Refused", sentence, "", "Nothing was changed. Save it smaller, then try again.")


def _foreign(scope: Scope, headers: Headers, host: str) -> Response | None:
    """Why a request that may change something is refused by where it comes from, or by the kind of its body."""
    scheme = {"ws": "http", "wss": "https"}.get(scope.get("scheme", "http"), scope.get("scheme", "http"))
    origin = headers.get("origin")
    if origin is not None and origin.lower() != f"{scheme}://{host}".lower():
        return problem(403, "Refused", f"Pages of {origin!r} may not change anything here.")
    if origin is None and headers.get("sec-fetch-site", "none") not in ("none", "same-origin"):
        return problem(403, "Refused", "Pages of another site may not change anything here.")
    if scope["type"] == "websocket":
        return None
    has_body = headers.get("content-length", "0") != "0" or "transfer-encoding" in headers
    kind = headers.get("content-type", "").partition(";")[0].strip().lower()
    wanted = "application/json"
    if scope["path"].endswith("/clips"):
        wanted = "application/octet-stream"
    elif scope["path"].endswith(FILES):
        wanted = "multipart/form-data"
    elif scope["path"] == "/login":
        wanted = "application/x-www-form-urlencoded"
    if has_body and kind != wanted:
        return problem(415, "Refused", f"This takes {wanted}, and {kind or 'no kind of body'} was given.")
    return None


def policy(nonce: str) -> list[tuple[bytes, bytes]]:
    """The headers of every answer."""
    sources = (
        "default-src 'none'; script-src 'self'; font-src 'self'; img-src 'self' blob:; media-src 'self'; "
        f"connect-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; "
        "base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    )
    return [
        (b"content-security-policy", sources.encode()),
        (b"x-content-type-options", b"nosniff"),
        (b"referrer-policy", b"same-origin"),
        (b"cross-origin-resource-policy", b"same-origin"),
    ]


def host_name(host: str) -> str:
    """A host's name without its port, in small letters; an IPv6 address without its brackets, in its short form."""
    name = host.strip().lower()
    if name.startswith("["):
        name = name[1:].partition("]")[0]
    elif name.count(":") == 1:
        name = name.partition(":")[0]
    name = name.rstrip(".")
    try:
        return str(ipaddress.ip_address(name))
    except ValueError:
        return name
