"""Every number that is judged, one record each: a new one is added in the file of its station and nowhere else here."""

from dataclasses import replace

from even_stance.judgement.standards import build, clearance, driveline, links, springs, steering, travel
from even_stance.judgement.standards.purposes import BASIS, LIKE, MARKS, WHY
from even_stance.judgement.standards.standard import Standard

_FILES = {
    "links": links.STANDARDS, "travel": travel.STANDARDS, "driveline": driveline.STANDARDS,
    "steering": steering.STANDARDS, "springs": springs.STANDARDS,
    "clearance": clearance.STANDARDS, "build": build.STANDARDS,
}  # fmt: skip


def _for_all(standard: Standard, station: str) -> Standard:
    """A number with what every purpose wants of it, and why."""
    stem = standard.key.replace("_axle_pct", "_pct")
    marks = standard.marks | {p: standard.marks[like] for p, like in LIKE.items()} | MARKS.get(stem, {})
    basis = BASIS.get(stem, standard.basis)
    return replace(standard, station=station, marks=marks, why=WHY.get(stem, {}), basis=basis)


STANDARDS: dict[str, Standard] = {
    s.key: _for_all(s, station) for station, standards in _FILES.items() for s in standards
}
