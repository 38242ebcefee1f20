"""What is open on the bench: the job with its history, what is selected, and the studies all views show."""

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from even_stance.errors import StanceError
from even_stance.exchange.jobfile import FileStamp
from even_stance.judgement.bands import judged_keys, wanted
from even_stance.judgement.findings import Finding, link_findings, stance_findings, travel_findings
from even_stance.judgement.verdicts import Verdict, judge, study_wanted_bind
from even_stance.shop.findings import shop_findings
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.floor import AxlePlace
from even_stance.study.loads import CaseKey, LoadStudy, study_loads
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Edit
from even_stance.vehicle.history import History
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.variants import branch_names, branch_off, fresh_name, vehicle_of


def _all_but_links(vehicle: Vehicle) -> tuple[object, ...]:
    """Everything of a car that a study of one axle may read of the others: all fields but links and shaft ends."""
    own = ("members", "output", "pinion")
    axles = [tuple(getattr(a, n) for n in Axle.model_fields if n not in own) for a in vehicle.axles]
    return (*(getattr(vehicle, n) for n in Vehicle.model_fields if n != "axles"), *axles)


class Bench(QObject):
    """The one place that edits go through; views listen and ask.

    Signals:
        job_changed: the job or the posture changed: everything shown may differ.
        selection_changed: another point, figure or axle is looked at.
        refused: an edit was refused; the sentence says why.
        file_changed: another file is open, or it was saved.
    """

    job_changed = pyqtSignal()
    selection_changed = pyqtSignal()
    refused = pyqtSignal(str)
    file_changed = pyqtSignal()

    def __init__(self, job: Job) -> None:
        super().__init__()
        self.open_job(job)

    def open_job(self, job: Job, path: Path | None = None, stamp: FileStamp | None = None) -> None:
        """Lay another job on the bench."""
        self.history = History(job)
        self.saved: Job | None = job if path is not None else None
        self.path, self.stamp = path, stamp
        self._never_saved = False
        self.left = self.right = 0.0
        self.spot: Spot | None = None
        self.figure: str | None = None
        self.both_sides = True
        self.load_case: CaseKey | None = None
        self.why = False
        self.overlay: str | None = None
        self.on_its_way = False  # a point is being dragged
        self._memo: dict[str, tuple[object, ...]] = {}
        linked = [a.key for a in job.vehicle.axles if a.members]
        self.axle_key = "rear" if "rear" in linked else (linked or [job.vehicle.axles[-1].key])[0]
        self._pick_first_figure()
        self.file_changed.emit()
        self.job_changed.emit()
        self.selection_changed.emit()

    def _pick_first_figure(self) -> None:
        verdicts = self.verdicts(self.axle_key)
        keys = [v.figure.key for v in verdicts]
        if self.figure not in keys:
            self.figure = keys[0] if keys else None

    @property
    def job(self) -> Job:
        """The job as it is now."""
        return self.history.job

    @property
    def axle(self) -> Axle:
        """The axle that is looked at."""
        return self.job.vehicle.axle(self.axle_key)

    @property
    def dirty(self) -> bool:
        """Whether there is work that is not in the file. A fresh, untouched demo has none."""
        if self.saved is not None:
            return self.job != self.saved
        return self._never_saved or self.history.undo_label is not None

    def mark_unsaved(self) -> None:
        """This job is in no file, even though nothing was edited since it came to the bench."""
        self.saved = None
        self._never_saved = True
        self.file_changed.emit()

    def was_saved(self, path: Path, stamp: FileStamp) -> None:
        """The job as it is now is in a file."""
        self.path, self.stamp, self.saved, self._never_saved = path, stamp, self.job, False
        self.file_changed.emit()

    def do(self, edit: Edit) -> bool:
        """Apply an edit; what is refused is told and changes nothing."""
        try:
            if not self.history.do(edit):
                return False
        except StanceError as error:
            self.refused.emit(str(error))
            return False
        self.on_its_way = edit.merge is not None and edit.merge.startswith("drag")
        self._after()
        return True

    def let_go(self) -> None:
        """A drag ends: it is one step to undo, and the +/- is worked out anew."""
        self.history.seal()
        if self.on_its_way:
            self.on_its_way = False
            self._memo.clear()
            self.job_changed.emit()

    def undo(self) -> None:
        """Take back the last edit."""
        self.on_its_way = False
        if self.history.undo():
            self._after()

    def redo(self) -> None:
        """Bring back the edit taken back last."""
        self.on_its_way = False
        if self.history.redo():
            self._after()

    def _after(self) -> None:
        """Catch up with the job."""
        keys = [a.key for a in self.job.vehicle.axles]
        if self.axle_key not in keys:
            self.axle_key = keys[-1]
        if self.spot is not None and not self.there(self.spot):
            self.spot = None
        self._pick_first_figure()
        self.job_changed.emit()

    def there(self, spot: Spot) -> bool:
        """Whether a point is on the car as it is now."""
        try:
            return spot.end in self.job.vehicle.axle(spot.axle).member(spot.member).mounts
        except KeyError:
            return False

    def select_axle(self, key: str) -> None:
        """Look at another axle; the posture goes back to ride height."""
        if key != self.axle_key:
            self.axle_key = key
            self.spot = None
            self.left = self.right = 0.0
            self._pick_first_figure()
            self.job_changed.emit()
            self.selection_changed.emit()

    def select_spot(self, spot: Spot | None) -> None:
        """Take hold of a point."""
        if spot != self.spot:
            self.spot = spot
            self.selection_changed.emit()

    def explain_figure(self, key: str) -> None:
        """Look at a figure and ask why it is what it is."""
        asked = key == self.figure and not self.why
        self.why = True
        if asked:
            self.selection_changed.emit()
        self.select_figure(key)

    def set_why(self, shown: bool) -> None:
        """Open or close the explanation of the figure looked at."""
        if shown != self.why:
            self.why = shown
            self.selection_changed.emit()

    def set_overlay(self, name: str | None) -> None:
        """Draw another variant beneath the one on the bench, or none."""
        if name != self.overlay:
            self.overlay = name
            self.job_changed.emit()

    @property
    def overlaid(self) -> Vehicle | None:
        """The car that is drawn beneath, if there is one."""
        if self.overlay is None or self.overlay == self.job.branch or self.overlay not in branch_names(self.job):
            return None
        return vehicle_of(self.job, self.overlay)

    def try_as_variant(self, edit: Edit, wish: str = "") -> bool:
        """Make a change on a copy: the car as it is stays as a variant, and is drawn beneath."""
        before = self.job.branch
        if not self.do(branch_off(fresh_name(self.job, wish or edit.label), edit)):
            return False
        self.set_overlay(before)
        return True

    def select_figure(self, key: str) -> None:
        """Look at a figure and its construction."""
        if key != self.figure:
            self.figure = key
            self.selection_changed.emit()

    def set_posture(self, left: float, right: float) -> None:
        """Put the wheels of the axle looked at to a travel, mm, bump +, within its wanted travel."""
        axle = self.axle
        left = min(max(left, -axle.droop_mm), axle.bump_mm)
        right = min(max(right, -axle.droop_mm), axle.bump_mm)
        if (left, right) != (self.left, self.right):
            self.left, self.right = left, right
            self.job_changed.emit()

    def overlaid_study(self, key: str) -> AxleStudy | None:
        """The study of an axle of the variant drawn beneath, at the same posture."""
        vehicle = self.overlaid
        if vehicle is None or key not in [a.key for a in vehicle.axles]:
            return None
        axle = vehicle.axle(key)
        posture = (self.left, self.right) if key == self.axle_key else (0.0, 0.0)
        kept = self._memo.get(f"{key} beneath")
        if kept is None or kept[0] != posture or kept[1] is not vehicle:
            try:
                found: object = study_axle(vehicle, axle, *posture, {})
            except StanceError as error:
                found = str(error)
            kept = self._memo[f"{key} beneath"] = (posture, vehicle, found)
        return kept[2] if isinstance(kept[2], AxleStudy) else None

    def study(self, key: str) -> AxleStudy | None:
        """The study of an axle; None when nothing holds it."""
        result = self._studied(key)
        return result if isinstance(result, AxleStudy) else None

    def places(self) -> list[AxlePlace]:
        """Every axle where it is drawn; the same ones as long as nothing about them changes."""
        places = []
        for axle in self.job.vehicle.axles:
            study = self.study(axle.key) if axle.members else None
            kept = self._memo.get(f"{axle.key} place")
            if kept is None or kept[0] is not axle or kept[1] is not study:
                kept = self._memo[f"{axle.key} place"] = (axle, study, AxlePlace(axle, study))
            assert isinstance(kept[2], AxlePlace)
            places.append(kept[2])
        return places

    def layout_error(self, key: str) -> str | None:
        """Why an axle cannot be studied, if so; None for an axle without links of its own."""
        result = self._studied(key)
        return result if isinstance(result, str) and self.job.vehicle.axle(key).members else None

    def _studied(self, key: str) -> AxleStudy | str:
        vehicle = self.job.vehicle
        axle = vehicle.axle(key)
        posture = (self.left, self.right) if key == self.axle_key else (0.0, 0.0)
        rest = _all_but_links(vehicle)
        kept = self._memo.get(key)
        same = kept is not None and kept[0] == rest and (kept[1] is axle or kept[1] == axle)
        if kept is not None and same and kept[3] == posture:
            result = kept[2]
            assert isinstance(result, AxleStudy | str)
            return result
        # Where just the wheels have moved, what happens over travel is known.
        travel = kept[2].travel if kept is not None and same and isinstance(kept[2], AxleStudy) else None
        answer: AxleStudy | str
        try:
            answer = study_axle(vehicle, axle, *posture, self._spreads(kept), travel)
        except StanceError as error:
            answer = str(error)
        self._memo[key] = (rest, axle, answer, posture)
        return answer

    def _spreads(self, kept: tuple[object, ...] | None) -> dict[str, float] | None:
        """While a point is dragged, the +/- of a moment ago stands in: it hardly moves and costs half the time."""
        if not self.on_its_way or kept is None or not isinstance(kept[2], AxleStudy):
            return None
        return {f.key: f.spread for f in kept[2].figures}

    def verdicts(self, key: str) -> list[Verdict]:
        """The judged figures of an axle."""
        study = self.study(key)
        if study is None:
            return []
        kept = self._memo.get(f"{key} verdicts")
        # Whatever they are made of, verdicts read the bands: asked anew, they cannot be those of another state.
        now = (study, tuple(wanted(self.job, f.key, key) for f in study.figures), self.job.units)
        if kept is not None and kept[0] is study and kept[1:3] == now[1:]:
            result = kept[3]
            assert isinstance(result, list)
            return result
        verdicts = judge(self.job, study)
        self._memo[f"{key} verdicts"] = (*now, verdicts)
        return verdicts

    def set_load_case(self, case: CaseKey | None) -> None:
        """Draw the loads of a case, or none."""
        if case != self.load_case:
            self.load_case = case
            self.selection_changed.emit()

    def loads(self) -> LoadStudy | None:
        """The loads of the case chosen on the axle looked at; None without a case, or where they cannot be had."""
        study = self.study(self.axle_key)
        if self.load_case is None or study is None or not study.now.ok[0]:
            return None
        try:
            return study_loads(self.job.vehicle, study.now, self.job.loads, self.load_case)
        except StanceError:
            return None

    def _shop_findings(self) -> list[Finding]:
        """Findings from measuring; kept while nothing that was measured changes, so that drags need not wait."""
        rest = (self.job.measuring, self.job.vehicle, self.job.units)
        kept = self._memo.get("shop")
        if kept is None or (not self.on_its_way and kept[:3] != rest):
            kept = self._memo["shop"] = (*rest, shop_findings(self.job))
        found = kept[3]
        assert isinstance(found, list)
        return found

    def _at_ride(self, key: str) -> tuple[list[Verdict], list[Finding]]:
        """Verdicts at ride height and findings over travel: what the work order says does not go with the rail."""
        study = self.study(key)
        if study is None:
            return [], []
        job, bands = self.job, tuple(wanted(self.job, k, key) for k in judged_keys())
        kept = self._memo.get(f"{key} at ride")
        if kept is not None and kept[0] is study.travel and kept[1] == (bands, job.purpose, job.units):
            verdicts, found = kept[2], kept[3]
            assert isinstance(verdicts, list)
            assert isinstance(found, list)
            return verdicts, found
        spreads = {f.key: f.spread for f in study.figures} or None
        if study.now.left[0] or study.now.right[0]:
            ride = study_axle(job.vehicle, study.axle, 0.0, 0.0, spreads, study.travel)
            verdicts = judge(job, ride)
        else:
            ride, verdicts = study, self.verdicts(key)
        # While a point is on its way, what it binds by is left for when it is let go.
        bind = None if self.on_its_way else study_wanted_bind(job, ride)
        found = travel_findings(job, ride, bind)
        self._memo[f"{key} at ride"] = (study.travel, (bands, job.purpose, job.units), verdicts, found)
        return verdicts, found

    def findings(self) -> list[Finding]:
        """Everything missing or worth a look, for the work order."""
        axles = [a.key for a in self.job.vehicle.axles if a.members]
        errors = {k: e for k in axles if (e := self.layout_error(k)) is not None}
        found = [*stance_findings(self.job), *self._shop_findings()]
        found += link_findings({k: self._at_ride(k)[0] for k in axles}, errors)
        for key in axles:
            found += self._at_ride(key)[1]
        return found
