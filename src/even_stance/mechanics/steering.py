"""Steered wheels of a solid axle: knuckles on their kingpins, held by tie rod and drag link, or by a ram on the axle.

Everything is exact and in batches, of postures and of steerings that differ a little (leading axes that broadcast): a
point of a knuckle goes around its kingpin, so that a link of given length from a given place allows it two turns; the
one that leads on from straight ahead is taken.
"""

from dataclasses import dataclass

import numpy as np

from even_stance.mechanics.vectors import Array, cross, dot, norm, turned_about

LEFT, RIGHT = 0, 1
_TRIES, _FEW = 30, 8
_CLOSED_MM = 1e-7


@dataclass(frozen=True)
class Knuckles:
    """Both knuckles at ride height, straight ahead; left one first.

    Attributes:
        pivot: a point of each kingpin axis, mm, shape (..., 2, 3)
        axis: along it upward, 1, shape (..., 2, 3)
        tie: centers of the tie-rod joints, mm, shape (..., 2, 3)
        spin: along the wheels' spin axes to the left, 1, shape (..., 2, 3)
    """

    pivot: Array
    axis: Array
    tie: Array
    spin: Array

    def turned(self, side: int, angle: Array, point: Array) -> Array:
        """A point of one knuckle, mm (..., 3), that has turned by an angle, rad (...): where it is, mm (..., 3)."""
        return around(self.pivot[..., side, :], self.axis[..., side, :], angle, point)


@dataclass(frozen=True)
class Box:
    """A steering box on the frame, its pitman arm straight ahead.

    Attributes:
        shaft: a point of the sector shaft's axis, mm, shape (..., 3)
        axis: along that axis, 1, shape (..., 3)
        ball: the drag link's joint on the pitman arm, mm, shape (..., 3)
        end: the drag link's other joint, mm, shape (..., 3)
        knuckle: which knuckle that is on (LEFT or RIGHT); None where it is on the tie rod.
    """

    shaft: Array
    axis: Array
    ball: Array
    end: Array
    knuckle: int | None


def around(pivot: Array, axis: Array, angle: Array, point: Array) -> Array:
    """A point of a body that has turned about an axis.

    Args:
        pivot: a point of the axis, mm, shape (..., 3)
        axis: along it, 1, shape (..., 3)
        angle: the turn, right-handed, rad, shape (...)
        point: of the body, unturned, mm, shape (..., 3)

    Returns:
        Where it is, mm, shape (..., 3).

    Source: Rodrigues' formula.
    """
    place: Array = pivot + turned_about(axis, np.asarray(angle), (point - pivot)[..., None, :])[..., 0, :]
    return place


def link_turn(pivot: Array, axis: Array, point: Array, ride: Array, target: Array) -> Array:
    """How far a body turns about an axis so that a link from a point of it reaches a place as long as it was at ride.

    With e the arm square to the axis and n the axis, |p + e cos a + (n x e) sin a - t| = length is
    A cos a + B sin a = C: a = atan2(B, A) -+ acos(C / hypot(A, B)), of which the root is taken that is nil at ride.

    Args:
        pivot: a point of the axis, mm, shape (..., 3)
        axis: along it, 1, shape (..., 3)
        point: where the link is on the body, unturned, mm, shape (..., 3)
        ride: where the link's other end is at ride height, mm, shape (..., 3)
        target: where it is now, mm, shape (..., 3)

    Returns:
        The turn, right-handed about the axis, rad, shape (...); nan where the link does not reach.

    Source: derived here; Rodrigues' formula.
    """
    arm = point - pivot
    along = dot(arm, axis)[..., None] * axis
    level = arm - along
    upright = cross(axis, level)
    length_2 = dot(point - ride, point - ride)

    def terms(end: Array) -> tuple[Array, Array, Array]:
        away = end - pivot - along
        return dot(away, level), dot(away, upright), 0.5 * (dot(away, away) + dot(level, level) - length_2)

    side = -np.sign(terms(ride)[1])  # which of the two roots is nil at ride
    a, b, c = terms(target)
    share = c / np.maximum(np.hypot(a, b), 1e-12)
    turn = np.arctan2(b, a) + side * np.arccos(np.where(np.abs(share) <= 1.0, share, np.nan))
    angle: Array = (turn + np.pi) % (2.0 * np.pi) - np.pi
    return angle


