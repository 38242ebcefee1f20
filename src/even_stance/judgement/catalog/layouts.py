"""The layouts the trade uses, what each is good and bad at, and a sensible start for each, sized to axle and tire."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle, Frame
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.members import (
    JOINT_TYPES,
    AArm,
    AArmReversed,
    AnyMember,
    JointKind,
    Leaf,
    Mount,
    RadiusArm,
    Rod,
    Role,
    Side,
    TorqueArm,
    Watts,
)
from even_stance.vehicle.records import guess_at

BaseKey = Literal[
    "triangulated", "double_triangulated", "lower_triangulated", "parallel", "three_link", "a_arm", "a_arm_reversed",
    "radius_arms", "torque_arm", "pivot_arm", "pivot_arm_slides", "leaf",
]  # fmt: skip
LateralKey = Literal["none", "panhard", "panhard_flipped", "watts_axle", "watts_frame", "watts_flat"]


@dataclass(frozen=True)
class Words:
    """What a choice is called, what it is good at and what it is bad at; whether it needs a lateral device."""

    title: str
    good: str
    bad: str
    needs_lateral: bool = False


BASES: dict[BaseKey, Words] = {
    "triangulated": Words(
        "Four-link, uppers triangulated", "Needs no bar; no sideways arc.", "Needs room over the axle for the uppers."
    ),
    "double_triangulated": Words(
        "Four-link, double triangulated", "Best located of all.", "Hardest to fit around driveshaft and exhaust."
    ),
    "lower_triangulated": Words(
        "Four-link, lowers triangulated", "Low roll center without a bar.", "The lowers cross the driveshaft's room."
    ),
    "parallel": Words(
        "Four-link, parallel", "Simple brackets, easy to square.", "Cannot roll freely on rod ends: bushings give.",
        True,
    ),
    "three_link": Words(
        "Three-link", "Moves freely; one upper fits where two do not.", "The one upper carries all of the torque.", True
    ),
    "a_arm": Words(
        "Two lowers and an upper A-arm", "Holds sideways with a single ball.", "One ball takes everything."
    ),
    "a_arm_reversed": Words(
        "Two lowers and an A-arm, ball on the frame", "Wide stance on the axle.", "The ball sits where the floor is."
    ),
    "radius_arms": Words(
        "Radius arms or ladder bars", "Few parts, strong, long proven.", "Rolls only as far as bushings give.", True
    ),
    "torque_arm": Words(
        "Torque arm and two lowers", "Long instant center, calm under power.", "A long arm beside the driveshaft.", True
    ),
    "pivot_arm": Words(
        "Central pivot arm on the diff", "Very flexible, few parts.", "Very high roll center; inside wheel lifts early."
    ),
    "pivot_arm_slides": Words(
        "Central arm, its ball slides sideways", "Takes torque alone; a bar sets a low roll center.",
        "A sliding ball wears and must be kept clean.", True,
    ),
    "leaf": Words("Leaf springs", "Spring and links in one.", "Winds up under power; hard to tune."),
}  # fmt: skip
LATERALS: dict[LateralKey, Words] = {
    "none": Words("No lateral device", "Nothing to fit.", "Only where the links hold the axle sideways themselves."),
    "panhard": Words(
        "Panhard, frame end left", "Simple, low roll center, two joints.", "Moves the axle sideways on an arc."
    ),
    "panhard_flipped": Words(
        "Panhard, frame end right", "Simple, low roll center, two joints.", "Moves the axle sideways on an arc."
    ),
    "watts_axle": Words(
        "Watts, crank on the axle", "No sideways arc; rides with the axle.", "More parts; needs height and room."
    ),
    "watts_frame": Words(
        "Watts, crank on the frame", "No sideways arc; stays with the body.", "More parts; a strong cross tube."
    ),
    "watts_flat": Words(
        "Watts, flat crank on the axle", "Little height needed.", "Needs room fore and aft; bends its pivot."
    ),
}  # fmt: skip
_SIXTEENTH = MM_PER_INCH / 16
Solid = tuple[float, float, float]


def snap(mm: float) -> float:
    """The nearest sixteenth, as a tape would give it."""
    return round(mm / _SIXTEENTH) * _SIXTEENTH


@dataclass(frozen=True)
class _Room:
    """What the layouts are sized by, mm: axle center, which way the frame ends reach, runs, levels and widths."""

    x: float
    z: float
    toward: float
    diameter: float
    lower_run: float
    upper_run: float
    low: float
    high: float
    out: float
    rail: float


def _room(axle: Axle, frame: Frame) -> _Room:
    """The room an axle has for its links."""
    x, _, z = axle.center
    d = axle.tire.free_diameter_mm
    lower = float(np.clip(1.05 * d, 550.0, 1050.0))
    out = (axle.track_mm - axle.tire.width_mm) / 2 - 90.0
    toward = -1.0 if axle.is_front else 1.0
    return _Room(
        x, z, toward, d, lower, 0.78 * lower, z - 0.06 * d, z + 0.20 * d, out, min(frame.rail_out_mm - 20.0, out)
    )


def _mount(at: Solid, joint: JointKind = "rod_end_high") -> Mount:
    """A mount on the nearest sixteenth with a kind of joint."""
    x, y, z = at
    return Mount(
        at=guess_at(snap(x), snap(y), snap(z)),
        joint=joint,
        misalignment_limit_deg=JOINT_TYPES[joint].misalignment_deg,
    )


def _rod(name: str, role: Role, side: Side, ends: tuple[Solid, Solid], joint: JointKind = "rod_end_high") -> Rod:
    """A link between two places."""
    tube = {"lower": 50.8, "upper": 38.1}.get(role, 44.5)
    return Rod(
        name=name, role=role, side=side, chassis=_mount(ends[0], joint), axle=_mount(ends[1], joint), tube_mm=tube
    )


_SIDES: tuple[tuple[Literal["left", "right"], float], ...] = (("left", 1.0), ("right", -1.0))


def _lowers(
    r: _Room,
    inboard: float = 0.0,
    axle_out: float | None = None,
    joint: JointKind = "rod_end_high",
    rise: float = 0.06,
) -> list[AnyMember]:
    """A pair of lower links."""
    out = r.out if axle_out is None else axle_out
    return [
        _rod(
            f"Lower {side}", "lower", side,
            ((r.x + r.toward * r.lower_run, s * (r.rail - inboard), r.low + rise * r.lower_run), (r.x, s * out, r.low)),
            joint,
        )
        for side, s in _SIDES
    ]  # fmt: skip


def _uppers(r: _Room, spread: float, inner: float, joint: JointKind = "rod_end_high") -> list[AnyMember]:
    """A pair of upper links, so far apart on the frame and on the axle."""
    return [
        _rod(
            f"Upper {side}", "upper", side,
            (
                (r.x + r.toward * r.upper_run, s * (inner + spread), r.high + 0.02 * r.upper_run),
                (r.x + r.toward * 10.0, s * inner, r.high),
            ),
            joint,
        )
        for side, s in _SIDES
    ]  # fmt: skip


def _triangulated(r: _Room, inboard: float = 0.0) -> list[AnyMember]:
    spread = float(np.tan(np.radians(22.0))) * r.upper_run
    # Uppers rise to the height of the rails: their frame ends stand inside of them, a bracket's depth away.
    return [*_lowers(r, inboard), *_uppers(r, spread, max(60.0, r.rail - 40.0 - spread))]


def _lower_triangulated(r: _Room) -> list[AnyMember]:
    spread = float(np.tan(np.radians(22.0))) * r.lower_run
    return [*_lowers(r, r.rail - max(70.0, r.out - spread)), *_uppers(r, 0.0, 0.8 * r.rail)]


def _parallel(r: _Room) -> list[AnyMember]:
    return [*_lowers(r, 0.0, r.rail, "poly"), *_uppers(r, 0.0, 0.9 * r.rail, "poly")]


def _three_link(r: _Room) -> list[AnyMember]:
    y = 0.35 * r.rail
    ends = ((r.x + r.toward * r.upper_run, y, r.high + 0.02 * r.upper_run), (r.x, y, r.high))
    return [*_lowers(r), _rod("Upper", "upper", "left", ends)]


def _a_arm(r: _Room) -> list[AnyMember]:
    """An upper A-arm with its ball on the axle."""
    run, up = r.x + r.toward * r.upper_run, r.high + 0.02 * r.upper_run
    left, right = (_mount((run, s * 0.8 * r.rail, up), "poly") for _, s in _SIDES)
    ball = _mount((r.x, 0.0, r.high))
    arm = AArm(
        name="A-arm", role="upper", side="center", chassis_left=left, chassis_right=right, axle=ball, tube_mm=38.1
    )
    return [*_lowers(r), arm]


def _a_arm_reversed(r: _Room) -> list[AnyMember]:
    """An upper A-arm with its ball on the frame."""
    left, right = (_mount((r.x, s * 0.7 * r.rail, r.high), "poly") for _, s in _SIDES)
    ball = _mount((r.x + r.toward * r.upper_run, 0.0, r.high + 0.02 * r.upper_run))
    arm = AArmReversed(
        name="A-arm", role="upper", side="center", chassis=ball, axle_left=left, axle_right=right, tube_mm=38.1
    )
    return [*_lowers(r), arm]


def _radius_arms(r: _Room) -> list[AnyMember]:
    """A pair of radius arms."""
    return [
        RadiusArm(
            name=f"Arm {side}", role="arm", side=side, tube_mm=60.0,
            chassis=_mount((r.x + r.toward * 1.3 * r.lower_run, s * r.rail, r.z - 60.0), "rubber"),
            axle=_mount((r.x, s * r.rail, r.z + 10.0), "rubber"),
        )
        for side, s in _SIDES
    ]  # fmt: skip


def _torque_arm(r: _Room) -> list[AnyMember]:
    """A torque arm beside the driveshaft."""
    arm = TorqueArm(
        name="Torque arm", role="arm", side="center", tube_mm=60.0,
        chassis=_mount((r.x + r.toward * 1.6 * r.lower_run, 0.0, r.z + 40.0), "poly"), axle=_mount((r.x, 0.0, r.z)),
    )  # fmt: skip
    # Its instant center is over the slot on the lowers' line: lowers that fall toward mid-car keep it low.
    return [*_lowers(r, rise=-0.04), arm]


def _pivot_arm(r: _Room) -> list[AnyMember]:
    """A central arm on top of the housing."""
    top, run = r.z + 0.33 * r.diameter, r.x + r.toward * 0.95 * r.upper_run
    left, right = (_mount((run, s * 0.75 * r.rail, top), "rubber") for _, s in _SIDES)
    ball = _mount((r.x, 0.0, top))
    arm = AArm(
        name="Pivot arm", role="upper", side="center", chassis_left=left, chassis_right=right, axle=ball, tube_mm=50.8
    )
    return [*_lowers(r), arm]


def _leaves(r: _Room) -> list[AnyMember]:
    """A pair of leaf springs."""
    half, top = 0.75 * r.diameter, r.z + 80.0
    return [
        Leaf(
            name=f"Leaf {side}", role="spring", side=side, tube_mm=63.0,
            fixed_eye=_mount((r.x + r.toward * half, s * r.rail, top + 25.0), "rubber"),
            seat=_mount((r.x, s * r.rail, top - 30.0), "poly"),
            shackle_eye=_mount((r.x - r.toward * half, s * r.rail, top + 25.0), "rubber"),
            shackle=_mount((r.x - r.toward * (half + 35.0), s * r.rail, top + 125.0), "rubber"),
        )
        for side, s in _SIDES
    ]  # fmt: skip


_BUILDERS: dict[BaseKey, Callable[[_Room], list[AnyMember]]] = {
    "triangulated": _triangulated,
    "double_triangulated": lambda r: _triangulated(r, 150.0),
    "lower_triangulated": _lower_triangulated,
    "parallel": _parallel,
    "three_link": _three_link,
    "a_arm": _a_arm,
    "a_arm_reversed": _a_arm_reversed,
    "radius_arms": _radius_arms,
    "torque_arm": _torque_arm,
    "pivot_arm": _pivot_arm,
    "pivot_arm_slides": lambda r: [with_changes(m, ball="slides") if isinstance(m, AArm) else m for m in _pivot_arm(r)],
    "leaf": _leaves,
}


def _panhard(r: _Room, side: float) -> list[AnyMember]:
    x, z = r.x - r.toward * 0.17 * r.diameter, r.z + 0.04 * r.diameter
    return [_rod("Panhard", "lateral", "center", ((x, side * r.rail, z), (x, -side * (r.out - 30.0), z)))]


def _watts(r: _Room, on: Literal["axle", "frame"], turns: Literal["vertical", "horizontal"]) -> list[AnyMember]:
    """A watts link, its crank on axle or frame."""
    x, z, arm = r.x - r.toward * 0.17 * r.diameter, r.z + 0.03 * r.diameter, 90.0
    reach = r.rail if on == "axle" else r.out - 30.0
    up = (0.0, 0.0, arm) if turns == "vertical" else (arm, 0.0, 0.0)
    places = [(x + side * up[0], side * reach, z + side * up[2]) for _, side in _SIDES]
    inner = [_mount((px, 0.0, pz)) for px, _, pz in places]
    outer = [_mount(place) for place in places]
    return [
        Watts(
            name="Watts", role="lateral", side="center", tube_mm=32.0, crank_on=on, crank_turns=turns,
            pivot=_mount((x, 0.0, z), "poly"), crank_left=inner[0], crank_right=inner[1],
            outer_left=outer[0], outer_right=outer[1],
        )
    ]  # fmt: skip


def lateral_members(axle: Axle, frame: Frame, key: LateralKey) -> list[AnyMember]:
    """A lateral device sized to an axle."""
    r = _room(axle, frame)
    if key == "none":
        return []
    if key.startswith("panhard"):
        return _panhard(r, 1.0 if key == "panhard" else -1.0)
    return _watts(r, "frame" if key == "watts_frame" else "axle", "horizontal" if key == "watts_flat" else "vertical")


def layout_members(axle: Axle, frame: Frame, base: BaseKey, lateral: LateralKey | None = None) -> tuple[AnyMember, ...]:
    """The members of a layout for an axle; frame ends reach toward mid-car. A needed lateral device is a panhard."""
    if lateral is None:
        lateral = "panhard" if BASES[base].needs_lateral else "none"
    return (*_BUILDERS[base](_room(axle, frame)), *lateral_members(axle, frame, lateral))


def keeping(old: tuple[AnyMember, ...], new: tuple[AnyMember, ...]) -> tuple[AnyMember, ...]:
    """The new members with the mounts of old members of the same name and kind: points that still make sense stay.

    Where what takes the torque is of another kind, its ends keep the old one's height and place fore and aft.
    """
    known = {(m.name, m.kind): m for m in old}
    kept: list[AnyMember] = []
    for member in new:
        was = known.get((member.name, member.kind))
        if was is not None:
            kept.append(with_changes(member, **was.mounts))
        else:
            kept.append(_where_torque_was(old, new, member) if member.role in _TORQUE else member)
    return tuple(kept)


_TORQUE = ("upper", "arm")


def _where_torque_was(old: tuple[AnyMember, ...], new: tuple[AnyMember, ...], member: AnyMember) -> AnyMember:
    """A new upper or arm moved fore and aft and up to where those of the old layout were, body by body."""
    if any(m.role == "arm" for m in (*old, *new)):
        return member  # arms are as long as they are for reasons of their own

    def mean(members: tuple[AnyMember, ...], body: str) -> Solid | None:
        those = [m for m in members if m.role in _TORQUE]
        at = [m.mounts[e].at.xyz for m in those for e in m.mounts if m.body(e) == body]
        return tuple(float(v) for v in np.mean(at, axis=0)) if at else None  # type: ignore[return-value]

    changes = {}
    for end, mount in member.mounts.items():
        was, now = mean(old, member.body(end)), mean(new, member.body(end))
        if was is not None and now is not None:
            x, y, z = mount.at.xyz
            moved = with_changes(mount.at, x=x + was[0] - now[0], y=y, z=z + was[2] - now[2])
            changes[end] = with_changes(mount, at=moved, holes=(), hole=None)
    return with_changes(member, **changes)
