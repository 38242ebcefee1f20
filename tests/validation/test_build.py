"""The build sheet against a frame solver, a section library, exact intersections, handbook figures and brute force."""

from fractions import Fraction
from itertools import permutations

import numpy as np
import pytest
import sympy as sp
from hypothesis import given
from hypothesis import strategies as st
from Pynite import FEModel3D
from scipy.optimize import linprog
from sectionproperties.analysis import Section
from sectionproperties.pre.library import circular_hollow_section

from even_stance.mechanics import fasteners, struts
from even_stance.mechanics.fits import cooling_for, press_force
from even_stance.mechanics.saddle import saddle_depth, sawn_depth
from even_stance.mechanics.tube import E_STEEL
from even_stance.shop.cutting import plan_cuts
from even_stance.shop.fits import fit_at, tap_drill
from even_stance.shop.tubeends import lug_chord
from even_stance.study.strength import tube_figures
from even_stance.vehicle.build import Tube
from tests.validation.record import against

IN = 25.4
KSI = 6.894757
LOWER = Tube(name="lower", outside_mm=2 * IN, wall_mm=0.25 * IN, yield_mpa=60 * KSI)


def _beam(tube: Tube, length: float, across: float, push: float, parts: int = 16) -> tuple[float, float]:
    """The most bending, N mm, and the reaction, N, of a beam on two pins hit at mid-span and pushed, by PyNite."""
    model = FEModel3D()
    area = float(struts.section_area(tube.outside_mm, tube.inside_mm))
    inertia = float(struts.second_moment(tube.outside_mm, tube.inside_mm))
    model.add_material("steel", E_STEEL, E_STEEL / 2.6, 0.3, 7.85e-6)
    model.add_section("tube", area, inertia, inertia, 2 * inertia)
    for i in range(parts + 1):
        model.add_node(f"N{i}", i * length / parts, 0.0, 0.0)
    for i in range(parts):
        model.add_member(f"M{i}", f"N{i}", f"N{i + 1}", "steel", "tube")
    model.def_support("N0", True, True, True, True, False, False)
    model.def_support(f"N{parts}", False, True, True, False, False, False)
    model.add_node_load(f"N{parts // 2}", "FY", -across)
    model.add_node_load(f"N{parts}", "FX", -push)
    model.analyze_PDelta() if push else model.analyze()
    most = max(abs(m.max_moment("Mz")) for m in model.members.values())
    most = max(most, *(abs(m.min_moment("Mz")) for m in model.members.values()))
    return float(most), float(model.nodes["N0"].RxnFY["Combo 1"])


def test_a_hit_at_mid_span_bends_as_in_a_frame_solver() -> None:
    moment, reaction = _beam(LOWER, 850.0, 9000.0, 0.0)
    against("referee", "PyNite, beam on two pins", "moment of a hit at mid-span", moment,
            float(struts.hit_moment(9000.0, 850.0)), "N mm", 1.0)  # fmt: skip
    against("referee", "PyNite, beam on two pins", "its reaction", reaction, 4500.0, "N", 0.01)


def test_a_rock_on_the_joint_bends_nothing() -> None:
    """The trap of the brief."""
    assert float(struts.hit_moment(9000.0, 850.0, 0.0)) == 0.0
    assert float(struts.hit_moment(9000.0, 850.0, 1.0)) == 0.0


@pytest.mark.parametrize("share", [0.1, 0.3])
def test_a_push_makes_the_bow_larger_as_in_second_order_analysis(share: float) -> None:
    """PyNite's P-delta against 1 / (1 - P / Pe): the rule is for a half-wave bow and is known to be within some percent
    above a hit at mid-span, 1 - 0.18 P / Pe of it (Timoshenko and Gere, Theory of Elastic Stability, from memory)."""
    length = 1100.0
    _, squash, column, euler, bends = tube_figures(LOWER, length)
    moment, _ = _beam(LOWER, length, 3000.0, share * euler)
    bare = float(struts.hit_moment(3000.0, length))
    used = float(struts.used_together(share * euler, column, euler, squash, bare, bends))
    ours = (used - share * euler / column) * bends
    against("referee", "PyNite, second-order analysis", f"moment with {100 * share:.0f} % of Euler’s load",
            moment / bare, (1.0 - 0.18 * share) * ours / bare, "", 0.015)  # fmt: skip
    assert ours >= moment  # on the careful side


