"""What a right click on the floor offers: for the point there, and for the floor."""

from collections.abc import Callable
from functools import partial
from typing import Protocol

from PyQt6.QtWidgets import QMenu, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.exporting import copy_text
from even_stance.desktop.holding import mirror, point_words, step_hole, walk_points
from even_stance.desktop.placeslip import PlaceSlip
from even_stance.study.drawing import Xyz
from even_stance.vehicle.edits import drop_landmark
from even_stance.vehicle.spots import Spot, holes_of, twin_of


class Fitting(Protocol):
    """A view of the floor that can be fitted."""

    whole: bool

    def fit(self) -> None:
        """Show all of it."""


def floor_menu(view: QWidget, fitting: Fitting, bench: Bench, spot: Spot | None, at: Xyz) -> QMenu:
    """The menu for a point, or for the floor where none is under the mouse, at a place on the car."""
    menu = QMenu(view)

    def offer(title: str, do: Callable[[], object], can: bool = True, menu: QMenu = menu) -> None:
        action = menu.addAction(title)
        assert action is not None
        action.setEnabled(can)
        action.triggered.connect(lambda _=False: do())

    if spot is not None:
        name = menu.addAction(spot.words)
        assert name is not None
        name.setEnabled(False)
        holes, used = holes_of(bench.job, spot)
        if used is not None and len(holes) > 1:
            offer("Next hole up\tPage Up", lambda: step_hole(bench, spot, 1), used + 1 < len(holes))
            offer("Next hole down\tPage Down", lambda: step_hole(bench, spot, -1), used > 0)
        twin = twin_of(bench.job, spot)
        if twin is not None:
            offer("Mirror it to the other side", lambda: mirror(bench, spot, twin))
            offer("Take hold of its twin", lambda: bench.select_spot(twin))
        offer("Copy where it is", lambda: copy_text("\t".join(point_words(bench, spot))))
        offer("Let go of it\tEsc", lambda: bench.select_spot(None))
        menu.addSeparator()
    if spot is None:
        offer("Name this place…", partial(_ask_place, view, bench, at, ""))
    for mark in bench.job.vehicle.landmarks:
        place = menu.addMenu(f"“{mark.name}”")
        assert place is not None
        offer("Change it…", partial(_ask_place, view, bench, mark.at.xyz, mark.name), menu=place)
        offer("Forget it", partial(bench.do, drop_landmark(mark.name)), menu=place)
    offer("Next point\tN", lambda: walk_points(bench, 1))
    offer("Point before\tP", lambda: walk_points(bench, -1))
    offer("Fit the picture\tF", fitting.fit)
    offer("Just this axle\tW" if fitting.whole else "The whole car\tW", lambda: _swap(fitting))
    undo, redo = bench.document.history.undo_label, bench.document.history.redo_label
    menu.addSeparator()
    offer(f"Undo: {undo}" if undo else "Undo", bench.undo, undo is not None)
    offer(f"Redo: {redo}" if redo else "Redo", bench.redo, redo is not None)
    return menu


def _ask_place(view: QWidget, bench: Bench, at: Xyz, was: str) -> None:
    PlaceSlip(view, bench, at, was).open()


def _swap(fitting: Fitting) -> None:
    fitting.whole = not fitting.whole
    fitting.fit()
