"""Points moved, placed and said how well they were measured, by their spot."""

from collections.abc import Sequence
from typing import Any

from even_stance.vehicle.car import Axle
from even_stance.vehicle.driveline import Powertrain, Shaft
from even_stance.vehicle.edits.edit import Edit, with_axle, with_changes, with_member
from even_stance.vehicle.edits.things import change_thing, stretched_form, thing_named
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import Mount
from even_stance.vehicle.records import GUESS_MM, TAPE_MM, HowKnown, Point
from even_stance.vehicle.spots import STEER_POINTS, Spot, arm_holes, mount_of, own_point, point_of, twin_of
from even_stance.vehicle.steering import ArmHoles, Steering


def moved_point(point: Point, dx: float, dy: float, dz: float) -> Point:
    """A point some mm farther ahead, left and up."""
    return with_changes(point, x=point.x + dx, y=point.y + dy, z=point.z + dz)


def shifted_mount(mount: Mount, dx: float, dy: float, dz: float) -> Mount:
    """A mount with all holes of its bracket some mm farther ahead, left and up."""
    holes = tuple(moved_point(h, dx, dy, dz) for h in mount.holes)
    return with_changes(mount, at=moved_point(mount.at, dx, dy, dz), holes=holes)


def put_mount(job: Job, spot: Spot, mount: Mount) -> Job:
    """The job with another mount at a spot."""
    axle = job.vehicle.axle(spot.axle)
    member = axle.part(spot.member)
    return with_axle(job, with_member(axle, with_changes(member, **{spot.end: mount})))


def _put_own(job: Job, spot: Spot, at: Point) -> Job:
    """The job with a point that is no mount somewhere else."""
    if spot.is_thing:
        by = [a - b for a, b in zip(at.xyz, point_of(job, spot).xyz, strict=True)]
        form = stretched_form(thing_named(job, spot.member).form, spot.thing_end, by[0], by[1], by[2])
        return change_thing(spot.member, spot.words, form=form, sure_mm=at.sure).apply(job)
    if not spot.axle:
        return with_changes(job, vehicle=with_changes(job.vehicle, powertrain=_put_power(job, spot, at)))
    axle = job.vehicle.axle(spot.axle)
    if spot.end in STEER_POINTS:
        return with_axle(job, _put_arm(axle, spot.end, at))
    if spot.end == "carrier":
        return with_axle(job, with_changes(axle, shaft=with_changes(axle.shaft or Shaft(), carrier=at)))
    return with_axle(job, with_changes(axle, **{spot.end: with_changes(getattr(axle, spot.end), at=at)}))


def _put_arm(axle: Axle, end: str, at: Point) -> Axle:
    """The axle with a point of its steering somewhere else; an arm with several holes goes along with the one used."""
    steering, before, holes = axle.steering, own_point(axle, end), arm_holes(axle, end)
    assert steering is not None
    if holes is not None and before is not None:
        by = [a - b for a, b in zip(at.xyz, before.xyz, strict=True)]
        moved = tuple(with_changes(moved_point(h, *by), sure=at.sure, known=at.known) for h in holes.at)
        steering = put_arm_holes(steering, with_changes(holes, at=moved))
    return with_changes(axle, steering=place_steer(steering, end, at))


def put_arm_holes(steering: Steering, holes: ArmHoles) -> Steering:
    """The steering with other holes in an arm."""
    return with_changes(steering, arm_holes=(*(h for h in steering.arm_holes if h.end != holes.end), holes))


def place_steer(steering: Steering, end: str, at: Point) -> Steering:
    """The steering with one point of it somewhere else."""
    placed: Steering = _put_steer(steering, STEER_POINTS[end][0], at)
    return placed


def _put_steer(record: Any, path: tuple[str, ...], at: Point) -> Any:
    """A record of the steering with one point of it, however deep, somewhere else."""
    step, *rest = path
    return with_changes(record, **{step: _put_steer(getattr(record, step), tuple(rest), at) if rest else at})


def _put_power(job: Job, spot: Spot, at: Point) -> Powertrain:
    power = job.vehicle.powertrain
    assert power is not None
    if not spot.member:
        return with_changes(power, **{spot.end: at})
    marks = tuple(with_changes(m, at=at) if m.name == spot.member else m for m in power.marks)
    return with_changes(power, marks=marks)


