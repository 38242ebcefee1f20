"""Real printing: the papers, page for page as their PDF has them, in the system's own preview and on its printers."""

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSize
from PyQt6.QtGui import QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QWidget

_DOTS = 300.0  # an inch: what a page is drawn at for a printer
_POINTS = 72.0


def pages_of(pdf: bytes) -> QPdfDocument:
    """A PDF opened for drawing; it holds its own bytes."""
    document = QPdfDocument(None)
    store = QBuffer(document)
    store.setData(QByteArray(pdf))
    store.open(QIODevice.OpenModeFlag.ReadOnly)
    document.load(store)
    return document


def draw_pages(document: QPdfDocument, printer: QPrinter) -> None:
    """Draw every page at its true size: templates must come out full size, so nothing is fitted to the paper."""
    painter = QPainter(printer)
    dots = printer.resolution()
    for i in range(document.pageCount()):
        if i:
            printer.newPage()
        size = document.pagePointSize(i)
        pixels = QSize(round(size.width() / _POINTS * _DOTS), round(size.height() / _POINTS * _DOTS))
        page = document.render(i, pixels)
        whole = printer.paperRect(QPrinter.Unit.DevicePixel)
        inside = printer.pageRect(QPrinter.Unit.DevicePixel)
        painter.drawImage(
            QRectF(whole.left() - inside.left(), whole.top() - inside.top(), size.width() / _POINTS * dots,
                   size.height() / _POINTS * dots), page,
        )  # fmt: skip
    painter.end()


def preview(parent: QWidget, pdf: bytes, title: str) -> QPrintPreviewDialog:
    """The system's preview of a paper, from which it is printed."""
    document = pages_of(pdf)
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    if document.pageCount():
        from PyQt6.QtGui import QPageLayout, QPageSize  # noqa: PLC0415

        size = document.pagePointSize(0)
        wide = size.width() > size.height()
        printer.setPageSize(QPageSize(size.transposed() if wide else size, QPageSize.Unit.Point))
        printer.setPageOrientation(QPageLayout.Orientation.Landscape if wide else QPageLayout.Orientation.Portrait)
    printer.setDocName(title)
    dialog = QPrintPreviewDialog(printer, parent)
    dialog.setWindowTitle(f"Print {title}")
    dialog.paintRequested.connect(lambda to: draw_pages(document, to))

    def end(_result: int) -> None:
        """The dialog owns neither the paper nor the printer: both are held here until it is closed."""
        document.close()
        printers.clear()

    printers = [printer]
    dialog.finished.connect(end)
    dialog.open()
    return dialog
