"""What lies beyond a lock-up on the way from ride height is locked: no root is taken that the way does not lead to."""

import numpy as np
import pytest

from even_stance.mechanics.position import solve_posture
from tests.ways import CASES, Count, compare, random_ways, shortened


@pytest.mark.parametrize("case", CASES, ids=lambda c: "+".join(filter(None, c)))
def test_random_ways_against_a_path_following_referee(case: tuple) -> None:  # type: ignore[type-arg]
    """A short run of scripts/long_ways.py: links 60 to 100 % of their length, ways up to 1.2 link lengths."""
    count = Count()
    linkage = shortened(*case, 1)
    compare(linkage, random_ways(linkage, 50, 1), count)
    assert count.wrong == count.missed == count.misplaced == 0, count


def test_a_heave_far_beyond_what_short_links_reach_is_locked() -> None:
    """One wheel 680 to 720 mm up on shortened links: was answered 280 mm off, on another branch."""
    linkage = shortened("lower_triangulated", None, 1)
    left = np.array([722.71, 679.22, 100.0])
    found = solve_posture(linkage, left, np.zeros(3))
    assert list(found.ok) == [False, False, True]
    # The same lock-up whichever posture on the way is asked for.
    assert found.reached[0] * left[0] == pytest.approx(found.reached[1] * left[1], abs=0.02)


def test_lock_up_does_not_depend_on_how_many_postures_are_asked_at_once() -> None:
    linkage = shortened("torque_arm", None, 3)
    travel = random_ways(linkage, 60, 5)
    together = solve_posture(linkage, travel[:, 0], travel[:, 1])
    for i, (left, right) in enumerate(travel):
        alone = solve_posture(linkage, np.array([left]), np.array([right]))
        assert alone.ok[0] == together.ok[i]
        assert alone.reached[0] == pytest.approx(together.reached[i], abs=2e-5)


def test_a_bound_layout_that_snaps_is_locked_there_alone_or_among_others() -> None:
    """One wheel 742 mm down on parallel links that hang almost straight: among 500 ways it was answered beyond the snap,
    39 mm off; a referee in 3,600 steps finds it at 0.8869 of the way."""
    linkage = shortened("parallel", None, 1)
    travel = random_ways(linkage, 500, 1)[150:250]
    together = solve_posture(linkage, travel[:, 0], travel[:, 1])
    alone = solve_posture(linkage, travel[43:44, 0], travel[43:44, 1])
    assert together.reached[43] == pytest.approx(0.8869, abs=1e-3)
    assert alone.reached[0] == pytest.approx(0.8869, abs=1e-3)
