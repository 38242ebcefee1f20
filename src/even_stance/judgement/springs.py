"""What springs come to, in rows and sentences: what ends the travel, where the car sits, how it rides and leans."""

from dataclasses import replace

from even_stance.errors import InputError, StanceError
from even_stance.judgement.findings import Finding
from even_stance.judgement.steerrows import Rows, lengthwise
from even_stance.judgement.wentin import WentIn, force_in, length_in, mass_in, percent_in, rate_in
from even_stance.mechanics.leaning import heave_rate
from even_stance.study.beams import beams_of
from even_stance.study.leaves import leaves_over_travel
from even_stance.study.model import axle_title
from even_stance.study.ride import NM_DEG, axle_ride, car_ride
from even_stance.study.ridefigures import crossover_left
from even_stance.study.springs import bind_mm, lacking, sprung_n
from even_stance.study.springstops import Stop, StopRun, Way, fits, stops_of
from even_stance.study.springunits import units_of
from even_stance.study.standing import stand, vehicle_cargo
from even_stance.units import (
    POUND_PER_INCH,
    System,
    force_unit,
    format_force,
    format_length,
    format_stiffness,
    length_unit,
    stiffness_unit,
)
from even_stance.vehicle.car import Axle
from even_stance.vehicle.edits import Edit, all_of, change_spring
from even_stance.vehicle.job import Job
from even_stance.vehicle.springs import BumpStop, CoilOver, Damped, Strap

HAPPENS = {
    "closed": "bottoms", "open": "is all the way out", "bind": "closes its coils", "solid": "is solid",
    "touches": "touches", "tight": "is tight", "slack": "comes loose on its seats", "crossover": "crosses over",
    "lock": "lock up", "swing": "has no more swing", "out": "comes out of its spline",
    "bottom": "bottoms in its spline", "center": "is over center", "contact": "hit each other",
}  # fmt: skip
_EASY = 3.0  # mm: what comes nearer together than this comes at the same time


def rate_words(rate: float, units: System) -> str:
    """A spring rate with its unit."""
    return f"{format_stiffness(rate, units)} {stiffness_unit(units)}"


def force_words(newtons: float, units: System) -> str:
    """A force with its unit."""
    return f"{format_force(newtons, units)} {force_unit(units)}"


def torque_per_degree(stiffness: float, units: System) -> str:
    """A roll stiffness, N mm per rad, as it is read: per degree."""
    per = stiffness * NM_DEG
    return f"{per / 1.3558179:.0f} lb ft/°" if units == "us" else f"{per:.0f} N m/°"


def travel_words(mm: float, units: System) -> str:
    """A travel with its way."""
    if abs(mm) < 0.5:
        return "ride height"
    return f"{format_length(abs(mm), units).removeprefix('~')} {length_unit(units)} {'bump' if mm > 0 else 'droop'}"


def plain_name(name: str) -> str:
    """A spring's name without its side, both together: “Coil-overs” from “Coil-over left”."""
    bare = name.removesuffix(" left").removesuffix(" right")
    return bare if bare == name else f"{bare}s"


def together(stops: list[Stop]) -> list[Stop]:
    """What happens on either side at about the same travel, said once of both, at the nearer one."""
    found: list[Stop] = []
    for stop in stops:
        name = plain_name(stop.name)
        same = next((i for i, s in enumerate(found) if s.what == stop.what and plain_name(s.name) == name), None)
        if same is None:
            found.append(stop)
        elif abs(found[same].travel_mm - stop.travel_mm) < _EASY:
            found[same] = replace(found[same], name=name)
    return found


def stop_words(stop: Stop) -> str:
    """What happens, in a few words."""
    plural = stop.name.endswith("s") and stop.name not in ("the links",) and not stop.name.startswith("the ")
    words = HAPPENS[stop.what]
    if plural:
        words = {"is": "are", "has": "have", "bottoms": "bottom", "touches": "touch", "closes": "close",
                 "comes": "come", "crosses": "cross"}.get(words.split()[0], words.split()[0]) + words[
            len(words.split()[0]):]  # fmt: skip
        words = words.replace(" its coils", " their coils").replace(" its seats", " their seats")
    return f"{stop.name} {words}"


