"""Brackets of a starting linkage raised or lowered together until its numbers are in the bands of the job."""

import numpy as np

from even_stance.judgement.bands import band_edges, is_judged, judged_keys, wanted
from even_stance.judgement.catalog.layouts import snap
from even_stance.judgement.search.limits import Freedom, limits_of
from even_stance.mechanics.vectors import Array
from even_stance.study.answers import Answers, study_postures
from even_stance.study.figures import WORST, travel_keys, triangulation_pairs
from even_stance.study.model import Layout, layout_of, linkage_from, mount_points, swing_limits
from even_stance.study.sensitivity import triangulation
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import replace_members, with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import AnyMember
from even_stance.vehicle.spots import Spot

_ROUNDS = (1.0, 0.4, 0.15)  # how far to try, in parts of the room
_TRIES = 350
# How far brackets may go from where the layout draws them, mm down and up: on the frame, on the axle, and of a bar that
# goes with all of its ends.
_ROOM = {
    "chassis": (-7.0 * MM_PER_INCH, 6.0 * MM_PER_INCH), "axle": (-4.0 * MM_PER_INCH, 3.0 * MM_PER_INCH),
    "both": (-5.0 * MM_PER_INCH, 6.0 * MM_PER_INCH),
}  # fmt: skip
_LEAST_APART = 0.17  # of the tire: uppers less far above the lowers load the joints more (common practice: a quarter)
_LOWEST = 0.28  # of the tire, above the ground
_MARGIN = 0.06  # of the band: so that rounding to sixteenths and the next look stay inside


def fitted(job: Job, key: str) -> Job:
    """The job with the brackets of one axle raised or lowered, by whole sixteenths, to be in its bands.

    Mirrored mounts go together, as do all of a bar or watts link that holds the axle sideways, so that it stays level.
    """
    axle = job.vehicle.axle(key)
    layout, points = layout_of(axle), mount_points(axle)
    groups = _groups(layout)
    if not groups:
        return job
    rng, best = np.random.default_rng(1), np.zeros(len(groups))
    low, high = _room(job, key, layout, groups)
    moves = np.zeros((len(groups), len(points)))
    for n, (_, mounts) in enumerate(groups):
        moves[n, mounts] = 1.0
    for room in _ROUNDS:
        tried = best + room * rng.uniform(low, high, (_TRIES, len(groups)))
        tried = np.clip(np.round(tried / snap(MM_PER_INCH / 16)) * snap(MM_PER_INCH / 16), low, high)
        tried[0] = best
        moved = np.broadcast_to(points, (_TRIES, *points.shape)).copy()
        moved[..., 2] += tried @ moves
        cost = _cost(job, axle, layout, moved) + 0.02 * np.abs(tried / np.maximum(high - low, 1.0)).sum(axis=1)
        best = tried[int(np.argmin(cost))]
    return replace_members(key, _raised(axle, layout, best @ moves), "Fit to the bands").apply(job)


def _raised(axle: Axle, layout: Layout, rises: Array) -> tuple[AnyMember, ...]:
    """The members with every mount of the layout raised by some mm, all at once."""
    found = list[AnyMember]()
    for member in axle.members:
        changes = {}
        for place, rise in zip(layout.mounts, rises, strict=True):
            if place.member.name == member.name and rise:
                at = place.mount.at
                changes[place.end] = with_changes(place.mount, at=with_changes(at, z=at.z + float(rise)))
        found.append(with_changes(member, **changes))
    return tuple(found)


def _room(job: Job, key: str, layout: Layout, groups: list[tuple[str, list[int]]]) -> tuple[Array, Array]:
    """How far each group may go down and up, mm: clear of the floor and of the frame rails with all of its mounts."""
    low, high = [], []
    for body, mounts in groups:
        spots = [Spot(key, layout.mounts[i].member.name, layout.mounts[i].end) for i in mounts]
        # Leaves sit under the rails on hangers: those are where the rail is.
        clear = layout.mounts[mounts[0]].member.role != "spring"
        limits = limits_of(job, [Freedom(s, 2, *_ROOM[body]) for s in spots], clear)
        low.append(min(max(m.low for m in limits), 0.0))
        high.append(max(min(m.high for m in limits), 0.0))
    return np.array(low), np.array(high)


