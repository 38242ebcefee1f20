"""Studies give way in the thread that was told what to wait for, and only there."""

import threading

import numpy as np

from even_stance.exchange.demo import demo_job
from even_stance.mechanics.cores import rows, tube
from even_stance.mechanics.distance import gaps
from even_stance.mechanics.position import solve_posture
from even_stance.pace import give_way, gives_way_to
from even_stance.study.model import linkage_of


def _in_a_thread(asked: list[str], work: list[str]) -> None:
    def run() -> None:
        gives_way_to(lambda: asked.append(threading.current_thread().name))
        give_way()
        work.append("done")

    thread = threading.Thread(target=run, name="beside")
    thread.start()
    thread.join()


def test_only_the_thread_that_was_told_waits() -> None:
    asked: list[str] = []
    work: list[str] = []
    _in_a_thread(asked, work)
    give_way()
    assert asked == ["beside"]
    assert work == ["done"]


def test_whatever_takes_long_asks_while_it_runs() -> None:
    linkage = linkage_of(demo_job(0).vehicle.axles[1])
    travel = np.linspace(-90.0, 90.0, 400)
    tubes = [tube(np.array([0.0, y, 0.0]), np.array([300.0, y + 40.0, 20.0]), 20.0) for y in (0.0, 100.0)]
    one, two = (rows([t] * 50, [t.points] * 50, [np.eye(3)[0]] * 50) for t in tubes)
    for work in (lambda: solve_posture(linkage, travel, travel[::-1]), lambda: gaps(one, two)):
        asked: list[bool] = []

        def run(work=work, asked=asked) -> None:  # type: ignore[no-untyped-def]
            gives_way_to(lambda: asked.append(True))
            work()

        thread = threading.Thread(target=run)
        thread.start()
        thread.join()
        assert len(asked) >= 2, work


def test_answers_are_the_same_however_often_they_wait() -> None:
    linkage = linkage_of(demo_job(1).vehicle.axles[1])
    travel = np.linspace(-60.0, 60.0, 90)
    alone = solve_posture(linkage, travel, -travel)
    found = []

    def run() -> None:
        gives_way_to(lambda: threading.Event().wait(0.001))
        found.append(solve_posture(linkage, travel, -travel))

    thread = threading.Thread(target=run)
    thread.start()
    thread.join()
    assert np.array_equal(found[0].center, alone.center)
    assert np.array_equal(found[0].rotation, alone.rotation)
