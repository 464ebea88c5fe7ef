"""The command line: everything that can be done without the server, and the server itself."""

from __future__ import annotations

import gc
import json
import os
import socket
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from .core.document.properties import label_of
from .core.document.scene import SCHEMA, Scene
from .core.ground.errors import Refused
from .data_commands import HOME, Data
from .data_commands import install as add_data_commands
from .render_commands import install as add_render_commands
from .scene_files import Media, SceneFile, console, frame_range, scene_at
from .titles_command import install as add_titles_command

if TYPE_CHECKING:
    from .web.passwords import Password

app = typer.Typer(add_completion=False, no_args_is_help=True, help=__doc__, pretty_exceptions_enable=False)
add_data_commands(app)
add_render_commands(app)
add_titles_command(app)


def main() -> None:
    """Run a command; a refusal is one sentence and exit code 2."""
    try:
        app()
    except Refused as refusal:
        console.print("mudskipper:", style="bold", end=" ")
        console.print(str(refusal))
        sys.exit(2)


@app.command()
def resolve(
    scene: SceneFile,
    frames: Annotated[str, typer.Option(help="FIRST:STOP, the last not included.")],
    out: Annotated[Path, typer.Option(help="The JSON file to write.")],
    media: Media = None,
    strict: Annotated[bool, typer.Option("--strict", help="Exit with 2 where a formula fails.")] = False,
) -> None:
    """Write each layer's matrix, opacity, visibility and box at every frame."""
    import numpy as np

    from .core.resolve.resolved import as_document

    first, stop = frame_range(frames)
    found = scene_at(scene, media).resolve(np.arange(first, stop))
    out.write_text(json.dumps(as_document(found)))
    console.print(f"Wrote {len(found.layers)} layers at {stop - first} frames to {out}.")
    wrong = [
        f"{label_of(path, one.layer)} of '{one.layer.name}': {problem.sentence}"
        for one in found.layers.values()
        for path, problem in one.problems.items()
    ]
    for sentence in wrong:
        print(f"Warning: {sentence}", file=sys.stderr)
    if wrong and strict:
        raise typer.Exit(2)


@app.command()
def explain(
    scene: SceneFile,
    prop: Annotated[str, typer.Option("--property", help='Layer and property, such as "Claw.rotation".')],
    frames: Annotated[str, typer.Option(help="FIRST:STOP, the last not included.")] = "0:10",
    media: Media = None,
) -> None:
    """Print a property's formula, the layers that it reads, and its values."""
    import numpy as np

    from .core.edits.formula_trial import tried
    from .core.formulas.texts import texts_of
    from .core.resolve.formulas.scope import WRITTEN, slugs

    opened = scene_at(scene, media)
    document, assets = opened.document, opened.assets
    name, _, slug = prop.rpartition(".")
    layer = next((one for one in document.layers if one.name == name or one.id == name), None)
    if layer is None:
        raise Refused(f"There is no layer '{name}'.", where="--property", mend='Write "Layer name.rotation".')
    path = slugs(layer).get(slug, slug)
    if path not in layer.tracks:
        raise Refused(
            f"'{layer.name}' has no property '{slug}'.", where="--property", mend=f"It has {', '.join(slugs(layer))}."
        )
    first, stop = frame_range(frames)
    one = opened.resolve(np.arange(first, stop), ids=[layer.id]).layers[layer.id]
    print(f"{label_of(path, layer)} of {layer.name}: {layer.formulas.get(path) or 'no formula'}")
    print(f"Reads: {', '.join(sorted(layer.named)) or 'no other layer'}")
    if path in one.problems:
        print(f"Wrong: {one.problems[path].sentence}")
    values = np.broadcast_to(one.values[path], (stop - first, one.values[path].shape[1]))
    if path == WRITTEN:
        for frame, text in zip(range(first, stop), texts_of(values), strict=True):
            print(f"{frame}: {text if values.shape[1] else layer.content.words}")
        return
    trial = tried(document, assets, layer.id, path, layer.formulas.get(path, ""), first)
    for hint in trial.hints:
        print(f"Perhaps: {hint.sentence} {' '.join(mend.label + '.' for mend in hint.mends)}")
    for frame, row in zip(range(first, stop), values.tolist(), strict=True):
        print(f"{frame}: {', '.join(f'{number:g}' for number in row)}")


