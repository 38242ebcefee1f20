"""The house keeps its own rules: docstrings that say units and sources, a core that needs no Qt, words that are fair."""

import importlib
import inspect
import pkgutil
import re
import subprocess
import sys

import pytest

import even_stance
import even_stance.mechanics
from even_stance.judgement import bands, findings, verdicts
from even_stance.judgement.explain import FORMULAS
from even_stance.judgement.schools import SCHOOLS
from even_stance.judgement.wording import bracket_words, move_words
from even_stance.shop.cribs import CRIB_CAUTIONS
from even_stance.shop.weighing import LIFT_CAUTIONS
from even_stance.vehicle.spots import Spot

UNITS = re.compile(r"\b(mm|N|N/mm|kg|deg|rad|1)\b")


def _public_functions() -> list[tuple[str, object]]:
    found = []
    for info in pkgutil.iter_modules(even_stance.mechanics.__path__):
        module = importlib.import_module(f"even_stance.mechanics.{info.name}")
        for name, member in inspect.getmembers(module, inspect.isfunction):
            if member.__module__ == module.__name__ and not name.startswith("_"):
                found.append((f"{info.name}.{name}", member))
    return found


@pytest.mark.parametrize(("name", "function"), _public_functions(), ids=lambda v: v if isinstance(v, str) else "")
def test_mechanics_docstrings_give_units_shapes_and_sources(name: str, function: object) -> None:
    text = inspect.getdoc(function) or ""
    for parameter in inspect.signature(function).parameters:  # type: ignore[arg-type]
        line = re.search(rf"^\s*{parameter}: (.+)$", text, re.MULTILINE)
        assert line is not None, f"{name} does not explain {parameter}"
        assert UNITS.search(line[1]), f"{name}: {parameter} has no unit"
        assert "shape (" in line[1], f"{name}: {parameter} has no shape"
    assert "Returns:" in text
    assert "Source:" in text or "derived here" in text


def test_the_core_works_where_qt_does_not() -> None:
    script = (
        "import sys; sys.modules['PyQt6'] = None; sys.modules['pyqtgraph'] = None\n"
        "import even_stance.cli as c\n"
        "from even_stance.exchange.demo import demo_jobs\n"
        "from even_stance.study.answers import answers_at\n"
        "j = demo_jobs()[0]; print(answers_at(j.vehicle, j.vehicle.axle('rear'), 0.0, 0.0).value('roll_center_mm') > 0)"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
    assert done.stdout.strip() == "True", done.stderr


def _modules(package: str) -> list[object]:
    root = importlib.import_module(package)
    return [importlib.import_module(f"{package}.{i.name}") for i in pkgutil.iter_modules(root.__path__)]


def test_no_verdict_says_safe() -> None:
    judgement = [f"even_stance.judgement{part}" for part in ("", ".search", ".catalog", ".standards")]
    for package in (*judgement, "even_stance.shop", "even_stance.study", "even_stance.exchange"):
        for module in _modules(package):
            assert not re.search(r"\bsafe(ly|r)?\b", inspect.getsource(module)), module  # type: ignore[arg-type]


def test_cautions_stand_where_they_apply() -> None:
    """The trade's cautions: under a car on cribs, with one end lifted, springs and bags, welds and castings."""
    said = " ".join((*findings.CAUTIONS, *CRIB_CAUTIONS, *LIFT_CAUTIONS)).lower()
    for wanted in ("never go under a vehicle", "springs, air bags and limit straps store energy", "licensed engineer",
                   "local code", "qualified people", "cast housings", "chock the wheels", "lower the car onto all four"):  # fmt: skip
        assert wanted in said, wanted


def test_schools_are_even_handed() -> None:
    """Two sides of like length, a default with its reason, and no school called wrong."""
    for school in SCHOOLS.values():
        assert school.question.endswith("?")
        assert 0.4 < len(school.one) / len(school.other) < 2.5
        assert school.ours.endswith(".")
        for word in ("wrong", "never", "must not", "stupid", "only right"):
            assert word not in school.words.lower()


def test_every_judged_number_has_words_a_formula_and_a_scale() -> None:
    for key in bands.judged_keys():
        assert key in verdicts.TITLES
        assert FORMULAS[key].source
        assert FORMULAS[key].words.endswith(".")
        assert key.rsplit("_", 1)[-1] in ("pct", "mm", "deg", "m", "ratio", "hz", "g", "x")


def test_movements_are_said_as_in_the_shop() -> None:
    assert move_words(-9.525, 0.0, 31.75, "us", 100.0) == "1 1/4 in up, 3/8 in back"
    assert move_words(0.0, -12.7, 0.0, "us", -400.0) == "1/2 in outward"
    assert move_words(0.0, -12.7, 0.0, "us", 400.0) == "1/2 in inward"
    assert move_words(4.0, 0.0, -10.0, "metric") == "10.0 mm down, 4.0 mm ahead"
    assert move_words(0.1, 0.2, -0.3, "us") == "not moved"


@pytest.mark.parametrize(
    ("member", "end", "twin", "words"),
    [
        ("Lower left", "chassis", True, "Lower frame ends"), ("Lower left", "chassis", False, "Lower left frame end"),
        ("Upper right", "axle", True, "Upper axle ends"), ("Panhard", "axle", False, "Panhard axle end"),
    ],
)  # fmt: skip
def test_brackets_are_called_by_their_place(member: str, end: str, twin: bool, words: str) -> None:
    spot = Spot("rear", member, end)
    assert bracket_words(spot, spot if twin else None) == words


def test_no_module_outgrows_its_shelf() -> None:
    """About 400 lines is where a file wants to become two (our own habit)."""
    for package in (
        "judgement",
        "judgement.search",
        "judgement.catalog",
        "judgement.standards",
        "shop",
        "study",
        "exchange",
        "mechanics",
        "vehicle",
        "desktop",
        "desktop.stations",
    ):
        for module in _modules(f"even_stance.{package}"):
            lines = inspect.getsource(module).count("\n")  # type: ignore[arg-type]
            assert lines <= 400, f"{module.__name__}: {lines} lines"  # type: ignore[attr-defined]