def test_sections_against_a_section_library() -> None:
    for outside, wall in ((50.8, 6.35), (44.45, 3.048), (57.15, 9.525)):
        section = Section(circular_hollow_section(d=outside, t=wall, n=256).create_mesh(mesh_sizes=[8.0]))
        section.calculate_geometric_properties()
        inside = outside - 2 * wall
        ixx, _, _ = section.get_ic()
        for what, theirs, ours in (("area", section.get_area(), struts.section_area(outside, inside)),
                                   ("second moment", ixx, struts.second_moment(outside, inside))):  # fmt: skip
            against("referee", "sectionproperties, polygon of 256 corners", f"{outside:g} x {wall:g} tube, {what}",
                    1.0, float(ours) / float(theirs), "", 0.0006)  # fmt: skip


def test_a_column_is_stocky_or_slender() -> None:
    """Johnson's parabola touches Euler's curve where that is half of what squashes the section, and never exceeds it;
    a slender 1 1/2 x 0.120 of 2.5 m by hand: I = pi / 64 (1.5^4 - 1.26^4) = 0.12478 in4."""
    tube = Tube(name="t", outside_mm=1.5 * IN, wall_mm=0.12 * IN, yield_mpa=60 * KSI)
    against("worked by hand", "pi / 64 (1.5^4 - 1.26^4)", "1 1/2 x 0.120, second moment", 0.12478,
            float(struts.second_moment(tube.outside_mm, tube.inside_mm)) / IN**4, "in4", 0.00001)  # fmt: skip
    length = 2500.0
    stiffness, squash, column, euler, _ = tube_figures(tube, length)
    against("worked by hand", "Euler", "1 1/2 x 0.120, 2.5 m", np.pi**2 * 205_000 * 0.12478 * IN**4 / length**2, euler,
            "N", 1.0)  # fmt: skip
    assert column == pytest.approx(euler)
    turning = np.pi * np.sqrt(2.0 * stiffness / squash)
    for long in np.linspace(0.02, 3.0, 200) * turning:
        load = float(struts.column_load(squash, stiffness, long))
        assert load <= squash
        assert load <= float(struts.euler_load(stiffness, long)) * (1 + 1e-12)
    low, high = (float(struts.column_load(squash, stiffness, turning * s)) for s in (1 - 1e-6, 1 + 1e-6))
    assert low == pytest.approx(high, rel=1e-5)
    assert low == pytest.approx(0.5 * squash, rel=1e-5)


def test_a_core_adds_by_its_modulus_and_the_softer_one_yields_first() -> None:
    bare, cored = LOWER, LOWER.model_copy(update={"core": "aluminum", "core_yield_mpa": 40 * KSI})
    stiff = [tube_figures(t, 800.0)[0] for t in (bare, cored)]
    share = 70.0 / 205.0 * 1.5**4 / (2.0**4 - 1.5**4)
    against("worked by hand", "transformed sections", "2 x 0.250 with an aluminum core, stiffer by", share,
            stiff[1] / stiff[0] - 1.0, "", 1e-9)  # fmt: skip
    soft = LOWER.model_copy(update={"core": "aluminum", "core_yield_mpa": 60.0})
    assert tube_figures(soft, 800.0)[4] < tube_figures(cored, 800.0)[4]