@app.command("import")
def import_file(
    file: Annotated[Path, typer.Argument(metavar="FILE", help="An SVG file, a PDF, or animation JSON.")],
    out: Annotated[Path, typer.Option(help="The scene document to write.")],
) -> None:
    """Write what a file holds as a scene: of vector art one shape layer, texts by themselves; of an animation its
    layers, with the scenes within it and its pictures beside the document."""
    try:
        data = file.read_bytes()
    except OSError as error:
        raise Refused(f"It cannot be read: {error.strerror}.", where=str(file)) from None
    scene, notes = _animation(data, file, out) if file.suffix.lower() == ".json" else _art(data, file)
    out.write_text(scene.to_json() + "\n")
    console.print(f"Wrote {scene.width} × {scene.height} px to {out}. {notes}".rstrip())


def _art(data: bytes, file: Path) -> tuple[Scene, str]:
    from .readers.art import notes_in_words, read_art

    found = read_art(data, file.name)
    return found.scene(), notes_in_words(found.notes)


def _animation(data: bytes, file: Path, out: Path) -> tuple[Scene, str]:
    """The whole scene; those within it and the pictures are written beside it."""
    from .readers.animation import read_animation
    from .store.pack import relinked

    beside = {path.name.lower(): path.name for path in file.parent.iterdir() if path.is_file()}
    read = read_animation(data, file.name, beside)
    ids = {}
    for ident, (name, picture) in read.pictures.items():
        ids[ident] = f"{out.stem}-{name}"
        (out.parent / ids[ident]).write_bytes(picture)
    for one in read.scenes[:-1]:
        (out.parent / f"{one.id}.json").write_text(relinked(one, ids).to_json() + "\n")
    return relinked(read.scenes[-1], ids), " ".join(read.notes)


@app.command()
def check(
    scene: SceneFile,
    media: Media = None,
    pictures: Annotated[bool, typer.Option(help="Look at the painted pictures, and listen to the sound, too.")] = False,
) -> None:
    """Say whether a scene document holds, and what the checks find in it."""
    opened = scene_at(scene, media)
    document = opened.document
    console.print(f"{scene.name} holds: '{document.name}', {len(document.layers)} layers, {document.length} frames.")
    for finding in opened.check(pictures=pictures):
        print(f"{finding.check}: {finding.sentence}{' (left as it is)' if finding.left else ''}")


@app.command()
def edit(
    scene: SceneFile,
    edits: Annotated[Path, typer.Argument(metavar="EDITS.json", help="A list of edits, as the API takes them.")],
    out: Annotated[Path, typer.Option(help="The scene document to write.")],
    media: Media = None,
) -> None:
    """Apply typed edits to a scene document."""
    opened = scene_at(scene, media)
    try:
        given = json.loads(edits.read_bytes())
    except ValueError as error:
        raise Refused(f"It is no JSON: {error}.", where=edits.name) from None
    if not isinstance(given, list):
        raise Refused("It must be a list of edits, as the API takes them.", where=edits.name)
    outcome = opened.edit(*given)
    opened.save(out)
    console.print(f"{outcome.words}. {' '.join(outcome.notices)}")


