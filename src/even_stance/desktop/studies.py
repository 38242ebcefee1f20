"""The studies all views show, each kept with the records it was made from: another record is another study."""

from collections.abc import Callable
from functools import partial
from typing import Any, TypeVar

import numpy as np

from even_stance.errors import StanceError
from even_stance.faults import fenced
from even_stance.judgement.bands import all_wanted, bands_read
from even_stance.judgement.build import build_findings, strength_findings
from even_stance.judgement.clearances import gap_findings, gap_verdicts
from even_stance.judgement.findings import Finding, number_findings, travel_findings
from even_stance.judgement.springs import spring_findings
from even_stance.judgement.verdicts import Verdict, judge, judge_beams, study_wanted_bind
from even_stance.shop.asbuilt import built_findings, unbuilt_findings
from even_stance.shop.buildsheet import BuildStudy
from even_stance.shop.builtstudy import BuiltStudy
from even_stance.shop.findings import shop_findings
from even_stance.shop.rechecks import recheck_findings
from even_stance.shop.survey import unknown
from even_stance.study.beams import beams_of
from even_stance.study.carried import carrier_of, standing
from even_stance.study.clearances import GapStudy
from even_stance.study.figures import AxleStudy, study_axle
from even_stance.study.loads import CaseKey, LoadStudy, study_loads
from even_stance.study.places import AxlePlace
from even_stance.study.powertrain import seated
from even_stance.study.springstops import StopRun, stops_of
from even_stance.study.state import CarState, state_of
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.job import Job
from even_stance.vehicle.posture import RIDE, AxlePosture, CarPosture

T = TypeVar("T")


def _rest_of(vehicle: Vehicle, driven: bool) -> tuple[object, ...]:
    """Everything of a car that a study of one axle may read besides that axle: of the others all fields but links and
    shaft ends; the powertrain just where an output on it drives the axle.
    """
    own = ("members", "output", "pinion", "shaft", "steering")
    axles = [tuple(getattr(a, n) for n in Axle.model_fields if n not in own) for a in vehicle.axles]
    unread = {"axles", "things", "clearances", "build"} | (set() if driven else {"powertrain"})
    return (*(getattr(vehicle, n) for n in Vehicle.model_fields if n not in unread), *axles)


