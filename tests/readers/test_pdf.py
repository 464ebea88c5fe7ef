"""The first page of a PDF as layers: painted as the page is that it was made of."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser

from mudskipper.core.ground.errors import Refused
from mudskipper.export.frames import on_colour
from mudskipper.opened import LoneScene
from mudskipper.readers.art import read_art
from tests.export.test_web_formats import gap_of

DRAWN = """<svg width="400" height="304" viewBox="0 0 400 304" style="position:absolute;left:0;top:0">
<rect x="20" y="30" width="120" height="80" rx="12" fill="#0e6b61"/>
<path d="M200 40C260 10 330 90 280 140S180 120 200 40Z" fill="#f2b544" fill-opacity=".6" stroke="#123456"
  stroke-width="5" stroke-dasharray="12 7" stroke-linejoin="round"/>
<path fill-rule="evenodd" d="M60 160h120v100h-120zM90 180h60v60h-60z" fill="#a33"/>
<clipPath id="c"><circle cx="300" cy="220" r="45"/></clipPath>
<g clip-path="url(#c)"><rect x="240" y="180" width="100" height="60" fill="#36c" transform="rotate(20 300 220)"/></g>
</svg>"""
STYLE = "<style>@page { size: 400px 304px; margin: 0 } body { margin: 0 } p { margin: 270px 0 0 20px }</style>"


def test_a_page_is_painted_as_it_was_drawn(browser: Browser) -> None:
    """Paths, holes, dashes, what is seen through, clips; texts as texts; a second page is left out, and said."""
    page = browser.new_page(viewport={"width": 400, "height": 304})
    page.set_content(f"{STYLE}{DRAWN}")
    real = np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB")).astype(int)
    words = '<p style="font: 24px DejaVu Sans">Low tide at six</p><p style="break-before: page">Gulls</p>'
    shapes = page.pdf(width="400px", height="304px", print_background=True)
    page.set_content(f"{STYLE}{words}")
    texts = page.pdf(width="400px", height="304px", print_background=True)
    page.close()
    art = read_art(shapes, "poster.pdf")
    assert (art.name, art.notes, round(art.width)) == ("poster", (), 400)
    got = LoneScene(on_colour(art.scene(), "#ffffffff")).paint(0)[..., :3].astype(int)
    flat, edges = gap_of(got, real[: len(got)])
    assert flat <= 0.05
    assert edges <= 0.3
    art = read_art(texts, "words.pdf")
    assert [one.content.words for one in art.scene().layers] == ["Low tide at six"]
    assert any("after the first (1)" in one for one in art.notes)


@pytest.mark.parametrize("data", [b"%PDF-1.7", b"%PDF-1.7\n" + b"x" * 4_000, b"%PDF-1.4\n1 0 obj<<>>endobj"])
def test_what_is_no_pdf_is_told_so(data: bytes) -> None:
    with pytest.raises(Refused, match="no PDF that can be read"):
        read_art(data, "a.pdf")
