"""Gaps in words: where each is tightest, whether that is enough, and the tightest of each kind as a judged number."""

from dataclasses import replace

from even_stance.judgement.bands import Wanted
from even_stance.judgement.findings import Finding
from even_stance.judgement.standards import STANDARDS
from even_stance.judgement.verdicts import State, Verdict
from even_stance.study.axlestates import steer_ends
from even_stance.study.cargaps import GROUND
from even_stance.study.clearances import Gap, GapStudy
from even_stance.study.figures import Figure
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.job import Band, Job

# Which kind a pair counts for: the first of these that either part is of.
_ORDER = ("tires", "shaft", "steering", "springs", "lines", "links", "axle", "body")
# The station whose business a kind is besides Clearance.
STATIONS = {"tires": "travel", "links": "links", "shaft": "driveline", "steering": "steering", "springs": "springs"}
_LOCK = 0.97
TOUCHING_MM = 3.175  # an eighth at full bump is called touching (common practice, no source)


def kind_of(gap: Gap) -> str:
    """Which kind of gap a pair is."""
    if GROUND in (gap.a, gap.b):
        return "ground"
    families = {gap.a.family, gap.b.family}
    return next((kind for kind in _ORDER if kind in families), "body")


def gap_key(gap: Gap) -> str:
    """The judged number a pair counts for."""
    return f"gap_{kind_of(gap)}_mm"


def wanted_of(job: Job, gap: Gap) -> float:
    """What is wanted of a pair: as said of the two, else the person's own mark for its kind, else what they ask for."""
    said = any({w.a, w.b} == set(gap.names) for w in job.vehicle.clearances.wanted)
    own = job.bands.get(gap_key(gap))
    return gap.wanted_mm if said or own is None or own.low is None else own.low


def short_of(job: Job, gap: Gap) -> float:
    """By how much a gap is less than wanted, mm; nil or less: wide enough."""
    return wanted_of(job, gap) - gap.gap_mm


def wheel_words(mm: float, units: System) -> str:
    """Where a wheel is: "3 up", "1 1/2 down", "level"."""
    if abs(mm) < (0.8 if units == "us" else 0.5):
        return "level"
    return f"{format_length(abs(mm), units).removeprefix('~')} {'up' if mm > 0 else 'down'}"


def steer_place(job: Job, axle: str, steer: float) -> str:
    """Where the wheels are steered to: "lock left", "half right", "" straight ahead."""
    ends = steer_ends(job.vehicle.axle(axle))
    if ends is None or abs(steer) < 1e-9:
        return ""
    end, side = (ends[1], "left") if steer > 0.0 else (ends[0], "right")
    share = steer / end if end else 0.0
    if share > _LOCK:
        return f"lock {side}"
    if share < 0.05:
        return ""
    return f"{100 * share:.0f} % {side}"


def posture_words(job: Job, gap: Gap) -> str:
    """Where a gap is tightest, in the words of the shop: "left 3 up, right 2 down, lock left"."""
    if kind_of(gap) == "ground":
        return "on its stops" if gap.left_mm > 0.0 else "at ride height"
    words = place_words(job, gap.axle, gap.left_mm, gap.right_mm, gap.steer)
    if gap.other is not None:
        key, left, right, steer = gap.other
        words = f"{gap.axle}: {words}; {key}: {place_words(job, key, left, right, steer)}"
    return f"{words}, tail up" if gap.tail_up else words


def place_words(job: Job, axle: str, left: float, right: float, steer: float) -> str:
    """Where the wheels of an axle are, and how far they are turned, in the words of the shop."""
    units = job.units
    if abs(left - right) < 1.0:
        said = "ride height" if abs(left) < 1.0 else f"both {wheel_words(left, units)}"
    else:
        said = f"left {wheel_words(left, units)}, right {wheel_words(right, units)}"
    place = steer_place(job, axle, steer)
    return f"{said}, {place}" if place else said


def gap_words(mm: float, units: System) -> str:
    """A gap, or by how much two overlap."""
    size = f"{format_length(abs(mm), units).removeprefix('~')} {length_unit(units)}"
    return f"overlap {size}" if mm < 0.0 and not size.startswith("0 ") else size


def gap_figure(mm: float, units: System) -> str:
    """A gap as a bare figure, negative where two overlap."""
    size = format_length(abs(mm), units).removeprefix("~")
    return f"-{size}" if mm < 0.0 and size != "0" else size


def state_of_gap(job: Job, gap: Gap) -> State:
    """Whether a gap is wide enough."""
    wanted = wanted_of(job, gap)
    if gap.gap_mm < wanted:
        return "low"
    return "unsure" if gap.gap_mm - wanted < gap.sure_mm else "inside"