def test_bolts_threads_edges_and_welds() -> None:
    """AISC table J3.2 (from memory): 54 ksi with thread in the shear plane against 68 without; one fifth less."""
    with_thread, without = (fasteners.double_shear(19.05, 830.0, v) for v in (True, False))
    against("published, from memory", "AISC specification table J3.2", "thread in the shear plane", 54 / 68,
            with_thread / without, "", 0.006)  # fmt: skip
    # By hand: a 3/4 bolt of 120 ksi proof in double shear, 2 x 0.4418 in2 x 120 / sqrt 3 = 61.2 kip.
    ours = fasteners.double_shear(0.75 * IN, 120 * KSI, False) / 4448.222
    against("worked by hand", "von Mises shear", "3/4 bolt, double shear", 61.2, ours, "kip", 0.1)
    # 3/4-16 engaged 3/4 in bung of 54 ksi: 7/8 pi 0.75 0.75 x 54 / sqrt 3 = 48.2 kip.
    strip = fasteners.strip_load(0.75 * IN, IN / 16, 0.75 * IN, 620.0, 54 * KSI) / 4448.222
    against("worked by hand", "shear area of the nut’s thread", "3/4-16 in a bung", 48.2, strip, "kip", 0.1)
    # 1/4 plate, two of them, 1 in from hole to edge, 1/2 hole, 36 ksi: 4 x 0.75 x 0.25 x 36 / sqrt 3 = 15.6 kip.
    tear = fasteners.tear_out(IN, 0.5 * IN, 0.25 * IN, 2, 36 * KSI) / 4448.222
    against("worked by hand", "two planes a plate", "tear-out", 15.59, tear, "kip", 0.01)
    # 3/16 fillet 6 in long of 58 ksi: 0.1326 x 6 x 58 / sqrt 3 = 26.6 kip.
    weld = fasteners.fillet_load(0.1875 * IN, 6 * IN, 58 * KSI) / 4448.222
    against("worked by hand", "throat of a fillet", "3/16 x 6 in", 26.64, weld, "kip", 0.02)
    assert fasteners.tear_out(6.0, 13.0, 6.0, 2, 250.0) == 0.0


@pytest.mark.parametrize(("angle", "offset"), [(90, 0), (60, 0), (45, 10), (120, -8)])
def test_saddles_are_exact_intersections(angle: int, offset: int) -> None:
    """SymPy solves where lines of the tube meet the other cylinder, in exact numbers."""
    r, big = sp.Integer(22), sp.Integer(40)
    a, t = sp.pi * angle / 180, sp.symbols("t", real=True)
    for turn in (0, 50, 130, 222, 301):
        u = sp.pi * turn / 180
        # The other tube along y; this one's axis in the plane of x and y, at the angle to it, passing above by the offset.
        axis = sp.Matrix([sp.sin(a), sp.cos(a), 0])
        side = sp.Matrix([-sp.cos(a), sp.sin(a), 0])
        at = sp.Matrix([0, 0, offset]) + r * sp.cos(u) * side + r * sp.sin(u) * sp.Matrix([0, 0, 1]) + t * axis
        roots = sp.Poly(sp.expand(at[0] ** 2 + at[2] ** 2 - big**2), t).nroots(n=20)
        theirs = max(float(sp.re(v)) for v in roots)
        # Around is counted from the side of the acute angle between this axis and the other's +y.
        ours = float(saddle_depth(np.array([np.radians(turn)]), 22.0, 40.0, np.radians(angle), offset)[0])
        mirrored = float(saddle_depth(np.array([np.pi - np.radians(turn)]), 22.0, 40.0, np.radians(angle), offset)[0])
        off = min(abs(ours - theirs), abs(mirrored - theirs))
        against(
            "referee", "SymPy, line through a cylinder", f"{angle}°, {offset} off, at {turn}°", 0.0, off, "mm", 1e-9
        )


def test_a_saw_cut_on_a_flat() -> None:
    """45 degrees on a 40 mm tube: 20 mm ahead on one side, 20 behind on the other; square is nil all around."""
    deep = sawn_depth(np.array([0.0, np.pi / 2, np.pi]), 20.0, np.radians(45.0))
    assert deep == pytest.approx([-20.0, 0.0, 20.0], abs=1e-9)
    assert sawn_depth(np.linspace(0, 6, 9), 20.0, np.pi / 2) == pytest.approx(np.zeros(9), abs=1e-12)


@pytest.mark.parametrize(
    ("count", "circle", "skip", "chord"),
    [(5, 114.3, 2, 108.7), (5, 4.5 * IN, 1, 2.645 * IN), (6, 5.5 * IN, 3, 5.5 * IN), (8, 6.5 * IN, 1, 2.487 * IN)],
)  # fmt: skip
def test_lug_circles_against_chord_tables(count: int, circle: float, skip: int, chord: float) -> None:
    """Chord factors for 5, 6 and 8 divisions of a circle: 0.58779, 1, 0.38268 (Machinery's Handbook, from memory)."""
    against("published, from memory", "Machinery’s Handbook, chords of circles", f"{count} on {circle:.1f}, {skip} on",
            chord, lug_chord(count, circle, skip), "mm", 0.05)  # fmt: skip


