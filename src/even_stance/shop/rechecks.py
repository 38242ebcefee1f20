"""What is to be looked at again after settling and after the first drive, each with what it should be."""

from even_stance.judgement.findings import Finding
from even_stance.shop.asbuilt import BUILT, as_built, expected
from even_stance.shop.counting import count_parts
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job
from even_stance.vehicle.log import RECHECK_WORDS, Recheck

_PINION_SURE, _LENGTH_SURE = 0.3, 3.2


def usual_rechecks(job: Job) -> tuple[Recheck, ...]:
    """What is usually looked at again (common practice, no source), with what this car should show."""
    found: list[Recheck] = []
    built = as_built(job)
    for axle in built.vehicle.axles:
        key = axle.key
        if axle.driven and axle.pinion is not None:
            found.append(Recheck(title=f"Pinion angle, {key}", what=f"{key}.pinion.angle",
                                 expect=expected(built, f"{key}.pinion.angle"), sure=_PINION_SURE))  # fmt: skip
        found.append(Recheck(title=f"Axle center above ground, {key}", what=f"tire.{key}.radius",
                             expect=axle.tire.loaded_radius_mm, sure=_LENGTH_SURE))  # fmt: skip
    for side in ("left", "right"):
        found.append(Recheck(title=f"Wheelbase, {side}", what=f"wheelbase.{side}",
                             expect=expected(built, f"wheelbase.{side}"), sure=_LENGTH_SURE))  # fmt: skip
    nuts = sum(line.count for line in count_parts(job.vehicle, job.units).lines if line.sort == "nut")
    bolts = sum(line.count for line in count_parts(job.vehicle, job.units).lines if line.sort == "bolt")
    for title in (f"Jam nuts{f', {nuts}' if nuts else ''}: tight, both hands",
                  f"Torque marks{f', {bolts} bolts' if bolts else ''}: lines unbroken",
                  "Welds: no cracks at the toes, look with the light low", "Gaps: the five tightest of the cycle card",
                  "Brake lines and hoses: no rub at full travel and lock"):  # fmt: skip
        found += [Recheck(title=title), Recheck(title=title, when="first_drive")]
    found.append(Recheck(title="Alignment and hand wheel straight", when="first_drive"))
    found.append(Recheck(title="Jam nuts, bolts and bushings", when="miles", every=500.0))
    return tuple(found)


def due(job: Job) -> list[Recheck]:
    """What should have been looked at by now: the build has come so far, and it was not."""
    stages = {r.stage for r in job.measuring.readings if r.stage in BUILT} | {e.stage for e in job.log.entries}
    stages.add(job.measuring.stage)
    came = {"settled": {"settled", "driven", "later"}, "first_drive": {"driven", "later"}}
    return [
        r for r in job.log.rechecks
        if (r.every > 0 and driven(job, r) - r.at >= r.every if r.when in ("miles", "trips")
            else not r.done and stages & came[r.when])
    ]  # fmt: skip


def driven(job: Job, recheck: Recheck) -> float:
    """How much was driven until now, in what this re-check counts: miles or trips."""
    return {"miles": job.log.miles, "trips": job.log.trips}.get(recheck.when, 0.0)


def when_words(recheck: Recheck) -> str:
    """When it is to be looked at, with how many miles or trips."""
    words = RECHECK_WORDS[recheck.when]
    return words.replace("after so many", f"every {recheck.every:g}") if recheck.every else words


def expect_words(job: Job, recheck: Recheck) -> str:
    """What to expect, with its +/-."""
    if recheck.expect is None:
        return ""
    if recheck.what.endswith("angle"):
        return f"{recheck.expect:.1f}° ± {recheck.sure:.1f}"
    units = job.units
    value, sure = (format_length(v, units).removeprefix("~") for v in (recheck.expect, recheck.sure))
    return f"{value} ± {sure} {length_unit(units)}"


def moved_words(job: Job, recheck: Recheck, value: float) -> str:
    """What a new reading says: as expected, or by how much it moved and which way."""
    if recheck.expect is None:
        return "noted"
    by = value - recheck.expect
    if abs(by) <= recheck.sure:
        return "as expected"
    angle = recheck.what.endswith("angle")
    much = (
        f"{abs(by):.1f}°"
        if angle
        else f"{format_length(abs(by), job.units).removeprefix('~')} {length_unit(job.units)}"
    )
    way = ("up" if by > 0 else "down") if angle else ("more" if by > 0 else "less")
    return f"moved: {much} {way} than expected"


def recheck_findings(job: Job) -> list[Finding]:
    """The due list as findings."""
    found = due(job)
    if not found:
        return []
    words = ", ".join(r.title[0].lower() + r.title[1:] for r in found[:3]) + (" ..." if len(found) > 3 else "")
    return [Finding("recheck", "look", "log", f"{len(found)} to look at again",
                    f"{when_words(found[0]).capitalize()}, look at: {words}.")]  # fmt: skip
