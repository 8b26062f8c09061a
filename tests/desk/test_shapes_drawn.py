"""Bent tubes, sheet and folds on the table: drawn where they run, picked where they are seen."""

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QPushButton

from ironcage.core.answers.prove import stiffness
from ironcage.core.calc.sections.round import COARSE_SIDES, SIDES
from ironcage.core.calc.solids.triangles import Triangles
from ironcage.core.job import edits
from ironcage.core.job.geometry.routes import pieces, route_of
from ironcage.core.job.store import scans
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.placed import Scan
from ironcage.desk.table.picture import _tubes
from tests.core.lines import typed
from tests.core.meshes import ball_corners
from tests.desk.conftest import Driver


@pytest.fixture
def hooped() -> Job:
    return typed(
        Job(), "die 38 clr 150", "hoop main 38 x 2 height 1000 width 1000 at -800 200", "tube J1L J1R 30 x 1.5"
    )


def test_a_hoop_is_drawn_round_its_bends_with_no_gap(hooped: Job) -> None:
    mesh = _tubes(hooped, None, coarse=False)
    own = mesh.points[mesh.owner == 0]
    assert own[:, 2].max() == pytest.approx(1200 + 19, abs=1)
    corner = np.array([-800, 500, 1200.0])
    assert (
        np.linalg.norm(own - corner, axis=1).min() > 150 * (np.sqrt(2) - 1) - 20
    )  # it does not reach into the sharp corner
    lines = pieces(hooped)
    rows = lines.owner == 0
    np.testing.assert_allclose(lines.stop[rows][:-1], lines.start[rows][1:])
    assert rows.sum() == len(route_of(hooped, hooped.tubes[0]).line) - 1
    assert (mesh.owner == 1).sum() == 2 * SIDES  # a rim at each end
    rough = _tubes(hooped, None, coarse=True)
    assert (rough.owner == 1).sum() == 2 * COARSE_SIDES
    np.testing.assert_allclose(
        np.ptp(rough.points, axis=0), np.ptp(mesh.points, axis=0), atol=1
    )  # as large, with fewer sides
    assert lines.share[rows][0, 0] == 0
    assert lines.share[rows][-1, 1] == pytest.approx(1)


def test_a_bend_is_picked_where_it_is_seen_and_not_where_its_feet_are_joined(drive: Driver, hooped: Job) -> None:
    window = drive.start(hooped).window
    drive.key(Qt.Key.Key_F7)
    drive.settle()
    table, camera = window.table, window.table.camera
    top = camera.project(route_of(hooped, hooped.tubes[0]).at(1000)[0][None])[0]
    assert table.shown.under(QPointF(top[0], top[1])) == "T1"
    share = table.shown.share_of("T1", QPointF(top[0], top[1]))
    assert share * route_of(hooped, hooped.tubes[0]).length == pytest.approx(1000, abs=15)
    floor = camera.project(np.array([[-800, 120.0, 200]]))[0]
    assert table.shown.under(QPointF(floor[0], floor[1])) == "T2"
    corner = camera.project(np.array([[-800, 500.0, 1200]]))[0]
    assert table.shown.under(QPointF(corner[0], corner[1])) == ""


def test_a_fold_swings_the_picture_and_standing_still_brings_it_back(drive: Driver, box: Job) -> None:
    window = drive.start(box).window
    page = window.page
    page.open("Bays")
    drive.settle()
    page.tab("Bays").next_fold()
    page.tab("Bays").timer.stop()
    page.tab("Bays")._phase = 7
    page.tab("Bays").decorated.emit()
    swung = window.table.decor.shape
    still = pieces(box)
    off = np.linalg.norm(swung.start - still.start, axis=1)
    assert off.max() == pytest.approx(0.06 * 1200, rel=1e-6)
    lengths = np.linalg.norm(swung.stop - swung.start, axis=1) / np.linalg.norm(still.stop - still.start, axis=1)
    assert np.abs(lengths - 1).max() < (0.06 * 1200 / 300) ** 2 / 2  # folding stretches nothing, to first order
    window.table.grab()
    page.open("Joints")
    assert window.table.decor.shape is None
    assert not page.tab("Bays").timer.isActive()


