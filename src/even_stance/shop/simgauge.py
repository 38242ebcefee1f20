"""Stand-ins that behave like real gauges: noise, drift, dropped lines, garbage, and being unplugged."""

import os
import random
import threading
import tty
from collections import deque
from time import monotonic

from even_stance.shop.gauges import line_of
from even_stance.vehicle.measuring import Quantity

_UNIT = {"angle": ("ANG", "deg"), "length": ("LEN", "mm"), "mass": ("WT", "kg")}


class SimGauge:
    """A gauge without hardware; it is a port that a reader can open.

    Args:
        quantity: what it measures.
        true: the value it is held against, in deg, mm or kg.
        noise: standard deviation of a reading; drift: how much it creeps per second.
        drop: share of lines that never arrive; garbage: share of lines that arrive garbled.
        rate: lines per second; seed: for the same readings every time.
    """

    def __init__(
        self, quantity: Quantity, true: float, noise: float = 0.0, drift: float = 0.0, drop: float = 0.0,
        garbage: float = 0.0, rate: float = 10.0, seed: int = 1,
    ) -> None:  # fmt: skip
        self.quantity, self.true = quantity, true
        self._noise, self._drift, self._drop, self._garbage = noise, drift, drop, garbage
        self._rate, self._random = rate, random.Random(seed)
        self._start = self._next = monotonic()
        self._pressed: deque[str] = deque()
        self._waiting = b""
        self._lock = threading.Lock()
        self.plugged = True

    def press(self, channel: str = "") -> None:
        """Press the gauge's key: its present reading is sent as a held one."""
        with self._lock:
            self._pressed.append(channel)

    def unplug(self) -> None:
        """Pull the plug."""
        self.plugged = False

    def plug_in(self) -> "SimGauge":
        """Open the line.

        Raises:
            OSError: the gauge is unplugged.
        """
        if not self.plugged:
            raise OSError(19, "the gauge is not there")
        return self

    def read(self, size: int) -> bytes:
        """What the gauge has sent since last read; a key press is never dropped or garbled."""
        if not self.plugged:
            raise OSError(5, "the gauge was unplugged")
        lines = []
        with self._lock:
            while self._pressed:
                lines.append(self._line(True, self._pressed.popleft()).encode())
        now = monotonic()
        while self._next <= now and self._rate > 0:
            self._next += 1.0 / self._rate
            if self._random.random() >= self._drop:
                lines.append(self._spoiled(self._line(False, "")))
        self._waiting += b"".join(line + b"\r\n" for line in lines)
        sent, self._waiting = self._waiting[:size], self._waiting[size:]
        return sent

    def close(self) -> None:
        """Nothing to let go of."""

    def _line(self, held: bool, channel: str) -> str:
        value = self.true + self._random.gauss(0.0, self._noise) + self._drift * (monotonic() - self._start)
        kind, unit = _UNIT[self.quantity]
        return line_of(kind, value, unit, held, channel)

    def _spoiled(self, line: str) -> bytes:
        """A line with something wrong in it."""
        raw = bytearray(line.encode())
        if self._random.random() < self._garbage:
            for _ in range(3):
                raw[self._random.randrange(len(raw))] = self._random.randrange(128, 256)
        return bytes(raw)


class PtyGauge:
    """A simulated gauge behind a pseudo-terminal, to be opened like any serial device.

    Args:
        gauge: what is simulated.
    """

    def __init__(self, gauge: SimGauge) -> None:
        self._gauge = gauge
        self._master, self._slave = os.openpty()
        tty.setraw(self._slave)
        self.device = os.ttyname(self._slave)
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._serve, name="simulated gauge", daemon=True)
        self._thread.start()

    def send(self, raw: bytes) -> None:
        """Send anything at all down the line."""
        os.write(self._master, raw)

    def close(self) -> None:
        """Pull the plug: the device goes away."""
        self._stop.set()
        self._thread.join(timeout=2.0)
        for end in (self._master, self._slave):
            os.close(end)

    def _serve(self) -> None:
        """Say a reading now and again."""
        while not self._stop.wait(0.02):
            came = self._gauge.read(4096)
            if came:
                os.write(self._master, came)
