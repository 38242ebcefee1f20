"""Job and points files damaged at random: each is refused in one sentence or answered, in little time and memory."""

import json
import random
import re
import resource
import sys
import time
from collections.abc import Callable
from copy import deepcopy
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import trimesh
from PIL import Image

from even_stance.errors import StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job
from even_stance.exchange.meshes import read_scan
from even_stance.exchange.outlines import plate_from, read_outlines
from even_stance.exchange.photos import add_photo, photo_folder, photo_to_give, preview
from even_stance.exchange.points import points_csv, read_points
from even_stance.replies.checking import check
from even_stance.shop.drawer import dump_drawer, load_drawer

LIMIT_S, LIMIT_MB = 2.0, 300
ODD: tuple[Any, ...] = (
    None, True, -1, 0, 1e308, -1e308, 1e-300, 10**400, "", "x" * 5000, [], {}, [[]] * 50, "<img src='/dev/zero'>",
    "\u0000", "9" * 400, 0.1, -0.0, 12_345.678, "rear", "front", 89.9, 19_999.0,
)  # fmt: skip


@dataclass
class Mutants:
    """What was counted."""

    files: int = 0
    refused: int = 0
    answered: int = 0
    longest_s: float = 0.0
    faults: list[str] = field(default_factory=list)

    def __str__(self) -> str:
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        return (
            f"{self.files} files, {self.refused} refused in a sentence, {self.answered} answered; longest "
            f"{self.longest_s:.2f} s, peak {peak:.0f} MB, faults {len(self.faults)}"
        )

    def check_memory(self) -> None:
        """Count going over the memory limit as a fault."""
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        if peak > LIMIT_MB:
            self.faults.append(f"memory rose to {peak:.0f} MB")


def bytes_damaged(raw: bytes, hands: random.Random) -> bytes:
    """Bytes flipped, cut, doubled, put in or left out."""
    data = bytearray(raw)
    for _ in range(hands.choice((1, 1, 2, 5, 40))):
        at = hands.randrange(len(data) + 1)
        deed = hands.randrange(6)
        if deed == 0 and at < len(data):
            data[at] = hands.randrange(256)
        elif deed == 1:
            del data[at : at + hands.choice((1, 3, 200, 10_000))]
        elif deed == 2:
            data[at:at] = bytes(hands.randrange(256) for _ in range(hands.choice((1, 4, 60))))
        elif deed == 3:
            data = data[:at] if hands.random() < 0.3 else data
        elif deed == 4:
            data[at:at] = data[at : at + hands.choice((10, 300, 3000))]
        else:
            data[at:at] = hands.choice((b"{", b"[", b'"', b"1e999", b"NaN", b"-", b",", b"null", b"\xff\xfe"))
    return bytes(data)


def values_damaged(data: Any, hands: random.Random) -> bytes:
    """Values of a job swapped for odd ones, taken out, doubled or moved about, the JSON still whole."""
    copy = json.loads(json.dumps(data))
    for _ in range(hands.choice((1, 1, 2, 6))):
        place: Any = copy
        while True:
            keys = list(place) if isinstance(place, dict) else list(range(len(place)))
            if not keys:
                break
            key = hands.choice(keys)
            if isinstance(place[key], dict | list) and hands.random() < 0.85:
                place = place[key]
                continue
            deed = hands.randrange(5)
            if deed == 0:
                del place[key]
            elif deed == 1 and isinstance(place, list):
                place += [place[key]] * hands.choice((1, 5, 400))
            elif deed == 2 and isinstance(place[key], int | float):
                place[key] = float(min(max(place[key], -1e300), 1e300)) * hands.choice((-1, 0, 1e-3, 1.3, 1e3))
            else:
                place[key] = deepcopy(hands.choice(ODD))  # what is put in may be damaged further
            break
    return json.dumps(copy).encode()


def _try(path: Path, raw: bytes, work: Callable[[Path], object], count: Mutants) -> None:
    path.write_bytes(raw)
    start = time.monotonic()
    try:
        work(path)
        count.answered += 1
    except StanceError as error:
        count.refused += 1
        if "\n" in str(error) or len(str(error)) > 600:
            count.faults.append(f"{path.name}: not a sentence: {str(error)[:200]}")
    except Exception as error:  # whatever else comes out is what is looked for
        count.faults.append(f"{path.name}: {type(error).__name__}: {str(error)[:200]}")
        (path.parent / f"fault-{len(count.faults)}{path.suffix}").write_bytes(raw)
    took = time.monotonic() - start
    count.files += 1
    count.longest_s = max(count.longest_s, took)
    if took > LIMIT_S:
        count.faults.append(f"{path.name}: took {took:.1f} s")


def damaged_jobs(folder: Path, number: int, seed: int = 0) -> Mutants:
    """So many damaged job files, opened and, where they can be, judged as “check” does with the first look at gaps."""
    hands, count = random.Random(seed), Mutants()
    texts = [dump_job(job).encode() for job in demo_jobs()]
    plain = [json.loads(text) for text in texts]
    for _ in range(number):
        which = hands.randrange(len(texts))
        raw = bytes_damaged(texts[which], hands) if hands.random() < 0.4 else values_damaged(plain[which], hands)
        _try(folder / "mutant.stance", raw, lambda path: check(load_job(path)[0], fine=False).lines, count)
    count.check_memory()
    return count


