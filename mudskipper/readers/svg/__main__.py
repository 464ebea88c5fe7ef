"""A file on standard input as JSON on standard output, within limits of memory and time."""

from __future__ import annotations

import json
import resource
import sys

from .art import read_art
from .document import Unreadable, is_pdf

SECONDS = 20
MEMORY = 1024**3


def main() -> None:
    """Read the file, or say why not."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    sys.setrecursionlimit(5_000)
    try:
        data = sys.stdin.buffer.read()
        notes: list[str] = []
        if is_pdf(data):
            from .pdf import svg_of_pdf

            data, notes = svg_of_pdf(data)
        answer = read_art(data)
        answer["notes"] += notes
    except Unreadable as fault:
        answer = {"refused": fault.sentence, "mend": fault.mend}
    except RecursionError:
        answer = {"refused": "Its elements lie too deep in one another.", "mend": "Flatten its groups."}
    json.dump(answer, sys.stdout)


if __name__ == "__main__":
    main()
