"""What else can be asked of a layout than judged numbers: each read again another way."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from even_stance.errors import InputError
from even_stance.judgement.search.limits import Freedom
from even_stance.judgement.search.solvefor import solve_for
from even_stance.judgement.search.wishes import values_now, wishes_of
from even_stance.study.answers import study_postures
from even_stance.vehicle.edits import move_by, set_axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, mount_of
from tests.conftest import starter

FRAME, AXLE = Spot("rear", "Upper left", "chassis"), Spot("rear", "Upper left", "axle")
LOW_FRAME, LOW_AXLE = Spot("rear", "Lower left", "chassis"), Spot("rear", "Lower left", "axle")


def _now(job: Job, *keys: str) -> list[float]:
    vehicle, axle = job.vehicle, job.vehicle.axle("rear")
    every = wishes_of(vehicle, axle)
    return list(values_now(vehicle, axle, [every[k] for k in keys]).values())


def _crossing(job: Job) -> tuple[float, float]:
    """Where upper and lower cross in side view. As an axle goes straight up by both wheels, nothing of it goes sideways
    (the links are mirror images), so each end moves square to its link as seen from the side: exact at ride height.
    """
    ends = [np.array(mount_of(job, s).at.xyz)[[0, 2]] for s in (FRAME, AXLE, LOW_FRAME, LOW_AXLE)]
    along = np.stack((ends[1] - ends[0], ends[2] - ends[3]), axis=1)
    share = np.linalg.solve(along, ends[2] - ends[0])
    x, z = ends[0] + share[0] * (ends[1] - ends[0])
    return float(x), float(z)


def test_an_instant_center_asked_for_is_where_the_links_then_cross() -> None:
    job = starter("trail")
    assert _now(job, "ic_x_mm", "ic_z_mm") == pytest.approx(_crossing(job), abs=0.01)
    wanted = {"ic_x_mm": -900.0, "ic_z_mm": 640.0}
    free = [Freedom(FRAME, 2, -150.0, 150.0), Freedom(LOW_FRAME, 2, -150.0, 150.0)]
    solved = solve_for(job, "rear", wanted, free)
    assert solved.reached, solved.words
    assert _crossing(solved.edit.apply(job)) == pytest.approx((-900.0, 640.0), abs=1.0)


def test_a_link_length_and_the_ratio_of_lengths_are_had_as_taped_from_pin_to_pin() -> None:
    job = starter("trail")

    def tape(job: Job, a: Spot, b: Spot) -> float:
        return float(np.linalg.norm(np.subtract(mount_of(job, a).at.xyz, mount_of(job, b).at.xyz)))

    assert _now(job, "length:Upper left") == pytest.approx([tape(job, FRAME, AXLE)], abs=1e-6)
    lower = tape(job, LOW_FRAME, LOW_AXLE)
    free = [Freedom(FRAME, 0, -250.0, 250.0), Freedom(LOW_FRAME, 0, -250.0, 250.0)]
    solved = solve_for(job, "rear", {"length:Lower left": lower + 60.0, "length_ratio_pct": 72.0}, free)
    assert solved.reached, solved.words
    after = solved.edit.apply(job)
    assert tape(after, LOW_FRAME, LOW_AXLE) == pytest.approx(lower + 60.0, abs=1.0)
    assert tape(after, FRAME, AXLE) / tape(after, LOW_FRAME, LOW_AXLE) == pytest.approx(0.72, abs=0.006)


def test_flatness_asked_for_holds_at_every_height_between() -> None:
    job = set_axle("rear", "Travel", bump_mm=90.0, droop_mm=90.0).apply(starter("trail"))
    key = "anti_squat_axle_pct"
    (before,) = _now(job, f"flat:{key}")
    limit = 0.6 * before
    free = [Freedom(s, a, -160.0, 160.0) for s in (FRAME, LOW_FRAME) for a in (0, 2)]
    solved = solve_for(job, "rear", {f"flat:{key}": limit}, free)
    assert solved.reached, solved.words
    after = solved.edit.apply(job)
    heights = np.linspace(-90.0, 90.0, 61)
    values = study_postures(after.vehicle, after.vehicle.axle("rear"), heights, heights).values[key]
    assert np.abs(values - values[30]).max() <= limit + 0.5
    # It is a most: what is flat already is left alone.
    again = solve_for(after, "rear", {f"flat:{key}": 2.0 * limit}, free)
    assert again.reached
    assert again.moves == ()


def test_joint_swing_is_that_of_the_worst_joint_crossed_up_too() -> None:
    """Each joint by SciPy's rotations: a bolt and a link stay square to each other where no joint swings."""
    job = starter("trail")
    axle = job.vehicle.axle("rear")
    (told,) = _now(job, "joint_swing_deg")
    up, down = axle.bump_mm, -axle.droop_mm
    found = study_postures(job.vehicle, axle, np.array([up, down, up, down]), np.array([up, down, down, up]))
    worst = 0.0
    for pose, ends, frames in zip(range(4), found.rod_ends, found.chassis_ends, strict=True):
        turned = Rotation.from_matrix(found.pose.rotation[pose])
        for first, second in zip(frames, ends, strict=True):
            along = (second - first) / np.linalg.norm(second - first)
            rest = int(np.argmin(np.linalg.norm(frames - first, axis=1)))
            start = found.linkage.axle[rest] - found.linkage.chassis[rest]
            level = np.cross([0.0, 0.0, 1.0], start)
            for bolt in (level / np.linalg.norm(level), turned.apply(level / np.linalg.norm(level))):
                worst = max(worst, abs(90.0 - np.degrees(np.arccos(along @ bolt))))
    # Twist of the rod, shared between its ends, comes on top of the plain swing.
    assert worst - 1e-6 <= told <= worst + 6.0
    limit = told - 0.15
    free = [Freedom(FRAME, 0, 0.0, 300.0), Freedom(LOW_FRAME, 0, 0.0, 300.0)]
    solved = solve_for(job, "rear", {"joint_swing_deg": limit}, free, clear_of_frame=False)
    assert solved.reached, solved.words
    assert _now(solved.edit.apply(job), "joint_swing_deg")[0] <= limit + 0.06


def test_what_cannot_be_had_is_said_with_how_near_it_comes() -> None:
    job = starter("trail")
    solved = solve_for(job, "rear", {"length:Upper left": 1500.0}, [Freedom(FRAME, 2, -20.0, 20.0)])
    assert not solved.reached
    assert "length of upper left comes to" in solved.words
    assert "was asked" in solved.words
    with pytest.raises(InputError, match="rear axle has no length:Tail"):
        solve_for(job, "rear", {"length:Tail": 500.0}, [Freedom(FRAME, 2, -20.0, 20.0)])
    assert move_by(FRAME, 0.0, 0.0, 1.0).apply(job) != job
