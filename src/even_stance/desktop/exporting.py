"""Charts and tables out: a picture as PNG or SVG, a table as CSV. By a right click on any of them, or a button."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QSize, Qt, QUrl
from PyQt6.QtGui import QDesktopServices, QImage, QKeySequence, QPainter, QShortcut
from PyQt6.QtWidgets import QApplication, QComboBox, QDoubleSpinBox, QFileDialog, QMenu, QTableWidget, QWidget

from even_stance.desktop.widgets.labels import plain_tip
from even_stance.errors import JobFileError
from even_stance.exchange.tables import as_numbers, csv_text
from even_stance.exchange.wholefile import write_whole
from even_stance.units import HABITS, MM_PER_INCH

_PRINT_MM, _PRINT_DPI = 170.0, 300


def save_picture(widget: QWidget, path: Path) -> None:
    """Save what a widget shows as PNG or SVG, by the ending of the file, as wide as the type area of a page.

    Raises:
        JobFileError: it cannot be written.
    """
    store = QBuffer()
    store.open(QIODevice.OpenModeFlag.WriteOnly)
    if path.suffix.lower() == ".svg":
        from PyQt6.QtSvg import QSvgGenerator  # noqa: PLC0415 - only those who export wait for it

        generator = QSvgGenerator()
        generator.setOutputDevice(store)
        generator.setResolution(round(widget.width() / _PRINT_MM * MM_PER_INCH))
        generator.setSize(QSize(widget.width(), widget.height()))
        generator.setViewBox(widget.rect())
        painter = QPainter(generator)
        widget.render(painter)
        painter.end()
    elif not _at_print_size(widget).save(store, path.suffix.removeprefix(".").upper() or "PNG"):
        raise JobFileError(f"{path.name} could not be written: pictures end in .png or .svg.")
    write_whole(path, store.data().data())


def _at_print_size(widget: QWidget) -> QImage:
    """What a widget shows, drawn anew with as many dots as a printer wants."""
    from pyqtgraph import PlotWidget  # noqa: PLC0415 - only those who export wait for it
    from pyqtgraph.exporters import ImageExporter  # noqa: PLC0415 - as above

    dots = _PRINT_MM / MM_PER_INCH * _PRINT_DPI
    if isinstance(widget, PlotWidget):
        exporter = ImageExporter(widget.plotItem)  # lines and dots of a plot have widths of the screen: it scales them
        exporter.parameters()["width"] = round(dots)
        exporter.parameters()["background"] = widget.backgroundBrush().color()
        image: QImage = exporter.export(toBytes=True)
    else:
        image = QImage(widget.size() * (dots / widget.width()), QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(dots / widget.width())
        image.fill(widget.palette().window().color())
        painter = QPainter(image)
        widget.render(painter)
        painter.end()
    for set_dots in (image.setDotsPerMeterX, image.setDotsPerMeterY):
        set_dots(round(1000 * _PRINT_DPI / MM_PER_INCH))
    return image


def table_rows(table: QTableWidget) -> list[list[str]]:
    """What a table shows, its head first."""
    columns = range(table.columnCount())
    heads = [table.horizontalHeaderItem(j) for j in columns]
    rows = [["" if h is None else h.text() for h in heads]]
    for i in range(table.rowCount()):
        rows.append([_cell(table, i, j) for j in columns])
    return rows


def _cell(table: QTableWidget, row: int, column: int) -> str:
    widget, item = table.cellWidget(row, column), table.item(row, column)
    if isinstance(widget, QComboBox):
        return widget.currentText()
    if isinstance(widget, QDoubleSpinBox):
        return widget.text()
    return "" if item is None else item.text()


def write_rows(rows: list[list[str]], path: Path) -> None:
    """Write rows as CSV that a spreadsheet opens (UTF-8 with its mark), figures as numbers.

    Raises:
        JobFileError: it cannot be written.
    """
    write_whole(path, csv_text(as_numbers(rows), HABITS.comma).encode("utf-8-sig"))


def opening(path: Path) -> tuple[tuple[str, Callable[[], object]], ...]:
    """What is offered of a file that was written: to look at it, and at the folder it is in."""
    return (
        ("Open", lambda: QDesktopServices.openUrl(QUrl.fromLocalFile(str(path)))),
        ("Show in folder", lambda: QDesktopServices.openUrl(QUrl.fromLocalFile(str(path.parent)))),
    )


def ask_path(parent: QWidget, title: str, start: str, kinds: str, use: Callable[[Path], object]) -> QFileDialog:
    """Ask where to save something; a bare name is offered beside the job, named after it."""
    files = getattr(parent.window(), "files", None)
    if files is not None and not Path(start).is_absolute():
        start = str(files.place_for(start))
    dialog = QFileDialog(parent, title, start, kinds)
    dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
    dialog.setDefaultSuffix(Path(start).suffix.removeprefix("."))
    dialog.fileSelected.connect(lambda name: use(Path(name)))
    dialog.open()
    return dialog


def offer_picture(widget: QWidget, name: str, tell: Callable[[str], object]) -> None:
    """Give a chart a menu on right click that saves it as a picture."""
    widget.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)

    def save(path: Path) -> None:
        try:
            save_picture(widget, path)
        except JobFileError as error:
            tell(str(error))

    def show() -> None:
        menu = QMenu(widget)
        for suffix in ("png", "svg"):
            action = menu.addAction(f"Save this picture as {suffix.upper()}…")
            assert action is not None
            action.triggered.connect(
                lambda _=False, s=suffix: ask_path(widget, "Save picture", f"{name}.{s}", f"(*.{s})", save)
            )
        menu.popup(widget.mapToGlobal(widget.rect().center()))

    widget.customContextMenuRequested.connect(lambda _: show())


def copy_text(text: str) -> None:
    """Put a text on the clipboard."""
    board = QApplication.clipboard()
    if board is not None:
        board.setText(text)


def copy_rows(table: QTableWidget) -> None:
    """Copy the rows picked, or all where none is, as text with tabs between: a spreadsheet takes it as a table."""
    rows = table_rows(table)
    picked = sorted({index.row() for index in table.selectedIndexes()})
    wanted = [rows[0], *(rows[i + 1] for i in picked)] if picked else rows
    copy_text("\n".join("\t".join(cell.replace("\t", " ").replace("\n", " ") for cell in row) for row in wanted))


def offer_csv(table: QTableWidget, name: str) -> None:
    """Give a table a menu on right click that saves it as CSV."""
    table.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)

    def save(path: Path) -> None:
        try:
            write_rows(table_rows(table), path)
        except JobFileError as error:
            table.setToolTip(plain_tip(str(error)))

    copied = QShortcut(QKeySequence(QKeySequence.StandardKey.Copy), table)
    copied.setContext(Qt.ShortcutContext.WidgetShortcut)
    copied.activated.connect(lambda: copy_rows(table))

    def show() -> None:
        menu = QMenu(table)
        copy = menu.addAction("Copy (Ctrl+C)")
        assert copy is not None
        copy.triggered.connect(lambda _=False: copy_rows(table))
        action = menu.addAction("Save this table as CSV…")
        assert action is not None
        start = name.lower().replace(" ", "-")
        action.triggered.connect(lambda: ask_path(table, "Save table", f"{start}.csv", "(*.csv)", save))
        menu.popup(table.mapToGlobal(table.rect().center()))

    table.customContextMenuRequested.connect(lambda _: show())