class Studies:
    """Studies of the job and posture shown, made when first asked for.

    Attributes:
        job, posture: what is studied; set anew whenever they change.
        gaps: what comes near to what, as far as it is known; gaps_of: the car that all of it was found of.
        links: the build sheet, as far as it is; as_built: the built car; all are worked out beside the window.
        trouble: what could not be worked out of this job, by what it is.
        on_its_way: a point is being dragged: the +/- of a moment ago stands in, and slow findings wait.
    """

    def __init__(self, job: Job) -> None:
        self.show(job)
        self.posture = CarPosture()
        self.on_its_way = False
        self.gaps: GapStudy | None = None
        self.gaps_of: Vehicle | None = None
        self.links: BuildStudy | None = None
        self.as_built: BuiltStudy | None = None
        self._kept: dict[str, tuple[tuple[object, ...], Any]] = {}
        self.trouble: dict[str, Finding] = {}
        self._stand_in: set[str] = set()  # what was made while a point was on its way

    def show(self, job: Job) -> None:
        """Study another job from now on."""
        self.job = job
        # What is read again and again of one job: a job never changes, so it is true as long as this job is shown.
        self._of_job: dict[str, tuple[object, ...]] = {}

    def forget(self) -> None:
        """Nothing is kept: what was said in one way is to be said in another."""
        self._kept.clear()
        self._stand_in.clear()
        self._of_job = {}

    def settle(self) -> None:
        """A drag is over: what stood in is made anew."""
        self.on_its_way = False
        for name in self._stand_in:
            self._kept.pop(name, None)
        self._stand_in.clear()

    def troubles(self) -> list[Finding]:
        """Return what of the axles there are could not be worked out."""
        keys = {a.key for a in self.job.vehicle.axles}
        return [f for f in self.trouble.values() if f.axle in keys]

    def _fence(self, what: str, key: str, make: Callable[[], T], instead: T) -> T:
        """Return what a study of an axle makes; where it fails, what stands in its place, and keep a finding of it."""
        what = f"{what} of the {key} axle"

        def say(why: str) -> T:
            self.trouble[what] = Finding("fault", "stop", "stance", "not worked out", why, key)
            return instead

        self.trouble.pop(what, None)
        return fenced(what, make, say)

    def _keep(self, name: str, reads: tuple[object, ...], make: Callable[[], T]) -> T:
        """What was made of these records before, or is made of them now."""
        kept = self._kept.get(name)
        if kept is None or kept[0] != reads:
            kept = self._kept[name] = (reads, make())
            if self.on_its_way:
                self._stand_in.add(name)
            else:
                self._stand_in.discard(name)
        found: T = kept[1]
        return found

    # --- one axle

    def axle(self, key: str) -> AxleStudy | None:
        """The study of an axle; None when nothing holds it."""
        result = self._studied(key)
        return result if isinstance(result, AxleStudy) else None

    def layout_error(self, key: str) -> str | None:
        """Why an axle cannot be studied, if so; None for an axle without links of its own."""
        result = self._studied(key)
        return result if isinstance(result, str) and self.job.vehicle.axle(key).members else None

    def _studied(self, key: str) -> AxleStudy | str:
        vehicle, now = self.job.vehicle, self.posture.of(key)
        axle = vehicle.axle(key)
        rest = self._rest(axle)
        carrier = carrier_of(vehicle, axle)
        other = RIDE if carrier is None else self.posture.of(carrier.key)
        rest = rest if carrier is None else (*rest, carrier)
        before = self._kept.get(key)
        same = before is not None and before[0][:2] == (axle, rest)
        if before is not None and same and before[0][2] == (now, other):
            result = before[1]
            assert isinstance(result, AxleStudy | str)
            return result
        old = before[1] if before is not None and isinstance(before[1], AxleStudy) else None
        # Where just the wheels have moved, what happens over travel is known.
        travel = old.travel if old is not None and same else None
        # While a point is dragged, the +/- of a moment ago stands in: it hardly moves and costs half the time.
        uncertainties = old.known if old is not None and self.on_its_way else None

        def study() -> AxleStudy | str:
            try:
                found = study_axle(
                    vehicle, axle, now.left_mm, now.right_mm, uncertainties, travel, (other.left_mm, other.right_mm)
                )
                _ = found.figures  # what cannot be worked out shows here and not while it is drawn
            except StanceError as error:
                return str(error)
            return found

        def fenced_study() -> AxleStudy | str:
            return fenced(f"The {key} axle", study, lambda why: why)

        return self._keep(key, (axle, rest, (now, other)), fenced_study)

    def beneath(self, vehicle: Vehicle, key: str) -> AxleStudy | None:
        """The study of an axle of another car, drawn beneath at the same posture; None where it has none."""
        if key not in [a.key for a in vehicle.axles]:
            return None
        axle, now = vehicle.axle(key), self.posture.of(key)

        def study() -> AxleStudy | None:
            try:
                return study_axle(vehicle, axle, now.left_mm, now.right_mm, {})
            except StanceError:
                return None

        return self._keep(f"{key} beneath", (vehicle, now), study)

    def places(self) -> list[AxlePlace]:
        """Every axle where it is drawn; the same ones as long as nothing about them changes."""
        places = []
        for axle in self.job.vehicle.axles:
            study = self.axle(axle.key) if axle.members else None
            here = seated(self.job.vehicle, axle)
            carrier = carrier_of(self.job.vehicle, axle)
            if carrier is not None:
                there = self.posture.of(carrier.key)
                here = standing(self.job.vehicle, here, there.left_mm, there.right_mm)
            now = self.posture.of(axle.key)
            travel = (now.left_mm, now.right_mm) if beams_of(axle) is not None else (0.0, 0.0)
            reads = (here, study, now.steer, travel)
            places.append(self._keep(f"{axle.key} place", reads, partial(AxlePlace, *reads)))
        return places

    def state(self) -> CarState:
        """Where every body of the car is at the posture shown."""
        vehicle = self.job.vehicle
        places = self.places()

        def make() -> CarState:
            now = {p.axle.key: p.study.now if p.study is not None and p.study.now.ok[0] else None for p in places}
            steer, travel = ({p.axle.key: np.array([getattr(p, n)]) for p in places} for n in ("steer", "travel"))
            return state_of(vehicle, now, 1, steer, travel)

        return self._keep("state", (vehicle, *places), make)

    def loads(self, key: str, case: CaseKey | None) -> LoadStudy | None:
        """The loads of a case on an axle; None without a case, or where they cannot be had."""
        study = self.axle(key)
        if case is None or study is None or not study.now.ok[0]:
            return None
        try:
            return study_loads(self.job.vehicle, study.now, self.job.loads, case)
        except StanceError:
            return None

    # --- judged

    def _bands(self, key: str) -> tuple[object, ...]:
        """All that verdicts read of a job besides the car: bands, purpose and units."""
        if key not in self._of_job:
            job = self.job
            bands = self._keep(f"{key} bands", bands_read(job), partial(all_wanted, job, key))
            self._of_job[key] = (bands, job.purpose, job.units)
        return self._of_job[key]

    def _rest(self, axle: Axle) -> tuple[object, ...]:
        """All that a study of one axle reads of the rest of the car."""
        name = f"{axle.key} rest"
        if name not in self._of_job:
            self._of_job[name] = _rest_of(self.job.vehicle, driven=axle.output is not None)
        return self._of_job[name]

    def _springs(self) -> tuple[object, ...]:
        """All that how the car sits and leans reads of other axles and cargo; nothing without springs."""
        if "springs" not in self._of_job:
            vehicle = self.job.vehicle
            every = tuple((a.members, a.springs) for a in vehicle.axles)
            self._of_job["springs"] = (every, vehicle.cargo) if any(a.springs for a in vehicle.axles) else ()
        return self._of_job["springs"]

    def near(self, key: str) -> list[Verdict]:
        """The tightest gap of each kind of what an axle moves, as far as they are known."""
        gaps = self.gaps
        if gaps is None:
            return []
        job = self.job
        reads = (id(gaps), job.bands, job.units, job.vehicle.clearances)
        return self._keep(f"{key} gaps", reads, lambda: self._fence(
            "Gaps", key, lambda: gap_verdicts(job, gaps, key), []))  # fmt: skip

    def gap_findings(self, station: str) -> list[Finding]:
        """What is too close, at Clearance or at the station whose business it is."""
        gaps, job = self.gaps, self.job
        unseen = self._unseen() if station == "clearance" else []
        if gaps is None:
            return unseen
        reads = (id(gaps), job.bands, job.units, job.vehicle.clearances)
        found = self._keep("gap findings", reads, lambda: gap_findings(job, gaps))
        return [f for f in found if f.station == station] + unseen

    def _unseen(self) -> list[Finding]:
        """What of the gaps of this car nobody has looked at."""
        if self.gaps is None or self.gaps_of != self.job.vehicle:
            why = "What comes near to what has not been looked at yet on the car as it is now."
            return [unknown("clearance", "", why, "not_looked")]
        return [unknown("clearance", "", why, "not_looked") for why in self.gaps.silent]

    def built(self) -> list[Finding]:
        """What the build sheet lacks; with what its links hold, once that was worked out."""
        job, links = self.job, self.links
        kept = self._kept.get("built")
        if kept is not None and self.on_its_way:
            found = kept[1]
            assert isinstance(found, list)
            return found
        known = links if links is not None and links.job == job else None

        def make() -> list[Finding]:
            if known is not None:
                return [*build_findings(job), *strength_findings(job, known.uses)]
            why = "Whether the links hold has not been looked at yet on the car as it is now."
            unseen = [unknown("build", "", why, "not_looked")] if job.vehicle.build.links else []
            return [*build_findings(job), *unseen]

        return self._keep("built", (job.vehicle, job.units, job.bands, id(known)), make)

    def logged(self) -> list[Finding]:
        """What is really off on the built car, and what is to be looked at again."""
        job, built = self.job, self.as_built
        off = [] if built is None else built_findings(job, built.off)
        again = self._keep("rechecks", (job.log, job.measuring), lambda: recheck_findings(job))
        return [*off, *again, *unbuilt_findings(job)]

    def verdicts(self, key: str) -> list[Verdict]:
        """The judged figures of an axle at the posture shown, and its tightest gaps over all of them."""
        return [*self._verdicts(key), *self.near(key)]

    def _verdicts(self, key: str) -> list[Verdict]:
        """The judged figures of an axle at the posture shown."""
        study, axle = self.axle(key), self.job.vehicle.axle(key)
        if study is None:
            reads = (axle, self._rest(axle), *self._bands(key))
            kept = self._kept.get(f"{key} verdicts")
            before = kept[1] if kept is not None and self.on_its_way and isinstance(kept[1], list) else None
            return self._keep(f"{key} verdicts", reads, lambda: self._fence(
                "Verdicts", key, lambda: judge_beams(self.job, axle, before), []))  # fmt: skip
        bands, moving = (*self._bands(key), *self._springs()), self.on_its_way
        kept = self._kept.get(f"{key} verdicts")
        sure = {v.figure.key: v.figure.uncertainty for v in kept[1]} if kept is not None and moving else None
        return self._keep(f"{key} verdicts", (study, *bands), lambda: self._fence(
            "Verdicts", key, lambda: judge(self.job, study, moving, sure), []))  # fmt: skip

    def at_ride(self, key: str) -> tuple[list[Verdict], list[Finding]]:
        """Verdicts at ride height and findings over travel: what the work order says does not go with the rail."""
        verdicts, found = self._at_ride(key)
        return [*verdicts, *self.near(key)], found

    def _at_ride(self, key: str) -> tuple[list[Verdict], list[Finding]]:
        study = self.axle(key)
        if study is None:
            return self._verdicts(key), []
        travel = study.travel

        def make() -> tuple[list[Verdict], list[Finding]]:
            job, ride, verdicts = self.job, study, self._at_posture(RIDE, study, key)
            if verdicts is None:
                uncertainties = {f.key: f.uncertainty for f in study.figures} or None
                ride = study_axle(job.vehicle, study.axle, 0.0, 0.0, uncertainties, travel)
                sure = {v.figure.key: v.figure.uncertainty for v in self._verdicts(key)} if self.on_its_way else None
                verdicts = judge(job, ride, self.on_its_way, sure)
            # While a point is on its way, what it binds by is left for when it is let go.
            bind = None if self.on_its_way else study_wanted_bind(job, ride)
            return verdicts, travel_findings(job, ride, bind)

        reads = (travel, study.axle, *self._bands(key), *self._springs())
        nothing: tuple[list[Verdict], list[Finding]] = ([], [])
        return self._keep(f"{key} at ride", reads, lambda: self._fence("Travel", key, make, nothing))

    def numbers(self, station: str) -> list[Finding]:
        """What of a station's numbers is out of band at ride height, over all axles."""
        return number_findings({a.key: self.at_ride(a.key)[0] for a in self.job.vehicle.axles}, station)

    def _at_posture(self, posture: AxlePosture, study: AxleStudy, key: str) -> list[Verdict] | None:
        here = (float(study.now.left[0]), float(study.now.right[0])) == (posture.left_mm, posture.right_mm)
        return self._verdicts(key) if here else None

    def stops(self, key: str) -> StopRun | None:
        """What ends an axle's travel; kept while a point is on its way."""
        vehicle, kept = self.job.vehicle, self._kept.get(f"{key} stops")
        if kept is not None and self.on_its_way:
            found = kept[1]
            assert found is None or isinstance(found, StopRun)
            return found
        axle = vehicle.axle(key)
        reads = (axle, self._rest(axle))
        return self._keep(
            f"{key} stops", reads, lambda: stops_of(vehicle, axle, contacts=False) if axle.springs else None
        )

    def springs(self) -> list[Finding]:
        """Findings of the springs; kept while a point is on its way, so that drags need not wait."""
        job, kept = self.job, self._kept.get("spring findings")
        if kept is not None and self.on_its_way:
            found = kept[1]
            assert isinstance(found, list)
            return found
        return self._keep("spring findings", (job.vehicle, job.units), lambda: spring_findings(job))

    def measured(self) -> list[Finding]:
        """Findings from measuring; kept while a point is on its way, so that drags need not wait."""
        job, kept = self.job, self._kept.get("measured")
        if kept is not None and self.on_its_way:
            found = kept[1]
            assert isinstance(found, list)
            return found
        return self._keep("measured", (job.measuring, job.vehicle, job.units), lambda: shop_findings(job))
