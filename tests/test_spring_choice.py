"""Choosing springs: leaves, air, suggestions, coils to buy, maps, holes and places, bars for a share, loads."""

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.interpolate import CubicHermiteSpline

from even_stance.errors import InputError
from even_stance.judgement.catalog.layouts import BaseKey
from even_stance.judgement.explain import explain
from even_stance.judgement.search.choosing import Wish, choose
from even_stance.judgement.search.springfinder import solve_mount, spring_holes
from even_stance.judgement.search.suggestions import advise
from even_stance.judgement.springrows import (
    air_rows,
    bar_for_share,
    jack_rate,
    leaf_rows,
    roll_rows,
    stroke_rows,
    wire_rate,
)
from even_stance.judgement.verdicts import judge
from even_stance.mechanics.coils import leaf_pack_rate
from even_stance.mechanics.crossings import crossings
from even_stance.mechanics.leaf import main_leaf_eye
from even_stance.mechanics.leaning import heave_rate, roll_stiffness
from even_stance.study.answers import answers_at
from even_stance.study.figures import study_axle
from even_stance.study.leaves import leaves_over_travel
from even_stance.study.loads import study_loads
from even_stance.study.mountmap import mount_map
from even_stance.study.ride import axle_ride, car_ride
from even_stance.study.ridefigures import ride_figures
from even_stance.study.springs import leaf_hold, study_springs
from even_stance.study.springstops import stops_of
from even_stance.study.standing import stand
from even_stance.vehicle.edits import (
    change_spring,
    move_by,
    set_axle,
    set_cargo,
    set_holes,
    set_members,
    two_coils,
    with_changes,
)
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import LeafPack
from even_stance.vehicle.spots import Spot, point_of
from even_stance.vehicle.springs import Cargo, CoilOver, SwayBar
from tests.validation.test_springs import sprung

BOTH = ("front", "rear")


@pytest.fixture
def car() -> Job:
    """A weighed car on coil-overs with stops, straps and a bar at both ends."""
    return sprung("three_link", "coil_over", "bump_stop", "strap", "sway_bar", axles=BOTH)


def test_leaves_count_by_their_pack_and_hold_what_is_left(car: Job) -> None:
    """A leaf's rate by its leaves is SAE's sum; what leaves carry at ride height is the weight less what others do."""
    job = sprung("leaf")
    axle = job.vehicle.axle("rear")
    assert leaf_hold(job.vehicle, axle).sum() == pytest.approx((axle.load_kg - axle.unsprung_kg) * 9.80665)
    pack = LeafPack(leaves=6, thick_mm=6.5)
    job = set_members("rear", ["Leaf left", "Leaf right"], "Leaves", pack=pack, rate_n_mm=40.0).apply(job)
    rows = leaf_rows(job, job.vehicle.axle("rear"))
    assert any("by its leaves" in title for title, _ in rows)
    more, less = (leaf_pack_rate((650.0, 650.0), clamp, 6, 63.5, 6.5, 1.1) for clamp in (200.0, 100.0))
    assert more / less == pytest.approx((1200.0 / 1100.0) ** 3)
    ride = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert ride is not None
    assert ride.frequency_hz is not None
    assert 0.5 < ride.frequency_hz < 4.0


def test_three_heights_of_air() -> None:
    """Driven and raised take pressure, the lowest stands on its inner stops."""
    job = sprung("three_link", "air")
    heights = with_changes(job.measuring.heights, air=True, raise_mm=40.0, lower_mm=106.0)
    job = with_changes(job, measuring=with_changes(job.measuring, heights=heights))
    rows = dict(air_rows(job, job.vehicle.axle("rear")))
    assert set(rows) == {"Driven height", "Raised height", "Lowest height"}
    assert "internal stop" in rows["Lowest height"]
    assert "psi" in rows["Driven height"]


