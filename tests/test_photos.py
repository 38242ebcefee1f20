"""The photo folder: nothing half written, whatever happens to the disk or the program."""

import errno
import hashlib
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from even_stance.errors import InputError, JobFileError
from even_stance.exchange import wholefile
from even_stance.exchange.photos import add_photo, missing, photo_folder, preview


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
