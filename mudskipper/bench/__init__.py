"""`mudskipper bench`: the speed targets, each measured beside its reference in the same run."""

from __future__ import annotations

from collections.abc import Callable

from .clips import bench_clips
from .effects import bench_effects
from .exporting import bench_export
from .hand import bench_pointer
from .letters import bench_letters
from .pages import bench_pages
from .playing import bench_time
from .resolving import bench_edit, bench_growth, bench_resolve
from .sample import CHROMIUM
from .storing import bench_store
from .typing import bench_typing


def run(say: Callable[[str], None] = print, minutes: float = 10) -> None:
    """Run all of it, a line a figure; `minutes` is how long the demo is played to see that memory holds."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as play:
        browser = play.chromium.launch(**CHROMIUM)
        bench_resolve(say, browser)
        bench_edit(say)
        bench_growth(say)
        bench_store(say)
        bench_clips(say, browser)
        bench_typing(say, browser)
        bench_letters(say, browser)
        bench_effects(say, browser)
        bench_time(say, browser, minutes)
        browser.close()
    bench_pointer(say)
    bench_pages(say)
    bench_export(say)
