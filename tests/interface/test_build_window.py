"""The Build sheet in the window: parts for a four-link, its cut list, templates, one hole changed; saved, reopened, the same."""

import json
from pathlib import Path
from typing import cast

import ezdxf
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox

from even_stance.cli import run
from even_stance.desktop.saving import save_paper
from even_stance.desktop.stations.buildsheet.countpage import CountPage
from even_stance.desktop.stations.buildsheet.drawerpage import DrawerPage
from even_stance.desktop.stations.buildsheet.fitspage import FitsPage
from even_stance.desktop.stations.buildsheet.linkspage import LinksPage
from even_stance.desktop.stations.buildsheet.orderpage import OrderPage
from even_stance.desktop.stations.buildsheet.station import (
    COUNT,
    DRAWER,
    FITS,
    LINKS,
    ORDER,
    STRENGTH,
    TEMPLATES,
    BuildStation,
)
from even_stance.desktop.stations.buildsheet.strengthpage import StrengthPage
from even_stance.desktop.stations.buildsheet.templatespage import TemplatesPage
from even_stance.desktop.window import MainWindow
from even_stance.vehicle.edits import set_build
from even_stance.vehicle.spots import Spot
from tests.interface.conftest import Open, type_into, until

IN = 25.4


def _station(window: MainWindow) -> BuildStation:
    return cast(BuildStation, window.station("build"))


def _page(window: MainWindow, number: int) -> object:
    _station(window).turn_to(number)
    QApplication.processEvents()
    return _station(window).pages.page(number)


def _known(window: MainWindow) -> None:
    until(lambda: window.bench.build.up_to_date)


@pytest.fixture
def bare(open_window: Open) -> MainWindow:
    """The pickup without parts, at the Build sheet, its rear axle looked at."""
    window = open_window(0)
    window.bench.open_job(set_build("None", links=(), prices=(), done=()).apply(window.bench.job))
    window.bench.select_axle("rear")
    window.go("build")
    _known(window)
    return window


def _choose(combo: QComboBox, name: str) -> None:
    i = combo.findText(name)
    assert i >= 0, [combo.itemText(k) for k in range(combo.count())]
    combo.setCurrentIndex(i)
    combo.activated.emit(i)


def _rows(page: LinksPage) -> dict[str, str]:
    table = page.table
    return {table.item(i, 0).text(): table.item(i, 2).text() for i in range(table.rowCount())}  # type: ignore[union-attr]


def _print_templates(window: MainWindow, folder: Path) -> None:
    """Every template printed, one of them for the cutter."""
    templates = cast(TemplatesPage, _page(window, TEMPLATES))
    names = [t.name for t in templates.templates]
    assert "Rear lower, axle end bracket" in names
    templates.list.setCurrentRow(names.index("Rear lower, frame end bracket"))
    templates.write(folder / "all.pdf", every=True)
    templates.write(folder / "bracket.dxf")
    until(lambda: (folder / "all.pdf").exists() and (folder / "bracket.dxf").exists())
    assert (folder / "all.pdf").read_bytes().startswith(b"%PDF")
    assert len(ezdxf.readfile(folder / "bracket.dxf").modelspace().query("CIRCLE")) == 2


def _choose_a_hole(window: MainWindow) -> None:
    """One hole of the lowers changed in Links, by key."""
    bench = window.bench
    window.go("links")
    bench.select_spot(Spot("rear", "Lower left", "chassis"))
    pane = window.station("links").floor.panes["side"]
    pane.setFocus()
    hole = bench.job.vehicle.axle("rear").member("Lower left").mounts["chassis"].hole
    QTest.keyClick(pane, Qt.Key.Key_PageUp)
    assert bench.job.vehicle.axle("rear").member("Lower left").mounts["chassis"].hole != hole


