"""Every number that is judged, one record each: a new one is added in the file of its station and nowhere else here."""

from dataclasses import replace

from even_stance.judgement.standards import build, clearance, driveline, links, springs, steering, travel
from even_stance.judgement.standards.standard import Standard

_FILES = {
    "links": links.STANDARDS, "travel": travel.STANDARDS, "driveline": driveline.STANDARDS,
    "steering": steering.STANDARDS, "springs": springs.STANDARDS,
    "clearance": clearance.STANDARDS, "build": build.STANDARDS,
}  # fmt: skip
STANDARDS: dict[str, Standard] = {
    s.key: replace(s, station=station) for station, standards in _FILES.items() for s in standards
}
