"""Photos: kept beside the job as they are, shown small, each with the entry it belongs to."""

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPixmap
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QListView,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from even_stance.desktop.background import run_beside
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, faint_words, plain_tip
from even_stance.errors import StanceError
from even_stance.shop.diary import with_entry
from even_stance.vehicle.log import MOST_OF_ENTRY, Entry

_SIDE = 150
_AT_ONCE = 6


class PhotosPage(QWidget):
    """All photos of the job, the latest first."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._shown: tuple[object, ...] = ()
        self.names: list[str] = []
        self._queue: list[str] = []
        self._gone = 0
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 12, 4)
        row = QHBoxLayout()
        self.add = QPushButton("Add photos…")
        self.add.setProperty("main", "true")
        self.add.clicked.connect(lambda _=False: self.ask())
        row.addWidget(self.add)
        self.words = PlainLabel()
        self.words.setWordWrap(True)
        row.addWidget(self.words, 1)
        column.addLayout(row)
        self.list = QListWidget()
        self.list.setAccessibleName("Photos")
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setUniformItemSizes(True)
        self.list.setIconSize(QSize(look.px(_SIDE), look.px(_SIDE)))
        column.addWidget(self.list, 1)
        column.addWidget(faint_words("Photos are copied as they are into a folder beside the job and never changed."))

    def ask(self) -> QFileDialog | None:
        """Ask which photos."""
        if self._bench.document.path is None:
            self._bench.refused.emit("Photos are kept beside the job’s file: save the job first.")
            return None
        dialog = QFileDialog(self, "Add photos", "", "Photos (*.jpg *.jpeg *.png *.heic)")
        dialog.setFileMode(QFileDialog.FileMode.ExistingFiles)
        dialog.filesSelected.connect(self.take)
        dialog.open()
        return dialog

    def take(self, files: list[str]) -> None:
        """Copy photos into the job's folder beside the window, then write them into the diary."""
        path = self._bench.document.path
        if path is None:
            self._bench.refused.emit("Photos are kept beside the job’s file: save the job first.")
            return
        self.words.setText("Copying photos…")
        run_beside(self, lambda: _added(path, files), lambda came: self._write(path, came))

    def _write(self, path: Path, came: object) -> None:
        """Write the photos that were copied into the diary of their own job; say what was refused."""
        bench = self._bench
        self._say_how_many()
        if not isinstance(came, tuple):
            bench.refused.emit(str(came))
            return
        names, wrong = came
        if names and bench.document.path != path:
            wrong = [*wrong, "Another job was opened meanwhile: add the photos there again."]
        elif names:
            at = datetime.now().astimezone().isoformat(timespec="seconds")
            for first in range(0, len(names), MOST_OF_ENTRY):
                some = tuple(names[first : first + MOST_OF_ENTRY])
                many = f"{len(some)} photo{'' if len(some) == 1 else 's'}"
                entry = Entry(
                    at=at, kind="photo", title=many, stage=bench.job.measuring.stage, photos=some, by_itself=True
                )
                bench.write(with_entry(bench.job, entry))
        if wrong:
            bench.refused.emit(" ".join(wrong))

    def refresh(self) -> None:
        """List the photos; small copies are shown as there is time."""
        if not self.isVisible():
            return
        job, path = self._bench.job, self._bench.document.path
        key = (tuple(e.photos for e in job.log.entries if e.photos), path)
        if key == self._shown:
            return
        self._shown = key
        rows = [(name, e) for e in reversed(job.log.entries) for name in e.photos]
        self.names, self._queue, self._gone = [name for name, _ in rows], [], 0
        self.list.clear()
        for name, entry in rows:
            item = QListWidgetItem(f"{entry.at[:10]} {entry.title if entry.kind != 'photo' else ''}".strip())
            item.setToolTip(plain_tip(f"{name}\n{entry.title}"))
            item.setTextAlignment(Qt.AlignmentFlag.AlignHCenter)
            self.list.addItem(item)
        self._say_how_many()
        if path is not None:
            self._queue = list(self.names)
            self._fill_in(path)

    def _say_how_many(self) -> None:
        self.words.setText(f"{len(self.names)} photos." if self.names else "No photos yet.")

    def _fill_in(self, path: Path) -> None:
        """Make the next few small copies beside the window; once all are there, say which photos are not."""
        names, start = self.names, len(self.names) - len(self._queue)
        some, self._queue = self._queue[:_AT_ONCE], self._queue[_AT_ONCE:]

        def show(came: object) -> None:
            if names is not self.names or not isinstance(came, list):
                return
            for i, small in enumerate(came, start=start):
                self._show(i, small)
            if self._queue:
                self._fill_in(path)
            elif self._gone:
                self.words.setText(
                    f"{len(names)} photos, {self._gone} not where they were kept, or none that can be shown: look in "
                    "the folder beside the job."
                )

        if some:
            run_beside(self, lambda: _previews(path, some), show)

    def _show(self, i: int, small: bytes | None) -> None:
        item, picture = self.list.item(i), QPixmap()
        if item is None:
            return
        if small is not None and picture.loadFromData(small):
            item.setIcon(QIcon(picture))
        else:
            self._gone += 1
            item.setText("not there, or cannot be shown")

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()


def _added(job_file: Path, files: list[str]) -> tuple[list[str], list[str]]:
    """Copy photos beside a job; return their names there, and why others were refused."""
    from even_stance.exchange.photos import add_photo  # noqa: PLC0415 - only those who add photos wait for it

    names, wrong = [], []
    for file in files:
        try:
            names.append(add_photo(job_file, Path(file)))
        except StanceError as error:
            wrong.append(str(error))
    return names, wrong


def _previews(job_file: Path, names: list[str]) -> list[bytes | None]:
    from even_stance.exchange.photos import preview  # noqa: PLC0415 - only those who look at photos wait for it

    return [preview(job_file, name) for name in names]
