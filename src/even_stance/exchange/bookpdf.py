"""The build book: car, design, as built, decisions, parts, settings, cautions, photos; and a folder of all of it."""

import json
from io import BytesIO
from pathlib import Path
from typing import Any

from reportlab.lib.units import mm
from reportlab.platypus import Image

from even_stance.errors import JobFileError, StanceError
from even_stance.exchange.jobfile import dump_job
from even_stance.exchange.paper import grid, made_pdf, wants_comma, words
from even_stance.exchange.photos import missing, photo_to_give, preview
from even_stance.exchange.points import points_csv
from even_stance.exchange.tables import shopping_csv
from even_stance.exchange.wholefile import reason, write_whole
from even_stance.judgement.findings import CAUTIONS
from even_stance.judgement.verdicts import STATE_WORDS, judge
from even_stance.shop.asbuilt import as_built, built_stages, deviations
from even_stance.shop.counting import count_parts
from even_stance.shop.diary import diary, sums
from even_stance.shop.rechecks import expect_words, when_words
from even_stance.study.cutlist import cut_list, machine_readable_cuts
from even_stance.study.figures import study_axle
from even_stance.units import format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import STAGES

_MOST_PHOTOS = 60


def book_pdf(job: Job, file: Path | None = None) -> bytes:
    """The build book; with photos where the job's file is known."""
    story: list[Any] = [words(job.name, "title"), words("Build book", "head"), *_car(job)]
    for axle in job.vehicle.axles:
        story += _numbers(job, axle.key)
    story += [*_built(job), *_settings(job), *_parts(job), *_diary(job), *_rechecks(job), *_photos(job, file)]
    story += [words("What to mind", "head"), *(words(c) for c in CAUTIONS)]
    return made_pdf(job, "build book", story)


def _said(job: Job, mm_: float) -> str:
    return f"{format_length(mm_, job.units).removeprefix('~')} {length_unit(job.units)}"


def _car(job: Job) -> list[Any]:
    vehicle, units = job.vehicle, job.units
    rows = [("What", "How much"), ("Wheelbase", _said(job, vehicle.wheelbase_mm)),
            ("Weight", f"{format_mass(vehicle.mass_kg, units)} {mass_unit(units)}"),
            ("CG height", f"{_said(job, vehicle.cg_height_mm)} ± {_said(job, vehicle.cg_sure_mm)}")]  # fmt: skip
    rows += [(f"Track, {a.key}", _said(job, a.track_mm)) for a in vehicle.axles]
    story = [grid(rows, (60, 110))]
    return [*story, words(job.notes, "faint")] if job.notes else story


def _numbers(job: Job, key: str) -> list[Any]:
    """The judged numbers of an axle, as designed and as built."""
    columns: list[dict[str, str]] = []
    titles: dict[str, str] = {}
    stages = built_stages(job)
    for one in (job, as_built(job)) if stages else (job,):
        cells: dict[str, str] = {}
        try:
            axle = one.vehicle.axle(key)
            for verdict in judge(one, study_axle(one.vehicle, axle, 0.0, 0.0), moving=True):
                titles[verdict.figure.key] = verdict.title
                cells[verdict.figure.key] = f"{verdict.reading(job.units)} ({STATE_WORDS[verdict.state]})"
        except StanceError as error:
            return [words(f"{key.capitalize()} axle: {error}", "faint")]
        columns.append(cells)
    if not titles:
        return []
    heads = ("Number", "As designed", *([f"As built, {STAGES[stages[-1]]}"] if stages else []))
    rows = [(title, *(c.get(k, "") for c in columns)) for k, title in titles.items()]
    return [words(f"{key.capitalize()} axle", "head"), grid([heads, *rows], (70, 50, 50)[: len(heads)])]


def _built(job: Job) -> list[Any]:
    found = deviations(job)
    if not found:
        return []
    rows = [("Point", "Off", "±", "")]
    rows += [(f"{d.spot.axle} {d.spot.words}", _said(job, d.far_mm), _said(job, d.sure_mm),
              "really off" if d.really else "in the tape’s doubt") for d in found]  # fmt: skip
    return [words("Design against built", "head"), grid(rows, (80, 30, 25, 35))]


def _settings(job: Job) -> list[Any]:
    """Settings as they stand: holes, turns, stops and straps."""
    rows = [("Setting", "Stands at")]
    for axle in job.vehicle.axles:
        for member in axle.members:
            rows += [(f"{axle.key} {member.name}, {member.WORDS[e]}", f"hole {m.hole + 1} of {len(m.holes)}")
                     for e, m in member.mounts.items() if m.hole is not None]  # fmt: skip
        for unit in axle.springs:
            for name in ("gap_mm", "length_mm"):
                value = getattr(unit, name, None)
                if isinstance(value, float):
                    rows.append((f"{axle.key} {unit.name}", f"{name.removesuffix('_mm')} {_said(job, value)}"))
    for turned in job.log.turned:
        way = "longer" if turned.longer_mm > 0 else "shorter"
        rows.append((f"{turned.axle} {turned.part}", f"{_said(job, abs(turned.longer_mm))} {way} than cut"))
    return [words("Settings as they stand", "head"), grid(rows, (100, 70))] if len(rows) > 1 else []


