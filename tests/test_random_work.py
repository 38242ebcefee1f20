"""A person's random work: every edit of the app in any order, every state saved and read back, everything undone."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from even_stance.errors import JobFileError, StanceError
from even_stance.exchange.demo import demo_jobs
from even_stance.exchange.jobfile import dump_job, load_job, parse_job, save_job
from even_stance.judgement.catalog.layouts import BASES, LATERALS
from even_stance.judgement.catalog.starter import with_lateral, with_layout
from even_stance.judgement.differences import differences
from even_stance.shop.readings import means_of, new_reading
from even_stance.shop.sheet import set_aside, sheet, take_reading
from even_stance.shop.tires import use_tire_size
from even_stance.study.answers import answers_at
from even_stance.study.model import linkage_of
from even_stance.study.threads import turn_links
from even_stance.vehicle.edits import (
    Edit,
    choose_hole,
    move_by,
    set_axle,
    set_band,
    set_holes,
    set_job,
    set_joint,
    set_measuring,
    set_split,
    set_sure,
    set_vehicle,
    set_wheelbase,
)
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Band, Job
from even_stance.vehicle.measuring import Heights
from even_stance.vehicle.members import JOINT_TYPES, Rod
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.variants import branch_names, branch_off, drop_variant, fresh_name, switch_to, vehicle_of

small = st.floats(-40.0, 40.0)
index = st.integers(0, 10_000)


class Work(RuleBasedStateMachine):
    """One person at one job; whatever is refused must leave the job as it was."""

    @initialize(demo=st.integers(0, 2))
    def open(self, demo: int) -> None:
        self.first = demo_jobs()[demo]
        self.history = History(self.first)
        self.seen = [self.first]

    def _do(self, edit: Edit) -> None:
        before = self.history.job
        try:
            changed = self.history.do(edit)
        except StanceError as error:
            assert str(error)
            assert self.history.job is before
            return
        assert edit.label
        if changed:
            self.seen.append(self.history.job)
        else:
            assert self.history.job == before

    def _spot(self, pick: int) -> Spot:
        spots = [Spot(a.key, m.name, e) for a in self.history.job.vehicle.axles for m in a.members for e in m.mounts]
        return spots[pick % len(spots)]

    @rule(pick=index, dx=small, dy=small, dz=small, both=st.booleans())
    def move(self, pick: int, dx: float, dy: float, dz: float, both: bool) -> None:
        self._do(move_by(self._spot(pick), dx, dy, dz, both))

    @rule(pick=index, count=st.integers(0, 10), pitch=st.floats(0.0, 60.0))
    def drill(self, pick: int, count: int, pitch: float) -> None:
        self._do(set_holes(self._spot(pick), count, pitch))

    @rule(pick=index, hole=st.integers(-1, 9))
    def bolt(self, pick: int, hole: int) -> None:
        self._do(choose_hole(self._spot(pick), hole))

    @rule(pick=index, joint=st.sampled_from(sorted(JOINT_TYPES)), sure=st.floats(-1.0, 10.0))
    def joint(self, pick: int, joint: str, sure: float) -> None:
        self._do(set_joint(self._spot(pick), joint))  # type: ignore[arg-type]
        self._do(set_sure(self._spot(pick), sure))

    @rule(base=st.sampled_from(sorted(BASES)), lateral=st.sampled_from(sorted(LATERALS)), axle=st.booleans())
    def layout(self, base: str, lateral: str, axle: bool) -> None:
        key = "rear" if axle else "front"
        self._do(Edit("Layout", lambda job: with_layout(job, key, base)))  # type: ignore[arg-type]
        self._do(Edit("Lateral", lambda job: with_lateral(job, key, lateral)))  # type: ignore[arg-type]

    @rule(mm=st.floats(-500.0, 6000.0), height=st.floats(-10.0, 3000.0), share=st.floats(-0.5, 1.5))
    def car(self, mm: float, height: float, share: float) -> None:
        self._do(set_wheelbase(mm))
        self._do(set_vehicle("CG", cg_height_mm=height))
        self._do(set_split("brake", share))
        self._do(set_axle("rear", "bump", bump_mm=height / 5))

    @rule(pick=index, value=st.floats(-3000.0, 3000.0))
    def read(self, pick: int, value: float) -> None:
        steps = sheet(self.history.job)
        fields = [f for s in steps for f in s.fields]
        field = fields[pick % len(fields)]
        scaled = value / 20 if field.quantity == "angle" else abs(value)
        self._do(take_reading(new_reading(self.history.job, field.what, field.quantity, scaled, "tape", "")))

    @rule(pick=index, aside=st.booleans())
    def aside(self, pick: int, aside: bool) -> None:
        readings = self.history.job.measuring.readings
        if readings:
            self._do(set_aside(pick % len(readings), aside))

    @rule(pick=index, text=st.sampled_from(["35x12.50R17LT", "P235/75R15"]))
    def tires(self, pick: int, text: str) -> None:
        axles = self.history.job.vehicle.axles
        self._do(use_tire_size(axles[pick % len(axles)].key, text))

    @rule(low=st.floats(-200.0, 200.0), high=st.floats(-200.0, 200.0), lower=st.floats(-5.0, 400.0))
    def wish(self, low: float, high: float, lower: float) -> None:
        self._do(
            Edit("Band", lambda job: set_band("anti_squat_pct", Band(low=min(low, high) - 1, high=high)).apply(job))
        )
        self._do(Edit("Heights", lambda job: set_measuring("h", heights=Heights(lower_mm=abs(lower))).apply(job)))

    @rule(pick=index, turns=st.floats(-6.0, 6.0))
    def turn(self, pick: int, turns: float) -> None:
        rods = [(a.key, m.name) for a in self.history.job.vehicle.axles for m in a.members if isinstance(m, Rod)]
        if rods:
            key, name = rods[pick % len(rods)]
            self._do(turn_links(key, (name,), turns, "Turn"))

    @rule(pick=index, name=st.text(max_size=12))
    def branch(self, pick: int, name: str) -> None:
        self._do(branch_off(fresh_name(self.history.job, name)))
        names = branch_names(self.history.job)
        self._do(switch_to(names[pick % len(names)]))
        if len(names) > 4:
            self._do(drop_variant(names[-1]))

    @rule(text=st.text(max_size=40))
    def note(self, text: str) -> None:
        self._do(set_job("Notes", merge="notes", notes=text))

    @rule()
    def undo(self) -> None:
        self.history.undo()

    @rule()
    def redo(self) -> None:
        self.history.redo()

    @invariant()
    def the_file_holds_all_of_it(self) -> None:
        if hasattr(self, "history"):
            assert parse_job(dump_job(self.history.job), "job") == self.history.job

    @invariant()
    def everything_can_be_shown(self) -> None:
        if not hasattr(self, "history"):
            return
        job = self.history.job
        means_of(job)
        for name in branch_names(job):
            differences(vehicle_of(job, name), job.vehicle, job.units)
        for axle in job.vehicle.axles:
            if not axle.members:
                continue
            try:
                answers = answers_at(job.vehicle, axle, 0.0, 0.0)
            except StanceError as error:
                assert str(error).endswith(".")
                continue
            assert np.abs(answers.pose.center[0] - linkage_of(axle).center).max() < 1e-6

    def teardown(self) -> None:
        if hasattr(self, "history"):
            while self.history.undo():
                pass
            assert self.history.job == self.first


TestWork = Work.TestCase
TestWork.settings = settings(
    max_examples=12, stateful_step_count=25, deadline=None, suppress_health_check=list(HealthCheck)
)

_VALUES: list[Any] = [None, True, -1, 0, 1e308, "text", "", [], {}, [1, 2], "NaN", -5.5, 10**30]


def _paths(data: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    found = [path] if path else []
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        found += _paths(value, (*path, key))
    return found


@settings(max_examples=120, deadline=None)
@given(st.integers(0, 2), st.integers(0, 10**6), st.sampled_from(_VALUES), st.sampled_from(["set", "drop", "add"]))
def test_a_file_changed_anywhere_opens_or_says_what_is_wrong(demo: int, at: int, value: Any, how: str) -> None:
    """One value anywhere replaced, dropped or added: the job opens, or one sentence names the file."""
    data = json.loads(dump_job(demo_jobs()[demo]))
    paths = _paths(data)
    *parents, last = paths[at % len(paths)]
    place = data
    for step in parents:
        place = place[step]
    if how == "set":
        place[last] = value
    elif how == "drop":
        del place[last]
    elif isinstance(place, dict):
        place["something new"] = value
    else:
        place.append(value)
    try:
        job = parse_job(json.dumps(data), "changed.stance")
    except JobFileError as error:
        text = str(error)
        assert text.startswith("changed.stance")
        assert "\n" not in text
        assert "pydantic" not in text
        assert "Traceback" not in text
    else:
        assert parse_job(dump_job(job), "again") == job


@settings(max_examples=80, deadline=None)
@given(st.binary(max_size=300), st.integers(0, 30_000))
def test_bytes_changed_anywhere_never_break_the_reader(raw: bytes, at: int) -> None:
    text = dump_job(demo_jobs()[1]).encode()
    at %= len(text)
    changed = text[:at] + raw + text[at + len(raw) :]
    try:
        parse_job(changed.decode("utf-8"), "changed.stance")
    except (JobFileError, UnicodeDecodeError) as error:
        assert str(error)


def test_readings_variants_and_weights_survive_the_disk(coupe_job: Job, tmp_path: Path) -> None:
    job = branch_off("bar up", move_by(Spot("rear", "Panhard", "axle"), 0.0, 0.0, 25.4)).apply(coupe_job)
    job = set_job("w", weights={"roll_steer_pct": 2.5}, decision="bar up").apply(job)
    path = tmp_path / "coupe.stance"
    save_job(job, path)
    back, _ = load_job(path)
    assert back == job
    assert len(back.measuring.readings) == len(coupe_job.measuring.readings) > 15
    assert back.variants[0].vehicle == coupe_job.vehicle


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"measuring": {"readings": [{"what": "", "quantity": "length", "value": 1, "sure": 1}]}}, "must not be empty"),
        ({"measuring": {"readings": [{"what": "x", "quantity": "smell", "value": 1, "sure": 1}]}}, "must be one of"),
        ({"measuring": {"threads": {"pitch_mm": 0}}}, "Thread pitch: must be more than 0"),
        ({"measuring": {"heights": {"lower_mm": -3}}}, "Lowest height: must be 0 or more"),
        ({"branch": ""}, "Variant name: must not be empty"),
        ({"weights": {"anti_squat_pct": -2}}, "must be 0 or more"),
        ({"weights": {"anti_squat_pct": "lots"}}, "must be a number"),
    ],
)
def test_bad_measuring_data_names_its_field(trail_job: Job, change: dict[str, Any], words: str) -> None:
    data = json.loads(dump_job(trail_job))
    for key, value in change.items():
        data[key] = value if not isinstance(value, dict) or key == "weights" else data[key] | value
    with pytest.raises(JobFileError, match=words) as caught:
        parse_job(json.dumps(data), "pickup.stance")
    assert str(caught.value).startswith("pickup.stance")
