"""What a station says of itself, so that the window need not know it."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Protocol

from PyQt6.QtWidgets import QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages
from even_stance.desktop.studies import Studies
from even_stance.judgement.findings import Finding


class StationWidget(Protocol):
    """What every station's widget has: its pages."""

    pages: Pages


@dataclass(frozen=True)
class Station:
    """One station. Its place in the list of stations is its place in the work order and its key (Ctrl+1 ...).

    Attributes:
        key: its name in findings and judged numbers; title: what it is called.
        make: makes its widget when it is first opened; heavy imports belong in there.
        findings: what it has to say about the car, for the work order.
        load: imports what it needs, beside the window; ready: makes what can be made ahead, one small step at a time.
        moves: whether the travel rail belongs to it; a car that is measured stands at ride height.
        focus: the widget that keys go to when it is opened.
    """

    key: str
    title: str
    make: Callable[[Bench, Look], QWidget]
    findings: Callable[[Studies], list[Finding]]
    load: Callable[[], object] | None = None
    ready: Callable[[QWidget], Iterator[None]] | None = None
    moves: bool = True
    focus: Callable[[QWidget], QWidget] | None = None
