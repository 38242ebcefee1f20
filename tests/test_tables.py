"""Tables that leave the program: figures are numbers, their unit is in the head, words stay words."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from even_stance.exchange.tables import as_numbers
from even_stance.units import force_unit, format_force, format_length, length_unit


def test_columns_of_figures_become_numbers_with_their_unit_and_way() -> None:
    rows = [
        ["Link", "Length", "To frame, side", "Load", "Joint", "Change", "Cost, USD", "Fits"],
        ["Lower left", "~37 1/2 in", "3.9° up", "2,170 lb push", "rod end", "+1.5 %", "41", "yes"],
        ["Upper left", "30 5/8 in", "2.7° down", "90 lb pull", "5/8 rod end", "-2 %", "7.25", "3 of 4"],
        ["Panhard", "1/16 in", "0.0° up", "no case", "bushing", "—", "", "no"],
    ]
    assert as_numbers(rows) == [
        [
            "Link",
            "Length, in",
            "To frame, side, ° (+ up)",
            "Load, lb (+ pull)",
            "Joint",
            "Change, %",
            "Cost, USD",
            "Fits",
        ],
        ["Lower left", "37.5", "3.9", "-2170", "rod end", "1.5", "41", "yes"],
        ["Upper left", "30.625", "-2.7", "90", "5/8 rod end", "-2", "7.25", "3 of 4"],
        ["Panhard", "0.0625", "0", "", "bushing", "", "", "no"],
    ]


def test_a_column_of_two_units_or_two_kinds_of_way_stays_as_it_is() -> None:
    rows = [["A", "B"], ["1 in", "2° up"], ["3 mm", "2° left"]]
    assert as_numbers(rows) == rows
    assert as_numbers([["A"], [""], ["—"]]) == [["A"], [""], ["—"]]
    assert as_numbers([["A"]]) == [["A"]]


@given(st.floats(-5000, 5000), st.sampled_from(["us", "metric"]))
def test_a_length_comes_out_as_near_as_it_is_shown(mm: float, units: str) -> None:
    unit = length_unit(units)  # type: ignore[arg-type]
    head, (cell,) = as_numbers([["Length"], [f"{format_length(mm, units)} {unit}"]])  # type: ignore[arg-type]
    assert head == [f"Length, {unit}"]
    assert float(cell) * (25.4 if unit == "in" else 1.0) == pytest.approx(mm, abs=25.4 / 32 + 1e-6)
    force = f"{format_force(abs(mm), units)} {force_unit(units)} push"  # type: ignore[arg-type]
    assert float(as_numbers([["Load"], [force]])[1][0]) <= 0.0
