"""A point is moved and a number stays: the move nearest to the one wanted that leaves it as it was."""

import numpy as np

from even_stance.errors import StanceError
from even_stance.judgement.search.wishes import Wish, try_layouts, wishes_of
from even_stance.judgement.verdicts import TITLES
from even_stance.mechanics.vectors import Array
from even_stance.study.model import layout_of, mount_points
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, twin_of

_ROUNDS, _STEP_MM, _KEPT = 8, 0.5, 0.05
_FLAT = 0.02  # of the steepest way: what the number does not go with is no hold
INSTANT_CENTER = ("ic_x_mm", "ic_z_mm")


def can_keep(job: Job, key: str) -> dict[str, str]:
    """What of an axle can be kept while its mounts are moved: name to title; the instant center is one thing."""
    axle = job.vehicle.axle(key)
    try:
        found = {w.key: w.title for w in wishes_of(job.vehicle, axle).values() if not w.at_most}
    except StanceError:  # nothing holds the axle: it has no numbers
        return {}
    if INSTANT_CENTER[0] not in found:
        return found
    rest = {k: t for k, t in found.items() if k not in INSTANT_CENTER}
    return {"instant_center": "Instant center", **rest}


def kept_words(keep: str) -> str:
    """What is kept, in the middle of a sentence."""
    what, _, link = keep.partition(":")
    if link:
        return f"length of {link.lower()}"
    own = {"instant_center": "instant center", "length_ratio_pct": "ratio of lengths"}
    return own[what] if what in own else TITLES[what].lower()


def kept_move(
    job: Job,
    spot: Spot,
    move: tuple[float, float, float],
    keep: str,
    ways: tuple[int, ...] = (0, 1, 2),
    both_sides: bool = True,
) -> tuple[float, float, float]:
    """The move of a mount nearest to the one wanted, in the plane it is seen in, that leaves a number as it is.

    Gauss-Newton on the nearest point of the number's contour: at each round the way to it is the least one (by the
    pseudo-inverse of the slopes), so that a second number that goes along with the first is no second hold.

    Args:
        job: the job before the move; spot: the mount; move: as wanted, mm.
        keep: what stays, as `can_keep` names it; ways: the coordinates that may change (those of the view).
        both_sides: whether its twin goes along, as in a mirror.

    Returns:
        The move, mm; none where the number stays nowhere near, the one wanted where there is nothing to keep.
    """
    axle = job.vehicle.axle(spot.axle)
    try:
        every = wishes_of(job.vehicle, axle)
    except StanceError:
        return move
    names = INSTANT_CENTER if keep == "instant_center" else (keep,)
    wishes = [every[n] for n in names if n in every]
    scale = np.ones(2) if len(wishes) == 2 else np.array([w.step for w in wishes])
    if not wishes or spot.member not in [m.name for m in axle.members]:
        return move
    base, moves = mount_points(axle), _moves(job, spot, both_sides)
    wanted = np.array([move[i] for i in ways])
    start = _read(job, axle.key, base[None], wishes)[0]
    if not np.isfinite(start).all():
        return move
    now = wanted.copy()
    for _ in range(_ROUNDS):
        steps = np.concatenate((np.zeros((1, len(ways))), _STEP_MM * np.eye(len(ways)), -_STEP_MM * np.eye(len(ways))))
        points = base + np.tensordot(now + steps, moves[list(ways)], axes=1)
        read = (_read(job, axle.key, points, wishes) - start) / scale
        if not np.isfinite(read).all():
            return 0.0, 0.0, 0.0  # it cannot stay on the way there: the point stays where it is
        slope = (read[1 : 1 + len(ways)] - read[1 + len(ways) :]).T / (2 * _STEP_MM)
        step = np.linalg.pinv(slope, rcond=_FLAT) @ (read[0] + slope @ (wanted - now))
        before, now = now, wanted - step
        if np.abs(now - before).max() < 1e-3:
            break
    last = _read(job, axle.key, (base + np.tensordot(now, moves[list(ways)], axes=1))[None], wishes)[0]
    if not (np.abs((last - start) / scale) <= _KEPT).all():
        return 0.0, 0.0, 0.0
    found = np.zeros(3)
    found[list(ways)] = now
    return float(found[0]), float(found[1]), float(found[2])


def _moves(job: Job, spot: Spot, both_sides: bool) -> Array:
    """How all mounts of the axle move with a mount's three coordinates, shape (3, m, 3)."""
    axle = job.vehicle.axle(spot.axle)
    places = {Spot(axle.key, p.member.name, p.end): i for i, p in enumerate(layout_of(axle).mounts)}
    moves = np.zeros((3, len(places), 3))
    twin = twin_of(job, spot) if both_sides else None
    for axis in range(3):
        moves[axis, places[spot], axis] = 1.0
        if twin is not None:
            moves[axis, places[twin], axis] = -1.0 if axis == 1 else 1.0
    return moves


def _read(job: Job, key: str, points: Array, wishes: list[Wish]) -> Array:
    """What is kept, for layouts with these mounts, shape (variants, wishes).

    An instant center may be a mile away: it is kept by how its lines run, per meter of the way to it and as the slope
    of that way, which change evenly with the links where its place does not.
    """
    axle = job.vehicle.axle(key)
    tried = try_layouts(job.vehicle, axle, points, wishes)
    found = np.stack([w.read(tried) for w in wishes], axis=1)
    if len(wishes) == 1:
        return found
    ahead, up = found[:, 0] - axle.center[0], found[:, 1] - axle.center[2]
    return np.stack((1e3 / ahead, up / ahead), axis=1)
