"""Files that are let go over the window."""

from pathlib import Path

from PyQt6.QtGui import QDropEvent

from even_stance.exchange.jobfile import SUFFIX

TABLES = (".csv", ".dxf")


def dropped(event: QDropEvent) -> Path | None:
    """The one file of ours that hangs on the mouse: a job, or a table or drawing of points."""
    data = event.mimeData()
    urls = [] if data is None else data.urls()
    files = [Path(u.toLocalFile()) for u in urls if u.isLocalFile()]
    if len(files) == 1 and files[0].suffix.lower() in (SUFFIX, *TABLES):
        return files[0]
    return None
