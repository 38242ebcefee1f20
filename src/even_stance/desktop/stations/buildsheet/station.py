"""The Build sheet station: links, strength, counting, templates, order of work, fits, and the parts drawer."""

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.pages import Pages, Scrolled
from even_stance.desktop.stations.buildsheet.countpage import CountPage
from even_stance.desktop.stations.buildsheet.drawerpage import DrawerPage
from even_stance.desktop.stations.buildsheet.fitspage import FitsPage
from even_stance.desktop.stations.buildsheet.linkspage import LinksPage
from even_stance.desktop.stations.buildsheet.orderpage import OrderPage
from even_stance.desktop.stations.buildsheet.strengthpage import StrengthPage
from even_stance.desktop.stations.buildsheet.templatespage import TemplatesPage
from even_stance.desktop.widgets.labels import FittedWords, plain_tip
from even_stance.judgement.findings import CAUTIONS
from even_stance.units import format_mass, mass_unit

LINKS, STRENGTH, COUNT, TEMPLATES, ORDER, FITS, DRAWER = range(7)


class BuildStation(QWidget):
    """Pages on what is bought and cut."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__()
        self._bench = bench
        self.pages = Pages((
            ("Links", lambda: Scrolled(LinksPage(bench, look))),
            ("Strength", lambda: Scrolled(StrengthPage(bench, look))),
            ("Count and cost", lambda: Scrolled(CountPage(bench, look))),
            ("Templates", lambda: Scrolled(TemplatesPage(bench, look))),
            ("Order of work", lambda: Scrolled(OrderPage(bench, look))),
            ("Fits", lambda: Scrolled(FitsPage(bench, look))),
            ("Drawer", lambda: Scrolled(DrawerPage(bench, look))),
        ))  # fmt: skip
        self.words = FittedWords()
        self.pages.foot.addWidget(self.words, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.pages, 1)
        self.pages.turn_to(LINKS)
        bench.job_changed.connect(self.refresh)
        bench.build.changed.connect(self.refresh)

    def turn_to(self, page: int) -> None:
        """Show one of the pages."""
        self.pages.turn_to(page)

    def showEvent(self, _event: object) -> None:
        """Work it out while it is looked at."""
        self._bench.build.look(eager=True)
        self.refresh()

    def hideEvent(self, _event: object) -> None:
        """Another station is looked at."""
        self._bench.build.look(eager=False)

    def refresh(self) -> None:
        """Show the page and the words at the foot."""
        if not self.isVisible():
            return
        self.pages.refresh()
        build, units = self._bench.build, self._bench.job.units
        study = build.study
        if study is None or not build.up_to_date:
            parts = ["Being worked out…"]
        elif not study.cuts:
            parts = ["No parts are chosen yet: fit parts to the links first."]
        else:
            lengths = len({round(c.cut_mm, 1) for c in study.cuts})
            weight = f"{format_mass(study.counted.tube_kg, units)} {mass_unit(units)} of tube"
            parts = [f"{len(study.cuts)} tubes, {lengths} lengths", weight, CAUTIONS[0]]
        self.words.say(parts)
        self.words.setToolTip(plain_tip("\n".join(parts)))
