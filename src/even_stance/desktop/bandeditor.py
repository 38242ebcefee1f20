"""The wanted band of the selected vial: its marks, its reason, and the user's own."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QGridLayout, QPushButton, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import (
    DegreeField,
    DistanceField,
    Labeled,
    LengthField,
    NumberField,
    PercentField,
    PlainField,
)
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.desktop.widgets.schoolnote import SchoolButton
from even_stance.errors import InputError
from even_stance.judgement.bands import band_key, wanted
from even_stance.judgement.build import KEY
from even_stance.judgement.verdicts import TITLES
from even_stance.vehicle.edits import set_band, set_vehicle, with_changes

# Which field a mark is typed in, and the unit beside it, by how a number's key ends.
_KINDS: dict[str, tuple[Callable[..., NumberField], str]] = {
    "mm": (LengthField, "length"), "deg": (DegreeField, "deg"), "pct": (PercentField, "percent"),
    "m": (DistanceField, "distance"), "ratio": (PlainField, "ratio"),
    "hz": (PlainField, "hz"), "g": (PlainField, "g"), "x": (PlainField, ""),
}  # fmt: skip


class BandEditor(QWidget):
    """Two fields for the marks and a way back to the default."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.setObjectName("strip")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(10, 6, 10, 8)
        self._grid.setVerticalSpacing(2)
        self.reason = PlainLabel()
        self.reason.setProperty("role", "faint")
        self.reason.setWordWrap(True)
        self._grid.addWidget(self.reason, 0, 0, 1, 2)
        self.default = QPushButton("Default")
        self.default.setToolTip("Back to the band of the purpose")
        self.default.clicked.connect(self._back)
        self.schools = SchoolButton(look, "anti")
        self._grid.addWidget(self.schools, 0, 2)
        self.meaning = QComboBox()
        self.meaning.setAccessibleName("What the bands of anti-squat mean")
        self.meaning.addItem("the axle alone, as people quote it", "axle")
        self.meaning.addItem("at its share of the drive", "share")
        self.meaning.activated.connect(
            lambda _: bench.do(set_vehicle("What anti bands mean", anti_bands=self.meaning.currentData()))
        )
        self._grid.addWidget(self.meaning, 2, 0, 1, 3)
        self._kind = ""
        self.low: NumberField | None = None
        self.high: NumberField | None = None
        self._labels: list[Labeled] = []
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)

    @property
    def _key(self) -> str | None:
        """The number whose band is shown: that looked at; of the build sheet what all its links are judged by."""
        return KEY if self._bench.look_at.station == "build" else self._bench.figure

    def _back(self) -> None:
        if self._key is not None:
            self._bench.do(set_band(band_key(self._key), None))

    def _set(self, end: str, value: float) -> None:
        key = self._key
        if key is None:
            return
        band = wanted(self._bench.job, key, self._bench.axle_key).band
        try:
            changed = with_changes(band, **{end: value})
        except InputError:
            other = "upper" if end == "low" else "lower"
            self._bench.refused.emit(f"Wanted band: the marks would cross. Move the {other} mark first.")
            return
        self._bench.do(set_band(band_key(key), changed))

    def _build(self, kind: str) -> None:
        for labeled in self._labels:
            self._grid.removeWidget(labeled)
            labeled.hide()
            labeled.deleteLater()
        make, words = _KINDS[kind]
        self.low = make(self._bench, "Wanted from", lambda v: self._set("low", v))
        self.high = make(self._bench, "Wanted to", lambda v: self._set("high", v))
        self._labels = [
            Labeled(self._bench, "Wanted from", self.low, words),
            Labeled(self._bench, "to", self.high, words),
        ]
        for i, labeled in enumerate(self._labels):
            self._grid.addWidget(labeled, 1, i)
        self._grid.addWidget(self.default, 1, 2)
        self._kind = kind

    def refresh(self) -> None:
        """Show the band of the figure looked at."""
        key = self._key
        self.setVisible(key is not None)
        if key is None:
            return
        kind = key.rsplit("_", 1)[-1]
        if kind != self._kind:
            self._build(kind)
        assert self.low is not None
        assert self.high is not None
        self.meaning.setVisible(band_key(key) in ("anti_squat_pct", "anti_lift_drive_pct"))
        self.meaning.setCurrentIndex(self.meaning.findData(self._bench.job.vehicle.anti_bands))
        self.schools.setVisible(band_key(key) == "anti_squat_pct")
        marks = wanted(self._bench.job, key, self._bench.axle_key)
        self.reason.setText(f"{TITLES[key]}: {marks.reason} Basis: {marks.basis}.")
        self.low.show_value(marks.band.low)
        self.high.show_value(marks.band.high)
        for labeled in self._labels:
            labeled.refresh_unit()
        self.default.setEnabled(marks.own)
