"""Columns against worked examples of a textbook and against the differential equation they come from."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from even_stance.mechanics import struts
from tests.validation.record import against

BOOK = "Shigley's Mechanical Engineering Design, columns"
LBF, IN, PSI = 4.4482216, 25.4, 0.006894757


def test_the_rod_of_the_worked_example_is_as_thick() -> None:
    """A round column 1.5 m long on pins that carries 22 kN four times over, E = 207 GPa: d = 37.48 mm."""
    load, length, modulus = 4 * 22_000.0, 1500.0, 207_000.0

    def too_much(d: float) -> float:
        return float(struts.euler_load(modulus * struts.second_moment(d, 0.0), length)) - load

    against("published, from memory", BOOK, "round of 1.5 m for 22 kN, design factor 4", 37.48,
            float(brentq(too_much, 10.0, 100.0)), "mm", 0.01)  # fmt: skip


@pytest.mark.parametrize(
    ("thick", "wide", "slender"), [(0.375, 3.46, True), (0.5, 1.46, True), (0.5625, 1.03, True), (0.625, 0.76, False)]
)
def test_the_flat_link_of_the_worked_example_is_as_wide(thick: float, wide: float, slender: bool) -> None:
    """A flat link 15 in long on pins for 5,000 lbf four times over, yield 75 kpsi, E = 30 Mpsi: the table of widths by
    thickness, Euler down to a slenderness of 88.9 and Johnson below it."""
    load, length = 20_000.0 * LBF, 15.0 * IN
    strength, modulus = 75_000.0 * PSI, 30.0e6 * PSI

    def too_much(b: float) -> float:
        area, moment = thick * b * IN**2, b * thick**3 / 12.0 * IN**4
        return float(struts.column_load(strength * area, modulus * moment, length)) - load

    found = float(brentq(too_much, 0.05, 20.0))
    against("published, from memory", BOOK, f"flat link of 15 in, {thick:g} in thick: width", wide, found, "in", 0.006)
    area, moment = thick * found * IN**2, found * thick**3 / 12.0 * IN**4
    assert (float(struts.euler_load(modulus * moment, length)) < 0.5 * strength * area) == slender


def test_euler_is_where_the_bowed_strut_stands_by_itself() -> None:
    """The elastica: the least push at which a bow of any size balances is Euler's, and a larger bow needs more
    (Timoshenko and Gere, Theory of Elastic Stability: table of the elastica, from memory)."""
    stiffness, length = 2.0e9, 900.0

    def shortfall(push: float, slope: float) -> float:
        def bend(_s: float, y: np.ndarray) -> list[float]:  # type: ignore[type-arg]
            angle, aside = y
            return [-push * aside / stiffness, np.sin(angle)]

        # Half of it, from the end to the middle: there it runs straight along.
        run = solve_ivp(bend, (0.0, length / 2), [slope, 0.0], rtol=1e-10, atol=1e-10)
        return float(run.y[0, -1])

    euler = float(struts.euler_load(stiffness, length))
    for slope, times in ((0.1, 1.0), (20.0, 1.015), (40.0, 1.063)):
        balance = brentq(lambda p, s=slope: shortfall(p, np.radians(s)), 0.9 * euler, 1.5 * euler)
        against("published, from memory", "Timoshenko and Gere, Theory of Elastic Stability, elastica",
                f"push at an end slope of {slope:g}° to Euler's load", times, balance / euler, "", 0.001)  # fmt: skip
