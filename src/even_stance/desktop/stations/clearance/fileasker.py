"""Parts from files, read beside the window: what of a drawing is meant is asked, a thinned scan is told of."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QInputDialog, QWidget

from even_stance.desktop.background import LongWork, run_beside
from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.clearance.outlineslip import OutlineSlip
from even_stance.exchange.meshes import says_its_unit
from even_stance.exchange.outlines import UNITS_MM, Outlines
from even_stance.vehicle.edits import fresh_thing_name, made
from even_stance.vehicle.things import Plate, Scan, Thing

_ASKED = "What unit are the numbers of the file in? It does not say."
_WANTED_MM = 12.7


class FileAsker:
    """Reads outlines and scans for a page."""

    def __init__(self, bench: Bench, look: Look, parent: QWidget) -> None:
        self._bench, self._look, self._parent = bench, look, parent
        self.dialog: QInputDialog | None = None
        self.slip: OutlineSlip | None = None
        self._reading: LongWork | None = None

    def outline(self, path: Path, use: Callable[[Thing], str]) -> None:
        """Read a drawing; then ask which of its outlines becomes a plate, at the centerline, to be moved from there.

        Args:
            path: the drawing; use: takes the plate; what was wrong with it, or nothing said.
        """

        def read() -> Outlines:
            from even_stance.exchange.outlines import read_outlines  # noqa: PLC0415 - drawings are loaded late

            return read_outlines(path)

        def put(plate: Plate) -> str:
            name = fresh_thing_name(self._bench.job, path.stem[:60] or "plate")
            return use(made(Thing, name=name, kind="plate", form=plate, wanted_mm=_WANTED_MM))

        def ask(came: object) -> None:
            if not isinstance(came, Outlines):
                self._bench.refused.emit(str(came))
                return
            self.slip = OutlineSlip(self._parent, self._look, self._bench.job.units, came, put)
            self.slip.open()

        self._reading = run_beside(self._parent, read, ask)

    def part(self, path: Path, unit: str, use: Callable[[Thing], str]) -> None:
        """Read a part from a scan; first ask for its unit, where files of its kind do not say.

        Args:
            path: the scan; unit: of its numbers, if that was asked; use: takes the part; what was wrong with it.
        """
        if not unit and not says_its_unit(path):
            dialog = self.dialog = QInputDialog(self._parent)
            dialog.setWindowTitle("Unit")
            dialog.setLabelText(_ASKED)
            dialog.setComboBoxItems(list(UNITS_MM))
            dialog.textValueSelected.connect(lambda picked: self.part(path, picked, use))
            dialog.open()
            return

        def read() -> tuple[Scan, str]:
            from even_stance.exchange.meshes import read_scan  # noqa: PLC0415 - scans are loaded late

            return read_scan(path, UNITS_MM.get(unit, 1.0))

        def put(came: object) -> None:
            if not isinstance(came, tuple):
                self._bench.refused.emit(str(came))
                return
            scan, said = came
            name = fresh_thing_name(self._bench.job, path.stem[:60] or "scan")
            if not use(made(Thing, name=name, kind="scan", form=scan, wanted_mm=_WANTED_MM)) and said:
                self._bench.refused.emit(said)

        self._reading = run_beside(self._parent, read, put)
