"""Pictures of a work: brought in from files of open formats, checked, and stored once as they were."""

from __future__ import annotations

import base64
import binascii
import hashlib
import io
import warnings
from typing import TYPE_CHECKING

import numpy as np
from pydantic import Field, field_validator

from under_lattice.core.errors import FileError
from under_lattice.core.plain import Name
from under_lattice.declare.frozen import Frozen
from under_lattice.geometry.affine import Array
from under_lattice.pattern.known import LUMA, Brightness

if TYPE_CHECKING:
    from PIL.Image import Image

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF")
PIXELS_MOST = 40_000_000
BYTES_MOST = 64_000_000
LOOKED_AT = 1024  # px of the longer side; brightness is read of no more


class StoredPicture(Frozen):
    """A picture as its file was; `id` is made from its bytes, so that the same one is stored once."""

    id: str = Field(pattern=r"^[0-9a-f]{16}$")
    name: Name
    data: str

    @field_validator("data")
    @classmethod
    def _bytes(cls, data: str) -> str:
        if len(data) > BYTES_MOST * 4 // 3 + 4:
            raise ValueError(f"a picture is larger than {BYTES_MOST // 1_000_000} MB")
        try:
            base64.b64decode(data, validate=True)
        except (binascii.Error, ValueError):
            raise ValueError("the bytes of a picture are not base64") from None
        return data


def bring_in(data: bytes, name: str) -> StoredPicture:
    """Return a picture from the bytes of a file.

    Raises
    ------
    FileError
        When it is no PNG, JPEG, WebP or TIFF, is broken, or is too large.
    """
    if len(data) > BYTES_MOST:
        raise FileError(f"{name} has {len(data) / 1e6:.0f} MB; a picture may have {BYTES_MOST // 1_000_000} MB")
    _opened(data, name)
    made = hashlib.sha256(data).hexdigest()[:16]
    return StoredPicture(id=made, name=name, data=base64.b64encode(data).decode("ascii"))


def pixels_of(picture: StoredPicture, longest: int = 0) -> Array:
    """Return a picture's pixels (H, W, 4) uint8, not premultiplied; with `longest`, its longer side has no more px than that.

    Raises
    ------
    FileError
    """
    return _opened(base64.b64decode(picture.data), picture.name, longest)


def brightness_of(picture: StoredPicture) -> Brightness:
    """Return how light a picture is; what is clear counts as white.

    Raises
    ------
    FileError
    """
    pixels = pixels_of(picture, LOOKED_AT)
    luma, alpha = pixels[..., :3] @ LUMA / 255.0, pixels[..., 3] / 255.0
    return Brightness(1.0 + (luma - 1.0) * alpha, pixels)


def _in_srgb(image: Image) -> Image:
    """Return a picture as sRGB with alpha: its colour profile followed where it has one that can be read, sixteen bits as eight."""
    from PIL import Image as Images
    from PIL import ImageCms

    if image.mode.startswith("I"):
        return Images.fromarray(np.rint(np.clip(np.asarray(image, float) / 257, 0, 255)).astype(np.uint8)).convert("RGBA")
    profile = image.info.get("icc_profile")
    if not profile or image.mode not in ("RGB", "RGBA", "CMYK", "L", "LA"):
        return image.convert("RGBA")
    alpha = image.getchannel("A") if image.mode in ("RGBA", "LA") else None
    plain = image.convert(image.mode.removesuffix("A")) if alpha is not None else image
    try:
        given = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        found = ImageCms.profileToProfile(plain, given, ImageCms.createProfile("sRGB"), outputMode="RGB")
    except (ImageCms.PyCMSError, OSError):  # of another kind than the picture, or broken
        return image.convert("RGBA")
    out = (found or plain).convert("RGBA")
    if alpha is not None:
        out.putalpha(alpha)
    return out


def _opened(data: bytes, name: str, longest: int = 0) -> Array:
    from PIL import Image, ImageOps, UnidentifiedImageError  # works without pictures start faster without it

    warnings.filterwarnings("ignore", module=r"PIL\.")  # what is odd in a file's notes; what is broken is said below
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as image:
            if image.width * image.height > PIXELS_MOST:
                raise FileError(f"{name} has {image.width} × {image.height} px; at most {PIXELS_MOST:,} in all are allowed")  # noqa: RUF001
            turned = _in_srgb(ImageOps.exif_transpose(image))
            if longest and max(turned.size) > longest:
                turned.thumbnail((longest, longest), Image.Resampling.BOX)
            return np.asarray(turned)
    except UnidentifiedImageError:
        raise FileError(f"{name} is not a picture in one of the formats PNG, JPEG, WebP and TIFF") from None
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise FileError(f"{name} is a broken picture: {str(error)[:120]}") from None
