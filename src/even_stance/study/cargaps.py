"""The gaps of the whole car: every axle's own, those between two axles, and those to the ground."""

from dataclasses import replace
from itertools import combinations

import numpy as np

from even_stance.errors import StanceError
from even_stance.mechanics.closest import Closest, Least, Moving, boxes_apart
from even_stance.mechanics.cores import Core
from even_stance.mechanics.vectors import Array
from even_stance.study.axlestates import AxleStates, grid_states, posture_states
from even_stance.study.clearances import FAR_MM, Gap, GapStudy, Progress, Stopped, study_axle_gaps
from even_stance.study.hard import Hard
from even_stance.study.hardparts import hard_parts, put_together, wanted_between
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import with_changes

GROUND_WANTED_MM = 50.8  # under the car on its stops: two inches over level ground (common practice, no source)
_BETWEEN = (9, 3)
GROUND = Hard("ground", "", "ground", "ground", "frame", ())


def study_gaps(
    vehicle: Vehicle, fine: bool = True, progress: Progress = lambda _: None, stopped: Stopped = lambda: False
) -> GapStudy:
    """The tightest gap of every pair of parts of the car.

    Args:
        vehicle: the vehicle; fine: to 0.1 mm, else a first look on a coarse grid.
        progress: told how far it is, 0 to 1; stopped: asked whether to end with what there is.
    """
    count = len(vehicle.axles)
    studies = []
    for i, axle in enumerate(vehicle.axles):
        studies.append(study_axle_gaps(vehicle, axle, fine, _part(progress, i, count), stopped))
        if stopped():
            break
    if fine and not stopped():
        studies += [_between(vehicle, a, b) for a, b in combinations(vehicle.axles, 2)]
        studies += _tail_up(vehicle, fine, stopped)
    found = merged(studies, ground_gaps(vehicle))
    progress(1.0)
    return found


def _part(progress: Progress, i: int, count: int) -> Progress:
    return lambda share: progress((i + share) / count)


def merged(studies: list[GapStudy], more: tuple[Gap, ...] = ()) -> GapStudy:
    """Several studies in one, of each pair the tightest."""
    best: dict[frozenset[str], Gap] = {}
    touching: dict[frozenset[str], Gap] = {}
    for study in studies:
        for gap in study.touching:
            touching.setdefault(frozenset(gap.names), gap)
    for gap in (*(g for study in studies for g in study.gaps), *more):
        key = frozenset(gap.names)
        if key not in touching and (key not in best or gap.gap_mm < best[key].gap_mm):
            best[key] = gap
    first = studies[0] if studies else GapStudy((), (), 0, 0, 0, True)
    return GapStudy(
        tuple(sorted(best.values(), key=lambda g: g.gap_mm)),
        tuple(sorted(touching.values(), key=lambda g: g.gap_mm)),
        first.parts, sum(s.pairs for s in studies), sum(s.postures for s in studies),
        all(s.whole for s in studies), tuple(dict.fromkeys(w for s in studies for w in s.silent)),
    )  # fmt: skip


def _tail_up(vehicle: Vehicle, fine: bool, stopped: Stopped) -> list[GapStudy]:
    """The same once more with the gearbox tail as far up as it may come, for what goes along with it."""
    power, more = vehicle.powertrain, vehicle.clearances.tail_up_mm
    if power is None or not more:
        return []
    raised = with_changes(vehicle, powertrain=with_changes(power, tail_up_mm=power.tail_up_mm + more))

    def wants(a: Hard, b: Hard) -> bool:
        return any(p.body == "powertrain" or p.family == "shaft" for p in (a, b))

    found = []
    for axle in vehicle.axles:
        study = study_axle_gaps(raised, axle, fine, stopped=stopped, wants=wants)
        # What touches with the tail up only is no matter of how it was measured.
        near = tuple(replace(g, tail_up=True) for g in (*study.gaps, *study.touching))
        found.append(replace(study, gaps=near, touching=()))
    return found