def order_rows(job: Job, run: StopRun, axle: Axle, way: Way) -> Rows:
    """What happens on the way up or down, in order, nearest first; where the travel asked for ends among them."""
    asked = axle.bump_mm if way == "bump" else axle.droop_mm
    rows: list[tuple[float, str, str]] = []
    ended = False
    for stop in together(run.order(way)):
        mark = "ends it: " if stop.ends and not ended else ""
        ended = ended or stop.ends
        rows.append((abs(stop.travel_mm), travel_words(stop.travel_mm, job.units), mark + stop_words(stop)))
    full = travel_words(asked if way == "bump" else -asked, job.units)
    rows.append((asked + 1e-6, full, f"full {way}, as typed in Stance"))
    return [(title, words) for _, title, words in sorted(rows, key=lambda r: r[0])]


def fit_rows(job: Job, run: StopRun, axle: Axle) -> Rows:
    """How long bump stops and straps want to be so that they come first."""
    rows, units = [], job.units
    said: set[str] = set()
    for fit in fits(run, axle):
        name = plain_name(fit.name)
        if name in said:
            continue
        said.add(name)
        what = (
            f"gap {lengthwise(fit.gap_mm, units)}"
            if fit.gap_mm is not None
            else (f"length {lengthwise(fit.length_mm or 0.0, units)}")
        )
        ends = f"ends the travel at {travel_words(fit.travel_mm, units)}"
        if fit.saves is not None:
            ends += f", before {stop_words(replace(fit.saves, name=plain_name(fit.saves.name)))}"
        rows.append((f"{name} should have", f"{what}: {ends}"))
    return rows


def fit_edit(run: StopRun, axle: Axle) -> Edit | None:
    """The lengths that make bump stops and straps come first, set on all of them; None where there are none."""
    found = fits(run, axle)
    if not found:
        return None
    edits = [
        change_spring(axle.key, f.name, "Length", both=False, gap_mm=f.gap_mm) if f.gap_mm is not None
        else change_spring(axle.key, f.name, "Length", both=False, length_mm=f.length_mm)
        for f in found
    ]  # fmt: skip
    return all_of("Lengths of stops and straps", edits)


def _no_order(job: Job, axle: Axle, run: StopRun) -> list[Finding]:
    """Travel that something hard ends before a stop or strap does, or before full travel."""
    found = []
    for way, asked in (("bump", axle.bump_mm), ("droop", axle.droop_mm)):
        first = run.first(way)  # type: ignore[arg-type]
        if first is None:
            kind = BumpStop if way == "bump" else Strap
            if any(isinstance(s, kind) for s in axle.springs):
                words = "bump stops never meet" if way == "bump" else "limit straps never come tight"
                found.append(_finding(
                    axle, f"never-{way}", "look", f"{way}: no stop",
                    f"{axle_title(axle)}: its {words} within reach of its {way} travel: check gap, length and mounts.",
                ))  # fmt: skip
            continue
        if abs(first.travel_mm) < asked - 0.5 and first.what not in ("solid", "tight"):
            words = stop_words(replace(first, name=plain_name(first.name) if first.what != "swing" else first.name))
            found.append(_finding(
                axle, f"stops-{way}", "stop", f"{way} ends early",
                f"{axle_title(axle)}: {words[0].lower() + words[1:]} at {travel_words(first.travel_mm, job.units)}, "
                f"before full {way} and before any {'bump stop' if way == 'bump' else 'strap'} ends it.",
            ))  # fmt: skip
    return found


def _finding(axle: Axle, code: str, severity: str, short: str, sentence: str) -> Finding:
    return Finding(f"springs {code}", severity, "springs", short, sentence, axle.key)  # type: ignore[arg-type]


