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


def test_no_verdict_says_safe() -> None:
    for module in (bands, findings, verdicts):
        assert not re.search(r"\bsafe\b", inspect.getsource(module))
