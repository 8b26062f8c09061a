"""The picture and what is painted over it come from the same numbers."""

import math
from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter

from ironcage.core.calc.sections import Round
from ironcage.core.job.values.model import Job
from ironcage.desk.look import DARK, LIGHT, rgb
from ironcage.desk.pages import STEPS
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.cutmesh import CutMeshes
from ironcage.desk.table.mesh import outline_of, prisms
from ironcage.desk.table.overlay import Brush
from ironcage.desk.table.painting import Painting
from ironcage.desk.table.scene import Scene
from ironcage.samples import sample
from tests.desk.conftest import Driver


@pytest.mark.parametrize("view", ["side", "plan", "front", "free"])
def test_a_tube_is_drawn_where_its_joints_are_projected(qapp, view: str) -> None:
    """Draw one blue tube, find its blue pixels, compare with where the camera says its ends are."""
    scene = Scene()
    scene.background((255, 255, 255))
    ends = np.array([[300.0, 100.0, 250.0], [-500.0, 350.0, 700.0]])
    camera = replace(Camera(width=600, height=400), view=view).fitted(ends)
    mesh = prisms(
        ends[:1],
        ends[1:],
        np.zeros(1),
        [outline_of(Round(40.0, 2.0))],
        np.zeros(1, dtype=np.int64),
        np.zeros(1, dtype=np.int64),
    )
    scene.tubes.shape(mesh)
    scene.tubes.colour(np.tile(np.array([0, 0, 255], dtype=np.uint8), (len(mesh.points), 1)))
    solid = scene.image(camera, fine=True)
    assert (np.frombuffer(solid.constBits().asarray(solid.sizeInBytes()), dtype=np.uint8)[3::4] == 255).all()
    picture = scene.image(camera).convertToFormat(QImage.Format.Format_RGB888)
    rows = (
        np.frombuffer(picture.constBits().asarray(picture.sizeInBytes()), dtype=np.uint8)
        .reshape(400, -1)[:, :1800]
        .reshape(400, 600, 3)
    )
    down, right = np.nonzero(rows[..., 0] < 120)
    at = camera.project(ends)
    middle = at[:, :2].mean(axis=0)
    assert (right.mean(), down.mean()) == pytest.approx(tuple(middle), abs=6)
    for place in at[:, :2]:
        assert np.hypot(right - place[0], down - place[1]).min() < 6
    scene.close()


def test_the_camera_fits_zooms_about_the_pointer_and_drags_in_mm() -> None:
    places = np.random.default_rng(1).uniform(-1500, 1500, (40, 3))
    camera = Camera(width=1000, height=420).fitted(places)
    at = camera.project(places)[:, :2]
    assert (at >= 0).all()
    assert (at <= [1000, 420]).all()
    assert max(np.ptp(at[:, 0]) / 1000, np.ptp(at[:, 1]) / 420) == pytest.approx(0.89, abs=0.02)
    side = replace(camera, view="side").fitted(places)
    near = side.zoomed(2.0, (300, 100))
    under = side.drag(300 - 500, 100 - 210) + side.centre
    assert near.project(under[None])[0, :2] == pytest.approx((300, 100), abs=1e-6)
    assert near.mm_per_px == pytest.approx(side.mm_per_px / 2)
    assert np.linalg.norm(side.drag(30, 40)) == pytest.approx(50 * side.mm_per_px)
    place = camera.on_plane(200, 90, np.array([100.0, 0.0, 300.0]), (0, 1))
    assert camera.project(place[None])[0, :2] == pytest.approx((200, 90), abs=1e-6)
    assert place[2] == 300
    behind = camera.project(np.array(camera.centre) + camera.basis[2] * camera.distance * 1.5)
    assert np.isnan(behind[0, 0])


