"""Long studies give way to what is more urgent: they ask, now and then, whether they may go on.

Whoever runs a study in a thread beside its own work says what that thread waits for; elsewhere nothing is waited for.
"""

import threading
from collections.abc import Callable

_thread = threading.local()


def give_way() -> None:
    """Let go first what this thread waits for, if anything: called about every millisecond by whatever takes long."""
    wait = getattr(_thread, "wait", None)
    if wait is not None:
        wait()


def gives_way_to(wait: Callable[[], object]) -> None:
    """Say what this thread waits for from now on: a call that returns when it may go on."""
    _thread.wait = wait
