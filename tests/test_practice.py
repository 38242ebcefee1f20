"""Practice cars: what is hidden can be found with the tools, and nothing else seems wrong."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from even_stance.shop.practice import CLAIMS, practice_car, reveal, take
from even_stance.shop.readings import new_reading
from even_stance.shop.sheet import take_reading
from even_stance.shop.squaring import square_report


@given(st.integers(0, 100_000))
@settings(max_examples=25)
def test_every_fault_can_be_found_and_nothing_else_seems_wrong(seed: int) -> None:
    car = practice_car(seed)
    assert 2 <= len(car.faults) <= 3
    assert set(car.faults) <= set(CLAIMS)
    off = {
        m.tells for m in car.measures if (m.truth != m.designed if m.hand else abs(m.truth - m.designed) > 1.5 * m.sure)
    }
    assert off == set(car.faults)


def test_a_practice_car_is_the_same_each_time() -> None:
    assert [m.truth for m in practice_car(11).measures] == [m.truth for m in practice_car(11).measures]


def test_readings_scatter_as_the_tool_says_and_are_to_its_marks() -> None:
    car, rng = practice_car(3), np.random.default_rng(1)
    for measure in car.measures:
        values = np.array([take(measure, rng) for _ in range(400)])
        if measure.hand:
            assert set(values) == {measure.truth}
            continue
        mark = 0.5 if measure.tool == "scales" else 25.4 / 16
        assert np.allclose(values / mark, np.round(values / mark))
        assert (values >= 0).all()
        if measure.truth > 5.0 * measure.sure:
            assert abs(values.mean() - measure.truth) < 0.2 * measure.sure
            assert values.std() == pytest.approx(np.hypot(measure.sure / 2, mark / 12**0.5), rel=0.2)
            # Nineteen readings of twenty are within the +/-, as two standard deviations of a normal scatter are.
            assert (np.abs(values - measure.truth) <= measure.sure + mark).mean() > 0.93


def test_the_squareness_page_finds_what_practice_hides() -> None:
    """What is taped of a practice car out of square, put into the real sheet, is what the square report says."""
    car = next(c for c in map(practice_car, range(200)) if "square" in c.faults)
    job = car.sheet
    for m in car.measures[:4]:
        job = take_reading(new_reading(job, m.key, "length", m.truth, "tape", "2026-01-01T10:00")).apply(job)
    report = square_report(job)
    assert report is not None
    left, right = (m.truth for m in car.measures[:2])
    assert report.uneven_mm == pytest.approx(left - right, abs=0.5)
    assert abs(report.uneven_mm) > 1.6


def test_the_truth_tells_what_was_found_missed_and_claimed_in_vain() -> None:
    car = practice_car(7)
    true = list(car.faults)
    vain = next(k for k in CLAIMS if k not in car.faults)
    measure = next(m for m in car.measures if not m.hand)
    truth = reveal(car, {measure.key: [measure.truth + 2.5 * measure.sure], "nothing": [1.0]}, {true[0], vain})
    assert list(truth.found) == [true[0]]
    assert list(truth.missed) == true[1:]
    assert truth.wrong == (vain,)
    assert all(truth.told_by[k] for k in car.faults)
    assert [(q.good, q.count) for q in truth.quality] == [(False, 1)]
    nothing = reveal(car, {}, set())
    assert (nothing.found, nothing.quality, nothing.wrong) == ({}, (), ())
