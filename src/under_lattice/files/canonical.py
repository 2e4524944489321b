"""What an SVG draws, whatever its white space and the order of its attributes: by this it is known whether it was changed."""

from __future__ import annotations

import hashlib
from xml.parsers import expat

SVG = "http://www.w3.org/2000/svg"
METADATA = f"{SVG} metadata"


def drawing_digest(data: bytes) -> str:
    """Return a hash of the elements of a whole SVG without its metadata, their attributes in order, white space as one space.

    Parameters
    ----------
    data : bytes
        Well formed; without entities of its own.
    """
    parser = expat.ParserCreate(namespace_separator=" ")
    told, depth, words = hashlib.sha256(), 0, ""

    def say_words() -> None:
        nonlocal words
        if words.strip():
            told.update(f"\0text {' '.join(words.split())}".encode())
        words = ""

    def begin(name: str, attributes: dict[str, str]) -> None:
        nonlocal depth
        if depth or name == METADATA:
            depth += 1
            return
        say_words()
        parts = [f"{key}={' '.join(value.split())}" for key, value in sorted(attributes.items())]
        told.update("\0".join([f"\0<{name}", *parts]).encode())

    def end(name: str) -> None:
        nonlocal depth
        if depth:
            depth -= 1
            return
        say_words()
        told.update(b"\0>")

    def text(part: str) -> None:
        nonlocal words
        if not depth:
            words += part

    parser.buffer_text = True
    parser.StartElementHandler, parser.EndElementHandler, parser.CharacterDataHandler = begin, end, text
    parser.Parse(data, True)
    return told.hexdigest()[:32]
