import time
from collections.abc import Callable, Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from even_stance.errors import InputError
from even_stance.units import (
    HABITS,
    Habits,
    System,
    distance_unit,
    force_unit,
    format_distance,
    format_force,
    format_length,
    format_mass,
    format_pitch,
    format_pressure,
    format_speed,
    format_stiffness,
    format_stress,
    format_torque,
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
    parse_thread,
    parse_torque,
    pressure_unit,
    shown,
    speed_unit,
    stiffness_unit,
    stress_unit,
    torque_unit,
)

# The inch is 25.4 mm and the pound 0.45359237 kg exactly (international yard and pound agreement, 1959).


@pytest.mark.parametrize(
    ("text", "inches"),
    [
        ("13 1/2", 13.5), ('13-1/2"', 13.5), ("13.5in", 13.5), ("5' 3 1/4\"", 63.25), ("5'3-1/4", 63.25), ("5 ft 3", 63.0),
        ("1/8", 0.125), ("+2", 2.0), ("-3 1/2", -3.5), ("13½", 13.5), ("½", 0.5), (".5", 0.5), ("~13 1/2", 13.5),
        ("6'", 72.0), ("5′ 3″", 63.0), ("2 in.", 2.0), ("0", 0.0), ("−1", -1.0), ("12 inches", 12.0),
    ],
)  # fmt: skip
def test_what_people_type_in_inches(text: str, inches: float) -> None:
    assert parse_length(text) == pytest.approx(inches * 25.4, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "mm"), [("342.9 mm", 342.9), ("34.3cm", 343.0), ("342.9", 342.9), ("1.2 m", 1200.0), ("2 in", 50.8)]
)
def test_what_people_type_in_millimeters(text: str, mm: float) -> None:
    assert parse_length(text, "metric") == pytest.approx(mm, abs=1e-9)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "nothing was entered"), ("13,5", "point for decimals"), ("abc", "is not a length"), ("1/0", "divides by zero"),
        ("13.5 1/2", "mixes decimals"), ("1e5", "is not a length"), ("9999999", "longer than any car"), ("nan", "not a length"),
        ("12 13", "is not a length"), ("--3", "is not a length"), ("5' 3 mm", "is not a length"), ("-", "nothing was entered"),
    ],
)  # fmt: skip
def test_refusals_name_field_and_cure(text: str, said: str) -> None:
    with pytest.raises(InputError) as refused:
        parse_length(text, field="Wheelbase")
    assert str(refused.value).startswith("Wheelbase: ")
    assert said in str(refused.value)


@given(st.integers(-16 * 400, 16 * 400))
def test_sixteenths_survive_the_round_trip(sixteenths: int) -> None:
    mm = sixteenths / 16 * 25.4
    assert parse_length(format_length(mm)) == pytest.approx(mm, abs=1e-9)
    assert "~" not in format_length(mm)


@given(st.floats(-5000, 5000))
def test_rounding_is_marked_and_within_half_a_sixteenth(mm: float) -> None:
    text = format_length(mm)
    assert abs(parse_length(text) - mm) <= 25.4 / 32 + 1e-9
    assert text.startswith("~") == (abs(mm / 25.4 * 16 - round(mm / 25.4 * 16)) >= 1e-3)


def test_reading() -> None:
    assert format_length(13.5 * 25.4) == "13 1/2"
    assert format_length(3.175) == "1/8"
    assert format_length(-88.9) == "-3 1/2"
    assert format_length(342.9, "metric") == "342.9"
    assert format_length(-0.01, "metric") == "0.0"


def test_weights_angles_and_shares() -> None:
    assert parse_mass("2450") == pytest.approx(1111.30, abs=0.005)  # 2450 lb in kg, by the definition of the pound
    assert parse_mass("1110 kg") == 1110.0
    assert format_mass(1111.30) == "2450"
    assert parse_angle("2.5 down") == -2.5
    assert parse_angle("3°") == 3.0
    assert parse_percent("60 %") == 60.0
    for wrong in ("-5", "heavy", "1,5"):
        with pytest.raises(InputError):
            parse_mass(wrong)
    with pytest.raises(InputError, match="half a turn"):
        parse_angle("200")


