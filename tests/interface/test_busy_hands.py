"""A person who clicks, types and drags whatever comes to hand: nothing breaks, and the job stays one that can be saved."""

import pytest
from PyQt6.QtWidgets import QFileDialog

from tests.interface.conftest import Open
from tests.interface.hands import Watch, busy

ACTIONS = 60


@pytest.mark.gaps
@pytest.mark.parametrize("seed", [1, 2])
def test_busy_hands_break_nothing(open_window: Open, seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """The short run of scripts/long_hands.py. Exceptions in the window's own code fail it by themselves (pytest-qt)."""
    monkeypatch.setattr(QFileDialog, "open", lambda self: None)
    window, watch = open_window(seed - 1), Watch(10.0)
    try:
        assert busy(window, seed, ACTIONS, watch) == ACTIONS
    finally:
        watch.end()
    assert window.isVisible()
    assert not watch.waits, watch.waits[0]