def damaged_points(folder: Path, number: int, seed: int = 0) -> Mutants:
    """So many damaged points files, CSV and DXF."""
    hands, count = random.Random(seed), Mutants()
    table = points_csv(demo_jobs()[0].vehicle).encode("utf-8-sig")
    drawing = ezdxf.new("R2010", units=4)
    for i in range(8):
        drawing.modelspace().add_point((-100.0 * i, 30.0 * i, 300.0))
    drawing.saveas(folder / "whole.dxf")
    whole = (folder / "whole.dxf").read_bytes()
    for _ in range(number):
        if hands.random() < 0.7:
            _try(folder / "mutant.csv", bytes_damaged(table, hands), read_points, count)
        else:
            _try(folder / "mutant.dxf", bytes_damaged(whole, hands), read_points, count)
    count.check_memory()
    return count


def damaged_outlines(folder: Path, number: int, seed: int = 0) -> Mutants:
    """So many damaged drawings of plates, put on the car where they can be."""
    hands, count = random.Random(seed), Mutants()
    drawing = ezdxf.new("R2010", units=4)
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (200, 0), (200, 80, 0, 0, 0.5), (0, 80)], close=True, format="xyseb")
    space.add_circle((50, 40), 8)
    for a, b in (((300, 0), (400, 0)), ((400, 0), (400, 50)), ((400, 50), (300, 50)), ((300, 50), (300, 0))):
        space.add_line(a, b)
    space.add_spline([(0, 200), (50, 260), (120, 210)])
    drawing.blocks.new("TAB").add_ellipse((0, 0), (30, 0), 0.5)
    space.add_blockref("TAB", (100, 300))
    drawing.saveas(folder / "whole.dxf")
    whole = (folder / "whole.dxf").read_bytes()

    def work(path: Path) -> None:
        found = read_outlines(path)
        plate_from(found, found.per_mm or 1.0, "side", 0.0, 6.0)

    for _ in range(number):
        raw = bytes_damaged(whole, hands)
        if hands.random() < 0.5:  # a figure of the drawing made very large, very small or none
            figure = str(hands.choice((1e308, -1e308, 1e12, 1e-300, float("nan"), float("inf"), 0, -1))).encode()
            places = [m.span() for m in re.finditer(rb"(?<=\n)\d+\.\d+(?=\r?\n)", whole)]
            start, end = hands.choice(places)
            raw = whole[:start] + figure + whole[end:]
        _try(folder / "mutant.dxf", raw, work, count)
    count.check_memory()
    return count


def damaged_meshes(folder: Path, number: int, seed: int = 0) -> Mutants:
    """So many damaged scans of every kind that is read."""
    hands, count = random.Random(seed), Mutants()
    wholes = []
    for kind in ("stl", "obj", "ply", "off", "3mf"):
        trimesh.creation.icosphere(subdivisions=2, radius=60.0).export(folder / f"whole.{kind}")
        wholes.append((kind, (folder / f"whole.{kind}").read_bytes()))
    wholes.append(("ply", b"ply\nformat ascii 1.0\nelement vertex 99999999999\nproperty float x\nend_header\n1\n"))
    wholes.append(("off", b"OFF\n999999999 999999999 0\n1 2 3\n"))
    for _ in range(number):
        kind, whole = hands.choice(wholes)
        _try(folder / f"mutant.{kind}", bytes_damaged(whole, hands), read_scan, count)
    count.check_memory()
    return count


def damaged_photos(folder: Path, number: int, seed: int = 0) -> Mutants:
    """So many damaged photos: added, shown small, and given on."""
    hands, count = random.Random(seed), Mutants()
    wholes = []
    for name in ("whole.jpg", "whole.png"):
        Image.fromarray(np.random.default_rng(1).integers(0, 255, (40, 60, 3), dtype=np.uint8)).save(folder / name)
        wholes.append((folder / name).read_bytes())
    job = folder / "car.stance"

    def work(path: Path) -> None:
        kept = photo_folder(job)
        kept.mkdir(exist_ok=True)
        (kept / "seen.jpg").write_bytes(path.read_bytes())
        for made in kept.glob(".previews/*"):
            made.unlink()
        preview(job, "seen.jpg")
        photo_to_give(job, "seen.jpg")
        (kept / add_photo(job, path)).unlink()

    for _ in range(number):
        _try(folder / "mutant.jpg", bytes_damaged(hands.choice(wholes), hands), work, count)
    count.check_memory()
    return count


def damaged_drawers(folder: Path, number: int, seed: int = 0) -> Mutants:
    """So many damaged parts drawers."""
    hands, count = random.Random(seed), Mutants()
    parts = [e.joint for p in demo_jobs()[1].vehicle.build.links for e in (p.first, p.second) if e.joint is not None]
    whole = dump_drawer(parts)
    for _ in range(number):
        deed = hands.random() < 0.4
        raw = bytes_damaged(whole.encode(), hands) if deed else values_damaged(json.loads(whole), hands)
        _try(folder / "drawer.json", raw, lambda p: load_drawer(p.read_text(encoding="utf-8", errors="replace")), count)
    count.check_memory()
    return count


def tell(count: Mutants) -> None:
    """What was counted, and the first faults."""
    print(count, *count.faults[:10], sep="\n", flush=True, file=sys.stdout)