def test_rates_and_torques() -> None:
    """1 lbf/in = 0.175 126 8 N/mm and 1 lbf ft = 1.355 818 N m: NIST SP 811 (2008), appendix B.8, from memory."""
    for text in ("200", "200 lb/in", "200lbs/in", "200 LB/IN"):
        assert parse_stiffness(text) == pytest.approx(200 * 0.1751268, rel=1e-6)
    assert parse_stiffness("35", "metric") == parse_stiffness("35 N/mm") == 35.0
    for text in ("300", "300 lb-ft", "300 ft lb", "300lbft"):
        assert parse_torque(text) == pytest.approx(300 * 1.355818, rel=1e-6)
    assert parse_speed("60") == parse_speed("60 mph", "metric") == pytest.approx(96.56064)
    assert parse_speed("120", "metric") == parse_speed("120 km/h") == 120.0
    assert format_speed(parse_speed("75")) == "75"
    assert parse_torque("400", "metric") == parse_torque("400 Nm") == parse_torque("400 N·m") == 400.0
    assert (format_stiffness(35.0), format_stiffness(35.0, "metric")) == ("200", "35")
    assert (format_torque(400.0), format_torque(400.0, "metric")) == ("295", "400")
    for wrong in ("200 lb", "0", "-5", "lb/in", "200 lb/in/in", "200/", "2 00"):
        with pytest.raises(InputError, match=r"^Rate: .*(cannot be read|no stiffness)"):
            parse_stiffness(wrong, "us", "Rate")


@given(st.floats(0.01, 1e6), st.sampled_from(["us", "metric"]))
def test_rates_survive_the_round_trip_to_three_digits(rate: float, system: System) -> None:
    assert parse_stiffness(format_stiffness(rate, system), system) == pytest.approx(rate, rel=0.006)


@pytest.mark.parametrize(
    "text", ["9" * 400, "1/" + "5" * 5000, " " * 32_000 + "x", "1" + " " * 32_000 + "up", "-" * 500, "1 " * 300]
)
def test_figures_without_end_are_refused_at_once(text: str) -> None:
    start = time.monotonic()
    for read in (parse_length, parse_mass):
        with pytest.raises(InputError):
            read(text, "us", "Field")
    with pytest.raises(InputError):
        parse_angle(text, "Field")
    assert time.monotonic() - start < 0.5


# --- how a person reads figures


@pytest.fixture
def habits() -> Iterator[Habits]:
    yield HABITS
    HABITS.decimal_inches, HABITS.comma = False, False


def test_lengths_may_be_read_in_thousandths_of_an_inch(habits: Habits) -> None:
    assert format_length(342.9) == "13 1/2"
    habits.decimal_inches = True
    assert format_length(342.9) == "13.500"
    assert format_length(-1.5875) == "-0.062"
    assert format_length(342.9, "metric") == "342.9"
    assert parse_length(format_length(345.678)) == pytest.approx(345.678, abs=0.013)
    assert parse_length("13 1/2") == pytest.approx(342.9)  # typed as ever


def test_decimals_after_a_comma_are_read_and_shown_where_the_language_has_them(habits: Habits) -> None:
    with pytest.raises(InputError, match="has a comma in it"):
        parse_length("13,5")
    habits.comma = True
    assert parse_length("13,5") == parse_length("13.5")
    assert parse_length("342,9 mm") == pytest.approx(342.9)
    assert parse_angle("2,5 down") == -2.5
    assert parse_number("3,73") == 3.73
    assert parse_mass("1.110,5 kg".replace(".", "")) == pytest.approx(1110.5)
    for text, said in (("2.5°", "2,5°"), ("from 0.5 to 12.75 in", "from 0,5 to 12,75 in"), ("-3.0", "-3,0"), ("1/2", "1/2"),
                       ("Even Stance 0.2.0", "Even Stance 0.2.0"), ("notes.stance", "notes.stance"), ("end. 3 of 4", "end. 3 of 4")):  # fmt: skip
        assert shown(text) == said
    with pytest.raises(InputError):
        parse_length("1,2,3")
    habits.comma = False
    assert shown("2.5°") == "2.5°"


# Exact by definition (NIST Special Publication 811, appendix B): the pound, the inch, standard gravity.
_LB, _IN, _G = 0.45359237, 0.0254, 9.80665


@pytest.mark.parametrize(
    ("parse", "typed", "stored"),
    [
        (parse_mass, "150 lb", 150 * _LB),
        (parse_force, "150 lb", 150 * _LB * _G),
        (parse_stiffness, "200 lb/in", 200 * _LB * _G / _IN / 1000.0),
        (parse_torque, "85 lb ft", 85 * _LB * _G * 12 * _IN),
        (parse_speed, "60 mph", 60 * 5280 * 12 * _IN / 1000.0),
        (parse_distance, "30 ft", 30 * 12 * _IN),
        (parse_pressure, "100 psi", 100 * _LB * _G / _IN**2 / 1e5),
        (parse_stress, "36 ksi", 36_000 * _LB * _G / _IN**2 / 1e6),
        (parse_length, "5 ft 3 in", 63 * _IN * 1000.0),
    ],
)
def test_units_are_those_of_the_standard(parse: Callable[..., float], typed: str, stored: float) -> None:
    """A unit that is typed counts in either system; a bare figure is in the person's own."""
    assert parse(typed, "us") == pytest.approx(stored, rel=1e-9)
    assert parse(typed, "metric") == pytest.approx(stored, rel=1e-9)


