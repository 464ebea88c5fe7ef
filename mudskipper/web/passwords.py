"""The password of a server, which may be changed while it runs, and the sessions that it opened."""

from __future__ import annotations

import hashlib
import os
import secrets
import time
from pathlib import Path

from ..core.ground.errors import Refused

FILE = "password"
"""What the data folder's own file is called, written by `mudskipper password`."""
COST = {"n": 2**14, "r": 8, "p": 1}
"""The cost of scrypt (RFC 7914)."""
HASHED = "scrypt:"

IDLE, LONGEST = 12 * 3_600.0, 7 * 24 * 3_600.0
"""Seconds until a session ends that is not used, and until one ends in any case."""
MOST = 1_000
"""The most sessions at a time; beyond them the one that has not been used for longest ends."""


class Password:
    """A password given as a text, or in a file that is read again when it was changed: as it is, or hashed.

    A file that is gone or empty later changes nothing: the server stays as closed as it was.
    """

    def __init__(self, text: str | None = None, file: Path | None = None) -> None:
        self.file = file
        self._stored = text or ""
        self._seen: tuple[int, int] | None = None
        if file is not None:
            self._read(first=True)

    @property
    def is_set(self) -> bool:
        """Whether anything is asked at all."""
        return bool(self._stored)

    def changed(self) -> bool:
        """Whether it is another one than when this was last asked."""
        before = self._stored
        if self.file is not None:
            self._read()
        return self._stored != before

    def fits(self, given: str) -> bool:
        """Whether it is what was given."""
        if not self._stored.startswith(HASHED):
            return secrets.compare_digest(given.encode(), self._stored.encode())
        try:
            salt, known = (bytes.fromhex(part) for part in self._stored.removeprefix(HASHED).split(":"))
        except ValueError:  # a file that was written by hand
            return False
        return secrets.compare_digest(hashlib.scrypt(given.encode(), salt=salt, **COST), known)

    def _read(self, *, first: bool = False) -> None:
        assert self.file is not None
        try:
            about = self.file.stat()
            mark = about.st_mtime_ns, about.st_size
            if mark == self._seen:
                return
            text = self.file.read_text().strip()
        except (OSError, UnicodeDecodeError) as error:
            if first:
                fault = error.strerror if isinstance(error, OSError) else "it is no text"
                raise Refused(f"The file cannot be read: {fault}.", where=str(self.file)) from None
            return
        if not text and first:
            raise Refused("The file holds no password.", where=str(self.file))
        self._seen = mark
        self._stored = text or self._stored


def write_password(folder: Path, text: str) -> Path:
    """Keep a password, hashed, in a data folder; whole or not at all, and readable for its owner alone."""
    if not text.strip():
        raise Refused("A password has at least one letter.", mend="Nothing was changed.")
    salt = secrets.token_bytes(16)
    hashed = HASHED + salt.hex() + ":" + hashlib.scrypt(text.strip().encode(), salt=salt, **COST).hex()
    path, part = folder / FILE, folder / f"{FILE}.{os.getpid()}.part"
    try:
        with open(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
            file.write(hashed + "\n")
            file.flush()
            os.fsync(file.fileno())
        part.replace(path)
    except OSError as error:
        raise Refused(f"It cannot be written: {error.strerror}.", where=str(path)) from None
    return path


class Sessions:
    """Who came in with the password: by a token, for as long as it is used, and no longer than a week."""

    def __init__(self) -> None:
        self._known: dict[str, tuple[float, float]] = {}

    def begin(self) -> str:
        """The token of a new session."""
        token, now = secrets.token_urlsafe(32), time.monotonic()
        self._known[token] = now, now
        while len(self._known) > MOST:
            self._known.pop(next(iter(self._known)))
        return token

    def goes_on(self, token: str, *, use: bool = True) -> bool:
        """Whether a session is there; it is used by asking, unless it is said that it is not."""
        begun, used = self._known.get(token, (0.0, -IDLE))
        now = time.monotonic()
        if not begun or now - used > IDLE or now - begun > LONGEST:
            self._known.pop(token, None)
            return False
        if use:
            # The last one is the one that was used last.
            self._known.pop(token)
            self._known[token] = begun, now
        return True

    def end(self, token: str | None = None) -> None:
        """End a session, or all of them."""
        if token is None:
            self._known.clear()
        else:
            self._known.pop(token, None)
