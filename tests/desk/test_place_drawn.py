"""What Place draws on the table and offers in its menus."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt

from ironcage.core.answers.findings import checks
from ironcage.core.calc.solids.convex import Solid, ball, box, cylinder, rod
from ironcage.core.calc.solids.gaps import gaps
from ironcage.core.calc.solids.outsides import outside
from ironcage.core.job import edits
from ironcage.core.job.geometry.bodies import bodies
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.rules import EXAMPLES
from ironcage.desk.look import LIGHT, rgb
from ironcage.desk.pages import STEPS
from ironcage.desk.pages.place.page import _STARTS
from ironcage.desk.table.camera import Camera
from ironcage.desk.table.envelopes import Envelopes
from ironcage.desk.table.picking import Shown
from ironcage.units import METRIC
from tests.core.lines import typed

ZERO = np.zeros(3)


@pytest.mark.parametrize(
    "line",
    [METRIC.say(line).format(seat="-1200 240 350") for _, line in _STARTS]
    + [METRIC.say(line) for line in EXAMPLES.values()],
)
def test_every_line_that_a_menu_starts_is_understood_as_it_stands(line: str) -> None:
    assert understand(line, Job()).job != Job()


@pytest.mark.parametrize(
    ("solid", "volume"),
    [
        (box((200, 100, 50)), 1e6),
        (cylinder(40, ZERO, np.array([0, 0, 100.0])), np.pi * 40**2 * 100),
        (ball(50, ZERO), 4 / 3 * np.pi * 50**3),
        (rod(20, ZERO, np.array([300.0, 0, 0])), np.pi * 400 * 300 + 4 / 3 * np.pi * 8000),
    ],
)
def test_an_envelope_is_drawn_closed_facing_out_and_of_its_size(solid: Solid, volume: float) -> None:
    from ironcage.core.job.geometry.bodies import Body

    mesh = Envelopes().mesh((Body("B1", "x", "part", (solid,), ("",)),))
    a, b, c = (mesh.points[mesh.triangles[:, k]].astype(float) for k in range(3))
    assert np.einsum("tc,tc->t", a, np.cross(b, c)).sum() / 6 == pytest.approx(volume, rel=0.12)
    across = np.cross(b - a, c - a)
    assert (np.einsum("tc,tc->t", across, mesh.normals[::3]) > 0).all()
    inside = gaps([solid] * len(a), [ball(0.0, p) for p in (a + b + c) / 3]).distance
    assert inside.max() < 1e-3, "no flat side lies outside the solid"


def test_bodies_are_kept_between_pictures_while_they_are_the_same(sandpiper: Job) -> None:
    kept = Envelopes()
    everything = bodies(sandpiper)[:8]
    one = kept.mesh(everything)
    moved = bodies(edits.move_things(sandpiper, [sandpiper.parts[0].id], dx=10))[:8]
    other = kept.mesh(moved)
    same = one.owner != 0
    assert np.array_equal(one.points[same], other.points[other.owner != 0])
    assert not np.array_equal(one.points[~same], other.points[other.owner == 0])


@pytest.mark.parametrize("view", ["side", "plan", "front", "free"])
def test_a_part_is_picked_where_it_is_seen_and_not_beside_it(view: str) -> None:
    job = understand("place load Crate box 400 x 300 x 200 at -900 0 500", Job()).job
    things = bodies(job)
    camera = Camera(view=view, width=900, height=500).fitted(outside(things[0].solids[0]))
    shown = Shown(job, camera, things)
    x, y, _ = camera.project(np.array([[-900.0, 0, 500]]))[0]
    assert shown.under(QPoint(round(x), round(y)).toPointF()) == "B1"
    edge = camera.project(outside(things[0].solids[0]))
    assert shown.under(QPoint(round(edge[:, 0].max()) + 6, round(y)).toPointF()) == ""
    assert shown.under(QPoint(round(x), round(edge[:, 1].min()) - 6).toPointF()) == ""


def test_of_two_parts_in_line_the_nearer_is_picked() -> None:
    job = understand("place load Near box 200 x 100 x 200 at 0 400 500", Job()).job
    job = understand("place load Far box 600 x 100 x 600 at 0 -400 500", job).job
    things = bodies(job)
    camera = Camera(view="side", width=900, height=500).fitted(np.vstack([b.bounds for b in things]))
    x, y, _ = camera.project(np.array([[0.0, 400, 500]]))[0]
    assert Shown(job, camera, things).under(QPoint(round(x), round(y)).toPointF()) == "B1"


def near(colour, hexed: str, tolerance: int = 70) -> bool:
    return all(
        abs(a - b) < tolerance for a, b in zip((colour.red(), colour.green(), colour.blue()), rgb(hexed), strict=True)
    )


def test_a_clashing_part_is_oxide_and_a_chosen_one_blue(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.go("place")
    drive.settle()
    drive.window.table.turn_to("plan")
    table = drive.window.table

    def colour(name: str):
        drive.settle()
        drive.qtbot.waitUntil(lambda: table.drawn, timeout=60_000)
        part = edits.find_part(drive.window.session.job, name)
        x, y, _ = table.camera.project([[part.x + 40, part.y + 30, part.z]])[0]
        return table.grab().toImage().pixelColor(round(x), round(y))

    plain = colour("Engine, transverse triple")
    assert near(plain, LIGHT.kraft)
    drive.window.session.choose((edits.find_part(sandpiper, "Engine, transverse triple").id,))
    assert near(colour("Engine, transverse triple"), LIGHT.blue)
    drive.window.session.choose(())
    drive.type("place load Slung box 300 x 200 x 100 at -1875 0 560 mass 5")
    drive.window.session.choose(())
    assert near(colour("Engine, transverse triple"), LIGHT.oxide)
    assert drive.tally("clashes").startswith(("4", "5"))


def test_every_snag_belongs_to_a_step_and_leads_to_something_that_can_be_chosen(drive, sandpiper: Job) -> None:
    job = sandpiper
    for line in ("set driving yaw 20", "set thigh 590", "set pedals x+400", "set slide down 500"):
        who = {"set driving yaw 20": "C34", "set slide down 500": "B22"}.get(line, "D32")
        job = understand(line, job, (who,)).job
    job = understand("shaft Prop from 0 0 300 to -500 0 360", job).job
    job = understand("set driven -1 0 0.4", job, (job.shafts[0].id,)).job
    found = checks.find_snags(job)
    assert {
        "clash",
        "can't come out",
        "can't reach",
        "chain can't run",
        "shaft shakes",
        "rule failed",
        "rule not judged",
    } <= {s.code for s in found}
    drive.start(job)
    for snag in (s for s in found if s.step in ("brief", "place")):
        assert snag.step in {s.id for s in STEPS}
        drive.window._jump(snag.step, snag.where)
        assert drive.window.step == snag.step
        assert not snag.where or drive.window.session.chosen, snag.what
        assert snag.what.endswith(".")
        assert "\n" not in snag.what
    drive.settle()


@pytest.mark.parametrize("units", ["mm kg", "inch 1/16 lb"])
def test_every_step_fits_the_smallest_window_and_holds_the_largest_type(drive, sandpiper: Job, units: str) -> None:
    window = drive.start(typed(sandpiper, f"units {units}")).window
    window.resize(1024, 700)
    for step in STEPS:
        window.go(step.id)
        drive.settle()
        assert window.minimumSizeHint().width() <= 1024, step.id
        assert window.page.height() >= 170
    for _ in range(3):
        window.larger()
    drive.settle()
    assert window.page.isVisible()


def test_help_lists_the_lines_of_place_and_the_entry_says_what_they_would_do(drive, sandpiper: Job) -> None:
    drive.start(sandpiper)
    drive.window.session.choose(("B22",))
    drive.window.entry.begin("x-30")
    assert drive.said == "Enter: Move B22 x-30:  x -1875.0  y 0.0  z 500.0  →  x -1905.0  y 0.0  z 500.0"
    drive.window.entry.begin("chain")
    assert drive.said.startswith("lays a chain or belt between two wheels. For example: chain Final")
    drive.key(Qt.Key.Key_F1)
    help_page = drive.window._help
    help_page.about.setCurrentText("Every line and key")
    assert "place engine Triple box 500 x 620 x 480" in help_page.text.toPlainText()
    whole = len(help_page.text.toPlainText())
    drive.qtbot.keyClicks(help_page.search, "passenger")  # a word that no line has leads to the one that is meant
    assert "Write for example: person Bryn 1780 at -1330 280 320." in help_page.text.toPlainText()
    help_page.search.clear()
    drive.qtbot.keyClicks(help_page.search, "bolt hollow")
    assert "bolt M10 through 50 wall 3 lean 12" in help_page.text.toPlainText()
    assert "place engine" not in help_page.text.toPlainText()
    help_page.search.clear()
    drive.qtbot.keyClicks(help_page.search, "zzz")
    assert "Nothing here speaks of ‘zzz’." in help_page.text.toPlainText()
    help_page.search.clear()
    assert len(help_page.text.toPlainText()) == whole
    help_page.close()


def test_a_clash_that_is_picked_tells_what_clears_it_and_a_press_does_it(drive, sandpiper: Job) -> None:
    window = drive.start(sandpiper).window
    window.go("place")
    drive.settle()
    page = window.page
    assert "Pick a clash" in page.mends.told.text()
    page.clashes.list.selectRow(0)
    drive.settle()
    assert page.tabs.currentIndex() == 0  # the card of the part does not come over the mends
    rows = [page.mends.list.model.data(page.mends.list.model.index(n, 0)) for n in range(2)]
    assert rows[0] == "Move T68L (rear lower diagonal, left) 55 mm down"
    drive.press("Do it")
    drive.settle()
    assert drive.tally("clashes") == "1 −2"
    assert window.next.button.text().startswith("Next: ")
    drive.key(Qt.Key.Key_Z, modifier=Qt.KeyboardModifier.ControlModifier)
    drive.settle()
    assert drive.tally("clashes").startswith("3")
