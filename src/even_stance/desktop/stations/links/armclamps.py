"""How an arm is held: a choice, and the length that goes with one of the ways."""

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.fields import Labeled, LengthField
from even_stance.vehicle.edits import set_members
from even_stance.vehicle.members import AArm, RadiusArm, TorqueArm


class ArmHeld(QWidget):
    """Shown while the axle has such arms; a change goes to all of them, in one step of undo."""

    def __init__(
        self,
        bench: Bench,
        kind: type[RadiusArm | TorqueArm | AArm],
        way: tuple[str, str, dict[str, str]],
        length: tuple[str, str, str] | None = None,
    ) -> None:
        """Make the form.

        Args:
            bench: the bench.
            kind: which arms.
            way: attribute, title, and the words of each way.
            length: attribute, title, and the way it goes with; None where no length goes with any.
        """
        super().__init__()
        self._bench, self._kind = bench, kind
        self._way, title, words = way
        self._length, length_title, self._with = length or ("", "", "")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        self.choice = QComboBox()
        self.choice.setAccessibleName(title)
        for value, text in words.items():
            self.choice.addItem(text, value)
        self.choice.activated.connect(lambda _: self._change(title, self._way, self.choice.currentData()))
        self.length = LengthField(bench, length_title, lambda mm: self._change(length_title, self._length, mm))
        self.room = Labeled(bench, length_title, self.length, "length")
        row.addWidget(Labeled(bench, title, self.choice))
        row.addWidget(self.room)
        self.room.setVisible(bool(length))
        row.addStretch(1)

    def _arms(self) -> list[RadiusArm | TorqueArm | AArm]:
        return [m for m in self._bench.axle.members if isinstance(m, self._kind)]

    def _change(self, label: str, attribute: str, value: object) -> None:
        self._bench.do(set_members(self._bench.axle_key, [m.name for m in self._arms()], label, **{attribute: value}))

    def refresh(self) -> None:
        """Show how the arms of the axle looked at are held."""
        arms = self._arms()
        self.setVisible(bool(arms))
        if arms:
            way = getattr(arms[0], self._way)
            self.choice.setCurrentIndex(self.choice.findData(way))
            self.room.setVisible(bool(self._length) and way == self._with)
            if self._length:
                self.length.show_mm(getattr(arms[0], self._length))
