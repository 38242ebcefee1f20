"""What may be asked of a layout: judged numbers, where the links meet, lengths, flatness over travel, joint swing."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from even_stance.errors import InputError
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import TITLES, band_words, format_value
from even_stance.mechanics.vectors import Array, norm
from even_stance.study.answers import Answers, posture_keys, study_postures
from even_stance.study.figures import WORST, triangulation_pairs
from even_stance.study.model import Layout, layout_of, linkage_from, mount_points, swing_rods
from even_stance.study.sensitivity import triangulation
from even_stance.units import System
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.job import Band

_BETWEEN = 9  # postures from droop to bump, for what is asked over travel
_ENDS, _OVER = slice(1, 3), slice(1, 3 + _BETWEEN)
# What counts as one step off, by the unit: percent, mm, degrees.
STEPS = {"pct": 5.0, "mm": 10.0, "deg": 0.5}


@dataclass(frozen=True, eq=False)
class Tried:
    """Layouts of one axle that are tried at once.

    Attributes:
        axle, layout: what they are layouts of; points: all mounts of each, mm, shape (variants, m, 3).
        answers: theirs at ride height, full bump, full droop, between those, and crossed up, as far as was asked for;
            arrays of shape (variants, postures).
    """

    axle: Axle
    layout: Layout
    points: Array
    answers: Answers


@dataclass(frozen=True)
class Wish:
    """Something that can be asked for.

    Attributes:
        key: its name; title: what people call it; unit: "mm", "deg" or "pct".
        read: its value for layouts that were tried, shape (variants,)
        reach: how far the wheels go for it: "ride", "ends" of travel, "travel" or "crossed" up as well.
        at_most: what is typed is the most it may be, not what it should be.
    """

    key: str
    title: str
    unit: str
    read: Callable[[Tried], Array] = field(compare=False)
    reach: str = "ride"
    at_most: bool = False

    @property
    def step(self) -> float:
        """What counts as one step off it."""
        return STEPS[self.unit]

    def band_words(self, band: Band, system: System) -> str:
        """A band of it in words."""
        return band_words(f"_{self.unit}", band, system)

    def reading(self, value: float, system: System) -> str:
        """A value of it as it is read, with its unit."""
        return format_value(f"_{self.unit}", value, system)


def _of_key(key: str, tried: Tried) -> Array:
    found: Array = tried.answers.values[key][:, 0]
    return found


def _worst(key: str, tried: Tried) -> Array:
    found: Array = np.abs(tried.answers.values[key][:, _ENDS]).max(axis=1)
    return found


def _spread(pairs: tuple[tuple[int, int], ...], tried: Tried) -> Array:
    return np.asarray(triangulation(tried.layout, tried.points, pairs))


def _uneven(key: str, tried: Tried) -> Array:
    values = tried.answers.values[key]
    found: Array = np.abs(values[:, _OVER] - values[:, :1]).max(axis=1)
    return found


def _lengths(tried: Tried) -> Array:
    """Pin to pin, mm, shape (variants, n)."""
    return norm(tried.answers.rod_ends[:, 0] - tried.answers.chassis_ends[:, 0])


def _length(rod: int, tried: Tried) -> Array:
    found: Array = _lengths(tried)[:, rod]
    return found


def _ratio(uppers: list[int], lowers: list[int], tried: Tried) -> Array:
    lengths = _lengths(tried)
    found: Array = 100.0 * lengths[:, uppers].mean(axis=1) / lengths[:, lowers].mean(axis=1)
    return found


def _swing(rods: list[int], tried: Tried) -> Array:
    found: Array = tried.answers.needed_misalignment_deg[:, :, rods].max(axis=(1, 2, 3))
    return found


def wishes_of(vehicle: Vehicle, axle: Axle) -> dict[str, Wish]:
    """Everything that can be asked of an axle's layout, by key; the judged numbers first.

    Raises:
        LayoutError: the members do not hold the axle.
    """
    there = study_postures(vehicle, axle, np.zeros(1), np.zeros(1))
    found: list[Wish] = []
    pairs = triangulation_pairs(axle)
    # The same turn of the axle is asked for as what it matters to.
    turning = {"pinion_change_deg": axle.driven, "caster_change_deg": axle.steered}
    for key, standard in STANDARDS.items():
        unit = key.rsplit("_", 1)[-1]
        if not standard.solvable:
            continue
        if key == "triangulation_deg" and pairs is not None:
            found.append(Wish(key, standard.title, unit, partial(_spread, pairs)))
        elif key in WORST and WORST[key] in there.values and turning.get(key, True):
            found.append(Wish(key, standard.title, unit, partial(_worst, WORST[key]), "ends"))
        elif key in there.values:
            found.append(Wish(key, standard.title, unit, partial(_of_key, key)))
    found += _of_links(there, axle)
    found += [
        Wish(
            f"flat:{k}",
            f"Most change of {TITLES[k].lower()}",
            k.rsplit("_", 1)[-1],
            partial(_uneven, k),
            "travel",
            True,
        )
        for k in posture_keys(vehicle)
        if k in there.values
    ]
    return {w.key: w for w in found}


def _of_links(there: Answers, axle: Axle) -> list[Wish]:
    """What can be asked of the links: where they meet, how long they are, how far their joints swing."""
    rods = [(i, r.name, there.layout.mounts[r.first].member) for i, r in swing_rods(there.layout)]
    rods = [(i, name, member) for i, name, member in rods if member.kind == "rod"]
    if not rods:
        return []
    found = [
        Wish("ic_x_mm", "Instant center, ahead", "mm", partial(_of_key, "ic_x_mm")),
        Wish("ic_z_mm", "Instant center, height", "mm", partial(_of_key, "ic_z_mm")),
    ]
    found += [Wish(f"length:{name}", f"Length of {name.lower()}", "mm", partial(_length, i)) for i, name, _ in rods]
    uppers, lowers = ([i for i, _, m in rods if m.role == role] for role in ("upper", "lower"))
    if uppers and lowers:
        found.append(Wish("length_ratio_pct", "Upper to lower length", "pct",
                          partial(_ratio, uppers, lowers)))  # fmt: skip
    swinging = [i for i, _ in swing_rods(there.layout)]
    swing = partial(_swing, swinging)
    return [*found, Wish("joint_swing_deg", "Most joint swing", "deg", swing, "crossed", True)]


def wish_of(vehicle: Vehicle, axle: Axle, key: str, where: str = "Solve") -> Wish:
    """One thing that can be asked for.

    Raises:
        InputError: this axle has no such thing.
    """
    found = wishes_of(vehicle, axle)
    if key not in found:
        title = TITLES[key].lower() if key in TITLES else key
        raise InputError(where, f"the {axle.key} axle has no {title}.", f"Ask for one of {', '.join(found)}.")
    return found[key]


def try_layouts(vehicle: Vehicle, axle: Axle, points: Array, wishes: Iterable[Wish]) -> Tried:
    """Solve layouts of an axle at all postures that the wishes reach to.

    Args:
        vehicle, axle: what they are layouts of; points: all mounts of each, mm, shape (variants, m, 3).
        wishes: what will be read of them.
    """
    reach = {w.reach for w in wishes}
    bump, droop = axle.bump_mm, -axle.droop_mm
    left, right = [0.0], [0.0]
    if reach - {"ride"}:
        left, right = [0.0, bump, droop], [0.0, bump, droop]
    if reach & {"travel", "crossed"}:
        between = np.linspace(droop, bump, _BETWEEN).tolist()
        left, right = left + between, right + between
    if "crossed" in reach:
        left, right = [*left, bump, droop], [*right, droop, bump]
    layout = layout_of(axle)
    linkage = linkage_from(axle, layout, points[:, None])
    answers = study_postures(vehicle, axle, np.array(left), np.array(right), linkage)
    return Tried(axle, layout, points, answers)


def values_now(vehicle: Vehicle, axle: Axle, wishes: Sequence[Wish]) -> dict[str, float]:
    """What they come to as the axle is laid out now, by key."""
    tried = try_layouts(vehicle, axle, mount_points(axle)[None], wishes)
    return {w.key: float(w.read(tried)[0]) for w in wishes}