def spring_findings(job: Job) -> list[Finding]:
    """What is missing or cannot work about the springs of a car."""
    found: list[Finding] = []
    for axle in job.vehicle.axles:
        if not axle.members and beams_of(axle) is None:
            continue
        if not units_of(axle):
            found.append(_finding(
                axle, f"none {axle.key}", "missing", "no springs",
                f"{axle_title(axle)}: no springs yet. Put them on from a guess in Springs, then tape their mounts.",
            ))  # fmt: skip
            continue
        run = stops_of(job.vehicle, axle, contacts=False)
        found += _of_parts(job, axle, run)
        for at in leaves_over_travel(job.vehicle, axle):
            if at.reaches_to is not None and at.leaf.side != "right":
                found.append(_finding(
                    axle, "shackle", "look", "shackle’s end",
                    f"{axle_title(axle)}: cycled with the main leaf alone, its shackles come to the end of their "
                    f"swing at {travel_words(at.reaches_to, job.units)} and may go over: move the hangers, or end the "
                    "travel there.",
                ))  # fmt: skip
        if run is not None:
            found += _no_order(job, axle, run)
            for stop in run.stops:
                if stop.what == "center" and -axle.droop_mm < stop.travel_mm < axle.bump_mm:
                    found.append(_finding(
                        axle, f"center {stop.name}", "stop", "over center",
                        f"{stop.name} goes over center at {travel_words(stop.travel_mm, job.units)}: lengthen its arm, "
                        "or turn the pushrod so that it stands square to the arm at ride height.",
                    ))  # fmt: skip
    return [*found, *_carries(job)]


def _of_parts(job: Job, axle: Axle, run: StopRun | None) -> list[Finding]:
    """What single springs have wrong with them; of a pair that is alike, one is told of for both."""
    found: list[Finding] = []
    said: set[str] = set()
    for part in axle.springs:
        if plain_name(part.name) in said:
            continue
        said.add(plain_name(part.name))
        name = plain_name(part.name)
        bind = bind_mm(part)
        if bind is not None and isinstance(part, Damped) and part.closed_mm < bind - 0.5:
            found.append(_finding(
                axle, f"bind {name}", "look", "coil binds first",
                f"{axle_title(axle)}, {name.lower()}: the coils close {lengthwise(bind - part.closed_mm, job.units)} "
                "before the shocks do: a bump stop has to end the bump before that, or a shorter coil.",
            ))  # fmt: skip
        found += _of_loose(job, axle, run, name)
        if isinstance(part, CoilOver) and part.upper is not None and crossover_left(part) < 6.35 - 1e-6:
            found.append(_finding(
                axle, f"crossover {name}", "look", "upper coil binds",
                f"{axle_title(axle)}, {name.lower()}: the crossover stop leaves the upper coil "
                f"{lengthwise(crossover_left(part), job.units)} before it binds; a quarter inch is wanted.",
            ))  # fmt: skip
    return found


def _of_loose(job: Job, axle: Axle, run: StopRun | None, name: str) -> list[Finding]:
    """The side of a pair that comes loose on its seats first on the way down, and for how much of the droop."""
    if run is None:
        return []
    loose = [s for s in run.stops if s.what == "slack" and plain_name(s.name) == name and s.travel_mm > -axle.droop_mm]
    first = max(loose, key=lambda s: s.travel_mm, default=None)
    if first is None or first.travel_mm + axle.droop_mm < 0.5:
        return []
    both = any(abs(s.travel_mm - first.travel_mm) < _EASY for s in loose if s is not first)
    who = name if both else first.name
    seats, coils = ("their seats", "the coils") if both else ("its seats", "the coil")
    last = lengthwise(first.travel_mm + axle.droop_mm, job.units)
    return [_finding(
        axle, f"loose {name}", "look", "coil comes loose",
        f"{axle_title(axle)}, {who[0].lower() + who[1:]}: loose on {seats} for the last {last} of droop travel: keep "
        f"{coils} in place, or preload {'them' if both else 'it'}.",
    )]  # fmt: skip


