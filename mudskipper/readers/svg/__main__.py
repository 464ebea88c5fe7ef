"""A file on standard input as JSON on standard output, within limits of memory and time."""

from __future__ import annotations

import json
import resource
import sys

from .art import read_art
from .document import Unreadable

SECONDS = 20
MEMORY = 1024**3


def main() -> None:
    """Read the file, or say why not."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    sys.setrecursionlimit(5_000)
    try:
        answer = read_art(sys.stdin.buffer.read())
    except Unreadable as fault:
        answer = {"refused": fault.sentence, "mend": fault.mend}
    except RecursionError:
        answer = {"refused": "Its elements lie too deep in one another.", "mend": "Flatten its groups."}
    json.dump(answer, sys.stdout)


if __name__ == "__main__":
    main()
