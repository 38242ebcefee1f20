"""Tire size markings, read into free diameter and section width."""

import re
from dataclasses import dataclass

from even_stance.errors import InputError
from even_stance.shop.readings import means_of
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import LOADED_SHARE
from even_stance.vehicle.edits import Edit, set_tire
from even_stance.vehicle.job import Job

_RIM = r"(?:Z?[RBD]|-)(?P<rim>\d{2}(?:\.5)?)"
_METRIC = re.compile(rf"^(?:P|LT|T|C)?(?P<width>\d{{3}})/(?P<aspect>\d{{2,3}}){_RIM}(?:LT|C|XL)?$")
_FLOTATION = re.compile(rf"^(?P<free>\d{{2}}(?:\.\d+)?)X(?P<width>\d{{1,2}}(?:\.\d+)?){_RIM}(?:LT)?$")


@dataclass(frozen=True)
class TireSize:
    """What a marking says: free diameter, section width and rim, mm. Real tires are usually a little smaller."""

    diameter_mm: float
    width_mm: float
    rim_mm: float


def read_tire_size(marking: str) -> TireSize:
    """Read a P-metric, LT-metric or flotation marking, such as P235/75R15, LT285/70R17 or 35x12.50R17LT.

    Metric: diameter = rim + 2 x width x aspect / 100, rim and section height each in whole mm as the standard does.
    Flotation: diameter and width stand in the marking, in inches.

    Raises:
        InputError: not a marking of these kinds, or a size no tire has.

    Source: the design dimensions of ISO 4000-1 and the Tire and Rim Association's yearbook.
    """
    text = re.sub(r"\s+", "", marking).upper().replace("×", "X")
    found = _METRIC.match(text)
    if found is not None:
        width, aspect, rim = float(found["width"]), float(found["aspect"]), float(found["rim"]) * MM_PER_INCH
        size = TireSize(_whole(rim) + 2 * _whole(width * aspect / 100), width, rim)
    else:
        found = _FLOTATION.match(text)
        if found is None:
            raise InputError(
                "Tire size", f"“{marking.strip()}” cannot be read." if marking.strip() else "nothing was entered.",
                "Type it as on the sidewall, such as P235/75R15, LT285/70R17 or 35x12.50R17LT.",
            )  # fmt: skip
        free, width, rim = (float(found[k]) * MM_PER_INCH for k in ("free", "width", "rim"))
        size = TireSize(free, width, rim)
    if not (size.rim_mm + 40.0 < size.diameter_mm < 1700.0 and 80.0 < size.width_mm < 700.0):
        raise InputError(
            "Tire size", f"“{marking.strip()}” would be {size.diameter_mm / MM_PER_INCH:.1f} in high on a "
            f"{size.rim_mm / MM_PER_INCH:g} in rim.", "Check the figures on the sidewall.",
        )  # fmt: skip
    return size


def use_tire_size(key: str, marking: str) -> Edit:
    """Take diameter and width of an axle's tires from their marking; a loaded radius that was measured stays.

    Raises:
        InputError: the marking cannot be read.
    """
    size = read_tire_size(marking)

    def apply(job: Job) -> Job:
        changes = {"free_diameter_mm": size.diameter_mm, "width_mm": size.width_mm}
        if f"tire.{key}.radius" not in means_of(job):
            changes["loaded_radius_mm"] = LOADED_SHARE * size.diameter_mm
        return set_tire(key, f"Tire size {marking.strip()}", **changes).apply(job)

    return Edit(f"Tire size {marking.strip()}", apply)


def _whole(mm: float) -> float:
    return float(int(mm + 0.5))
