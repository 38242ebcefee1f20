"""Photos of a job: kept in an open folder beside its file, never changed; small previews made once.

A job may come from a stranger, and so may its photo folder. Every use of a photo asks `find_photo` where it is and
reads no more than so many bytes and pixels. What is given on carries neither place nor serial number.
"""

import hashlib
import io
import os
import stat
import warnings
from pathlib import Path
from typing import TYPE_CHECKING, Any

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.cleanphoto import clean_photo
from even_stance.exchange.wholefile import clear_leftovers, read_whole, reason, write_whole

if TYPE_CHECKING:
    from PIL.Image import Image as Picture

PREVIEW_PX = 320
MOST_PIXELS, MOST_PIXELS_SMALLER = 40_000_000, 260_000_000
"""Of pictures that must be unpacked whole, and of those that can be unpacked at an eighth of their size."""
_LARGEST, _LARGEST_PREVIEW = 60_000_000, 1_000_000
_KINDS = {"JPEG": ".jpg", "MPO": ".jpg", "PNG": ".png"}
_HIDDEN = ".previews"


def photo_folder(job_file: Path) -> Path:
    """Return where the photos of a job file are: a folder of its name beside it."""
    return job_file.with_name(f"{job_file.stem}-photos")


def find_photo(job_file: Path, name: str) -> Path | None:
    """Return the file of a photo, or None where there is none that belongs to the job.

    Only a plain file directly in the job's own photo folder counts: a link that leads out of it, a folder, pipe, socket
    or device does not, and neither does a folder that is itself a link.
    """
    folder = photo_folder(job_file)
    if not name or name in (".", "..") or "/" in name or "\0" in name:
        return None
    try:
        if not stat.S_ISDIR(folder.lstat().st_mode):
            return None
        found = (folder / name).resolve(strict=True)
        inside = found.parent == folder.resolve(strict=True)
        return found if inside and stat.S_ISREG(found.lstat().st_mode) else None
    except (OSError, RuntimeError):
        return None


def missing(job_file: Path | None, names: list[str]) -> list[str]:
    """Return the photos that are not where they should be."""
    return names if job_file is None else [n for n in names if find_photo(job_file, n) is None]


def add_photo(job_file: Path, photo: Path) -> str:
    """Copy a photo into the job's folder as it is; return its name there.

    Raises:
        InputError: it is no photo that can be read.
        JobFileError: it cannot be copied.
    """
    try:
        content = read_whole(photo, _LARGEST, "a photo")
    except JobFileError as error:
        raise InputError("Photo", str(error), "Choose another file.") from None
    if photo.suffix.lower() in (".heic", ".heif"):
        raise InputError(photo.name, "is HEIC, which cannot be read here.", "Save it as JPEG or PNG first.")
    ending = _checked_ending(content, photo.name)
    folder = photo_folder(job_file)
    # The same photo added twice is one file; another of the same name gets a name of its own.
    name = f"{_plain_stem(photo)}-{hashlib.sha256(content).hexdigest()[:8]}{ending}"
    if find_photo(job_file, name) is None:
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise JobFileError(f"{folder.name} cannot be made: {reason(error)}.") from None
        if folder.is_symlink():
            raise JobFileError(
                f"{folder.name} is a link to another place: photos are kept in a folder of the job’s own."
            )
        clear_leftovers(folder)
        write_whole(folder / name, content)
    return name


def _plain_stem(photo: Path) -> str:
    """Return the name of a photo without its ending, in letters that any file system and any text takes."""
    stem = os.fsencode(photo.stem).decode("utf-8", "replace")
    return "".join(c if c.isprintable() else "_" for c in stem)[:40].lstrip(".") or "photo"


