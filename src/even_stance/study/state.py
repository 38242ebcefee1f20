"""The state of the car: where every body is at any number of postures.

Bodies are the chassis, each axle, its two knuckles with their wheels, its driveshaft, and every piece of a member
between two of its mounts. Whatever is drawn, measured, collided or printed hangs on a body. Axles are solved first;
knuckles, rods and shafts follow from them.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.leaf import shackle_eye
from even_stance.mechanics.linkage import placed
from even_stance.mechanics.pose import Mask
from even_stance.mechanics.vectors import Array, norm, short_turn, turned_about
from even_stance.pace import give_way
from even_stance.study.answers import Answers, study_postures
from even_stance.study.beams import beams_of
from even_stance.study.model import mount_points
from even_stance.study.powertrain import moved_with, seated
from even_stance.study.springstate import half_poses, spring_points
from even_stance.study.steerfigures import mechanism_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.driveline import Powertrain
from even_stance.vehicle.members import AnyMember, Leaf
from even_stance.vehicle.posture import CarPosture
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, own_body, own_point, point_on, power_spots, spots_on
from even_stance.vehicle.springs import AnySpring

CHASSIS, POWERTRAIN = "chassis", "powertrain"


def axle_body(axle: str) -> str:
    """The body of an axle: tube, housing and all that is fixed to them."""
    return f"{axle} axle"


def knuckle_body(axle: str, side: str) -> str:
    """The body of a knuckle with its hub and wheel."""
    return f"{axle} {side} knuckle"


def shaft_body(axle: str) -> str:
    """The body of an axle's driveshaft."""
    return f"{axle} driveshaft"


def piece_body(axle: str, member: str, ends: tuple[str, str]) -> str:
    """The body of the piece of a member between two of its mounts."""
    return f"{axle} {member}: {ends[0]} to {ends[1]}"


@dataclass(frozen=True, eq=False)
class BodyPose:
    """Where a body is: a point p of it at ride height is now at moved + linear (p - start).

    Attributes:
        start: mm, shape (3,); moved: mm, shape (N, 3)
        linear: a rotation; a piece that slips or gives is drawn out along itself as well, 1, shape (N, 3, 3)
    """

    start: Array
    moved: Array
    linear: Array

    def place(self, points: Array) -> Array:
        """Points of the body given at ride height, mm, shape (m, 3), at every posture, mm, shape (N, m, 3)."""
        now: Array = self.moved[:, None, :] + (points - self.start) @ np.swapaxes(self.linear, -1, -2)
        return now


@dataclass(frozen=True, eq=False)
class CarState:
    """The pose of every body at N postures.

    Attributes:
        poses: by body.
        points: every point of the car by its address, mm, shape (N, 3).
        ok: by axle, which postures it reached, shape (N,); where it did not, it stands as far as it went.
    """

    poses: dict[str, BodyPose]
    points: dict[Spot, Array]
    ok: dict[str, Mask]

    def place(self, body: str, points: Array) -> Array:
        """Points of a body given at ride height, mm, shape (m, 3), at every posture, mm, shape (N, m, 3)."""
        return self.poses[body].place(points)


def car_state(vehicle: Vehicle, postures: Sequence[CarPosture]) -> CarState:
    """Where every body is at each of some postures; an axle that nothing holds stays at ride height."""
    answers: dict[str, Answers | None] = {}
    for axle in vehicle.axles:
        travel = np.array([(p.of(axle.key).left_mm, p.of(axle.key).right_mm) for p in postures]).reshape(-1, 2)
        try:
            answers[axle.key] = study_postures(vehicle, axle, travel[:, 0], travel[:, 1]) if axle.members else None
        except StanceError:
            answers[axle.key] = None
    steer = {a.key: np.array([p.of(a.key).steer for p in postures]) for a in vehicle.axles}
    both = {a.key: np.array([(p.of(a.key).left_mm, p.of(a.key).right_mm) for p in postures]) for a in vehicle.axles}
    return state_of(vehicle, answers, len(postures), steer, both)


def state_of(
    vehicle: Vehicle,
    answers: Mapping[str, Answers | None],
    count: int,
    steer: Mapping[str, Array],
    travel: Mapping[str, Array] | None = None,
) -> CarState:
    """The state of a car whose axles have been solved; one without answers stands at ride height.

    Args:
        vehicle: the vehicle.
        answers: by axle, at the same number of postures each.
        count: how many postures.
        steer: the steer input of each axle, hand-wheel turns or mm of rod, shape (count,).
        travel: of both wheels of axles with swing beams, mm, shape (count, 2); ride height if not given.
    """
    states = [
        axle_state(
            seated(vehicle, axle), answers.get(axle.key), count, steer=steer[axle.key],
            travel=None if travel is None else travel.get(axle.key),
        ) for axle in vehicle.axles
    ]  # fmt: skip
    power = power_pose(vehicle, count)
    _carry_outputs(vehicle, states)
    points = {s: power.place(np.array([at.xyz]))[:, 0] for s, at in power_points(vehicle.powertrain).items()}
    return CarState(
        {k: v for state in states for k, v in state.poses.items()} | {POWERTRAIN: power},
        {k: v for state in states for k, v in state.points.items()} | points,
        {k: v for state in states for k, v in state.ok.items()},
    )


