"""Copy and paste: lines of text, tubes and parts from job to job, and cells of a list."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication

from ironcage.core.job import edits
from ironcage.core.job.values.model import Job
from tests.desk.conftest import Driver

CTRL = Qt.KeyboardModifier.ControlModifier
LINES = """joint 0 250 300
joint -400 250 300

tube J1L J2L
"""


def put(text: str) -> None:
    QGuiApplication.clipboard().setText(text)


def test_lines_are_pasted_as_one_step_and_a_refused_one_leaves_everything(drive: Driver) -> None:
    window = drive.start(Job()).window
    put(LINES)
    drive.key(Qt.Key.Key_V, window, CTRL)
    assert drive.said == "Paste 3 lines."
    assert [t.id for t in window.session.job.tubes] == ["T1L", "T1R"]
    drive.key(Qt.Key.Key_Z, window, CTRL)
    assert window.session.job.joints == ()
    put("joint 0 250 300\ntube J1L J9L")
    window.entry.line.setFocus()
    drive.key(Qt.Key.Key_V, window.entry.line, CTRL)  # several lines in the line are carried out, not run together
    assert drive.said.startswith("Line 2 of what was pasted, ‘tube J1L J9L’: There is no joint ‘J9L’.")
    assert window.session.job.joints == ()
    put("x-10")
    drive.key(Qt.Key.Key_V, window.entry.line, CTRL)
    assert window.entry.line.text() == "x-10"
    put("")
    drive.key(Qt.Key.Key_V, window, CTRL)
    assert drive.said.startswith("There are no lines and no things of a job on the clipboard.")


def test_tubes_and_parts_go_from_one_job_to_another_at_their_places(drive: Driver, sandpiper: Job, box: Job) -> None:
    window = drive.start(sandpiper).window
    tube, part = sandpiper.tubes[0], sandpiper.parts[0]
    window.session.choose((tube.id, part.id))
    drive.key(Qt.Key.Key_C, window, CTRL)
    assert QGuiApplication.clipboard().text().splitlines()[1].startswith(tube.id)
    drive.key(Qt.Key.Key_V, window, CTRL)
    assert drive.said == "Everything that was copied is there already. Lay it again beside: copy x-300"
    drive.start(box)
    drive.key(Qt.Key.Key_V, window, CTRL)
    assert drive.said == "Paste 1 tube."
    job = window.session.job
    new = job.tubes[len(box.tubes)]
    assert [job.joint_by_id[e].place for e in new.ends] == [sandpiper.joint_by_id[e].place for e in tube.ends]
    assert (new.section, new.role) == (tube.section, tube.role)
    assert job.section(new.section) == sandpiper.section(tube.section)
    assert (job.parts[-1].name, job.parts[-1].place, job.parts[-1].shape) == (part.name, part.place, part.shape)
    drive.key(Qt.Key.Key_Z, window, CTRL)
    assert window.session.job == box


def test_what_was_deleted_can_be_pasted_again(sandpiper: Job) -> None:
    tubes = [t.id for t in sandpiper.tubes if t.role == "diagonal"]
    clipping = edits.clip(sandpiper, tubes)
    back, new = edits.paste(edits.delete(sandpiper, tubes), clipping)
    assert len(new) == len(tubes)

    def laid(job: Job) -> set:
        return {
            (frozenset(job.joint_by_id[e].place for e in t.ends), t.section, t.role, t.roll, t.corners)
            for t in job.tubes
        }

    assert laid(back) == laid(sandpiper)
    assert edits.clip(sandpiper, [sandpiper.people[0].id]) is None


def test_cells_of_a_spreadsheet_are_typed_over_a_list_as_one_step(drive: Driver, box: Job) -> None:
    window = drive.start(box).window
    window.go("frame")
    drive.settle()
    grid = window.page.joints
    heads = [c.name for c in grid.model.columns]
    grid.list.setCurrentIndex(grid.model.index(0, heads.index("x")))
    grid.list.setFocus()
    first = grid.model.rows[0].id
    x, y, z = window.session.job.joint_by_id[first].place
    put(f"{x - 12}\t{y + 3}\t{z}\n")
    drive.key(Qt.Key.Key_V, grid.list, CTRL)
    drive.settle()
    assert window.session.job.joint_by_id[first].place == pytest.approx((x - 12, y + 3, z))
    assert drive.said == "Paste 2 cells."
    drive.key(Qt.Key.Key_Z, window, CTRL)
    assert window.session.job.joint_by_id[first].place == (x, y, z)
    put(f"{x}\tnonsense")
    drive.key(Qt.Key.Key_V, grid.list, CTRL)
    assert grid.refusal.text().startswith(f"y of {first} (front pickup, left), ‘nonsense’: ")
    put("\n".join(["1"] * 400) + "\n2\t3")
    drive.key(Qt.Key.Key_V, grid.list, CTRL)
    assert grid.refusal.text().startswith("401 × 2 cells were copied, and there are ")
    assert window.session.job == box
