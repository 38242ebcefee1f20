"""What the stations about one axle share: the point bar above, pages with the floor first, words at the foot."""

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.explainstrip import ExplainStrip
from even_stance.desktop.floor import Floor
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages, above
from even_stance.desktop.pointbar import PointBar
from even_stance.desktop.walkaround import WalkAround
from even_stance.desktop.widgets.labels import FittedWords, plain_tip

FLOOR = 0


class AxleStation(QWidget):
    """A station about the axle looked at: first the floor with the explanation below it, last the walk-around.

    Args:
        bench, look: what it shows and sends edits to, and how it looks.
        pages: the pages in between, title and maker of each.
        whole: whether the floor is framed on the whole car.
    """

    def __init__(
        self, bench: Bench, look: Look, pages: Sequence[tuple[str, Callable[[], QWidget]]], whole: bool = False
    ) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.strip = PointBar(bench, look)
        self.floor = Floor(bench, look, whole=whole)
        self.why = ExplainStrip(bench, look)
        self.pages = Pages(
            (("Floor", lambda: above(self.floor, self.why)), *pages, ("Walk", lambda: WalkAround(bench, look)))
        )  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(FLOOR)
        walk = len(pages) + 1
        self.pages.turned.append(lambda page: self.strip.setVisible(page in (FLOOR, walk)))
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Catch up with what changed while hidden."""
        self.refresh()

    def refresh(self) -> None:
        """Show point, page and words."""
        if not self.isVisible():
            return
        self.strip.refresh()
        self.why.refresh()
        if self.pages.current:  # the floor listens for itself
            self.pages.refresh()
        self.say()

    def say(self) -> None:
        """Say at the foot what matters most here."""
        raise NotImplementedError

    def put_words(self, parts: list[str], tip: list[str] | None = None) -> None:
        """Words at the foot, as many as there is room for, all of them in the tip."""
        self.words.say(parts)
        self.words.setToolTip(plain_tip("\n".join(parts if tip is None else tip)))
