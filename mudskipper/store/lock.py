"""One data folder, one server: a lock that says in words who holds it."""

from __future__ import annotations

import fcntl
import os
import socket
from pathlib import Path
from typing import IO

from ..core.ground.errors import Refused


def hold_folder(folder: Path, address: str) -> IO[str]:
    """Hold a data folder until the file that is returned is closed, or this process ends, however it ends.

    Refused in words, with the holder's process and address, while another server has it.
    """
    file = (folder / "mudskipper.lock").open("a+")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        file.seek(0)
        holder = file.read().strip() or "another server"
        file.close()
        raise Refused(
            f"This data folder is in use by {holder}.",
            where=str(folder),
            mend="Use the one that runs, stop it, or name another folder with --data.",
        ) from None
    file.seek(0)
    file.truncate()
    file.write(f"process {os.getpid()} on {socket.gethostname()}, at {address}")
    file.flush()
    return file
