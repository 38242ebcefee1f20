"""SymPy as an independent referee: a symmetric four-link as a planar linkage, solved in closed symbols.

In side view a symmetric layout in heave is a plane four-bar: lower link (length l from c to a), upper link (length u from
d to b), the axle rigid with a and b on it. Instant center, contact slope, anti-squat and their derivatives by any point come
from symbolic differentiation of the two loop equations; nothing of the app is used to get them.
Anti-squat after Gillespie, Fundamentals of Vehicle Dynamics, ch. 7: -s L / h for all drive at the rear.
"""

from functools import cache

import numpy as np
import pytest
import sympy as sp

from even_stance.study.answers import answers_at
from even_stance.study.figures import figure_slopes, study_axle
from tests.cars import pair, vehicle_of

WHEELBASE, HEIGHT, RADIUS = 2800.0, 700.0, 400.0
# (x ahead of the axle center, z above ground): lower frame end, lower axle end, upper frame end, upper axle end.
CASES = [
    ((900.0, 420.0), (0.0, 340.0), (700.0, 590.0), (10.0, 580.0)),
    ((850.0, 380.0), (20.0, 330.0), (640.0, 640.0), (-30.0, 600.0)),
    ((1000.0, 330.0), (0.0, 330.0), (1000.0, 600.0), (40.0, 560.0)),
]
SYMBOLS = sp.symbols("cx cz ax az dx dz bx bz", real=True)


@cache
def _formulas() -> tuple[object, object]:
    """Contact slope at ride height and its derivatives by the eight coordinates, as functions of them."""
    cx, cz, ax, az, dx, dz, bx, bz = SYMBOLS
    vx, w = sp.symbols("vx w", real=True)  # velocity of the axle center ahead and pitch rate, per unit of rise

    def closing(fx: sp.Expr, fz: sp.Expr, ex: sp.Expr, ez: sp.Expr) -> sp.Expr:
        """A link keeps its length: its axle end moves square to it. The center is at (0, RADIUS) and rises at 1."""
        ux, uz = vx + w * (ez - RADIUS), 1 - w * ex
        return (ex - fx) * ux + (ez - fz) * uz

    solved = sp.solve([closing(cx, cz, ax, az), closing(dx, dz, bx, bz)], [vx, w], dict=True)[0]
    slope = sp.simplify(solved[vx] - solved[w] * RADIUS)
    derivatives = [sp.diff(slope, s) for s in SYMBOLS]
    return sp.lambdify(SYMBOLS, slope, "math"), sp.lambdify(SYMBOLS, derivatives, "math")


def _car(case: tuple[tuple[float, float], ...]):  # type: ignore[no-untyped-def]
    (cx, cz), (ax, az), (dx, dz), (bx, bz) = case
    x = -WHEELBASE
    members = (
        *pair("Lower", (x + cx, 430, cz), (x + ax, 560, az), "lower"),
        *pair("Upper", (x + dx, 420, dz), (x + bx, 140, bz), "upper"),
    )
    return vehicle_of(members, wheelbase=WHEELBASE, cg_height=HEIGHT)


def _flat(case: tuple[tuple[float, float], ...]) -> list[float]:
    return [v for point in case for v in point]


@pytest.mark.parametrize("case", CASES)
def test_contact_slope_and_anti_squat(case: tuple[tuple[float, float], ...]) -> None:
    vehicle, axle = _car(case)
    slope, _ = _formulas()
    symbolic = slope(*_flat(case))  # type: ignore[operator]
    now = answers_at(vehicle, axle, 0.0, 0.0)
    assert now.value("contact_slope") == pytest.approx(symbolic, rel=1e-9)
    assert now.value("anti_squat_pct") == pytest.approx(-100.0 * symbolic * WHEELBASE / HEIGHT, rel=1e-9)


@pytest.mark.parametrize("case", CASES)
def test_slopes_to_every_point_are_the_symbolic_derivatives(case: tuple[tuple[float, float], ...]) -> None:
    """Both sides of the car move together in the plane picture: the sum of a pair's slopes is the derivative."""
    vehicle, axle = _car(case)
    _, derivatives = _formulas()
    wanted = np.array(derivatives(*_flat(case))) * (-100.0 * WHEELBASE / HEIGHT)  # type: ignore[operator]
    slopes = figure_slopes(vehicle, study_axle(vehicle, axle, 0.0, 0.0))
    found = {}
    for i, slope in zip(slopes.inputs, slopes.of["anti_squat_axle_pct"], strict=True):
        if i.spot is not None and i.axis != 1:
            key = (i.spot.member.split()[0], i.spot.end, i.axis)
            found[key] = found.get(key, 0.0) + float(slope)
    order = [(role, end, axis) for role, end in (("Lower", "chassis"), ("Lower", "axle"), ("Upper", "chassis"),
                                                 ("Upper", "axle")) for axis in (0, 2)]  # fmt: skip
    assert [found[k] for k in order] == pytest.approx(wanted.tolist(), rel=1e-5, abs=1e-7)


@pytest.mark.parametrize("case", CASES)
@pytest.mark.parametrize("travel", [-90.0, 60.0])
def test_pinion_and_fore_aft_over_travel(case: tuple[tuple[float, float], ...], travel: float) -> None:
    """The two loop equations solved numerically by SymPy at a posture, to 30 digits."""
    vehicle, axle = _car(case)
    (cx, cz), (ax, az), (dx, dz), (bx, bz) = case
    x, turn = sp.symbols("x turn", real=True)

    def end(px: float, pz: float) -> tuple[sp.Expr, sp.Expr]:
        """An axle point after shifting by x, rising by the travel and pitching nose down by `turn`."""
        qx, qz = px, pz - RADIUS
        return x + qx * sp.cos(turn) + qz * sp.sin(turn), RADIUS + travel - qx * sp.sin(turn) + qz * sp.cos(turn)

    loops = []
    for (fx, fz), (px, pz), across in (((cx, cz), (ax, az), 130.0), ((dx, dz), (bx, bz), 280.0)):
        ex, ez = end(px, pz)
        square = (px - fx) ** 2 + (pz - fz) ** 2
        del across  # sideways the ends of a pair stay where they are in heave: it drops out of the length
        loops.append((ex - fx) ** 2 + (ez - fz) ** 2 - square)
    found = sp.nsolve(loops, [x, turn], [0.0, 0.0], prec=30)
    answers = answers_at(vehicle, axle, travel, travel)
    assert answers.value("shift_x_mm") == pytest.approx(float(found[0]), abs=1e-8)
    assert answers.value("pitch_deg") == pytest.approx(float(sp.deg(found[1])), abs=1e-9)
