"""The Build sheet station: links, strength, counting, templates, order of work, fits, and the parts drawer."""

from even_stance.desktop.bench import Bench
from even_stance.desktop.look import Look
from even_stance.desktop.stations.buildsheet.countpage import CountPage
from even_stance.desktop.stations.buildsheet.drawerpage import DrawerPage
from even_stance.desktop.stations.buildsheet.fitspage import FitsPage
from even_stance.desktop.stations.buildsheet.linkspage import LinksPage
from even_stance.desktop.stations.buildsheet.orderpage import OrderPage
from even_stance.desktop.stations.buildsheet.strengthpage import StrengthPage
from even_stance.desktop.stations.buildsheet.templatespage import TemplatesPage
from even_stance.desktop.stations.watchedstation import WatchedStation
from even_stance.judgement.findings import CAUTIONS
from even_stance.units import format_mass, mass_unit

LINKS, STRENGTH, COUNT, TEMPLATES, ORDER, FITS, DRAWER = range(7)


class BuildStation(WatchedStation):
    """Pages on what is bought and cut."""

    def __init__(self, bench: Bench, look: Look) -> None:
        super().__init__(bench, bench.build, (
            ("Links", lambda: LinksPage(bench, look)), ("Strength", lambda: StrengthPage(bench, look)),
            ("Count and cost", lambda: CountPage(bench, look)), ("Templates", lambda: TemplatesPage(bench, look)),
            ("Order of work", lambda: OrderPage(bench, look)), ("Fits", lambda: FitsPage(bench, look)),
            ("Drawer", lambda: DrawerPage(bench, look)),
        ))  # fmt: skip

    def said(self) -> list[str]:
        """How many tubes of how many lengths, and what they weigh."""
        build, units = self._bench.build, self._bench.job.units
        study = build.study
        if study is None or not build.up_to_date:
            return ["Being worked out…"]
        if not study.cuts:
            return ["No parts are chosen yet: fit parts to the links first."]
        lengths = len({round(c.cut_mm, 1) for c in study.cuts})
        weight = f"{format_mass(study.counted.tube_kg, units)} {mass_unit(units)} of tube"
        return [f"{len(study.cuts)} tubes, {lengths} lengths", weight, CAUTIONS[0]]
