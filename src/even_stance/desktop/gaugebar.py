"""The gauge bar: a digital gauge on a serial line; a held reading lands in the field that has the focus."""

from collections import deque
from collections.abc import Callable
from time import monotonic

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication, QComboBox, QHBoxLayout, QPushButton, QSizePolicy, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.widgets.fields import NumberField
from even_stance.desktop.widgets.labels import PlainLabel
from even_stance.shop.gauges import GaugeReader, GaugeReading, Port, serial_opener, serial_ports
from even_stance.shop.simgauge import SimGauge
from even_stance.units import format_length, format_mass, length_unit, mass_unit
from even_stance.vehicle.measuring import Quantity

_POLL_MS = 60
_LAND_S = 0.03
_WANTS = {"length": "a length", "angle": "an angle", "mass": "a weight"}
_PRACTICE: tuple[tuple[str, Quantity, float, float], ...] = (
    ("practice angle finder", "angle", 2.4, 0.15), ("practice distance meter", "length", 342.9, 1.0),
    ("practice wheel scale", "mass", 412.0, 1.5),
)  # fmt: skip


class GaugeBar(QWidget):
    """Connect, see the live figure, take it: with the gauge's own key, or with the button here."""

    def __init__(self, bench: Bench) -> None:
        super().__init__()
        self._bench = bench
        self.reader: GaugeReader | None = None
        self.practice: SimGauge | None = None
        self.kept: list[GaugeReading] = []
        self._waiting: deque[GaugeReading] = deque()
        self.live: GaugeReading | None = None
        self._field: NumberField | None = None
        self.setObjectName("strip")
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 4, 10, 4)
        row.addWidget(PlainLabel("Gauge"))
        self.port = QComboBox()
        self.port.setAccessibleName("Gauge port")
        self.port.addItem("none", None)
        for i, (words, *_) in enumerate(_PRACTICE):
            self.port.addItem(words, i)
        row.addWidget(self.port)
        self.connect_button = QPushButton("Connect")
        self.connect_button.clicked.connect(self.toggle)
        row.addWidget(self.connect_button)
        self.words = PlainLabel("Connect a gauge: its readings land in the field you are in.")
        self.words.setProperty("role", "faint")
        self.words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        row.addWidget(self.words, 1)
        self.take_button = QPushButton("Take reading")
        self.take_button.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # the field being filled keeps the focus
        self.take_button.setShortcut("Ctrl+Return")
        self.take_button.setToolTip("Ctrl+Enter, or the gauge's own key")
        self.take_button.setEnabled(False)
        self.take_button.clicked.connect(self.take)
        row.addWidget(self.take_button)
        self._timer = QTimer(self)
        self._timer.setInterval(_POLL_MS)
        self._timer.timeout.connect(self.poll)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._focus_moved)

    def look_for_ports(self) -> None:
        """List the serial ports that are there now."""
        known = {self.port.itemData(i) for i in range(self.port.count())}
        for device, words in serial_ports():
            if device not in known:
                self.port.addItem(words, device)

    def toggle(self) -> None:
        """Connect to the gauge chosen, or let go of it."""
        if self.reader is not None:
            self.disconnect_gauge()
            return
        chosen = self.port.currentData()
        if chosen is None:
            self._bench.refused.emit("Gauge: no port is chosen. Pick one in the list, or a practice gauge to try it.")
        elif isinstance(chosen, int):
            _, quantity, true, noise = _PRACTICE[chosen]
            self.practice = SimGauge(quantity, true, noise=noise, rate=8.0)
            self.connect_to(self.practice.plug_in)
        else:
            self.connect_to(serial_opener(chosen))

    def connect_to(self, opener: Callable[[], Port]) -> None:
        """Read a gauge."""
        self.disconnect_gauge()
        self.reader = GaugeReader(opener)
        self.connect_button.setText("Disconnect")
        self.take_button.setEnabled(True)
        self._timer.start()

    def disconnect_gauge(self) -> None:
        """Let go of the gauge; what was read stays."""
        self._timer.stop()
        if self.reader is not None:
            self.reader.close()
            self.poll()
            self._land_some(float("inf"))
            self.reader = None
        self.connect_button.setText("Connect")
        self.take_button.setEnabled(False)
        self.words.setText(f"Not connected. {len(self.kept)} readings kept." if self.kept else "Not connected.")

    def _focus_moved(self, _old: QWidget | None, new: QWidget | None) -> None:
        if isinstance(new, NumberField):
            self._field = new
        elif new is not None and not self.isAncestorOf(new):
            self._field = None

    def poll(self) -> None:
        """Take what was heard: held readings go to the field, streamed ones only show."""
        if self.reader is None:
            return
        for reading in self.reader.take():
            self.live = reading
            if reading.held:
                self._waiting.append(reading)
        self._land_some(_LAND_S)
        self._say()

    def _land_some(self, seconds: float) -> None:
        """Let held readings land one after the other, for so long: a whole burst at once would hold up the window."""
        until = monotonic() + seconds
        while self._waiting:
            self._land(self._waiting.popleft())
            if monotonic() > until:
                break

    def take(self) -> None:
        """Take the live figure, as if the gauge's key had been pressed."""
        if self.live is None:
            self._bench.refused.emit("Gauge: nothing was heard from it yet.")
            return
        self._land(self.live)
        self._say()

    def _land(self, reading: GaugeReading) -> None:
        self.kept.append(reading)
        field = self._field
        if field is None or not field.isVisible():
            self._bench.refused.emit(
                f"Gauge: {self._value(reading)} was kept, but no field has the focus. Click one and take it again."
            )
        elif field.quantity != reading.quantity:
            wants = _WANTS.get(field.quantity, "something else")
            self._bench.refused.emit(f"Gauge: {self._value(reading)} was kept; the field “{field.name}” wants {wants}.")
        else:
            field.take(reading.value)

    def _value(self, reading: GaugeReading) -> str:
        units = self._bench.job.units
        if reading.quantity == "angle":
            return f"{reading.value:.2f}°"
        if reading.quantity == "mass":
            return f"{format_mass(reading.value, units)} {mass_unit(units)}"
        return f"{format_length(reading.value, units)} {length_unit(units)}"

    def _say(self) -> None:
        assert self.reader is not None
        state, bad = self.reader.state, self.reader.bad_lines
        live = "" if self.live is None else self._value(self.live)
        words = {
            "waiting": "Waiting for the gauge to speak…",
            "reading": f"{live} now",
            "silent": f"Silent since {live}: is it switched off?",
            "lost": f"Lost the gauge ({self.reader.trouble}); trying again. Nothing read is lost.",
            "closed": "Not connected.",
        }[state]
        if bad:
            words += f"   {bad} garbled line{'s' if bad != 1 else ''} passed over"
        if self.kept:
            words += f"   {len(self.kept)} taken"
        if self._waiting:
            words += f"   {len(self._waiting)} more waiting their turn"
        self.words.setText(words)