def _carries(job: Job) -> list[Finding]:
    """Springs that cannot hold the car up; nothing while weights or springs are lacking."""
    vehicle = job.vehicle
    if not all(units_of(a) and a.load_kg > a.unsprung_kg for a in vehicle.axles):
        return []
    if not all(a.members or beams_of(a) is not None for a in vehicle.axles):
        return []
    try:
        stand(vehicle)
    except InputError as error:
        return [Finding("springs carry", "stop", "springs", "do not carry it", str(error))]
    except StanceError:
        return []
    return []


def spring_values(job: Job, axle: Axle, key: str) -> list[WentIn]:
    """What goes into a figure of the springs, named."""
    ride, units = axle_ride(job.vehicle, axle), job.units
    if ride is None:
        return []
    rate = float(heave_rate(ride.rates)) / 2.0
    if key == "ride_frequency_hz":
        parts = [(float(r.spring_part[0]), float(r.geometry_part[0])) for r in ride.springs.springs]
        coil, lean = (sum(p[i] for p in parts) / 2.0 for i in (0, 1))
        return [
            rate_in("wheel rate", rate, units), rate_in("springs give", coil, units),
            rate_in("the way they move adds", lean, units, signed=True), mass_in("sprung", ride.sprung_kg, units),
        ]  # fmt: skip
    if key in ("roll_per_g_deg", "transfer_over_weight_pct", "inside_lift_g"):
        try:
            car = car_ride(job.vehicle)
        except InputError:
            return []
        rows = [
            WentIn(a.key, torque_per_degree(r.stiffness, units), r.stiffness * NM_DEG, "N m/deg")
            for a in job.vehicle.axles
            if (r := axle_ride(job.vehicle, a)) is not None
        ]  # fmt: skip
        return [
            *rows, length_in("sprung mass over the roll axis", car.arm_mm, units),
            percent_in("its own leaning adds", car.gravity_pct),
        ]  # fmt: skip
    if key == "sits_off_mm":
        aboard = sum(c.mass_kg for c in vehicle_cargo(job.vehicle))
        return [
            force_in("springs carry, as weighed", sprung_n(axle), units),
            force_in("they push at ride height", float(ride.springs.push[0].sum()), units),
            mass_in("aboard besides", aboard, units),
        ]  # fmt: skip
    return [length_in("bump", axle.bump_mm, units), length_in("droop", axle.droop_mm, units)]


def foot_words(job: Job, axle: Axle) -> list[str]:
    """How an axle rides, in a few words for the foot of the page."""
    ride, units = axle_ride(job.vehicle, axle), job.units
    if ride is None:
        return [f"{axle_title(axle)} springs {' '.join(lacking(axle))}"]
    runs = ride.springs.springs
    rate = sum(float(r.wheel_rate[0]) for r in runs) / 2.0
    coil = sum(float(r.spring_part[0]) for r in runs) / 2.0
    lean = (rate - coil) / (POUND_PER_INCH if units == "us" else 1.0)
    said = [f"wheel rate {rate_words(rate, units)}, {round(lean, 1) + 0.0:+.1f} of it geometry"]
    said.append(f"roll {torque_per_degree(ride.stiffness, units)}, not "
                f"{torque_per_degree(ride.at_wheels, units)} as at the wheels")  # fmt: skip
    return said


_RAIL = {
    "contact": "contact",
    "closed": "shock bottoms", "open": "shock all out", "bind": "coil binds", "solid": "bump stop solid",
    "tight": "strap tight", "lock": "links lock up", "swing": "joint swing ends", "out": "shaft comes out",
    "bottom": "shaft bottoms", "center": "rocker over center",
}  # fmt: skip


def rail_words(stop: Stop) -> str:
    """What ends the travel, in two or three words for the rail."""
    return _RAIL[stop.what]
