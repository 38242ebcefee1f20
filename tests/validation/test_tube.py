"""Twist and bending of round tubes against exact integrals, and a worked example.

Machinery's Handbook (from memory): a 3 in x 1/4 in wall steel tube has J = 4.1 in^4 (two digits).
"""

import pytest
import sympy as sp

from even_stance.mechanics.tube import E_STEEL, G_STEEL, bend_per_force, polar_moment, twist_per_torque
from tests.validation.record import against


def test_polar_moment_is_the_integral_of_r_squared() -> None:
    r, t, x = sp.symbols("r t x", positive=True)
    exact = sp.integrate(sp.integrate(r**3, (r, sp.Rational(635, 20), sp.Rational(762, 20))), (t, 0, 2 * sp.pi))
    assert float(polar_moment(76.2, 6.35)) == pytest.approx(float(exact), rel=1e-12)
    ours = float(polar_moment(76.2, 6.35)) / 25.4**4
    against("published, from memory", "Machinery's Handbook", "J of a 3 in tube, 1/4 in wall", 4.1, ours, "in^4", 0.05)
    # A wall of half the outside or more is a bar.
    assert float(polar_moment(20.0, 30.0)) == pytest.approx(float(sp.pi * 20**4 / 32))
    # The cantilever by double integration of its moment.
    bent = sp.integrate(x**2, (x, 0, 1000))
    assert float(bend_per_force(60.0, 6.35, 1000.0)) == pytest.approx(
        float(bent) / (E_STEEL * float(polar_moment(60.0, 6.35)) / 2), rel=1e-12
    )
    assert float(twist_per_torque(76.2, 6.35, 800.0)) == pytest.approx(800.0 / (G_STEEL * float(exact)), rel=1e-12)
