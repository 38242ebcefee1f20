"""Line drawings on paper, the way every textbook draws them, against the solver, for symmetric layouts.

Source: Gillespie, T. D., Fundamentals of Vehicle Dynamics, SAE, 1992, ch. 7 (solid axles: instant center where the
lines of the upper and lower links cross; 100 % anti-squat when it lies on the line of slope h/L through the contact
patch; roll center of a four-link by the link lines' meeting points). The two layouts are worked by hand below.
"""

import numpy as np
import pytest

from even_stance.study.answers import answers_at, cg_height
from even_stance.study.figures import study_axle
from even_stance.vehicle.edits import set_vehicle, with_changes
from even_stance.vehicle.job import Job
from tests.cars import pair, rod, vehicle_of
from tests.validation.record import against


def test_converging_four_link_worked_by_hand() -> None:
    """Axle at x = -2800. Lower: (-2000, z 400) to (-2800, 360): slope 40/800 = 0.05 up ahead.
    Upper: (-2200, z 550) to (-2800, 580): slope -30/600 = -0.05 (falls ahead).
    They cross where 360 + 0.05 d = 580 - 0.05 d: d = 2200, z = 470: x = -600.
    Contact patch (-2800, 0): line to the crossing rises 470/2200. Anti-squat = (470/2200) / (700/2800) = 85.4545 %.
    """
    members = (
        *pair("Lower", (-2000, 450, 400), (-2800, 550, 360), "lower"),
        *pair("Upper", (-2200, 400, 550), (-2800, 100, 580), "upper"),
    )
    vehicle, axle = vehicle_of(members)
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "converging four-link: instant center ahead",
        -600.0, answers.value("ic_x_mm"), "mm", 1e-6,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "converging four-link: instant center up",
        470.0, answers.value("ic_z_mm"), "mm", 1e-6,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "converging four-link: anti-squat",
        100 * (470 / 2200) / (700 / 2800), answers.value("anti_squat_pct"), "%", 1e-6,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "converging four-link: anti-lift, braking",
        50 * (470 / 2200) / (700 / 2800), answers.value("anti_lift_brake_pct"), "%", 1e-6,
    )  # fmt: skip


def test_roll_center_of_a_four_link_by_its_meeting_points() -> None:
    """Same layout in plan. Uppers: y 400 at x -2200 to y 100 at -2800: 0.5 mm per mm, they meet at y = 0, x = -3000;
    the upper line is there at z = 580 + 0.05 * 200 = 590 (it rises toward the back).
    Lowers: y 450 at -2000 to 550 at -2800: -0.125 per mm, they meet at x = -2000 + 450/0.125 = +1600;
    z there = 400 + 0.05 * 3600 = 580. The roll axis joins (-3000, 590) and (1600, 580):
    at the axle, x = -2800: z = 590 - 200 * 10/4600 = 589.565.
    """
    members = (
        *pair("Lower", (-2000, 450, 400), (-2800, 550, 360), "lower"),
        *pair("Upper", (-2200, 400, 550), (-2800, 100, 580), "upper"),
    )
    vehicle, axle = vehicle_of(members)
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "four-link by its meeting points: roll center",
        590 - 200 * 10 / 4600, answers.value("roll_center_mm"), "mm", 1e-6,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "four-link: slope of the roll axis",
        np.degrees(np.arctan(-10 / 4600)), answers.value("roll_axis_slope_deg"), "deg", 1e-9,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "four-link: roll steer",
        100 * -10 / 4600, answers.value("roll_steer_pct"), "%", 1e-7,
    )  # fmt: skip


def test_front_axle_worked_by_hand() -> None:
    """Front axle at x = 0, links run back. Lower: (900, z 430 behind) to (0, 370): falls ahead 60/900.
    Upper: (-700, 560) to (0, 560), level. They cross where 370 + d/15 = 560: d = 2850 behind, z = 560.
    The line from the contact patch rises 560/2850 to the rear: anti-dive = 0.5 * (560/2850)/(700/2800).
    """
    members = (
        *pair("Lower", (-900, 430, 430), (0, 560, 370), "lower"),
        *pair("Upper", (-700, 420, 560), (0, 120, 560), "upper"),
    )
    vehicle, axle = vehicle_of(members, front=True)
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "front axle: instant center",
        -2850.0, answers.value("ic_x_mm"), "mm", 1e-6,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "front axle: anti-dive",
        50 * (560 / 2850) / (700 / 2800), answers.value("anti_dive_pct"), "%", 1e-6,
    )  # fmt: skip
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "front axle: anti-lift, driving",
        100 * (560 / 2850) / (700 / 2800), answers.value("anti_lift_drive_pct"), "%", 1e-6,
    )  # fmt: skip
    assert "anti_squat_pct" not in answers.values


