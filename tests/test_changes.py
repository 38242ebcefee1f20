"""What else changed: over the whole car, worst first, and between any two variants."""

import pytest

from even_stance.judgement.changes import Change, judge_car, variant_changes, what_changed
from even_stance.judgement.standards import STANDARDS
from even_stance.vehicle.edits import Edit, move_by, set_axle, set_band, set_job, set_vehicle
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.variants import branch_off

LOWER = Spot("rear", "Lower left", "chassis")


def _changes(job: Job, edit: Edit) -> list[Change]:
    return what_changed(judge_car(job), judge_car(edit.apply(job)))


def test_what_an_edit_fixes_and_what_it_breaks(trail_job: Job) -> None:
    """Each change says what the two verdicts say; turned round, better is worse."""
    edit = move_by(LOWER, 0.0, 0.0, 70.0)
    before, after = judge_car(trail_job), judge_car(edit.apply(trail_job))
    found, back = what_changed(before, after), what_changed(after, before)
    assert {c.way for c in found} >= {"better"}
    numbers = {(c.axle, c.key): c for c in found if c.key}
    assert numbers
    for (axle, key), change in numbers.items():
        was, now = (next(v for v in j.verdicts[axle] if v.figure.key == key) for j in (before, after))
        assert change.words == f"{was.reading('us')} → {now.reading('us')}"
        crossed = (was.state in ("low", "high")) != (now.state in ("low", "high"))
        assert crossed or abs(now.figure.value - was.figure.value) > max(was.figure.uncertainty, now.figure.uncertainty)
        assert change.station == STANDARDS[key].station
    other = {"worse": "better", "better": "worse", "moved": "moved"}
    assert {(c.axle, c.key, c.title, other[c.way]) for c in found if c.key} == {
        (c.axle, c.key, c.title, c.way) for c in back if c.key
    }
    ways = [c.way for c in found]
    assert ways == sorted(ways, key=("worse", "better", "moved").index)


def test_the_other_axle_is_looked_at_too(trail_job: Job) -> None:
    """A lower CG raises every anti figure of both axles that have links."""
    rock = trail_job
    found = _changes(rock, set_vehicle("CG", cg_height_mm=0.6 * rock.vehicle.cg_height_mm))
    linked = {a.key for a in rock.vehicle.axles if a.members}
    assert {c.axle for c in found if c.key.startswith("anti_")} == linked


def test_a_note_changes_nothing_and_a_purpose_moves_the_marks(trail_job: Job) -> None:
    assert _changes(trail_job, set_job("Notes", notes="painted")) == []
    narrow = _changes(trail_job, set_band("roll_center_mm", Band(low=0.0, high=100.0)))
    assert [(c.key, c.way) for c in narrow if c.key] == [("roll_center_mm", "worse")] * 2  # both axles


def test_findings_that_come_and_go_are_changes(trail_job: Job) -> None:
    """More droop than the links can follow: “locks in droop” comes, and goes when it is taken back."""
    edit = set_axle("rear", "Droop", droop_mm=900.0)
    came = [c for c in _changes(trail_job, edit) if "locks" in c.words]
    assert [c.way for c in came] == ["worse"] * len(came)
    assert came
    gone = what_changed(judge_car(edit.apply(trail_job)), judge_car(trail_job))
    assert {c.words for c in gone if "locks" in c.words} == {f"{c.words}: no more" for c in came}


def test_between_two_variants_the_same_list(trail_job: Job) -> None:
    edit = move_by(LOWER, 0.0, 0.0, 70.0)
    job = branch_off("one up", edit).apply(trail_job)
    assert variant_changes(job, "As measured") == _changes(trail_job, edit)


@pytest.mark.parametrize("key", STANDARDS)
def test_every_judged_number_belongs_to_a_station(key: str) -> None:
    assert STANDARDS[key].station in ("links", "travel", "driveline", "steering", "springs", "clearance", "build")
