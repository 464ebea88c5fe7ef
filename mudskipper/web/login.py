"""The page that asks for the password, and the brake on guessing it."""

from __future__ import annotations

import html
import time

PAGE = """<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Mudskipper</title>
<body style="font:16px sans-serif;background:#fbf8f2;color:#1b2628;display:grid;place-items:center;height:90vh">
<form method="post" action="/login">
<h1 style="font-size:20px;color:#0e6b61">mudskipper</h1>
<p role="alert">{said}</p><input type="hidden" name="to" value="{to}">
<label>Password of this server <input type="password" name="password" autofocus autocomplete="current-password">
</label> <button>Come in</button>
</form></body></html>"""


def login_page(said: str = "", to: str = "/") -> str:
    """The page that asks for the password, and leads to an address of this server."""
    return PAGE.format(said=html.escape(said), to=html.escape(own_path(to)))


def own_path(to: str) -> str:
    """An address within this server, or its first page where it is another's."""
    return to if to.startswith("/") and to[1:2] not in ("/", "\\") and to.isprintable() and to.isascii() else "/"


FREE = 5
LONGEST = 60.0
MOST = 1_000


class Brake:
    """After a few wrong passwords from an address each further one costs a wait, twice as long as the one before."""

    def __init__(self) -> None:
        self._wrong: dict[str, tuple[int, float]] = {}

    def wait(self, who: str) -> float:
        """The seconds until an address may try again."""
        return max(self._wrong.get(who, (0, 0.0))[1] - time.monotonic(), 0.0)

    def failed(self, who: str) -> None:
        """A wrong password from an address."""
        count = self._wrong.pop(who, (0, 0.0))[0] + 1
        seconds = min(2.0 ** (count - FREE), LONGEST) if count >= FREE else 0.0
        self._wrong[who] = (count, time.monotonic() + seconds)
        while len(self._wrong) > MOST:
            self._wrong.pop(next(iter(self._wrong)))

    def passed(self, who: str) -> None:
        """The right one."""
        self._wrong.pop(who, None)
