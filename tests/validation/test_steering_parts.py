"""Tapers, threads, rams and sector shafts against handbook figures, tables and the loads MuJoCo finds."""

import numpy as np
import pytest

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.threadrows import THREADS, nearest_thread, taper_rows, thread_rows
from even_stance.mechanics.screws import end_play, pitch_diameter_tolerance, stress_area, turns_until_bound
from even_stance.mechanics.steerloads import arm_drop, flat_arm, off_axis, ram_push, sector_load
from even_stance.mechanics.tapers import included_angle, seat_left, sinks, size_at, wall_left
from even_stance.study.columnshaft import column_answers
from even_stance.study.steerfigures import lock_of, mechanism_of
from even_stance.study.steerloads import box_loads, joint_height, ram_loads
from even_stance.vehicle.edits import change_steering, made, move_by
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.steering import ColumnShaft, JointFit
from tests.validation.record import against

IN = 25.4


@pytest.mark.parametrize(
    ("per_foot", "degrees", "minutes"),
    [(0.5, 2, 23.2), (0.6, 2, 51.9), (1.0, 4, 46.3), (1.5, 7, 9.2), (3.5, 16, 35.6)],
)
def test_tapers_per_foot(per_foot: float, degrees: int, minutes: float) -> None:
    """Machinery's Handbook, tapers per foot and corresponding angles (from memory): included angle to 0.1 minute."""
    against(
        "published, from memory", "Machinery's Handbook, tapers per foot", f"{per_foot} in per foot, included angle",
        degrees + minutes / 60.0, np.degrees(included_angle(per_foot / 12.0)), "deg", 0.1 / 60.0,
    )  # fmt: skip


def test_a_stud_in_its_hole_by_hand() -> None:
    taper = 1.5 / 12.0
    assert size_at(20.0, taper, 24.0) == pytest.approx(17.0)
    against("worked by hand", "cones", "a hole 0.1 mm large sinks a 1.5 in per foot stud", 0.8, sinks(0.1, 0.0, taper),
            "mm", 1e-9)  # fmt: skip
    # Both mouths alike: the cones cross half way. With the old mouth smaller, more is left.
    assert seat_left(17.5, 17.5, taper, 25.0) == pytest.approx(0.5)
    more = seat_left(17.0, 17.5, taper, 25.0)
    z = 25.0 * (1.0 - more)  # from the old mouth
    assert 17.0 - taper * z == pytest.approx(17.5 - taper * (25.0 - z))
    assert seat_left(10.0, 17.5, taper, 25.0) == 1.0
    assert wall_left(38.0, 22.0) == 8.0


@pytest.mark.parametrize(
    ("name", "diameter", "per_inch", "area"),
    [("1/2-13 UNC", 0.5, 13, 0.1419), ("1/2-20 UNF", 0.5, 20, 0.1599), ("5/8-18 UNF", 0.625, 18, 0.256),
     ("3/4-16 UNF", 0.75, 16, 0.373), ("7/8-14 UNF", 0.875, 14, 0.509), ("1 1/4-12 UNF", 1.25, 12, 1.073)],
)  # fmt: skip
def test_stress_areas(name: str, diameter: float, per_inch: float, area: float) -> None:
    """ASME B1.1 tensile stress areas, square inches (table from memory)."""
    against("published, from memory", "ASME B1.1, tensile stress areas", name, area,
            stress_area(IN * diameter, IN / per_inch) / IN**2, "in2", 0.0006)  # fmt: skip


@pytest.mark.parametrize(("size", "pitch", "area"), [(12, 1.75, 84.3), (16, 1.5, 167.0), (20, 2.5, 245.0)])
def test_metric_stress_areas(size: int, pitch: float, area: float) -> None:
    """ISO 898-1 nominal stress areas, mm2 (table from memory)."""
    against("published, from memory", "ISO 898-1, nominal stress areas", f"M{size}x{pitch:g}", area,
            stress_area(size, pitch, True), "mm2", 0.5)  # fmt: skip


def test_class_2a_limits() -> None:
    """ASME B1.1, 1/2-13 UNC-2A and 2B (from memory): pitch diameters 0.4435 to 0.4485 and 0.4500 to 0.4565 in."""
    tolerance = pitch_diameter_tolerance(IN / 2, IN / 13) / IN
    for what, theirs, ours in (("2A tolerance", 0.0050, tolerance), ("2A allowance", 0.0015, 0.3 * tolerance),
                               ("2B tolerance", 0.0065, 1.3 * tolerance)):  # fmt: skip
        against("published, from memory", "ASME B1.1, limits of 1/2-13 UNC", what, theirs, ours, "in", 0.00006)
    loosest = 0.4565 - 0.4435
    assert end_play(IN / 2, IN / 13) / IN == pytest.approx(loosest * np.tan(np.radians(30.0)), rel=0.02)


