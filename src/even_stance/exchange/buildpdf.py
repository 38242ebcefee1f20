"""Cut list, shopping list and order of work on paper."""

from collections.abc import Callable, Sequence
from typing import Any

from even_stance.errors import InputError
from even_stance.exchange.paper import grid, made_pdf, words
from even_stance.judgement.build import judged_links, spare_words
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.counting import bars_long, count_parts, price_words
from even_stance.shop.orderofwork import HEAT, work_steps
from even_stance.study.cutlist import CutPiece, cut_list
from even_stance.units import format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.job import Job


def cutlist_pdf(job: Job) -> bytes:
    """The cut list with its hands and spares, the bars with their saw cuts, and what each link's weakest part is.

    Raises:
        InputError: no parts are chosen.
    """
    cuts, units = cut_list(job.vehicle, job.units), job.units
    if not cuts:
        raise InputError("Cut list", "no parts are chosen.", "Fit parts to links in the Build sheet first.")

    def said(mm: float) -> str:
        return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"

    story: list[Any] = [words("Cut list", "title"), words(f"{job.name}. Square ends; pin to pin at ride height.")]
    story.append(cut_grid(cuts, said))
    for cut in cuts:
        story += [words(w, "faint") for w in cut.wrong]
        if not cut.covered:
            story.append(words(f"{cut.piece.words}: {spare_words(job, cut)}", "faint"))
    counted = count_parts(job.vehicle, units)
    story.append(words(f"Bars, saw cut {said(job.vehicle.build.kerf_mm)}", "head"))
    bars = [("Tube", "Bar", "Saw off, in this order", "Left")]
    for tube, plan in counted.plans:
        for bar in plan.bars:
            what = "; ".join(f"{said(c)} {n}" for c, n in zip(bar.cuts_mm, bar.names, strict=True))
            bars.append((tube.name, said(bar.length_mm), what, said(bar.left_mm)))
    story.append(grid(bars, (36, 22, 100, 22)))
    story += [words(w, "faint") for w in counted.unplanned]
    _, verdicts = judged_links(job)
    if verdicts:
        story.append(words("Weakest thing of each link", "head"))
        story.append(grid([("Link", "Used", "Why"), *((v.name, v.reading(units), v.sentence) for v in verdicts)],
                          (44, 18, 118)))  # fmt: skip
    story += [words(c, "faint") for c in CAUTIONS]
    return made_pdf(job, "cut list", story)


def cut_grid(cuts: Sequence[CutPiece], said: Callable[[float], str]) -> Any:
    """What to cut every link to, with its hands and what its threads take up, as a table."""
    rows = [("Link", "Tube", "Cut", "Pin to pin", "Hands", "Out, in")]
    for cut in cuts:
        hands = " + ".join(e.parts.hand[0].upper() if e.engaged_mm else "weld" for e in cut.ends)
        guess = ", a guess" if cut.piece.guesses else ""
        pins = f"{said(cut.piece.pin_mm)} ± {said(cut.sure_mm)}{guess}"
        spare = f"{said(max(cut.out_mm, 0.0))}, {said(max(cut.in_mm, 0.0))}"
        rows.append((cut.piece.words, cut.tube.name, said(max(cut.cut_mm, 0.0)), pins, hands, spare))
    return grid(rows, (42, 36, 24, 38, 16, 26))


def shopping_pdf(job: Job) -> bytes:
    """The shopping list with boxes to tick.

    Raises:
        InputError: no parts are chosen.
    """
    counted, units = count_parts(job.vehicle, job.units), job.units
    if not counted.lines:
        raise InputError("Shopping list", "no parts are chosen.", "Fit parts to links in the Build sheet first.")
    rows = [("There", "What", "Count", "Each", "Cost")]
    for line in counted.lines:
        there = "[x]" if line.what in job.vehicle.build.ticked else "[  ]"
        count = f"{line.count} bars, {bars_long(line.meters, units)}" if line.sort == "tube" else str(line.count)
        each = "" if line.each is None else price_words(line, units)
        rows.append((there, line.what, count, each, "" if line.cost is None else f"{line.cost:.2f}"))
    weight = f"{format_mass(counted.tube_kg, units)} {mass_unit(units)}"
    cost = f"{counted.cost:.2f} for what has a price" if counted.cost else "no prices typed"
    story = [words("Shopping list", "title"), words(f"{job.name}, {job.branch}. Tube as cut {weight}; {cost}."),
             grid(rows, (14, 92, 34, 20, 20)), *(words(c, "faint") for c in CAUTIONS[:1])]  # fmt: skip
    return made_pdf(job, "shopping list", story)


def order_pdf(job: Job) -> bytes:
    """The order of work as a shop sheet, with its hold points and what to mind with heat."""
    done = job.vehicle.build.done
    rows = [("Done", "What", "So that")]
    for step in work_steps(job):
        rows.append(("[x]" if step.key in done else "[  ]", step.title, step.why))
    story = [words("Order of work", "title"), words(job.name), grid(rows, (14, 96, 70)), words("Heat", "head"),
             *(words(h) for h in HEAT), *(words(c, "faint") for c in CAUTIONS)]  # fmt: skip
    return made_pdf(job, "order of work", story)
