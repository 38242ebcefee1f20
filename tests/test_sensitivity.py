"""What moves an answer: slopes against finite differences taken through the app's own edits, one input at a time."""

import numpy as np
import pytest

from even_stance.mechanics.linkage import Linkage
from even_stance.study.answers import answers_at, study_postures
from even_stance.study.figures import figure_slopes, study_axle
from even_stance.study.model import linkage_of
from even_stance.vehicle.edits import move_by, set_axle, set_tire, set_vehicle, set_wheelbase
from even_stance.vehicle.job import Job
from tests.conftest import starter

POSTURE = ("anti_squat_axle_pct", "anti_lift_brake_pct", "roll_center_mm", "roll_steer_pct")
H = 0.05


def _value(job: Job, key: str, travel: float = 0.0) -> float:
    axle = job.vehicle.axle("rear")
    return answers_at(job.vehicle, axle, travel, travel).value(key)


@pytest.mark.parametrize("layout", ["triangulated", "three_link", "parallel"])
def test_point_slopes_equal_finite_differences(layout: str) -> None:
    job = starter("trail", layout)
    study = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0)
    slopes = figure_slopes(job.vehicle, study)
    scale = {k: float(np.abs(slopes.of[k]).max()) for k in POSTURE}
    for i, what in enumerate(slopes.inputs):
        if what.spot is None:
            continue
        step = [0.0, 0.0, 0.0]
        step[what.axis] = H
        forth = move_by(what.spot, *step, both_sides=False).apply(job)
        back = move_by(what.spot, *(-s for s in step), both_sides=False).apply(job)
        for key in POSTURE:
            exact = (_value(forth, key) - _value(back, key)) / (2 * H)
            assert slopes.of[key][i] == pytest.approx(exact, rel=1e-4, abs=1e-4 * scale[key]), f"{what.words} on {key}"


def _undriven_shaft(job: Job) -> Job:
    """Without its shaft measured: then the pinion is judged by how far it turns."""
    return set_axle("rear", "no output", output=None).apply(job)


def test_slopes_to_the_whole_car_equal_finite_differences(trail_job: Job) -> None:
    job = _undriven_shaft(trail_job)
    axle = job.vehicle.axle("rear")
    study = study_axle(job.vehicle, axle, 0.0, 0.0)
    slopes = figure_slopes(job.vehicle, study)
    at = {i.kind: n for n, i in enumerate(slopes.inputs) if i.kind not in ("point", "length")}
    h = job.vehicle.cg_height_mm

    def taller(d: float) -> Job:
        return set_vehicle("CG", cg_height_mm=h + d).apply(job)

    for key in ("anti_squat_axle_pct", "anti_lift_brake_pct"):
        exact = (_value(taller(H), key) - _value(taller(-H), key)) / (2 * H)
        assert slopes.of[key][at["cg"]] == pytest.approx(exact, rel=1e-5)
        long = [set_wheelbase(job.vehicle.wheelbase_mm + d).apply(job) for d in (H, -H)]
        exact = (_value(long[0], key) - _value(long[1], key)) / (2 * H)
        assert slopes.of[key][at["wheelbase"]] == pytest.approx(exact, rel=1e-4)
        # Higher on its springs: the wheels hang lower by as much, the sprung part of the CG is higher above ground.
        mass = sum(a.load_kg for a in job.vehicle.axles)
        sprung = 1.0 - sum(a.unsprung_kg for a in job.vehicle.axles) / mass
        assert 0.7 < sprung < 0.95
        higher = [_value(taller(d * sprung), key, -d) for d in (H, -H)]
        assert slopes.of[key][at["ride"]] == pytest.approx((higher[0] - higher[1]) / (2 * H), rel=1e-4)
    center = [_value(job, "roll_center_mm", -d) + d for d in (H, -H)]
    assert slopes.of["roll_center_mm"][at["ride"]] == pytest.approx((center[0] - center[1]) / (2 * H), rel=1e-4)
    # Over travel the axle starts from nothing at the new height and goes as far from there.
    for key, source in (("pinion_change_deg", "pitch_deg"), ("wheelbase_change_mm", "shift_x_mm")):
        figure = study.figure(key)
        assert figure is not None
        far = [_value(job, source, figure.left_mm - d) - _value(job, source, -d) for d in (0.0, H, -H)]
        assert abs(far[0]) == pytest.approx(figure.value, rel=1e-9)
        assert slopes.of[key][at["ride"]] == pytest.approx((abs(far[1]) - abs(far[2])) / (2 * H), rel=1e-4)


