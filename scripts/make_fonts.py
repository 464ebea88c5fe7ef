"""Turn unpacked web-font packages (woff2, OFL) into the TrueType files that ship in mudskipper/fonts.

Needs `pip install brotli`. Usage: python scripts/make_fonts.py UNPACKED_PACKAGE…, each a folder that
`npm pack @fontsource-variable/NAME` was unpacked to. Only run when a family is added or renewed.
"""

import sys
from pathlib import Path

from fontTools.ttLib import TTFont

TARGET = Path(__file__).resolve().parent.parent / "mudskipper" / "fonts"

for folder in map(Path, sys.argv[1:]):
    (licence,) = folder.glob("LICENSE")
    for source in folder.glob("files/*-wght-*.woff2"):
        family, _, rest = source.stem.partition("-latin")
        if not rest:
            continue
        subset = "latin-ext" if rest.startswith("-ext") else "latin"
        style = source.stem.rsplit("-", 1)[1]
        font = TTFont(source)
        font.flavor = None
        font.save(TARGET / f"{family}-{style}-{subset}.ttf")
        (TARGET / f"{family}-OFL.txt").write_text(licence.read_text())
