"""Takes the font of emoji from its package among those of the page, and keeps it as a plain font file.

    python scripts/take_emoji.py frontend/node_modules mudskipper/fonts

Fonts of the web are packed; what shapes text reads them plain.
"""

import shutil
import sys
from pathlib import Path

from fontTools.ttLib import TTFont

PACKAGE, FILE = "twemoji-colr-font", "twemoji.woff2"


def main(modules: Path, into: Path) -> None:
    """Keep the font and its licence in a folder."""
    package = modules / PACKAGE
    font = TTFont(package / FILE)
    font.flavor = None
    into.mkdir(exist_ok=True)
    part = into / "emoji.part"
    font.save(part)
    shutil.copyfile(package / "LICENSE", into / "emoji-LICENSE.txt")
    part.replace(into / "emoji.ttf")


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
