"""The photo folder: nothing half written, whatever happens to the disk or the program."""

import errno
import hashlib
import io
import json
import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from PIL import ExifTags, Image, ImageOps, PngImagePlugin

from even_stance.errors import InputError, JobFileError
from even_stance.exchange import wholefile
from even_stance.exchange.bookpdf import book_pdf, write_folder
from even_stance.exchange.jobfile import dump_job, parse_job
from even_stance.exchange.photos import add_photo, find_photo, missing, photo_folder, photo_to_give, preview
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Entry, Log


def _photo(path: Path, seed: int = 0) -> Path:
    Image.fromarray(np.random.default_rng(seed).integers(0, 255, (60, 80, 3), dtype=np.uint8)).save(path)
    return path


def test_a_full_disk_is_said_and_leaves_no_half_photo(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    job, first = tmp_path / "car.stance", _photo(tmp_path / "one.png")
    kept = add_photo(job, first)

    def full(_handle: int) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr(wholefile.os, "fsync", full)
    with pytest.raises(JobFileError, match="the disk is full"):
        add_photo(job, _photo(tmp_path / "two.png", 1))
    assert [p.name for p in photo_folder(job).iterdir()] == [kept]
    assert (photo_folder(job) / kept).read_bytes() == first.read_bytes()


def test_a_preview_that_cannot_be_written_is_no_error(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    job = tmp_path / "car.stance"
    name = add_photo(job, _photo(tmp_path / "one.png"))

    def full(*_: object, **__: object) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    with monkeypatch.context() as patch:
        patch.setattr(Image.Image, "save", full)
        assert preview(job, name) is None
    small = preview(job, name)
    assert small is not None
    assert missing(job, [name, "gone.jpg"]) == ["gone.jpg"]


@pytest.mark.parametrize("content", [b"", b"not a photo", b"\x89PNG\r\n\x1a\n" + b"\0" * 40, b"\xff\xd8\xff\xe0cut"])
def test_what_is_no_photo_is_refused_in_a_sentence(tmp_path: Path, content: bytes) -> None:
    odd = tmp_path / "odd.png"
    odd.write_bytes(content)
    with pytest.raises(InputError, match="Choose a JPEG or a PNG"):
        add_photo(tmp_path / "car.stance", odd)
    assert not photo_folder(tmp_path / "car.stance").exists()


_ADDS = """
import sys
from pathlib import Path
from even_stance.exchange.photos import add_photo
folder = Path(sys.argv[1])
print("ready", flush=True)
for photo in sorted(folder.glob("*.png")):
    print(add_photo(folder / "car.stance", photo), flush=True)
"""


def test_killed_at_any_moment_photos_said_to_be_kept_are_whole(tmp_path: Path) -> None:
    for i in range(150):
        _photo(tmp_path / f"p{i:03d}.png", i)
    rng, confirmed = np.random.default_rng(5), 0
    for _ in range(6):
        child = subprocess.Popen([sys.executable, "-c", _ADDS, str(tmp_path)], stdout=subprocess.PIPE, text=True)
        assert child.stdout is not None
        assert child.stdout.readline() == "ready\n"
        time.sleep(float(rng.uniform(0.0, 0.25)))
        child.send_signal(signal.SIGKILL)
        said = child.stdout.read().split("\n")[:-1]  # what was cut in the middle of a line was not said
        child.wait()
        confirmed += len(said)
        there = list(photo_folder(tmp_path / "car.stance").glob("*.png"))
        assert set(said) <= {p.name for p in there}
        for photo in there:
            assert photo.stem.endswith(hashlib.sha256(photo.read_bytes()).hexdigest()[:8])
    assert confirmed


OUTSIDE = ("../../.profile", "/etc/hostname", "../x.pdf", "..", ".", "a/b.jpg", "tab\tname.jpg", "a\0b.jpg")


@pytest.mark.parametrize("name", OUTSIDE)
def test_a_photo_is_named_by_a_plain_file_name(name: str, trail_job: Job, tmp_path: Path) -> None:
    """A job from a stranger once put its “photo” over a person's own start file."""
    with pytest.raises(ValueError, match="plain name of a file"):
        Entry(at="2026-05-01", title="t", photos=(name,))
    kept = with_changes(trail_job, log=Log(entries=(Entry(at="2026-05-01", title="t", photos=("NAME.jpg",)),)))
    text = dump_job(kept).replace('"NAME.jpg"', json.dumps(name))
    with pytest.raises(
        JobFileError, match=r"photos, no\. 1: Must be the plain name of a file in the job’s photo folder"
    ):
        parse_job(text)
    assert find_photo(tmp_path / "car.stance", name) is None


def test_what_is_no_plain_file_of_the_photo_folder_is_no_photo(tmp_path: Path) -> None:
    """Links out of the folder, devices, pipes and sockets: none is opened, none is given on."""
    job, private = tmp_path / "car.stance", _photo(tmp_path / "private.png")
    folder = photo_folder(job)
    folder.mkdir()
    (folder / "link.png").symlink_to(private)
    (folder / "zero.png").symlink_to("/dev/zero")
    (folder / "folder.png").mkdir()
    os.mkfifo(folder / "pipe.png")
    with socket.socket(socket.AF_UNIX) as door:
        door.bind(str(folder / "door.png"))
        names = ["link.png", "zero.png", "folder.png", "pipe.png", "door.png", "x" * 400, "none.png"]
        assert missing(job, names) == names
        assert [preview(job, n) for n in names] == [None] * len(names)
        assert [photo_to_give(job, n) for n in names] == [None] * len(names)
    own = _photo(folder / "own.png", 3)
    (folder / "inside.png").symlink_to(own)
    assert find_photo(job, "inside.png") == own
    (tmp_path / "other-photos").symlink_to(folder)
    assert find_photo(tmp_path / "other.stance", "own.png") is None  # the folder is a link
    for wait in (folder / "pipe.png", Path("/dev/zero")):
        with pytest.raises(InputError, match="no plain file but a pipe or a device"):
            add_photo(job, wait)
    with pytest.raises(JobFileError, match="is a link to another place"):
        add_photo(tmp_path / "other.stance", _photo(tmp_path / "new.png", 9))


def test_a_preview_is_never_written_through_a_link(tmp_path: Path) -> None:
    job = tmp_path / "car.stance"
    name, away = add_photo(job, _photo(tmp_path / "one.png")), tmp_path / "away"
    away.mkdir()
    (photo_folder(job) / ".previews").symlink_to(away)
    assert preview(job, name) is not None
    assert list(away.iterdir()) == []
    (photo_folder(job) / ".previews").unlink()
    assert preview(job, name) is not None
    (kept,) = (photo_folder(job) / ".previews").iterdir()
    for forged in (b"no picture", _photo(tmp_path / "large.png").read_bytes()):
        kept.write_bytes(forged)
        again = preview(job, name)
        assert again is not None
        assert again.startswith(b"\xff\xd8")


def _huge_png(side: int) -> bytes:
    """A small file that unpacks to a very large picture."""
    out = io.BytesIO()
    Image.new("1", (side, side)).save(out, "PNG")
    return out.getvalue()


def test_a_picture_of_too_many_pixels_is_never_unpacked(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """21 kB on disk were 960 MB in memory."""
    bomb, job = tmp_path / "bomb.png", tmp_path / "car.stance"
    bomb.write_bytes(_huge_png(13_000))
    monkeypatch.setattr(Image.core, "zip_decoder", None)  # nothing may be unpacked
    with pytest.raises(InputError, match="has 169 million pixels"):
        add_photo(job, bomb)
    photo_folder(job).mkdir()
    (photo_folder(job) / "bomb.png").write_bytes(bomb.read_bytes())
    assert preview(job, "bomb.png") is None


def _with_secrets(path: Path, orientation: int) -> Path:
    """A photo with place, serial number, a comment and a small picture of its own, as cameras write them."""
    exif = Image.Exif()
    exif[ExifTags.Base.Orientation] = orientation
    exif[ExifTags.Base.Software] = "SECRET software"
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.BodySerialNumber] = "SECRET serial"
    exif.get_ifd(ExifTags.IFD.GPSInfo)[ExifTags.GPS.GPSLatitude] = (1.0, 2.0, 3.0)
    rows = np.linspace(0, 255, 64 * 48 * 3).reshape(48, 64, 3).astype(np.uint8)
    image = Image.fromarray(rows)
    if path.suffix == ".png":
        words = PngImagePlugin.PngInfo()
        words.add_text("Comment", "SECRET comment")
        image.save(path, exif=exif, pnginfo=words)
        path.write_bytes(path.read_bytes() + b"SECRET tail")
    else:
        image.save(path, exif=exif, comment=b"SECRET comment", icc_profile=b"SECRET profile" * 9, quality=90)
        path.write_bytes(path.read_bytes() + b"SECRET second picture")
    return path


@pytest.mark.parametrize("ending", [".jpg", ".png"])
@pytest.mark.parametrize("orientation", [1, 3, 6, 8])
def test_what_is_given_on_is_the_picture_and_which_way_is_up(tmp_path: Path, ending: str, orientation: int) -> None:
    """Referee: Pillow reads the same pixels, the same orientation and nothing else."""
    job = tmp_path / "car.stance"
    name = add_photo(job, _with_secrets(tmp_path / f"a{ending}", orientation))
    given = photo_to_give(job, name)
    assert given is not None
    kept = (photo_folder(job) / name).read_bytes()
    assert b"SECRET" in kept
    assert b"SECRET" not in given
    with Image.open(io.BytesIO(kept)) as before, Image.open(io.BytesIO(given)) as after:
        assert dict(after.getexif()) == ({ExifTags.Base.Orientation: orientation} if orientation > 1 else {})
        assert not after.getexif().get_ifd(ExifTags.IFD.GPSInfo)
        assert ImageOps.exif_transpose(before).tobytes() == ImageOps.exif_transpose(after).tobytes()
    small = preview(job, name)
    assert small is not None
    assert b"SECRET" not in small
    with Image.open(io.BytesIO(small)) as turned:
        assert turned.size == ((48, 64) if orientation in (6, 8) else (64, 48))


def test_everything_as_open_files_gives_on_only_photos_of_the_job(trail_job: Job, tmp_path: Path) -> None:
    job_file = tmp_path / "home" / "deep" / "car.stance"
    job_file.parent.mkdir(parents=True)
    secret = job_file.parent.parent / ".profile"
    secret.write_text("mine")
    name = add_photo(job_file, _with_secrets(tmp_path / "seen.jpg", 6))
    (photo_folder(job_file) / "leads-out.jpg").symlink_to(secret)
    entry = Entry(at="2026-05-01T10:00", title="Photos", photos=(name, "leads-out.jpg", "gone.jpg"))
    job = with_changes(trail_job, log=Log(entries=(entry,)))
    written = write_folder(job, tmp_path / "out", job_file)
    assert [p.name for p in written if p.parent.name == "photos"] == [name]
    assert secret.read_text() == "mine"
    assert b"SECRET" not in (tmp_path / "out" / "photos" / name).read_bytes()
    assert book_pdf(job, job_file).startswith(b"%PDF")


def test_damaged_photos_are_no_picture_and_no_fault(tmp_path: Path) -> None:
    """Many bytes of a header changed: a preview, a clean copy, or none."""
    job, answered = tmp_path / "car.stance", 0
    photo_folder(job).mkdir()
    hands = np.random.default_rng(4)
    for ending in (".jpg", ".png"):
        whole = _with_secrets(tmp_path / f"w{ending}", 6).read_bytes()
        for _ in range(150):
            raw = bytearray(whole)
            for _ in range(int(hands.integers(1, 5))):
                at = int(hands.integers(0, min(len(raw), 600)))
                raw[at : at + int(hands.integers(0, 4))] = hands.bytes(int(hands.integers(0, 4)))
            (photo_folder(job) / f"x{ending}").write_bytes(raw)
            preview(job, f"x{ending}")
            given = photo_to_give(job, f"x{ending}")
            answered += given is not None
            assert given is None or given[:2] in (b"\xff\xd8", b"\x89P")
            for made in (photo_folder(job) / ".previews").glob("*"):
                made.unlink()
    assert 0 < answered < 300
