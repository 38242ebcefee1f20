"""The report on paper: the chosen design with its drawings, points, numbers, loads, assumptions and cautions."""

from typing import Any

import numpy as np
from reportlab.platypus import KeepTogether, PageBreak, Spacer

from even_stance.errors import StanceError
from even_stance.exchange.paper import Drawing, grid, made_pdf, words
from even_stance.exchange.reportparts import cuts_part, driveline_part, gaps_part, springs_part
from even_stance.exchange.steerreport import beam_pages, numbers_table, steering_tables
from even_stance.judgement.bands import PURPOSE_WORDS
from even_stance.judgement.differences import differences
from even_stance.judgement.findings import CAUTIONS
from even_stance.judgement.schools import link_schools
from even_stance.judgement.verdicts import TITLES, bind_words, judge, study_wanted_bind
from even_stance.shop.survey import survey
from even_stance.study.answers import Answers
from even_stance.study.construction import construction
from even_stance.study.drawing import VIEW_TITLES, View
from even_stance.study.figures import AxleStudy, link_table, main_anti_key, pinion_up, study_axle
from even_stance.study.floor import car_shapes
from even_stance.study.frame import view_frame
from even_stance.study.loads import CASES, study_loads
from even_stance.study.model import axle_title
from even_stance.study.places import AxlePlace, study_places
from even_stance.units import (
    force_unit,
    format_decimal,
    format_force,
    format_length,
    format_mass,
    length_unit,
    mass_unit,
)
from even_stance.vehicle.car import Axle
from even_stance.vehicle.job import Job
from even_stance.vehicle.members import JOINT_TYPES
from even_stance.vehicle.records import is_guess


def report_pdf(job: Job) -> bytes:
    """The report of the variant on the bench as PDF."""
    story: list[Any] = [*_front(job), *_findings(job)]
    for axle in job.vehicle.axles:
        if not axle.members:
            story += beam_pages(job, axle)
            continue
        story.append(PageBreak())
        try:
            study = study_axle(job.vehicle, axle, 0.0, 0.0)
        except StanceError as error:
            story += [words(axle_title(axle), "title"), words(str(error))]
            continue
        story += _axle(job, axle, study)
    story += [*driveline_part(job), *springs_part(job), *gaps_part(job), *cuts_part(job), *_assumptions(job)]
    return made_pdf(job, "report", story)


def _front(job: Job) -> list[Any]:
    """The first page: what the car is, in words and a drawing."""
    vehicle, units = job.vehicle, job.units
    unit, mass = length_unit(units), mass_unit(units)
    rows = [
        ("", *(a.key for a in vehicle.axles)),
        (f"Track, {unit}", *(format_length(a.track_mm, units) for a in vehicle.axles)),
        (f"Tire diameter, {unit}", *(format_length(a.tire.free_diameter_mm, units) for a in vehicle.axles)),
        (f"Axle center above ground, {unit}", *(format_length(a.tire.loaded_radius_mm, units) for a in vehicle.axles)),
        (f"Bump and droop, {unit}", *(
            f"{format_length(a.bump_mm, units)} and {format_length(a.droop_mm, units)}" for a in vehicle.axles)),
        (f"On the scales, {mass}", *(format_mass(a.load_kg, units) for a in vehicle.axles)),
        ("Drive, brake share, %", *(f"{100 * a.drive_share:.0f}, {100 * a.brake_share:.0f}" for a in vehicle.axles)),
    ]  # fmt: skip
    story: list[Any] = [
        words(job.name, "title"),
        words(f"Variant “{job.branch}”, judged as {PURPOSE_WORDS[job.purpose]}. {job.branch_note}"),
        words(
            f"Wheelbase {format_length(vehicle.wheelbase_mm, units)} ± "
            f"{format_length(vehicle.wheelbase_sure_mm, units)} {unit}; CG height "
            f"{format_length(vehicle.cg_height_mm, units)} ± {format_length(vehicle.cg_sure_mm, units)} {unit} "
            f"({vehicle.cg_source})."
        ),
        grid(rows),
    ]
    places = study_places(vehicle)
    driven = next((a for a in reversed(vehicle.axles) if a.members), vehicle.axles[-1])
    frame = view_frame(vehicle, driven, "side", True)
    picture = Drawing(car_shapes(vehicle, places, "side", driven.key), frame, 178, 62, units)
    story += [Spacer(1, 6), picture, words(f"The car from the left, {picture.scale_words}.", "faint")]
    if job.decision:
        story += [words("Decision", "head"), words(job.decision)]
    for variant in job.variants:
        said = differences(variant.vehicle, job.vehicle, units)
        lines = "\n".join(said[:20]) or "nothing differs"
        story.append(KeepTogether([words(f"From “{variant.name}” to this one", "head"), words(lines)]))
    if job.notes:
        story += [words("Notes", "head"), words(job.notes)]
    return story


