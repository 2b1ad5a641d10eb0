"""Drawings that serve as the demo's photos: made here, so that nothing real is shown."""

from __future__ import annotations

import io
import math
from collections.abc import Callable
from datetime import datetime

from PIL import ExifTags, Image, ImageDraw

WIDE, HIGH = 960, 640
METAL, DARK, LIGHT, RED, BLUE = "#aeb6b4", "#3c4447", "#dfe3e0", "#b4462a", "#3a6486"
Draw = ImageDraw.ImageDraw


def drawing(name: str, taken: datetime) -> bytes:
    """A JPEG of that drawing, with the time in it as a camera would write it."""
    image = Image.new("RGB", (WIDE, HIGH), "#5a6265")
    _DRAWINGS[name](ImageDraw.Draw(image))
    exif = image.getexif()
    inner = exif.get_ifd(ExifTags.IFD.Exif)
    inner[ExifTags.Base.DateTimeOriginal] = taken.strftime("%Y:%m:%d %H:%M:%S")
    inner[ExifTags.Base.OffsetTimeOriginal] = "+00:00"
    out = io.BytesIO()
    image.save(out, "JPEG", quality=88, exif=exif)
    return out.getvalue()


def _tunnel(d: Draw) -> None:
    """Frames of a fuselage seen from inside, one behind the other."""
    for i in range(6):
        share = 0.86**i
        w, h = WIDE * share / 2, HIGH * share / 2
        box = (WIDE / 2 - w, HIGH / 2 - h, WIDE / 2 + w, HIGH / 2 + h)
        shade = 190 - 22 * i
        d.rounded_rectangle(box, radius=90 * share, fill=(shade, shade + 4, shade + 2))
        d.rounded_rectangle(box, radius=90 * share, outline=DARK, width=4)


def _bolt(d: Draw, x: float, y: float, r: float) -> None:
    points = [
        (x + r * math.cos(a), y + r * math.sin(a)) for a in (i * math.pi / 3 for i in range(6))
    ]
    d.polygon(points, fill=LIGHT, outline=DARK)
    d.ellipse((x - r * 0.45, y - r * 0.45, x + r * 0.45, y + r * 0.45), outline=DARK, width=3)


def _aft(d: Draw) -> None:
    _tunnel(d)
    for side in (-1, 1):
        d.line((WIDE / 2 + side * 330, HIGH, WIDE / 2 + side * 60, HIGH / 2), fill=LIGHT, width=5)
    d.polygon([(390, 330), (470, 250), (520, 300), (440, 390)], fill=METAL, outline=DARK)
    _bolt(d, 455, 320, 26)
    d.line((120, 200, 420, 300), fill=BLUE, width=8)
    d.line((440, 380, 560, 640), fill=METAL, width=16)


def _idler(d: Draw) -> None:
    d.rectangle((0, 430, WIDE, HIGH), fill=METAL)
    for x in range(40, WIDE, 70):
        _bolt(d, x, 470, 9)
    d.polygon([(420, 430), (450, 190), (520, 190), (550, 430)], fill=LIGHT, outline=DARK)
    _bolt(d, 485, 230, 34)
    d.line((0, 300, 470, 240), fill=METAL, width=22)
    d.line((500, 240, WIDE, 270), fill=METAL, width=22)


def _floor(d: Draw) -> None:
    for x in range(0, WIDE, 160):
        d.rectangle((x + 6, 0, x + 154, HIGH), fill="#9aa3a1", outline=DARK, width=3)
    d.rectangle((0, 280, WIDE, 350), fill=LIGHT, outline=DARK, width=3)
    d.line((0, 420, WIDE, 400), fill=RED, width=9)
    d.line((0, 210, WIDE, 225), fill=BLUE, width=9)
    for x in range(80, WIDE, 160):
        d.rectangle((x - 16, 385, x + 16, 435), outline=DARK, width=6)


def _mark(d: Draw) -> None:
    d.rectangle((0, 360, WIDE, HIGH), fill=METAL)
    d.ellipse((300, 160, 660, 520), fill="#c9cecb", outline=DARK, width=5)
    _bolt(d, 480, 340, 140)
    d.line((480, 340, 700, 500), fill=RED, width=18)


_DRAWINGS: dict[str, Callable[[Draw], None]] = {
    "aft": _aft,
    "idler": _idler,
    "floor": _floor,
    "bolt": _mark,
}