def test_suggestions_bring_a_number_in_and_explanations_name_mounts(car: Job) -> None:
    """A rear axle that sits low: collars come first; what moves the motion ratio is a mount of the spring."""
    job = set_cargo("Tools", (Cargo(name="tools", mass_kg=160.0, behind_front_mm=3000.0),)).apply(car)
    study = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    verdict = next(v for v in judge(job, study) if v.figure.key == "sits_off_mm")
    assert verdict.state == "low"
    advice = advise(job, study, "sits_off_mm")
    assert advice.suggestions
    assert advice.suggestions[0].brings_in
    assert "collar" in advice.suggestions[0].words
    after = advice.suggestions[0].edit.apply(job)
    again = study_axle(after.vehicle, after.vehicle.axle("rear"), 0.0, 0.0, {})
    told = advice.suggestions[0].change.after
    now = next(f for f in ride_figures(after.vehicle, again, {}) if f.key == "sits_off_mm")
    assert now.value == pytest.approx(told)
    why = explain(job, study, "motion_ratio_x")
    assert why is not None
    assert any("Coil-over" in m.words for m in why.movers)
    assert why.formula.source


def test_uncertainty_is_what_a_moved_mount_does(car: Job) -> None:
    """The +/- of a stroke is that of its two mounts along the spring, and of the tape on the shock."""
    study = study_axle(car.vehicle, car.vehicle.axle("rear"), 0.0, 0.0, {})
    figure = next(f for f in ride_figures(car.vehicle, study) if f.key == "stroke_bump_mm")
    name = figure.note.split(",")[0]
    part = car.vehicle.axle("rear").part(name)
    expected = np.sqrt(part.mounts["top"].at.sure ** 2 + part.mounts["bottom"].at.sure ** 2 + 1.5875**2)
    assert figure.uncertainty == pytest.approx(expected, rel=0.02)


def test_coils_to_buy_are_near_the_wish(car: Job) -> None:
    """In steps of 5 N/mm and 25 mm: the best is near the wish, and put on gives the frequency that was promised."""
    axle = car.vehicle.axle("rear")
    choices = choose(car, axle, "Coil-over left", Wish(1.8, 5.0, 25.0))
    best = choices[0]
    assert abs(best.frequency_hz - 1.8) < 0.15
    for choice in choices:
        assert choice.rate_n_mm % 5.0 == pytest.approx(0.0, abs=1e-9)
        assert choice.free_mm % 25.0 == pytest.approx(0.0, abs=1e-9)
    after = best.edit.apply(car)
    ride = axle_ride(after.vehicle, after.vehicle.axle("rear"))
    assert ride is not None
    assert ride.frequency_hz == pytest.approx(best.frequency_hz, rel=0.03)
    assert -sum(stand(after.vehicle).travel("rear")) / 2 == pytest.approx(best.off_mm, abs=3.0)
    with pytest.raises(InputError, match="more than nothing"):
        choose(car, axle, "Coil-over left", Wish(1.8, 0.0, 25.0))
    with pytest.raises(InputError, match="no coil"):
        choose(car, axle, "Strap left", Wish(1.8, 5.0, 25.0))


def test_the_map_says_what_a_moved_mount_does(car: Job) -> None:
    """At a place of the map, mounts really moved there give what it says."""
    axle = car.vehicle.axle("rear")
    found = mount_map(car.vehicle, axle, ("Coil-over left", "Coil-over right"))
    assert found is not None
    i, j = 9, 3
    lower, upper = float(found.lower_mm[j]), float(found.upper_mm[i])
    job = car
    for end, out in (("bottom", lower), ("top", upper)):
        spot = Spot("rear", "Coil-over left", end)
        job = move_by(spot, 0.0, out - point_of(job, spot).y, 0.0).apply(job)
    ride = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert ride is not None
    assert found.ratio[i, j] == pytest.approx(ride.motion_ratios[0], rel=1e-9)
    assert found.stiffness[i, j] == pytest.approx(ride.stiffness, rel=1e-6)
    assert found.at(lower, upper)[0] == pytest.approx(float(found.ratio[i, j]))


