"""Pictures that come from outside, read in one way: PNG and JPEG only, known by their content, measured before they are
decoded."""

from __future__ import annotations

import io
import warnings
from typing import TYPE_CHECKING

from tiny_lantern.model.errors import LanternError

if TYPE_CHECKING:
    from PIL import Image

KINDS = {"PNG": b"\x89PNG\r\n\x1a\n", "JPEG": b"\xff\xd8\xff"}
FILES = "Pictures (*.png *.jpg *.jpeg)"
ACCEPTED = "a picture as PNG or JPEG"


def is_picture(content: bytes) -> bool:
    """Whether some bytes begin as a picture that can be read does.

    Source: the signatures of PNG (ISO/IEC 15948) and JPEG (ISO/IEC 10918-1).
    """
    return any(content.startswith(sign) for sign in KINDS.values())


def read_picture(content: bytes, most_pixels: int, name: str = "picture", accepted: str = ACCEPTED) -> Image.Image:
    """A picture in red, green and blue, turned upright; what is clear in it is black.

    Args:
        content: a file's bytes.
        most_pixels: the largest that is decoded; a larger one is refused by what its head says. [-]
        name: how messages call it.
        accepted: what they say would be taken.

    Raises:
        LanternError: it is no picture that can be read, or too large.
    """
    from PIL import Image, ImageOps  # late: few builds have pictures

    if not is_picture(content):
        raise LanternError("this is no picture that can be read", name, accepted)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)  # it is measured here
            opened = Image.open(io.BytesIO(content), formats=tuple(KINDS))
        with opened:
            if opened.width * opened.height > most_pixels:
                raise LanternError(f"a picture of {opened.width} × {opened.height} is too large", name, accepted)
            seen = ImageOps.exif_transpose(opened).convert("RGBA")
            plain = Image.new("RGB", seen.size)
            plain.paste(seen, mask=seen.getchannel("A"))
            return plain
    except LanternError:
        raise
    except Image.DecompressionBombError:
        raise LanternError("a picture of so many pixels is too large", name, accepted) from None
    except Exception:  # noqa: BLE001 - whatever a decoder makes of a broken file, it is the file's fault
        raise LanternError("this is no picture that can be read", name, accepted) from None
