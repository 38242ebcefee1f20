"""Fits: drills and taps for the build sheet, and what to ream, turn and cool for a press or slide fit."""

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QTableWidget, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.desktop.widgets.labels import faint_words, group_head
from even_stance.desktop.widgets.table import RowFitter, plain_table, set_text
from even_stance.errors import InputError
from even_stance.shop.fits import EXPANSION, FITS, Rows, drill_rows, fit_rows


class FitsPage(QWidget):
    """A fit to look up, and the drills of the job."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.diameter_mm, self.kind, self.material = 38.1, "pressed", "steel"
        grid = QGridLayout(self)
        grid.setContentsMargins(12, 8, 12, 4)
        grid.addWidget(group_head("A bushing, sleeve or ring in its hole"), 0, 0)
        row = QHBoxLayout()
        self.diameter = LengthField(bench, "Diameter", self._set)
        self.label = Labeled(bench, "Diameter", self.diameter, "length")
        row.addWidget(self.label)
        self.fit, self.of = QComboBox(), QComboBox()
        for key, words in FITS.items():
            self.fit.addItem(words, key)
        for key in EXPANSION:
            self.of.addItem(key, key)
        self.fit.setCurrentIndex(1)
        for combo, title in ((self.fit, "Fit"), (self.of, "The part is of")):
            combo.setAccessibleName(title)
            combo.activated.connect(lambda _: self._chosen())
            row.addWidget(Labeled(bench, title, combo))
        row.addStretch(1)
        grid.addLayout(row, 1, 0)
        self.table = plain_table(("", ""), "The fit", wide=1)
        grid.addWidget(self.table, 2, 0)
        grid.addWidget(group_head("Drills and taps for this build sheet"), 0, 1)
        self.drills = plain_table(("", ""), "Drills and taps", wide=1)
        grid.addWidget(self.drills, 1, 1, 2, 1)
        for table in (self.table, self.drills):
            header = table.horizontalHeader()
            if header is not None:
                header.hide()
        self._rows = {table: RowFitter(table) for table in (self.table, self.drills)}
        words = ("ISO 286 limits and handbook expansion, from memory: check against your own tables. Frozen parts burn "
                 "skin; dry ice takes the air out of a closed room. Parts sold as pressing in often want five "
                 "thousandths off (common practice, no source): measure both.")  # fmt: skip
        column = QVBoxLayout()
        column.addWidget(faint_words(words))
        grid.addLayout(column, 3, 0, 1, 2)
        grid.setColumnStretch(0, 1)
        grid.setColumnStretch(1, 1)

    def _set(self, mm: float) -> None:
        try:
            fit_rows(mm, self.kind, self.material, self._bench.job.units)
        except InputError as error:
            self._bench.refused.emit(str(error))
            return
        self.diameter_mm = mm
        self.refresh()

    def _chosen(self) -> None:
        self.kind, self.material = self.fit.currentData(), self.of.currentData()
        self.refresh()

    def refresh(self) -> None:
        """Show the fit and the drills."""
        if not self.isVisible():
            return
        units = self._bench.job.units
        self.label.refresh_unit()
        self.diameter.show_mm(self.diameter_mm)
        self._fill(self.table, fit_rows(self.diameter_mm, self.kind, self.material, units))
        drills = drill_rows(self._bench.job.vehicle.build, units)
        self._fill(self.drills, drills or [("No threads yet", "fit parts to the links first")])

    def _fill(self, table: QTableWidget, rows: Rows) -> None:
        with self._rows[table]:
            table.setRowCount(len(rows))
            for i, (title, figure) in enumerate(rows):
                set_text(table, i, 0, title, right=False)
                set_text(table, i, 1, figure, right=False)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
