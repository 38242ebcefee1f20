"""Scanned or drawn parts as triangles, from STL, OBJ, PLY, OFF and 3MF files."""

import io
import logging
import zipfile
from pathlib import Path
from typing import Any

import numpy as np

from even_stance.errors import InputError, JobFileError
from even_stance.exchange.wholefile import read_whole
from even_stance.mechanics.triangles import farthest_from
from even_stance.mechanics.vectors import Array
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.edits import made
from even_stance.vehicle.things import MOST_TRIANGLES, Scan

KINDS = ("stl", "obj", "ply", "off", "3mf")
"""Endings of the files that are read."""
MOST_GROWN_MM = 1.0
_LARGEST, _LARGEST_UNPACKED = 120_000_000, 300_000_000
_MOST_READ = 1_000_000
_FARTHEST_MM = 20_000.0
_TRIED = (300, 600, 1_000, MOST_TRIANGLES)
_ROUNDED = 3  # decimals of a millimeter that are kept
# The units a 3MF file may name (3MF core specification, section 3.4).
_NAMED_MM = {
    "micron": 0.001, "millimeter": 1.0, "centimeter": 10.0, "inch": MM_PER_INCH, "foot": 12 * MM_PER_INCH,
    "meter": 1_000.0,
}  # fmt: skip
_SAVE_IT = "Save it as STL, OBJ, PLY, OFF or 3MF."


def says_its_unit(path: Path) -> bool:
    """Return whether files of this kind say what their numbers are."""
    return path.suffix.lower() == ".3mf"


def read_scan(path: Path, per_mm: float = 1.0) -> tuple[Scan, str]:
    """Return a part from a file of triangles, thinned where it has more than can be looked at.

    Args:
        path: the file, its kind told by its ending; per_mm: mm for each of its numbers, where it does not say.

    Returns:
        The part, and a sentence on what was thinned; empty where nothing was.

    Raises:
        InputError: it is no such file, is too large, or cannot be thinned without growing by more than a millimeter.
    """
    kind = path.suffix.lower().removeprefix(".")
    if kind not in KINDS:
        raise InputError("Scan", f"{path.name} is of a kind that cannot be read.", _SAVE_IT)
    try:
        raw = read_whole(path, _LARGEST, "a scan")
    except JobFileError as error:
        raise InputError("Scan", str(error), "Choose another file.") from None
    corners, faces = _triangles(raw, kind, path.name)
    corners = corners * per_mm
    if not len(faces) or not np.isfinite(corners).all():
        raise InputError("Scan", f"{path.name} holds no triangles that can be used.", _SAVE_IT)
    if len(faces) > _MOST_READ:
        raise InputError("Scan", f"{path.name} has {len(faces):,} triangles.", "Thin it below a million.")
    if float(np.abs(corners).max()) > _FARTHEST_MM:
        raise InputError("Scan", f"{path.name} reaches farther than twenty meters.", "Check its units.")
    kept, which, grown = thinned(corners, faces, path.name)
    said = ""
    if len(which) < len(faces):
        said = (f"{path.name} has {len(faces):,} triangles: {len(which):,} were kept, and it is taken {grown:.1f} mm "
                f"larger all around, so that nothing of it is missed.")  # fmt: skip
    return made(
        Scan, corners=tuple(tuple(round(float(v), _ROUNDED) for v in c) for c in kept),
        faces=tuple(tuple(int(i) for i in f) for f in which), grown_mm=grown,
    ), said  # fmt: skip


def _triangles(raw: bytes, kind: str, name: str) -> tuple[Array, Any]:
    """Return corners and triangles of a file.

    Raises:
        InputError: it cannot be read.
    """
    import trimesh  # noqa: PLC0415 - heavy, and only for this

    logging.getLogger("trimesh").setLevel(logging.CRITICAL)
    try:
        if kind == "3mf":
            with zipfile.ZipFile(io.BytesIO(raw)) as packed:
                unpacked = sum(part.file_size for part in packed.infolist())
            if unpacked > _LARGEST_UNPACKED:
                raise InputError("Scan", f"{name} unpacks to {unpacked / 1e6:.0f} MB.", "No part is so large.")
        # From memory: a reader that knows no folder cannot be sent for other files.
        mesh: Any = trimesh.load_mesh(io.BytesIO(raw), file_type=kind)
        per_mm = _NAMED_MM.get(str(mesh.units).rstrip("s"), 1.0) if kind == "3mf" else 1.0
        corners, faces = np.asarray(mesh.vertices, float).reshape(-1, 3), np.asarray(mesh.faces).reshape(-1, 3)
        if len(faces) and not 0 <= faces.min() <= faces.max() < len(corners):
            raise IndexError("a triangle names a corner that is not there")
        return corners * per_mm, faces
    except InputError:
        raise
    except Exception:  # a reader that is not ours, fed with damage: whatever it stumbles over
        raise InputError("Scan", f"{name} is damaged, or no {kind.upper()} file.", _SAVE_IT) from None


def thinned(corners: Array, faces: Any, name: str = "It") -> tuple[Array, Any, float]:
    """Return as few triangles as stand for a part within a millimeter, and how far it stands out beyond them, mm.

    Edges are taken out where that changes the form least (Garland and Heckbert, Surface simplification using quadric
    error metrics, SIGGRAPH 1997), by a library. How far the part then stands out is measured, not estimated.

    Raises:
        InputError: more triangles would be needed than can be looked at.
    """
    if len(faces) <= _TRIED[0]:
        return corners, faces, 0.0
    import fast_simplification  # noqa: PLC0415 - heavy, and only for this

    whole = corners[faces]
    for most in (n for n in _TRIED if n < len(faces)):
        places, triangles = fast_simplification.simplify(
            corners.astype(np.float32), faces.astype(np.int32), target_count=most
        )
        if not 0 < len(triangles) <= min(MOST_TRIANGLES, len(faces) - 1):
            continue
        triangles = np.asarray(triangles)
        places = np.round(np.asarray(places, float), _ROUNDED)
        grown = farthest_from(whole, places[triangles], MOST_GROWN_MM)
        if grown <= MOST_GROWN_MM:
            return places, triangles, grown
    if len(faces) <= MOST_TRIANGLES:
        return corners, faces, 0.0
    raise InputError(
        "Scan", f"{name} is too fine: {MOST_TRIANGLES:,} triangles do not stand for it within {MOST_GROWN_MM:g} mm.",
        "Cut it down to what comes near the axle, or make it smoother in the scanner’s program.",
    )  # fmt: skip
