"""What ends the travel, in order, drawn on the length of one spring; what length makes stops and straps come first."""

from collections.abc import Iterator

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QPushButton, QSizePolicy, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.springrows import stroke_rows
from even_stance.judgement.springs import HAPPENS, fit_edit, fit_rows, order_rows, travel_words
from even_stance.study.springs import SpringRun, marks_of
from even_stance.study.springstops import Stop, StopRun, stops_of
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.car import Axle, Vehicle
from even_stance.vehicle.edits import Edit
from even_stance.vehicle.job import Job


class StrokePicture(QWidget):
    """The length of one spring from full droop to full bump as a rule, and where on it things happen."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._run: SpringRun | None = None
        self._axle: Axle | None = None
        self._stops: StopRun | None = None
        self._units: System = "us"
        self._now = 0.0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        look.changed.connect(self.updateGeometry)

    def sizeHint(self) -> QSize:
        """Wide and low."""
        return QSize(self._look.px(420), self._look.px(128))

    def show_run(self, run: SpringRun | None, stops: StopRun | None, axle: Axle, now: float, units: System) -> None:
        """Show another spring, and how long it is where the wheels are."""
        self._run, self._stops, self._axle, self._units, self._now = run, stops, axle, units, now
        if run is not None:
            self.setAccessibleName(f"Length of {run.unit.name} over travel")
        self.setVisible(run is not None)
        self.update()

    def _length_at(self, travel: float) -> float:
        assert self._run is not None
        assert self._stops is not None
        return float(np.interp(travel, self._stops.travel, self._run.length))

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the rule: longest at the left; what is used of it in the wanted travel, and every mark."""
        if self._run is None or self._axle is None or self._stops is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px = self._look, self._look.px
        own = self._length_at
        droop, ride, bump = own(-self._axle.droop_mm), own(0.0), own(self._axle.bump_mm)
        marks = [(mm, HAPPENS[what], "alarm" if what in ("closed", "open", "bind", "solid") else "ink")
                 for what, mm in marks_of(self._run.unit)]  # fmt: skip
        marks += [(droop, "full droop", "accent"), (ride, "ride", "ink"), (bump, "full bump", "accent")]
        # A rocker that goes over center has no length beyond that.
        marks = [mark for mark in marks if np.isfinite(mark[0])]
        lengths = [mm for mm, _, _ in marks]
        low, high = min(lengths), max(lengths)
        left, right, y = px(70), self.width() - px(70), px(58)
        per = (right - left) / max(high - low, 1.0)

        def at(mm: float) -> float:
            return left + (high - mm) * per

        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.color("glass"))
        used = [at(mm) for mm in (droop, ride, bump) if np.isfinite(mm)]
        painter.drawRect(QRectF(min(used), y - px(6), max(max(used) - min(used), 1.0), px(12)))
        painter.setPen(QPen(look.color("ink"), px(2)))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        painter.setFont(look.font(12))
        ends = {True: [-1e9, -1e9], False: [-1e9, -1e9]}
        for mm, words, color in sorted(marks, key=lambda m: -m[0]):
            hard = color == "alarm"
            said = f"{words} {format_length(mm, self._units).removeprefix('~')}"
            wide = painter.fontMetrics().horizontalAdvance(said)
            x = at(mm)
            start = min(max(x - wide / 2, 0.0), self.width() - wide)
            rows = ends[hard]
            row = 0 if start > rows[0] + px(4) else 1
            rows[row] = start + wide
            painter.setPen(QPen(look.color(color), px(2)))
            painter.drawLine(QPointF(x, y - px(9)), QPointF(x, y + px(9)))
            base = y - px(16 + 15 * row) if hard else y + px(24 + 15 * row)
            painter.drawText(QPointF(start, base), said)
        painter.setBrush(look.color("bubble"))
        painter.setPen(QPen(look.color("bubble_edge"), px(1.5)))
        if np.isfinite(now := own(self._now)):
            painter.drawEllipse(QPointF(at(now), y), px(6), px(6))


