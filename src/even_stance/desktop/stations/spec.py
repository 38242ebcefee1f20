"""What a station says of itself, so that the window need not know it."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from importlib import import_module
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


def made_late(station: str, name: str, *more: str) -> tuple[Callable[[Bench, Look], QWidget], Callable[[], object]]:
    """How a station is made and loaded whose modules take long to import, charts and papers above all.

    Args:
        station: its folder; name: its widget, in the module "station" there; more: other modules to load beside it.
    """
    package = f"even_stance.desktop.stations.{station}"

    def make(bench: Bench, look: Look) -> QWidget:
        widget: QWidget = getattr(import_module(f"{package}.station"), name)(bench, look)
        return widget

    return make, lambda: [import_module(f"{package}.{module}") for module in ("station", *more)]


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
