"""Text as outlines: fonts, shaping, lines."""
