"""Commands that look after a data folder: password, backups, whether it holds, what can be read of a damaged one."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer

from .core.ground.errors import Refused

Data = Annotated[Path, typer.Option(envvar="MUDSKIPPER_DATA", help="The folder that holds projects and media.")]
HOME = Path.home() / ".local" / "share" / "mudskipper"


def password(data: Data = HOME) -> None:
    """Give the data folder a password, or another one. A server that runs with it takes the new one at once, and ends
    all sessions; not one that got another by --password-file or MUDSKIPPER_PASSWORD."""
    from .web.passwords import write_password

    _there(data)
    if sys.stdin.isatty():
        text = typer.prompt("New password", hide_input=True, confirmation_prompt=True)
    else:
        text = sys.stdin.readline()
    path = write_password(data, text)
    _say(f"The password is kept, hashed, in {path}. A server that runs without one asks for it from its next start on.")


def backup(
    folder: Annotated[Path, typer.Argument(help="An empty folder, or one that holds a backup to be renewed.")],
    data: Data = HOME,
) -> None:
    """Back the data folder up, also while a server works on it, and read the backup back; exports are not in it."""
    from .store.backup import back_up

    _there(data)
    made = back_up(data, folder)
    for sentence in made.lacks:
        print(sentence)
    holds = "It holds." if not made.lacks else f"It holds what {data} does: {len(made.lacks)} found there, as listed."
    _say(f"Backed up to {folder}: the database and {made.files} media files, {made.copied} copied now. {holds}")


def check_data(data: Data = HOME) -> None:
    """Read every document and every file of the data folder, and say what is wrong; exit code 1 where anything is."""
    from .store.check_data import faults_in

    _there(data)
    wrong = 0
    for sentence in faults_in(data):
        wrong += 1
        print(sentence)
    _say(f"{data} holds." if not wrong else f"{wrong} found in {data}.")
    if wrong:
        raise typer.Exit(1)


def rescue(
    folder: Annotated[Path, typer.Argument(help="An empty folder.")],
    data: Data = HOME,
) -> None:
    """Write what can be read of a damaged data folder: each scene as a document, in its newest state, and the media."""
    from .store.rescue import rescue as rescued

    _there(data)
    scenes, files = rescued(data, folder)
    _say(f"Wrote {scenes} scenes and {files} media files to {folder}. Nothing in {data} was changed.")


def _there(data: Path) -> None:
    if not data.is_dir():
        raise Refused("There is no such data folder.", where=str(data), mend="Name one with --data.")


def _say(sentence: str) -> None:
    print(sentence, file=sys.stderr)


def install(app: typer.Typer) -> None:
    """Add the commands."""
    app.command()(password)
    app.command()(backup)
    app.command("check-data")(check_data)
    app.command()(rescue)