def joint_swing(way: Array, axis: Array, turn: Array, ride: Array, stands: Array) -> Array:
    """How far a link has swung out of the plane of its joint's stud, at the end on a body that has turned.

    The stud is taken to stand as near to a direction as can be square to the link at ride height; turning about it is
    free.

    Args:
        way: along the link now, mm, shape (N, 3)
        axis: about which the body turns, 1, shape (..., 3)
        turn: of the body from straight ahead, rad, shape (N,)
        ride: along the link at ride height, straight ahead, mm, shape (..., 3)
        stands: which way the stud's hole goes through the body, 1, shape (..., 3)

    Returns:
        The swing, rad, shape (N,).

    Source: derived here.
    """
    along = ride / norm(ride)[..., None]
    stud = stands - dot(np.broadcast_to(stands, along.shape), along)[..., None] * along
    stud = stud / norm(stud)[..., None]
    seen = turned_about(axis, -turn, way[..., None, :])[..., 0, :]
    swing: Array = np.abs(np.arcsin(np.clip(dot(seen, stud) / norm(seen), -1.0, 1.0)))
    return swing


def tie_turn(knuckles: Knuckles, given: int, angle: Array) -> Array:
    """How far the other knuckle turns when one is turned, by the tie rod.

    Args:
        knuckles: both, as 1 and mm arrays of shape (..., 2, 3)
        given: which one is turned, 0 (left) or 1, shape ()
        angle: how far, rad, shape (...)

    Returns:
        The turn, + to the left, rad, shape (...); nan where the rod does not reach.

    Source: derived here.
    """
    k, other = knuckles, 1 - given
    end = k.turned(given, angle, k.tie[..., given, :])
    return link_turn(k.pivot[..., other, :], k.axis[..., other, :], k.tie[..., other, :], k.tie[..., given, :], end)


def box_turns(knuckles: Knuckles, box: Box, pitman: Array, center: Array, moved: Array, rotation: Array) -> Array:
    """How far both knuckles turn on the axle, by the turn of the pitman arm and where the axle is.

    Args:
        knuckles: at ride height, as 1 and mm arrays of shape (..., 2, 3)
        box: at ride height, as 1 and mm arrays of shape (..., 3)
        pitman: turn of the pitman arm, right-handed about the sector shaft, rad, shape (...)
        center: the axle center at ride height, mm, shape (3,)
        moved: where it is now, mm, shape (..., 3)
        rotation: axle axes from ride height to now, 1, shape (..., 3, 3)

    Returns:
        Left and right, + to the left, rad, shape (..., 2); nan where a link does not reach.

    Source: derived here.
    """
    ball = around(box.shaft, box.axis, pitman, box.ball)
    # The pitman's joint as seen from the axle.
    seen = np.einsum("...ji,...j->...i", rotation, ball - moved) + center
    if box.knuckle is None:
        return _on_tie_rod(knuckles, box, seen)
    k, first = knuckles, box.knuckle
    angle = link_turn(k.pivot[..., first, :], k.axis[..., first, :], box.end, box.ball, seen)
    both = [angle, tie_turn(knuckles, first, angle)]
    return np.stack(both if first == LEFT else both[::-1], axis=-1)