def verdict_words(job: Job, gap: Gap) -> str:
    """What a gap means: hits, may touch, too close, or clear."""
    where = posture_words(job, gap)
    a, b = gap.names
    pair = f"{a}; {b}" if "," in a + b else f"{a}, {b}"
    if gap.gap_mm < 0.0:
        head = "Hits"
    elif gap.gap_mm < max(gap.sure_mm, TOUCHING_MM):
        head = "May touch"
    elif state_of_gap(job, gap) == "low":
        head = "Too close"
    else:
        head = "Clear"
    return f"{head}: {pair} ({where})."


def gap_verdicts(job: Job, study: GapStudy, axle: str) -> list[Verdict]:
    """The gap of each kind that is most short of what is wanted of it, of what one axle moves."""
    worst: dict[str, Gap] = {}
    for gap in study.gaps:
        if axle not in (gap.axle, gap.other[0] if gap.other else ""):
            continue
        key = gap_key(gap)
        if key not in worst or short_of(job, gap) > short_of(job, worst[key]):
            worst[key] = gap
    return [_verdict(job, worst[key]) for key in STANDARDS if key in worst]


def _verdict(job: Job, gap: Gap) -> Verdict:
    key = gap_key(gap)
    standard = STANDARDS[key]
    own = job.bands.get(key) is not None or any({w.a, w.b} == set(gap.names) for w in job.vehicle.clearances.wanted)
    basis = "your own band in this job" if own else standard.basis
    wanted = Wanted(Band(low=wanted_of(job, gap)), standard.reason, basis, own)
    figure = Figure(key, gap.gap_mm, gap.sure_mm)
    state = state_of_gap(job, gap)
    words = verdict_words(job, gap)
    return Verdict(figure, wanted, state, f"{words} Too close to the mark to be sure." if state == "unsure" else words)


def gap_findings(job: Job, study: GapStudy) -> list[Finding]:
    """What is too close, one for each kind and axle, at Clearance and at the station whose business it is."""
    found = []
    for axle in job.vehicle.axles:
        for verdict in gap_verdicts(job, study, axle.key):
            if verdict.state != "low":
                continue
            kind = verdict.figure.key.removeprefix("gap_").removesuffix("_mm")
            severity = "stop" if verdict.figure.value < 0.0 else "look"
            short = f"{verdict.title.lower()} {'hit' if severity == 'stop' else 'too close'}"
            finding = Finding(verdict.figure.key, severity, "clearance", short,  # type: ignore[arg-type]
                              f"{axle.key.capitalize()} axle: {verdict.sentence}", axle.key)  # fmt: skip
            found.append(finding)
            if kind in STATIONS:
                found.append(replace(finding, station=STATIONS[kind]))
    return found + _touching_findings(job, study)


def _touching_findings(job: Job, study: GapStudy) -> list[Finding]:
    """Pairs that touch as measured: whether they are meant to, or were taped a little large, nobody said."""
    if not study.touching:
        return []
    gap, count = study.touching[0], len(study.touching)
    more = f" So do {count - 1} more pairs." if count > 2 else " So does one more pair." if count == 2 else ""
    size = gap_words(-gap.gap_mm, job.units)
    touch = "touch" if size.startswith("0 ") else f"are inside each other by {size}"
    sentence = (
        f"{gap.a.name} and {gap.b.name} {touch} at ride height, no more than their places are unsure of "
        f"({gap_words(gap.sure_mm, job.units)}): tape them surer, or say on Clearance, Gaps, that they belong "
        f"together.{more}"
    )
    return [Finding("touching", "not_judged", "clearance", f"{count} touching", sentence)]


def close_ones(job: Job, study: GapStudy) -> list[Gap]:
    """The gaps that are less than wanted, the worst first."""
    return sorted((g for g in study.gaps if short_of(job, g) > 0.0), key=lambda g: g.gap_mm)


def machine_readable_gaps(job: Job, study: GapStudy) -> list[dict[str, object]]:
    """The fixed keys of `even-stance clearances`, tightest first, and what else is known of each."""
    every = sorted(
        [(g, False) for g in study.gaps] + [(g, True) for g in study.touching], key=lambda pair: pair[0].gap_mm
    )
    rows = []
    for gap, touching in every:
        row: dict[str, object] = {
            "a": gap.a.name, "b": gap.b.name, "gap_mm": round(gap.gap_mm, 3),
            "wanted_mm": round(wanted_of(job, gap), 3), "axle": gap.axle,
            "left_mm": round(gap.left_mm, 3), "right_mm": round(gap.right_mm, 3),
            "steer": round(gap.steer, 5), "sure_mm": round(gap.sure_mm, 3), "ride_mm": round(gap.ride_mm, 3),
            "touching_as_measured": touching,
        }  # fmt: skip
        if gap.free_mm is not None:
            row["without_stops_mm"] = round(gap.free_mm, 3)
        if gap.other is not None:
            row["other"] = dict(zip(("axle", "left_mm", "right_mm", "steer"), gap.other, strict=True))
        if gap.tail_up:
            row["tail_up"] = True
        rows.append(row)
    return rows
