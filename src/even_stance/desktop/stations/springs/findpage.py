"""Holes and places of springs' mounts: all combinations of holes ranked, and the least move for a wanted number."""

from collections.abc import Iterator

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QProgressBar, QPushButton

from even_stance.desktop.background import LongWork
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import SteppedPage
from even_stance.desktop.widgets.fields import Labeled, LengthField, PlainField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.search.springfinder import HoleSet, Solved, brackets, solve_mount, spring_holes
from even_stance.judgement.verdicts import TITLES, format_value
from even_stance.units import MM_PER_INCH
from even_stance.vehicle.job import Job
from even_stance.vehicle.spots import Spot
from even_stance.vehicle.springs import Hung, Rocker

_SHOWN = 40
_GOALS = ("motion_ratio_x", "ride_frequency_hz", "roll_per_g_deg", "transfer_over_weight_pct")
_LISTED = ("motion_ratio_x", "ride_frequency_hz", "stroke_droop_mm", "stroke_bump_mm", "sits_off_mm")


class FindPage(SteppedPage):
    """A number that is wanted and the mount that may move for it; and the holes there are."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.solved: Solved | None = None
        self.found: list[HoleSet] = []
        self._of: Job | None = None
        self._goal: float | None = None
        self._room = MM_PER_INCH * 4 if bench.job.units == "us" else 100.0
        self.work = LongWork(self)
        self.work.progressed.connect(lambda share: self.bar.setValue(round(100 * share)))
        self.work.done.connect(self._arrived)

    def build(self) -> Iterator[None]:
        """What is wanted, the answer; the holes below."""
        bench = self._bench
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        grid.addWidget(group_head("A mount’s place for a wanted number"), 0, 0, 1, 2)
        row = QHBoxLayout()
        self.number = QComboBox()
        self.number.setAccessibleName("Number that is wanted")
        for key in _GOALS:
            self.number.addItem(TITLES[key], key)
        self.number.activated.connect(lambda _: self._other())
        row.addWidget(Labeled(bench, "Number", self.number), 2)
        self.goal = PlainField(bench, "Wanted", self._set_goal)
        row.addWidget(Labeled(bench, "Wanted", self.goal), 1)
        self.mount = QComboBox()
        self.mount.setAccessibleName("Mount that may move")
        row.addWidget(Labeled(bench, "Mount that may move", self.mount), 3)
        self.room = LengthField(bench, "Room either way", self._set_room)
        self.room_label = Labeled(bench, "Room either way", self.room, "length")
        row.addWidget(self.room_label, 1)
        self.seek = QPushButton("Find the place")
        self.seek.setProperty("main", "true")
        self.seek.clicked.connect(lambda _=False: self._seek())
        row.addWidget(self.seek)
        grid.addLayout(row, 1, 0, 1, 2)
        self.answer = PlainLabel("Out and up, both sides alike; the least move that gives the number.")
        self.answer.setWordWrap(True)
        grid.addWidget(self.answer, 2, 0)
        self.take = QPushButton("Take it as a variant")
        self.take.clicked.connect(lambda _=False: self._take())
        grid.addWidget(self.take, 2, 1)
        grid.setColumnStretch(0, 1)
        yield
        self._holes(grid)

    def _holes(self, grid: QGridLayout) -> None:
        """The search over holes, and what it found."""
        grid.addWidget(group_head("Holes of the springs’ brackets"), 3, 0, 1, 2)
        below = QHBoxLayout()
        self.start = QPushButton("Try every hole")
        self.start.clicked.connect(lambda _=False: self.search())
        below.addWidget(self.start)
        self.stop = QPushButton("Stop")
        self.stop.clicked.connect(self.work.stop)
        below.addWidget(self.stop)
        self.bar = QProgressBar()
        self.bar.setAccessibleName("How far the search is")
        below.addWidget(self.bar, 1)
        self.use = QPushButton("Take the picked holes")
        self.use.clicked.connect(lambda _=False: self._use())
        below.addWidget(self.use)
        grid.addLayout(below, 4, 0, 1, 2)
        self.words = PlainLabel()
        self.words.setProperty("role", "faint")
        self.words.setWordWrap(True)
        grid.addWidget(self.words, 5, 0, 1, 2)
        self.table = plain_table(("Holes", *(TITLES[k] for k in _LISTED)), "Combinations of holes", wide=0)
        grid.addWidget(self.table, 6, 0, 1, 2)
        grid.setRowStretch(6, 1)

    # --- what is done

    def _other(self) -> None:
        self._goal = None
        self.refresh()

    def _set_goal(self, value: float) -> None:
        self._goal = value

    def _set_room(self, mm: float) -> None:
        self._room = mm

    def _spots(self) -> list[Spot]:
        """The mounts that may move, those of the left springs and of the middle."""
        axle = self._bench.axle
        return [
            Spot(axle.key, part.name, end) for part in axle.springs
            if isinstance(part, Hung | Rocker) and part.side != "right" and part.kind not in ("bump_stop", "strap")
            for end in part.mounts
        ]  # fmt: skip

    def _seek(self) -> None:
        bench, spots = self._bench, self._spots()
        i = self.mount.currentIndex()
        if not 0 <= i < len(spots):
            bench.refused.emit("There is no mount to move: put springs on first, on the Parts page.")
            return
        if self._goal is None:
            bench.refused.emit("Wanted: nothing was entered. Type the number that is wanted.")
            return
        job, spot, key, goal, room = bench.job, spots[i], self.number.currentData(), self._goal, self._room
        self._of, self.solved = job, None
        self.answer.setText("Looking for the place …")
        self.work.start(lambda told, stopped: solve_mount(job, spot, key, goal, room, stopped))

    def search(self) -> None:
        """Try every combination of holes."""
        job, key = self._bench.job, self._bench.axle_key
        self._of, self.found = job, []
        self.work.start(lambda told, stopped: spring_holes(job, key, told, stopped))
        self.refresh()

    def _take(self) -> None:
        if self.solved is not None and self._of is self._bench.job:
            self._bench.try_as_variant(self.solved.edit, "Mount moved")

    def _use(self) -> None:
        row = self.table.currentRow()
        if not 0 <= row < len(self.found) or self._of is not self._bench.job:
            self._bench.refused.emit("No holes are picked: try every hole, then click a row.")
            return
        self._bench.do(self.found[row].edit)

    def _arrived(self, result: object) -> None:
        if isinstance(result, Solved):
            self.solved = result
        elif isinstance(result, list):
            self.found = result
        else:
            self._bench.refused.emit(str(result))
        self.refresh()

    # --- what is shown

    def refresh(self) -> None:
        """Show what may move, what was found, and whether it is still true."""
        bench, units = self._bench, self._bench.job.units
        spots, fresh = self._spots(), self._of is bench.job
        words = [s.words for s in spots]
        with blocked(self.mount):
            if [self.mount.itemText(i) for i in range(self.mount.count())] != words:
                self.mount.clear()
                self.mount.addItems(words)
        self.room_label.refresh_unit()
        self.room.show_mm(self._room)
        self.goal.show_value(self._goal)
        self.take.setEnabled(self.solved is not None and fresh)
        if self.solved is not None and fresh:
            key = self.number.currentData()
            said = f"{self.solved.words}: {TITLES[key].lower()} {format_value(key, self.solved.value, units)}."
            self.answer.setText(said if self.solved.reached else f"{said} That is the nearest within the room.")
        elif not self.work.running:
            self.answer.setText("Out and up, both sides alike; the least move that gives the number.")
        many = brackets(bench.job, bench.axle_key)
        count = f"{len(many)} bracket{'s' * (len(many) != 1)} with several holes"
        none = "No bracket of a spring has several holes: hold a mount, then “Bracket…”."
        self.words.setText(f"{count}; the best combination by all numbers of the springs first." if many else none)
        self.start.setEnabled(bool(many) and not self.work.running)
        self.stop.setEnabled(self.work.running)
        self.use.setEnabled(bool(self.found) and fresh)
        shown = self.found[:_SHOWN] if fresh else []
        self.table.setRowCount(len(shown))
        for i, each in enumerate(shown):
            set_text(self.table, i, 0, each.words, right=False)
            for j, key in enumerate(_LISTED, start=1):
                text = format_value(key, each.values[key], units) if key in each.values else ""
                set_text(self.table, i, j, text)