def test_every_tube_of_the_demo_is_a_closed_band_of_triangles(sandpiper: Job) -> None:
    outlines = [outline_of(s.shape) for s in sandpiper.shelf.sections]
    names = [s.name for s in sandpiper.shelf.sections]
    places = {j.id: j.place for j in sandpiper.joints}
    a, b = (np.array([places[getattr(t, end)] for t in sandpiper.tubes]) for end in "ab")
    sizes = np.array([names.index(t.section) for t in sandpiper.tubes])
    mesh = prisms(a, b, np.zeros(len(a)), outlines, sizes, np.arange(len(a)))
    assert len(mesh.triangles) == 2 * 12 * len(sandpiper.tubes)
    assert (mesh.owner[mesh.triangles] == mesh.owner[mesh.triangles[:, :1]]).all()  # none from tube to tube
    sides = mesh.points[mesh.triangles]
    facing = np.cross(sides[:, 1] - sides[:, 0], sides[:, 2] - sides[:, 0])
    assert (
        np.abs(np.einsum("ij,ij->i", facing, mesh.normals[mesh.triangles[:, 0]])) > 0.9 * np.linalg.norm(facing, axis=1)
    ).all()
    again = prisms(a + 5.0, b, np.zeros(len(a)), outlines, sizes, np.arange(len(a)))
    assert again.triangles is mesh.triangles  # so that only points are drawn anew while joints move
    first = mesh.points[mesh.owner == 0]
    axis = (b[0] - a[0]) / np.linalg.norm(b[0] - a[0])
    off = first - a[0] - np.outer((first - a[0]) @ axis, axis)
    assert np.linalg.norm(off, axis=1) == pytest.approx(np.full(len(first), 22.5), abs=1e-3)


def contrast(one: str, other: str) -> float:
    """Contrast ratio of two colours after WCAG 2.1."""

    def light(colour: str) -> float:
        parts = [c / 255 for c in rgb(colour)]
        linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    bright, dark = sorted((light(one), light(other)), reverse=True)
    return (bright + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("look", [LIGHT, DARK])
def test_text_stands_out_at_four_and_a_half_to_one(look) -> None:
    for ink in (look.ink, look.quiet, look.oxide, look.blue):
        for ground in (look.paper, look.steel, look.chalk):
            assert contrast(ink, ground) >= 4.5, (look.name, ink, ground)
    assert contrast(look.ink, look.blue_paper) >= 4.5
    assert contrast("#000000", "#ffffff") == pytest.approx(21)


def test_arrows_move_along_what_the_eye_sees(drive: Driver, sandpiper: Job) -> None:

    window = drive.start(sandpiper).window
    for view, key, axis, sign in (
        ("view_side", Qt.Key.Key_Left, 0, 1),
        ("view_plan", Qt.Key.Key_Up, 1, -1),
        ("view_front", Qt.Key.Key_Up, 2, 1),
    ):
        getattr(window, view)()
        window.session.choose(("J18L",))
        before = window.session.job.joint("J18L").place
        drive.key(key)
        after = window.session.job.joint("J18L").place
        assert after[axis] - before[axis] == pytest.approx(5 * sign)
        assert math.dist(before, after) == pytest.approx(5)


def test_what_is_kept_from_painting_to_painting_is_what_painting_anew_gives(drive: Driver, sandpiper: Job) -> None:
    """After whatever changes the table, its sheets are those of one that keeps nothing."""
    window = drive.start(sandpiper).window
    table = window.table

    def same(after: str) -> None:
        drive.settle()
        drive.qtbot.waitUntil(lambda: table.drawn, timeout=60_000)
        kept = table.grab().toImage()
        table._painting = Painting()
        assert table.grab().toImage() == kept, after

    drive.key(Qt.Key.Key_F7)
    window.page.open("Bays")
    same("the bays")
    drive.click("J9L")
    same("a joint chosen")
    drive.qtbot.mouseMove(table, drive.spot("J12L"))
    same("the mouse on another")
    drive.key(Qt.Key.Key_PageUp)
    same("the joint moved")
    window.toggle_tags()
    same("all tags")
    drive.type("datum post at 100 0 0")
    drive.type("units inch 1/32 lb")
    same("read from elsewhere in inches")
    window.toggle_dark()
    same("dark")
    window.resize(1024, 700)
    same("a smaller window")
    window.view_plan()
    same("from above")
    window.go("prove")
    same("another step")
    window.undo()
    same("undone")


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700), (1920, 1080)])
@pytest.mark.parametrize("demo", ["sandpiper", "fell-litter", "skerry"])
def test_the_picture_fills_its_room_in_every_step(drive: Driver, demo: str, size: tuple[int, int]) -> None:
    """What is fitted takes 85 % of the width or of the height, and none of it is cut off."""
    window = drive.start(sample(demo)).window
    window.resize(*size)
    for step in STEPS:
        window.go(step.id)
        drive.settle()
        table = window.table
        spots = table.camera.project(table.places_to_fit())[:, :2]
        share = np.ptp(spots, axis=0) / [table.width(), table.height()]
        assert share.max() >= 0.85, step.id
        assert (spots >= 0).all(), step.id
        assert (spots <= [table.width(), table.height()]).all(), step.id


