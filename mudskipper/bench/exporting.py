"""Export: painting and encoding against skia alone plus the encoder alone; two processes against one."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from ..core.contents.assets import Assets, PictureInfo
from ..core.resolve.drawing import draw_list
from ..core.resolve.resolved import resolve
from ..demo.harbour import harbour
from ..demo.low_tide_week import opener
from ..export.film import Film
from ..export.frames import frames_of
from ..export.media_loader import load_picture
from ..export.order import make_order
from ..export.processes import process_pool
from ..export.render import render_file
from ..export.writers.base import Run
from ..export.writers.picture_files import PNGFile
from ..export.writers.pixels import encode_chunk
from ..export.writers.stills import Still
from ..export.writers.webm import WebM
from ..media.files import MediaFiles
from ..paint.painter import Painter
from .sample import best


def bench_export(say: Callable[[str], None]) -> None:
    """Painting and encoding against skia alone plus the encoder alone; two processes against one."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "harbour.png"
        path.write_bytes(harbour())
        scene = opener("harbour")
        info = Assets({"harbour": PictureInfo(id="harbour", width=1920, height=1080)})
        files, form = MediaFiles({"harbour": str(path)}), WebM()
        order = make_order(scene, info, files, "webm", 0, 96)
        count = 24
        pixels = [p.pixels() for p in frames_of(scene, info, files, range(count))]
        encoder = best(
            lambda: form.encode(Path(folder) / "e", iter(pixels), Film((1920, 1080), (30, 1))), 1
        )  # fmt: skip
        drawing = draw_list(resolve(scene, np.arange(count), info))
        painter = Painter(1920, 1080, lambda *_: load_picture(str(path)))

        def skia_alone() -> None:
            for index in range(count):
                painter.paint(drawing, index)
                painter.pixels(premultiplied=True)

        painted = best(skia_alone, 2)
        whole = best(lambda: encode_chunk(form, order, files, 0, count, str(Path(folder) / "c")), 1)
        say(f"1080p frames painted and encoded (WebM): {whole / count:.1f} ms a frame, skia alone {painted / count:.1f} + "
            f"encoder alone {encoder / count:.1f} ms: {(painted + encoder) / whole:.2f} of what they allow (target 0.9)")  # fmt: skip
        times = []
        for workers in (1, 2):
            with process_pool(workers) as pool:
                list(pool.map(int, range(workers * 2)))
                for n in range(workers * 2):
                    pool.submit(
                        encode_chunk, Still("png", PNGFile()), order, files, 0, 1, str(Path(folder) / f"w{n}")
                    ).result()
                begin = time.perf_counter()
                render_file(order, files, Path(folder) / "o.webm", Run(Path(folder) / f"work{workers}", pool))
                times.append(time.perf_counter() - begin)
        say(
            f"96 frames by one process {times[0]:.1f} s, by two {times[1]:.1f} s: {times[0] / times[1]:.2f} × (target 1.8 ×)"
        )