def test_threads_that_start_by_hand_but_do_not_belong() -> None:
    """7/8-14 in 7/8-18, and 9/16-18 against M14x1.5, of which every shop has a story (common practice, no source)."""
    assert turns_until_bound(1.5, 1.5, 0.1) == float("inf")
    assert turns_until_bound(1.5, 1.4, 0.2) == pytest.approx(2.0)
    same, other = JointFit(), JointFit(nut_pitch_mm=IN / 18)
    assert dict(thread_rows(same, "us"))["They go together"] == "the same pitch"
    assert "binds after" in dict(thread_rows(other, "us"))["They go together"]
    near = JointFit(rod_mm=9 / 16 * IN, rod_pitch_mm=IN / 18, nut_mm=14.0, nut_pitch_mm=1.5, engaged_mm=14.0)
    said = dict(thread_rows(near, "metric"))
    assert said["Rod’s thread, nearest"] == "9/16-18"
    assert said["End’s thread, nearest"] == "M14x1.5"
    assert "binds after" in said["They go together"]
    assert "diameters are" in dict(thread_rows(JointFit(nut_mm=19.05), "us"))["They go together"]
    assert "too little" in dict(thread_rows(JointFit(engaged_mm=10.0), "us"))["Engaged"]
    assert nearest_thread(30.0, 3.5).startswith("none of the usual ones")
    assert len({name for name, _, _ in THREADS}) == len(THREADS)
    flipped = dict(taper_rows(JointFit(sleeve_mm=40.0, hole_mm=18.0), 25.4, "metric"))
    assert flipped["Flipped, with a sleeve: drill"] == "the sleeve is wider than the arm"
    assert "deeper" in flipped["The stud seats"]


def test_sector_load_is_r_cross_f() -> None:
    """The moment in three dimensions, components by NumPy's own cross; force times drop alone leaves out the arm's part
    and what the force along the shaft does."""
    arm, axis = np.array([120.0, 30.0, -90.0]), np.array([0.0, 0.0, 1.0])
    force = np.array([400.0, 5800.0, 700.0])
    torque, bending = sector_load(arm, axis, force)
    moment = np.cross(arm, force)
    assert torque == pytest.approx(abs(moment[2]))
    assert bending == pytest.approx(np.hypot(moment[0], moment[1]))
    assert bending != pytest.approx(np.hypot(force[0], force[1]) * 90.0, rel=0.02)
    assert flat_arm(arm, axis) == pytest.approx([120.0, 30.0, 0.0])
    assert arm_drop(arm, axis) == pytest.approx(90.0)
    assert np.degrees(off_axis(np.array([1.0, 1.0, 0.0]), np.array([1.0, 0.0, 0.0]))) == pytest.approx(45.0)


def test_ram_push_by_hand() -> None:
    """2 1/2 in bore, 1 1/2 in rod at 1500 psi: (4.909 - 1.767) in2, 4712 lb, either way."""
    ours = ram_push(2.5 * IN, 1.5 * IN, 1500 * 0.00689476) / 4.448222
    against(
        "worked by hand", "annulus", "push of a 2 1/2 in ram with a 1 1/2 in rod at 1500 psi", 4712.4, ours, "lb", 0.5
    )


def test_what_turns_a_wheel_is_the_push_by_virtual_work() -> None:
    """The link pulls at the knuckle with the push over the cosine of its angle; its moment about the kingpin by r x F is
    what virtual work says, at the worst of the lock and straight ahead."""
    job = demo_jobs()[2]
    axle = job.vehicle.axle("front")
    mechanism, loads = mechanism_of(axle), ram_loads(axle)
    assert mechanism is not None
    assert loads is not None
    low, high = lock_of(axle, mechanism).steer
    steer = np.linspace(low, high, 41)
    now = mechanism.at(steer, np.array(axle.center), np.eye(3))
    start, goal = mechanism.ends_now(now)["left link"]
    along = (goal - start) / np.linalg.norm(goal - start, axis=1)[:, None]
    pull = loads.push_n / np.abs(along[:, 1])[:, None] * along  # the push is the link's part along the rod
    k = mechanism.knuckles
    moment = np.abs(np.cross(goal - k.pivot[0], pull) @ k.axis[0]) / 1000.0
    assert loads.center_nm == pytest.approx(moment[20], rel=1e-4)
    assert loads.least_nm == pytest.approx(moment.min(), rel=1e-4)
    assert loads.least_nm < loads.center_nm
    assert loads.side_share == pytest.approx(np.abs(np.tan(np.arccos(np.abs(along[:, 1])))).max(), rel=1e-6)
    assert loads.used_mm[0] == pytest.approx(loads.used_mm[1], abs=1e-6)
    for end in ("ram_left", "ram_right"):
        job = move_by(Spot("front", "", end), 0.0, 18.0, 0.0, both_sides=False).apply(job)
    off = ram_loads(job.vehicle.axle("front"))
    assert off is not None
    assert off.off_center_mm == pytest.approx(18.0)
    assert off.links_mm[1] - off.links_mm[0] == pytest.approx(36.0, abs=0.5)