def test_loads_use_the_springs_where_they_are(car: Job) -> None:
    """Leaned coil-overs push along themselves and the links hold the rest; a corner moves what roll stiffness says."""
    axle = car.vehicle.axle("rear")
    answers = answers_at(car.vehicle, axle, 0.0, 0.0)
    standing = study_loads(car.vehicle, answers, car.loads, "standing")
    assert standing.at_mounts
    part = axle.part("Coil-over left")
    a, b = (np.array(part.mounts[e].at.xyz) for e in ("top", "bottom"))
    upright = abs((a - b)[2]) / np.linalg.norm(a - b)
    carried = (axle.load_kg - axle.unsprung_kg) * 9.80665 / 2
    assert standing.springs[0] * upright == pytest.approx(carried, rel=0.05)
    corner = study_loads(car.vehicle, answers, car.loads, "cornering")
    assert "roll stiffness" in corner.words
    assert corner.springs[1] > standing.springs[1] > corner.springs[0]
    bare = set_axle("rear", "Bare", springs=()).apply(car)
    assert not study_loads(bare.vehicle, answers_at(bare.vehicle, bare.vehicle.axle("rear"), 0.0, 0.0), bare.loads,
                           "standing").at_mounts  # fmt: skip


def test_mounts_of_springs_are_points_like_all_others(car: Job) -> None:
    """Moved with their twin, drilled, measured on the sheet, and put back by undo."""
    spot = Spot("rear", "Coil-over left", "bottom")
    history = History(car)
    before = point_of(car, Spot("rear", "Coil-over right", "bottom"))
    assert history.do(move_by(spot, 0.0, -25.0, 0.0))
    assert point_of(history.job, Spot("rear", "Coil-over right", "bottom")).y == pytest.approx(before.y + 25.0)
    assert history.do(set_holes(spot, 3, 25.4))
    assert history.undo()
    assert history.undo()
    assert history.job == car
    rows = roll_rows(car)
    assert any(title.startswith("Rear axle, if its springs stood at the tires") for title, _ in rows)


def test_a_spring_on_a_link_goes_along_with_it() -> None:
    """Its lower end is as far from the link's both ends as ever, and its motion ratio about that share of the wheel's."""
    job = sprung("three_link", "coil_over")
    axle = job.vehicle.axle("rear")
    rod = next(m for m in axle.members if m.name == "Lower left")
    a, b = (np.array(m.at.xyz) for m in rod.mounts.values())
    where = a + 0.7 * (b - a)
    spot = Spot("rear", "Coil-over left", "bottom")
    at = point_of(job, spot)
    job = move_by(spot, where[0] - at.x, where[1] - at.y, where[2] - at.z).apply(job)
    for side in ("left", "right"):
        edit = change_spring("rear", f"Coil-over {side}", "On the link", both=False, on=f"Lower {side}")
        job = edit.apply(job)
    axle = job.vehicle.axle("rear")
    found = study_springs(job.vehicle, axle, answers_at(job.vehicle, axle, 0.0, 0.0)).run("Coil-over left")
    assert found is not None
    part = axle.part("Coil-over left")
    top = np.array(part.mounts["top"].at.xyz)
    upright = abs(((top - where) / np.linalg.norm(top - where))[2])
    assert float(found.motion_ratio[0]) == pytest.approx(0.7 * upright, abs=0.08)
    figures = {f.key: f for f in ride_figures(job.vehicle, study_axle(job.vehicle, axle, 0.0, 0.0, {}))}
    assert 0.0 < figures["motion_ratio_x"].uncertainty < 0.1


