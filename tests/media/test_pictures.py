"""Pictures from outside that are damaged or very large. `MUDSKIPPER_TRIALS=20` makes the trial as many times longer."""

from __future__ import annotations

import io
import random
import resource
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from typing import Any

import pillow_heif
import pytest
from PIL import ExifTags, Image, ImageCms

from mudskipper.core.ground.errors import Refused
from mudskipper.media.pictures import Picture, read_picture
from tests.conftest import TRIALS

PICTURES = 25 * TRIALS


def sample(form: str, size: tuple[int, int], **options: Any) -> bytes:
    """A picture with a gradient, some noise and soft edges."""
    noise = Image.effect_noise(size, 60)
    gradient = Image.linear_gradient("L").resize(size)
    picture = Image.merge("RGBA", (noise, gradient, gradient.rotate(90).resize(size), noise.point(lambda v: 255 - v)))
    if form == "JPEG":
        picture = picture.convert("CMYK" if options.pop("cmyk", False) else "RGB")
    if options.pop("palette", False):
        picture = picture.convert("RGB").quantize(16)
    out = io.BytesIO()
    picture.save(out, form, **options)
    return out.getvalue()


TURNED = Image.Exif()
TURNED[ExifTags.Base.Orientation] = 6
PROFILE = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
SAMPLES = [
    ("PNG", {}), ("PNG", {"icc_profile": PROFILE}), ("PNG", {"palette": True, "transparency": 3}),
    ("JPEG", {"progressive": True}), ("JPEG", {"cmyk": True}), ("JPEG", {"exif": TURNED}),
    ("WEBP", {"lossless": True}), ("WEBP", {"quality": 40, "icc_profile": PROFILE}),
]  # fmt: skip


def mutated(data: bytes, dice: random.Random) -> bytes:
    """A file with a few bytes changed, cut out, doubled or set to an extreme; the head more often than the rest."""
    out = bytearray(data)
    for _ in range(dice.randint(1, 3)):
        at = dice.randrange(min(64, len(out)) if dice.random() < 0.3 else len(out))
        kind = dice.randrange(5)
        if kind == 0:
            out[at] = dice.randrange(256)
        elif kind == 1:
            out[at : at + 4] = dice.choice([b"\xff\xff\xff\xff", b"\0\0\0\0", b"\x7f\xff\xff\xff", b"\0\0\x40\0"])
        elif kind == 2:
            del out[at : at + dice.randint(1, 200)]
        elif kind == 3:
            out[at:at] = out[at : at + dice.randint(1, 200)]
        else:
            del out[max(at, 40) :]
        if not out:
            return b"\0"
    return bytes(out)


def test_mutated_pictures_are_taken_or_refused() -> None:
    """Whatever is in a file that begins like a picture, it comes in upright and whole, or is refused in words."""
    dice = random.Random(11)
    files = [sample(form, (dice.randint(1, 900), dice.randint(1, 900)), **dict(options)) for form, options in SAMPLES]
    taken: list[Picture] = []
    slowest = 0.0

    def read(data: bytes) -> None:
        nonlocal slowest
        begin = time.perf_counter()
        with suppress(Refused):
            with read_picture(data, "mutated") as picture, Image.open(picture.file) as image:
                image.load()
                assert image.size == (picture.width, picture.height)
            taken.append(picture)
        slowest = max(slowest, time.perf_counter() - begin)

    with ThreadPoolExecutor(2) as pool:
        list(pool.map(read, [mutated(dice.choice(files), dice) for _ in range(PICTURES)]))
    assert 0 < len(taken) < PICTURES
    peak = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 2**20
    print(f"{PICTURES} pictures, {len(taken)} taken, slowest {slowest:.1f} s, largest child {peak:.2f} GB")


@pytest.mark.thorough
@pytest.mark.parametrize("form", ["PNG", "WEBP"])
def test_the_largest_picture_comes_in(form: str) -> None:
    """A picture at the limit of pixels, of one colour and so of a small file, is decoded within its memory and time."""
    flat = Image.new("RGB", (16_383, 4_882), "#0e3f45")
    out = io.BytesIO()
    flat.save(out, form, **({"quality": 10, "method": 0} if form == "WEBP" else {"compress_level": 1}))
    with read_picture(out.getvalue(), "large") as picture:
        assert (picture.width, picture.height) == flat.size


@pytest.mark.parametrize("form", ["AVIF", "HEIF"])
def test_pictures_of_phones_and_of_the_web_come_in(form: str) -> None:
    """AVIF and HEIC, transparent, turned by their EXIF: their colours within what their encoder loses."""
    pillow_heif.register_heif_opener()
    given = Image.new("RGBA", (96, 64), (200, 60, 30, 255))
    given.paste((20, 90, 200, 128), (0, 0, 48, 64))
    turned = {"exif": TURNED} if form == "AVIF" else {}
    out = io.BytesIO()
    given.save(out, form, quality=95, **turned)
    with read_picture(out.getvalue(), f"phone.{form.lower()}") as picture, Image.open(picture.file) as kept:
        assert picture.file.read_bytes().startswith(b"\x89PNG")
        upright = given.transpose(Image.Transpose.ROTATE_270) if turned else given
        assert kept.size == upright.size
        for at in ((10, 10), (50, 10), (10, 60 if turned else 50)):
            got, real = kept.convert("RGBA").getpixel(at), upright.getpixel(at)
            assert max(abs(a - b) for a, b in zip(got, real, strict=True)) <= 6, (at, got, real)  # type: ignore[arg-type]
    with pytest.raises(Refused, match=r"damaged|none of them"), read_picture(out.getvalue()[:200], "phone"):
        pass
