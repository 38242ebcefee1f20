"""Fill widgets without their signals going off."""

from collections.abc import Iterator
from contextlib import ExitStack, contextmanager

from PyQt6.QtCore import QObject, QSignalBlocker


@contextmanager
def blocked(*objects: QObject) -> Iterator[None]:
    """Within this, the objects send no signals."""
    with ExitStack() as stack:
        for each in objects:
            stack.enter_context(QSignalBlocker(each))
        yield