def _between(vehicle: Vehicle, one: Axle, two: Axle) -> GapStudy:
    """Parts of one axle against those of another, over the travel and steer of both."""
    nothing = GapStudy((), (), 0, 0, 0, True)
    try:
        first, second = (grid_states(vehicle, a, *_BETWEEN) for a in (one, two))
    except StanceError:
        return nothing
    parts = hard_parts(vehicle)
    ours = [(p, core) for p in parts if p.axle == one.key for core in p.cores]
    theirs = [(p, core) for p in parts if p.axle == two.key for core in p.cores]
    shapes = [_wide(first.shape(core, p.body), 0) for p, core in ours]
    shapes += [_wide(second.shape(core, p.body), 2) for p, core in theirs]
    if not ours or not theirs:
        return nothing
    low, high = (np.array(v) for v in zip(*(s.swept() for s in shapes), strict=True))
    apart = boxes_apart(low, high)
    couples: dict[tuple[str, str], int] = {}
    pairs, group, named = [], [], []
    for i, (a, _) in enumerate(ours):
        for j, (b, _) in enumerate(theirs, start=len(ours)):
            if apart[i, j] < FAR_MM and a.body != b.body and not put_together(vehicle, a, b):
                key = (a.name, b.name)
                if key not in couples:
                    couples[key] = len(couples)
                    named.append((a, b))
                pairs.append((i, j))
                group.append(couples[key])
    if not pairs:
        return nothing
    grid = (*first.grid, *second.grid)
    search = Closest(shapes, pairs, group, grid, FAR_MM)
    home = tuple(k for s in (first, second) for k in _home(s))
    search.measure([(p, home) for p in range(len(pairs))])
    at_ride = np.zeros(grid, dtype=bool)
    at_ride[home] = True
    ride = search.run(at_ride)

    def gap(g: int, least: Least) -> Gap:
        t, s, u, v = least.state
        a, b = named[g]
        other = (two.key, float(second.travel[u][0]), float(second.travel[u][1]), float(second.steer[v]))
        sure = float(np.hypot(
            a.sure_at(first.back(a.body, least.first, (t, s))), b.sure_at(second.back(b.body, least.second, (u, v)))
        ))  # fmt: skip
        return Gap(
            a, b, least.gap_mm, sure, wanted_between(vehicle, a, b), one.key, float(first.travel[t][0]),
            float(first.travel[t][1]), float(first.steer[s]), least.first, least.second, ride[g].gap_mm, other=other,
        )  # fmt: skip

    touching = {g for g, v in ride.items() if v.whole and v.gap_mm < 0.0 and gap(g, v).sure_mm >= -v.gap_mm}
    search.leave(touching)
    allowed = first.allowed[:, None, None, None] & second.allowed[None, None, :, None]
    best = search.run(allowed)

    near = tuple(gap(g, v) for g, v in best.items() if v.whole and v.gap_mm < FAR_MM)
    touch = tuple(gap(g, ride[g]) for g in touching)
    return GapStudy(near, touch, 0, len(named), int(np.prod(grid)), True)


def _home(states: AxleStates) -> tuple[int, int]:
    return int(np.abs(states.travel).sum(axis=1).argmin()), int(np.abs(states.steer).argmin())


def _wide(shape: Moving, at: int) -> Moving:
    """A shape over the grids of two axles: its own is the first of them, or the second."""
    grid = (1, 1, *shape.grid) if at else (*shape.grid, 1, 1)
    return Moving(shape.core, shape.points.reshape(-1, *grid, 3), shape.axis.reshape(*grid, 3))


# --- ground


def ground_gaps(vehicle: Vehicle) -> tuple[Gap, ...]:
    """How far everything but the tires is above level ground with the whole car on its stops, or at full bump.

    What rides on an axle is never nearer to the ground than it is at ride height: its tires carry it.
    """
    try:
        down = {axle.key: _on_stops(vehicle, axle) for axle in vehicle.axles}
    except StanceError:
        return ()
    rises = [(-axle.behind_front_mm, float(down[axle.key].travel[0, 0])) for axle in vehicle.axles]
    found = []
    for part in hard_parts(vehicle):
        if part.family == "tires" or part.body.endswith("knuckle"):
            continue
        on_axle = any(part.body == f"{a.key} axle" for a in vehicle.axles)
        best: tuple[float, Array] | None = None
        for core in part.cores:
            gap, place = _over_ground(core, part, down, rises, on_axle)
            if best is None or gap < best[0]:
                best = (gap, place)
        if best is None or best[0] > 4 * FAR_MM:
            continue
        ride = min(lowest(core, core.points, core.axis)[0] for core in part.cores)
        axle = part.axle or vehicle.axles[-1].key
        travel = 0.0 if on_axle else float(down[axle].travel[0, 0])
        below = best[1] - np.array([0.0, 0.0, best[0]])
        wanted = next(
            (w.gap_mm for w in vehicle.clearances.wanted if {w.a, w.b} == {part.name, "ground"}), GROUND_WANTED_MM
        )
        found.append(Gap(part, GROUND, best[0], float(np.hypot(part.sure_at(best[1]), 6.35)), wanted, axle, travel,
                         travel, 0.0, best[1], below, ride))  # fmt: skip
    return tuple(found)


def _on_stops(vehicle: Vehicle, axle: Axle) -> AxleStates:
    """An axle as far up as both its wheels come."""
    steps = np.linspace(0.0, axle.bump_mm, 41)
    states = posture_states(vehicle, axle, np.stack((steps, steps, np.zeros(41)), axis=-1))
    last = int(np.flatnonzero(states.allowed)[-1]) if states.allowed.any() else 0
    return posture_states(vehicle, axle, np.array([(steps[last], steps[last], 0.0)]))


def lowest(core: Core, points: Array, axis: Array) -> tuple[float, Array]:
    """How high the lowest place of a shape is, mm, and where."""
    dip = core.ball_mm + core.disc_mm * float(np.sqrt(max(1.0 - axis[2] ** 2, 0.0)))
    k = int(points[:, 2].argmin())
    return float(points[k, 2]) - dip, points[k] - np.array([0.0, 0.0, dip])


def _over_ground(
    core: Core, part: Hard, down: dict[str, AxleStates], rises: list[tuple[float, float]], on_axle: bool
) -> tuple[float, Array]:
    """How far one piece is above the ground under the tires, mm, and its lowest place."""
    if on_axle:
        return lowest(core, core.points, core.axis)
    states = down.get(part.axle) or next(iter(down.values()))
    shape = states.shape(core, part.body)
    points, axis = shape.at((0, 0))
    # The ground comes up under each axle by its travel; between and beyond them it goes on straight.
    slope = np.polyfit([x for x, _ in rises], [up for _, up in rises], 1)
    here = np.polyval(slope, points[:, 0])
    level = points - np.stack((np.zeros(len(points)), np.zeros(len(points)), here), axis=-1)
    return lowest(core, level, axis)
