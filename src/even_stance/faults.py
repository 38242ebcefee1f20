"""A fault of ours in one study costs that study alone: it is said in its place, and written down once."""

import traceback
from collections.abc import Callable
from typing import TypeVar

from even_stance.errors import StanceError

T = TypeVar("T")
Reporter = Callable[[BaseException], object]


class _Desk:
    """Where reports of faults go, and which went there already."""

    def __init__(self) -> None:
        self.reporter: Reporter | None = None
        self.known: set[str] = set()


_DESK = _Desk()


def report_faults_to(reporter: Reporter | None) -> None:
    """Say who writes faults down from now on: told of each one once."""
    _DESK.reporter = reporter
    _DESK.known.clear()


def fenced(what: str, make: Callable[[], T], instead: Callable[[str], T]) -> T:
    """Return what a study makes; where it cannot, what stands in its place.

    Args:
        what: what is worked out, as a sentence begins with it; make: works it out.
        instead: makes what stands in its place from the sentence that says why.
    """
    try:
        return make()
    except StanceError as error:
        return instead(f"{what} could not be worked out: {error}")
    except Exception as error:  # a fault of ours, whatever it is: nothing else may stop with it
        _write_down(error)
        kind = type(error).__name__
        return instead(f"{what} could not be worked out: a fault in Even Stance itself ({kind}). All else goes on.")


def _write_down(error: Exception) -> None:
    text = "".join(traceback.format_exception(error))
    if _DESK.reporter is not None and text not in _DESK.known:
        _DESK.known.add(text)
        _DESK.reporter(error)
