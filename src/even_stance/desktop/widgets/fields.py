"""Fields that read what people type, say at once what is wrong with it, and never lose it."""

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QFocusEvent, QHideEvent, QKeyEvent, QKeySequence, QShowEvent
from PyQt6.QtWidgets import QLineEdit, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.labels import ABOUT, PlainLabel, plain_tip
from even_stance.errors import InputError
from even_stance.units import (
    System,
    distance_unit,
    force_unit,
    format_distance,
    format_force,
    format_length,
    format_length_exact,
    format_mass,
    format_pitch,
    format_pressure,
    format_speed,
    format_stiffness,
    format_stress,
    format_torque,
    format_wall,
    length_unit,
    mass_unit,
    parse_angle,
    parse_distance,
    parse_force,
    parse_length,
    parse_mass,
    parse_number,
    parse_percent,
    parse_pitch,
    parse_pressure,
    parse_speed,
    parse_stiffness,
    parse_stress,
    parse_torque,
    pressure_unit,
    shown,
    speed_unit,
    stiffness_unit,
    stress_unit,
    torque_unit,
)

Parse = Callable[[str, System, str], float]
Show = Callable[[float, System], str]


class NumberField(QLineEdit):
    """A line that holds a number in stored units and shows it in the user's.

    What is typed is read on Enter or when the field is left. Text that cannot be read stays in the field, marked, with
    the reason beneath or in the tip; Escape brings the last good value back.

    Args:
        bench: for the units in use, and where refusals are told.
        name: what the field is called, for messages and screen readers.
        read, show: from text and to text.
        send: what to do with a new value.

    Attributes:
        quantity: what a gauge must measure for its readings to land here; empty for none.
        once: whether it is empty again once its value was sent on: for readings, of which there may be more.
        cleared: what to do when what it held is taken out; None where it must hold something.
    """

    quantity = ""

    def __init__(self, bench: Bench, name: str, read: Parse, show: Show, send: Callable[[float], object]) -> None:
        super().__init__()
        self._bench, self.name, self._read, self._show, self._send = bench, name, read, show, send
        self._value: float | None = None
        self._shown = ""
        self.complaint: Callable[[str], None] | None = None
        self._beneath: PlainLabel | None = None
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.editingFinished.connect(self.commit)
        self.once = False
        self.cleared: Callable[[], object] | None = None
        self._typed_in = False  # the same figure typed again is a figure: a second reading of a length that was read so
        self.textEdited.connect(self._edited)

    def _edited(self, _text: str) -> None:
        self._typed_in = True
        self._mark("")

    @property
    def value(self) -> float | None:
        """What it holds, in stored units; None while nothing was entered."""
        return self._value

    def show_value(self, value: float | None, tip: str = "") -> None:
        """Show a value, unless the user is in the middle of typing or has text here that could not be read."""
        self._value = value
        text = "" if value is None else shown(self._show(value, self._bench.job.units))
        untouched = self.text() == self._shown
        if untouched or (not self.property("wrong") and not self.hasFocus()):
            self._shown = text
            if self.text() != text:
                self.setText(text)
                if not self.hasFocus():
                    self.setCursorPosition(0)  # where room is short, the inches are seen before their sixteenths
            self.setToolTip(plain_tip(tip))

    def commit(self) -> None:
        """Read what is in the field and send it on; a field nobody typed in sends nothing."""
        if self.text() == self._shown and not (self._typed_in and self.text()):
            self._mark("")
            return
        self._typed_in = False
        if not self.text().strip() and self.cleared is not None:
            self._mark("")
            self._value, self._shown = None, self.text()
            self.cleared()
            return
        try:
            value = self._read(self.text(), self._bench.job.units, self.name)
        except InputError as error:
            self._mark(str(error))
            return
        refusals: list[str] = []
        before, self._value = self._value, value
        self._bench.refused.connect(refusals.append)
        try:
            self._send(value)
        except InputError as error:  # what it would become was refused before there was an edit
            refusals.append(str(error))
        finally:
            self._bench.refused.disconnect(refusals.append)
        if refusals:
            self._value = before
            self._mark(refusals[0])
            return
        if self.once:
            self.clear_typed()
            return
        self._mark("")
        # The typed text has become the value, whatever the views showed of it meanwhile.
        self._shown = self.text()
        self.show_value(self._value)

    def clear_typed(self) -> None:
        """Empty the field: what was typed has been used."""
        self._shown = ""
        self._value = None
        self._typed_in = False
        self.clear()
        self._mark("")

    def take(self, value: float) -> bool:
        """A value that comes from a gauge, as if it had been typed and entered; False when it was refused."""
        self.setText(self._typed(value))
        self._typed_in = True
        self.commit()
        return not self.property("wrong")

    def _typed(self, value: float) -> str:
        return f"{value:g}"

    def _mark(self, problem: str) -> None:
        if bool(self.property("wrong")) != bool(problem):
            self.setProperty("wrong", bool(problem))
            self.update()
        if problem:
            self.setToolTip(plain_tip(problem))
        self.setAccessibleDescription(problem)
        if self.complaint is not None:
            self.complaint(problem)
        else:
            self._say_beneath(problem)

    def _say_beneath(self, problem: str) -> None:
        """Say what is wrong right beneath a field that has no room of its own for it, over what stands there."""
        if problem and self._beneath is None:
            page = self._page()
            self._beneath = PlainLabel("", page)
            self._beneath.setProperty("role", "alarm")
            self._beneath.setAutoFillBackground(True)
            self._beneath.setWordWrap(True)
            # A click goes to what stands beneath it: nobody has to get rid of it first.
            self._beneath.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        if self._beneath is None:
            return
        self._beneath.setText(problem)
        self._beneath.setVisible(bool(problem))
        if problem:
            self._put_beneath()

    def _page(self) -> QWidget:
        """Return what scrolls with the field, or its window."""
        page: QWidget = self.window() or self
        above = self.parentWidget()
        while above is not None:
            if isinstance(above, QScrollArea) and (inside := above.widget()) is not None:
                return inside
            above = above.parentWidget()
        return page

    def _put_beneath(self) -> None:
        note, page = self._beneath, self._page()
        if note is None or not note.isVisibleTo(page):
            return
        wide = min(max(self.width(), 24 * self.fontMetrics().averageCharWidth()), page.width())
        at = self.mapTo(page, QPoint(0, self.height() + 1))
        tall = note.heightForWidth(wide)
        if at.y() + tall > page.height():  # no room below: above it
            at.setY(max(at.y() - self.height() - tall - 2, 0))
        note.setGeometry(min(at.x(), max(page.width() - wide, 0)), at.y(), wide, tall)
        note.raise_()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Take the words about it along."""
        super().hideEvent(event)
        if self._beneath is not None:
            self._beneath.hide()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Say again what is wrong with what still stands in it."""
        super().showEvent(event)
        if self._beneath is not None and self.property("wrong"):
            self._beneath.show()
            self._put_beneath()

    def event(self, event: QEvent | None) -> bool:
        """Ctrl+Z takes back typing while there is some; once it was entered, it takes back what it did to the job."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            undo, redo = QKeySequence.StandardKey.Undo, QKeySequence.StandardKey.Redo
            if (event.matches(undo) or event.matches(redo)) and self.text() == self._shown:
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape brings back the last good value."""
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self._typed_in = False
        if event.key() == Qt.Key.Key_Escape and self.text() != self._shown:
            self.setText(self._shown)
            self._mark("")
            self.show_value(self._value)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Select all, so that typing replaces."""
        super().focusInEvent(event)
        self.selectAll()


class LengthField(NumberField):
    """A length, in sixteenths or millimeters."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_length, format_length, send)

    quantity = "length"

    def _typed(self, value: float) -> str:
        return f"{value:.2f} mm"

    def show_mm(self, mm: float | None) -> None:
        """Show a length."""
        self.show_value(mm, "" if mm is None else _exactly(mm, self._show(mm, self._bench.job.units)))


