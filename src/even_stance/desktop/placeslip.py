"""A place on the car with a name: what it is called and where it is, typed."""

from functools import partial

from PyQt6.QtWidgets import QLineEdit, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.fields import LengthField
from even_stance.desktop.widgets.slip import Slip
from even_stance.units import length_unit
from even_stance.vehicle.edits import put_landmark

_COORDINATES = ("Ahead of the front axle", "Left of the centerline", "Above the ground")


class PlaceSlip(Slip):
    """Name a place, or change one that was named."""

    def __init__(self, parent: QWidget, bench: Bench, at: tuple[float, float, float], was: str = "") -> None:
        super().__init__(parent, "A place on the car", "Keep it", self._keep)
        self._bench, self._was, self._at = bench, was, list(at)
        self.name = QLineEdit(was)
        self.name.setPlaceholderText("such as skid plate")
        self.row("Name", self.name)
        self.fields: list[LengthField] = []
        for i, title in enumerate(_COORDINATES):
            field = LengthField(bench, title, partial(self._set, i))
            field.show_mm(at[i])
            self.fields.append(field)
            self.row(f"{title}, {length_unit(bench.job.units)}", field)

    def _set(self, coordinate: int, mm: float) -> None:
        self._at[coordinate] = mm

    def _keep(self) -> str:
        name = self.name.text().strip()
        if not name:
            return "Name: is empty. Type what the place is called, such as skid plate."
        x, y, z = self._at
        done = self._bench.do(put_landmark(name, (x, y, z), self._was))
        return "" if done.done else done.sentence