def test_slope_to_the_tires_is_that_of_a_car_on_larger_ones(trail_job: Job) -> None:
    """Larger tires raise the whole car: only the contact patch comes closer to nothing; every point goes up with it."""

    def on(d: float) -> Job:
        job = trail_job
        radius = job.vehicle.axle("rear").tire.loaded_radius_mm
        job = set_tire("rear", "tires", loaded_radius_mm=radius + d).apply(job)
        for m in job.vehicle.axle("rear").members:
            for end in m.mounts:
                spot = next(i.spot for i in slopes.inputs if i.spot and (i.spot.member, i.spot.end) == (m.name, end))
                job = move_by(spot, 0.0, 0.0, d, both_sides=False).apply(job)
        return set_vehicle("CG", cg_height_mm=job.vehicle.cg_height_mm + d).apply(job)

    slopes = figure_slopes(trail_job.vehicle, study_axle(trail_job.vehicle, trail_job.vehicle.axle("rear"), 0.0, 0.0))
    at = next(n for n, i in enumerate(slopes.inputs) if i.kind == "tire")
    for key in ("anti_squat_axle_pct", "roll_center_mm"):
        exact = (_value(on(H), key) - _value(on(-H), key)) / (2 * H)
        assert slopes.of[key][at] == pytest.approx(exact, rel=1e-4)


@pytest.mark.parametrize("layout", ["triangulated", "three_link"])
def test_slope_to_a_link_made_longer(layout: str) -> None:
    """Against the linkage solved anew with that rod longer."""
    job = starter("trail", layout)
    axle = job.vehicle.axle("rear")
    slopes = figure_slopes(job.vehicle, study_axle(job.vehicle, axle, 0.0, 0.0))
    linkage = linkage_of(axle)
    longer = [(n, i) for n, i in enumerate(slopes.inputs) if i.kind == "length"]
    assert len(longer) == len(axle.members)
    for rod, (n, _) in enumerate(longer):
        found = []
        for d in (H, -H):
            lengths = linkage.lengths.copy()
            lengths[rod] += d
            varied = Linkage(
                linkage.center, linkage.wheels, linkage.chassis, linkage.axle, lengths, linkage.guided, linkage.normals
            )
            found.append(study_postures(job.vehicle, axle, np.zeros(1), np.zeros(1), varied))
        for key in POSTURE:
            exact = (found[0].value(key) - found[1].value(key)) / (2 * H)
            assert slopes.of[key][n] == pytest.approx(exact, rel=1e-4, abs=1e-5), key


SWUNG = ("pinion_change_deg", "triangulation_deg", "swing_use_pct", "wheelbase_change_mm")


@pytest.mark.parametrize(
    ("shaft", "keys"),
    [(False, SWUNG), (True, ("pinion_joint_deg", "output_joint_deg", "spline_room_mm", "joint_limit_use_pct"))],
)
def test_worst_figures_have_slopes_too(trail_job: Job, shaft: bool, keys: tuple[str, ...]) -> None:
    """The change predicted for a quarter inch is the change that comes, to the curvature of a linkage."""
    trail_job = trail_job if shaft else _undriven_shaft(trail_job)
    study = study_axle(trail_job.vehicle, trail_job.vehicle.axle("rear"), 0.0, 0.0)
    slopes = figure_slopes(trail_job.vehicle, study)
    assert set(slopes.of) == {f.key for f in study.figures}
    for key in keys:
        (what, slope), *_ = [r for r in slopes.ranked(key, 30) if r[0].spot is not None]
        assert what.spot is not None
        step = [0.0, 0.0, 0.0]
        step[what.axis] = 2.0
        job = move_by(what.spot, *step, both_sides=False).apply(trail_job)
        after = study_axle(job.vehicle, job.vehicle.axle("rear"), 0.0, 0.0).figure(key)
        before = study.figure(key)
        assert after is not None
        assert before is not None
        assert after.value - before.value == pytest.approx(2.0 * slope, rel=0.05), key
        assert before.uncertainty == pytest.approx(slopes.uncertainty(key), rel=1e-9)
