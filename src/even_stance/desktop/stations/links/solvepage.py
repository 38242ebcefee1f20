"""Solve for wanted numbers: what they should be, what may move and how far, and what comes of it."""

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QMenu, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LongWork
from even_stance.desktop.bench import Bench
from even_stance.desktop.bounds import bound
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Scrolled
from even_stance.desktop.stations.links.askbar import WISH_FIELDS
from even_stance.desktop.widgets.emptied import emptied
from even_stance.desktop.widgets.fields import LengthField, NumberField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.judgement.search.limits import LEAST_HEIGHT_MM, Freedom
from even_stance.judgement.search.moves import pairs
from even_stance.judgement.search.solvefor import Solved, solve_for
from even_stance.judgement.search.wishes import Wish, values_now, wishes_of
from even_stance.judgement.wording import bracket_words
from even_stance.units import MM_PER_INCH, format_length, length_unit
from even_stance.vehicle.car import Landmark
from even_stance.vehicle.spots import Spot

_WAYS = ("along", "across", "up")
_ROOM_MM = 2 * MM_PER_INCH
_HINT = "Tick what is asked for and what may move, then solve."


class SolvePage(QWidget):
    """Ask for numbers, free some points, and see what layout has them."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.solved: Solved | None = None
        self.targets: dict[str, float] = {}
        self.free: dict[tuple[Spot, int], bool] = {}
        self.room: dict[Spot, float] = {}
        self.asks: dict[str, tuple[QCheckBox, NumberField]] = {}
        self.more: dict[str, list[str]] = {}  # what is asked besides the judged numbers, by axle
        self.wishes: dict[str, Wish] = {}
        self.boxes: dict[tuple[Spot, int], QCheckBox] = {}
        self.rooms: dict[Spot, LengthField] = {}
        self._layout: tuple[object, ...] = ()
        look.changed.connect(self._restyle)
        self.work = LongWork(self)
        self.work.done.connect(self._arrived)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 8, 12, 4)
        row.setSpacing(14)
        row.addLayout(self._wishes(), 1)
        right = QVBoxLayout()
        right.setSpacing(10)
        right.addLayout(self._freedoms(), 3)
        right.addLayout(self._outcome(), 2)
        row.addLayout(right, 1)

    def _wishes(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(group_head("What it should be; in gray, what it is"))
        self._ask_grid = QGridLayout()
        inner = QWidget()
        inside = QVBoxLayout(inner)
        inside.setContentsMargins(0, 0, 6, 0)
        inside.addLayout(self._ask_grid)
        # A menu, not a list to choose from: going through it by keys must not ask for all that is passed.
        self.choose = QPushButton("Ask for more…")
        self.offers = QMenu(self)
        self.offers.aboutToShow.connect(self._fill_offers)
        self.choose.setMenu(self.offers)
        self.choose.setToolTip(
            "Where the links meet, how long they are, how even a number stays over travel, joint swing"
        )
        inside.addWidget(self.choose)
        inside.addStretch(1)
        column.addWidget(Scrolled(inner), 1)
        return column

    def _freedoms(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(group_head("What may move, and how far each way"))
        inner = QWidget()
        self._free_grid = QGridLayout(inner)
        self._free_grid.setContentsMargins(0, 0, 6, 0)
        column.addWidget(Scrolled(inner), 1)
        self.clear = QCheckBox("Clear of the frame rails")
        self.clear.setChecked(True)
        self.clear.setToolTip(
            "Frame ends stay between the ends of the frame, and every bracket on the side of the rail it is on now:\n"
            "one on the axle also at full bump. The rails are those of the measuring sheet in Stance."
        )
        column.addWidget(self.clear)
        self.floor = PlainLabel()
        self.floor.setProperty("role", "faint")
        column.addWidget(self.floor)
        return column

    def _outcome(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(group_head("What comes of it"))
        self.go = QPushButton("Solve")
        self.go.setProperty("main", "true")
        self.go.clicked.connect(self.solve)
        self.stop = QPushButton("Stop")
        self.stop.setEnabled(False)
        self.stop.clicked.connect(self.work.stop)
        self.words, self.moves = PlainLabel(_HINT), PlainLabel()
        for label in (self.words, self.moves):
            label.setWordWrap(True)
            label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.take = QPushButton("Try it as a variant")
        self.take.setEnabled(False)
        self.take.clicked.connect(self._take)
        buttons = QHBoxLayout()
        buttons.addWidget(self.go, 1)
        buttons.addWidget(self.stop)
        column.addLayout(buttons)
        inner = QWidget()
        lines = QVBoxLayout(inner)
        lines.setContentsMargins(0, 4, 6, 0)
        for label in (self.words, self.moves):
            lines.addWidget(label)
        lines.addStretch(1)
        column.addWidget(Scrolled(inner), 1)
        column.addWidget(self.take)
        return column

    def refresh(self) -> None:
        """Show the numbers and brackets of the axle looked at."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        self.wishes = {} if study is None else wishes_of(bench.job.vehicle, bench.axle)
        keys = [] if study is None else [f.key for f in study.figures if f.key in self.wishes]
        spots = [] if study is None else list(pairs(bench.job, bench.axle))
        layout = (bench.axle_key, tuple(self.wishes), tuple(keys), tuple(spots))
        if layout != self._layout:
            self._layout = layout
            self._build(keys, spots)
        for key in self.more.get(bench.axle_key, []):
            if key in self.wishes and key not in self.asks:
                self._add_ask(key)
        units = bench.job.units
        self.floor.setText(f"Nothing goes lower than {format_length(LEAST_HEIGHT_MM, units)} {length_unit(units)}.")
        asked = [self.wishes[k] for k in self.asks]
        values = values_now(bench.job.vehicle, bench.axle, asked) if asked else {}
        for key, (_, field) in self.asks.items():
            field.setPlaceholderText(self.wishes[key].reading(values[key], units))
            field.show_value(self.targets.get(key))
        for spot, room in self.rooms.items():
            room.show_mm(self.room.get(spot, _ROOM_MM))

    def _restyle(self) -> None:
        """Fields are as wide as the scale wants them: they are laid out anew."""
        self._layout = ()
        if self.isVisible():
            self.refresh()

    def _build(self, keys: list[str], spots: list[tuple[Spot, Spot | None]]) -> None:
        for grid in (self._ask_grid, self._free_grid):
            emptied(grid)
        self.asks, self.boxes, self.rooms = {}, {}, {}
        asked = (*keys, *self.more.get(self._bench.axle_key, ()))
        self.targets = {k: v for k, v in self.targets.items() if k in asked}
        for key in keys:
            self._add_ask(key)
        self._ask_grid.setColumnStretch(0, 1)
        for j, words in enumerate(("Bracket", *_WAYS, "±")):
            label = PlainLabel(words)
            label.setProperty("role", "faint")
            label.setToolTip("How far each way it may move" if words == "±" else "")
            self._free_grid.addWidget(label, 0, j)
        for i, (spot, twin) in enumerate(spots, start=1):
            name = bracket_words(spot, twin)
            label = PlainLabel(name)
            label.setWordWrap(True)
            self._free_grid.addWidget(label, i, 0)
            for axis in range(3):
                box = QCheckBox()
                box.setAccessibleName(f"{name} may move {_WAYS[axis]}")
                box.setChecked(self.free.get((spot, axis), False))
                box.toggled.connect(partial(self.free.__setitem__, (spot, axis)))
                self._free_grid.addWidget(box, i, 1 + axis)
                self.boxes[spot, axis] = box
            room = LengthField(self._bench, f"{name}: how far each way", partial(self._make_room, spot))
            bound(room, self._look.percent, wide=64)
            self._free_grid.addWidget(room, i, 4)
            self.rooms[spot] = room
        self._free_grid.setRowStretch(len(spots) + 1, 1)
        self._free_grid.setColumnStretch(0, 1)

    def _add_ask(self, key: str) -> None:
        """Another line to ask in; those there are stay as they are."""
        wish, row = self.wishes[key], len(self.asks)
        box = QCheckBox(wish.title)
        box.setChecked(key in self.targets)
        should = "may be at most" if wish.at_most else "should be"
        field = WISH_FIELDS[wish.unit](self._bench, f"{wish.title} {should}", partial(self._ask, key))
        bound(field, self._look.percent, wide=92)
        for j, widget in enumerate((box, field)):
            self._ask_grid.addWidget(widget, row, j)
        self.asks[key] = (box, field)

    def _fill_offers(self) -> None:
        """What else can be asked for."""
        self.offers.clear()
        for key, wish in self.wishes.items():
            if key not in self.asks:
                self._offer(wish.title, key)
        if "ic_x_mm" in self.wishes:
            for mark in self._bench.job.vehicle.landmarks:
                self._offer(f"Instant center at “{mark.name}”", mark)

    def _offer(self, title: str, what: str | Landmark) -> None:
        action = self.offers.addAction(title)
        assert action is not None
        action.triggered.connect(lambda _=False: self.ask_for(what))

    def ask_for(self, what: str | Landmark) -> None:
        """Ask for something besides the judged numbers, or for the instant center at a place that has a name; its field
        is what is typed in next."""
        there = {"ic_x_mm": what.at.x, "ic_z_mm": what.at.z} if isinstance(what, Landmark) else {}
        keys = list(there) if isinstance(what, Landmark) else [what]
        asked = self.more.setdefault(self._bench.axle_key, [])
        asked += [key for key in keys if key not in asked]
        self.refresh()
        for key, mm in there.items():
            self._ask(key, mm)
        self.refresh()
        if keys[0] in self.asks:
            self.asks[keys[0]][1].setFocus()

    def _ask(self, key: str, value: float) -> None:
        self.targets[key] = value
        self.asks[key][0].setChecked(True)

    def _make_room(self, spot: Spot, mm: float) -> None:
        if mm <= 0:
            units = self._bench.job.units
            much = f"{format_length(mm, units)} {length_unit(units)}"
            self._bench.refused.emit(f"{spot.words}: {much} is no room. Type how far each way.")
            return
        self.room[spot] = mm

    def solve(self) -> None:
        """Solve for the numbers ticked, beside the window."""
        for _, field in self.asks.values():
            field.commit()
        job, key = self._bench.job, self._bench.axle_key
        targets = {k: self.targets[k] for k, (box, _) in self.asks.items() if box.isChecked() and k in self.targets}
        freedoms = [
            Freedom(spot, axis, -self.room.get(spot, _ROOM_MM), self.room.get(spot, _ROOM_MM))
            for (spot, axis), box in self.boxes.items()
            if box.isChecked()
        ]
        clear = self.clear.isChecked()
        self.solved = None
        self.take.setEnabled(False)
        self.go.setEnabled(False)
        self.stop.setEnabled(True)
        self.words.setText("Solving…")
        self.moves.setText("")
        self.work.start(lambda _progress, stopped: solve_for(job, key, targets, freedoms, stopped, clear))

    def _arrived(self, found: object) -> None:
        self.go.setEnabled(True)
        self.stop.setEnabled(False)
        if not isinstance(found, Solved):
            self.words.setText(str(found))
            return
        self.solved = found
        self.words.setText(f"{found.words}\n\nIt comes to {found.values_words}.")
        self.moves.setText("\n".join(found.moves) or "Nothing has to move.")
        self.take.setEnabled(bool(found.moves))

    def _take(self) -> None:
        if self.solved is not None and self._bench.try_as_variant(self.solved.edit, "Solved").done:
            self.take.setEnabled(False)
