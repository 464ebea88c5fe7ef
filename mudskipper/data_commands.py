"""Commands that look after a data folder: password, backups, projects as files, whether it holds, rescue."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from .core.ground.errors import Refused

if TYPE_CHECKING:
    from .store.store import Store

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


def restore(
    folder: Annotated[Path, typer.Argument(help="A folder that a backup was written to.")],
    data: Data = HOME,
    replace: Annotated[bool, typer.Option(help="Also where the data folder holds something, which is kept.")] = False,
    anyway: Annotated[bool, typer.Option(help="Also where something in the backup is missing or changed.")] = False,
) -> None:
    """Have a backup as the data folder, once it was found to hold."""
    from .store.backup import restore as restored

    aside = restored(folder, data, replace=replace, anyway=anyway)
    kept = f" What was there is in {aside}." if aside else ""
    _say(f"{data} is as the backup in {folder}.{kept}")


def pack(
    project: Annotated[str, typer.Argument(help="The project, by its name or its id.")],
    out: Annotated[Path, typer.Argument(help="The file to write, such as week.zip.")],
    data: Data = HOME,
) -> None:
    """Write a project as one open file: a ZIP of scenes as JSON, media by their digests, a manifest and schemas."""
    from .store.pack import pack as packed
    from .store.store import Store

    _there(data)
    store = Store(data)
    made = packed(store, _project(store, project), out)
    _say(f"Wrote {len(made.scenes)} scenes and {len(made.media)} media files to {out}.")


def unpack(
    file: Annotated[Path, typer.Argument(help="A file that pack wrote.")],
    data: Data = HOME,
    into: Annotated[str | None, typer.Option(help="A project to take it into; by default a new one.")] = None,
) -> None:
    """Take a packed project in, as a new one, or into another: scenes that are there as they are stay."""
    from .store.lock import hold_folder
    from .store.pack import unpack as unpacked
    from .store.store import Store

    data.mkdir(parents=True, exist_ok=True)
    # A server would not see what comes in beside it.
    with hold_folder(data, "mudskipper unpack"):
        store = Store(data)
        project, said, _ = unpacked(store, file, None if into is None else _project(store, into))
    for sentence in said:
        print(sentence)
    _say(f"Took {file} in as “{store.project(project).name}”.")


def diff(
    before: Annotated[Path, typer.Argument(help="A file that pack wrote.")],
    after: Annotated[Path, typer.Argument(help="Another one.")],
) -> None:
    """Say in words how one packed project differs from another; exit code 1 where it does."""
    from .store.pack import opened_pack, told_apart

    with opened_pack(before) as one, opened_pack(after) as other:
        found = told_apart(one, other)
        for sentence in found:
            print(sentence)
    if found:
        raise typer.Exit(1)
    _say("They hold the same scenes.")


def _project(store: Store, named: str) -> str:
    """A project's id by its name or its id; Refused where there is none, or more than one."""
    known = [(str(row.id), str(row.name)) for row, _ in store.projects()]
    found = [project for project, name in known if named in (project, name)]
    if len(found) != 1:
        what = "There is no project" if not found else "There are several projects"
        raise Refused(f"{what} “{named}”.", mend="; ".join(f"{name}: {project}" for project, name in known))
    return found[0]


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
    app.command()(restore)
    app.command()(pack)
    app.command()(unpack)
    app.command()(diff)
