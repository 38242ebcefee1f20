"""Digital gauges on a serial line: what their lines say, and a reader that no trouble on the line can stop.

The line protocol is our own; help/gauges.md describes it for those who build an adapter.
"""

import contextlib
import re
import threading
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from time import monotonic, sleep
from typing import Any, Literal, Protocol

from even_stance.errors import InputError
from even_stance.units import KG_PER_POUND, MM_PER_INCH
from even_stance.vehicle.measuring import Quantity

_LINE = re.compile(
    r"^(?P<kind>ANG|LEN|WT)(?: (?P<channel>[a-z]+\.(?:left|right)))? (?P<value>[+-]?\d{1,9}(?:\.\d{1,6})?) "
    r"(?P<unit>deg|mm|in|kg|lb) (?P<state>[SH])\*(?P<sum>[0-9A-F]{2})$"
)
_UNITS: dict[str, tuple[Quantity, float]] = {
    "deg": ("angle", 1.0), "mm": ("length", 1.0), "in": ("length", MM_PER_INCH), "kg": ("mass", 1.0),
    "lb": ("mass", KG_PER_POUND),
}  # fmt: skip
_KINDS: dict[str, Quantity] = {"ANG": "angle", "LEN": "length", "WT": "mass"}
_LONGEST_LINE = 200
_RETRY_S = 0.5
_SILENT_S = 3.0


@dataclass(frozen=True)
class GaugeReading:
    """One line of a gauge.

    Attributes:
        quantity: what it measures; value: in mm, degrees or kg; held: True when its key was pressed to send it.
        channel: which scale of a set (“front.left”), empty for others.
    """

    quantity: Quantity
    value: float
    held: bool
    channel: str = ""


def checksum(text: str) -> str:
    """The two hexadecimal digits after the star: the sum of all bytes before it, modulo 256."""
    return f"{sum(text.encode('ascii')) % 256:02X}"


def line_of(kind: str, value: float, unit: str, held: bool, channel: str = "") -> str:
    """A line as a gauge sends it, without its line end."""
    body = f"{kind} {channel + ' ' if channel else ''}{value:.2f} {unit} {'H' if held else 'S'}"
    return f"{body}*{checksum(body)}"


def read_line(line: bytes) -> GaugeReading:
    """What a line says.

    Raises:
        InputError: it is not a line of the protocol, or was garbled on the way.
    """
    try:
        text = line.decode("ascii").strip()
    except UnicodeDecodeError:
        raise InputError("Gauge", "sent something that is no text.", "Check its speed setting.") from None
    found = _LINE.match(text)
    if found is None:
        raise InputError("Gauge", f"sent “{text[:40]}”, which is no reading.", "Check that it speaks this protocol.")
    if checksum(text.partition("*")[0]) != found["sum"]:
        raise InputError("Gauge", "sent a line that was garbled on the way.", "Press its key again.")
    quantity, factor = _UNITS[found["unit"]]
    if _KINDS[found["kind"]] != quantity:
        raise InputError("Gauge", f"sent {found['kind']} in {found['unit']}.", "Check its adapter.")
    return GaugeReading(quantity, float(found["value"]) * factor, found["state"] == "H", found["channel"] or "")


class Port(Protocol):
    """What a reader needs of a serial port: pyserial's Serial is one, a simulated gauge another."""

    def read(self, size: int) -> bytes:
        """Up to so many bytes, waiting a moment for the first; empty when nothing came."""
        ...

    def close(self) -> None:
        """Let go of the line."""
        ...


State = Literal["waiting", "reading", "silent", "lost", "closed"]


class GaugeReader:
    """Reads a gauge in a thread of its own; everything it hears waits to be taken, nothing is dropped.

    A line that cannot be read is counted and passed over; a port that fails is opened again and again until the gauge
    is back or the reader is closed.

    Args:
        opener: opens the port; may raise OSError.
    """

    def __init__(self, opener: Callable[[], Port]) -> None:
        self._opener = opener
        self._heard: deque[GaugeReading] = deque()
        self._stop = threading.Event()
        self._state: State = "waiting"
        self._last = monotonic()
        self.bad_lines = 0
        self.trouble = ""
        self._thread = threading.Thread(target=self._run, name="gauge", daemon=True)
        self._thread.start()

    @property
    def state(self) -> State:
        """How the line is."""
        if self._state == "reading" and monotonic() - self._last > _SILENT_S:
            return "silent"
        return self._state

    def take(self) -> list[GaugeReading]:
        """Everything heard since last taken, in order."""
        taken = []
        while True:
            try:
                taken.append(self._heard.popleft())
            except IndexError:
                return taken

    def close(self) -> None:
        """Stop reading; what was heard can still be taken."""
        self._stop.set()
        self._thread.join(timeout=2.0)
        self._state = "closed"

    def _run(self) -> None:
        """Listen until told to stop."""
        while not self._stop.is_set():
            try:
                port = self._opener()
            except OSError as error:
                self._lose(error)
                continue
            try:
                self._listen(port)
            except OSError as error:
                self._lose(error)
            finally:
                # A line that is gone cannot be closed either, and need not be.
                with contextlib.suppress(OSError):
                    port.close()

    def _lose(self, error: OSError) -> None:
        self._state, self.trouble = "lost", error.strerror or str(error)
        self._stop.wait(_RETRY_S)

    def _listen(self, port: Port) -> None:
        """Read from one port until it closes."""
        rest = b""
        self._state, self._last, self.trouble = "waiting", monotonic(), ""
        while not self._stop.is_set():
            came = port.read(4096)
            if not came:
                sleep(0.01)
                continue
            *lines, rest = (rest + came).split(b"\n")
            # Noise without line ends must not grow without end.
            if len(rest) > _LONGEST_LINE:
                rest, self.bad_lines = b"", self.bad_lines + 1
            for line in lines:
                self._hear(line)

    def _hear(self, line: bytes) -> None:
        """Pass on what one line says."""
        if not line.strip():
            return
        try:
            reading = read_line(line)
        except InputError as error:
            self.bad_lines += 1
            self.trouble = str(error)
            return
        self._state, self._last = "reading", monotonic()
        self._heard.append(reading)


def serial_ports() -> list[tuple[str, str]]:
    """The serial ports of this machine: device and what it is called."""
    from serial.tools.list_ports import comports  # noqa: PLC0415 - only those who use gauges wait for it

    return [(p.device, p.description or p.device) for p in comports()]


class _Prompt:
    """A serial port that gives what is there: waiting for more would lose it when the gauge is unplugged meanwhile."""

    def __init__(self, serial: Any) -> None:
        self._serial = serial

    def read(self, size: int) -> bytes:
        """What has come, or the first byte that does within a moment."""
        came: bytes = self._serial.read(max(1, min(size, int(self._serial.in_waiting))))
        return came

    def close(self) -> None:
        """Let go of the line."""
        self._serial.close()


def serial_opener(device: str, baud: int = 9600) -> Callable[[], Port]:
    """An opener for a serial device."""

    def open_it() -> Port:
        from serial import Serial  # noqa: PLC0415 - only those who use gauges wait for it

        # For this window alone: two that read one line would each get half of what the gauge says.
        return _Prompt(Serial(device, baud, timeout=0.1, exclusive=True))

    return open_it