def _exactly(mm: float, shown_as: str) -> str:
    """A length in full, and what a sign before it means."""
    return format_length_exact(mm) + (f"\n{ABOUT}" if shown_as.startswith("~") else "")


class WallField(LengthField):
    """A wall of a tube: thousandths of an inch, as it is sold, or millimeters."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, send)
        self._show = format_wall


class ThreadField(NumberField):
    """The pitch of a thread as it is stamped or said: 18, 18 tpi, 9/16-18, M14x1.5, 1.5 mm."""

    quantity = "length"

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_pitch, format_pitch, send)


class MassField(NumberField):
    """A weight, in pounds or kilograms."""

    quantity = "mass"

    def _typed(self, value: float) -> str:
        return f"{value:.2f} kg"

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_mass, format_mass, send)


class StiffnessField(NumberField):
    """A spring rate or the stiffness of a joint, in lb/in or N/mm."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_stiffness, format_stiffness, send)


class TorqueField(NumberField):
    """A torque, in lb ft or N m."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_torque, format_torque, send)


class SpeedField(NumberField):
    """A road speed, in mph or km/h."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_speed, format_speed, send)


class DistanceField(NumberField):
    """A distance on the ground, in ft or m."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_distance, format_distance, send)


class ForceField(NumberField):
    """A force, in lb or N."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        # Thousands are set apart where they are read, not where they are typed.
        super().__init__(bench, name, parse_force, lambda v, s: format_force(v, s).replace(",", ""), send)