def test_holes_and_places_are_found(car: Job) -> None:
    """Of all holes of a bracket the best by all numbers comes first; a mount is found that gives a wanted ratio."""
    spot = Spot("rear", "Coil-over left", "bottom")
    with pytest.raises(InputError, match="no bracket"):
        spring_holes(car, "rear")
    job = set_holes(spot, 3, 25.4).apply(car)
    found = spring_holes(job, "rear")
    assert len(found) == 3
    assert [f.off for f in found] == sorted(f.off for f in found)
    after = found[-1].edit.apply(job)
    study = study_axle(after.vehicle, after.vehicle.axle("rear"), 0.0, 0.0, {})
    assert {f.key: f.value for f in ride_figures(after.vehicle, study, {})} == pytest.approx(found[-1].values)
    assert len(spring_holes(job, "rear", stopped=lambda: True)) == 0
    top = Spot("rear", "Coil-over left", "top")
    solved = solve_mount(car, top, "motion_ratio_x", 0.88, 200.0)
    assert solved.reached
    assert solved.value == pytest.approx(0.88, abs=0.01)
    moved = solved.edit.apply(car)
    ride = axle_ride(moved.vehicle, moved.vehicle.axle("rear"))
    assert ride is not None
    assert ride.motion_ratios[0] == pytest.approx(solved.value)
    assert not solve_mount(car, top, "motion_ratio_x", 0.2, 20.0).reached
    with pytest.raises(InputError, match="less than none"):
        solve_mount(car, top, "motion_ratio_x", 0.9, 0.0)


def test_crossings_are_those_of_scipys_cubics() -> None:
    """Roots of the same Hermite cubics by SciPy."""
    x = np.linspace(-90.0, 90.0, 31)
    y = 300.0 + 40.0 * np.sin(x / 17.0) - 1.1 * x
    slope = 40.0 / 17.0 * np.cos(x / 17.0) - 1.1
    for level in (260.0, 300.0, 330.0, 390.0, 900.0):
        theirs = CubicHermiteSpline(x, y - level, slope).roots(extrapolate=False)
        assert crossings(x, y - level, slope) == pytest.approx(np.sort(theirs), abs=1e-9)


def test_a_coil_is_rated_by_its_wire(car: Job) -> None:
    """Half an inch of wire, 4 in mean diameter, 8 coils that move: G d^4 / (8 D^3 n) by hand; a lacking figure is said."""
    job = wire_rate(car, "rear", "Coil-over left", 12.7, 101.6, 8.0).apply(car)
    part = job.vehicle.axle("rear").part("Coil-over right")
    assert isinstance(part, CoilOver)
    assert part.coil.rate_n_mm == pytest.approx(79_300.0 * 12.7**4 / (8.0 * 101.6**3 * 8.0))
    with pytest.raises(InputError, match="lacks a figure"):
        wire_rate(car, "rear", "Coil-over left", 0.0, 101.6, 8.0)


def test_a_main_leaf_keeps_its_length_and_its_shackle_follows() -> None:
    """At every seat the eye is a shackle away from its pivot, and the leaf as long along its bend as at ride height."""
    fixed, seat, eye, pivot = (np.array(p) for p in ((-660.0, 520.0), (0.0, 430.0), (660.0, 520.0), (640.0, 650.0)))
    seats = seat + np.stack((np.zeros(9), np.linspace(-60.0, 80.0, 9)), axis=-1)
    at = main_leaf_eye(fixed, seat, eye, pivot, seats)
    assert np.linalg.norm(at - pivot, axis=1) == pytest.approx(np.linalg.norm(eye - pivot))

    def along(s: np.ndarray, e: np.ndarray) -> float:  # type: ignore[type-arg]
        """Length of half the leaf: a parabola from the seat to the eye, its slope nil at the seat, integrated."""
        chord = (e - fixed) / np.linalg.norm(e - fixed)
        off = abs(chord[0] * (s - fixed)[1] - chord[1] * (s - fixed)[0])
        flat = np.sqrt(np.linalg.norm(e - s) ** 2 - off**2)
        return float(quad(lambda x: np.sqrt(1.0 + (2.0 * off * x / flat**2) ** 2), 0.0, flat)[0])

    for s, e in zip(seats, at, strict=True):
        assert along(s, e) == pytest.approx(along(seat, eye), abs=0.35)
    assert np.isnan(main_leaf_eye(fixed, seat, eye, pivot, seat[None] + np.array([[0.0, -400.0]]))).all()
    job = sprung("leaf")
    axle = set_axle("rear", "Far", droop_mm=260.0).apply(job).vehicle.axle("rear")
    told = leaves_over_travel(job.vehicle, axle)
    assert all(t.reaches_to is not None and t.reaches_to < -60.0 for t in told)


