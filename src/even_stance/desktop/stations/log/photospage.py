"""Photos: kept beside the job as they are, shown small, each with the entry it belongs to."""

from collections.abc import Iterator
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

from even_stance.desktop.bench import Bench
from even_stance.desktop.idlework import IdleWork
from even_stance.desktop.look import Look
from even_stance.desktop.widgets.labels import PlainLabel, faint_words
from even_stance.errors import StanceError
from even_stance.shop.diary import with_entry
from even_stance.vehicle.log import Entry

_SIDE = 150


class PhotosPage(QWidget):
    """All photos of the job, the latest first."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self._shown: tuple[object, ...] = ()
        self.names: list[str] = []
        self._left: list[int] = []
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
        """Copy photos into the job's folder, and write them into the diary."""
        from even_stance.exchange.photos import add_photo  # noqa: PLC0415 - only those who add photos wait for it

        bench, path = self._bench, self._bench.document.path
        if path is None:
            bench.refused.emit("Photos are kept beside the job’s file: save the job first.")
            return
        names, wrong = [], []
        for file in files:
            try:
                names.append(add_photo(path, Path(file)))
            except StanceError as error:
                wrong.append(str(error))
        if names:
            many = f"{len(names)} photo{'' if len(names) == 1 else 's'}"
            entry = Entry(at=datetime.now().astimezone().isoformat(timespec="seconds"), kind="photo", title=many,
                          stage=bench.job.measuring.stage, photos=tuple(names[:50]), by_itself=True)  # fmt: skip
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
        self.names = [name for name, _ in rows]
        self.list.clear()
        for name, entry in rows:
            item = QListWidgetItem(f"{entry.at[:10]} {entry.title if entry.kind != 'photo' else ''}".strip())
            item.setToolTip(f"{name}\n{entry.title}")
            item.setTextAlignment(Qt.AlignmentFlag.AlignHCenter)
            self.list.addItem(item)
        self.words.setText(f"{len(rows)} photos." if rows else "No photos yet.")
        self._left = list(range(len(rows)))
        IdleWork(self, self._steps())

    def _steps(self) -> Iterator[None]:
        """Small copies, one after the other, while nothing else is to do."""
        from even_stance.exchange.photos import preview  # noqa: PLC0415

        path, names, gone = self._bench.document.path, list(self.names), 0
        for i, name in enumerate(names):
            yield
            if names != self.names or path is None:
                return
            small = preview(path, name)
            item = self.list.item(i)
            if small is None:
                gone += 1
                if item is not None:
                    item.setText("not where it was kept")
            elif item is not None:
                item.setIcon(QIcon(QPixmap(str(small))))
        if gone:
            self.words.setText(
                f"{len(names)} photos, {gone} not where they were kept: look in the folder beside the job."
            )

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()
