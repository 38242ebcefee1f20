import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from even_stance.errors import InputError
from even_stance.exchange.demo import demo_jobs
from even_stance.vehicle.driveline import Yoke
from even_stance.vehicle.edits import (
    Edit,
    choose_hole,
    move_by,
    move_to,
    set_axle,
    set_band,
    set_holes,
    set_job,
    set_split,
    set_sure,
    set_wheelbase,
    with_axle,
    with_changes,
)
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.records import Point
from even_stance.vehicle.spots import Spot, all_spots, body_of, is_there, mount_of, point_of, side_of, twin_of

UPPER = Spot("rear", "Upper left", "chassis")
MM = st.floats(-60, 60, allow_nan=False)


@st.composite
def edits(draw: st.DrawFn) -> Edit:
    spot = Spot(
        "rear", draw(st.sampled_from(["Upper left", "Lower right"])), draw(st.sampled_from(["chassis", "axle"]))
    )
    return draw(
        st.sampled_from(
            [
                move_by(spot, draw(MM), draw(MM), draw(MM), draw(st.booleans()), draw(st.sampled_from([None, "drag"]))),
                choose_hole(UPPER, draw(st.integers(0, 2))),
                set_holes(spot, draw(st.integers(1, 4)), 25.4),
                set_job("Units", units=draw(st.sampled_from(["us", "metric"]))),
                set_wheelbase(2997.2 + draw(MM)),
                set_band("anti_squat_pct", Band(low=10.0, high=20.0)),
                set_axle("rear", "Bump", bump_mm=100.0 + draw(MM)),
                set_sure(spot, abs(draw(MM))),
                set_split("drive", draw(st.floats(0, 1))),
            ]
        )
    )


@settings(max_examples=40, deadline=None)
@given(st.lists(edits(), max_size=12))
def test_everything_can_be_undone_and_done_again(walk: list[Edit]) -> None:
    first = demo_jobs()[0]
    history = History(first)
    for edit in walk:
        try:
            history.do(edit)
        except InputError:
            continue
    last = history.job
    while history.undo():
        pass
    assert history.job == first
    while history.redo():
        pass
    assert history.job == last


def test_a_drag_is_one_step(trail_job: Job) -> None:
    history = History(trail_job)
    for _ in range(5):
        history.do(move_by(UPPER, 1.0, 0.0, 0.0, merge="drag 1"))
    history.seal()
    history.do(move_by(UPPER, 1.0, 0.0, 0.0, merge="drag 1"))
    assert history.undo()
    assert mount_of(history.job, UPPER).at.x == pytest.approx(mount_of(trail_job, UPPER).at.x + 5.0)
    assert history.undo()
    assert history.job == trail_job


def test_the_other_side_follows_as_in_a_mirror(trail_job: Job) -> None:
    twin = twin_of(trail_job, UPPER)
    assert twin == Spot("rear", "Upper right", "chassis")
    job = move_to(trail_job, UPPER, -2200.0, 300.0, 640.0).apply(trail_job)
    assert mount_of(job, twin).at.xyz == pytest.approx((-2200.0, -300.0, 640.0))
    alone = move_to(trail_job, UPPER, -2200.0, 300.0, 640.0, both_sides=False).apply(trail_job)
    assert mount_of(alone, twin) == mount_of(trail_job, twin)


def test_moving_a_bracket_takes_its_holes_along(trail_job: Job) -> None:
    before, after = mount_of(trail_job, UPPER), mount_of(move_by(UPPER, 3.0, 2.0, 1.0).apply(trail_job), UPPER)
    assert after.hole == before.hole
    for a, b in zip(before.holes, after.holes, strict=True):
        assert [q - p for p, q in zip(a.xyz, b.xyz, strict=True)] == pytest.approx([3.0, 2.0, 1.0])


def test_wheelbase_takes_the_rear_links_along(trail_job: Job) -> None:
    job = set_wheelbase(trail_job.vehicle.wheelbase_mm + 50).apply(trail_job)
    assert job.vehicle.wheelbase_mm == pytest.approx(trail_job.vehicle.wheelbase_mm + 50)
    assert mount_of(job, UPPER).at.x == pytest.approx(mount_of(trail_job, UPPER).at.x - 50)


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (choose_hole(UPPER, 8), "there is no hole 9. The bracket has 3 holes."),
        (set_holes(UPPER, 40, 25.4), "40 holes is no bracket"),
        (set_wheelbase(-5.0), "must be 0 or more"),
        (set_split("drive", 1.4), "140 % is no share"),
        (set_axle("rear", "Weight", unsprung_kg=9000.0), "more than the axle shows on the scales"),
        (move_to(demo_jobs()[0], UPPER, 1e9, 0.0, 0.0), "must be 20000 or less"),
    ],
)
def test_refused_edits_say_why_and_change_nothing(trail_job: Job, edit: Edit, said: str) -> None:
    history = History(trail_job)
    with pytest.raises(InputError) as refused:
        history.do(edit)
    assert said in str(refused.value)
    assert history.job is trail_job
    assert history.undo_label is None


def test_the_other_side_is_found_by_side_not_by_name(trail_job: Job) -> None:
    """A member called as the shop calls it has its twin all the same, and “left” in a name makes none."""
    axle = trail_job.vehicle.axle("rear")
    names = {"Lower left": "Driver lower", "Lower right": "Passenger lower", "Upper left": "Upper right of the left"}
    members = tuple(with_changes(m, name=names.get(m.name, m.name)) for m in axle.members)
    job = with_axle(trail_job, with_changes(axle, members=members))
    driver = Spot("rear", "Driver lower", "chassis")
    assert twin_of(job, driver) == Spot("rear", "Passenger lower", "chassis")
    assert twin_of(job, Spot("rear", "Upper right of the left", "axle")) == Spot("rear", "Upper right", "axle")
    before = point_of(job, Spot("rear", "Passenger lower", "chassis"))
    after = point_of(move_by(driver, 10.0, 5.0, 3.0).apply(job), Spot("rear", "Passenger lower", "chassis"))
    assert (after.x - before.x, after.y - before.y, after.z - before.z) == pytest.approx((10.0, -5.0, 3.0))
    assert (side_of(job, driver), body_of(job, driver)) == ("left", "chassis")


def test_the_ends_of_the_driveshaft_are_points_like_any_other(trail_job: Job) -> None:
    yoke = Yoke(at=Point(x=-2000.0, y=-30.0, z=500.0))
    job = with_axle(trail_job, with_changes(trail_job.vehicle.axle("rear"), output=yoke, pinion=None))
    spot = Spot("rear", "", "output")
    assert spot in list(all_spots(job))
    assert not is_there(job, Spot("rear", "", "pinion"))
    job = set_sure(spot, 3.0).apply(move_by(spot, 1.0, 2.0, -4.0).apply(job))
    assert point_of(job, spot) == Point(x=-1999.0, y=-28.0, z=496.0, sure=3.0, known="typed")
    assert (twin_of(job, spot), body_of(job, spot)) == (None, "powertrain")