def test_fits_and_taps() -> None:
    """ISO 286-2 (from memory): 40 H7/p6 is 0 to +25 and +26 to +42 um; handbook tap drills 27/64 and 11/16 in."""
    fit = fit_at(40.0, "pressed")
    assert (fit.hole[1] - 40.0, fit.part[0] - 40.0, fit.part[1] - 40.0) == pytest.approx((0.025, 0.026, 0.042))
    assert (fit.least_tight, fit.most_tight) == pytest.approx((0.001, 0.042))
    for name, d, turns, drill in (
        ("1/2-13", 0.5, 13, 27 / 64),
        ("3/4-16", 0.75, 16, 11 / 16),
        ("5/8-18", 0.625, 18, 37 / 64),
    ):
        against("published, from memory", "tap drills, 75 % of thread", name, drill, tap_drill(d * IN, IN / turns) / IN,
                "in", 0.008)  # fmt: skip
    assert cooling_for(0.04, 40.0, 12e-6, 0.02) == pytest.approx(125.0)
    # Shigley (from memory): p = E t / (2 D^3) (Do^2 - D^2)(D^2 - Di^2) / (Do^2 - Di^2), t the diametral interference.
    pressure = 205e3 * 0.05 / (2 * 40**3) * (70**2 - 40**2) * (40**2 - 25**2) / (70**2 - 25**2)
    assert press_force(0.05, 40.0, 70.0, 25.0, 40.0, 205e3, 0.12) == pytest.approx(pressure * np.pi * 1600 * 0.12)


def _brute(pieces: list[float], bars: list[float], kerf: float) -> float:
    """The least length to buy, by trying every order of the pieces on bars chosen one after the other."""
    best = float("inf")
    for order in set(permutations(pieces)):
        costs = {0: 0.0}
        for i in range(1, len(order) + 1):
            found = float("inf")
            for j in range(i):
                needs = sum(order[j:i]) + kerf * (i - j - 1)
                fitting = [b for b in bars if b >= needs - 1e-9]
                if fitting and j in costs:
                    found = min(found, costs[j] + min(fitting))
            costs[i] = found
        best = min(best, costs[len(order)])
    return best


@given(st.lists(st.sampled_from([312.0, 455.5, 610.0, 777.7, 980.0, 1210.0]), min_size=1, max_size=6),
       st.sampled_from([[1828.8], [1828.8, 3048.0], [1500.0, 2000.0, 6000.0]]), st.sampled_from([0.0, 3.175]))  # fmt: skip
def test_no_plan_buys_more_than_brute_force(pieces: list[float], bars: list[float], kerf: float) -> None:
    plan = plan_cuts([(f"p{i}", length) for i, length in enumerate(pieces)], bars, kerf)
    assert plan.exact
    assert plan.bought_mm == pytest.approx(_brute(pieces, bars, kerf))
    cut = sorted(length for bar in plan.bars for length in bar.cuts_mm)
    assert cut == pytest.approx(sorted(pieces))
    for bar in plan.bars:
        assert sum(bar.cuts_mm) + kerf * (len(bar.cuts_mm) - 1) <= bar.length_mm + 1e-6


def test_a_large_plan_is_within_a_bar_of_its_bound() -> None:
    """Forty lengths: no plan buys less than all pieces with their kerfs; ours is within one bar of the LP's bound."""
    lengths = [float(Fraction(400 + 37 * i % 900)) + 0.5 * i for i in range(40)]
    plan = plan_cuts([(f"p{i}", length) for i, length in enumerate(lengths)], [3048.0, 6096.0], 3.175)
    assert plan.bought_mm >= plan.least_mm - 1e-6
    assert plan.bought_mm - plan.least_mm <= 3048.0 + 1e-6
    material = linprog([1.0], A_ub=[[-1.0]], b_ub=[-(sum(lengths) + 3.175 * (len(lengths) - len(plan.bars)))])
    assert plan.bought_mm >= float(material.fun) - 1e-6
