"""Tires: chains and mud, other sizes on the car as it is cut, and what each touches."""

from collections.abc import Iterator

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QProgressBar, QPushButton

from even_stance.desktop.background import LongWork
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.clearances import gap_words, place_words, posture_words, short_of
from even_stance.study.tirerack import AtLock, Fitted, crossed_at_lock, largest, rack
from even_stance.units import MM_PER_INCH, format_length, length_unit
from even_stance.vehicle.car import Vehicle
from even_stance.vehicle.edits import set_clearances

_STEPS = (-1, 0, 1, 2, 3)


class TiresPage(SteppedPage):
    """Which tires go on the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        us = bench.job.units == "us"
        self._step, self._out = (MM_PER_INCH, 0.0) if us else (20.0, 0.0)
        self._width: float | None = None
        self._of = ""
        self.found: list[Fitted] = []
        self.most: Fitted | None = None
        self.work = LongWork(self)
        self.work.progressed.connect(lambda share: self.bar.setValue(round(100 * share)))
        self.work.done.connect(self._arrived)
        self._locked: tuple[Vehicle | None, str, AtLock | str | None] = (None, "", None)
        self.lock_work = LongWork(self)
        self.lock_work.done.connect(self._lock_arrived)

    def build(self) -> Iterator[None]:
        """What is allowed for; the sizes; what they touch."""
        bench = self._bench
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        grid.addWidget(group_head("Allowed for on every tire"), 0, 0, 1, 4)
        self.more = LengthField(bench, "Chains or mud, all around", lambda mm: self._allow(tire_more_mm=mm))
        self.bulge = LengthField(bench, "Bulge under load", lambda mm: self._allow(bulge_mm=mm))
        self.tail = LengthField(bench, "Tail raised by, as well", lambda mm: self._allow(tail_up_mm=mm))
        self.labels = [
            Labeled(bench, field.name, field, "length") for field in (self.more, self.bulge, self.tail)
        ]  # fmt: skip
        for i, label in enumerate(self.labels):
            grid.addWidget(label, 1, i)
        grid.addWidget(group_head("Other sizes, with what is cut now"), 2, 0, 1, 4)
        self.step = LengthField(bench, "Larger by steps of", self._set_step)
        self.wide = LengthField(bench, "Width", self._set_width)
        self.out = LengthField(bench, "Stands farther out by", self._set_out)
        self.sizes = [Labeled(bench, f.name, f, "length") for f in (self.step, self.wide, self.out)]
        for i, label in enumerate(self.sizes):
            grid.addWidget(label, 3, i)
        row = QHBoxLayout()
        self.start = QPushButton("Try the sizes")
        self.start.setProperty("main", "true")
        self.start.clicked.connect(lambda _=False: self.search())
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(self.work.stop)
        self.bar = QProgressBar()
        self.bar.setAccessibleName("How far the search is")
        for widget in (self.start, self.stop, self.bar):
            row.addWidget(widget)
        grid.addLayout(row, 3, 3)
        yield
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        grid.addWidget(self.words, 4, 0, 1, 4)
        self.table = plain_table(
            ("Diameter × width", "", "Tightest", "Against", "At"), "Sizes and what they touch", wide=3
        )
        grid.addWidget(self.table, 5, 0, 1, 4)
        grid.setRowStretch(5, 1)
        self.lock = PlainLabel()
        self.lock.setWordWrap(True)
        grid.addWidget(self.lock, 6, 0, 1, 4)
        grid.addWidget(faint_words("Measure the mounted diameter: the sidewall number overstates it."), 7, 0, 1, 4)

    def _allow(self, **changes: float) -> None:
        self._bench.do(set_clearances("Allowed for", **changes))

    def _set_step(self, mm: float) -> None:
        self._step = max(mm, 1.0)

    def _set_width(self, mm: float) -> None:
        self._width = mm

    def _set_out(self, mm: float) -> None:
        self._out = mm

    def search(self) -> None:
        """Try the sizes one after the other."""
        bench = self._bench
        vehicle, axle, step, out = bench.job.vehicle, bench.axle, self._step, self._out
        width = self._width or axle.tire.width_mm
        sizes = [(axle.tire.free_diameter_mm + k * step, width) for k in _STEPS]
        self._of = axle.key

        def work(progress: object, stopped: object) -> tuple[list[Fitted], Fitted | None]:
            found = rack(vehicle, axle, sizes, out, progress, stopped)  # type: ignore[arg-type]
            return found, None if stopped() else largest(vehicle, axle, width, out)  # type: ignore[operator]

        self.work.start(work)
        self.refresh()

    def _arrived(self, result: object) -> None:
        if isinstance(result, tuple):
            self.found, self.most = result
        else:
            self._bench.refused.emit(str(result))
        self.refresh()

    def refresh(self) -> None:
        """Show what is allowed for and what was found."""
        if not hasattr(self, "lock"):
            return
        bench, units = self._bench, self._bench.job.units
        allowed = bench.job.vehicle.clearances
        for label in (*self.labels, *self.sizes):
            label.refresh_unit()
        for field, mm in ((self.more, allowed.tire_more_mm), (self.bulge, allowed.bulge_mm),
                          (self.tail, allowed.tail_up_mm), (self.step, self._step), (self.out, self._out),
                          (self.wide, self._width or bench.axle.tire.width_mm)):  # fmt: skip
            field.show_mm(mm)
        self.stop.setVisible(self.work.running)
        self.bar.setVisible(self.work.running)
        if self._of != bench.axle_key:
            self.found, self.most = [], None

        def said(mm: float) -> str:
            return f"{format_length(mm, units).removeprefix('~')}"

        self.table.setRowCount(len(self.found))
        for i, fitted in enumerate(self.found):
            tight = max(fitted.gaps, key=lambda g: short_of(bench.job, g), default=None)
            mark = "touches" if not fitted.clears else "room as wanted" if fitted.roomy else "close"
            cells = [f"{said(fitted.diameter_mm)} × {said(fitted.width_mm)} {length_unit(units)}", mark]
            if tight is not None:
                other = tight.b.name if tight.a.family == "tires" else tight.a.name
                cells += [gap_words(tight.gap_mm, units), other, posture_words(bench.job, tight)]
            for j, text in enumerate(cells):
                set_text(self.table, i, j, text, right=False)
        if self.most is not None:
            self.words.setText(f"Largest that touches nothing at the {self._of} axle, with what is cut now: "
                               f"{said(self.most.diameter_mm)} {length_unit(units)} across, "
                               f"{said(self.most.width_mm)} wide.")  # fmt: skip
        elif self.found and not self.work.running:
            self.words.setText("Even a far smaller tire touches something: see what, and make room there first.")
        else:
            self.words.setText(f"Sizes from one step smaller to three larger are tried on the {bench.axle_key} axle.")
        self._say_lock()

    def _say_lock(self) -> None:
        """The smallest gap of a tire at full lock while crossed up, once it is worked out for the car as it is."""
        job, key = self._bench.job, self._bench.axle_key
        vehicle = job.vehicle
        if self._bench.axle.steering is None:
            self.lock.setText("Nothing steers this axle.")
            return
        if self._locked[:2] != (vehicle, key):
            self._locked = (vehicle, key, None)
            self.lock.setText("What comes near at full lock while crossed up is being worked out.")
            self.lock_work.start(lambda _progress, _stopped: (crossed_at_lock(vehicle, key),))
            return
        if self.lock_work.running:
            return
        tight = self._locked[2]
        if isinstance(tight, str):  # why there is no answer
            self.lock.setText(tight)
            return
        self.lock.setText(
            "At full lock while crossed up no tire of this axle comes near to anything known."
            if tight is None
            else f"At full lock while crossed up: {gap_words(tight.gap_mm, job.units)} between {tight.tire} and "
            f"{tight.other} ({place_words(job, key, tight.left_mm, tight.right_mm, tight.steer)})."
        )

    def _lock_arrived(self, result: object) -> None:
        self._locked = (*self._locked[:2], result[0] if isinstance(result, tuple) else str(result))
        self._say_lock()
