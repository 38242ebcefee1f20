"""Notch: what the moving part sweeps on the face of the part to be cut, at full size on paper or for the cutter."""

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_made
from even_stance.desktop.stations.clearance.held import HeldPair
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.errors import StanceError
from even_stance.judgement.clearances import wanted_of
from even_stance.judgement.findings import CAUTIONS
from even_stance.study.notch import Notch, cut_plate, notch_for
from even_stance.units import System, format_length, length_unit
from even_stance.vehicle.edits import change_thing
from even_stance.vehicle.log import Entry

_FACES = (("", "the best face"), ("side", "from the left"), ("plan", "from above"), ("rear", "from behind"))


class NotchPicture(QWidget):
    """The face of the part, what is cut away, and what is swept."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._notch: Notch | None = None
        self._units: System = "us"
        self.setAccessibleName("The part and its notch")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """As large as there is room."""
        return QSize(self._look.px(600), self._look.px(360))

    def show_notch(self, notch: Notch | None, units: System) -> None:
        """Show another notch."""
        self._notch, self._units = notch, units
        said = "" if notch is None else f"{notch.thing} cut for {notch.mover}, {notch.deep_mm:.0f} mm deep"
        self.setAccessibleDescription(said)
        self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        """Paint the part, its notch hatched, and a rule."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look, px, notch = self._look, self._look.px, self._notch
        painter.fillRect(self.rect(), look.color("floor"))
        if notch is None:
            return
        left, bottom, right, top = notch.before.bounds
        if not notch.cut.is_empty:  # of a long part what is near the notch
            a, b, c, d = notch.cut.bounds
            more = max(c - a, d - b, 60.0)
            left, bottom, right, top = (
                max(left, a - more),
                max(bottom, b - more),
                min(right, c + more),
                min(top, d + more),
            )
        room = QRectF(self.rect()).adjusted(px(30), px(30), -px(30), -px(46))
        scale = min(room.width() / max(right - left, 1.0), room.height() / max(top - bottom, 1.0))
        x0 = room.center().x() - scale * (left + right) / 2
        y0 = room.center().y() + scale * (bottom + top) / 2
        painter.setClipRect(room.adjusted(-px(20), -px(20), px(20), px(20)))

        def draw(area: object, color: str, fill: object, wide: float, dash: bool = False) -> None:
            pen = QPen(look.color(color), px(wide))
            pen.setStyle(Qt.PenStyle.DashLine if dash else Qt.PenStyle.SolidLine)
            painter.setPen(pen)
            painter.setBrush(fill)  # type: ignore[call-overload]
            for piece in getattr(area, "geoms", [area]):
                if getattr(piece, "geom_type", "") == "Polygon" and not piece.is_empty:
                    for ring in (piece.exterior, *piece.interiors):
                        painter.drawPolygon(
                            QPolygonF([QPointF(x0 + scale * p[0], y0 - scale * p[1]) for p in ring.coords])
                        )

        draw(notch.before, "ink", look.color("sheet"), 1.0, dash=True)
        draw(notch.after, "ink", look.color("steel"), 2.0)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        draw(notch.swept, "accent", Qt.BrushStyle.NoBrush, 1.5, dash=True)
        draw(notch.cut, "alarm", Qt.BrushStyle.BDiagPattern, 2.0)
        painter.setClipping(False)
        painter.setFont(look.font(12))
        for i, (color, words) in enumerate((("ink", "what is left"), ("alarm", "cut away"),
                                            ("accent", "swept, with the gap wanted"))):  # fmt: skip
            painter.setPen(look.color(color))
            painter.drawText(QPointF(px(12) + i * px(150), self.height() - px(10)), words)
        rule = 50.8 if self._units == "us" else 50.0
        painter.setPen(QPen(look.color("ink"), px(2)))
        end = QPointF(self.width() - px(14), self.height() - px(14))
        painter.drawLine(end - QPointF(scale * rule, 0), end)
        painter.drawText(end - QPointF(scale * rule, px(6)), "2 in" if self._units == "us" else "50 mm")


