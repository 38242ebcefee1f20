"""Photos of a job: kept in an open folder beside its file, never changed; small previews made once."""

import hashlib
from pathlib import Path

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.wholefile import clear_leftovers, write_whole

PREVIEW_PX = 320
_LARGEST = 60_000_000
_KINDS = {"JPEG": ".jpg", "PNG": ".png"}
_HIDDEN = ".previews"


def photo_folder(job_file: Path) -> Path:
    """Where the photos of a job file are: a folder of its name beside it."""
    return job_file.with_name(f"{job_file.stem}-photos")


def add_photo(job_file: Path, photo: Path) -> str:
    """Copy a photo into the job's folder as it is; its name there.

    Raises:
        InputError: it is no photo that can be read.
        JobFileError: it cannot be copied.
    """
    from PIL import Image, UnidentifiedImageError  # noqa: PLC0415 - only those who add photos wait for it

    try:
        content = photo.read_bytes()
    except OSError as error:
        raise InputError(photo.name, f"cannot be read: {error.strerror}.", "Choose another file.") from None
    if len(content) > _LARGEST:
        raise InputError(photo.name, "is larger than 60 MB.", "Save it smaller first.")
    if photo.suffix.lower() in (".heic", ".heif"):
        raise InputError(photo.name, "is HEIC, which cannot be read here.", "Save it as JPEG or PNG first.")
    try:
        with Image.open(photo) as image:
            kind = image.format or ""
            image.verify()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        kind = ""
    if kind not in _KINDS:
        raise InputError(photo.name, "is no photo that can be read here.", "Choose a JPEG or a PNG.")
    folder = photo_folder(job_file)
    # The same photo added twice is one file; another of the same name gets a name of its own.
    name = f"{photo.stem[:60]}-{hashlib.sha256(content).hexdigest()[:8]}{_KINDS[kind]}"
    target = folder / name
    if not target.exists():
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise JobFileError(f"{folder.name} cannot be made: {error.strerror}.") from None
        clear_leftovers(folder)
        write_whole(target, content)
    return name


def preview(job_file: Path, name: str) -> Path | None:
    """A small copy of a photo, made when first asked for; None where the photo is missing or cannot be read."""
    from PIL import Image, ImageOps  # noqa: PLC0415

    folder = photo_folder(job_file)
    source, small = folder / name, folder / _HIDDEN / f"{name}.jpg"
    if small.exists():
        return small
    if not source.exists():
        return None
    try:
        with Image.open(source) as image:
            turned = ImageOps.exif_transpose(image).convert("RGB")
            turned.thumbnail((PREVIEW_PX, PREVIEW_PX))
            small.parent.mkdir(parents=True, exist_ok=True)
            part = small.with_suffix(".part")
            turned.save(part, "JPEG", quality=82)
            part.replace(small)
    except (OSError, ValueError, Image.DecompressionBombError):
        return None
    return small


def missing(job_file: Path | None, names: list[str]) -> list[str]:
    """The photos that are not where they should be."""
    if job_file is None:
        return names
    folder = photo_folder(job_file)
    return [n for n in names if not (folder / n).exists()]