def test_sheet_is_painted_and_an_edit_under_a_moving_fold_breaks_nothing(drive: Driver, box: Job) -> None:
    job = typed(box, "add panel joints J1L J2L J4L J3L, thickness 1", "add holes host F1L, count 2, diameter 60")
    window = drive.start(job).window
    plain = window.table.grab().toImage()
    window.session.choose(("F1L",))
    drive.settle()
    assert window.table.grab().toImage() != plain
    page = window.page
    page.open("Bays")
    page.tab("Bays").next_fold()
    drive.type("delete J4L")
    drive.settle()
    window.table.grab()
    for _ in range(3):
        drive.key(Qt.Key.Key_Z, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    window.table.grab()
    drive.start(Job())
    page.open("Bays")
    drive.settle()
    assert "No tubes close round anything yet" in page.tab("Bays").said.text()
    for n in range(page.tabs.count()):
        page.tabs.setCurrentIndex(n)  # every list of an empty job
    assert "No sheet and no fittings yet" in page.tab("Fittings").hint.text()


def test_with_parts_shown_a_double_click_on_a_scan_starts_a_joint_there(drive: Driver, box: Job) -> None:
    corners = ball_corners(90.0, 24).reshape(-1, 3)
    mesh = Triangles(corners, np.arange(len(corners)).reshape(-1, 3))
    low, high = (tuple(float(v) for v in f(axis=0)) for f in (corners.min, corners.max))
    shape = Scan(digest=scans.keep(mesh), triangles=len(mesh.faces), low=low, high=high)
    job = edits.add_part(box, "Clip", "other", shape, (-600.0, 0.0, 350.0))
    window = drive.start(job).window
    drive.key(Qt.Key.Key_F7)
    window.page.envelopes.click()
    drive.settle()
    assert {b.name for b in window.table.decor.bodies} >= {"Clip"}
    window.table.scanned.emit(job.parts[0].id, -510.0, 0.0, 350.0)
    assert window.entry.line.text() == "joint -510.0, 0.0, 350.0"
    drive.key(Qt.Key.Key_Return, window.entry.line)
    assert window.session.job.joints[-1].place == (-510.0, 0.0, 350.0)
    window.page.envelopes.click()
    assert window.table.decor.bodies == ()


def test_lightening_holes_tell_what_they_save_and_what_twist_they_cost(drive: Driver, box: Job) -> None:
    rings = (
        "J1L J2L J4L J3L",
        "J2L J4L J4R J2R",
        "J1L J3L J3R J1R",
        "J3L J4L J4R J3R",
        "J1L J2L J2R J1R",
    )  # a closed box
    job = typed(
        box, *(f"add panel joints {ring}, thickness 1.5" for ring in rings), "add holes host F1L, count 5, diameter 80"
    )
    window = drive.start(job).window
    drive.key(Qt.Key.Key_F7)
    window.page.open("Fittings")
    drive.settle()
    share = stiffness.answer(edits.remove_fittings(job, ["F6L"])).torsion / stiffness.answer(job).torsion - 1
    assert share > 0.001
    grid = window.page.tab("Fittings").list
    said = [c.text(row) for row in grid.model.rows if row.id == "F6L" for c in grid.model.columns]
    assert f"5 holes of 80, 1257 to cut, twist −{100 * share:.2f} %" in said
    assert "0.30" in said  # kg of 1.5 mm sheet


def test_the_more_menu_starts_lines_with_an_example(drive: Driver, hooped: Job) -> None:
    window = drive.start(hooped).window
    more = next(b for b in window.page.findChildren(QPushButton) if b.text() == "More")
    drive.from_menu(more, "Stretch")
    assert window.entry.line.text() == "stretch behind -900 by -150"
    kinds = window.page.tab("Fittings").kinds
    kinds.setCurrentText("gusset")
    window.page.tab("Fittings").new.click()
    assert window.entry.line.text().startswith("add gusset joint J4L")
    assert understand("joint 0 250 300", Job()).job.joints


def test_a_joint_that_follows_another_refuses_the_arrow_key_and_says_what_it_follows(drive: Driver, box: Job) -> None:
    job = typed(box, "joint beside J2L z+80")
    window = drive.start(job).window
    window.session.choose(("J5L",))
    drive.key(Qt.Key.Key_PageUp)
    assert (
        "J5L (front upper joint, left) follows J2L (front lower joint, left). Move that, or release it: untie J5L"
        in drive.said
    )
    assert window.session.job is job
    window.session.choose(("J2R",))
    drive.key(Qt.Key.Key_PageUp)
    moved = window.session.job
    assert moved.joint("J5L").z - job.joint("J5L").z == pytest.approx(moved.joint("J2L").z - job.joint("J2L").z)
    assert moved.joint("J2L").z > job.joint("J2L").z
    notes = next(c for c in window.page.joints.model.columns if c.head == "notes")
    assert "follows J2L" in notes.text(moved.joint("J5L"))