def _on_tie_rod(knuckles: Knuckles, box: Box, ball: Array) -> Array:
    """Turns where the drag link holds the tie rod: Newton on the left one, the joint on the line of the rod's ends."""
    k = knuckles
    tie, pivot, axis = ([a[..., i, :] for i in (LEFT, RIGHT)] for a in (k.tie, k.pivot, k.axis))
    run = tie[RIGHT] - tie[LEFT]
    share = dot(box.end - tie[LEFT], run) / dot(run, run)
    length = norm(box.ball - (tie[LEFT] + share[..., None] * run))
    left, still_open = np.zeros(np.broadcast_shapes(ball.shape[:-1], length.shape)), 0
    for count in range(_TRIES):
        right = tie_turn(k, LEFT, left)
        ends = [k.turned(i, a, tie[i]) for i, a in ((LEFT, left), (RIGHT, right))]
        ways = [cross(axis[i], ends[i] - pivot[i]) for i in (LEFT, RIGHT)]
        rod = ends[RIGHT] - ends[LEFT]
        follows = dot(rod, ways[LEFT]) / dot(rod, ways[RIGHT])
        reach = ends[LEFT] + share[..., None] * rod - ball
        far = norm(reach)
        off = far - length
        # What has not closed by now lies beyond what the links reach: there is nothing to wait for.
        was_open, still_open = still_open, int((np.abs(off) >= _CLOSED_MM).sum())
        if not still_open or (count >= _FEW and still_open == was_open):
            break
        onward = (1.0 - share)[..., None] * ways[LEFT] + (share * follows)[..., None] * ways[RIGHT]
        step = np.clip(np.nan_to_num(off / (dot(reach, onward) / far)), -0.3, 0.3)
        left = left - step
    closed = np.abs(off) < 100.0 * _CLOSED_MM
    return np.stack((np.where(closed, left, np.nan), np.where(closed, right, np.nan)), axis=-1)


def ram_turns(knuckles: Knuckles, ends: Array, axis: Array, stroke: Array) -> Array:
    """How far both knuckles turn with a double-ended ram on the axle, its rod ends linked to the tie-rod joints.

    Args:
        knuckles: at ride height, wheels straight, as 1 and mm arrays of shape (..., 2, 3)
        ends: the rod's ends then, mm, shape (..., 2, 3)
        axis: along the ram to the left, 1, shape (..., 3)
        stroke: how far the rod is to the left, mm, shape (...)

    Returns:
        Left and right, + to the left, rad, shape (..., 2); nan where a link does not reach.

    Source: derived here.
    """
    k, by = knuckles, np.asarray(stroke)[..., None] * axis
    found = []
    for i in (LEFT, RIGHT):
        at = ends[..., i, :]
        found.append(link_turn(k.pivot[..., i, :], k.axis[..., i, :], k.tie[..., i, :], at, at + by))
    return np.stack(found, axis=-1)


def wheel_headings(knuckles: Knuckles, turns: Array, rotation: Array) -> Array:
    """Which way both wheels point: their spin axes in plan, against the chassis, + to the left.

    Args:
        knuckles: at ride height, as 1 and mm arrays of shape (..., 2, 3)
        turns: of the knuckles, rad, shape (..., 2)
        rotation: axle axes from ride height to now, 1, shape (..., 3, 3)

    Returns:
        Left and right, rad, shape (..., 2).

    Source: SAE J670 steer angle, here of the spin axis.
    """
    found = []
    for i in (LEFT, RIGHT):
        on_axle = around(np.zeros(3), knuckles.axis[..., i, :], turns[..., i], knuckles.spin[..., i, :])
        spin = np.einsum("...ij,...j->...i", rotation, on_axle)
        found.append(np.arctan2(-spin[..., 0], spin[..., 1]))
    return np.stack(found, axis=-1)


