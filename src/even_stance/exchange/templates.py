"""Notches, plates, tube ends and lug circles as templates at full size, on paper and for the cutter."""

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely

from even_stance.errors import InputError
from even_stance.exchange.fullsize import Line, Sheet, sheets_dxf, sheets_pdf
from even_stance.mechanics.vectors import Array
from even_stance.shop.plates import Template
from even_stance.study.notch import Notch
from even_stance.units import format_length, length_unit
from even_stance.vehicle.job import Job

_FACES = {"side": "seen from the left", "plan": "seen from above", "rear": "seen from behind"}
_AROUND_MM = 3.0


def _rings(area: Any) -> list[Array]:
    """Every closed outline of an area."""
    if area.geom_type not in ("Polygon", "MultiPolygon"):
        return []
    pieces = getattr(area, "geoms", [area])
    return [np.array(ring.coords) for p in pieces if not p.is_empty for ring in (p.exterior, *p.interiors)]


def _rests(notch: Notch) -> Any:
    """What of the part is shown: the whole of it where it is small, else some way around the notch."""
    cut = notch.cut
    if cut.is_empty:
        return notch.before
    low_x, low_y, high_x, high_y = cut.bounds
    return notch.before.intersection(shapely.box(low_x - 80.0, low_y - 80.0, high_x + 80.0, high_y + 80.0))


def _notch_sheet(job: Job, notch: Notch, whole: bool) -> Sheet:
    """A notch: the part, what is cut away, and what is left."""
    units, shown = job.units, notch.before if whole else _rests(notch)

    def said(value: float) -> str:
        return f"{format_length(value, units).removeprefix('~')} {length_unit(units)}"

    words = (f"{job.name}: notch in {notch.thing} for {notch.mover}, {_FACES[notch.plane]}; {said(notch.gap_mm)} gap, "
             f"{said(notch.deep_mm)} deep, {said(notch.left_mm)} left")  # fmt: skip
    after = notch.after if whole else notch.after.intersection(shown)
    lines = [Line(layer, ring) for layer, area in (("PART", shown), ("CUT", notch.cut), ("LEFT", after))
             for ring in _rings(area)]  # fmt: skip
    return Sheet("Notch template", words, lines, (), (), shown.bounds)


def notch_pdf(job: Job, notch: Notch) -> bytes:
    """A notch at 1:1 on as many letter or A4 pages as it takes."""
    return sheets_pdf(job.units, [_notch_sheet(job, notch, whole=False)])


def notch_dxf(job: Job, notch: Notch) -> bytes:
    """A notch as a drawing in millimeters: the part, what is cut away, and what is left, each on a layer of its own."""
    return sheets_dxf([_notch_sheet(job, notch, whole=True)])


def template_sheet(job: Job, template: Template) -> Sheet:
    """A template: what is cut out, drilled and scribed."""
    lines = [Line("CUT", ring) for ring in template.rings] + [Line("SCRIBE", m, False) for m in template.marks]
    circles = [("HOLES" if what != "old" else "SCRIBE", x, y, d) for x, y, d, what in template.holes]
    labels = [(x + 0.5 * d + 1.0, y + 1.0, what) for x, y, d, what in template.holes if what]
    left, bottom, right, top = template.bounds
    window = (left - _AROUND_MM, bottom - _AROUND_MM, right + _AROUND_MM, top + _AROUND_MM)
    return Sheet(
        template.name, f"{job.name}: {template.name}; {template.wrong or template.note}", lines, circles, labels, window
    )


def templates_pdf(job: Job, templates: Sequence[Template]) -> bytes:
    """Templates at 1:1, one after the other.

    Raises:
        InputError: there is none.
    """
    if not templates:
        raise InputError("Templates", "there are none yet.", "Fit parts to links in the Build sheet first.")
    return sheets_pdf(job.units, [template_sheet(job, t) for t in templates])


def templates_dxf(job: Job, templates: Sequence[Template]) -> bytes:
    """Return templates as one drawing in millimeters, side by side: CUT, HOLES and SCRIBE on layers of their own.

    Raises:
        InputError: there is none.
    """
    if not templates:
        raise InputError("Templates", "there are none yet.", "Fit parts to links in the Build sheet first.")
    return sheets_dxf([template_sheet(job, t) for t in templates])