def test_what_is_chosen_is_looked_at_from_near_and_the_lists_fold_away(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    far = window.table.camera.mm_per_px
    window.session.choose(("T12L",))
    drive.key(Qt.Key.Key_F4, window, Qt.KeyboardModifier.ShiftModifier)
    assert window.table.camera.mm_per_px < far / 2
    spots = [drive.spot(j) for j in sandpiper.tube_by_id["T12L"].ends]
    assert all(window.table.rect().contains(s) for s in spots)
    drive.key(Qt.Key.Key_F4, window)
    assert window.table.camera.mm_per_px == pytest.approx(far, rel=0.01)
    low = window.table.height()
    drive.key(Qt.Key.Key_T, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert not window.page.isVisible()
    assert window.table.height() > 1.5 * low
    assert window.table.camera.mm_per_px < far
    drive.key(Qt.Key.Key_T, window, Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert window.page.isVisible()
    assert window.table.height() == low


def test_labels_step_aside_for_each_other_and_fold_into_a_count(qapp, sandpiper: Job) -> None:
    image = QImage(600, 300, QImage.Format.Format_ARGB32_Premultiplied)
    painter = QPainter(image)
    brush = Brush(painter, Camera(width=600, height=300), LIGHT)
    for n in range(12):
        brush.label(280, 150, f"J{n}L", LIGHT.ink)
    assert not any(a.intersects(b) for a, b in combinations(brush.taken, 2))
    assert len(brush.taken) == 12
    assert all(QRectF(0, 0, 600, 300).contains(box) for box in brush.taken)
    for n in range(40):
        brush.label(280, 150, f"J{n}R", LIGHT.ink)
    left = len(brush.folded)
    assert left == 52 - len(brush.taken) > 0
    brush.count_folded()
    assert not brush.folded
    painter.end()


def test_a_joint_behind_a_tyre_or_a_part_has_no_dot(drive: Driver, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    assert not window.table.shown.hidden.any()  # in Frame nothing stands before them
    window.go("place")
    drive.settle()
    hidden = {j.id for j, gone in zip(sandpiper.joints, window.table.shown.hidden, strict=True) if gone}
    assert "J1L" not in hidden  # the nose stands before the front tyre
    drive.key(Qt.Key.Key_F5, window)
    drive.settle()
    behind = {j.id for j, gone in zip(sandpiper.joints, window.table.shown.hidden, strict=True) if gone}
    middle = window.session.job.wheels[0]
    near = {j.id for j in sandpiper.joints if math.hypot(j.x - middle.x, j.z - middle.z) < middle.diameter / 2 - 20}
    assert near
    assert near <= behind


def test_what_is_laid_from_an_empty_table_stays_in_the_picture(drive: Driver) -> None:
    window = drive.start(Job()).window
    for line in ("joint 0 250 300", "joint -900 250 1100", "joint -2600 400 300", "joint 900 100 250"):
        drive.type(line)
        drive.settle()
        spots = window.table.shown.spots[:, :2]
        assert (spots >= 0).all(), line
        assert (spots <= [window.table.width(), window.table.height()]).all(), line
    far = window.table.camera
    drive.qtbot.mousePress(window.table, Qt.MouseButton.RightButton, pos=QPoint(40, 40))
    drive.qtbot.mouseMove(window.table, QPoint(90, 60))
    drive.qtbot.mouseRelease(window.table, Qt.MouseButton.RightButton, pos=QPoint(90, 60))
    turned = window.table.camera
    assert turned != far
    drive.type("joint -900 250 4000")  # the view that was turned by hand stays as it is
    assert window.table.camera == turned


def test_cut_shows_tubes_as_they_are_cut_and_one_piece_alone(drive: Driver, sandpiper: Job) -> None:
    drive.start(sandpiper)
    window = drive.window
    window.go("cut")
    window.session.choose(("T24L",))
    drive.settle()
    table, whole = window.table, window.table.camera
    assert table.decor.cut is not None
    cut = CutMeshes().mesh(table.decor.cut, coarse=False)
    assert set(cut.owner.tolist()) == set(range(len(sandpiper.tubes)))
    drive.press("Alone")
    drive.settle()
    alone = CutMeshes().mesh(table.decor.cut, coarse=False)
    rows = {t.id: n for n, t in enumerate(sandpiper.tubes)}
    assert set(alone.owner.tolist()) == {rows["T24L"]}
    across = np.ptp(table.camera.project(alone.points.astype(float))[:, :2], axis=0)
    assert (across / (table.camera.width, table.camera.height)).max() > 0.7  # it fills the picture
    drive.press("Alone")
    drive.settle()
    assert table.camera.mm_per_px == pytest.approx(whole.mm_per_px, rel=0.02)