def ackermann_share(headings: Array, spacing: Array | float, ahead: float) -> Array:
    """How much of a turn about one common center the wheels make: 1 for cot(outer) - cot(inner) = spacing / wheelbase.

    Written for the left and the right wheel, whichever is the inner one: (cot right - cot left) times the distance
    ahead of the other axle. Behind it, where a steered rear axle is, the inner wheel is the other one.

    Args:
        headings: left and right, + to the left, rad, shape (..., 2)
        spacing: of the kingpin axes at the ground, mm, shape (...)
        ahead: how far the axle is ahead of the other axles' line, mm, shape ()

    Returns:
        1 for full, 0 for parallel wheels, shape (...); nan within 3 degrees of straight ahead.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 8 (steering geometry; from memory).
    """
    left, right = headings[..., LEFT], headings[..., RIGHT]
    turned = np.abs(0.5 * (left + right)) >= np.radians(3.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        share = (1.0 / np.tan(right) - 1.0 / np.tan(left)) * ahead / spacing
    return np.where(turned, share, np.nan)


def turn_center(headings: Array, wheels: Array, line: float) -> Array:
    """The radius of a turn to the outer steered wheel, from the turn's center on the other axle's line.

    The center is the mean of where the two wheels' normals meet that line.

    Args:
        headings: left and right, + left, rad, shape (..., 2)
        wheels: their contact patches in plan, as their knuckles carry them, mm, shape (..., 2, 2)
        line: how far ahead the other axle's line is, mm, shape ()

    Returns:
        The radius, mm, shape (...); nan for wheels that point straight ahead or a wheel that does not reach.

    Source: Gillespie, Fundamentals of Vehicle Dynamics, ch. 6 (low-speed turning; from memory).
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        across = (wheels[..., 1] + (wheels[..., 0] - line) / np.tan(headings)).mean(axis=-1)
    far = np.hypot(wheels[..., 0] - line, wheels[..., 1] - across[..., None]).max(axis=-1)
    radius: Array = np.where((np.abs(headings) > 1e-6).all(axis=-1), far, np.nan)
    return radius


def kingpin_angles(axis: Array) -> tuple[Array, Array]:
    """Caster and inclination of kingpin axes, as they are seen from the side and from the front.

    Args:
        axis: along both kingpins upward, left one first, 1, shape (..., 2, 3)

    Returns:
        Caster, + where the top is rearward, and inclination, + where the top is inward, rad, shape (..., 2) each.

    Source: SAE J670 (caster angle, kingpin inclination).
    """
    inward = axis[..., 1] * np.array([-1.0, 1.0])
    return np.arctan2(-axis[..., 0], axis[..., 2]), np.arctan2(inward, axis[..., 2])


def ground_points(knuckles: Knuckles) -> Array:
    """Where the kingpin axes meet the ground.

    Args:
        knuckles: both, as 1 and mm arrays of shape (..., 2, 3)

    Returns:
        The points, mm, shape (..., 2, 3).

    Source: derived here.
    """
    k = knuckles
    points: Array = k.pivot - k.axis * (k.pivot[..., 2:] / k.axis[..., 2:])
    return points


def spin_bend(knuckles: Knuckles, turns: Array) -> Array:
    """How far the wheels' spin axes have turned away from where they stand straight ahead: what axle joints bend by.

    Args:
        knuckles: both, as 1 and mm arrays of shape (..., 2, 3)
        turns: of the knuckles, rad, shape (..., 2)

    Returns:
        The angles, left and right, rad, shape (..., 2); less than the turn where the kingpin leans.

    Source: derived here; Rodrigues' formula.
    """
    found = []
    for i in (LEFT, RIGHT):
        spin = knuckles.spin[..., i, :]
        now = around(np.zeros(3), knuckles.axis[..., i, :], turns[..., i], spin)
        found.append(np.arctan2(norm(cross(spin, now)), dot(spin, now)))
    return np.stack(found, axis=-1)


def beside_axis(point: Array, pivot: Array, axis: Array) -> Array:
    """How far a point is off an axis.

    Args:
        point: the point, mm, shape (..., 3)
        pivot: a point of the axis, mm, shape (..., 3)
        axis: along it, 1, shape (..., 3)

    Returns:
        The distance, mm, shape (...).

    Source: derived here.
    """
    return norm(cross(point - pivot, np.broadcast_to(axis, np.shape(point - pivot))))


def tread_aside(turn: Array | float, radius: float) -> Array:
    """How far the front of a tire goes aside when its wheel turns.

    Args:
        turn: of the wheel, rad, shape (...)
        radius: of the tire, mm, shape ()

    Returns:
        radius sin(turn), mm, shape (...).

    Source: derived here; the front of the tire is a radius ahead of the kingpin.
    """
    aside: Array = radius * np.sin(turn)
    return aside