def test_rates_by_jack_and_bars_by_share(car: Job) -> None:
    """Scales over movement is the rate; the bar that is offered for a share gives it."""
    job = sprung("leaf")
    leaf = next(m for m in job.vehicle.axle("rear").members if m.kind == "leaf")
    after = jack_rate(job, "rear", leaf.name, 100.0, 25.0).apply(job)
    assert after.vehicle.axle("rear").member(leaf.name).rate_n_mm == pytest.approx(100.0 * 9.80665 / 25.0)  # type: ignore[union-attr]
    with pytest.raises(InputError, match="no difference"):
        jack_rate(job, "rear", leaf.name, 0.0, 25.0)
    words, thick = bar_for_share(car, car.vehicle.axle("front"), 66.0)
    assert "66 %" in words
    part = car.vehicle.axle("front").part("Sway bar")
    assert isinstance(part, SwayBar)
    ratio = thick / part.bar_mm
    fitted = change_spring("front", "Sway bar", "Bar", bar_mm=thick, arm_mm=part.arm_mm * ratio).apply(car)
    assert car_ride(fitted.vehicle).front_share_pct == pytest.approx(66.0, abs=0.05)
    with pytest.raises(InputError, match="between 0 and 100"):
        bar_for_share(car, car.vehicle.axle("front"), 130.0)
    run_ = stops_of(car.vehicle, car.vehicle.axle("rear"))
    assert run_ is not None
    rows = dict(stroke_rows(car, run_))
    assert "at the wheel" in rows["Coil-overs"]


@pytest.mark.parametrize(("base", "holds"), [("three_link", False), ("parallel", True), ("leaf", True)])
def test_bushings_hold_roll_and_no_heave(base: BaseKey, holds: bool) -> None:
    """What an over-constrained layout stores in its bushings counts in roll; going straight up and down it stores nothing.

    Of a leaf the rate of its own is not counted twice.
    """
    job = sprung(base, *(() if base == "leaf" else ("coil_over",)))
    ride = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert ride is not None
    springs = heave_rate(ride.springs.rates[0])
    assert abs(heave_rate(ride.bushings)) < 0.02 * springs
    assert (ride.bushing_stiffness > 0.01 * ride.stiffness) == holds
    assert ride.stiffness == pytest.approx(
        roll_stiffness(ride.springs.rates[0] + ride.bushings, ride.axle.track_mm), rel=1e-12
    )


def test_one_coil_becomes_two_and_one_again(car: Job) -> None:
    """As soft and as high as before; past the crossover stop the main coil alone is twice as stiff as that."""
    before = axle_ride(car.vehicle, car.vehicle.axle("rear"))
    job = two_coils("rear", "Coil-over left", two=True).apply(car)
    after = axle_ride(job.vehicle, job.vehicle.axle("rear"))
    assert before is not None
    assert after is not None
    assert after.stiffness == pytest.approx(before.stiffness)
    assert after.springs.push[0] == pytest.approx(before.springs.push[0])
    back = two_coils("rear", "Coil-over left", two=False).apply(job)
    one, other = (j.vehicle.axle("rear").part("Coil-over left") for j in (car, back))
    assert isinstance(one, CoilOver)
    assert isinstance(other, CoilOver)
    assert other.coil.rate_n_mm == pytest.approx(one.coil.rate_n_mm)
    assert other.coil.free_mm == pytest.approx(one.coil.free_mm)
    with pytest.raises(InputError, match="two coils"):
        choose(job, job.vehicle.axle("rear"), "Coil-over left", Wish(1.8, 5.0, 25.0))
    with pytest.raises(InputError, match="no coil-over"):
        two_coils("rear", "Strap left", two=True).apply(car)
