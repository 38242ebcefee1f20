"""The top line: the job, the axle looked at, undo and redo, units, look, and whether it is saved."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QPushButton, QSizePolicy, QToolButton, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, plain_tip
from even_stance.units import HABITS
from even_stance.vehicle.edits import set_job

_STEPS = 25


class Header(QWidget):
    """The top line of the window. The job and look menus are filled by the window."""

    reads = pyqtSignal()

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.setObjectName("strip")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(10, 6, 10, 6)
        self._row.setSpacing(8)
        self.job_menu, self.job_button = self._menu_button("Job", "Job menu")
        self.title = PlainLabel()
        self.title.setProperty("role", "head")
        self.title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._row.addWidget(self.job_button)
        self._row.addWidget(self.title, 3)
        self._axle_row = QHBoxLayout()
        self._row.addLayout(self._axle_row)
        self._group = QButtonGroup(self)
        self.axle_buttons: dict[str, QPushButton] = {}
        self._row.addStretch(1)
        self.saved = PlainLabel()
        self.saved.setProperty("role", "faint")
        self._row.addWidget(self.saved)
        self.turn = QPushButton("Vials")  # where there is no room for them beside the page
        self.turn.setCheckable(True)
        self.turn.setToolTip("Turn between the vials and the page")
        self.turn.hide()
        self._row.addWidget(self.turn)
        self.undo = self._tool("Undo", "Undo", bench.undo)
        self.redo = self._tool("Redo", "Redo", bench.redo)
        for button, way in ((self.undo, 1), (self.redo, -1)):
            button.setPopupMode(QToolButton.ToolButtonPopupMode.MenuButtonPopup)
            menu = QMenu(button)
            menu.aboutToShow.connect(lambda menu=menu, way=way: self._fill_steps(menu, way))
            button.setMenu(menu)
        self.units = self._tool("", "Units", self._toggle_units)
        self.look_menu, self.look_button = self._menu_button("Look", "Look menu")
        self._row.addWidget(self.look_button)
        bench.job_changed.connect(self.refresh)
        bench.file_changed.connect(self.refresh)
        look.changed.connect(self.refresh)

    def _menu_button(self, text: str, name: str) -> tuple[QMenu, QToolButton]:
        button = QToolButton()
        button.setText(f"{text} ▾")
        button.setAccessibleName(name)
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(button)
        button.setMenu(menu)
        return menu, button

    def _tool(self, text: str, name: str, action: Callable[[], object]) -> QToolButton:
        button = QToolButton()
        button.setText(text)
        button.setAccessibleName(name)
        button.clicked.connect(action)
        self._row.addWidget(button)
        return button

    def _fill_steps(self, menu: QMenu, way: int) -> None:
        """What was done, the latest first: a click goes back (or on) to before it."""
        history = self._bench.document.history
        labels = history.undo_labels if way > 0 else history.redo_labels
        menu.clear()
        for i, label in enumerate(labels[:_STEPS]):
            action = menu.addAction(f"{i + 1}  {label}".replace("&", "&&"))
            assert action is not None
            action.triggered.connect(lambda _=False, n=way * (i + 1): self._bench.go_back(n))
        if len(labels) > _STEPS:
            more = menu.addAction(f"{len(labels) - _STEPS} more before these")
            assert more is not None
            more.setEnabled(False)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The title has what room is left."""
        super().resizeEvent(event)
        self._show_title()

    def _show_title(self) -> None:
        job, room = self._bench.job, max(self.title.width(), 1)
        # Which of several cars is on the bench is said beside the name: a try goes on with a copy.
        name = f"{job.name}: {job.branch}" if job.variants else job.name
        self.title.setText(self.title.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, room))
        self.title.setAccessibleName(name)

    def show_job(self, shown: bool) -> None:
        """Show what belongs to a job, or just the menus where none is worked on."""
        for widget in (self.title, self.saved, self.undo, self.redo, self.units, *self.axle_buttons.values()):
            widget.setVisible(shown)

    def _toggle_units(self) -> None:
        """From sixteenths to thousandths of an inch, to millimeters, and round again."""
        metric = self._bench.job.units == "metric"
        HABITS.decimal_inches = not metric and not HABITS.decimal_inches
        self.reads.emit()
        if metric or not HABITS.decimal_inches:
            self._bench.do(set_job("Units", units="us" if metric else "metric"))
        else:
            self._bench.studies.forget()
            self._bench.measured_again()
            self._bench.job_changed.emit()

    def refresh(self) -> None:
        """Show job, axles and save state."""
        bench, history = self._bench, self._bench.document.history
        self._show_title()
        self.title.setToolTip(plain_tip(str(bench.document.path or "not saved to a file yet")))
        keys = [a.key for a in bench.job.vehicle.axles]
        if list(self.axle_buttons) != keys:
            self._make_axle_buttons(keys)
        self.axle_buttons[bench.axle_key].setChecked(True)
        if bench.document.path is None:
            self.saved.setText("not saved yet" if bench.document.dirty else "")
        else:
            self.saved.setText("changed" if bench.document.dirty else "saved")
        self.undo.setEnabled(history.undo_label is not None)
        self.redo.setEnabled(history.redo_label is not None)
        self.undo.setToolTip(
            plain_tip(f"Undo: {history.undo_label} (Ctrl+Z)" if history.undo_label else "Nothing to undo")
        )
        self.redo.setToolTip(
            plain_tip(f"Redo: {history.redo_label} (Ctrl+Y)" if history.redo_label else "Nothing to redo")
        )
        us, thousandths = bench.job.units == "us", HABITS.decimal_inches
        self.units.setText(("in .001" if thousandths else "in 1/16") if us else "mm")
        after = ("millimeters" if thousandths else "thousandths of an inch") if us else "sixteenths of an inch"
        self.units.setToolTip(plain_tip(f"Read in {after}"))

    def _make_axle_buttons(self, keys: list[str]) -> None:
        for button in self.axle_buttons.values():
            self._group.removeButton(button)
            self._axle_row.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.axle_buttons = {}
        for key in keys:
            button = QPushButton(f"{key.capitalize()} axle")
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, k=key: self._bench.select_axle(k))
            self._group.addButton(button)
            self._axle_row.addWidget(button)
            self.axle_buttons[key] = button
