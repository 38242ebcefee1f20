"""Every change a person can make to a job, as pure functions from job to job with a label.

The window, the command line and the tests all use these and nothing else.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Literal, TypeVar, get_args

from pydantic import ValidationError

from even_stance.errors import InputError
from even_stance.vehicle.car import Axle
from even_stance.vehicle.complaints import complaint
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.members import JOINT_TYPES, AnyMember, JointKind, Mount, Rod
from even_stance.vehicle.records import Point, Record

R = TypeVar("R", bound=Record)


@dataclass(frozen=True)
class Edit:
    """A change with its name in the undo list; edits with the same merge key in a row become one step."""

    label: str
    apply: Callable[[Job], Job]
    merge: str | None = None


# Every end of every kind of member has a word of its own; the two plain ones are those of a rod.
_END_WORDS = {end: word for kind in get_args(AnyMember) for end, word in kind.WORDS.items()} | Rod.WORDS


@dataclass(frozen=True)
class Spot:
    """Which mount is meant: the axle, the member on it, and the end ("chassis", "axle", "pivot" ...)."""

    axle: str
    member: str
    end: str

    @property
    def words(self) -> str:
        """The mount as it is called on the screen."""
        return f"{self.member}, {_END_WORDS.get(self.end, self.end)}"


def made(kind: type[R], /, **fields: Any) -> R:
    """A new record.

    Raises:
        InputError: the record refuses; the message names the field.
    """
    try:
        return kind.model_validate(fields)
    except ValidationError as error:
        raise InputError(*complaint(error)) from None


def with_changes(record: R, **changes: Any) -> R:
    """A copy of a record with fields changed, checked like any new record.

    Raises:
        InputError: the record refuses; the message names the field.
    """
    return made(type(record), **({name: getattr(record, name) for name in type(record).model_fields} | changes))


def with_axle(job: Job, axle: Axle) -> Job:
    """The job with one axle replaced (found by its key)."""
    axles = tuple(axle if a.key == axle.key else a for a in job.vehicle.axles)
    return with_changes(job, vehicle=with_changes(job.vehicle, axles=axles))


def with_member(axle: Axle, member: AnyMember) -> Axle:
    """The axle with one member replaced (found by its name)."""
    return with_changes(axle, members=tuple(member if m.name == member.name else m for m in axle.members))


def mount_of(job: Job, spot: Spot) -> Mount:
    """The mount at a spot.

    Raises:
        KeyError: there is no such axle or member.
    """
    return job.vehicle.axle(spot.axle).member(spot.member).mounts[spot.end]


def twin_of(job: Job, spot: Spot) -> Spot | None:
    """The same mount on the other side of the car, if there is one (on another member or on the same)."""
    members = {m.name: m for m in job.vehicle.axle(spot.axle).members}
    for one, other in (("left", "right"), ("right", "left")):
        name = spot.member.replace(one, other).replace(one.capitalize(), other.capitalize())
        if name != spot.member and name in members and spot.end in members[name].mounts:
            return Spot(spot.axle, name, spot.end)
        end = spot.end.replace(one, other)
        if end != spot.end and members[spot.member].kind in ("a_arm", "a_arm_reversed"):
            return Spot(spot.axle, spot.member, end)
    return None


def _put_mount(job: Job, spot: Spot, mount: Mount) -> Job:
    axle = job.vehicle.axle(spot.axle)
    member = axle.member(spot.member)
    return with_axle(job, with_member(axle, with_changes(member, **{spot.end: mount})))


def _moved(point: Point, dx: float, dy: float, dz: float) -> Point:
    return with_changes(point, x=point.x + dx, y=point.y + dy, z=point.z + dz)


def _shifted(mount: Mount, dx: float, dy: float, dz: float) -> Mount:
    holes = tuple(_moved(h, dx, dy, dz) for h in mount.holes)
    return with_changes(mount, at=_moved(mount.at, dx, dy, dz), holes=holes)


def move_by(spot: Spot, dx: float, dy: float, dz: float, both_sides: bool = True, merge: str | None = None) -> Edit:
    """Move a mount (its whole bracket) by a distance, mm; the other side goes along as in a mirror."""

    def apply(job: Job) -> Job:
        twin = twin_of(job, spot) if both_sides else None
        job = _put_mount(job, spot, _shifted(mount_of(job, spot), dx, dy, dz))
        return job if twin is None else _put_mount(job, twin, _shifted(mount_of(job, twin), dx, -dy, dz))

    return Edit(f"Move {spot.words}", apply, merge)


def move_to(
    job: Job, spot: Spot, x: float, y: float, z: float, both_sides: bool = True, merge: str | None = None
) -> Edit:
    """Put a mount at a place, mm; its bracket and the other side go along."""
    at = mount_of(job, spot).at
    return move_by(spot, x - at.x, y - at.y, z - at.z, both_sides, merge)


def choose_hole(spot: Spot, hole: int, both_sides: bool = True, merge: str | None = None) -> Edit:
    """Bolt the joint into another hole of its bracket (counted from 0).

    Raises (on apply):
        InputError: the bracket has no such hole.
    """

    def put(job: Job, where: Spot) -> Job:
        mount = mount_of(job, where)
        if not 0 <= hole < len(mount.holes):
            count = len(mount.holes)
            raise InputError(where.words, f"there is no hole {hole + 1}.", f"The bracket has {count or 'no'} holes.")
        return _put_mount(job, where, with_changes(mount, at=mount.holes[hole], hole=hole))

    def apply(job: Job) -> Job:
        twin = twin_of(job, spot) if both_sides else None
        job = put(job, spot)
        if twin is not None and 0 <= hole < len(mount_of(job, twin).holes):
            job = put(job, twin)
        return job

    return Edit(f"{spot.words} to hole {hole + 1}", apply, merge)


def set_holes(spot: Spot, count: int, pitch_mm: float, both_sides: bool = True) -> Edit:
    """Give a bracket a number of holes, one above the other; the joint stays where it is, in the middle hole.

    Raises (on apply):
        InputError: not 1 to 9 holes, or a pitch that no drill would do.
    """

    def drilled(mount: Mount) -> Mount:
        if count == 1:
            return with_changes(mount, holes=(), hole=None)
        used = (count - 1) // 2
        holes = tuple(
            mount.at if i == used else _moved(mount.at, 0.0, 0.0, (i - used) * pitch_mm) for i in range(count)
        )
        return with_changes(mount, holes=holes, hole=used)

    def apply(job: Job) -> Job:
        if not 1 <= count <= 9:
            raise InputError("Holes", f"{count} holes is no bracket.", "Type a number from 1 to 9.")
        if not 5.0 <= pitch_mm <= 200.0:
            raise InputError("Hole pitch", "is no distance between holes.", "Type something like 1 in.")
        twin = twin_of(job, spot) if both_sides else None
        for where in (spot, twin):
            if where is not None:
                job = _put_mount(job, where, drilled(mount_of(job, where)))
        return job

    return Edit(f"{spot.words}: {count} holes", apply)


def set_mount(spot: Spot, both_sides: bool = True, **changes: Any) -> Edit:
    """Change what a mount is (bolt direction, swing limit), on both sides."""

    def apply(job: Job) -> Job:
        for where in (spot, twin_of(job, spot) if both_sides else None):
            if where is not None:
                job = _put_mount(job, where, with_changes(mount_of(job, where), **changes))
        return job

    return Edit(f"Change {spot.words}", apply)


def set_joint(spot: Spot, joint: JointKind, both_sides: bool = True) -> Edit:
    """Put another kind of joint into a mount, with the swing and stiffness of its kind."""
    return set_mount(spot, both_sides, joint=joint, swing_limit_deg=JOINT_TYPES[joint].swing_deg, stiffness_n_mm=None)


def place_mount(spot: Spot, x: float, y: float, z: float, sure_mm: float) -> Edit:
    """Put a mount (its whole bracket) where it was measured, with the +/- of the measurement."""

    def apply(job: Job) -> Job:
        job = move_to(job, spot, x, y, z, both_sides=False).apply(job)
        return set_sure(spot, sure_mm, both_sides=False).apply(job)

    return Edit(f"Measured {spot.words}", apply)


def set_measuring(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change what the Stance station keeps (heights, floor, scales, threads, cribs)."""
    return Edit(label, lambda job: with_changes(job, measuring=with_changes(job.measuring, **changes)), merge)


