"""How far brackets may be moved: the floor, the ends of the frame, and its rails as they are drawn."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from even_stance.judgement.search.limits import Freedom, limits_of
from even_stance.judgement.search.solvefor import solve_for
from even_stance.study.drawing import Place
from even_stance.study.floor import still_shapes
from even_stance.study.frame import frame_ends
from even_stance.vehicle.edits import move_by
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot, mount_of
from tests.conftest import starter


def inside(h: float, v: float, outline: tuple[Place, ...]) -> bool:
    """Whether a place lies in a polygon: the line to its right crosses the outline an odd number of times."""
    crossings = 0
    for (h0, v0), (h1, v1) in zip(outline, outline[1:] + outline[:1], strict=True):
        crossings += (v0 > v) != (v1 > v) and h < h0 + (v - v0) / (v1 - v0) * (h1 - h0)
    return crossings % 2 == 1


@given(
    st.floats(-120, 120), st.floats(-120, 120), st.floats(-150, 150), st.floats(-150, 150), st.floats(-60, 200),
    st.sampled_from(["chassis", "axle"]),
)  # fmt: skip
def test_limits_keep_brackets_out_of_the_rails(
    out: float, up: float, ahead: float, asked_out: float, asked_up: float, end: str
) -> None:
    """Wherever a lower link starts beside the rail and whatever is asked, it never enters the rail's outline.

    The outline is told here by the drawing of the frame, not by the gaps: the rail's polygons of the floor.
    """
    job = move_by(Spot("rear", "Lower left", end), 0.0, out, up).apply(starter())
    spot = Spot("rear", "Lower left", end)
    free = [
        Freedom(spot, 0, min(ahead, -1.0), max(ahead, 1.0)),
        Freedom(spot, 1, -200, 200),
        Freedom(spot, 2, -200, 200),
    ]
    limits = limits_of(job, free, clear_of_frame=True)
    side, rear = (still_shapes(job.vehicle, [], view, "rear")[: 1 + (view == "rear")] for view in ("side", "rear"))
    bump = job.vehicle.axle("rear").bump_mm if end == "axle" else 0.0

    def within(ahead: float, out: float, up: float) -> bool:
        at = mount_of(job, spot).at
        x, y, z = at.x + ahead, at.y + out, at.z + up + bump
        across = [abs(c[0]) for shape in rear for c in shape.places]
        return min(across) < y < max(across) and inside(-x, z, side[0].places)

    if within(0.0, 0.0, 0.0):
        return
    moved = [min(max(v, m.low), m.high) for v, m in zip((ahead, asked_out, asked_up), limits, strict=True)]
    assert not within(*moved)
    for share in (0.25, 0.5, 0.75):
        assert not within(*(share * v for v in moved))


def test_solve_for_ends_at_the_frame_rail_and_says_so(trail_job: Job) -> None:
    """The lower frame ends are under the rail, whose bottom is 87 mm above them: 25 mm less is all that they can rise."""
    lower = Spot("rear", "Lower left", "chassis")
    at, frame = mount_of(trail_job, lower).at, trail_job.vehicle.frame
    free = [Freedom(lower, 2, -20.0, 200.0)]
    solved = solve_for(trail_job, "rear", {"anti_squat_axle_pct": 400.0}, free)
    assert not solved.reached
    assert "lower frame ends up (frame rail)" in solved.words
    assert mount_of(solved.edit.apply(trail_job), lower).at.z == pytest.approx(frame.rail_bottom_mm - 25.0, abs=0.2)
    assert at.z < frame.rail_bottom_mm - 80.0
    through = solve_for(trail_job, "rear", {"anti_squat_axle_pct": 400.0}, free, clear_of_frame=False)
    assert through.values["anti_squat_axle_pct"] > solved.values["anti_squat_axle_pct"] + 20.0


def test_frame_ends_stay_between_the_ends_of_the_frame(trail_job: Job) -> None:
    spot = Spot("rear", "Lower left", "chassis")
    ahead, behind = frame_ends(trail_job.vehicle)
    (along,) = limits_of(trail_job, [Freedom(spot, 0, -9000.0, 9000.0)], clear_of_frame=True)
    x = mount_of(trail_job, spot).at.x
    assert (x + along.low, x + along.high) == pytest.approx((behind, ahead))
    assert (along.low_why, along.high_why) == ("end of the frame", "front of the frame")


def test_what_is_drawn_within_the_rail_is_left_alone_and_told(trail_job: Job) -> None:
    spot = Spot("rear", "Lower left", "chassis")
    at, frame = mount_of(trail_job, spot).at, trail_job.vehicle.frame
    middle = (frame.rail_top_mm + frame.rail_bottom_mm) / 2
    job = move_by(spot, 0.0, frame.rail_out_mm - at.y, middle - at.z).apply(trail_job)
    solved = solve_for(job, "rear", {"anti_squat_axle_pct": 60.0}, [Freedom(spot, 2, -30.0, 30.0)])
    assert "Drawn within the frame rail, so not kept clear of it: lower frame ends." in solved.words