class NotchPage(QWidget):
    """The notch for the pair looked at."""

    def __init__(self, bench: Bench, look: Look, held: HeldPair) -> None:
        super().__init__()
        self._bench, self._look, self._held = bench, look, held
        self.notch: Notch | None = None
        self._gap_mm: float | None = None
        self._of: object = None
        self._late = LateStudy(self)
        self._late.done.connect(self._arrived)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 12, 4)
        row = QHBoxLayout()
        self.thing = QComboBox()
        self.thing.setAccessibleName("Part to cut")
        self.thing.activated.connect(lambda _: self._anew())
        row.addWidget(Labeled(bench, "Part to cut", self.thing), 2)
        self.face = QComboBox()
        self.face.setAccessibleName("Face to cut on")
        for key, words in _FACES:
            self.face.addItem(words, key)
        self.face.activated.connect(lambda _: self._anew())
        row.addWidget(Labeled(bench, "Seen", self.face), 1)
        self.gap = LengthField(bench, "Gap around it", self._set_gap)
        self.gap_label = Labeled(bench, "Gap around it", self.gap, "length")
        row.addWidget(self.gap_label)
        column.addLayout(row)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.picture = NotchPicture(look)
        column.addWidget(self.picture, 1)
        acts = QHBoxLayout()
        self.cut = QPushButton("Cut it so on the car")
        self.cut.setProperty("main", "true")
        self.cut.clicked.connect(lambda _=False: self._cut())
        self.pdf = QPushButton("Template, full size (PDF)…")
        self.pdf.clicked.connect(lambda _=False: self._ask("pdf"))
        self.dxf = QPushButton("For the cutter (DXF)…")
        self.dxf.clicked.connect(lambda _=False: self._ask("dxf"))
        for button in (self.cut, self.pdf, self.dxf):
            acts.addWidget(button)
        acts.addWidget(faint_words(CAUTIONS[3]), 1)
        column.addLayout(acts)
        held.changed.connect(self.refresh)

    def _set_gap(self, mm: float) -> None:
        self._gap_mm = mm
        self._anew()

    def _anew(self) -> None:
        self._of = None
        self.refresh()

    def refresh(self) -> None:
        """Show the notch for the pair looked at."""
        if not self.isVisible():
            return
        bench, gap = self._bench, self._held.gap
        self.gap_label.refresh_unit()
        names = [] if gap is None else [p.name for p in (gap.a, gap.b) if p.thing and p.body == "chassis"]
        with blocked(self.thing):
            if [self.thing.itemText(i) for i in range(self.thing.count())] != names:
                self.thing.clear()
                self.thing.addItems(names)
                self._gap_mm = None
        wanted = 12.7 if gap is None else wanted_of(bench.job, gap)
        self.gap.show_mm(self._gap_mm if self._gap_mm is not None else wanted)
        if gap is None or not names:
            self._show(None)
            said = "Choose a pair in Look or Gaps whose one part is a thing on the chassis: that one can be cut."
            self.words.setText(said)
            return
        name, face = self.thing.currentText(), self.face.currentData() or None
        clear = self._gap_mm if self._gap_mm is not None else wanted
        key = (bench.job.vehicle, frozenset(gap.names), name, face, clear)
        if key != self._of:
            self._of = key
            self.words.setText("Being worked out…")
            vehicle = bench.job.vehicle
            self._late.ask(lambda: notch_for(vehicle, gap, name, clear, face))

    def _arrived(self, result: object) -> None:
        if isinstance(result, Notch):
            self._show(result)
        else:
            self._show(None)
            self.words.setText(str(result))

    def _show(self, notch: Notch | None) -> None:
        units = self._bench.job.units
        self.notch = notch
        self.picture.show_notch(notch, units)
        good = notch is not None and notch.after.geom_type == "Polygon" and not notch.cut.is_empty
        for button in (self.cut, self.pdf, self.dxf):
            button.setEnabled(good)
        if notch is None:
            return

        def said(mm: float) -> str:
            return f"{format_length(mm, units).removeprefix('~')} {length_unit(units)}"

        deep = f"{notch.thing} cut for {notch.mover} with {said(notch.gap_mm)} around it: {said(notch.deep_mm)} deep, "
        self.words.setText(notch.words or f"{deep}{said(notch.left_mm)} left beside it.")

    def _cut(self) -> None:
        if self.notch is None:
            return
        try:
            plate = cut_plate(self.notch)
        except StanceError as error:
            self._bench.refused.emit(str(error))
            return
        notch = self.notch
        if self._bench.do(change_thing(notch.thing, f"notched for {notch.mover}", form=plate)).done:
            entry = Entry(at=datetime.now().astimezone().isoformat(timespec="seconds"), kind="notched",
                          title=f"{notch.thing}"[:80], text=f"for {notch.mover}, {notch.deep_mm:.0f} mm deep",
                          stage=self._bench.job.measuring.stage, by_itself=True)  # fmt: skip
            self._bench.write((*self._bench.job.log.entries, entry))

    def _ask(self, kind: str) -> QFileDialog | None:
        if self.notch is None:
            return None
        start = f"notch-{self.notch.thing.replace(' ', '-')}.{kind}"
        return ask_path(self, "Save the template", start, f"(*.{kind})", self.write)

    def write(self, path: Path) -> None:
        """Write the template, PDF or DXF by the ending of the file."""
        if self.notch is None:
            return
        from even_stance.exchange.templates import notch_dxf, notch_pdf  # noqa: PLC0415 - paper is loaded late

        make, notch = notch_dxf if path.suffix.lower() == ".dxf" else notch_pdf, self.notch
        job = self._bench.job
        save_made(self._bench, path, lambda: make(job, notch))

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
