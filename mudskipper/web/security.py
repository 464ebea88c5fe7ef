"""Who may ask: Host and Origin checked, a strict Content-Security-Policy, a password beyond this machine."""

from __future__ import annotations

import base64
import secrets

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .problems import problem

LOCAL = {"localhost", "127.0.0.1", "[::1]"}


class Guard:
    """Refuses foreign hosts and origins, asks for the password where one is set, and adds the headers."""

    def __init__(self, app: ASGIApp, hosts: set[str], password: str | None = None) -> None:
        self.app = app
        self.hosts = hosts
        self.password = password

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        fault = self._fault(scope, headers)
        if fault is not None:
            status, sentence = fault
            if scope["type"] == "websocket":
                await receive()
                await send({"type": "websocket.close", "code": 4403, "reason": sentence})
                return
            answer = problem(status, "Refused", sentence)
            if status == 401:
                answer.headers["WWW-Authenticate"] = 'Basic realm="Mudskipper", charset="UTF-8"'
            await answer(scope, receive, send)
            return
        nonce = secrets.token_urlsafe(16)
        scope.setdefault("state", {})["nonce"] = nonce

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                message["headers"] = [*message.get("headers", []), *self._headers(nonce)]
            await send(message)

        await self.app(scope, receive, guarded)

    def _fault(self, scope: Scope, headers: Headers) -> tuple[int, str] | None:
        host = headers.get("host", "")
        if _name(host) not in self.hosts:
            return 421, f"This server does not answer to the host {host!r}."
        origin = headers.get("origin")
        checked = scope["type"] == "websocket" or scope["method"] not in ("GET", "HEAD", "OPTIONS")
        if checked and origin is not None and origin.partition("://")[2] != host:
            return 403, f"Pages of {origin!r} may not change anything here."
        if self.password is not None and not self._knows(headers.get("authorization", "")):
            return 401, "This server asks for its password."
        return None

    def _knows(self, authorization: str) -> bool:
        kind, _, token = authorization.partition(" ")
        if kind.lower() != "basic":
            return False
        try:
            given = base64.b64decode(token, validate=True).partition(b":")[2]
        except ValueError:
            return False
        return secrets.compare_digest(given, (self.password or "").encode())

    @staticmethod
    def _headers(nonce: str) -> list[tuple[bytes, bytes]]:
        policy = (
            "default-src 'none'; script-src 'self'; font-src 'self'; img-src 'self' blob:; media-src 'self'; "
            f"connect-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; "
            "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
        )
        return [
            (b"content-security-policy", policy.encode()),
            (b"x-content-type-options", b"nosniff"),
            (b"referrer-policy", b"no-referrer"),
            (b"cross-origin-resource-policy", b"same-origin"),
        ]


def _name(host: str) -> str:
    """The host name without its port."""
    if host.startswith("["):
        return host.partition("]")[0] + "]"
    return host.partition(":")[0]