def _findings(job: Job) -> list[Any]:
    """What is missing or worth a look."""
    found = survey(job).findings
    if not found:
        return []
    return [words("Worth a look", "head"), *(words(f"- {f.sentence}") for f in found)]


def _axle(job: Job, axle: Axle, study: AxleStudy) -> list[Any]:
    """All pages of one axle."""
    verdicts = judge(job, study)
    story: list[Any] = [words(axle_title(axle), "title"), *_drawings(job, axle, study), words("Numbers", "head")]
    story += numbers_table(job, verdicts)
    story.append(words(bind_words(study_wanted_bind(job, study), job.units)))
    story += [words("Over travel, both wheels", "head"), _travel(job, axle, study.travel.sweep)]
    story += [words("Points", "head"), _points(job, axle)]
    story += [words("Links", "head"), _links(job, study)]
    story += [words(said, "faint") for said in link_schools(job, axle)]
    story += steering_tables(job, axle, study)
    loads = _loads(job, study)
    if loads is not None:
        story.append(KeepTogether([words("Loads at ride height", "head"), loads, words(
            "Screening figures from the assumptions below; + pull, - push.", "faint")]))  # fmt: skip
    return story


def _drawings(job: Job, axle: Axle, study: AxleStudy) -> list[Any]:
    """The three projections, each at its own round scale, with the anti and roll constructions."""
    places = [AxlePlace(a, study if a.key == axle.key else None) for a in job.vehicle.axles]
    anti = main_anti_key(job.vehicle, axle)
    story: list[Any] = []
    shown: tuple[tuple[View, str, float], ...] = (("side", anti, 58), ("plan", "triangulation_deg", 52),
                                                  ("rear", "roll_center_mm", 48))  # fmt: skip
    for view, key, height in shown:
        shapes = car_shapes(job.vehicle, places, view, axle.key)
        shapes += construction(job.vehicle, study, key, view, job.units)
        picture = Drawing(shapes, view_frame(job.vehicle, axle, view, False), 178, height, job.units)
        name, how = VIEW_TITLES[view]
        story.append(KeepTogether([picture, words(f"{name.capitalize()}, {how}; {picture.scale_words}.", "faint")]))
    return story