def _carry_outputs(vehicle: Vehicle, states: Sequence[CarState]) -> None:
    """Outputs that ride on another axle go along with it, and the shafts from there."""
    poses = {k: v for state in states for k, v in state.poses.items()}
    for axle, state in zip(vehicle.axles, states, strict=True):
        output, pinion = axle.output, axle.pinion
        if output is None or not output.on:
            continue
        at = np.array(output.at.xyz)
        head = poses[axle_body(output.on)].place(at[None])[:, 0]
        state.points[Spot(axle.key, "", "output")] = head
        if pinion is not None:
            tail = state.points[Spot(axle.key, "", "pinion")]
            state.poses[shaft_body(axle.key)] = between(np.array(pinion.at.xyz), at, tail, head)


def power_pose(vehicle: Vehicle, count: int = 1) -> BodyPose:
    """Where the powertrain of a car is: tilted about its engine mounts as far as its tail is raised."""
    return pose_of_powertrain(vehicle.powertrain, count)


def pose_of_powertrain(power: Powertrain | None, count: int = 1) -> BodyPose:
    """Where a powertrain is; still where there is none."""
    if power is None or not power.moved:
        return _still(count)
    start = np.array(power.mount_right.xyz)
    ends = moved_with(power, start + np.vstack((np.zeros(3), np.eye(3))))
    linear = (ends[1:] - ends[0]).T
    return BodyPose(start, np.broadcast_to(ends[0], (count, 3)), np.broadcast_to(linear, (count, 3, 3)))


def power_points(power: Powertrain | None) -> dict[Spot, Point]:
    """Every point of the powertrain, as measured."""
    if power is None:
        return {}
    marks = {m.name: m.at for m in power.marks}
    return {s: marks[s.member] if s.member else getattr(power, s.end) for s in power_spots(power)}


def axle_state(
    axle: Axle,
    answers: Answers | None,
    count: int,
    pose: BodyPose | None = None,
    steer: Array | None = None,
    travel: Array | None = None,
) -> CarState:
    """The state of one axle and of all that holds and drives it, the chassis standing still.

    Args:
        axle: the axle; answers: it solved, None where nothing holds it; count: at how many postures.
        pose: where it is, for an axle shown without what holds it; ride height if not given.
        steer: the steer input, hand-wheel turns or mm of rod, shape (N,); straight ahead if not given.
        travel: of both wheels of swing beams, mm, shape (N, 2); ride height if not given.
    """
    ok = np.ones(count, dtype=bool) if answers is None else answers.ok
    if answers is not None:
        pose = BodyPose(answers.linkage.center, answers.pose.center, answers.pose.rotation)
    elif pose is None:
        pose = _still(count)
    poses = {CHASSIS: _still(count), axle_body(axle.key): pose}
    poses |= _knuckle_poses(axle, pose, steer)
    poses |= _steering_poses(axle, pose, steer)
    poses |= beam_poses(axle, count, travel, steer)
    points = _axle_points(axle, answers, pose, poses)
    for member, a, b in (*pieces(axle), *spring_pieces(axle)):
        ride = (np.array(member.mounts[a].at.xyz), np.array(member.mounts[b].at.xyz))
        now = (points[Spot(axle.key, member.name, a)], points[Spot(axle.key, member.name, b)])
        poses[piece_body(axle.key, member.name, (a, b))] = between(*ride, *now)
    poses |= {body: BodyPose(*pose) for body, pose in half_poses(axle, points).items()}
    if axle.output is not None and axle.pinion is not None:
        head = Spot(axle.key, "", "output" if own_point(axle, "carrier") is None else "carrier")
        ride = (np.array(axle.pinion.at.xyz), np.array(point_on(axle, head).xyz))
        poses[shaft_body(axle.key)] = between(*ride, points[Spot(axle.key, "", "pinion")], points[head])
    return CarState(poses, points, {axle.key: ok})


