from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from even_stance.desktop.look import Look
from even_stance.desktop.settings import Settings
from even_stance.desktop.widgets.fields import (
    DegreeField,
    DistanceField,
    ForceField,
    LengthField,
    MassField,
    NumberField,
    PercentField,
    PlainField,
    PressureField,
    SpeedField,
    StiffnessField,
    StressField,
    TorqueField,
    WallField,
)
from even_stance.desktop.window import MainWindow
from even_stance.errors import JobFileError
from even_stance.exchange.jobfile import load_job, save_job
from even_stance.exchange.recovery import Autosave
from even_stance.vehicle.edits import set_job
from even_stance.vehicle.spots import Spot, mount_of
from tests.interface.conftest import Open, judged, type_into

UPPER = Spot("rear", "Upper left", "chassis")


def test_wrong_text_stays_with_its_reason_and_changes_nothing(window: MainWindow) -> None:
    bench, strip = window.bench, window.station("links").strip
    bench.select_spot(UPPER)
    before = bench.job
    for text, said in (
        ("twelve", "is not a length"),
        ("13,5", "Use a point"),
        ("9999999", "longer than any car"),
        ("1500", "20000 or less"),
    ):
        type_into(strip.ahead, text)
        assert strip.ahead.text() == text
        assert said in strip.ahead.toolTip()
        assert bench.job is before
    QTest.keyClick(strip.ahead, Qt.Key.Key_Escape)
    assert strip.ahead.text() == "28 11/16"
    type_into(strip.ahead, "29")
    assert mount_of(bench.job, UPPER).at.x == pytest.approx(29 * 25.4 - bench.axle.behind_front_mm)


def test_half_typed_text_survives_other_changes(window: MainWindow) -> None:
    window.go("stance")
    field = window.station("stance").car.wheelbase
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "12x")
    window.bench.set_posture(20.0, 20.0)
    assert field.text() == "12x"
    QTest.keyClick(field, Qt.Key.Key_Return)
    window.bench.do(set_job("Name", name="Other"))
    assert field.text() == "12x"


def test_stance_fields_reach_the_job(window: MainWindow) -> None:
    window.go("stance")
    stance, bench = window.station("stance").car, window.bench
    type_into(stance.wheelbase, "120")
    assert bench.job.vehicle.wheelbase_mm == pytest.approx(120 * 25.4)
    type_into(stance.cg, "30")
    assert bench.job.vehicle.cg_source == "typed"
    QTest.mouseClick(stance.bellhousing, Qt.MouseButton.LeftButton)
    assert bench.job.vehicle.cg_source == "bellhousing"
    type_into(stance.drive, "40")
    assert [a.drive_share for a in bench.job.vehicle.axles] == pytest.approx([0.4, 0.6])
    type_into(stance.axle_forms["rear"].fields["load_kg"], "2000 lb")
    assert bench.job.vehicle.axle("rear").load_kg == pytest.approx(907.18, abs=0.005)
    type_into(stance.axle_forms["rear"].fields["unsprung_kg"], "5000")
    assert "more than the axle shows" in stance.axle_forms["rear"].fields["unsprung_kg"].toolTip()
    stance.sprung.click()
    assert bench.job.vehicle.anti_uses == "sprung"
    stance.notes.setPlainText("uppers clear the floor")
    assert bench.job.notes == "uppers clear the floor"
    while bench.document.history.undo_label:
        bench.undo()
    assert stance.notes.toPlainText().startswith("Stock leaf springs")
    assert stance.wheelbase.text() == "118"


def test_units_switch_without_changing_the_stored_job(window: MainWindow) -> None:
    vehicle = window.bench.job.vehicle
    window.header.units.click()
    window.header.units.click()
    assert window.bench.job.vehicle == vehicle
    window.go("stance")
    assert window.station("stance").car.wheelbase.text() == "2997.2"


def test_own_band_by_typing(window: MainWindow) -> None:
    bench = window.bench
    bench.select_figure("anti_squat_axle_pct")
    type_into(window.band.low, "20")
    type_into(window.band.high, "70 %")
    assert bench.job.bands["anti_squat_pct"].low == 20.0
    type_into(window.band.low, "90")
    assert "marks would cross" in window.band.low.toolTip()
    window.band.default.click()
    assert bench.job.bands == {}


def test_new_job_panel_keeps_what_was_typed(window: MainWindow) -> None:
    window.ask_new()
    panel = window.newjob
    panel.try_start()
    assert panel.problem.text().startswith("Name: nothing was entered")
    QTest.keyClicks(panel.name, "Old blue")
    QTest.keyClicks(panel.fields["wheelbase_mm"], "long")
    panel.try_start()
    assert "Wheelbase: “long” is not a length" in panel.problem.text()
    assert panel.name.text() == "Old blue"
    QTest.mouseClick(panel.cancel, Qt.MouseButton.LeftButton)
    assert window.stack.currentWidget() is window.station("links")


def test_broken_files_are_told_and_the_open_job_stays(window: MainWindow, tmp_path: Path) -> None:
    before = window.bench.job
    for name, text, said in (
        ("empty.stance", "", "is empty"), ("bad.stance", "{", "damaged at line 1"),
        ("new.stance", '{"format": "even-stance-job", "version": 7}', "newer Even Stance"),
    ):  # fmt: skip
        (tmp_path / name).write_text(text)
        assert not window.files.open_path(tmp_path / name)
        assert window.banner.isVisible()
        assert said in window.banner.words.text()
        assert window.bench.job is before


