"""The live recipe inside a picture: the work as text, with a hash of the drawing beside it."""

from __future__ import annotations

import hashlib
import io
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from xml.parsers import expat

from PIL import Image, PngImagePlugin

from under_lattice.core.errors import FileError
from under_lattice.files.bounded import LARGEST, read_bytes
from under_lattice.files.canonical import drawing_digest
from under_lattice.files.saving import Seen, whole_beside
from under_lattice.files.storage import from_text, work_in
from under_lattice.work.model import Work

SPACE = "urn:under-lattice:recipe:1"
PNG_KEY = "under-lattice"
PDF_NAME = "work.lattice"  # of what is attached
Image.MAX_IMAGE_PIXELS = 400_000_000
PngImagePlugin.MAX_TEXT_CHUNK = PngImagePlugin.MAX_TEXT_MEMORY = LARGEST  # bytes; one photo in a work is over its 1 MiB


class NoLiveWork(FileError):
    """A drawing that is whole, without a work inside."""


@dataclass(frozen=True)
class Opened:
    """A work read from a file.

    Attributes
    ----------
    work : Work
    altered : bool
        Whether the drawing around its recipe was changed since it was exported.
    seen : Seen or None
        What its own file held when it was read.
    note : str
        What the person should know of it, in a sentence.
    """

    work: Work
    altered: bool = False
    seen: Seen | None = None
    note: str = ""


def digest(drawing: bytes) -> str:
    """Return the hash of a drawing."""
    return hashlib.sha256(drawing).hexdigest()[:32]


def open_any(path: Path) -> Opened:
    """Read a ``.lattice`` file, or the recipe inside an SVG, PNG or PDF; where writing one ended in the midst, what it was to hold.

    Raises
    ------
    FileError
    """
    ending, data = path.suffix.lower(), read_bytes(path)
    if ending == ".svg":
        return from_svg(data, path.name)
    if ending == ".png":
        return from_png(data, path.name)
    if ending == ".pdf":
        return from_pdf(data, path.name)
    try:
        return Opened(work_in(data, path.name), seen=Seen.holding(data))
    except FileError:
        whole = whole_beside(path)
        if not whole.exists():
            raise
        return Opened(work_in(read_bytes(whole), path.name), seen=Seen.holding(data))


def from_svg(data: bytes, source: str = "this drawing") -> Opened:
    """Read the recipe inside an SVG; entities are refused.

    Raises
    ------
    FileError
    """
    found: list[str] = []
    marks: dict[str, str] = {}
    parser = expat.ParserCreate(namespace_separator=" ")
    inside = False

    def begin(name: str, attributes: dict[str, str]) -> None:
        nonlocal inside
        if name == f"{SPACE} recipe":
            inside = True
            marks.update(attributes)

    def end(name: str) -> None:
        nonlocal inside
        inside = inside and name != f"{SPACE} recipe"

    def text(part: str) -> None:
        if inside:
            found.append(part)

    def refuse(*_: object) -> None:
        raise FileError(f"{source} declares entities, which are not allowed")

    parser.StartElementHandler, parser.EndElementHandler, parser.CharacterDataHandler = begin, end, text
    parser.EntityDeclHandler = refuse
    try:
        parser.Parse(data, True)
    except expat.ExpatError as error:
        raise FileError(f"{source} is not a whole SVG: line {error.lineno}, column {error.offset + 1}") from None
    except FileError:
        raise
    except (LookupError, ValueError) as error:
        raise FileError(f"{source} is in an encoding that is not read: {error}; save it as UTF-8") from None
    if not found:
        raise NoLiveWork(f"{source} holds no live work; only drawings exported by Under Lattice with their recipe do")
    work = from_text("".join(found), source)
    told = marks.get("drawing", "")
    return Opened(work, told != drawing_digest(data) and told != digest(without_recipe(data)))


def without_recipe(data: bytes) -> bytes:
    """Return an SVG with its metadata cut out; files of before have the hash of this."""
    start, stop = data.find(b"<metadata"), data.find(b"</metadata>")
    return data if start < 0 or stop < 0 else data[:start] + data[stop + len(b"</metadata>") :]


def from_png(data: bytes, source: str = "this picture") -> Opened:
    """Read the recipe inside a PNG.

    Raises
    ------
    FileError
    """
    try:
        with Image.open(io.BytesIO(data), formats=("PNG",)) as picture:
            picture.load()
            text = picture.info.get(PNG_KEY, "")
            mark = picture.info.get(f"{PNG_KEY}-drawing", "")
            pixels = picture.convert("RGBA").tobytes()
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError, zlib.error):
        raise FileError(f"{source} is not a whole PNG picture") from None
    if not isinstance(text, str) or not text:
        raise FileError(f"{source} holds no live work; only pictures exported by Under Lattice with their recipe do")
    return Opened(from_text(text, source), mark != digest(pixels))


def _forms(resources: Any) -> Iterator[Any]:
    """What is drawn on a page of ours: forms of its own, or of the patterns that fill it."""
    yield from resources.get("/XObject", {}).values()
    for pattern in resources.get("/Pattern", {}).values():
        yield from pattern.get("/Resources", {}).get("/XObject", {}).values()


def from_pdf(data: bytes, source: str = "this page") -> Opened:
    """Read the recipe beside the pages of a PDF.

    Raises
    ------
    FileError
    """
    import pikepdf  # loaded only where a PDF is read

    try:
        with pikepdf.open(io.BytesIO(data)) as pdf:
            spec = pdf.attachments.get(PDF_NAME)
            text = spec.get_file().read_bytes() if spec is not None else b""
            mark = spec.description if spec is not None else ""
            drawn = b"".join(one.read_bytes() for page in pdf.pages for one in _forms(page.Resources))
    except (pikepdf.PdfError, OSError, ValueError, AttributeError, RuntimeError):
        raise FileError(f"{source} is not a whole PDF, or is locked") from None
    if not text:
        raise FileError(f"{source} holds no live work; only pages exported by Under Lattice with their recipe do")
    if len(text) > LARGEST:
        raise FileError(f"the work in {source} is larger than {LARGEST // 2**20} MB")
    return Opened(from_text(text.decode("utf-8", "replace"), source), mark != digest(drawn))