def _knuckle_poses(axle: Axle, pose: BodyPose, steer: Array | None) -> dict[str, BodyPose]:
    """Both knuckles on the axle, turned about their kingpins; a wheel its links cannot follow to stays straight."""
    bodies = [knuckle_body(axle.key, side) for side in ("left", "right")]
    mechanism = mechanism_of(axle)
    if mechanism is None or steer is None:
        return dict.fromkeys(bodies, pose)
    moved = pose.place(np.array([axle.center]))[:, 0]
    turns = np.nan_to_num(mechanism.at(steer, moved, pose.linear).turns)
    found = {}
    for i, body in enumerate(bodies):
        start, axis = mechanism.knuckles.pivot[i], mechanism.knuckles.axis[i]
        own = np.swapaxes(turned_about(axis, turns[:, i], np.eye(3)), -1, -2)
        found[body] = BodyPose(start, pose.place(start[None])[:, 0], pose.linear @ own)
    return found


def beam_poses(axle: Axle, count: int, travel: Array | None, steer: Array | None) -> dict[str, BodyPose]:
    """Both swing beams, their knuckles, tie rods, center link and pitman arm; a beam that does not reach stays."""
    beams = beams_of(axle)
    if beams is None:
        return {}
    steer = np.zeros(count) if steer is None else steer
    travel = np.zeros((count, 2)) if travel is None else travel
    now, found, slid = beams.over(steer, travel[:, 0], travel[:, 1]), {}, beams.center_link(steer)
    still = np.broadcast_to(np.eye(3), (count, 3, 3))
    for i, side in enumerate(("left", "right")):
        pivot, rotation = beams.pivot[i], np.where(np.isfinite(now.rotation[:, i]), now.rotation[:, i], np.eye(3))
        beam = found[f"{axle.key} {side} beam"] = BodyPose(pivot, np.broadcast_to(pivot, (count, 3)), rotation)
        start, about = beams.knuckles.pivot[i], beams.knuckles.axis[i]
        own = np.swapaxes(turned_about(about, np.nan_to_num(now.turns[:, i]), np.eye(3)), -1, -2)
        knuckle = BodyPose(start, beam.place(start[None])[:, 0], rotation @ own)
        found[knuckle_body(axle.key, side)] = knuckle
        inner, tie = beams.inner[i], beams.knuckles.tie[i]
        found[f"{axle.key} {side} tie rod"] = between(inner, tie, inner + slid, knuckle.place(tie[None])[:, 0])
    found[f"{axle.key} center link"] = BodyPose(np.zeros(3), slid, still)
    arm = np.swapaxes(turned_about(beams.pitman.axis, beams.pitman_rad(steer), np.eye(3)), -1, -2)
    shaft = beams.pitman.shaft
    found[f"{axle.key} pitman arm"] = BodyPose(shaft, np.broadcast_to(shaft, (count, 3)), arm)
    return found


def steer_home(axle: Axle, end: str) -> str:
    """The body a point of the steering goes along with; "" for one that does not steer."""
    key, (side, _, name) = axle.key, end.partition("_")
    if name == "tie":
        return knuckle_body(key, side)
    if beams_of(axle) is not None and side in ("left", "right"):
        return {"lower": f"{key} {side} beam", "upper": f"{key} {side} beam", "inner": f"{key} center link"}.get(
            name, ""
        )
    return {
        "ball": f"{key} pitman arm", "drag": f"{key} drag end", "assist_end": f"{key} assist end",
        "ram_left": f"{key} ram rod", "ram_right": f"{key} ram rod",
    }.get(end, "")  # fmt: skip


def _steering_poses(axle: Axle, pose: BodyPose, steer: Array | None) -> dict[str, BodyPose]:
    """The pitman arm or the ram's rod, the knuckle or tie rod that a drag link ends on, and every link."""
    mechanism = mechanism_of(axle)
    if mechanism is None:
        return {}
    count = len(pose.moved)
    steer = np.zeros(count) if steer is None else steer
    moved = pose.place(np.array([axle.center]))[:, 0]
    found: dict[str, BodyPose] = {}
    ends = mechanism.ends_now(mechanism.at(steer, moved, pose.linear))
    for link in mechanism.links:
        start, goal = ends[link.name]
        a, b = np.array(link.start), np.array(link.goal)
        now = [np.where(np.isfinite(p), p, ride) for p, ride in ((start, a), (goal, b))]
        on_frame = [
            p if link.name == "drag link" and i == 0 else moved + np.einsum("nij,nj->ni", pose.linear, p - axle.center)
            for i, p in enumerate(now)
        ]
        found[f"{axle.key} {link.name}"] = between(a, b, *on_frame)
        if link.name == "drag link":
            found[f"{axle.key} drag end"] = BodyPose(b, on_frame[1], pose.linear)
    if mechanism.steering.assist is not None:
        a, b = (mechanism.points[end] for end in ("assist_base", "assist_end"))
        goal = mechanism.assist_end(np.nan_to_num(mechanism.at(steer, moved, pose.linear).turns))
        base, end = (
            moved + np.einsum("nij,nj->ni", pose.linear, p - axle.center)
            for p in (np.broadcast_to(a, goal.shape), goal)
        )
        found[f"{axle.key} assist ram"] = between(a, b, base, end)
        found[f"{axle.key} assist end"] = BodyPose(b, end, pose.linear)
    if mechanism.box is not None:
        box = mechanism.box
        own = np.swapaxes(turned_about(box.axis, mechanism.pitman_rad(steer), np.eye(3)), -1, -2)
        found[f"{axle.key} pitman arm"] = BodyPose(box.shaft, np.broadcast_to(box.shaft, (count, 3)), own)
    else:
        slid = pose.place(np.array([axle.center]))[:, 0] + np.einsum(
            "nij,nj->ni", pose.linear, mechanism.rod_slid(steer)
        )
        found[f"{axle.key} ram rod"] = BodyPose(np.array(axle.center), slid, pose.linear)
    return found