def test_the_best_joint_height_is_not_level_with_the_ram() -> None:
    """The kingpin's lean carries the joint up and down: found again by trying heights on the car itself."""
    job = demo_jobs()[2]
    for end in ("ram_left",):
        job = move_by(Spot("front", "", end), 0.0, 0.0, 30.0).apply(job)
    axle = job.vehicle.axle("front")
    found = joint_height(axle)
    assert found is not None
    assert found.now_deg > found.best_deg
    for up in (-15.0, -5.0, 5.0, 15.0):
        moved = move_by(Spot("front", "", "left_tie"), 0.0, 0.0, found.up_mm + up).apply(job).vehicle.axle("front")
        other = joint_height(moved)
        assert other is not None
        assert other.now_deg >= found.best_deg - 1e-9
        assert other.up_mm == pytest.approx(-up, abs=1.5)


def test_what_the_box_holds_is_in_balance() -> None:
    """A push at the tire times its radius, through knuckle and pitman levers taken from placed joints (r x F at either
    end of the drag link), gives the torque that virtual work gave."""
    job = change_steering("front", "Push", "box", push_n=2000.0).apply(demo_jobs()[0])
    axle = job.vehicle.axle("front")
    mechanism, loads = mechanism_of(axle), box_loads(axle)
    assert mechanism is not None
    assert mechanism.box is not None
    assert mechanism.box.knuckle is not None
    assert loads is not None
    now = mechanism.at(loads.steer, np.array(axle.center), np.eye(3))
    ball, end = mechanism.ends_now(now)["drag link"]
    along = (end - ball) / np.linalg.norm(end - ball, axis=1)[:, None]
    first, k, box = mechanism.box.knuckle, mechanism.knuckles, mechanism.box
    at_knuckle = np.abs(np.cross(end - k.pivot[first], along) @ k.axis[first])
    at_box = np.abs(np.cross(ball - box.shaft, along) @ box.axis)
    moment = 2000.0 * axle.tire.free_diameter_mm / 2.0
    own_side = moment / at_knuckle * at_box / 1000.0  # the push at the wheel the drag link holds itself
    assert np.all(loads.torque_nm >= own_side * (1.0 - 1e-6))
    middle = int(np.abs(loads.steer).argmin())
    assert loads.torque_nm[middle] == pytest.approx(own_side[middle], rel=0.05)
    assert loads.drag_n == pytest.approx(loads.torque_nm * 1000.0 / at_box, rel=1e-9)
    assert loads.rim_n == pytest.approx(loads.torque_nm * 1000.0 / 16.0 / 190.5)


def test_a_steering_shaft_by_hand() -> None:
    """Column and box shaft parallel, joints in line: both joints bend alike and cancel. Yokes a quarter turn out: the
    joints add up, the chained cross-joint equation 1 / cos^2 - cos^2 over a turn (SAE AE-7, from memory)."""

    def at(x: float, z: float) -> Point:
        return Point(x=x, y=400.0, z=z)

    shaft = ColumnShaft(joint=at(-500.0, 900.0), up=at(-800.0, 900.0), input=at(-100.0, 800.0), into=at(0.0, 800.0))
    bend = np.degrees(np.arctan2(100.0, 400.0))
    said = column_answers(shaft)
    assert (said.column_deg, said.input_deg) == (pytest.approx(bend), pytest.approx(bend))
    assert said.uneven_pct == pytest.approx(0.0, abs=1e-9)
    assert said.length_mm == pytest.approx(np.hypot(400.0, 100.0))
    c = np.cos(np.radians(bend)) ** 2
    crossed = column_answers(shaft.model_copy(update={"phase_deg": 90.0}))
    assert crossed.uneven_pct == pytest.approx(100.0 * (1.0 / c - c))
    assert crossed.best_pct == pytest.approx(0.0, abs=0.01)
    moved = column_answers(shaft.model_copy(update={"body_mm": 10.0}))
    rng = np.random.default_rng(3)
    tried = np.linalg.norm(np.array([400.0, 0.0, -100.0]) + rng.uniform(-10.0, 10.0, (4000, 3)), axis=1)
    assert moved.least_mm <= tried.min() <= moved.least_mm + 2.0
    assert moved.most_mm - 2.0 <= tried.max() <= moved.most_mm
    with pytest.raises(InputError, match="same place"):
        made(ColumnShaft, joint=at(0.0, 0.0), up=at(0.0, 0.0), input=at(100.0, 0.0), into=at(200.0, 0.0))
