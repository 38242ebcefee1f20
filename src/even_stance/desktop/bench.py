"""The bench: the one place that edits go through, and what tells all views that something changed."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from even_stance.desktop.background import HAND
from even_stance.desktop.buildwatch import BuildWatch
from even_stance.desktop.document import Document, Outcome
from even_stance.desktop.gapwatch import GapWatch
from even_stance.desktop.judging import Judging
from even_stance.desktop.logwatch import LogWatch
from even_stance.desktop.selection import Along, PaperSize, Selection
from even_stance.desktop.studies import Studies
from even_stance.exchange.jobfile import FileStamp
from even_stance.faults import fenced
from even_stance.judgement.changes import Change, Judged, what_changed
from even_stance.judgement.findings import Finding
from even_stance.judgement.verdicts import Verdict
from even_stance.study.figures import AxleStudy
from even_stance.study.loads import CaseKey
from even_stance.study.steerends import steered_along
from even_stance.units import HABITS
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Edit
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import Entry
from even_stance.vehicle.posture import AxlePosture, CarPosture
from even_stance.vehicle.spots import Spot, is_there
from even_stance.vehicle.variants import branch_names, branch_off, fresh_name, vehicle_of

if TYPE_CHECKING:
    from even_stance.exchange.paper import Setup


class Bench(QObject):
    """A document, what is selected of it and its studies; views listen and ask.

    Attributes:
        waits: the first job is not judged yet: a window that stands at once comes before that.

    Signals:
        job_changed: the job or the posture changed: everything shown may differ.
        selection_changed: another point, figure or axle is looked at.
        refused: an edit was refused; the sentence says why.
        wrote: a file was written, to be looked at.
        file_changed: another file is open, or it was saved.
    """

    job_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    refused = pyqtSignal(str)
    wrote = pyqtSignal(object)
    file_changed = pyqtSignal()

    def __init__(
        self, job: Job, finders: tuple[Callable[[Studies], list[Finding]], ...] = (), waits: bool = False
    ) -> None:  # fmt: skip
        super().__init__()
        self.waits = waits
        self._finders = finders
        self.paper_size: PaperSize = ""
        self.look_at = Selection.first(job)
        self.judging = Judging(self)
        self.gaps = GapWatch(self)
        self.build = BuildWatch(self)
        self.log = LogWatch(self)
        self._lay_on(job)

    def open_job(self, job: Job, path: Path | None = None, stamp: FileStamp | None = None) -> None:
        """Lay another job on the bench: it is seen, then judged."""
        HAND.goes_first()
        self.waits = True
        self._lay_on(job, path, stamp)
        QTimer.singleShot(0, self.catch_up)

    def _lay_on(self, job: Job, path: Path | None = None, stamp: FileStamp | None = None) -> None:
        self.document = Document(job, path, stamp)
        self.studies = Studies(job)
        self.gaps.forget()
        self.look_at = Selection.first(job, self.look_at.station)
        self._before: Judged | None = None
        self._looked_at: dict[str, str | None] = {}  # the number last looked at, by station
        self._found: tuple[Job, bool, list[Finding]] | None = None
        self._pick_first_figure()
        self.file_changed.emit()
        self.job_changed.emit()
        self.selection_changed.emit()

    def catch_up(self) -> None:
        """Judge the job, once it is seen."""
        if self.waits:
            HAND.goes_first()
            self.waits = False
            self._pick_first_figure()
            self.selection_changed.emit()
            self.judging.begin()

    def _pick_first_figure(self) -> None:
        """Keep to the number looked at while there is one, else turn to the first of the station that is open."""
        if self.waits:
            return
        every = self.verdicts(self.axle_key)
        if self.look_at.figure not in [v.figure.key for v in every]:
            mine = [v for v in every if v.station == self.look_at.station] or every
            self.look_at.figure = mine[0].figure.key if mine else None

    # --- what is there

    @property
    def job(self) -> Job:
        """The job as it is now."""
        return self.document.job

    @property
    def axle_key(self) -> str:
        """The axle that is looked at."""
        return self.look_at.axle_key

    @property
    def axle(self) -> Axle:
        """The axle that is looked at."""
        return self.job.vehicle.axle(self.axle_key)

    @property
    def posture(self) -> AxlePosture:
        """The posture of the axle looked at."""
        return self.look_at.posture.of(self.axle_key)

    @property
    def spot(self) -> Spot | None:
        """The point held."""
        return self.look_at.spot

    @property
    def figure(self) -> str | None:
        """The number looked at."""
        return self.look_at.figure

    @property
    def on_its_way(self) -> bool:
        """Whether a point is being dragged."""
        return self.studies.on_its_way

    def study(self, key: str) -> AxleStudy | None:
        """The study of an axle; None when nothing holds it."""
        return self.studies.axle(key)

    def verdicts(self, key: str) -> list[Verdict]:
        """The judged figures of an axle."""
        return self.studies.verdicts(key)

    # --- the document

    def mark_unsaved(self) -> None:
        """This job is in no file, even though nothing was edited since it came to the bench."""
        self.document.mark_unsaved()
        self.file_changed.emit()

    def was_saved(self, path: Path, stamp: FileStamp) -> None:
        """The job as it is now is in a file."""
        self.document.was_saved(path, stamp)
        self.file_changed.emit()

    def do(self, edit: Edit) -> Outcome:
        """Apply an edit; what is refused is told and changes nothing."""
        HAND.goes_first()
        self.waits = False
        before = self._judged() if not self.on_its_way else self._before
        outcome = self.document.do(edit)
        if outcome.done:
            self.studies.on_its_way = edit.merge is not None and edit.merge.startswith("drag")
            self._after(before)
        elif outcome.state == "refused":
            self.refused.emit(outcome.sentence)
        return outcome

    def let_go(self) -> None:
        """A drag ends: it is one step to undo, and the +/- is worked out anew."""
        HAND.goes_first()
        self.document.history.seal()
        if self.on_its_way:
            self.studies.settle()
            self.job_changed.emit()

    @property
    def setup(self) -> "Setup":
        """How papers of this job are made: on which paper, and from which file."""
        from even_stance.exchange.paper import Setup  # noqa: PLC0415 - paper is loaded late

        path = self.document.path
        return Setup(self.paper_size, "" if path is None else path.name, comma=HABITS.comma)

    def write(self, entries: tuple[Entry, ...]) -> None:
        """Write the diary: no step to undo, for a diary says what happened."""
        self.document.history.write(entries)
        self.studies.show(self.job)
        self.job_changed.emit()

    def undo(self) -> None:
        """Take back the last edit."""
        self._step(self.document.history.undo)

    def redo(self) -> None:
        """Bring back the edit taken back last."""
        self._step(self.document.history.redo)

    def go_back(self, steps: int) -> None:
        """Take back several edits at once, or with a minus bring back several; shown once, at the end."""
        history = self.document.history
        step = history.undo if steps > 0 else history.redo
        self._step(lambda: sum(step() for _ in range(abs(steps))) > 0)

    def _step(self, step: Callable[[], bool]) -> None:
        HAND.goes_first()
        before = self._judged()
        self.studies.on_its_way = False
        if step():
            self._after(before)

    def _after(self, before: "Judged | None") -> None:
        """Catch up with the job."""
        job, look_at = self.job, self.look_at
        self._before = before
        keys = [a.key for a in job.vehicle.axles]
        if look_at.axle_key not in keys:
            look_at.axle_key = keys[-1]
        if look_at.spot is not None and not is_there(job, look_at.spot):
            look_at.spot = None
        self.studies.show(job)
        self._pick_first_figure()
        self.job_changed.emit()

    def try_as_variant(self, edit: Edit, wish: str = "") -> Outcome:
        """Make a change on a copy: the car as it is stays as a variant, and is drawn beneath."""
        before = self.job.branch
        outcome = self.do(branch_off(fresh_name(self.job, wish or edit.label), edit))
        if outcome.done:
            self.set_overlay(before)
        return outcome

    # --- what else changed

    def _judged(self) -> Judged:
        """All that is judged of the car at ride height, over all axles and stations."""
        verdicts = {a.key: self.studies.at_ride(a.key)[0] for a in self.job.vehicle.axles}
        return Judged(self.job, verdicts, tuple(self.findings()))

    def changes(self) -> list[Change]:
        """What came better and what got worse with the last edit, worst first."""
        # While a point is on its way, what it binds by is not looked for.
        unknown = frozenset({"binds"}) if self.on_its_way else frozenset()
        before = self._before
        if before is None:
            return []
        return fenced("What else changed", lambda: what_changed(before, self._judged(), unknown), lambda _why: [])

    def findings(self) -> list[Finding]:
        """Everything missing or worth a look, for the work order."""
        now = (self.job, self.on_its_way)
        if self._found is None or self._found[0] is not now[0] or self._found[1] != now[1]:
            found: list[Finding] = []
            for find in self._finders:
                found += fenced("What is missing or worth a look", partial(find, self.studies), self._fault)
            self._found = (*now, [*found, *self.studies.troubles()])
        return self._found[2]

    @staticmethod
    def _fault(why: str) -> list[Finding]:
        return [Finding("fault", "stop", "stance", "not worked out", why)]

    def gaps_found(self) -> None:
        """What comes near to what is known anew: findings, vials and changes are."""
        self._found = None
        self._pick_first_figure()

    def built(self) -> None:
        """What links and counts come to is known anew: findings are."""
        self.studies.links = self.build.study
        self._found = None

    def measured_again(self) -> None:
        """What is found is to be found, or to be put into words, anew."""
        self._found = None

    # --- what is looked at

    def open_station(self, key: str) -> None:
        """Turn to another station."""
        HAND.goes_first()
        if key != self.look_at.station:
            self._looked_at[self.look_at.station] = self.look_at.figure
            self.look_at.station = key
            self.look_at.figure = self._looked_at.get(key)
            self._pick_first_figure()
            self.selection_changed.emit()

    def select_axle(self, key: str) -> None:
        """Look at another axle."""
        HAND.goes_first()
        if key != self.axle_key:
            self.look_at.axle_key = key
            self.look_at.spot = None
            self._pick_first_figure()
            self.job_changed.emit()
            self.selection_changed.emit()

    def select_spot(self, spot: Spot | None) -> None:
        """Take hold of a point."""
        if spot != self.spot:
            self.look_at.spot = spot
            self.selection_changed.emit()

    def take_hold(self, spot: Spot | None) -> None:
        """Take hold of a point anywhere on the car; its axle is looked at."""
        if spot is not None and spot.axle:
            self.select_axle(spot.axle)
        self.select_spot(spot)

    def select_figure(self, key: str) -> None:
        """Look at a figure and its construction."""
        if key != self.figure:
            self.look_at.figure = key
            self.selection_changed.emit()

    def explain_figure(self, key: str) -> None:
        """Look at a figure and ask why it is what it is."""
        asked = key == self.figure and not self.look_at.why
        self.look_at.why = True
        if asked:
            self.selection_changed.emit()
        self.select_figure(key)

    def set_why(self, shown: bool) -> None:
        """Open or close the explanation of the figure looked at."""
        if shown != self.look_at.why:
            self.look_at.why = shown
            self.selection_changed.emit()

    def set_overlay(self, name: str | None) -> None:
        """Draw another variant beneath the one on the bench, or none."""
        if name != self.look_at.overlay:
            self.look_at.overlay = name
            self.job_changed.emit()

    @property
    def overlaid(self) -> Vehicle | None:
        """The car that is drawn beneath, if there is one."""
        name = self.look_at.overlay
        if name is None or name == self.job.branch or name not in branch_names(self.job):
            return None
        return vehicle_of(self.job, name)

    def overlaid_study(self, key: str) -> AxleStudy | None:
        """The study of an axle of the variant drawn beneath, at the same posture."""
        vehicle = self.overlaid
        return None if vehicle is None else self.studies.beneath(vehicle, key)

    def set_load_case(self, case: CaseKey | None) -> None:
        """Draw the loads of a case, or none."""
        if case != self.look_at.load_case:
            self.look_at.load_case = case
            self.selection_changed.emit()

    # --- where the wheels are

    def set_posture(self, left: float, right: float, steer: float | None = None) -> None:
        """Put the wheels of the axle looked at to a travel within what is wanted, mm, bump +, and to a steer input."""
        now = replace(self.posture, left_mm=left, right_mm=right)
        self.set_car_posture(
            self.look_at.posture.put(self.axle_key, now if steer is None else replace(now, steer=steer))
        )

    def set_steer(self, steer: float) -> None:
        """Steer the axle looked at, hand-wheel turns or mm of rod, + left; another axle goes along as was chosen."""
        posture = self.look_at.posture.put(self.axle_key, replace(self.posture, steer=steer))
        if self.look_at.along:
            opposite = self.look_at.along == "opposite"
            for key, other in steered_along(self.job.vehicle, self.axle_key, steer, opposite).items():
                posture = posture.put(key, replace(posture.of(key), steer=other))
        self.set_car_posture(posture)

    def set_along(self, way: Along) -> None:
        """Say what another steered axle does while the one looked at is steered."""
        self.look_at.along = way
        self.set_steer(self.posture.steer)
        self.selection_changed.emit()

    def set_car_posture(self, posture: CarPosture) -> None:
        """Put the wheels of the whole car somewhere, within the wanted travel of each axle."""
        HAND.goes_first()
        posture = posture.within(self.job.vehicle)
        if posture != self.look_at.posture:
            self.look_at.posture = self.studies.posture = posture
            self.job_changed.emit()
