"""The build sheet in words: whether links hold, whether threads cover the tape's doubt, what does not go together."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from even_stance.judgement.bands import wanted
from even_stance.judgement.catalog.parts import TUBES
from even_stance.judgement.clearances import place_words
from even_stance.judgement.findings import Finding
from even_stance.judgement.verdicts import State, Verdict
from even_stance.study.cutlist import CutPiece, cut_list, uneven_pairs, without_parts
from even_stance.study.figures import Figure
from even_stance.study.strength import LinkUse, Use, compared, study_strength
from even_stance.units import force_unit, format_force, format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.job import Job

KEY = "link_used_pct"
PART_WORDS = {
    "tube": "tube bends", "column": "tube bows out", "thread": "thread strips",
    "bolt": "bolt, shear only, no lever", "bracket": "bracket tears out, no lever",
    "weld": "bracket weld, shear only, no lever", "joint": "joint over its rating",
}  # fmt: skip
_MOST = 9.99  # a link that would bow out at once is a thousand percent for all that anyone needs to know


def share_pct(share: float) -> float:
    """A share as percent, capped where it is beyond telling."""
    return 100.0 * min(share, _MOST)


def use_words(job: Job, use: Use, axle: str) -> str:
    """What of a link is used, where, in which case and posture."""
    load = f"{format_force(use.load_n, job.units)} {force_unit(job.units)}"
    where = f" at the {use.end}" if use.end else ""
    place = place_words(job, axle, *use.posture, 0.0)
    return f"{PART_WORDS[use.what]}{where}: {use.case.lower()}, {load}, {place}"


def link_verdicts(job: Job, uses: Sequence[LinkUse]) -> list[Verdict]:
    """One verdict for each link, the most used first; of a pair that is alike the worse one."""
    found: dict[tuple[str, str], Verdict] = {}
    for use in sorted(uses, key=lambda u: -(u.worst.share if u.worst else 0.0)):
        worst, piece = use.worst, use.cut.piece
        name = named(piece.words)
        if (piece.axle, name) in found:
            continue
        band = wanted(job, KEY, piece.axle)
        title = name[0].upper() + name[1:]
        if worst is None:
            why = "; ".join(use.missing).removesuffix(".") or "what it carries is not known"
            found[piece.axle, name] = Verdict(
                Figure(KEY, float("nan"), 0.0), band, "not_judged", f"Not judged: {why}.", "", title
            )
            continue
        value = share_pct(worst.share)
        high = band.band.high
        sure = share_pct(use.sure)
        state: State = "inside"
        if high is not None:
            state = "high" if value > high else "unsure" if value + sure > high else "inside"
        words = use_words(job, worst, piece.axle)
        unknown = [m for u in uses if link_name(u) == name[0].upper() + name[1:] for m in u.missing]
        note = f" Not judged: {'; '.join(unknown[:2])}." if unknown and state == "high" else ""
        said = f"{words[0].upper()}{words[1:]}.{note}"
        if unknown and state != "high":
            # The weakest part may be one that nothing is known of: what is known is no good news.
            first, rest = unknown[0], f", and {len(unknown) - 1} more" if len(unknown) > 1 else ""
            said = f"Not judged: {first}{rest}. What is known takes {value:.2g} %: {words}."
            state = "not_judged"
        found[piece.axle, name] = Verdict(
            Figure(KEY, value, sure),
            band,
            state,
            said,
            "",
            title,
        )
    return list(found.values())


def with_advice(job: Job, uses: Sequence[LinkUse], verdicts: Sequence[Verdict]) -> list[Verdict]:
    """The same, with the lightest tube of the drawer that brings a tube within its band, for what its tube limits."""
    found = []
    for verdict in verdicts:
        use = next((u for u in uses if link_name(u) == verdict.name and u.worst is not None
                    and abs(share_pct(u.worst.share) - verdict.figure.value) < 1e-9), None)  # fmt: skip
        if verdict.state != "high" or use is None or use.worst is None or use.worst.what not in ("tube", "column"):
            found.append(verdict)
            continue
        metric = use.cut.tube.name.endswith("mm")
        own = tuple(t for t in TUBES if t.name.endswith("mm") == metric and t.core == "none")
        tried = compared(job.vehicle, job.loads, use, own)
        high = verdict.wanted.band.high
        good = [t for t in tried if high is not None and np.isfinite(t[1]) and share_pct(t[1]) <= high]
        if not good:
            found.append(replace(verdict, try_this="no tube of the drawer holds: shorten it, or let nothing hit it"))
            continue
        tube, share, weight = min(good, key=lambda t: t[2])
        now = next((w for t, _, w in compared(job.vehicle, job.loads, use, (use.cut.tube,))), 0.0)
        more = (
            f"{format_mass(abs(weight - now), job.units)} {mass_unit(job.units)} {'more' if weight >= now else 'less'}"
        )
        found.append(replace(verdict, try_this=f"{tube.name}: {share_pct(share):.0f} %, {more} each"))
    return found


def named(words: str) -> str:
    """What a link and its twin are called together."""
    for side in (" left", " right", " Left", " Right"):
        words = words.replace(side, "")
    return words


def link_name(use: LinkUse) -> str:
    """Return what a link and its twin are called together, as a verdict of theirs is."""
    name = named(use.cut.piece.words)
    return name[0].upper() + name[1:]


def spare_words(job: Job, cut: CutPiece) -> str:
    """Whether the threads take up what the tape may be off by."""
    units = job.units

    def said(mm: float) -> str:
        return f"{format_length(max(mm, 0.0), units).removeprefix('~')} {length_unit(units)}"

    if cut.piece.guesses:
        ends = " and ".join(cut.piece.guesses)
        return f"A guess: nobody taped its {ends}, so its length is good to {said(cut.sure_mm)}. Tape before it is cut."
    if cut.ends[0].engaged_mm == cut.ends[1].engaged_mm == 0.0:
        return f"Welded at both ends: nothing takes up the tape’s {said(cut.sure_mm)}; cut long and fit."
    reach = (
        f"Threads take in {said(cut.in_mm)} and let out {said(cut.out_mm)}; your tapes are good to {said(cut.sure_mm)}"
    )
    return (
        f"{reach}: {'no re-cut expected' if cut.covered else 'a re-cut may be needed: measure surer, or more thread'}."
    )


def build_findings(job: Job) -> list[Finding]:
    """What the build sheet lacks or what does not go together."""
    vehicle = job.vehicle
    found: list[Finding] = []
    cuts = cut_list(vehicle, job.units)
    missing = without_parts(vehicle)
    if not cuts:
        sentence = "No parts are chosen: fit parts to the links in the Build sheet, then read the cut list."
        return [Finding("no-parts", "missing", "build", "no parts chosen", sentence)] if missing else []
    if missing:
        some = ", ".join(p.words for p in missing[:3]) + (" ..." if len(missing) > 3 else "")
        found.append(Finding("parts-missing", "missing", "build", f"{len(missing)} without parts",
                             f"No parts are chosen for {some}."))  # fmt: skip
    wrong = [w for c in cuts for w in c.wrong] + uneven_pairs(cuts, job.units)
    found += [Finding("parts-wrong", "look", "build", "parts do not fit", w) for w in wrong]
    guessed = [c.piece.words for c in cuts if c.piece.guesses]
    if guessed:
        some = ", ".join(guessed[:3]) + (" ..." if len(guessed) > 3 else "")
        sentence = (
            f"Nobody taped where both ends are of {some}: tape them in Stance, or say that they are to be built where "
            "they are drawn, before a tube is cut."
        )
        found.append(Finding("guessed", "missing", "build", f"{len(guessed)} between guesses", sentence))
    for cut in cuts:
        if not cut.covered and not cut.piece.guesses and cut.cut_mm > 0.0 and any(e.engaged_mm for e in cut.ends):
            found.append(
                Finding("recut", "look", "build", "re-cut likely", f"{cut.piece.words}: {spare_words(job, cut)}")
            )
    return found


def strength_findings(job: Job, uses: Sequence[LinkUse]) -> list[Finding]:
    """Links that are used more than wanted, and those that are not judged, all in one."""
    verdicts = link_verdicts(job, uses)
    found = [
        Finding(KEY, "look", "build", v.sentence.split(":")[0].lower(), f"{v.name}: {v.sentence}")
        for v in verdicts
        if v.state == "high"
    ]
    unknown = [v for v in verdicts if v.state == "not_judged"]
    if unknown:
        one = unknown[0]
        more = f" So are {len(unknown) - 1} more." if len(unknown) > 1 else ""
        said = f"{one.name}: {one.sentence[0].lower()}{one.sentence[1:]}{more}"
        found.append(Finding(KEY, "not_judged", "build", f"{len(unknown)} not judged", said))
    return found


def judged_links(job: Job) -> tuple[list[LinkUse], list[Verdict]]:
    """Every link's strength, judged and with advice.

    Raises:
        StanceError: the loads are not known.
    """
    uses = study_strength(job.vehicle, job.loads)
    return uses, with_advice(job, uses, link_verdicts(job, uses))