@pytest.mark.parametrize(
    ("length", "height", "share"), [(2800.0, 700.0, 1.0), (3100.0, 820.0, 0.5), (2500.0, 540.0, 1.0)]
)
def test_instant_center_on_the_line_of_slope_h_over_l_gives_100_percent(
    length: float, height: float, share: float
) -> None:
    """Gillespie ch. 7: the instant center anywhere on the line of slope h / (f L) through the contact patch."""
    for ahead in (900.0, 2000.0, 6000.0):
        x, z = -length + ahead, ahead * height / (share * length)
        lower, upper = 330.0, 600.0
        members = tuple(
            m
            for name, level, run, wide in (("Lower", lower, 800.0, (430, 550)), ("Upper", upper, 600.0, (420, 150)))
            for m in pair(
                name,
                (-length + run, wide[0], level + (z - level) * run / (x + length)),
                (-length, wide[1], level),
                name.lower(),
            )
        )
        vehicle, axle = vehicle_of(members, wheelbase=length, cg_height=height)
        if share != 1.0:
            axle = with_changes(axle, drive_share=share)
            vehicle = with_changes(vehicle, axles=(vehicle.axles[0], axle))
        ours = answers_at(vehicle, axle, 0.0, 0.0).value("anti_squat_pct")
        what = f"instant center {ahead:g} ahead on the line of slope h / (f L), L {length:g}: anti-squat"
        against("published", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", what, 100.0, ours, "%")


def test_parallel_links_have_no_instant_center_but_a_slope() -> None:
    """Equal parallel links: every point moves at right angles to them; s = -tan(link angle), h/L line parallel."""
    members = (
        *pair("Lower", (-2000, 450, 400), (-2800, 550, 360), "lower"),
        *pair("Upper", (-2000, 400, 620), (-2800, 100, 580), "upper"),
    )
    vehicle, axle = vehicle_of(members)
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    assert not abs(answers.value("ic_x_mm")) < 1e6
    against(
        "worked by hand", "Gillespie, Fundamentals of Vehicle Dynamics, ch. 7", "parallel links: contact slope",
        -40 / 800, answers.value("contact_slope"), "", 1e-6,
    )  # fmt: skip


def test_level_panhard_in_the_axle_plane_sets_the_roll_center() -> None:
    """A level bar over the axle with parallel level lowers and upper: the roll center is at the bar's height where it
    crosses the centerline (Milliken and Milliken, Race Car Vehicle Dynamics, ch. 17, from memory)."""
    members = (
        *pair("Lower", (-1950, 450, 350), (-2800, 450, 350), "lower"),
        rod("Upper", (-2150, 0, 560), (-2800, 0, 560), "upper"),
        rod("Panhard", (-2800, 520, 430), (-2800, -480, 430), "lateral"),
    )
    vehicle, axle = vehicle_of(members)
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    against(
        "published, from memory", "Milliken and Milliken, Race Car Vehicle Dynamics, ch. 17", "level panhard in the plane of the axle: roll center",
        430.0, answers.value("roll_center_mm"), "mm", 1e-6,
    )  # fmt: skip
    assert answers.value("roll_axis_slope_deg") == pytest.approx(0.0, abs=1e-9)


def test_a_bar_behind_the_axle_does_not_set_the_roll_center_by_its_height() -> None:
    """Known trap: 150 mm behind the axle with a roll axis of some degrees the bar is several mm off. Here the axis runs
    through the bar at its own x and the lowers' meeting point, by hand."""
    members = (
        *pair("Lower", (-1950, 400, 420), (-2800, 570, 350), "lower"),
        rod("Upper", (-2150, 0, 560), (-2800, 0, 560), "upper"),
        rod("Panhard", (-2950, 520, 430), (-2950, -520, 430), "lateral"),
    )
    vehicle, axle = vehicle_of(members)
    answers = answers_at(vehicle, axle, 0.0, 0.0)
    # The lowers meet in plan at x = -1950 + 400 * 850/170 = 50, at z = 420 + 2000 * 70/850.
    slope = (420 + 2000 * 70 / 850 - 430) / (50 + 2950)
    against(
        "worked by hand", "line through bar and meeting point of the lowers", "bar 150 mm behind the axle: roll center",
        430 + 150 * slope, answers.value("roll_center_mm"), "mm", 1e-6,
    )  # fmt: skip
    assert abs(answers.value("roll_center_mm") - 430.0) > 5.0


def test_travel_is_the_rise_of_each_wheel_center() -> None:
    members = (
        *pair("Lower", (-2000, 450, 400), (-2800, 550, 360), "lower"),
        *pair("Upper", (-2200, 400, 550), (-2800, 100, 580), "upper"),
    )
    vehicle, axle = vehicle_of(members)
    answers = answers_at(vehicle, axle, 80.0, -60.0)
    center, rotation = answers.pose.center[0], answers.pose.rotation[0]
    half = np.array([0.0, 750.0, 0.0])
    assert (center + rotation @ half)[2] - 400.0 == pytest.approx(80.0, abs=1e-9)
    assert (center - rotation @ half)[2] - 400.0 == pytest.approx(-60.0, abs=1e-9)
    assert answers.value("roll_deg") == pytest.approx(np.degrees(np.arcsin(140 / 1500)), abs=1e-9)


def test_sprung_cg_by_moments(trail_job: Job) -> None:
    """Moments about the ground: 2000 kg at 700 with 400 kg of axles at 400 leaves 1600 kg at 775 mm."""
    members = pair("Lower", (-2000, 450, 400), (-2800, 550, 360), "lower")
    vehicle, _ = vehicle_of(members)
    axles = tuple(with_changes(a, load_kg=1000.0, unsprung_kg=200.0) for a in vehicle.axles)
    vehicle = with_changes(vehicle, axles=axles, anti_uses="sprung")
    against("worked by hand", "balance of moments", "sprung CG height", 775.0, cg_height(vehicle), "mm")
    low = set_vehicle("CG", anti_uses="sprung", cg_height_mm=100.0).apply(trail_job)
    assert study_axle(trail_job.vehicle, trail_job.vehicle.axle("rear"), 0.0, 0.0).figures
    with pytest.raises(ValueError, match="below the ground"):
        cg_height(low.vehicle)
