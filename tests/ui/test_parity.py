"""What the stage shows is what the export holds."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import Server
from tests.ui.studio import Studio


@pytest.mark.parametrize("name", ["Opener", "Tide gauge"])
def test_stage_and_still_are_the_same_picture(server: Server, page: Page, name: str) -> None:
    """Every tenth frame of each demo scene: no channel of any pixel differs by more than 2 of 255."""
    studio = Studio(page, server, name).open()
    worst, over, count = 0, 0, 0
    for frame in range(0, server.document(name)["length"], 10):
        if frame:
            page.keyboard.press("Shift+Period")
        expect(studio.picture).to_have_attribute("data-painted", str(frame))
        gap = np.abs(studio.pixels() - studio.still(frame))
        worst, over, count = (
            max(worst, int(gap.max())),
            over + int((gap > 0).any(axis=2).sum()),
            count + gap[..., 0].size,
        )
    print(f"{name}: largest difference {worst} of 255, {over / count:.4%} of the pixels differ at all")
    assert worst <= 2
