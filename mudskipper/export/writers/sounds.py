"""What is heard of a scene, alone."""

from __future__ import annotations

import shutil
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar

import av
import numpy as np

from ...core.ground.errors import Refused
from ...core.resolve.context import Context
from ...core.resolve.sound.mix import heard
from ..frames import sound_of
from .base import Cancelled, Format, Run, whole

if TYPE_CHECKING:
    from ...core.contents.assets import Assets
    from ...core.document.scene import Scene
    from ...media.files import MediaFiles
    from ..order import Order

FULL = 2**31 - 1


class SoundFile(Format):
    """A file of sound: 48,000 samples a second of 24 bits, stereo."""

    group = "sound"
    sound = True
    codec: ClassVar[str]
    container: ClassVar[str]

    def note(self, transparent: bool) -> str:
        return "What is heard alone: 48 kHz, 24 bits, stereo, without loss."

    def check_scene(self, scene: Scene, assets: Assets) -> None:
        if not heard(scene, Context(scene, assets)):
            raise Refused(
                f"Nothing is heard in '{scene.name}', so that it makes no {self.label}.",
                mend="Add a sound, or turn up the layers that are silent.",
            )

    def write(
        self, scene: Scene, assets: Assets, files: MediaFiles, order: Order, out: Path, run: Run
    ) -> tuple[str, ...]:
        sound = sound_of(scene, assets, files, order.first, order.stop)
        assert sound is not None
        over = written = 0
        with whole(out) as part, av.open(str(part), "w", format=self.container) as file:
            stream = file.add_stream(self.codec, rate=sound.rate, layout="stereo", format="s32")
            stream.codec_context.options = self.options
            for block in sound.blocks:
                if run.stopped():
                    raise Cancelled
                over += int((np.abs(block) > 1.0).any(axis=1).sum())
                whole_numbers = np.rint(np.clip(block.astype(np.float64), -1.0, 1.0) * FULL).astype(np.int32)
                frame = av.AudioFrame.from_ndarray(whole_numbers.reshape(1, -1), format="s32", layout="stereo")
                frame.sample_rate, frame.pts, frame.time_base = sound.rate, written, Fraction(1, sound.rate)
                file.mux(stream.encode(frame))
                written += len(block)
                run.progress(min((order.stop - order.first) * written // max(sound.count, 1), order.film.count))
            file.mux(stream.encode(None))
        shutil.rmtree(run.work, ignore_errors=True)
        return (f"{over} samples were over full scale and are cut there.",) if over else ()

    options: ClassVar[dict[str, str]] = {}


class WAV(SoundFile):
    """A WAV file."""

    kind = "wav"
    label = "WAV"
    suffix = ".wav"
    media_type = "audio/wav"
    codec = "pcm_s24le"
    container = "wav"


class FLAC(SoundFile):
    """A FLAC file."""

    kind = "flac"
    label = "FLAC"
    suffix = ".flac"
    media_type = "audio/flac"
    codec = "flac"
    container = "flac"
