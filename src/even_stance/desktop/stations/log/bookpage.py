"""Build book: one PDF of all of it, a folder of open files, and any two jobs or stages side by side."""

from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from even_stance.desktop.background import LateStudy
from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import ask_path
from even_stance.desktop.look import Look
from even_stance.desktop.saving import save_beside, save_made
from even_stance.desktop.widgets.fields import Labeled
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, group_head
from even_stance.desktop.widgets.signalblock import blocked
from even_stance.desktop.widgets.table import plain_table, set_text
from even_stance.errors import StanceError
from even_stance.exchange.jobfile import load_job
from even_stance.judgement.compare import Comparison, compare_jobs
from even_stance.judgement.differences import differences
from even_stance.judgement.findings import CAUTIONS
from even_stance.shop.asbuilt import as_built, built_stages
from even_stance.vehicle.edits import with_changes
from even_stance.vehicle.job import Job
from even_stance.vehicle.measuring import STAGES
from even_stance.vehicle.variants import branch_names, vehicle_of


class BookPage(QWidget):
    """The book to print, and cars side by side."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.other: Job | None = None
        self._of: object = None
        self._late = LateStudy(self)
        self._late.done.connect(self._compared)
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        self.pdf = QPushButton("Build book (PDF)…")
        self.pdf.setProperty("main", "true")
        self.pdf.clicked.connect(
            lambda _=False: ask_path(self, "Save the book", "build-book.pdf", "(*.pdf)", self.write)
        )
        self.folder = QPushButton("Everything as open files…")
        self.folder.clicked.connect(lambda _=False: self.ask_folder())
        row.addWidget(self.pdf)
        row.addWidget(self.folder)
        row.addWidget(
            faint_words("The car, its design, as built, decisions, parts, settings, diary, photos. " + CAUTIONS[0]), 1
        )
        column.addLayout(row)
        column.addWidget(group_head("Two cars side by side"))
        pick = QHBoxLayout()
        self.left, self.right = QComboBox(), QComboBox()
        for combo, name in ((self.left, "This car"), (self.right, "Beside")):
            combo.setAccessibleName(name)
            combo.activated.connect(lambda _: self._ask())
            pick.addWidget(Labeled(bench, name, combo), 1)
        self.open = QPushButton("Another job’s file…")
        self.open.clicked.connect(lambda _=False: self.ask_other())
        pick.addWidget(self.open)
        column.addLayout(pick)
        self.table = plain_table(("Number", "", ""), "Numbers side by side", wide=0)
        column.addWidget(self.table, 3)
        self.lines = PlainLabel()
        self.lines.setWordWrap(True)
        column.addWidget(self.lines, 1)

    # --- papers

    def write(self, path: Path) -> None:
        """Write the book as PDF."""
        from even_stance.exchange.bookpdf import book_pdf  # noqa: PLC0415 - paper is loaded late

        job, file = self._bench.job, self._bench.document.path
        save_made(self._bench, path, lambda: book_pdf(job, file))

    def ask_folder(self) -> QFileDialog:
        """Ask where the open files go."""
        dialog = QFileDialog(self, "Everything as open files: choose a folder")
        dialog.setFileMode(QFileDialog.FileMode.Directory)
        dialog.fileSelected.connect(lambda name: self.write_all(Path(name)))
        dialog.open()
        return dialog

    def write_all(self, folder: Path) -> None:
        """Write everything into a folder."""
        job, file, setup = self._bench.job, self._bench.document.path, self._bench.setup

        def work() -> Path:
            from even_stance.exchange.bookpdf import write_folder  # noqa: PLC0415 - paper is loaded late
            from even_stance.exchange.paper import made_on  # noqa: PLC0415 - as above

            with made_on(setup):
                write_folder(job, folder, file)
            return folder

        save_beside(self._bench, work)

    # --- side by side

    def ask_other(self) -> QFileDialog:
        """Ask for another job."""
        dialog = QFileDialog(self, "Another job’s file", "", "(*.stance)")
        dialog.fileSelected.connect(lambda name: self.take(Path(name)))
        dialog.open()
        return dialog

    def take(self, path: Path) -> None:
        """Put another job beside."""
        try:
            self.other = load_job(path)[0]
        except StanceError as error:
            self._bench.refused.emit(str(error))
            return
        self._fill()
        self.right.setCurrentIndex(self.right.count() - 1)
        self._ask()

    def _cars(self) -> list[tuple[str, Job]]:
        """All that can be put side by side: variants, stages of the built car, another job."""
        job = self._bench.job
        found = [(n, with_changes(job, vehicle=vehicle_of(job, n))) for n in branch_names(job)]
        found += [(f"as built, {STAGES[s]}", as_built(job, s)) for s in built_stages(job)]
        return [*found, *([(self.other.name, self.other)] if self.other is not None else [])]

    def _fill(self) -> None:
        names = [n for n, _ in self._cars()]
        for combo, first in ((self.left, 0), (self.right, len(names) - 1)):
            if [combo.itemText(i) for i in range(combo.count())] != names:
                now = combo.currentText()
                with blocked(combo):
                    combo.clear()
                    combo.addItems(names)
                    combo.setCurrentIndex(names.index(now) if now in names else first)

    def refresh(self) -> None:
        """Offer what there is and compare it."""
        if not self.isVisible():
            return
        self._fill()
        key = (self._bench.job, self.other, self.left.currentText(), self.right.currentText(), self._bench.axle_key)
        if key != self._of:
            self._of = key
            self._ask()

    def _ask(self) -> None:
        cars, key, units = dict(self._cars()), self._bench.axle_key, self._bench.job.units
        one, two = self.left.currentText(), self.right.currentText()
        if one not in cars or two not in cars:
            return
        self._late.ask(
            lambda: (
                compare_jobs([(one, cars[one]), (two, cars[two])], key),
                differences(cars[one].vehicle, cars[two].vehicle, units),
            )
        )

    def _compared(self, result: object) -> None:
        if not isinstance(result, tuple):
            return
        found, lines = result
        assert isinstance(found, Comparison)
        self.table.setHorizontalHeaderLabels(("Number", *found.names))
        self.table.setRowCount(len(found.rows))
        for i, (title, cells) in enumerate(found.rows):
            set_text(self.table, i, 0, title, right=False)
            for j, text in enumerate(cells, start=1):
                set_text(self.table, i, j, text)
        shown = lines[:8]
        more = f" ... and {len(lines) - 8} more" if len(lines) > 8 else ""
        self.lines.setText("; ".join(shown) + more if lines else "Both cars are alike.")

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