def _groups(layout: Layout) -> list[tuple[str, list[int]]]:
    """Mounts that go up and down together, with the body they are on."""
    found: dict[tuple[str, str], list[int]] = {}
    for i, place in enumerate(layout.mounts):
        role = place.member.role
        body = place.member.body(place.end)
        if role == "spring":
            # A leaf goes up and down on its eyes; its seat stays on the tube, its shackle goes with its eye.
            name = ("chassis", f"spring {'seat' if place.end == 'seat' else place.end.startswith('shackle')}")
            if place.end == "seat":
                continue
        elif role == "lateral":
            name = ("both", "lateral")
        elif body not in _ROOM:
            continue
        else:
            name = (body, role)
        found.setdefault(name, []).append(i)
    return [(body, mounts) for (body, _), mounts in found.items()]


def _cost(job: Job, axle: Axle, layout: Layout, points: Array) -> Array:
    """How far variants are out of the bands: the square of every miss in band widths, and what no car should have."""
    travel = np.array([0.0, axle.bump_mm, -axle.droop_mm, axle.bump_mm, -axle.droop_mm])
    other = np.array([0.0, axle.bump_mm, -axle.droop_mm, -axle.droop_mm, axle.bump_mm])
    answers = study_postures(job.vehicle, axle, travel, other, linkage_from(axle, layout, points[:, None]))
    total = np.zeros(len(points))
    for name in judged_keys():
        value = _value(axle, layout, answers, points, name) if is_judged(job, name) else None
        if value is None:
            continue
        band = wanted(job, name, axle.key).band
        edges = band_edges(band)
        inner = _MARGIN * (edges[1] - edges[0])
        low = -np.inf if band.low is None else band.low + inner
        high = np.inf if band.high is None else band.high - inner
        off = np.maximum(np.maximum(low - value, value - high), 0.0) / (edges[1] - edges[0])
        total += np.where(np.isfinite(off), off**2 + (off > 0.0), 1e6)
    return total + 10.0 * _unbuildable(axle, layout, points)


def _value(axle: Axle, layout: Layout, answers: Answers, points: Array, name: str) -> Array | None:
    """One number of all variants; None where the axle has no such number."""
    if name in WORST:
        if name not in travel_keys(axle):
            return None
        value: Array = np.abs(answers.values[WORST[name]][:, 1:3]).max(axis=1)
        return value
    if name == "triangulation_deg":
        pairs = triangulation_pairs(axle)
        return None if pairs is None else triangulation(layout, points, pairs)
    if name == "swing_use_pct":
        use = 100.0 * answers.needed_misalignment_deg / np.maximum(swing_limits(layout), 0.1)
        return use.reshape(len(points), -1).max(axis=1) if use.size else None
    return answers.values[name][:, 0] if name in answers.values else None


def _unbuildable(axle: Axle, layout: Layout, points: Array) -> Array:
    """How far brackets are too near the ground, or uppers too near the lowers at the axle, in tenths of the tire."""
    tire = axle.tire.free_diameter_mm
    off = np.maximum(_LOWEST * tire - points[..., 2].min(axis=-1), 0.0)
    on_axle = {
        role: [i for i, p in enumerate(layout.mounts) if p.member.role == role and p.member.body(p.end) == "axle"]
        for role in ("upper", "lower")
    }
    if on_axle["upper"] and on_axle["lower"]:
        apart = points[..., on_axle["upper"], 2].mean(axis=-1) - points[..., on_axle["lower"], 2].mean(axis=-1)
        off = off + np.maximum(_LEAST_APART * tire - apart, 0.0)
    total: Array = off / (0.1 * tire)
    return total
