"""What hole combinations are asked for besides the judged numbers: which, from where to where, and what was asked."""

from functools import partial

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.emptied import emptied
from even_stance.desktop.widgets.fields import DegreeField, LengthField, NumberField, PercentField
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.judgement.search.score import wishes_for
from even_stance.judgement.search.wishes import Wish, wishes_of
from even_stance.judgement.standards import STANDARDS
from even_stance.vehicle.edits import made, set_wish
from even_stance.vehicle.job import Band

WISH_FIELDS = {"mm": LengthField, "deg": DegreeField, "pct": PercentField}


class AskBar(QWidget):
    """One line to ask with, and a line for each thing asked, with a way to take it back."""

    def __init__(self, bench: Bench) -> None:
        super().__init__()
        self._bench = bench
        self.wishes: dict[str, Wish] = {}
        self._offered: tuple[object, ...] = ()
        self._marks: dict[str, float] = {}
        self.fields: dict[str, NumberField] = {}
        self.taken: dict[str, QPushButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(3)
        self._asked = QGridLayout()
        self._asked.setColumnStretch(0, 1)
        column.addLayout(self._asked)
        self.what = QComboBox()
        self.what.setAccessibleName("Ask for more")
        self.what.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.what.setMinimumContentsLength(12)
        self.what.activated.connect(lambda _: self._make_fields())
        column.addWidget(self.what)
        self._line = QHBoxLayout()
        column.addLayout(self._line)
        self.go = QPushButton("Ask")
        self.go.clicked.connect(self.ask)
        self.problem = PlainLabel()
        self.problem.setProperty("role", "alarm")
        self.problem.setWordWrap(True)
        self.problem.hide()
        column.addWidget(self.problem)
        column.addWidget(self.go)
        self.go.hide()

    def refresh(self) -> None:
        """Show what is asked of the axle looked at, and what else can be."""
        bench = self._bench
        study = bench.study(bench.axle_key)
        self.wishes = {} if study is None else wishes_of(bench.job.vehicle, bench.axle)
        self.wishes = {k: w for k, w in self.wishes.items() if k not in STANDARDS}
        asked = wishes_for(bench.job, bench.axle_key)
        offered = (bench.axle_key, tuple(self.wishes), tuple(asked.items()), bench.job.units)
        if offered == self._offered:
            return
        self._offered = offered
        self.what.clear()
        self.what.addItem("Ask for more…", "")
        for key, wish in self.wishes.items():
            self.what.addItem(wish.title, key)
        self._make_fields()
        emptied(self._asked)
        self.taken = {}
        for i, (key, band) in enumerate(asked.items()):
            title = self.wishes[key].title if key in self.wishes else key
            words = self.wishes[key].band_words(band, bench.job.units) if key in self.wishes else "not on this layout"
            out = QPushButton("Take back")
            out.setAccessibleName(f"Take back: {title}")
            out.clicked.connect(partial(self._set, key, None))
            for j, widget in enumerate((PlainLabel(title), faint_words(words), out)):
                self._asked.addWidget(widget, i, j)
            self.taken[key] = out

    def _make_fields(self) -> None:
        """From and to, in the unit of what is chosen."""
        emptied(self._line)
        self.fields, self._marks = {}, {}
        self._complain("")
        key = self.what.currentData()
        self.go.setVisible(bool(key))
        if not key:
            return
        wish = self.wishes[key]
        for end, words in (("low", "from"), ("high", "to")):
            if wish.at_most and end == "low":
                continue
            field = WISH_FIELDS[wish.unit](self._bench, f"{wish.title}, {words}", partial(self._marks.__setitem__, end))
            field.complaint = self._complain
            self._line.addWidget(PlainLabel("at most" if wish.at_most else words))
            self._line.addWidget(field, 1)
            self.fields[end] = field

    def ask(self) -> None:
        """Ask for what was typed."""
        for end, field in self.fields.items():
            field.commit()
            if not field.text():
                self._marks.pop(end, None)
            elif field.property("wrong"):
                return
        if not self._marks:
            self._complain("Type from where to where it should be, or one of both.")
            return
        key = str(self.what.currentData())
        low, high = (self._marks.get(end) for end in ("low", "high"))
        if low is not None and high is not None and low >= high:
            self._complain(f"{self.wishes[key].title}: “from” has to be less than “to”.")
            return
        self._set(key, made(Band, low=low, high=high))

    def _set(self, key: str, band: Band | None) -> None:
        self._bench.do(set_wish(self._bench.axle_key, key, band))
        self.refresh()

    def _complain(self, problem: str) -> None:
        self.problem.setText(problem)
        self.problem.setVisible(bool(problem))