def put_on_purpose(point: Point) -> Point:
    """A point that somebody put where it is: it is no guess any more, but where it is meant to be built."""
    return with_changes(point, known="typed", sure=TAPE_MM if point.known == "guessed" else point.sure)


def shifted(job: Job, spot: Spot, dx: float, dy: float, dz: float) -> Job:
    """The job with one point put some mm farther ahead, left and up; a mount takes its whole bracket along."""
    if spot.is_thing:
        return _put_own(job, spot, moved_point(point_of(job, spot), dx, dy, dz))
    if not (dx or dy or dz):
        return job
    if not spot.member or not spot.axle:
        return _put_own(job, spot, put_on_purpose(moved_point(point_of(job, spot), dx, dy, dz)))
    mount = shifted_mount(mount_of(job, spot), dx, dy, dz)
    holes = tuple(put_on_purpose(h) for h in mount.holes)
    return put_mount(job, spot, with_changes(mount, at=put_on_purpose(mount.at), holes=holes))


def move_by(spot: Spot, dx: float, dy: float, dz: float, both_sides: bool = True, merge: str | None = None) -> Edit:
    """Move a point (a mount with its whole bracket) by a distance, mm; the other side goes along as in a mirror."""

    def apply(job: Job) -> Job:
        twin = twin_of(job, spot) if both_sides else None
        job = shifted(job, spot, dx, dy, dz)
        return job if twin is None else shifted(job, twin, dx, -dy, dz)

    return Edit(f"Move {spot.words}", apply, merge)


def move_to(
    job: Job, spot: Spot, x: float, y: float, z: float, both_sides: bool = True, merge: str | None = None
) -> Edit:
    """Put a point at a place, mm; its bracket and the other side go along."""
    at = point_of(job, spot)
    return move_by(spot, x - at.x, y - at.y, z - at.z, both_sides, merge)


def place_point(spot: Spot, at: Point) -> Edit:
    """Put a point (a mount with its whole bracket) where it was measured, as sure and as known as it is there."""

    def apply(job: Job) -> Job:
        job = move_to(job, spot, *at.xyz, both_sides=False).apply(job)
        return _put_known(job, spot, at.sure, at.known)

    return Edit(f"Measured {spot.words}", apply)


def _put_known(job: Job, spot: Spot, sure_mm: float, known: HowKnown | None) -> Job:
    """The job with a point that is so sure, and so known; its bracket with it."""
    if not spot.member or not spot.axle:
        return _put_own(job, spot, with_changes(point_of(job, spot), sure=sure_mm, known=known))
    mount = mount_of(job, spot)
    holes = tuple(with_changes(h, sure=sure_mm, known=known) for h in mount.holes)
    at = with_changes(mount.at, sure=sure_mm, known=known)
    return put_mount(job, spot, with_changes(mount, at=at, holes=holes))


def _with_twin(job: Job, spot: Spot, both_sides: bool) -> tuple[Spot, ...]:
    twin = twin_of(job, spot) if both_sides else None
    return (spot,) if twin is None else (spot, twin)


def set_sure(spot: Spot, sure_mm: float, both_sides: bool = True) -> Edit:
    """Say how well a point was measured, +/- mm; a guess that is as sure as that is none."""

    def apply(job: Job) -> Job:
        for where in _with_twin(job, spot, both_sides):
            known = point_of(job, where).known
            job = _put_known(job, where, sure_mm, "typed" if known == "guessed" and sure_mm < GUESS_MM else known)
        return job

    return Edit(f"Sureness of {spot.words}", apply)


def set_known(spots: Sequence[Spot], known: HowKnown, both_sides: bool = False) -> Edit:
    """Say how points are known; what was a guess and is none takes a tape's +/-, and what is one a guess's."""

    def apply(job: Job) -> Job:
        for spot in dict.fromkeys(w for s in spots for w in _with_twin(job, s, both_sides)):
            at = point_of(job, spot)
            was = at.sure if at.known != "guessed" else TAPE_MM
            job = _put_known(job, spot, max(at.sure, GUESS_MM) if known == "guessed" else was, known)
        return job

    label = f"How {spots[0].words} is known" if len(spots) == 1 else f"How {len(spots)} places are known"
    return Edit(label, apply)