@pytest.mark.parametrize(
    ("parse", "write", "unit"),
    [
        (parse_mass, format_mass, mass_unit),
        (parse_force, format_force, force_unit),
        (parse_stiffness, format_stiffness, stiffness_unit),
        (parse_torque, format_torque, torque_unit),
        (parse_speed, format_speed, speed_unit),
        (parse_distance, format_distance, distance_unit),
        (parse_pressure, format_pressure, pressure_unit),
        (parse_stress, format_stress, stress_unit),
        (parse_length, format_length, length_unit),
    ],
)
@given(value=st.floats(0.5, 5000.0), system=st.sampled_from(["us", "metric"]))
def test_what_is_written_is_read_back_the_same(
    parse: Callable[..., float], write: Callable[..., str], unit: Callable[..., str], value: float, system: str
) -> None:
    """Written once, a figure stays what it is however often it is read and written; its unit may stand behind it."""
    words = write(value, system).removeprefix("~").replace(",", "")  # thousands are set apart to be read
    read = parse(words, system)
    assert write(read, system).removeprefix("~").replace(",", "") == words
    assert parse(f"{words} {unit(system)}", system) == pytest.approx(read, rel=1e-12)


@pytest.mark.parametrize(
    "parse",
    [parse_mass, parse_force, parse_stiffness, parse_torque, parse_speed, parse_distance, parse_pressure, parse_stress],
)
@pytest.mark.parametrize("typed", ["", "abc", "1/0", "12 stone", "1e999", "nan", "--3"])
def test_what_cannot_be_read_names_the_field_and_what_would_do(parse: Callable[..., float], typed: str) -> None:
    with pytest.raises(InputError) as told:
        parse(typed, "us", "Spring")
    assert "Spring" in str(told.value)
    assert any(ch.isdigit() for ch in str(told.value)), "an example of what would do"


@pytest.mark.parametrize(
    ("typed", "system", "across", "per_turn"),
    [
        ("18", "us", None, 25.4 / 18), ("18 tpi", "us", None, 25.4 / 18), ("18 TPI", "metric", None, 25.4 / 18),
        ("9/16-18", "us", 14.2875, 25.4 / 18), ("3/4-16 UNF", "us", 19.05, 25.4 / 16), ("1 1/4-12", "us", 31.75, 25.4 / 12),
        ("5/8-11", "metric", 15.875, 25.4 / 11), ("M14x1.5", "us", 14.0, 1.5), ("m14 x 1.5", "metric", 14.0, 1.5),
        ("1.5 mm", "us", None, 1.5), ("1.5", "metric", None, 1.5), ("18", "metric", None, 25.4 / 18),
        ("11.5", "us", None, 25.4 / 11.5), ("0.0556 in", "us", None, 0.0556 * 25.4), ("12 turns an inch", "us", None, 25.4 / 12),
    ],
)  # fmt: skip
def test_a_thread_is_read_as_it_is_stamped(typed: str, system: str, across: float | None, per_turn: float) -> None:
    """Sizes of ASME B1.1 and ISO 261."""
    found = parse_thread(typed, system)  # type: ignore[arg-type]
    assert found[0] == (None if across is None else pytest.approx(across))
    assert found[1] == pytest.approx(per_turn)


@pytest.mark.parametrize(
    "typed", ["", "abc", "0", "0 tpi", "-18", "1/2", "2", "9/16-2", "M14x6", "18 in", "9" * 90, "M14"]
)
def test_what_is_no_thread_is_refused_with_what_would_do(typed: str) -> None:
    with pytest.raises(InputError, match=r"9/16-18|18"):
        parse_thread(typed, "us")


def test_a_pitch_reads_back_as_it_is_shown() -> None:
    for mm in (25.4 / 18, 25.4 / 11.5, 1.5, 1.25, 2.5, 25.4 / 12):
        for system in ("us", "metric"):
            assert parse_pitch(format_pitch(mm, system), system) == pytest.approx(mm, rel=2e-4)  # type: ignore[arg-type]