def set_members(key: str, names: Iterable[str], label: str, **changes: Any) -> Edit:
    """Change what some members are (their tube, how they are clamped, how a torque arm's front end is held)."""
    names = tuple(names)

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        for name in names:
            axle = with_member(axle, with_changes(axle.member(name), **changes))
        return with_axle(job, axle)

    return Edit(label, apply)


def set_sure(spot: Spot, sure_mm: float, both_sides: bool = True) -> Edit:
    """Say how well a mount was measured, +/- mm."""

    def apply(job: Job) -> Job:
        for where in (spot, twin_of(job, spot) if both_sides else None):
            if where is not None:
                mount = mount_of(job, where)
                at = with_changes(mount.at, sure=sure_mm)
                holes = tuple(with_changes(h, sure=sure_mm) for h in mount.holes)
                job = _put_mount(job, where, with_changes(mount, at=at, holes=holes))
        return job

    return Edit(f"Sureness of {spot.words}", apply)


def set_job(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of the job itself (name, units, purpose, notes)."""
    return Edit(label, lambda job: with_changes(job, **changes), merge)


def set_vehicle(label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of the vehicle (CG height and the like)."""
    return Edit(label, lambda job: with_changes(job, vehicle=with_changes(job.vehicle, **changes)), merge)


def set_axle(key: str, label: str, merge: str | None = None, **changes: Any) -> Edit:
    """Change fields of one axle."""
    return Edit(label, lambda job: with_axle(job, with_changes(job.vehicle.axle(key), **changes)), merge)


def set_tire(key: str, label: str, **changes: Any) -> Edit:
    """Change the tires of one axle; the members on axle and frame keep their places on the car."""

    def apply(job: Job) -> Job:
        axle = job.vehicle.axle(key)
        return with_axle(job, with_changes(axle, tire=with_changes(axle.tire, **changes)))

    return Edit(label, apply)


def set_back(axle: Axle, mm: float) -> Axle:
    """An axle farther back by some mm, with its members and its pinion; the shaft end on the frame stays."""
    members = tuple(
        with_changes(m, **{end: _shifted(mount, -mm, 0.0, 0.0) for end, mount in m.mounts.items()})
        for m in axle.members
    )
    moved: dict[str, Any] = {"behind_front_mm": axle.behind_front_mm + mm, "members": members}
    if axle.pinion is not None:
        moved["pinion"] = with_changes(axle.pinion, at=_moved(axle.pinion.at, -mm, 0.0, 0.0))
    return with_changes(axle, **moved)


def set_wheelbase(mm: float, sure_mm: float | None = None) -> Edit:
    """Move the rear axle (or the rear pair) so that the wheelbase is this; its members go along with it.

    Args:
        mm: the wheelbase; sure_mm: its +/-, if that is to change as well.
    """

    def apply(job: Job) -> Job:
        shift = mm - job.vehicle.wheelbase_mm
        front, *rear = job.vehicle.axles
        sure = job.vehicle.wheelbase_sure_mm if sure_mm is None else sure_mm
        axles = (front, *(set_back(axle, shift) for axle in rear))
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=axles, wheelbase_sure_mm=sure))

    return Edit("Wheelbase", apply)


