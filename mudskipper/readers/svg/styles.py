"""The properties of an element: its attributes, style sheets, its own style, and what it inherits (CSS 2.2, 6)."""

from __future__ import annotations

from collections.abc import Mapping
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2

from .document import local

INHERITED = {
    "fill": "black", "fill-opacity": "1", "fill-rule": "nonzero", "stroke": "none", "stroke-opacity": "1",
    "stroke-width": "1", "stroke-linecap": "butt", "stroke-linejoin": "miter", "stroke-miterlimit": "4",
    "stroke-dasharray": "none", "stroke-dashoffset": "0", "clip-rule": "nonzero", "color": "black",
    "visibility": "visible", "font-family": "", "font-size": "16px", "font-weight": "400", "font-style": "normal",
    "text-anchor": "start", "letter-spacing": "normal", "paint-order": "normal", "marker-start": "none",
    "marker-mid": "none", "marker-end": "none",
}  # fmt: skip
OWN = {
    "opacity": "1", "display": "inline", "clip-path": "none", "mask": "none", "filter": "none", "stop-color": "black",
    "stop-opacity": "1", "overflow": "hidden", "mix-blend-mode": "normal", "mask-type": "luminance", "transform": "",
    "vector-effect": "none",
}  # fmt: skip
ALL = INHERITED | OWN
Style = Mapping[str, str]


class Styles:
    """The style sheets of a file."""

    def __init__(self, root: Element, notes: set[str]) -> None:
        self._matcher = cssselect2.Matcher()
        self._any = False
        for element in root.iter():
            if local(element) == "style" and element.get("type", "text/css") in ("text/css", ""):
                self._add(element.text or "", notes)
        wrapped = cssselect2.ElementWrapper.from_xml_root(root) if self._any else None
        self._wrappers = {id(one.etree_element): one for one in wrapped.iter_subtree()} if wrapped else {}

    def _add(self, text: str, notes: set[str]) -> None:
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type == "at-rule":
                notes.add(f"@{rule.at_keyword} rules")
            if rule.type != "qualified-rule":
                continue
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                continue
            held = declared(rule.content)
            for selector in selectors:
                if selector.pseudo_element is None:
                    self._matcher.add_selector(selector, held)
                    self._any = True

    def of(self, element: Element, parent: Style) -> dict[str, str]:
        """The properties of an element within one of the parent's."""
        given: list[tuple[bool, int, str, str]] = []
        for name in ALL:
            value = element.get(name)
            if value is not None and name != "transform":
                given.append((False, 0, name, value.strip()))
        wrapper = self._wrappers.get(id(element))
        if wrapper is not None:
            for *_, held in self._matcher.match(wrapper):
                given += [(important, 1, name, value) for name, value, important in held]
        style = element.get("style")
        if style:
            given += [(important, 2, name, value) for name, value, important in declared(style)]
        # Of equals the later one counts: the sort keeps their order.
        given.sort(key=lambda one: one[:2])
        found = {name: parent.get(name, initial) for name, initial in INHERITED.items()} | OWN
        for _, _, name, value in given:
            if name not in ALL:
                continue
            if value == "inherit":
                value = parent.get(name, ALL[name])
            elif value in ("initial", "unset"):
                value = ALL[name] if value == "initial" or name in OWN else parent.get(name, ALL[name])
            found[name] = value
        return found


def declared(content: object) -> list[tuple[str, str, bool]]:
    """The declarations of a rule: name, value, and whether it is important."""
    found = []
    for one in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if one.type == "declaration":
            value = tinycss2.serialize(one.value).strip()
            if one.lower_name == "font":
                continue
            found.append((one.lower_name, value, one.important))
    return found
