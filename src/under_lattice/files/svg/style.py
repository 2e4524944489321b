"""How the elements of an SVG file are to be drawn: attributes, style attributes and style sheets, and what is inherited."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import Any
from xml.etree import ElementTree

import cssselect2  # type: ignore[import-untyped]
import tinycss2  # type: ignore[import-untyped]

INHERITED = {
    "fill": "black", "fill-rule": "nonzero", "fill-opacity": "1", "stroke": "none", "stroke-width": "1", "stroke-opacity": "1",
    "stroke-linecap": "butt", "stroke-linejoin": "miter", "stroke-dasharray": "none",
    "stroke-dashoffset": "0", "stroke-miterlimit": "4", "clip-rule": "nonzero", "color": "black", "visibility": "visible",
    "font-size": "16",
    "through": "1",  # the opacity of all groups around, and its own
}  # fmt: skip
OWN = ("display", "clip-path", "mask", "filter", "opacity")
HREF = "{http://www.w3.org/1999/xlink}href"
SHEETS_MOST = 1_000_000  # letters of style sheets that are read
RULES_MOST = 5_000
SELECTOR_MOST = 120  # parts of one selector: each lies within the one before

Style = Mapping[str, str]
ROOT: Style = INHERITED


class Styles:
    """What the style sheets of a file say of its elements.

    Attributes
    ----------
    missing : Counter
        What could not be read in them.
    """

    def __init__(self, root: ElementTree.Element) -> None:
        self.missing: Counter[str] = Counter()
        self._said: dict[int, dict[str, str]] = {}
        text = "\n".join("".join(one.itertext()) for one in root.iter() if local(one) == "style")
        if text.strip():
            self._match(root, text[:SHEETS_MOST])

    def _match(self, root: ElementTree.Element, text: str) -> None:
        matcher, rules = cssselect2.Matcher(), tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
        for rule in rules[:RULES_MOST]:
            if rule.type != "qualified-rule" or _longest(rule.prelude) > SELECTOR_MOST:
                self.missing["style rule"] += 1
                continue
            declared = declarations(rule.content)
            try:
                for selector in cssselect2.compile_selector_list(rule.prelude):
                    matcher.add_selector(selector, declared)
            except cssselect2.SelectorError:
                self.missing["style rule"] += 1
        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            said: dict[str, str] = {}
            for *_, declared in matcher.match(wrapper):  # the weakest first
                said |= declared
            if said:
                self._said[id(wrapper.etree_element)] = said

    def of(self, element: ElementTree.Element, around: Style) -> Style:
        """Return what holds for an element inside one with the style `around`."""
        own = self.said_of(element)
        own.pop("through", None)
        found = {name: around[name] for name in INHERITED}
        told = {name: value for name, value in own.items() if value and value != "inherit" and (name in INHERITED or name in OWN)}
        through = share_of(told.get("opacity", "1"))
        return found | told | ({"through": repr(float(around["through"]) * through)} if through != 1.0 else {})

    def said_of(self, element: ElementTree.Element) -> dict[str, str]:
        """Return what an element says of itself: by attributes, by style sheets, and by its own style, which counts most."""
        own = {name.lower(): value.strip() for name, value in element.attrib.items() if "}" not in name}
        style = element.get("style", "")
        return own | self._said.get(id(element), {}) | (declarations(style) if style else {})


def _longest(prelude: list[Any]) -> int:
    """How many parts the longest of the selectors before a block has."""
    longest = count = 0
    for token in prelude:
        count = 0 if token == "," else count + 1
        longest = max(longest, count)
    return longest


def share_of(text: str) -> float:
    """Return an opacity 0..1; 1 for what is none."""
    try:
        return min(max(float(text.removesuffix("%")) / (100 if text.endswith("%") else 1), 0.0), 1.0)
    except ValueError:
        return 1.0


def local(element: ElementTree.Element) -> str:
    """Return the tag of an element without its name space; nothing for a comment."""
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def declarations(content: object) -> dict[str, str]:
    """Return the properties that a block of declarations sets, as text."""
    found = tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True)
    return {one.lower_name: tinycss2.serialize(one.value).strip() for one in found if one.type == "declaration"}