class StopsPage(SteppedPage):
    """What ends the travel of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._edit: Edit | None = None
        self._asked: tuple[Vehicle, str] | None = None
        self._run: StopRun | None = None
        self._run_of: Axle | None = None
        self.late = LateStudy(self)
        self.late.done.connect(self._found)

    def build(self) -> Iterator[None]:
        """The picture, the orders and the lengths."""
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        grid.addWidget(self.words, 0, 0, 1, 2)
        self.head = PlainLabel()
        self.head.setProperty("role", "group")
        grid.addWidget(self.head, 1, 0, 1, 2)
        self.picture = StrokePicture(self._look)
        grid.addWidget(self.picture, 2, 0, 1, 2)
        yield
        self.tables = []
        for i, title in enumerate(("Going up, what comes when", "Going down, what comes when")):
            grid.addWidget(group_head(title), 3, i)
            table = plain_table(("", ""), title, wide=1)
            header = table.horizontalHeader()
            if header is not None:
                header.hide()
            grid.addWidget(table, 4, i)
            self.tables.append(table)
            yield
        grid.setRowStretch(4, 1)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)
        self.fits = PlainLabel()
        self.fits.setWordWrap(True)
        grid.addWidget(self.fits, 5, 0)
        self.use = QPushButton("Set these lengths")
        self.use.setToolTip("Both sides: gaps of bump stops and lengths of straps, so that they end the travel first")
        self.use.clicked.connect(lambda _=False: self._set())
        grid.addWidget(self.use, 5, 1)

    def _set(self) -> None:
        if self._edit is not None:
            self._bench.do(self._edit)

    def _found(self, found: object) -> None:
        """What ends the travel is known."""
        if isinstance(found, tuple):
            self._run, self._run_of = found
            self.refresh()
        else:
            self.words.setText(str(found))

    def _shown_run(self, run: StopRun) -> SpringRun | None:
        """The spring drawn: that of the point held, else the first one that has an end."""
        spot = self._bench.spot
        own = next((r for r in run.runs if spot is not None and r.unit.name == spot.member and marks_of(r.unit)), None)
        return own or next((r for r in run.runs if marks_of(r.unit)), None)

    def refresh(self) -> None:
        """Show what ends the travel."""
        bench, axle = self._bench, self._bench.axle
        asked = (bench.job.vehicle, axle.key)
        if asked != self._asked:
            self._asked = asked
            self.late.ask(lambda: (stops_of(asked[0], axle), axle))
        looking = self._run_of != axle
        run = None if looking else self._run
        shown = None if run is None else self._shown_run(run)
        now = 0.5 * (bench.posture.left_mm + bench.posture.right_mm)
        self.picture.show_run(shown, run, axle, now, bench.job.units)
        self.head.setText("" if shown is None else f"{shown.unit.name}, its length over travel, {_unit(bench.job)}")
        self.words.setText("Looking what ends the travel…" if looking else _first_words(bench.job, run))
        for table, way in zip(self.tables, ("bump", "droop"), strict=True):
            rows = [] if run is None else order_rows(bench.job, run, axle, way)  # type: ignore[arg-type]
            table.setRowCount(len(rows))
            for i, (title, words) in enumerate(rows):
                set_text(table, i, 0, title, right=False)
                set_text(table, i, 1, words, right=False)
        rows = [] if run is None else [*stroke_rows(bench.job, run), *fit_rows(bench.job, run, axle)]
        self.fits.setText("\n".join(f"{title}: {words}." for title, words in rows))
        self._edit = None if run is None else fit_edit(run, axle)
        self.use.setVisible(self._edit is not None)


def _unit(job: Job) -> str:
    return length_unit(job.units)


def _first_words(job: Job, run: StopRun | None) -> str:
    """What ends the travel first, either way."""
    if run is None:
        return "The axle is not held by its links yet: what ends its travel comes after."
    said = []
    for way, go in (("bump", "up"), ("droop", "down")):
        first: Stop | None = run.first(way)  # type: ignore[arg-type]
        said.append(
            f"Going {go}, nothing ends the travel within reach."
            if first is None
            else f"Going {go}, {first.name} {HAPPENS[first.what]} first, at {travel_words(first.travel_mm, job.units)}."
        )
    return " ".join(said)
