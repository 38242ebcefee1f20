"""The lines behind the numbers of a driveshaft: output, shaft and pinion, and both joint angles."""

import numpy as np

from even_stance.mechanics.vectors import Array
from even_stance.study.drawing import Label, Path, Shape, View, project
from even_stance.study.figures import AxleStudy
from even_stance.study.places import place_of, xyz
from even_stance.study.powertrain import axis_of
from even_stance.units import System

OF_SHAFT = (
    "shaft_residual_deg", "output_angle_deg", "pinion_angle_deg", "pinion_joint_deg", "output_joint_deg",
    "shaft_worst_deg", "joint_limit_use_pct", "spline_left_mm", "spline_room_mm", "critical_use_pct",
)  # fmt: skip
WIDER = 6.0  # joint angles are drawn so many times as wide
_AXIS_MM, _WEDGE_MM = 420.0, 330.0


def shaft_lines(study: AxleStudy, view: View, _system: System) -> list[Shape]:
    """Output, shaft and pinion as lines, and both joint angles, six times as wide, with their size in space."""
    axle, here = study.axle, study.seated
    if view == "rear" or here.output is None or axle.pinion is None:
        return []
    place = place_of(study)
    middle = ["carrier"] if ("", "carrier") in place.mounts else []
    line = [np.array(project(view, place.mounts["", end])) for end in ("output", *middle, "pinion")]
    start, goal = line[0], line[-1]
    turned = place.at(np.array([axle.pinion.at.xyz, np.add(axle.pinion.at.xyz, axis_of(axle.pinion))]))
    far = -1.0 if axle.is_front else 1.0
    ends = (
        ("output", start, project(view, xyz(axis_of(here.output))), far, _ahead(line[0] - line[1])),
        ("pinion", goal, project(view, xyz(turned[1] - turned[0])), -far, _ahead(line[-2] - line[-1])),
    )
    shapes: list[Shape] = [_through(line, "exact")]
    for end, at, way, out, run in ends:
        axis = np.array(way) / np.linalg.norm(way)
        shapes.append(_through([at - _AXIS_MM * axis, at + _AXIS_MM * axis], "reference"))
        # The wedge opens from the shaft carried on beyond the joint to where the shaft end points.
        off = float(np.arcsin(np.clip(run[0] * axis[1] - run[1] * axis[0], -1.0, 1.0)))
        arc = [at + _WEDGE_MM * out * _rotated(run, share * WIDER * off) for share in np.linspace(0.0, 1.0, 9)]
        shapes.append(_through([at, *arc, at], "exact"))
        words = f"{study.now.value(f'{end}_angle_deg'):.1f}°"
        middle = at + 1.1 * (arc[4] - at)
        shapes.append(Label((float(middle[0]), float(middle[1])), words, "exact"))
    return shapes


def _ahead(run: Array) -> Array:
    """The direction of a line in the picture toward the front, which is to the left."""
    unit: Array = run / max(float(np.linalg.norm(run)), 1e-9)
    return unit if unit[0] < 0 else -unit


def _rotated(way: Array, angle: float) -> Array:
    """A direction in the picture turned by an angle, rad."""
    c, s = np.cos(angle), np.sin(angle)
    return np.array([c * way[0] - s * way[1], s * way[0] + c * way[1]])


def _through(points: list[Array], style: str) -> Path:
    """A line from point to point."""
    return Path(tuple((float(p[0]), float(p[1])) for p in points), style)
