"""Published tables against our measuring arithmetic.

ASTM E178, Standard Practice for Dealing With Outlying Observations, Table 1, upper 5 % significance level (one-sided
Grubbs test), three decimals (from memory).
ISO 4000-1 / ETRTO Standards Manual, design overall diameters of passenger tires, whole millimeters (from memory).
The Tire and Rim Association Year Book: the figures of a flotation marking are overall diameter and section width in
inches (from memory).
"""

import numpy as np
import pytest

from even_stance.errors import InputError
from even_stance.mechanics.repeats import grubbs_limit, mean_and_sure, outlier
from even_stance.shop.tires import read_tire_size
from tests.validation.record import against

ASTM_E178 = {3: 1.153, 4: 1.463, 5: 1.672, 6: 1.822, 7: 1.938, 8: 2.032, 9: 2.110, 10: 2.176}
OVERALL_MM = {
    "195/65R15": 635, "205/55R16": 632, "225/45R17": 634, "P225/60R16": 676, "P235/75R15": 733, "245/70R16": 750,
    "265/70R17": 804, "185/60R14": 578, "LT 285/70 R17": 832,
}  # fmt: skip
FLOTATION_IN = {"35x12.50R17LT": (35, 12.5, 17), "33 x 10.50 - 15": (33, 10.5, 15), "37X13.50R22LT": (37, 13.5, 22)}


def test_outlier_limits_are_those_of_astm_e178() -> None:
    for count, published in ASTM_E178.items():
        # One unit in the third decimal: the table was made from tabulated t and is so far off at five readings.
        what = f"outlier limit for {count} readings, upper 5 %"
        against("published, from memory", "ASTM E178, Table 1", what, published, grubbs_limit(count), "", 0.0011)


def test_metric_sizes_are_the_design_diameters() -> None:
    """To the millimeter: rim and section height are rounded each for itself, as the standard does."""
    for marking, published in OVERALL_MM.items():
        ours = read_tire_size(marking).diameter_mm
        source = "ISO 4000-1 / ETRTO Standards Manual"
        against("published, from memory", source, f"design diameter of {marking}", published, ours, "mm", 1e-9)


def test_flotation_sizes_say_their_own_figures() -> None:
    for marking, (free, width, rim) in FLOTATION_IN.items():
        size = read_tire_size(marking)
        found = (size.diameter_mm / 25.4, size.width_mm / 25.4, size.rim_mm / 25.4)
        for name, theirs, ours in zip(("diameter", "width", "rim"), (free, width, rim), found, strict=True):
            what = f"{name} of {marking}"
            against("published, from memory", "Tire and Rim Association Year Book", what, theirs, ours, "in")


@pytest.mark.parametrize("text", ["", "big ones", "35", "235/75", "P235/75R99", "12x44R15", "999/99R15", "35x12.5"])
def test_what_is_no_tire_size_is_refused_with_an_example(text: str) -> None:
    with pytest.raises(InputError, match="Tire size") as caught:
        read_tire_size(text)
    assert "sidewall" in str(caught.value)


def test_one_of_ten_readings_that_does_not_belong() -> None:
    good = np.array([2.1, 2.3, 1.9, 2.2, 2.0, 2.4, 2.1, 1.8, 2.2])
    assert outlier(good, 0.4) == -1
    assert outlier(np.append(good, 4.9), 0.4) == 9
    # Three readings that scatter within what the tool is good for are never blamed.
    assert outlier(np.array([2.0, 2.0, 2.1]), 0.4) == -1
    assert outlier(np.array([2.0, 9.0]), 0.4) == -1


def test_ten_readings_are_surer_than_one_but_never_surer_than_half_the_tool() -> None:
    """GUM type A: ten draws of scatter s give s / sqrt(10); checked with numbers worked out by hand."""
    values = np.array([1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0, 10.0])
    mean, sure = mean_and_sure(values, 0.0)
    # Standard deviation of 1 to 10 is sqrt(55/6) = 3.02765; over sqrt(10): 0.957427.
    assert (mean, sure) == pytest.approx((5.5, 0.957427), rel=1e-6)
    assert mean_and_sure(np.array([3.0]), 0.2) == (3.0, 0.2)
    assert mean_and_sure(np.array([3.0, 3.0, 3.0]), 0.2)[1] == pytest.approx(0.1)
