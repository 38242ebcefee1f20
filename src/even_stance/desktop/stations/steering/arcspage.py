"""The two arcs: what the wheels do over bumps by themselves, and the place of a drag link's end that makes it least."""

from functools import partial

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import PlainLabel, group_head
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.judgement.search.arcs import ENDS, INNER_ENDS, ArcAnswer, Room, least_steer, least_toe, poses_looked_at
from even_stance.judgement.steering import arc_rows, beam_foot_words, bump_words, least_steer_words
from even_stance.study.beams import beams_of
from even_stance.vehicle.edits import move_to
from even_stance.vehicle.spots import Spot

_ROOM = {"ahead": "Ahead and back", "side": "To either side", "up": "Up and down"}


class ArcsPage(QWidget):
    """The arcs of the axle looked at."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self._room = {"ahead": 0.0, "side": 12.7, "up": 50.8}
        self.found: ArcAnswer | None = None
        self._found_in: object = None
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.table = plain_table(("Hand wheel held", ""), "The two arcs", wide=1)
        column.addWidget(self.table, 1)
        column.addWidget(group_head("Where a drag link’s end steers least"))
        row = QHBoxLayout()
        self.end = QComboBox()
        self.end.setAccessibleName("End to move")
        row.addWidget(Labeled(bench, "End to move", self.end), 2)
        self.fields: dict[str, LengthField] = {}
        self.labels: list[Labeled] = []
        for key, title in _ROOM.items():
            self.fields[key] = LengthField(bench, f"Room {title.lower()}", partial(self._set_room, key))
            self.labels.append(Labeled(bench, title, self.fields[key], "length"))
            row.addWidget(self.labels[-1], 1)
        self.seek = QPushButton("Find the place")
        self.seek.setProperty("main", "true")
        self.seek.clicked.connect(lambda _=False: self._find())
        row.addWidget(self.seek)
        column.addLayout(row)
        last = QHBoxLayout()
        self.answer = PlainLabel("Say how much room there is for the end, then find the place.")
        self.answer.setWordWrap(True)
        last.addWidget(self.answer, 1)
        self.take = QPushButton("Move it there, as a variant")
        self.take.clicked.connect(lambda _=False: self._take())
        last.addWidget(self.take)
        column.addLayout(last)
        self.late = LateStudy(self)
        self.late.done.connect(self._arrived)

    def _set_room(self, key: str, mm: float) -> None:
        if mm < 0.0:
            self._bench.refused.emit(f"Room {_ROOM[key].lower()}: less than none. Type 0 or more.")
            return
        self._room[key] = mm

    def _find(self) -> None:
        bench, end = self._bench, self.end.currentData()
        study, axle = bench.study(bench.axle_key), bench.axle
        room = Room(self._room["ahead"], self._room["side"], self._room["up"])
        self._found_in = axle
        self.answer.setText("Looking …")
        stuck = "The links cannot follow the axle."
        if end == "left_inner":
            self.late.ask(lambda: least_toe(axle, room) or stuck)
        elif study is not None:
            self.late.ask(lambda: least_steer(axle, poses_looked_at(study), end, room) or stuck)
        self.late.start_now()

    def _arrived(self, found: object) -> None:
        self.found = found if isinstance(found, ArcAnswer) else None
        words = str(found) if self.found is None else least_steer_words(self._bench.job, self.found)
        self.answer.setText(words[0].upper() + words[1:])
        self.take.setEnabled(self.found is not None)

    def _take(self) -> None:
        if self.found is not None:
            bench, spot = self._bench, Spot(self.found.axle, "", self.found.end)
            what = "Rods" if self.found.end == "left_inner" else "Drag link"
            bench.try_as_variant(move_to(bench.job, spot, *self.found.at), f"{what} moved")

    def refresh(self) -> None:
        """Show what the wheels do; an answer about another car is dropped."""
        bench, axle = self._bench, self._bench.axle
        for labeled in self.labels:
            labeled.refresh_unit()
        for key, field in self.fields.items():
            field.show_mm(self._room[key])
        study = bench.study(bench.axle_key)
        if axle is not self._found_in and axle != self._found_in:
            self.found, self._found_in = None, axle
            self.answer.setText("Say how much room there is for the end, then find the place.")
        beams = beams_of(axle) is not None
        can = beams or (study is not None and axle.steering is not None and axle.steering.kind != "ram")
        ends = INNER_ENDS if beams else ENDS
        if [self.end.itemData(i) for i in range(self.end.count())] != list(ends):
            self.end.clear()
            for end, words in ends.items():
                self.end.addItem(words, end)
        for widget in (self.end, self.seek, *self.fields.values()):
            widget.setEnabled(can)
        self.take.setEnabled(can and self.found is not None)
        nothing = "No arcs to compare: start a steering on the Pieces page, and links in Links."
        told = bump_words(study) if study is not None and axle.steering is not None else nothing
        self.words.setText(f"Swing beams: {beam_foot_words(axle)}." if beams else told)
        rows = [] if study is None or bench.on_its_way else arc_rows(bench.job, study)
        self.table.setRowCount(len(rows))
        for i, (title, figure) in enumerate(rows):
            set_text(self.table, i, 0, title, right=False)
            set_text(self.table, i, 1, figure, right=False)