def test_a_full_disk_is_told_and_the_work_is_kept(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.bench.do(set_job("Name", name="Kept"))

    def full(*_: object) -> None:
        raise JobFileError("pickup.stance could not be saved: the disk is full.")

    monkeypatch.setattr("even_stance.desktop.files.save_job", full)
    assert not window.files.save_to(tmp_path / "pickup.stance")
    assert "the disk is full" in window.banner.words.text()
    assert window.bench.document.dirty
    assert window.bench.job.name == "Kept"


def test_unsaved_work_is_offered_after_a_crash(open_window: Open, trail_job: object, tmp_path: Path) -> None:
    first = open_window()
    first.bench.do(set_job("Name", name="Half done"))
    # What a crash leaves: the kept file of a process that is no more.
    Autosave(tmp_path / "recovery", "999999999").keep(first.bench.job, None)
    second = open_window()
    second.files.offer_recovered()
    assert "Half done" in second.banner.words.text()
    second.banner.buttons[0].click()
    assert second.bench.job.name == "Half done"
    assert second.bench.document.dirty


def test_autosave_keeps_edits_without_being_asked(window: MainWindow, tmp_path: Path) -> None:
    window.bench.do(set_job("Name", name="Kept aside"))
    assert window.files._timer.isActive()
    window.files.keep_aside()
    kept = list((tmp_path / "recovery").glob("*.stance"))
    assert load_job(kept[0])[0].name == "Kept aside"
    assert window.files.save_to(tmp_path / "x.stance")
    assert not list((tmp_path / "recovery").glob("*.stance"))


def test_a_change_from_outside_is_offered_both_ways(window: MainWindow, tmp_path: Path) -> None:
    path = tmp_path / "shared.stance"
    assert window.files.save_to(path)
    theirs = set_job("Name", name="Theirs").apply(window.bench.job)
    save_job(theirs, path)
    window.bench.do(set_job("Name", name="Mine"))
    assert not window.files.save()
    assert "changed by somebody else" in window.banner.words.text()
    window.banner.buttons[0].click()
    assert load_job(path)[0].name == "Mine"
    save_job(theirs, path)
    window.files.check_outside()
    window.banner.buttons[0].click()
    assert window.bench.job.name == "Theirs"


def test_leaving_unsaved_work_can_be_taken_back(window: MainWindow) -> None:
    window.bench.do(set_job("Name", name="Not saved"))
    window.files.open_demo(1)
    assert window.bench.job.name == "Juniper street coupe"
    window.banner.buttons[0].click()
    assert window.bench.job.name == "Not saved"
    assert window.bench.document.dirty


def test_a_layout_that_holds_nothing_is_said_in_the_window(window: MainWindow) -> None:
    bench = window.bench
    from even_stance.vehicle.edits import replace_members  # noqa: PLC0415

    bench.do(replace_members("rear", bench.axle.members[:3], "Take one off"))
    assert "is not held by its 3 links" in window.station("links").words.text()
    assert judged(window).order.buttons["links"].words == "not held"
    window.go("travel")
    assert "is not held" in window.station("travel").words.text()
    bench.undo()
    window.go("links")
    assert "uppers" in window.station("links").words.text()


def test_looks_and_scales(window: MainWindow, tmp_path: Path) -> None:
    window.set_look("night", 175)
    assert Settings(tmp_path / "look.json").recall() == ("night", 175)
    assert window.look.px(100) == 175
    QTest.keyClick(window, Qt.Key.Key_Minus, Qt.KeyboardModifier.ControlModifier)
    assert window.look.percent == 150
    (tmp_path / "look.json").write_text("{broken")
    assert Settings(tmp_path / "look.json").recall() is None


def test_everything_one_can_operate_has_an_accessible_name(window: MainWindow) -> None:
    from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLineEdit, QPlainTextEdit  # noqa: PLC0415

    window.go("stance")
    for kind in (QLineEdit, QComboBox, QPlainTextEdit, QAbstractButton):
        for widget in window.findChildren(kind):
            if widget.objectName().startswith("qt_") or isinstance(widget.parent(), QComboBox):
                continue
            text = widget.text() if isinstance(widget, QAbstractButton) else ""
            assert widget.accessibleName() or text, widget


def test_the_shipped_typeface_is_used(window: MainWindow) -> None:
    assert isinstance(window.look, Look)
    assert window.look.family.startswith("B612")
    fonts = Path(__file__).parents[2] / "src/even_stance/desktop/fonts"
    assert "OPEN FONT LICENSE" in (fonts / "B612-LICENSE.txt").read_text()


FIELDS = {
    LengthField: 4321.0, WallField: 3.05, MassField: 1874.0, StiffnessField: 350.0, TorqueField: 4200.0,
    SpeedField: 145.0, DistanceField: 1800.0, ForceField: 7606.5, PressureField: 8.3, StressField: 460.0,
    PlainField: 1234.5, PercentField: 87.5, DegreeField: -12.25,
}  # fmt: skip


@pytest.mark.parametrize("kind", FIELDS)
@pytest.mark.parametrize("units", ["us", "metric"])
def test_what_a_field_shows_can_be_typed_into_it(window: MainWindow, kind: type[NumberField], units: str) -> None:
    """A force of thousands of pounds was shown with a comma that the field itself refused."""
    window.bench.do(set_job("Units", units=units))
    sent: list[float] = []
    field = kind(window.bench, "Field", sent.append)  # type: ignore[call-arg, arg-type]
    field.show_value(FIELDS[kind])
    shown = field.text()
    assert shown
    field.clear()
    type_into(field, shown)
    assert not field.property("wrong"), field.toolTip()
    assert len(sent) == 1
    assert sent[0] == pytest.approx(FIELDS[kind], rel=0.01, abs=30.0 if kind is ForceField else 1.0)
    field.deleteLater()
