"""Text files in the encodings that spreadsheets and editors write."""

from __future__ import annotations

from ..core.ground.errors import Refused

MARKS = ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))


def text_of(data: bytes, name: str) -> str:
    """A file's text: by its mark, else UTF-8, else Windows-1252; Refused where it is no text.

    >>> text_of("Höhe".encode("cp1252"), "a.csv")
    'Höhe'
    """
    encoding = next((known for mark, known in MARKS if data.startswith(mark)), "utf-8")
    try:
        text = data.decode(encoding)
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    if "\x00" in text or "\ufffd" in text:
        raise Refused("It is no text.", where=name, mend="Save it as text in UTF-8.")
    return text
