"""Gauges on a line: what a line says, and a reader that noise, garbage, floods and a pulled plug cannot stop."""

from collections.abc import Callable
from time import monotonic, sleep

import pytest
from hypothesis import given
from hypothesis import strategies as st

from even_stance.errors import InputError
from even_stance.shop import gauges
from even_stance.shop.gauges import GaugeReader, GaugeReading, checksum, line_of, read_line, serial_opener
from even_stance.shop.simgauge import PtyGauge, SimGauge


def wait_for(true: Callable[[], bool], seconds: float = 5.0) -> None:
    end = monotonic() + seconds
    while not true():
        assert monotonic() < end, "waited in vain"
        sleep(0.01)


@given(st.floats(-9999, 9999), st.booleans(), st.sampled_from(["", "front.left", "rear.right"]))
def test_a_line_is_read_as_it_was_sent(value: float, held: bool, channel: str) -> None:
    found = read_line(line_of("WT", value, "kg", held, channel).encode() + b"\r")
    assert found == GaugeReading("mass", pytest.approx(value, abs=0.0051), held, channel)


def test_units_of_the_line_are_turned_into_ours() -> None:
    """By hand: 13.5 in is 342.9 mm, 100 lb are 45.359237 kg; the sum of the bytes of the documented example."""
    assert read_line(line_of("LEN", 13.5, "in", True).encode()).value == pytest.approx(342.9)
    assert read_line(line_of("WT", 100.0, "lb", True).encode()).value == pytest.approx(45.359237)
    # 65 + 78 + 71 + 32 + 50 + 46 + 51 + 53 + 32 + 100 + 101 + 103 + 32 + 72 = 886 = 3 x 256 + 118; 118 is 76 in hex.
    assert checksum("ANG 2.35 deg H") == "76"
    assert read_line(b"ANG 2.35 deg H*76") == GaugeReading("angle", 2.35, True)


@given(st.binary(max_size=80))
def test_garbage_is_refused_and_never_taken_for_a_reading(raw: bytes) -> None:
    with pytest.raises(InputError, match="Gauge"):
        read_line(raw)


@given(st.integers(0, 13), st.integers(32, 126))
def test_a_changed_byte_is_noticed(at: int, byte: int) -> None:
    line = bytearray(b"ANG 2.35 deg H*76")
    if line[at] == byte:
        return
    line[at] = byte
    with pytest.raises(InputError):
        read_line(bytes(line))


def test_nothing_is_lost_in_a_flood_and_garbage_is_counted() -> None:
    gauge = SimGauge("length", 342.9, noise=0.3, garbage=0.3, drop=0.1, rate=2000.0)
    reader = GaugeReader(gauge.plug_in)
    for _ in range(25):
        gauge.press()
        sleep(0.01)
    wait_for(lambda: reader.bad_lines > 20)
    taken = reader.take()
    wait_for(lambda: sum(r.held for r in taken) == 25 or bool(taken.extend(reader.take())))
    reader.close()
    assert len(taken) > 100
    assert all(r.value == pytest.approx(342.9, abs=2.5) for r in taken)
    assert reader.state == "closed"


def test_unplugged_and_plugged_in_again() -> None:
    gauge = SimGauge("angle", 2.0, rate=100.0)
    reader = GaugeReader(gauge.plug_in)
    wait_for(lambda: reader.state == "reading")
    gauge.unplug()
    wait_for(lambda: reader.state == "lost")
    assert "unplugged" in reader.trouble or "not there" in reader.trouble
    before = len(reader.take())
    gauge.plugged = True
    wait_for(lambda: reader.state == "reading")
    wait_for(lambda: len(reader.take()) > 0)
    reader.close()
    assert before > 0


def test_a_drifting_gauge_creeps() -> None:
    gauge = SimGauge("mass", 100.0, drift=50.0, rate=200.0)
    sleep(0.15)
    first = [read_line(line) for line in gauge.read(100_000).splitlines()]
    assert first[-1].value > 100.0 + 50.0 * 0.1


def test_through_a_real_serial_port() -> None:
    """pyserial on a pseudo-terminal, with noise between the lines, then the plug is pulled."""
    pty = PtyGauge(SimGauge("angle", -1.5, rate=0.0))
    reader = GaugeReader(serial_opener(pty.device))
    wait_for(lambda: reader.state == "waiting")
    sleep(0.2)
    pty.send(b"\xff\xfe half a li")
    pty.send(b"ne\nANG 2.35 deg H*76\nANG 2.35 deg H*77\n" + b"x" * 500 + b"\n")
    wait_for(lambda: reader.bad_lines >= 3)
    assert [r.value for r in reader.take()] == [2.35]
    pty.close()
    wait_for(lambda: reader.state == "lost")
    reader.close()


def test_a_line_of_four_hundred_digits_is_garbled_not_a_reading() -> None:
    body = f"LEN {'9' * 400} mm H"
    with pytest.raises(InputError, match="which is no reading"):
        read_line(f"{body}*{checksum(body)}".encode())


def test_what_a_serial_line_holds_is_read_before_it_breaks() -> None:
    """Waiting for 4,096 bytes lost what had come when the line broke meanwhile."""

    class Line:
        waiting = b"LEN 12.00 mm H*00\n"

        @property
        def in_waiting(self) -> int:
            return len(self.waiting)

        def read(self, size: int) -> bytes:
            if size > len(self.waiting):
                raise OSError("unplugged")
            came, self.waiting = self.waiting[:size], self.waiting[size:]
            return came

        def close(self) -> None:
            return None

    port = gauges._Prompt(Line())
    assert port.read(4096) == b"LEN 12.00 mm H*00\n"
    with pytest.raises(OSError, match="unplugged"):
        port.read(4096)
