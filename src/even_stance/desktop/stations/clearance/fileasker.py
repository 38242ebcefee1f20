"""Parts from files: a drawing that does not say its unit is asked for it, a thinned scan is told of."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QInputDialog, QWidget

from even_stance.desktop.bench import Bench
from even_stance.errors import InputError
from even_stance.exchange.shapes import UNITS_MM, plate_from, read_outlines, read_scan
from even_stance.vehicle.edits import fresh_thing_name, made
from even_stance.vehicle.things import Thing

_ASKED = "What unit are the numbers of the file in? It does not say."


class FileAsker:
    """Reads outlines and scans for a page."""

    def __init__(self, bench: Bench, parent: QWidget) -> None:
        self._bench, self._parent = bench, parent
        self.dialog: QInputDialog | None = None

    def _ask_unit(self, use: Callable[[str], object]) -> None:
        dialog = self.dialog = QInputDialog(self._parent)
        dialog.setWindowTitle("Unit")
        dialog.setLabelText(_ASKED)
        dialog.setComboBoxItems(list(UNITS_MM))
        dialog.textValueSelected.connect(use)
        dialog.open()

    def outline(self, path: Path, axle: str, unit: str, use: Callable[[Thing], object]) -> None:
        """A plate from a drawing, in the side view at the centerline, to be moved from there."""
        try:
            outlines = read_outlines(path)
            if outlines.per_mm is None and not unit:
                self._ask_unit(lambda picked: self.outline(path, axle, picked, use))
                return
            per = UNITS_MM[unit] if unit else outlines.per_mm or 1.0
            plate = plate_from(outlines, per, "side", 0.0, 6.35)
            name = fresh_thing_name(self._bench.job, path.stem[:60] or "plate")
            use(made(Thing, name=name, kind="plate", form=plate, wanted_mm=12.7))
        except (InputError, OSError) as error:
            self._bench.refused.emit(str(error))

    def part(self, path: Path, unit: str, use: Callable[[Thing], object]) -> None:
        """A part from a scan."""
        if not unit:
            self._ask_unit(lambda picked: self.part(path, picked, use))
            return
        try:
            scan, said = read_scan(path, UNITS_MM[unit])
            name = fresh_thing_name(self._bench.job, path.stem[:60] or "scan")
            use(made(Thing, name=name, kind="scan", form=scan, wanted_mm=12.7))
            if said:
                self._bench.refused.emit(said)
        except (InputError, OSError) as error:
            self._bench.refused.emit(str(error))
