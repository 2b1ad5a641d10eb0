"""Pictures as they come from a camera: recognised by content, location taken out, thumbnail.

The picture itself is never encoded again: only the segments that carry metadata are
rewritten, so that what was photographed stays exactly as it was.
"""

from __future__ import annotations

import hashlib
import io
import struct
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from PIL import ExifTags, Image, ImageOps

from core.basis.refused import Refused

FORMATS = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
MOST_BYTES = 25 * 2**20
# A JPEG is decoded small, so that a telephone's largest costs no more memory than others.
MOST_PIXELS = {"JPEG": 220_000_000, "PNG": 40_000_000, "WEBP": 40_000_000}
THUMB = 480
Image.MAX_IMAGE_PIXELS = max(MOST_PIXELS.values())


@dataclass(frozen=True)
class Picture:
    """A picture fit to be kept."""

    data: bytes
    thumb: bytes
    media_type: str
    suffix: str
    width: int
    height: int
    sha256: str
    camera_time: datetime | None


def picture(data: bytes, now: datetime) -> Picture:
    """The picture, or a refusal of `file` with the reason."""
    if not data:
        raise Refused("file", "is empty")
    if len(data) > MOST_BYTES:
        raise Refused("file", f"is {len(data) / 2**20:.0f} MB; at most {MOST_BYTES // 2**20} MB")
    image = _opened(data)
    # Several pictures in one file, as telephones make them, begin with an ordinary JPEG.
    kind = "JPEG" if image.format == "MPO" else str(image.format)
    width, height = image.size
    pixels, most = width * height, MOST_PIXELS[kind]
    if pixels > most:
        raise Refused("file", f"has {pixels / 1e6:.0f} megapixels; at most {most // 1_000_000}")
    if kind == "JPEG":
        image.draft("RGB", (2 * THUMB, 2 * THUMB))
    try:
        image.load()
    except Exception:
        raise Refused("file", "is damaged: it ends before the picture does") from None
    clean = {"JPEG": _clean_jpeg, "PNG": _clean_png, "WEBP": _clean_webp}[kind](data, image)
    upright = ImageOps.exif_transpose(image)
    if (upright.width > upright.height) != (image.width > image.height):
        width, height = height, width
    return Picture(
        data=clean,
        thumb=_thumb(upright),
        media_type=FORMATS[kind],
        suffix={"JPEG": ".jpg", "PNG": ".png", "WEBP": ".webp"}[kind],
        width=width,
        height=height,
        sha256=hashlib.sha256(clean).hexdigest(),
        camera_time=_camera_time(image, now),
    )


def _opened(data: bytes) -> Image.Image:
    try:
        return Image.open(io.BytesIO(data), formats=tuple(FORMATS))
    except Image.DecompressionBombError:
        most = max(MOST_PIXELS.values()) // 1_000_000
        raise Refused("file", f"has more than {most} megapixels") from None
    except Exception:
        raise Refused("file", "is not a JPEG, PNG or WebP picture, whatever its name") from None


def _thumb(image: Image.Image) -> bytes:
    small = image.copy()
    small.thumbnail((THUMB, THUMB))
    out = io.BytesIO()
    small.convert("RGB").save(out, "JPEG", quality=82)
    return out.getvalue()


def _camera_time(image: Image.Image, now: datetime) -> datetime | None:
    """When the camera says it was taken; None if it says nothing, or something impossible."""
    exif = image.getexif()
    inner = exif.get_ifd(ExifTags.IFD.Exif)
    said = inner.get(ExifTags.Base.DateTimeOriginal) or exif.get(ExifTags.Base.DateTime)
    offset = str(inner.get(ExifTags.Base.OffsetTimeOriginal) or "+00:00")
    try:
        taken = datetime.strptime(f"{said} {offset}", "%Y:%m:%d %H:%M:%S %z").astimezone(UTC)
    except ValueError:
        return None
    if taken > now or taken < now - timedelta(days=20 * 365):
        return None
    return taken


def _clean_jpeg(data: bytes, image: Image.Image) -> bytes:
    """Without location, embedded previews, XMP and IPTC, and what follows the picture."""
    exif = image.getexif()
    if ExifTags.IFD.GPSInfo in exif:
        del exif[ExifTags.IFD.GPSInfo]
    body = exif.tobytes() if len(exif) else b""
    out = [b"\xff\xd8"]
    if body:
        body = body if body.startswith(b"Exif\0\0") else b"Exif\0\0" + body
        out.append(b"\xff\xe1" + struct.pack(">H", len(body) + 2) + body)
    at = 2
    while at < len(data) - 1:
        if data[at] != 0xFF:
            raise Refused("file", "is damaged: its parts do not follow each other")
        marker = data[at + 1]
        if marker == 0xFF:
            at += 1
        elif marker == 0xD9:
            break
        else:
            (length,) = struct.unpack(">H", data[at + 2 : at + 4])
            segment = data[at : at + 2 + length]
            at += 2 + length
            if marker in (0xE1, 0xED, 0xFE) or (marker == 0xE2 and b"MPF\0" in segment[:8]):
                continue
            out.append(segment)
            if marker == 0xDA:
                end = _scan_end(data, at)
                out.append(data[at:end])
                at = end
    return b"".join([*out, b"\xff\xd9"])


def _scan_end(data: bytes, at: int) -> int:
    """Where the coded picture stops: the next marker that is no stuffing and no restart."""
    while True:
        at = data.find(b"\xff", at)
        if at < 0 or at + 1 >= len(data):
            return len(data)
        follows = data[at + 1]
        if follows == 0 or 0xD0 <= follows <= 0xD7:
            at += 2
        elif follows == 0xFF:
            at += 1
        else:
            return at


def _clean_png(data: bytes, image: Image.Image) -> bytes:
    out, at = [data[:8]], 8
    while at + 8 <= len(data):
        (length,) = struct.unpack(">I", data[at : at + 4])
        kind, end = data[at + 4 : at + 8], at + 12 + length
        if kind not in (b"eXIf", b"iTXt", b"tEXt", b"zTXt"):
            out.append(data[at:end])
        at = end
        if kind == b"IEND":
            break
    return b"".join(out)


def _clean_webp(data: bytes, image: Image.Image) -> bytes:
    out, at = [], 12
    while at + 8 <= len(data):
        kind = data[at : at + 4]
        (length,) = struct.unpack("<I", data[at + 4 : at + 8])
        end = at + 8 + length + (length & 1)
        chunk = bytearray(data[at:end])
        if kind == b"VP8X":
            # The flags that announce EXIF (8) and XMP (4).
            chunk[8] &= ~(8 | 4)
        if kind not in (b"EXIF", b"XMP "):
            out.append(bytes(chunk))
        at = end
    body = b"WEBP" + b"".join(out)
    return b"RIFF" + struct.pack("<I", len(body)) + body