class PressureField(NumberField):
    """A pressure, in psi or bar."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_pressure, format_pressure, send)


class StressField(NumberField):
    """A strength, in ksi or MPa."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, parse_stress, format_stress, send)


class PlainField(NumberField):
    """A number without a unit, such as a gear ratio."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, lambda t, _s, f: parse_number(t, f), lambda v, _s: f"{v:g}", send)


class PercentField(NumberField):
    """A percentage."""

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, lambda t, _s, f: parse_percent(t, f), lambda v, _s: f"{v:g}", send)


class DegreeField(NumberField):
    """An angle in degrees."""

    quantity = "angle"

    def __init__(self, bench: Bench, name: str, send: Callable[[float], object]) -> None:
        super().__init__(bench, name, lambda t, _s, f: parse_angle(t, f), lambda v, _s: f"{round(v, 2):g}", send)


class Labeled(QWidget):
    """A field with its name above it, its unit, and room below for what is wrong."""

    def __init__(self, bench: Bench, title: str, field: QWidget, kind: str = "") -> None:
        super().__init__()
        self._bench, self._title, self._kind = bench, title, kind
        self.field = field
        # Never squeezed: a field half covered is worse than a page that scrolls.
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        self.label = PlainLabel(title)
        self.label.setProperty("role", "faint")
        self.label.setBuddy(field)
        if title.startswith("±"):
            self.label.setToolTip("How far off it may be, either way")
        self.problem = PlainLabel()
        self.problem.setProperty("role", "alarm")
        self.problem.setWordWrap(True)
        self.problem.hide()
        for widget in (self.label, field, self.problem):
            column.addWidget(widget)
        if isinstance(field, NumberField):
            field.complaint = self.say_problem
        self.refresh_unit()

    def set_title(self, title: str) -> None:
        """Call the field something else."""
        self._title = title
        self.refresh_unit()

    def say_problem(self, text: str) -> None:
        """Say what is wrong with the field, or nothing."""
        self.problem.setText(text)
        self.problem.setVisible(bool(text))

    def refresh_unit(self) -> None:
        """Show the unit in use."""
        units = self._bench.job.units
        unit = {
            "length": length_unit(units), "mass": mass_unit(units), "percent": "%", "deg": "°",
            "stiffness": stiffness_unit(units), "torque": torque_unit(units), "speed": speed_unit(units),
            "distance": distance_unit(units), "ratio": "to 1", "hz": "Hz", "g": "g", "force": force_unit(units),
            "pressure": pressure_unit(units), "stress": stress_unit(units),
        }.get(self._kind, "")  # fmt: skip
        self.label.setText(f"{self._title}, {unit}" if unit else self._title)