def _parts(job: Job) -> list[Any]:
    cuts = cut_list(job.vehicle, job.units)
    if not cuts:
        return []
    rows = [("Link", "Tube", "Cut")] + [(c.piece.words, c.tube.name, _said(job, max(c.cut_mm, 0.0))) for c in cuts]
    lines = [("Part", "Count"), *((n.what, str(n.count)) for n in count_parts(job.vehicle, job.units).lines)]
    return [words("Parts", "head"), grid(rows, (60, 60, 50)), grid(lines, (130, 40))]


def _diary(job: Job) -> list[Any]:
    items = diary(job)
    if not items:
        return []
    hours, money = sums(job)
    rows = [("When", "What", "")]
    rows += [(i.at[:10], f"{i.kind}: {i.title}", i.text) for i in reversed(items)]
    story = [words("Diary", "head"), grid(rows, (24, 60, 86))]
    return [*story, words(f"{hours:g} h, {money:.2f} spent.", "faint")] if hours or money else story


def _rechecks(job: Job) -> list[Any]:
    if not job.log.rechecks:
        return []
    rows = [("Look at", "When", "Expect", "Found")]
    rows += [(r.title, when_words(r), expect_words(job, r), r.found or "______") for r in job.log.rechecks]
    return [words("To look at again", "head"), grid(rows, (70, 36, 34, 30))]


def _photos(job: Job, file: Path | None) -> list[Any]:
    names = [p for e in job.log.entries for p in e.photos]
    if not names or file is None:
        return []
    gone = missing(file, names)
    story: list[Any] = [words("Photos", "head")]
    story += [words(f"{n}: not where it was kept", "faint") for n in gone]
    there = [n for n in names if n not in gone]
    if len(there) > _MOST_PHOTOS:
        story.append(words(f"The first {_MOST_PHOTOS} of {len(there)}: all are in the job’s photo folder.", "faint"))
    for name in there[:_MOST_PHOTOS]:
        small = preview(file, name)
        if small is not None:
            image = Image(BytesIO(small))
            share = min(80 * mm / image.imageWidth, 60 * mm / image.imageHeight)
            image.drawWidth, image.drawHeight = image.imageWidth * share, image.imageHeight * share
            story += [image, words(name, "faint")]
    return story


def recheck_card(job: Job) -> bytes:
    """A card for the glove box: what to look at again, what to expect, and room to write."""
    rows = [("Look at", "Expect", "Found", "Date")]
    rows += [(f"{r.title} ({when_words(r)})", expect_words(job, r), "", "") for r in job.log.rechecks]
    story = [words("To look at again", "title"), words(job.name), grid(rows, (86, 40, 30, 24)),
             *(words(c, "faint") for c in CAUTIONS)]  # fmt: skip
    return made_pdf(job, "re-checks", story)


def write_folder(job: Job, folder: Path, file: Path | None = None) -> list[Path]:
    """Everything as open files in one folder: the book, the job, points, cut list, readings, diary and photos.

    Raises:
        JobFileError: it cannot be written.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise JobFileError(f"{folder.name} cannot be made: {reason(error)}.") from None
    readings = [r.model_dump(mode="json") for r in job.measuring.readings]
    entries = [e.model_dump(mode="json") for e in job.log.entries]
    content: dict[str, bytes] = {
        "build-book.pdf": book_pdf(job, file),
        "job.stance": dump_job(job).encode(),
        "points.csv": points_csv(job.vehicle, wants_comma()).encode("utf-8-sig"),
        "points-as-built.csv": points_csv(as_built(job).vehicle, wants_comma()).encode("utf-8-sig"),
        "cut-list.json": json.dumps(machine_readable_cuts(job.vehicle), indent=1).encode(),
        "shopping-list.csv": shopping_csv(job, wants_comma()).encode("utf-8-sig"),
        "readings.json": json.dumps(readings, indent=1, ensure_ascii=False).encode(),
        "diary.json": json.dumps(entries, indent=1, ensure_ascii=False).encode(),
    }
    written = []
    for name, data in content.items():
        write_whole(folder / name, data)
        written.append(folder / name)
    if file is not None:
        for name in dict.fromkeys(p for e in job.log.entries for p in e.photos):
            photo = photo_to_give(file, name)
            if photo is not None:
                (folder / "photos").mkdir(exist_ok=True)
                write_whole(folder / "photos" / name, photo)
                written.append(folder / "photos" / name)
    return written