def _travel(job: Job, axle: Axle, sweep: Answers) -> Any:
    """The sweep at seven places."""
    units = job.units
    unit, per = ("in", 25.4) if units == "us" else ("mm", 1.0)
    anti = main_anti_key(job.vehicle, axle)
    turn = ("pinion nose up, °", float(pinion_up(axle, 1.0))) if axle.driven else ("caster gained, °", -1.0)
    keys = [(anti, f"{TITLES[anti].lower()}, %", 1.0),
            ("roll_center_mm", f"roll center, {unit}", per), ("roll_steer_pct", "roll steer, %", 1.0),
            ("pitch_deg", *turn), ("shift_x_mm", f"ahead, {unit}", per),
            ("shift_y_mm", f"left, {unit}", per)]  # fmt: skip
    keys = [k for k in keys if k[0] in sweep.values]
    rows = [(f"Travel, {unit}", *(title for _, title, _ in keys))]
    ride = int(np.abs(sweep.left).argmin())
    steps = np.linspace(0, len(sweep.left) - 1, 7).round().astype(int)
    steps[np.abs(steps - ride).argmin()] = ride  # where the car stands is always among them
    for i in steps:
        cells = [sweep.values[key][i] / scale for key, _, scale in keys]
        shown = [format_decimal(c, 2) if np.isfinite(c) else "locked" for c in cells]
        at = "ride height" if i == ride and abs(sweep.left[i]) < 1e-6 else f"{sweep.left[i] / per:+.2f}"
        rows.append((at, *shown))
    return grid(rows)


def _points(job: Job, axle: Axle) -> Any:
    """Every point of an axle as a table."""
    units = job.units
    unit = length_unit(units)
    rows = [("Point", f"Ahead of axle, {unit}", f"Left, {unit}", f"Up, {unit}", f"±, {unit}", "Hole", "Joint")]
    for member in axle.members:
        for end, mount in member.mounts.items():
            at = mount.at
            hole = "" if mount.hole is None else f"{mount.hole + 1} of {len(mount.holes)}"
            rows.append((
                f"{member.name}, {member.WORDS[end]}", format_length(at.x + axle.behind_front_mm, units),
                format_length(at.y, units), format_length(at.z, units),
                f"{format_length(at.sure, units)}{' guess' if is_guess(at) else ''}", hole,
                JOINT_TYPES[mount.joint].words,
            ))  # fmt: skip
    return grid(rows, (46, 27, 22, 20, 16, 16, 31))


def _links(job: Job, study: AxleStudy) -> Any:
    """Every link with its length and angles."""
    units = job.units
    unit = length_unit(units)
    rows = [("Link", f"Joint to joint, {unit}", "Side view", "Plan view")]
    for row in link_table(study.now):
        side = f"{abs(row.side_deg):.1f}° {'up' if row.side_deg >= 0 else 'down'} to the frame"
        plan = "across" if row.plan_deg > 89 else f"{abs(row.plan_deg):.1f}° {'out' if row.plan_deg >= 0 else 'in'}"
        rows.append((row.name, format_length(row.length_mm, units), side, plan))
    return grid(rows)


def _loads(job: Job, study: AxleStudy) -> Any | None:
    """The loads of every case."""
    units = job.units
    try:
        cases = {case: study_loads(job.vehicle, study.now, job.loads, case) for case in CASES}
    except StanceError:
        return None
    rows = [(f"Member, {force_unit(units)}", *CASES.values())]
    for i, name in enumerate(study.now.layout.row_names):
        rows.append((name, *(format_force(float(c.rows[i]), units) for c in cases.values())))
    return grid(rows, (56, *(20 for _ in cases)))


def _assumptions(job: Job) -> list[Any]:
    """What the figures rest on."""
    said: list[str] = []
    for axle in job.vehicle.axles:
        try:
            now = study_axle(job.vehicle, axle, 0.0, 0.0, {}).now
            said += [f"{CASES[c]}, {axle.key}: {study_loads(job.vehicle, now, job.loads, c).words}" for c in CASES]
        except StanceError:
            continue
    return [
        words("What this rests on", "head"),
        words("Points as measured or typed, with the +/- shown; the axle a rigid body; links of fixed length; bushings "
              "give only where a layout has more members than freedoms. Anti figures use the contact patch, wheelbase "
              "and CG height at ride height. Wanted bands are common practice unless they are your own."),
        *(words(f"- {w}", "faint") for w in dict.fromkeys(said)),
        words("Cautions", "head"),
        *(words(f"- {c}") for c in CAUTIONS),
    ]  # fmt: skip
