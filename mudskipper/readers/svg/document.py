"""The elements of an SVG file, read safely: no scripts, no entities, no references to the outside."""

from __future__ import annotations

import re
from collections.abc import Iterator
from xml.etree.ElementTree import Element, ParseError

import defusedxml.ElementTree
from defusedxml import DefusedXmlException, EntitiesForbidden

SVG = "http://www.w3.org/2000/svg"
XLINK = "{http://www.w3.org/1999/xlink}href"
OUTSIDE = re.compile(r"url\(\s*['\"]?\s*(?!#|data:)[^)\s]", re.IGNORECASE)
REFERS = {"use", "image", "feImage", "linearGradient", "radialGradient", "pattern", "textPath", "mpath"}
"""Elements whose reference is fetched; that of a link is not."""


class Unreadable(Exception):
    """Why a file is not taken, as a sentence, and how it is mended."""

    def __init__(self, sentence: str, mend: str = "") -> None:
        super().__init__(sentence)
        self.sentence, self.mend = sentence, mend


def is_pdf(data: bytes) -> bool:
    """Whether a file begins as a PDF does; up to a kilobyte may stand before."""
    return b"%PDF-" in data[:1024]


def read_elements(data: bytes) -> Element:
    """The root element of a file; Unreadable where it is no SVG, or holds what is never taken in."""
    try:
        root: Element = defusedxml.ElementTree.fromstring(data)
    except EntitiesForbidden:
        raise Unreadable(
            "It declares entities of its own, which can be used to fill a computer's memory.",
            "Save it again without them, as plain SVG.",
        ) from None
    except (DefusedXmlException, ValueError, LookupError):
        raise Unreadable("It refers to what lies outside of the file.", "Save it as plain SVG.") from None
    except (ParseError, RecursionError) as fault:
        raise Unreadable(f"It is no XML that can be read: {fault}.", "Save it again as SVG.") from None
    if local(root) != "svg":
        raise Unreadable(
            f"An SVG file begins with an svg element, and this one with {local(root) or 'something else'}.",
            "Choose an SVG file.",
        )
    for element in root.iter():
        _refuse(element)
    return root


def _refuse(element: Element) -> None:
    name = local(element)
    if name in ("script", "handler") or any(key.lower().startswith("on") for key in element.attrib):
        raise Unreadable("It holds a script, and scripts are never run.", "Save it again without scripts.")
    reference = target(element)
    if name in REFERS and reference and not reference.startswith(("#", "data:")):
        raise Unreadable(
            f"It refers to {reference[:80]!r}, which lies outside of the file.", "Embed what it needs in the file."
        )
    texts = [value for key, value in element.items() if not key.startswith("{")]
    if name == "style":
        texts.append(element.text or "")
        if re.search(r"@import", element.text or "", re.IGNORECASE):
            raise Unreadable("Its style sheet imports another one from outside.", "Put all styles into the file.")
    if any(OUTSIDE.search(text) for text in texts):
        raise Unreadable(
            "Its styles refer to something that lies outside of the file.", "Embed what it needs in the file."
        )


def local(element: Element) -> str:
    """The name of an element of SVG; empty for others."""
    tag = element.tag
    if not isinstance(tag, str):
        return ""
    if tag.startswith("{"):
        space, _, name = tag[1:].partition("}")
        return name if space == SVG else ""
    return tag


def target(element: Element) -> str:
    """What an element refers to: `#id`; empty where it does not."""
    return (element.get("href") or element.get(XLINK) or "").strip()


def by_ids(root: Element) -> dict[str, Element]:
    """The elements by their ids; of two with the same, the first."""
    found: dict[str, Element] = {}
    for element in root.iter():
        name = element.get("id")
        if name:
            found.setdefault(name, element)
    return found


def children(element: Element) -> Iterator[Element]:
    """The elements of SVG that lie in one."""
    return (child for child in element if local(child))


def reference_in(value: str) -> str | None:
    """The id in `url(#id)`; None where there is none."""
    match = re.match(r"\s*url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)", value)
    return match.group(1).strip() if match else None
