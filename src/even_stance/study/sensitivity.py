"""What moves an answer, and how sure that makes it: slopes to every input, from batched variants of the axle."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from even_stance.mechanics.linkage import Linkage
from even_stance.mechanics.pose import Pose
from even_stance.mechanics.triangulation import included_angle, one_pair_like
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, cg_height, cg_rise, study_postures
from even_stance.study.carried import Carried
from even_stance.study.driveline import SHAFT_KEYS, has_shaft, shaft_values, stacked, yoke_inputs
from even_stance.study.model import Layout, layout_of, linkage_from, linkage_of, mount_points
from even_stance.study.steerfigures import (
    STEER_KEYS,
    Swing,
    drag_values,
    held_values,
    lock_of,
    lock_values,
    mechanism_of,
    steer_inputs,
    swing_of,
    varied,
)
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.spots import Spot

STEP_MM = 0.5
_FROM_RIDE = ("pitch_deg", "shift_x_mm", "shift_y_mm")  # these start from nothing at whatever ride height there is
_AXES = ("ahead", "left", "up")


@dataclass(frozen=True)
class Input:
    """One thing an answer depends on, in mm (angles in degrees).

    Attributes:
        kind: a coordinate of a mount (point) or of a point of the steering (steer), the length of a rod, ride height,
            tire radius, CG height, wheelbase, or a place (yoke) or angle of an end of the driveshaft.
        words: what it is called; sure: its +/-, mm.
        spot, axis: of a point, which one and which coordinate (0 ahead, 1 left, 2 up).
    """

    kind: str
    words: str
    sure: float
    spot: Spot | None = None
    axis: int = 0


@dataclass(frozen=True)
class Picked:
    """How one judged figure is read off answers at a few postures.

    Attributes:
        key: the figure; value: what it is now; source: the answer it is read from; at: which of the postures;
        factor: what the answer is times.
        swing: rod and end whose swing it is; pairs: the pairs of rods whose triangulation it is.
        lock: whether it is a figure of the steering at ride height; steer: the steering joint whose swing it is.
    """

    key: str
    value: float
    source: str = ""
    at: int = 0
    factor: float = 1.0
    swing: tuple[int, int] | None = None
    pairs: tuple[tuple[int, int], ...] | None = None
    lock: bool = False
    steer: Swing | None = None

    def read(self, answers: Answers, points: Array) -> Array:
        """The figure of all variants, shape (...), from answers (..., postures) and mounts (..., 1, m, 3)."""
        if self.pairs is not None:
            return triangulation(answers.layout, points, self.pairs)[..., 0]
        if self.lock or self.steer is not None:
            return self._steered(answers, points)
        if self.swing is not None:
            return self.factor * answers.needed_misalignment_deg[(..., self.at, *self.swing)]
        return self.factor * answers.values[self.source][..., self.at]

    def _steered(self, answers: Answers, points: Array) -> Array:
        """A figure of the steering, which stays as it is while mounts are moved: some do not go by where they are."""
        mechanism = mechanism_of(answers.axle)
        assert mechanism is not None
        if self.steer is not None:
            # A ram goes with the axle: where that is makes no difference to its joints.
            lock = lock_of(answers.axle, mechanism)
            swing = swing_of(mechanism, lock, self.steer, answers.pose, self.at)
            return np.broadcast_to(self.factor * swing, points.shape[:-3])
        drag = drag_values(answers.axle, mechanism, answers.layout, points)
        if self.source in drag:
            return drag[self.source][..., 0]
        return np.full(points.shape[:-3], self.value)


@dataclass(frozen=True)
class Slopes:
    """Change of each figure per mm of each input.

    Attributes:
        inputs: the inputs; of: by figure, shape (inputs,)
    """

    inputs: tuple[Input, ...]
    of: dict[str, Array]

    @cached_property
    def sure(self) -> Array:
        """The +/- of the inputs, mm, shape (inputs,)."""
        return np.array([i.sure for i in self.inputs])

    def uncertainty(self, key: str) -> float:
        """The +/- of a figure, in its unit.

        Source: ISO/IEC Guide 98-3 (GUM), law of propagation of uncertainty for independent inputs.
        """
        return float(np.sqrt(np.nansum((self.of[key] * self.sure) ** 2)))

    def ranked(self, key: str, count: int = 5) -> list[tuple[Input, float]]:
        """The inputs that move a figure most, with its change per mm."""
        slope = np.nan_to_num(self.of[key])
        order = np.argsort(-np.abs(slope))[:count]
        return [(self.inputs[i], float(slope[i])) for i in order]


def included(layout: Layout, points: Array, i: int, j: int) -> Array:
    """Plan-view angle included between two rods, degrees.

    Args:
        layout: the rods.
        points: all mounts, mm, shape (..., m, 3)
        i, j: which two rods.
    """
    a, b = (points[..., layout.rods[k].second, :] - points[..., layout.rods[k].first, :] for k in (i, j))
    angle: Array = np.degrees(included_angle(a, b))
    return angle


def triangulation(layout: Layout, points: Array, pairs: tuple[tuple[int, int], ...]) -> Array:
    """How pairs of rods together hold an axle sideways, as the included angle of one pair that holds as well, degrees.

    Args:
        layout: the rods.
        points: all mounts, mm, shape (..., m, 3)
        pairs: the pairs.
    """
    each = np.stack([np.radians(included(layout, points, *pair)) for pair in pairs], axis=-1)
    angle: Array = np.degrees(one_pair_like(each))
    return angle


@dataclass(frozen=True)
class Postures:
    """The few postures that figures are read at.

    Attributes:
        left, right: travel of each wheel, mm, shape (P,); poses: the solved poses there.
        gone: how far another axle has carried the output there, where one does.
    """

    left: Array
    right: Array
    poses: Pose
    gone: Carried | None = None


def point_inputs(axle: Axle) -> list[Input]:
    """Every coordinate of every mount."""
    return [
        Input("point", f"{spot.words}: {word}", mount.at.sure, spot, k)
        for m in axle.members
        for end, mount in m.mounts.items()
        for spot in [Spot(axle.key, m.name, end)]
        for k, word in enumerate(_AXES)
    ]


def moved_points(axle: Axle) -> Array:
    """All mounts with each coordinate of each in turn moved forth and back, mm, shape (3m, 2, 1, m, 3)."""
    points = mount_points(axle)
    m = len(points)
    moved = np.broadcast_to(points, (3 * m, 2, m, 3)).copy()
    for j, (point, coordinate) in enumerate(np.ndindex(m, 3)):
        moved[j, 0, point, coordinate] += STEP_MM
        moved[j, 1, point, coordinate] -= STEP_MM
    return moved[:, :, None]


def slopes(vehicle: Vehicle, axle: Axle, at: Postures, picked: list[Picked], every: bool = False) -> Slopes:
    """Change of figures per mm of every coordinate, the CG height, ride height, tire radius and wheelbase.

    Args:
        vehicle: the vehicle.
        axle: the axle.
        at: the postures the figures are read at.
        picked: the figures.
        every: also of rod lengths, which say nothing of how sure a figure is: they follow from the points.
    """
    layout = layout_of(axle)
    inputs, points = point_inputs(axle), moved_points(axle)
    varied = study_postures(vehicle, axle, at.left, at.right, linkage_from(axle, layout, points), at.poses, at.gone)
    of = {p.key: _central(p.read(varied, points)) for p in picked}
    extra = [_cg(vehicle, at, picked), *_whole_car(vehicle, axle, at, picked), *_yokes(vehicle, axle, at, picked)]
    extra += _steering(vehicle, axle, at, picked)
    if every:
        extra += _lengths(vehicle, axle, at, picked)
    inputs += [i for i, _ in extra]
    columns = {key: np.append(slope, [change.get(key, 0.0) for _, change in extra]) for key, slope in of.items()}
    return Slopes(tuple(inputs), columns)


def _yokes(vehicle: Vehicle, axle: Axle, at: Postures, picked: list[Picked]) -> list[tuple[Input, dict[str, float]]]:
    """Both ends of the driveshaft moved and turned: their coordinates per mm, their angles per degree."""
    mine = [p for p in picked if p.source in SHAFT_KEYS]
    if not mine or not has_shaft(axle):
        return []
    inputs = yoke_inputs(vehicle, axle, STEP_MM)
    values = shaft_values(vehicle, axle, linkage_of(axle), at.poses, stacked(inputs), at.gone)
    found = []
    for j, what in enumerate(inputs):
        spot = Spot(axle.key, "", what.end)
        kind = "angle" if what.what in ("nose up", "turned left") else "yoke"
        change = {}
        for p in mine:
            both = p.factor * values[p.source][j, :, p.at]
            change[p.key] = float(both[0] - both[1]) / (2.0 * what.step)
        found.append((Input(kind, f"{spot.words}: {what.what}", what.sure), change))
    return found


def _steering(vehicle: Vehicle, axle: Axle, at: Postures, picked: list[Picked]) -> list[tuple[Input, dict[str, float]]]:
    """Every point of the steering moved: coordinates per mm."""
    mine = [p for p in picked if p.lock or p.steer is not None or p.source in STEER_KEYS]
    if not mine or axle.steering is None:
        return []
    inputs = steer_inputs(axle)
    many = varied(axle, axle.steering, inputs, STEP_MM)
    lock = lock_of(axle, many)
    values = lock_values(vehicle, axle, many, lock)
    values |= {k: v[..., 0] for k, v in drag_values(axle, many, layout_of(axle), mount_points(axle)).items()}
    held = held_values(many, at.poses)
    of = {}
    for p in mine:
        if p.steer is not None:
            both = p.factor * swing_of(many, lock, p.steer, at.poses, p.at)
        else:
            both = values[p.source] if p.lock else p.factor * held[p.source][..., p.at]
        of[p.key] = _central(np.broadcast_to(both, (len(inputs), 2)))
    return [
        (Input("steer", f"{what.spot.words}: {_AXES[what.axis]}", what.sure, what.spot, what.axis),
         {key: float(slope[j]) for key, slope in of.items()})
        for j, what in enumerate(inputs)
    ]  # fmt: skip


def _central(values: Array) -> Array:
    """Per mm, from values one step forth and back, shape (inputs, 2)."""
    slope: Array = (values[:, 0] - values[:, 1]) / (2 * STEP_MM)
    return slope


def _heights(vehicle: Vehicle, at: Postures) -> Array:
    """The CG height that anti figures are reckoned with at each posture, mm: as the car then stands, where so asked."""
    lower = 0.5 * (at.left + at.right) if vehicle.over == "stands" else np.zeros(len(at.left))
    height: Array = cg_height(vehicle) - cg_rise(vehicle) * lower
    return height


def _cg(vehicle: Vehicle, at: Postures, picked: list[Picked]) -> tuple[Input, dict[str, float]]:
    """Anti figures go with 1 / h, h the height they are reckoned with."""
    higher = with_changes(vehicle, cg_height_mm=vehicle.cg_height_mm + STEP_MM)
    rise = (cg_height(higher) - cg_height(vehicle)) / STEP_MM
    change = {p.key: -p.value * rise / _heights(vehicle, at)[p.at] for p in picked if p.key.startswith("anti_")}
    return Input("cg", "CG height: up", vehicle.cg_sure_mm), change


def _lengths(vehicle: Vehicle, axle: Axle, at: Postures, picked: list[Picked]) -> list[tuple[Input, dict[str, float]]]:
    """Rods made longer and shorter between ends that stay where they are on frame and axle."""
    layout = layout_of(axle)
    linkage = linkage_of(axle)
    n = len(layout.rods)
    if not n:
        return []
    step = np.zeros((n, 2, 1, n))
    for i in range(n):
        step[i, 0, 0, i], step[i, 1, 0, i] = STEP_MM, -STEP_MM
    points = np.broadcast_to(mount_points(axle), (n, 2, 1, len(mount_points(axle)), 3))
    varied = study_postures(vehicle, axle, at.left, at.right, with_lengths(linkage, step), at.poses, at.gone)
    of = {p.key: _central(p.read(varied, points)) for p in picked}
    return [
        (Input("length", f"{rod.name}: longer", 0.0), {key: float(slope[i]) for key, slope in of.items()})
        for i, rod in enumerate(layout.rods)
        if rod.swings
    ]


def with_lengths(linkage: Linkage, longer: Array) -> Linkage:
    """A linkage with its rods longer by some mm, shape (..., n): batch axes of variants, points as they are."""
    batch = longer.shape[:-1]

    def spread(a: Array, own: int) -> Array:
        return np.broadcast_to(a, (*batch, *a.shape[a.ndim - own :]))

    cranks = linkage.cranks
    if cranks is not None:
        cranks = replace(cranks, pivot=spread(cranks.pivot, 2), axis=spread(cranks.axis, 2))
    return replace(
        linkage, wheels=spread(linkage.wheels, 2), chassis=spread(linkage.chassis, 2), axle=spread(linkage.axle, 2),
        lengths=linkage.lengths + longer, guided=spread(linkage.guided, 2), normals=spread(linkage.normals, 2),
        cranks=cranks, slides=None if linkage.slides is None else spread(linkage.slides, 2),
    )  # fmt: skip


def _whole_car(
    vehicle: Vehicle, axle: Axle, at: Postures, picked: list[Picked]
) -> list[tuple[Input, dict[str, float]]]:
    """Ride height up, tires larger, wheelbase longer: heights are above ground, so they go along with the car.

    Larger tires lift the car. A loaded radius that was misread lifts nothing, and the points are taped from the ground:
    it takes nothing from how sure a figure is.
    """
    base = study_postures(vehicle, axle, at.left, at.right, near=at.poses, gone=at.gone)
    step = np.array([STEP_MM, -STEP_MM])[:, None]
    points = np.broadcast_to(mount_points(axle), (2, 1, len(mount_points(axle)), 3))
    linkage = linkage_from(axle, layout_of(axle), points)
    # A car that stands higher has its wheels lower relative to the frame.
    higher = study_postures(vehicle, axle, at.left - step, at.right - step, linkage, at.poses, at.gone)
    still = study_postures(vehicle, axle, -step[:, 0], -step[:, 0])
    h, stands = _heights(vehicle, at), vehicle.over == "stands"
    pitch = (base.twists.heave[:, 4] / base.twists.heave[:, 2])[0]
    ride, tire, long = {}, {}, {}
    for p in picked:
        ride[p.key] = float(_central(p.read(higher, points)[None])[0])
        tire[p.key] = long[p.key] = 0.0
        if p.source in _FROM_RIDE:
            ride[p.key] -= p.factor * float(_central(still.values[p.source][None])[0])
        if p.key.startswith("anti_"):
            slope = float(base.values["contact_slope"][0])
            # Only the sprung share of the CG rises with the frame; larger tires lift all of it.
            ride[p.key] -= 0.0 if stands else cg_rise(vehicle) * p.value / h[p.at]
            tire[p.key] = -p.value / h[p.at] - (p.value * pitch / slope if abs(slope) > 1e-9 else 0.0)
            long[p.key] = p.value / vehicle.wheelbase_mm
        elif p.key == "roll_center_mm":
            ride[p.key] += 0.0 if stands else 1.0
            tire[p.key] = 1.0
    return [
        (Input("ride", "Ride height: up", vehicle.ride_sure_mm), ride),
        (Input("tire", "Tire radius: larger", 0.0), tire),
        (Input("wheelbase", "Wheelbase: longer", vehicle.wheelbase_sure_mm), long),
    ]