def pieces(axle: Axle) -> Iterator[tuple[AnyMember, str, str]]:
    """Every stiff piece of the members of an axle: the member and the two mounts the piece is between."""
    for member in axle.members:
        for a, b in member.SPANS:
            yield member, a, b


def spring_pieces(axle: Axle) -> Iterator[tuple[AnySpring, str, str]]:
    """Every piece of the springs of an axle between two of their mounts."""
    for part in axle.springs:
        for a, b in part.SPANS:
            yield part, a, b


def _still(count: int) -> BodyPose:
    return BodyPose(np.zeros(3), np.zeros((count, 3)), np.broadcast_to(np.eye(3), (count, 3, 3)))


def _axle_points(axle: Axle, answers: Answers | None, pose: BodyPose, poses: dict[str, BodyPose]) -> dict[Spot, Array]:
    """Every point of an axle, mm, shape (N, 3) each."""
    count = len(pose.moved)
    points = {}
    if answers is not None:
        mounts = mount_places(answers)
        for i, place in enumerate(answers.layout.mounts):
            points[Spot(axle.key, place.member.name, place.end)] = mounts[:, i]
    carry = _beam_carry(axle, poses) if beams_of(axle) is not None else pose.place
    points |= spring_points(axle, count, carry)
    for spot in spots_on(axle):
        give_way()
        if spot in points:
            continue
        at = point_on(axle, spot)
        if not spot.member and steer_home(axle, spot.end) in poses:
            points[spot] = poses[steer_home(axle, spot.end)].place(np.array([at.xyz]))[:, 0]
            continue
        rides = own_body(spot.end) == "axle" if not spot.member else axle.part(spot.member).body(spot.end) == "axle"
        here = np.array(at.xyz)
        points[spot] = carry(here[None])[:, 0] if rides else np.broadcast_to(here, (count, 3))
    return points


def _beam_carry(axle: Axle, poses: dict[str, BodyPose]) -> Callable[[Array], Array]:
    """Points that ride on swing beams, each on that of its side."""
    left, right = (poses[f"{axle.key} {side} beam"] for side in ("left", "right"))
    return lambda points: np.where((points[:, 1] >= 0.0)[None, :, None], left.place(points), right.place(points))


def mount_places(answers: Answers) -> Array:
    """Where every mount of an axle is: those on it have gone along, cranks have turned, free leaf eyes swung.

    Returns:
        In the order of the layout's mounts, mm, shape (N, m, 3).
    """
    layout, ride = answers.layout, mount_points(answers.axle)
    moved = placed(answers.linkage, answers.pose, ride)
    bodies = [place.member.body(place.end) for place in layout.mounts]
    now = np.where(np.array([b == "axle" for b in bodies])[:, None], moved, ride)
    for i, rod in enumerate(layout.rods):
        for index, ends in ((rod.first, answers.chassis_ends), (rod.second, answers.rod_ends)):
            if bodies[index] == "crank":
                now[:, index] = ends[:, i]
    for i, place in enumerate(layout.mounts):
        leaf = place.member
        if isinstance(leaf, Leaf) and place.end == "shackle_eye":
            eye, seat, pivot = (np.array(m.at.xyz) for m in (leaf.shackle_eye, leaf.seat, leaf.shackle))
            at = layout.mounts.index(next(p for p in layout.mounts if p.member is leaf and p.end == "seat"))
            now[:, i] = shackle_eye(eye, seat, pivot, now[:, at])
    return now


def between(a: Array, b: Array, a_now: Array, b_now: Array) -> BodyPose:
    """The pose of a straight piece between two points: turned the short way, drawn out as its ends come apart.

    Args:
        a, b: its ends at ride height, mm, shape (3,)
        a_now, b_now: its ends, mm, shape (N, 3)

    Source: derived here.
    """
    give_way()
    before, after = b - a, b_now - a_now
    old, rotation = before / norm(before), short_turn(before, after)
    longer = norm(after) / norm(before) - 1.0
    linear = rotation @ (np.eye(3) + longer[:, None, None] * np.outer(old, old))
    return BodyPose(a, a_now, linear)
