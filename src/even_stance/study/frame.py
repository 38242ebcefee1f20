"""The frame rails as they are drawn and kept clear of: two rails along the car that kick up over the rear axle."""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.mechanics.weighing import cg_over_ground
from even_stance.study.drawing import View, project
from even_stance.vehicle.car import Axle, Vehicle

RAIL_HALF_MM = 30.0  # a rail is some 60 mm wide; only where its middle is gets measured


def frame_ends(vehicle: Vehicle) -> tuple[float, float]:
    """Front and rear end of the frame, mm ahead of the front axle."""
    tire = vehicle.axles[0].tire.free_diameter_mm
    return 0.55 * tire, -(vehicle.axles[-1].behind_front_mm + 0.75 * tire)


def rail_line(vehicle: Vehicle) -> tuple[tuple[float, float], ...]:
    """The top of the rails from front to rear: mm ahead of the front axle, and rise above the measured top, mm."""
    ahead, behind = frame_ends(vehicle)
    frame = vehicle.frame
    last, up, front = -vehicle.axles[-1].behind_front_mm, frame.kick_up_mm, frame.front_kick_up_mm
    run, first = (0.45 * vehicle.axles[i].tire.free_diameter_mm for i in (-1, 0))
    over_front = ((ahead, 0.4 * front), (0.8 * first, front), (-1.1 * first, front), (-1.9 * first, 0.0))
    over_rear = ((last + 2.1 * run, 0.0), (last + 1.2 * run, up), (last - run, up), (behind, 0.4 * up))
    return (*(over_front if front else ((ahead, 0.0),)), *over_rear)


def rail_thick(vehicle: Vehicle) -> float:
    """How high a rail is, mm; one that was measured upside down is drawn thin."""
    return max(vehicle.frame.rail_top_mm - vehicle.frame.rail_bottom_mm, 20.0)


@dataclass(frozen=True)
class RailGaps:
    """How far a place is from the rail of its side, mm: + clear of it on that side, - beyond its face."""

    below: float
    above: float
    inside: float
    outside: float

    @property
    def side(self) -> str | None:
        """The side it is clearest on; None within the rail."""
        gaps = {"below": self.below, "above": self.above, "inside": self.inside, "outside": self.outside}
        best = max(gaps, key=lambda side: gaps[side])
        return best if gaps[best] >= 0 else None


def rail_gaps(vehicle: Vehicle, x: Array, y: float, z: float) -> RailGaps:
    """How far a place is from the rail of its side.

    Args:
        vehicle: the vehicle.
        x: where it is, or may be, fore and aft, mm ahead of the front axle, shape (n,): the least gap counts.
        y, z: out from the centerline and above ground, mm.
    """
    places, rises = (np.array(v) for v in zip(*reversed(rail_line(vehicle)), strict=True))
    rise = np.interp(np.append(x, places[(places > x.min()) & (places < x.max())]), places, rises)
    top = vehicle.frame.rail_top_mm
    bottom = top - rail_thick(vehicle)
    out = vehicle.frame.rail_out_mm
    return RailGaps(
        bottom + float(rise.min()) - z, z - top - float(rise.max()), out - RAIL_HALF_MM - abs(y),
        abs(y) - out - RAIL_HALF_MM,
    )  # fmt: skip


def view_frame(vehicle: Vehicle, axle: Axle, view: View, whole: bool) -> tuple[float, float, float, float]:
    """The window of a projection that shows an axle with its links, or the whole car: h and v ranges, mm."""
    points = [mount.at.xyz for part in axle.parts for mount in part.mounts.values()]
    x, _, z = axle.center
    radius, half = axle.tire.free_diameter_mm / 2, (axle.track_mm + axle.tire.width_mm) / 2
    high = max(
        vehicle.frame.rail_top_mm + max(vehicle.frame.kick_up_mm, vehicle.frame.front_kick_up_mm),
        2 * radius,
        vehicle.cg_height_mm,
    )
    if whole:
        ahead, behind = frame_ends(vehicle)
        xs = [ahead, behind]
    else:
        xs = [x + radius, x - radius, *(p[0] for p in points)]
    ys = [half, -half, *(p[1] for p in points)]
    zs = [0.0, high + axle.bump_mm * 0.3, *(p[2] for p in points)]
    low = min(0.0, z - radius - 0.3 * axle.droop_mm)
    corners = [project(view, (a, b, c)) for a in (min(xs), max(xs)) for b in (min(ys), max(ys)) for c in (low, max(zs))]
    h, v = [c[0] for c in corners], [c[1] for c in corners]
    return min(h), max(h), min(v), max(v)


def cg_x(vehicle: Vehicle) -> float:
    """How far ahead of the front axle the CG is (negative: behind it), mm; mid-wheelbase while weights are unknown."""
    if vehicle.mass_kg <= 0:
        return -0.5 * vehicle.wheelbase_mm
    loads, places = (np.array(v) for v in zip(*((a.load_kg, a.center[:2]) for a in vehicle.axles), strict=True))
    return float(cg_over_ground(loads, places)[1][0])
