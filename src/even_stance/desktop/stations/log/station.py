"""The Log station: as built, diary, re-checks, photos, order of work, build book."""

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.buildsheet.orderpage import OrderPage
from even_stance.desktop.stations.log.bookpage import BookPage
from even_stance.desktop.stations.log.builtpage import BuiltPage
from even_stance.desktop.stations.log.diarypage import DiaryPage
from even_stance.desktop.stations.log.photospage import PhotosPage
from even_stance.desktop.stations.log.recheckpage import RecheckPage
from even_stance.desktop.stations.watchedstation import WatchedStation

BUILT, DIARY, RECHECKS, PHOTOS, ORDER, BOOK = range(6)


class LogStation(WatchedStation):
    """Pages on the car as it came out and what was done."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(bench, bench.log, (
            ("As built", lambda: BuiltPage(bench, look)), ("Diary", lambda: DiaryPage(bench, look)),
            ("Re-checks", lambda: RecheckPage(bench, look)), ("Photos", lambda: PhotosPage(bench, look)),
            ("Order of work", lambda: OrderPage(bench, look)), ("Build book", lambda: BookPage(bench, look)),
        ))  # fmt: skip

    def said(self) -> list[str]:
        """How much of the built car was measured, and at which stage it is."""
        measuring = self._bench.job.measuring
        built = sum(r.stage != "found" for r in measuring.readings)
        many = f"{built} reading{'' if built == 1 else 's'} of the built car; the design has not moved"
        return [many]
