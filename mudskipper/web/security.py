"""Who may come in: hosts, origins and kinds of request checked, bodies bounded, a password beyond this machine.

Every answer has a strict Content-Security-Policy, an unexpected fault included.
"""

from __future__ import annotations

import ipaddress
import logging
import secrets
from http.cookies import CookieError, SimpleCookie
from urllib.parse import parse_qs

from anyio import to_thread
from starlette.datastructures import Headers
from starlette.middleware.body_limit import RequestBodyLimitMiddleware
from starlette.requests import ClientDisconnect
from starlette.responses import HTMLResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .login import Brake, login_page, own_path
from .passwords import Password, Sessions
from .problem_details import problem

log = logging.getLogger("mudskipper.web")
LOCAL = {"localhost", "127.0.0.1", "::1"}
COOKIE = "mudskipper"
ENDED = 4401
"""With which a socket is closed whose session has ended."""
MEGABYTE = 2**20
SAFE = ("GET", "HEAD", "OPTIONS")


SMALL, DOCUMENT, FILE, FONT, CLIP = 8, 64, 66, 130, 4_097
"""The most megabytes of a body, by what it holds."""
FILES = ("/pictures", "/art", "/fonts", "/take-in")
"""How the paths end that take files."""


class Guard:
    """Refuses foreign hosts, origins and bodies, asks for the password where one is set, and adds the headers."""

    def __init__(self, app: ASGIApp, hosts: set[str], password: Password | None = None) -> None:
        self.hosts = {host_name(host) for host in hosts} | {host.lower() for host in hosts}
        self.password = password or Password()
        self.brake = Brake()
        self.sessions = Sessions()
        self._inner = app
        self._limits = {
            size: RequestBodyLimitMiddleware(app, max_body_size=size * MEGABYTE)
            for size in (SMALL, DOCUMENT, FILE, FONT, CLIP)
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

        headers = Headers(scope=scope)
        answer = await self._answer(scope, receive, headers)
        if answer is not None:
            if scope["type"] == "websocket":
                await receive()
                await send({"type": "websocket.close", "code": 4403, "reason": "refused"})
            else:
                await answer(scope, receive, guarded)
            return
        answering: Send = guarded
        if scope["type"] == "websocket":
            receive, answering = self._while_known(headers, receive, guarded)
        try:
            await self._limits[_most(scope)](scope, receive, answering)
        except ClientDisconnect:
            pass  # who asked went away with the request half sent
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
        if not self.password.is_set:
            return None
        if scope["type"] == "http" and scope["method"] == "POST" and scope["path"] in ("/login", "/logout"):
            return await (self._login(scope, receive) if scope["path"] == "/login" else self._logout(headers))
        if self._is_known(headers):
            return None
        if scope["type"] == "http" and scope["method"] in SAFE and not scope["path"].startswith("/api"):
            query = scope["query_string"].decode("latin-1")
            place = scope["path"] + (f"?{query}" if query else "")
            return HTMLResponse(login_page(to=place), 401, {"Cache-Control": "no-store"})
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

    def _is_known(self, headers: Headers, *, use: bool = True) -> bool:
        if not self.password.is_set:
            return True
        if self.password.changed():
            self.sessions.end()
        token = _token(headers)
        return token is not None and self.sessions.goes_on(token, use=use)

    def _while_known(self, headers: Headers, receive: Receive, send: Send) -> tuple[Receive, Send]:
        """What a socket receives and is sent, until its session ends; what it is sent does not use the session."""
        ended = False

        async def end() -> None:
            nonlocal ended
            if not ended:
                ended = True
                await send({"type": "websocket.close", "code": ENDED, "reason": "the session has ended"})

        async def received() -> Message:
            message = await receive()
            if message["type"] != "websocket.receive" or (not ended and self._is_known(headers)):
                return message
            await end()
            return {"type": "websocket.disconnect", "code": ENDED}

        async def sent(message: Message) -> None:
            if ended or (message["type"] == "websocket.send" and not self._is_known(headers, use=False)):
                await end()
            else:
                await send(message)

        return received, sent

    async def _logout(self, headers: Headers) -> Response:
        """End a session; the page then asks for the password."""
        token = _token(headers)
        if token is not None:
            self.sessions.end(token)
        answer = Response(status_code=204)
        answer.delete_cookie(COOKIE, path="/")
        return answer

    async def _login(self, scope: Scope, receive: Receive) -> Response:
        """The password given in the page's form: a session's cookie, or why not."""
        who = (scope.get("client") or ("", 0))[0]
        wait = self.brake.wait(who)
        if wait > 0:
            said = f"Too many wrong passwords. Try again in {wait:.0f} seconds."
            return HTMLResponse(login_page(said), 429, {"Retry-After": f"{wait:.0f}"})
        body = b""
        while len(body) < 4096:
            message = await receive()
            body += message.get("body", b"")
            if not message.get("more_body"):
                break
        fields = parse_qs(body.decode(errors="replace"), keep_blank_values=True)
        given, to = (fields.get(name, [""])[0] for name in ("password", "to"))
        if self.password.changed():
            self.sessions.end()
        if not await to_thread.run_sync(self.password.fits, given):
            self.brake.failed(who)
            return HTMLResponse(login_page("That is not the password.", to), 401)
        self.brake.passed(who)
        token = self.sessions.begin()
        answer = RedirectResponse(own_path(to), 303)
        secure = scope.get("scheme") == "https"
        answer.set_cookie(COOKIE, token, httponly=True, samesite="strict", secure=secure, path="/")
        return answer


def _token(headers: Headers) -> str | None:
    """The session that a request says it is of."""
    try:
        given = SimpleCookie(headers.get("cookie", "")).get(COOKIE)
    except CookieError:
        return None
    return None if given is None else str(given.value)


def _most(scope: Scope) -> int:
    """The limit on bodies that a path has, in megabytes."""
    if scope["path"].endswith("/clips"):
        return CLIP
    if scope["path"].endswith("/fonts"):
        return FONT
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