def _checked_ending(content: bytes, name: str) -> str:
    """Return the file ending that goes with the content of a photo.

    Raises:
        InputError: it is no photo that can be shown here.
    """
    try:
        with _opened(content) as image:
            kind, pixels = image.format or "", image.width * image.height
            most = _most_pixels(image)
            if pixels <= most:
                image.verify()
    except Exception:  # a decoder that is not ours, fed with damage: whatever it stumbles over
        kind, pixels, most = "", 0, 0
    if kind not in _KINDS:
        raise InputError(name, "is no photo that can be read here.", "Choose a JPEG or a PNG.")
    if pixels > most:
        raise InputError(name, f"has {pixels / 1e6:,.0f} million pixels.", f"Save it with {most / 1e6:.0f} or fewer.")
    return _KINDS[kind]


def _opened(content: bytes) -> "Picture":
    from PIL import Image  # noqa: PLC0415 - only those who look at photos wait for it

    Image.MAX_IMAGE_PIXELS = None  # pixels are counted here, where nothing has been unpacked yet
    warnings.filterwarnings("ignore", module=r"PIL\.")  # what it skips of a damaged file is no line for the terminal
    return Image.open(io.BytesIO(content), formats=("JPEG", "PNG"))


def _most_pixels(image: "Picture") -> int:
    """Return how many pixels may be unpacked: a JPEG comes small from its decoder, unless it is built up in passes."""
    small = image.format in ("JPEG", "MPO") and not image.info.get("progressive")
    return MOST_PIXELS_SMALLER if small else MOST_PIXELS


def preview(job_file: Path, name: str) -> bytes | None:
    """Return a small JPEG of a photo, made when first asked for; None where the photo is missing or cannot be shown."""
    source = find_photo(job_file, name)
    if source is None:
        return None
    hidden = photo_folder(job_file) / _HIDDEN
    kept = hidden / f"{hashlib.sha256(source.name.encode('utf-8', 'replace')).hexdigest()[:24]}.jpg"
    if (found := _kept_preview(kept)) is not None:
        return found
    try:
        small = _shrunk(read_whole(source, _LARGEST, "a photo"))
    except Exception:  # a decoder that is not ours, fed with damage: whatever it stumbles over
        return None
    if small is not None:
        _keep_preview(kept, small)
    return small


def _kept_preview(kept: Path) -> bytes | None:
    """Return a preview made before, where it is one of ours: a small picture that can be read."""
    if kept.is_symlink() or kept.parent.is_symlink() or not kept.exists():
        return None
    try:
        content = read_whole(kept, _LARGEST_PREVIEW, "a preview")
        with _opened(content) as image:
            if max(image.size) > PREVIEW_PX or image.format != "JPEG":
                return None
            image.load()
    except Exception:  # a decoder that is not ours, fed with damage: whatever it stumbles over
        return None
    return content


def _shrunk(content: bytes) -> bytes | None:
    """Return a photo as a small JPEG that stands upright, nothing else of it told; None where it is too large."""
    from PIL import ImageOps  # noqa: PLC0415

    with _opened(content) as image:
        if image.width * image.height > _most_pixels(image):
            return None
        image.thumbnail((PREVIEW_PX, PREVIEW_PX))
        upright: Any = ImageOps.exif_transpose(image).convert("RGB")
        upright.info = {}
        out = io.BytesIO()
        upright.save(out, "JPEG", quality=82)
    return out.getvalue()


def _keep_preview(kept: Path, small: bytes) -> None:
    """Put a preview beside the photos, where that can be done without following a link."""
    try:
        kept.parent.mkdir(exist_ok=True)
        if not kept.parent.is_symlink() and not kept.is_symlink():
            write_whole(kept, small)
    except OSError:
        return


def photo_to_give(job_file: Path, name: str) -> bytes | None:
    """Return a photo as it may be given on: its picture as it is, upright, without place, time or serial number.

    None where it is missing, damaged or of another kind.
    """
    source = find_photo(job_file, name)
    if source is None:
        return None
    try:
        return clean_photo(read_whole(source, _LARGEST, "a photo"))
    except JobFileError:
        return None