@app.command()
def schema(out: Annotated[Path | None, typer.Option(help="A file; by default the screen.")] = None) -> None:
    """Write the JSON Schema of scene documents."""
    head = {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": SCHEMA}
    _write(json.dumps(head | Scene.model_json_schema(by_alias=True), indent=1), out)


@app.command(hidden=True)
def openapi(out: Path) -> None:
    """Write the API's OpenAPI document, from which the front end's types are made."""
    from .store.store import Store
    from .web.app import create_app

    with tempfile.TemporaryDirectory() as folder:
        document = create_app(Store(Path(folder))).openapi()
    out.parent.mkdir(parents=True, exist_ok=True)
    _write(json.dumps(document, indent=1), out)


@app.command(hidden=True)
def wire(out: Path) -> None:
    """Write the version of the messages that the page reads, as its own constant."""
    from .web.wire import page_file

    out.write_text(page_file())


@app.command()
def serve(
    data: Data = HOME,
    host: Annotated[str, typer.Option(help="Another address than this machine's own needs a password.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(help="0 picks a free one.")] = 8765,
    password_file: Annotated[
        Path | None, typer.Option(help="A file that holds the password; or set MUDSKIPPER_PASSWORD, or be asked.")
    ] = None,
    certificate: Annotated[Path | None, typer.Option(help="A certificate (PEM): serves over https.")] = None,
    key: Annotated[Path | None, typer.Option(help="The certificate's key (PEM).")] = None,
    demo: Annotated[bool, typer.Option("--demo", help="Put the demo project in first.")] = False,
) -> None:
    """Serve the application."""
    import uvicorn

    from .store.faults import disk_faults
    from .store.lock import hold_folder
    from .store.store import Store
    from .web.app import create_app
    from .web.passwords import Password
    from .web.security import LOCAL

    password = password_of(password_file, data)
    if host not in LOCAL and not password.is_set and sys.stdin.isatty():
        asked = typer.prompt(f"Password for those who come to {host}", hide_input=True, confirmation_prompt=True)
        password = Password(asked)
    if host not in LOCAL and not password.is_set:
        raise Refused(
            f"Serving {host} opens your work to others, and no password was given.",
            where="--host",
            mend="Give one with mudskipper password, --password-file or MUDSKIPPER_PASSWORD, or leave --host out.",
        )
    if (certificate is None) != (key is None):
        raise Refused("A certificate and its key belong together.", where="--certificate", mend="Give --key as well.")
    try:
        data.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refused(f"The data folder cannot be made: {error.strerror}.", where=str(data)) from None
    listener = listen(host, port)
    scheme = "https" if certificate else "http"
    shown = f"{scheme}://{host if ':' not in host else f'[{host}]'}:{listener.getsockname()[1]}/"
    with disk_faults(data):
        held = hold_folder(data, shown)
        store = Store(data)
        if demo:
            from .demo.low_tide_week import fill_store

            fill_store(store)
    print(f"Mudskipper is at {shown}", flush=True)
    # The address at which a visitor reached the server is accepted as well as these names.
    hosts = {socket.gethostname(), socket.getfqdn(), *({host} if host not in ("0.0.0.0", "::") else ())}
    service = create_app(store, hosts=hosts, password=password)
    # Uncompressed: a trial's answer goes over the loopback faster than it is squeezed.
    config = uvicorn.Config(
        service, log_level="warning", ws_max_size=2**22, ws_per_message_deflate=False,
        ssl_certfile=certificate, ssl_keyfile=key, timeout_graceful_shutdown=4,
    )  # fmt: skip
    # Who waits for another's long calculation gets a turn five times as often as Python gives by itself.
    sys.setswitchinterval(0.001)
    # What is there by now stays: searches for garbage leave it out.
    gc.freeze()
    uvicorn.Server(config).run(sockets=[listener])
    held.close()


def listen(host: str, port: int) -> socket.socket:
    """A listening socket; Refused in words where the port is taken."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
        listener.listen(128)
    except OSError as error:
        raise Refused(
            f"Port {port} of {host} cannot be used: {error.strerror}.",
            where="--port", mend="Name another with --port, or --port 0 for any that is free.",
        ) from None  # fmt: skip
    return listener


def password_of(file: Path | None, data: Path) -> Password:
    """The password in a file, else the environment's, else the data folder's; never one of the command line, which
    others can see."""
    from .web.passwords import FILE, Password

    given = os.environ.get("MUDSKIPPER_PASSWORD")
    if file is None and not given and (data / FILE).exists():
        file = data / FILE
    return Password(file=file) if file else Password(given)


@app.command()
def bench(minutes: float = 10.0) -> None:
    """Measure the speed targets, each beside its reference in the same run; needs Chromium and the test packages.

    The demo is played for MINUTES to see that its memory holds.
    """
    try:
        from .bench import run
    except ImportError as error:
        raise Refused(f"It needs a package of the tests: {error.name}.", mend="Run make bench.") from None
    run(lambda line: print(f"- {line}", flush=True), minutes)


def _write(text: str, out: Path | None) -> None:
    if out is None:
        print(text)
    else:
        out.write_text(text + "\n")


if __name__ == "__main__":
    main()
