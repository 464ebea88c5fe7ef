"""The formats of files; a new one is a file of its own and a line here."""

from ...core.ground.kinds import Named
from ..film import Film
from .animation_json import AnimationJSON
from .apng import AnimatedPNG
from .av1 import AV1, WebMAV1
from .base import Format
from .edit_formats import SUBTITLES, Chapters, EditList, OpenTimeline, ValuesCSV, ValuesXLSX
from .gif import GIF
from .mov import ProRes, ProResAlpha
from .mp4 import H265, MP4
from .picture_files import AVIFFile, EXRFile, JPEGFile, PNGFile, TIFFFile, WebPFile
from .sequence import PictureSequence
from .sounds import FLAC, WAV
from .stills import Still
from .svg import AnimatedSVG, SVGStill
from .web_animation import CSS, WebAnimations
from .web_page import WebPage
from .webm import WebM
from .webp import AnimatedWebP

OWN: tuple[Format, ...] = (
    WebM(), WebMAV1(), MP4(), H265(), AV1(), ProRes(), ProResAlpha(), GIF(), AnimatedWebP(), AnimatedPNG(),
    PictureSequence("sequence", PNGFile()), PictureSequence("sequence-jpeg", JPEGFile()),
    PictureSequence("sequence-webp", WebPFile()), PictureSequence("sequence-tiff", TIFFFile()),
    PictureSequence("sequence-exr", EXRFile()), Still("png", PNGFile()), Still("jpeg", JPEGFile()),
    Still("webp-still", WebPFile()), Still("avif", AVIFFile()), SVGStill(), WAV(), FLAC(),
    WebPage(), AnimatedSVG(), CSS(), WebAnimations(), AnimationJSON(), OpenTimeline(), *SUBTITLES,
    Chapters(), EditList(), ValuesCSV(), ValuesXLSX(),
)  # fmt: skip

FORMATS: Named[Format] = Named("mudskipper.writers", {one.kind: one for one in OWN})
"""By their kinds, in the order in which they are offered; of those with one ending the first is meant by it."""

__all__ = ["FORMATS", "Film", "Format"]
