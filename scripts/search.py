"""Run the random searches of the tests with fresh seeds, round after round, for as many minutes as are given.

    make search MINUTES=30

The smallest case that fails is printed with its seed; it becomes an example of its test.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time

SEARCHES = [
    "tests/core/test_pictures_kept.py", "tests/core/test_foreign.py", "tests/core/test_any_edits.py",
    "tests/core/test_sums.py", "tests/core/test_formulas.py", "tests/core/test_strokes.py", "tests/core/test_paths.py",
    "tests/core/test_items.py", "tests/core/test_source_time.py", "tests/core/test_nesting.py",
    "tests/core/test_carrying.py", "tests/core/test_masks.py", "tests/core/test_moves.py", "tests/core/test_text.py",
    "tests/core/test_setting.py", "tests/paint",
]  # fmt: skip
"""Files whose tests draw their cases."""


INTERRUPTED = 180
"""Seconds that tests have to end and to tell what failed, once the time is over."""


def main() -> int:
    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 30.0
    end = time.monotonic() + 60 * minutes
    number = 0
    while time.monotonic() < end:
        number += 1
        given = os.environ.get("MUDSKIPPER_SEED")
        seed = int(given) if given else int.from_bytes(os.urandom(4))
        print(f"Round {number}, seed {seed}.", flush=True)
        environment = {**os.environ, "MUDSKIPPER_SEARCH": "yes", "MUDSKIPPER_SEED": str(seed)}
        command = [sys.executable, "-m", "pytest", "-x", "-n", "2", f"--hypothesis-seed={seed}", *SEARCHES]
        if failed(command, environment, end):
            print(f"Found by: MUDSKIPPER_SEARCH=yes MUDSKIPPER_SEED={seed} pytest --hypothesis-seed={seed}", flush=True)
            return 1
    print("Nothing was found.")
    return 0


def failed(command: list[str], environment: dict[str, str], end: float) -> bool:
    """Whether a round found something; one that lasts beyond the end is interrupted, and tells what it has found."""
    running = subprocess.Popen(
        command, env=environment, stdout=subprocess.PIPE, text=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.default_int_handler),
    )  # fmt: skip
    at_end = [
        threading.Timer(max(end - time.monotonic(), 1.0), running.send_signal, [signal.SIGINT]),
        threading.Timer(max(end - time.monotonic(), 1.0) + INTERRUPTED, running.kill),
    ]
    for timer in at_end:
        timer.start()
    found = False
    assert running.stdout
    for line in running.stdout:
        print(line, end="", flush=True)
        found |= line.startswith("FAILED")
    for timer in at_end:
        timer.cancel()
    running.wait()
    return found


if __name__ == "__main__":
    sys.exit(main())
