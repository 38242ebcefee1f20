"""The Clearance station: look, floor, gaps, things, notch, tires and the cycle card."""

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.floor import Floor
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages
from even_stance.desktop.pointbar import PointBar
from even_stance.desktop.stations.clearance.cardpage import CardPage
from even_stance.desktop.stations.clearance.held import HeldPair
from even_stance.desktop.stations.clearance.lookpage import LookPage
from even_stance.desktop.stations.clearance.notchpage import NotchPage
from even_stance.desktop.stations.clearance.thingspage import ThingsPage
from even_stance.desktop.stations.clearance.tirespage import TiresPage
from even_stance.desktop.widgets.labels import FittedWords, plain_tip
from even_stance.judgement.clearances import close_ones, verdict_words
from even_stance.judgement.findings import CAUTIONS

LOOK, FLOOR, GAPS, THINGS, NOTCH, TIRES, CARD = range(7)


class ClearanceStation(QWidget):
    """Pages on what comes near to what."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench, self._look = bench, look
        self.held = HeldPair(bench)
        self.strip = PointBar(bench, look)
        self.floor = Floor(bench, look)

        def gaps() -> QWidget:
            # Charts are the heaviest import: they come when first asked for.
            from even_stance.desktop.stations.clearance.gapspage import GapsPage  # noqa: PLC0415

            return GapsPage(bench, look, self.held)

        self.pages = Pages((
            ("Look", lambda: LookPage(bench, look, self.held)), ("Floor", lambda: self.floor), ("Gaps", gaps),
            ("Things", lambda: ThingsPage(bench, look)),
            ("Notch", lambda: NotchPage(bench, look, self.held)),
            ("Tires", lambda: TiresPage(bench, look)),
            ("Cycle card", lambda: CardPage(bench, look, self.held)),
        ))  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.pages, 1)
        self.pages.turned.append(lambda page: self.strip.setVisible(page == FLOOR))
        self.pages.turn_to(LOOK)
        bench.job_changed.connect(self.refresh)
        bench.selection_changed.connect(self._selected)
        bench.gaps.changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def open_notch(self) -> None:
        """Turn to the notch for the pair looked at."""
        self.pages.turn_to(NOTCH)

    def showEvent(self, _event: object) -> None:
        """Look for gaps while this is looked at; the page is seen before that."""
        QTimer.singleShot(0, self._look_for_gaps)
        self.refresh()

    def _look_for_gaps(self) -> None:
        if self.isVisible():
            self._bench.gaps.look(eager=True)

    def hideEvent(self, _event: object) -> None:
        """Another station is looked at."""
        self._bench.gaps.look(eager=False)

    def _selected(self) -> None:
        # Its pair is taken to where it is tightest once the station is seen: that judges the car anew.
        QTimer.singleShot(0, self._hold_looked_at)
        self.refresh()

    def _hold_looked_at(self) -> None:
        if self.isVisible() and self._bench.figure is not None and self._bench.figure.startswith("gap_"):
            self.held.hold_kind(self._bench.figure)

    def refresh(self) -> None:
        """Show point, page and words."""
        if not self.isVisible():
            return
        self.strip.refresh()
        if self.pages.current != FLOOR:  # the floor listens for itself
            self.pages.refresh()
        self._say()

    def _say(self) -> None:
        study = self._bench.gaps.study
        close = [] if study is None else close_ones(self._bench.job, study)
        parts = [verdict_words(self._bench.job, g) for g in close[:3]] or [CAUTIONS[0]]
        self.words.say(parts)
        self.words.setToolTip(plain_tip("\n".join(parts)))