def test_the_whole_job(bare: MainWindow, tmp_path: Path, capsys: pytest.CaptureFixture[str], open_window: Open) -> None:
    window, bench = bare, bare.bench
    links = cast(LinksPage, _page(window, LINKS))
    assert "no parts yet" in links.picture.accessibleDescription()
    links.fit_all.click()
    _known(window)
    before = _rows(links)
    assert len(before) == 6
    assert not links.fit_all.isVisible()
    # Joints and tube chosen for the lowers: cut anew, both alike.
    bench.build.pick("rear", "Lower left")
    _choose(links.tube, "2 1/4 x 0.250")
    _choose(links.joint, "3/4 bore, 7/8-14 rod end")
    _known(window)
    after = _rows(links)
    assert after["rear lower left"] == after["rear lower right"] != before["rear lower left"]
    assert after["rear upper left"] == before["rear upper left"]
    assert not links.wrong.isVisible()
    # Thread engaged typed: less than a diameter is said at once, and undone.
    type_into(links.engaged, "1/2")
    assert "less than one diameter" in links.wrong.text()
    bench.undo()
    assert not links.wrong.isVisible()
    type_into(links.engaged, "wide")
    assert links.engaged.property("wrong")
    assert links.engaged.text() == "wide"
    QTest.keyClick(links.engaged, Qt.Key.Key_Escape)
    # The vials are those of the links; one picked is the link shown.
    assert [v.verdict.name for v in window.vials.vials if v.isVisible() and v.verdict] == [
        v.name
        for v in bench.build.study.verdicts  # type: ignore[union-attr]
    ]
    upper = next(v for v in window.vials.vials if v.verdict is not None and v.verdict.name == "Rear upper")
    upper.choose()
    assert bench.build.link[1].startswith("Upper")
    _print_templates(window, tmp_path)
    _choose_a_hole(window)
    window.go("build")
    _known(window)
    links = cast(LinksPage, _page(window, LINKS))
    last = _rows(links)
    changed = {name for name in last if last[name] != after[name]}
    assert changed == {"rear lower left", "rear lower right"}
    # Saved, reopened, and the same by command.
    path = tmp_path / "built.stance"
    assert window.files.save_to(path)
    assert run(["cut-list", str(path)]) == 0
    said = {row["part"]: row["cut_mm"] for row in json.loads(capsys.readouterr().out)["pieces"]}
    again = open_window(1)
    assert again.files.open_path(path)
    again.go("build")
    _known(again)
    assert _rows(cast(LinksPage, _page(again, LINKS))) == last
    for cut in again.bench.build.study.cuts:  # type: ignore[union-attr]
        assert said[cut.piece.words] == pytest.approx(cut.cut_mm, abs=1e-3)


def test_it_is_never_stale(bare: MainWindow) -> None:
    """While it is being worked out that is said, and no vial of before stands."""
    window, bench = bare, bare.bench
    links = cast(LinksPage, _page(window, LINKS))
    links.fit_all.click()
    assert not bench.build.up_to_date
    assert "being worked out" in links.bars.accessibleDescription()
    assert not [v for v in window.vials.vials if v.isVisible()]
    assert window.vials.instead.text() == "Being worked out…"
    _known(window)
    assert [v for v in window.vials.vials if v.isVisible()]
    bench.undo()
    assert not _rows(links)


def test_strength_compared_and_taken(bare: MainWindow) -> None:
    window, bench = bare, bare.bench
    cast(LinksPage, _page(window, LINKS)).fit_all.click()
    _known(window)
    bench.build.pick("rear", "Lower left")
    page = cast(StrengthPage, _page(window, STRENGTH))
    _known(window)
    assert page.table.rowCount() > 6
    type_into(page.fields["rock_n"], "6000 lb")
    _known(window)
    worst = next(v for v in bench.build.study.verdicts if v.name == "Rear lower")  # type: ignore[union-attr]
    assert worst.state == "high"
    assert worst.try_this
    until(lambda: page.tubes.rowCount() > 5)
    row = next(i for i in range(page.tubes.rowCount()) if page.tubes.item(i, 0).text() == "2 1/4 x 0.375")  # type: ignore[union-attr]
    page.tubes.cellDoubleClicked.emit(row, 0)
    parts = bench.job.vehicle.build.of("rear", "Lower right")
    assert parts is not None
    assert parts.tube.name == "2 1/4 x 0.375"
    type_into(page.fields["rated_n"], "20000 lb")
    _known(window)
    use = bench.build.study.use_of("rear", "Lower left")  # type: ignore[union-attr]
    assert use is not None
    assert any(u.what == "joint" for u in use.uses)
    assert not any("rating" in m for m in use.missing)
    page.hit.click()
    assert not bench.job.vehicle.build.of("rear", "Lower left").hit  # type: ignore[union-attr]
    type_into(page.fields["rock_share"], "40")
    assert bench.job.vehicle.build.rock_share == pytest.approx(0.4)
    assert bench.job.vehicle.build.rock_n is None


def test_counting_prices_and_ticks(bare: MainWindow, tmp_path: Path) -> None:
    window, bench = bare, bare.bench
    cast(LinksPage, _page(window, LINKS)).fit_all.click()
    _known(window)
    page = cast(CountPage, _page(window, COUNT))
    type_into(page.price, "12.50")
    assert page.price.property("wrong")  # nothing is picked
    QTest.keyClick(page.price, Qt.Key.Key_Escape)
    page.table.selectRow(0)
    type_into(page.price, "12.50")
    what = page.lines[0].what
    _known(window)
    assert [p.each for p in bench.job.vehicle.build.prices] == [12.5]
    item = page.table.item(0, 0)
    assert item is not None
    item.setCheckState(Qt.CheckState.Checked)
    assert bench.job.vehicle.build.ticked == (what,)
    _known(window)
    until(lambda: page.variants.rowCount() == 2)
    for name, paper in (("s.csv", "shopping-table"), ("s.pdf", "shopping-list"), ("c.pdf", "cut-list")):
        page.write(paper, tmp_path / name)
        until((tmp_path / name).exists)
        assert (tmp_path / name).stat().st_size > 500
    page.no_price.click()
    assert bench.job.vehicle.build.prices == ()


