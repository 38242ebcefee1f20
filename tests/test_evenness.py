"""Ways to make a driveshaft turn evenly: each alone and all together, within limits."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq, minimize

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.judgement.search.evening import even_within, ways_to_even
from even_stance.mechanics.roots import crossing
from even_stance.mechanics.vectors import Array
from even_stance.study.powertrain import seated
from even_stance.vehicle.edits import (
    raise_tail,
    set_yoke,
    turn_pinion,
)
from even_stance.vehicle.job import Job
from tests.cars import shaft_at


def test_every_way_to_even_does_what_it_says(coupe_job: Job) -> None:
    """Applied, each leaves what it promised; tail and pinion make both ends rise alike, turns come within half a turn."""
    job = set_yoke("rear", "pinion", "Pinion", nose_up_deg=0.4).apply(coupe_job)
    ways = ways_to_even(job, "rear")
    assert [w.words.split()[0] for w in sorted(ways, key=lambda w: w.words)] == ["Pinion", "Tail", "Upper"]
    for way in ways:
        after = way.edit.apply(job)
        assert shaft_at(after, 0.0, 0.0)["shaft_residual_deg"] == pytest.approx(way.residual_deg, abs=1e-9)
        here = seated(after.vehicle, after.vehicle.axle("rear"))
        assert here.output is not None
        assert here.pinion is not None
        off = abs(here.output.nose_up_deg - here.pinion.nose_up_deg)
        assert off < (0.5 if way.words.startswith("Upper") else 1e-3), way.words
        assert way.residual_deg < shaft_at(job, 0.0, 0.0)["shaft_residual_deg"]
    assert [w.residual_deg for w in ways] == sorted((w.residual_deg for w in ways), key=lambda r: round(r, 1))


@pytest.mark.parametrize("demo", [0, 1, 2])
def test_a_turned_pinion_is_even_in_side_view(demo: int) -> None:
    """Single joints: both ends are off the shaft alike in side view. Behind a double-cardan joint the single one is bent a
    degree, its nose low (common practice, no source), so that a little farther up it bends less."""
    job = demo_jobs()[demo]
    pinion = job.vehicle.axle("rear").pinion
    assert pinion is not None
    job = set_yoke("rear", "pinion", "low", nose_up_deg=pinion.nose_up_deg - 3.0).apply(job)
    after = next(w for w in ways_to_even(job, "rear") if w.words.startswith("Pinion")).edit.apply(job)
    now, higher = (shaft_at(j, 0.0, 0.0) for j in (after, turn_pinion("rear", 0.4).apply(after)))
    side = {end: now[f"{end}_angle_deg"] * np.cos(np.radians(now[f"{end}_plane_deg"])) for end in ("output", "pinion")}
    if demo == 1:
        assert side["output"] == pytest.approx(side["pinion"], abs=0.01)
    else:
        assert abs(side["pinion"]) == pytest.approx(1.0, abs=0.01)
        assert higher["shaft_residual_deg"] < now["shaft_residual_deg"]


def test_moves_together_are_the_least_within_their_limits(coupe_job: Job) -> None:
    """Against a general optimizer over tail and pinion; limits are kept and what cannot be is said."""
    job = set_yoke("rear", "pinion", "Pinion", nose_up_deg=0.4).apply(coupe_job)
    power = job.vehicle.powertrain
    assert power is not None

    def moved(x: Array) -> Job:
        return turn_pinion("rear", float(x[1])).apply(raise_tail(power.tail_up_mm + float(x[0])).apply(job))

    def off(x: Array) -> float:
        here = seated(moved(x).vehicle, moved(x).vehicle.axle("rear"))
        assert here.output is not None
        assert here.pinion is not None
        return here.output.nose_up_deg - here.pinion.nose_up_deg

    for limits in ({"tail": (-60.0, 60.0), "pinion": (-9.0, 9.0)}, {"tail": (-60.0, 60.0), "pinion": (-0.5, 0.5)}):
        best = minimize(
            lambda x: (x[0] / 10.0) ** 2 + x[1] ** 2, np.array([1.0, 0.2]), method="SLSQP", tol=1e-12,
            bounds=list(limits.values()), constraints={"type": "eq", "fun": off},
        )  # fmt: skip
        after, wanted = even_within(job, "rear", limits).edit.apply(job), moved(best.x)
        assert after.vehicle.powertrain is not None
        assert wanted.vehicle.powertrain is not None
        assert after.vehicle.powertrain.tail_up_mm == pytest.approx(wanted.vehicle.powertrain.tail_up_mm, abs=0.02)
        ours, theirs = (j.vehicle.axle("rear").pinion for j in (after, wanted))
        assert ours is not None
        assert theirs is not None
        assert ours.nose_up_deg == pytest.approx(theirs.nose_up_deg, abs=2e-3)
    for limits, words in (
        ({}, "nothing may move"), ({"pinion": (1.0, 1.0)}, "no room"), ({"pinion": (-0.1, 0.1)}, "stay off"),
    ):  # fmt: skip
        with pytest.raises(InputError, match=words):
            even_within(job, "rear", limits)


@given(st.floats(-5.0, 5.0), st.floats(0.01, 4.0), st.floats(-0.9, 0.9))
def test_crossings_are_those_of_the_library(root: float, steep: float, bend: float) -> None:
    """Against SciPy's Brent on bent curves that cross once."""

    def value(x: float) -> float:
        return float(steep * (x - root) + bend * steep * np.sin(x - root) + 0.2 * (x - root) ** 3)

    ours, theirs = crossing(value, -9.0, 9.0, 1e-10), brentq(value, -9.0, 9.0, xtol=1e-12)
    assert ours == pytest.approx(theirs, abs=1e-8)
