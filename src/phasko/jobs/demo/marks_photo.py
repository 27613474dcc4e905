"""A stand-in for a photo: two cam sprockets with their marks a tooth early, as a hand camera would have them."""

from __future__ import annotations

import io
import math

from PIL import Image, ImageDraw, ImageFilter

__all__ = ["marks_as_found"]

_SIZE = (1100, 700)
_EARLY_DEG = 8.6


def marks_as_found() -> bytes:
    """PNG."""
    picture = Image.new("RGB", _SIZE, (88, 84, 80))
    pen = ImageDraw.Draw(picture)
    pen.rectangle((0, 0, _SIZE[0], 150), fill=(120, 116, 110))
    for x in (330, 770):
        _sprocket(pen, (x, 380))
    shaken = picture.filter(ImageFilter.GaussianBlur(1.4))
    sink = io.BytesIO()
    shaken.save(sink, format="PNG")
    return sink.getvalue()


def _sprocket(pen: ImageDraw.ImageDraw, middle: tuple[int, int]) -> None:
    x, y = middle
    for tooth in range(42):
        angle = 2.0 * math.pi * tooth / 42
        place = (x + 196 * math.sin(angle), y - 196 * math.cos(angle))
        pen.ellipse((place[0] - 9, place[1] - 9, place[0] + 9, place[1] + 9), fill=(60, 58, 56))
    pen.ellipse((x - 190, y - 190, x + 190, y + 190), fill=(150, 146, 140), outline=(50, 48, 46), width=5)
    pen.ellipse((x - 46, y - 46, x + 46, y + 46), fill=(70, 68, 66))
    turned = math.radians(_EARLY_DEG)
    near, far = (
        (x + 110 * math.sin(turned), y - 110 * math.cos(turned)),
        (
            x + 184 * math.sin(turned),
            y - 184 * math.cos(turned),
        ),
    )
    pen.line((*near, *far), fill=(245, 240, 225), width=12)
    pen.polygon([(x - 14, 128), (x + 14, 128), (x, 164)], fill=(245, 240, 225))
