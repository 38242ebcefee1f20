"""Photos without what a camera writes beside the picture: place, time, owner, serial numbers, a second picture.

The picture itself is not unpacked and packed anew, so nothing of it is lost. Containers after ITU-T T.81 annex B (JPEG)
and the PNG specification (W3C, third edition, clause 5); orientation after Exif 2.3, tag 0x0112.
"""

import struct
import zlib
from collections.abc import Iterator

_PNG_HEAD = b"\x89PNG\r\n\x1a\n"
# What a decoder needs for the right picture in the right colors; all else is about the picture.
_PNG_KEPT = (b"IHDR", b"PLTE", b"tRNS", b"gAMA", b"cHRM", b"sRGB", b"IDAT", b"IEND")
_ORIENTATION, _SHORT = 0x0112, 3
_SOI, _EOI, _SOS, _APP0, _APP1, _APP14, _APP15, _COM = 0xD8, 0xD9, 0xDA, 0xE0, 0xE1, 0xEE, 0xEF, 0xFE
_UPRIGHT = 1


def clean_photo(content: bytes) -> bytes | None:
    """Return a JPEG or PNG with its picture and orientation only; None where it is damaged or neither of them."""
    try:
        if content.startswith(b"\xff\xd8"):
            return _clean_jpeg(content)
        if content.startswith(_PNG_HEAD):
            return _clean_png(content)
    except (struct.error, IndexError, ValueError):
        return None
    return None


def _clean_jpeg(content: bytes) -> bytes:
    """Return a JPEG from its first to its end mark, without application segments and comments.

    Raises:
        ValueError: the file is damaged.
    """
    out, at, orientation = bytearray(b"\xff\xd8"), 2, _UPRIGHT
    body = bytearray()
    while True:
        if content[at] != 0xFF:
            raise ValueError("a segment does not start where the last one ends")
        mark = content[at + 1]
        if mark == 0xFF:  # a filling byte
            at += 1
            continue
        if mark == _EOI:
            body += b"\xff\xd9"
            break
        (length,) = struct.unpack_from(">H", content, at + 2)
        segment = content[at : at + 2 + length]
        at += 2 + length
        if mark == _APP1 and segment[4:10] == b"Exif\0\0":
            orientation = _orientation(segment[10:])
        if not (_APP0 <= mark <= _APP15 or mark == _COM) or (mark in (_APP0, _APP14) and length < 20):
            body += segment
        if mark == _SOS:
            end = _end_of_scan(content, at)
            body += content[at:end]
            at = end
    if orientation != _UPRIGHT:
        exif = b"Exif\0\0" + _orientation_alone(orientation)
        out += b"\xff\xe1" + struct.pack(">H", len(exif) + 2) + exif
    return bytes(out + body)


def _end_of_scan(content: bytes, at: int) -> int:
    """Return where packed picture data ends: at the first mark that is neither a stuffed byte nor a restart."""
    while True:
        at = content.index(b"\xff", at)
        if content[at + 1] == 0 or 0xD0 <= content[at + 1] <= 0xD7:
            at += 2
        else:
            return at


def _orientation(tiff: bytes) -> int:
    """Return how a picture is to be turned, 1 to 8, from its Exif data; 1 where that does not say."""
    order = {b"II": "<", b"MM": ">"}.get(tiff[:2])
    if order is None:
        return _UPRIGHT
    try:
        (first,) = struct.unpack_from(f"{order}I", tiff, 4)
        (count,) = struct.unpack_from(f"{order}H", tiff, first)
        for i in range(count):
            tag, kind, _, value = struct.unpack_from(f"{order}HHIH", tiff, first + 2 + 12 * i)
            if tag == _ORIENTATION and kind == _SHORT and 1 <= value <= 8:
                return int(value)
    except struct.error:
        return _UPRIGHT
    return _UPRIGHT


def _orientation_alone(value: int) -> bytes:
    """Return Exif data that says how a picture is turned and nothing else."""
    return b"MM\0*" + struct.pack(">IHHHIHHI", 8, 1, _ORIENTATION, _SHORT, 1, value, 0, 0)


def _clean_png(content: bytes) -> bytes:
    """Return a PNG with the chunks a decoder needs, and its orientation.

    Raises:
        ValueError: the file is damaged.
    """
    out, orientation = bytearray(_PNG_HEAD), _UPRIGHT
    for kind, data in _chunks(content):
        if kind == b"eXIf":
            orientation = _orientation(data)
        if kind in (b"IDAT", b"IEND") and orientation != _UPRIGHT:
            out += _chunk(b"eXIf", _orientation_alone(orientation))
            orientation = _UPRIGHT
        if kind in _PNG_KEPT:
            out += _chunk(kind, data)
        if kind == b"IEND":
            return bytes(out)
    raise ValueError("the picture has no end")


def _chunks(content: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = len(_PNG_HEAD)
    while at + 12 <= len(content):
        length, kind = struct.unpack_from(">I4s", content, at)
        if at + 12 + length > len(content):
            raise ValueError("a chunk is cut")
        yield kind, content[at + 8 : at + 8 + length]
        at += 12 + length


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
