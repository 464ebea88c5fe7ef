"""Another machine's name without another machine: a network of its own, with a host name and an address in it."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

NAME, ADDRESS = "harbour", "192.0.2.7"
SET_UP = f"""
ip link set lo up && ip addr add {ADDRESS}/32 dev lo && hostname {NAME} &&
printf '127.0.0.1 localhost\\n{ADDRESS} {NAME}\\n' > "$1" && mount --bind "$1" /etc/hosts &&
echo ready && exec sleep 600
"""


@contextmanager
def other_host(folder: Path) -> Iterator[list[str] | None]:
    """The words before a command that run it on a host called `NAME`, for the time of a block; None where this system
    lets nobody make namespaces."""
    command = [
        "unshare",
        "--map-root-user",
        "--net",
        "--mount",
        "--uts",
        "sh",
        "-c",
        SET_UP,
        "sh",
        str(folder / "hosts"),
    ]
    try:
        holder = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    except FileNotFoundError:
        yield None
        return
    try:
        assert holder.stdout
        made = holder.stdout.readline() == "ready\n"
        entered = [
            "nsenter",
            "--target",
            str(holder.pid),
            "--user",
            "--net",
            "--mount",
            "--uts",
            "--preserve-credentials",
        ]
        yield [*entered, "--"] if made else None
    finally:
        holder.kill()
        holder.wait()