def test_tube_ends_lugs_and_what_they_refuse(bare: MainWindow, tmp_path: Path) -> None:
    window = bare
    page = cast(TemplatesPage, _page(window, TEMPLATES))
    type_into(page.fields["angle"], "45")
    assert page.picked is not None
    assert page.picked.name == "Tube end, saddle"
    assert "45°" in page.note.text()
    type_into(page.fields["tube"], "6")
    assert page.fields["tube"].property("wrong")
    assert page.fields["tube"].text() == "6"
    assert page.values["tube"] == pytest.approx(1.75 * IN)
    QTest.keyClick(page.fields["tube"], Qt.Key.Key_Escape)
    type_into(page.fields["other"], "0")
    assert page.picked is not None
    assert page.picked.name == "Tube end, on a flat"
    type_into(page.fields["new"], "6")
    assert page.picked is not None
    assert page.picked.name == "Lug circle"
    assert sum(h[3] == "new" for h in page.picked.holes) == 6
    page.write(tmp_path / "lug.pdf")
    until((tmp_path / "lug.pdf").exists)
    assert (tmp_path / "lug.pdf").read_bytes().startswith(b"%PDF")


def test_steps_are_ticked_and_printed(bare: MainWindow, tmp_path: Path) -> None:
    window, bench = bare, bare.bench
    page = cast(OrderPage, _page(window, ORDER))
    assert page.words.text().startswith("Next: Stand the car")
    item = page.table.item(0, 0)
    assert item is not None
    item.setCheckState(Qt.CheckState.Checked)
    assert bench.job.vehicle.build.done == ("stand",)
    assert page.words.text().startswith("Next: Hold")
    bench.undo()
    assert bench.job.vehicle.build.done == ()
    save_paper(page, bench, "order-of-work", "order.pdf", tmp_path / "order.pdf")
    until((tmp_path / "order.pdf").exists)
    assert (tmp_path / "order.pdf").read_bytes().startswith(b"%PDF")


def test_fits_are_looked_up(bare: MainWindow) -> None:
    page = cast(FitsPage, _page(bare, FITS))
    type_into(page.diameter, "1 1/2")
    assert page.table.item(0, 1).text() == "1.5000 in"  # type: ignore[union-attr]
    type_into(page.diameter, "9")
    assert page.diameter.property("wrong")
    QTest.keyClick(page.diameter, Qt.Key.Key_Escape)
    page.fit.setCurrentIndex(0)
    page.fit.activated.emit(0)
    assert page.table.item(4, 0).text() == "Play"  # type: ignore[union-attr]


def test_a_part_of_ones_own_is_kept_given_away_and_found_again(
    bare: MainWindow, tmp_path: Path, open_window: Open
) -> None:
    window, bench = bare, bare.bench
    page = cast(DrawerPage, _page(window, DRAWER))
    page.sort.setCurrentIndex(1)
    page.sort.activated.emit(1)
    page.keep.click()
    page.name.setText("rack tube")
    page.keep.click()
    assert not bench.build.own  # nothing is entered
    for name, text in (("outside_mm", "1 5/8"), ("wall_mm", "0.9"), ("yield_mpa", "50")):
        type_into(page.fields[name], text)
    page.keep.click()
    assert not bench.build.own  # the wall is more than half of the outside
    type_into(page.fields["wall_mm"], "0.134")
    page.keep.click()
    assert [p.name for p in bench.build.own] == ["rack tube"]
    bench.build.export_parts(tmp_path / "mine.json")
    other = open_window(0)
    assert [p.name for p in other.bench.build.own] == ["rack tube"]  # kept beside the settings
    other.go("build")
    drawer = cast(DrawerPage, _page(other, DRAWER))
    drawer.sort.setCurrentIndex(1)
    drawer.sort.activated.emit(1)
    drawer.table.selectRow(0)
    drawer.out.click()
    assert not other.bench.build.own
    drawer.read(str(tmp_path / "mine.json"))
    assert [p.name for p in other.bench.build.own] == ["rack tube"]
    (tmp_path / "broken.json").write_text("{")
    drawer.read(str(tmp_path / "broken.json"))
    assert [p.name for p in other.bench.build.own] == ["rack tube"]


@pytest.mark.parametrize("demo", [2, 3])
def test_every_page_of_other_jobs(open_window: Open, demo: int) -> None:
    window = open_window(demo)
    window.go("build")
    _known(window)
    for page in range(7):
        _page(window, page)
        window.grab()
    assert "worked out" not in _station(window).words.text()