def set_split(kind: Literal["drive", "brake"], front: float) -> Edit:
    """Share of the drive or brake force at the front axle (0 to 1); the rear axles share the rest evenly.

    Raises (on apply):
        InputError: not a share.
    """

    def apply(job: Job) -> Job:
        if not 0.0 <= front <= 1.0:
            raise InputError(f"Front {kind} share", f"{100 * front:.0f} % is no share.", "Type 0 to 100 %.")
        rear = (1.0 - front) / (len(job.vehicle.axles) - 1)
        axles = []
        for axle in job.vehicle.axles:
            share = front if axle.is_front else rear
            changes: dict[str, Any] = {f"{kind}_share": share}
            if kind == "drive":
                changes["driven"] = share > 0
            axles.append(with_changes(axle, **changes))
        return with_changes(job, vehicle=with_changes(job.vehicle, axles=tuple(axles)))

    return Edit(f"Front {kind} share", apply)


def set_band(key: str, band: Band | None) -> Edit:
    """Give an answer its own wanted band, or take it back to the purpose's default (None)."""

    def apply(job: Job) -> Job:
        bands = {k: b for k, b in job.bands.items() if k != key}
        return with_changes(job, bands=bands if band is None else bands | {key: band})

    return Edit("Wanted band", apply)


def replace_members(key: str, members: tuple[AnyMember, ...], label: str) -> Edit:
    """Put another set of members on an axle."""
    return set_axle(key, label, members=members)
