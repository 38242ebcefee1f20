"""The Log station: as built, diary, re-checks, photos, order of work, build book."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages, Scrolled
from even_stance.desktop.stations.buildsheet.orderpage import OrderPage
from even_stance.desktop.stations.log.bookpage import BookPage
from even_stance.desktop.stations.log.builtpage import BuiltPage
from even_stance.desktop.stations.log.diarypage import DiaryPage
from even_stance.desktop.stations.log.photospage import PhotosPage
from even_stance.desktop.stations.log.recheckpage import RecheckPage
from even_stance.desktop.widgets.labels import FittedWords, plain_tip
from even_stance.vehicle.measuring import STAGES

BUILT, DIARY, RECHECKS, PHOTOS, ORDER, BOOK = range(6)


class LogStation(QWidget):
    """Pages on the car as it came out and what was done."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.pages = Pages((
            ("As built", lambda: Scrolled(BuiltPage(bench, look))), ("Diary", lambda: Scrolled(DiaryPage(bench, look))),
            ("Re-checks", lambda: Scrolled(RecheckPage(bench, look))),
            ("Photos", lambda: Scrolled(PhotosPage(bench, look))),
            ("Order of work", lambda: Scrolled(OrderPage(bench, look))),
            ("Build book", lambda: Scrolled(BookPage(bench, look))),
        ))  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(BUILT)
        bench.job_changed.connect(self.refresh)
        bench.log.changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Work the built car out while it is looked at."""
        self._bench.log.look(eager=True)
        self.refresh()

    def hideEvent(self, _event: object) -> None:
        """Another station is looked at."""
        self._bench.log.look(eager=False)

    def refresh(self) -> None:
        """Show the page and the words at the foot."""
        if not self.isVisible():
            return
        self.pages.refresh()
        measuring = self._bench.job.measuring
        built = sum(r.stage != "found" for r in measuring.readings)
        many = f"{built} reading{'' if built == 1 else 's'} of the built car; the design has not moved"
        parts = [many, f"new readings are {STAGES[measuring.stage]}"]
        self.words.say(parts)
        self.words.setToolTip(plain_tip("\n".join(parts)))
