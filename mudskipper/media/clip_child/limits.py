"""How large the frames of films may be, and those of pictures that are written as films."""

MOST_SIDE, MOST_PIXELS = 8_192, 40_000_000


def fits(width: int, height: int) -> bool:
    """Whether frames of a size are taken in."""
    return max(width, height) <= MOST_SIDE and width * height <= MOST_PIXELS
