"""The layers of much art, made in a process of its own: so long as they take, nobody who works on the server waits.

The process reads one JSON object on standard input, and writes a layer a line; what it refuses is one line as well.
"""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import asdict

from ..core.document.read import collection_paused
from ..core.document.scene import Layer, Span
from ..core.ground.errors import Refused
from .art import Art

MUCH = 600
"""Up to this weight layers take a quarter of a second, and the process would take four times as long to start."""
SECONDS = 120


def layers_of(art: Art, span: Span, at: tuple[float, float], *, each: bool) -> tuple[Layer, ...]:
    """As `Art.layers`, in a process of its own where there is much of it. Refused in words as there."""
    if art.weight <= MUCH:
        return art.layers(span, at, each=each)
    asked = {"art": asdict(art), "span": span.model_dump(), "at": at, "each": each}
    command = [sys.executable, "-m", "mudskipper.readers.apart"]
    try:
        child = subprocess.run(command, input=json.dumps(asked).encode(), capture_output=True, timeout=SECONDS)
    except subprocess.TimeoutExpired:
        raise Refused(
            f"Its layers could not be made within {SECONDS} seconds.", where=art.name, mend="Simplify it."
        ) from None
    if child.returncode != 0:
        raise Refused(
            "Its layers could not be made.", where=art.name, mend="Simplify it, or save it again as plain SVG."
        )
    first, *rest = child.stdout.splitlines()
    if refused := json.loads(first).get("refused"):
        raise Refused(refused["sentence"], where=refused["where"], mend=refused["mend"])
    # One at a time: between two others get their turn.
    with collection_paused(len(child.stdout)):
        return tuple(Layer.model_validate_json(line) for line in (first, *rest))


def main() -> None:
    """Make the layers, or say why not."""
    asked = json.load(sys.stdin.buffer)
    art = Art(**{**asked["art"], "notes": tuple(asked["art"]["notes"])})
    try:
        made = art.layers(Span(**asked["span"]), tuple(asked["at"]), each=asked["each"])
    except Refused as no:
        print(json.dumps({"refused": {"sentence": no.sentence, "where": no.where, "mend": no.mend}}))
        return
    for layer in made:
        print(layer.model_dump_json())


if __name__ == "__main__":
    main()
