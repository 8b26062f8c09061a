"""The frame as a drawing of lines: out and back the same, and drawings from elsewhere."""

from pathlib import Path

import ezdxf
import numpy as np
import pytest

from ironcage.core.answers.shared.mass import weigh
from ironcage.core.exchange.incoming import incoming
from ironcage.core.exchange.kinds import kind
from ironcage.core.job.geometry.routes import route_of
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed


def brought(path: Path, job: Job | None = None, unit: str = "") -> tuple[Job, str]:
    taken = incoming("frame")
    read = taken.read(path, lambda share: None)
    return taken.bring(job or Job(), read, unit or read.unit)


def _alike(job: Job) -> set[tuple[object, ...]]:
    """A frame told without its names: each tube's centreline either way round, and its make."""
    made = set()
    for t in job.tubes:
        points = [tuple(round(float(v), 3) + 0.0 for v in p) for p in route_of(job, t).points]
        made.add(
            (
                min(tuple(points), tuple(points[::-1])),
                t.section,
                t.material,
                t.role,
                t.radius,
                t.taper,
                abs(round(t.roll, 6)),
            )
        )
    return made


@pytest.mark.parametrize("name", ["sandpiper", "fell-litter", "skerry"])
def test_a_frame_goes_out_as_lines_and_comes_back_the_same(name: str, tmp_path: Path) -> None:
    job = sample(name)
    (tmp_path / "frame.dxf").write_bytes(kind("frame-dxf").make(job, ""))
    back, said = brought(tmp_path / "frame.dxf")
    assert f"{len(job.tubes)} tubes" in said
    assert _alike(back) == _alike(job)
    on_tubes = {j for t in job.tubes for j in t.ends}
    assert {tuple(np.round(j.place, 3) + 0.0) for j in back.joints} == {
        tuple(np.round(job.joint(j).place, 3) + 0.0) for j in on_tubes
    }
    assert sum(j.twin is not None for j in back.joints) == sum(job.joint(j).twin is not None for j in on_tubes)
    assert weigh(back).frame.mass == pytest.approx(weigh(job).frame.mass - weigh(job).fittings)
    assert {t.id[-1] for t in back.tubes if back.twin_tube(t) not in (None, t)} == {"L", "R"}
    with pytest.raises(Problem, match="Every line has a tube already"):
        brought(tmp_path / "frame.dxf", back)


def test_a_bent_tube_that_lands_beside_comes_back_bent_and_beside(box: Job, tmp_path: Path) -> None:
    job = typed(box, "die 30 clr 90")
    tube = next(t for t in job.tubes if job.twin_tube(t) not in (None, t))
    a, b = (job.joint_by_id[e] for e in tube.ends)
    x, y, z = ((p + q) / 2 for p, q in zip(a.place, b.place, strict=True))
    job = understand(f"bend {x} {y + 150} {z + 60} clr 90", job, (tube.id,)).job
    job = understand(f"land {a.id} z+12", job, (tube.id,)).job
    (tmp_path / "f.dxf").write_bytes(kind("frame-dxf").make(job, ""))
    assert _alike(brought(tmp_path / "f.dxf")[0]) == _alike(job)


def _drawing(path: Path, fill: object, unit: int = 0) -> Path:
    drawing = ezdxf.new("R2010")
    drawing.header["$INSUNITS"] = unit
    fill(drawing, drawing.modelspace())  # type: ignore[operator]
    drawing.saveas(path)
    return path


def test_a_drawing_from_elsewhere_its_blocks_opened_its_arcs_told(tmp_path: Path) -> None:
    def fill(drawing: object, space: object) -> None:
        block = drawing.blocks.new("SIDE")  # type: ignore[attr-defined]
        block.add_line((0, 0, 0), (1, 0, 0))
        block.add_polyline3d([(1, 0, 0), (1, 0, 0.5), (0, 0, 0.5)])
        for y in (0.3, -0.3):
            space.add_blockref("SIDE", (0, y, 0.2))  # type: ignore[attr-defined]
        space.add_line((0, 0.3, 0.2), (0, -0.3, 0.2), {"layer": "30 x 2"})  # type: ignore[attr-defined]
        space.add_arc((0, 0), 1, 0, 90)  # type: ignore[attr-defined]
        space.add_spline([(0, 0, 0), (1, 1, 0), (2, 0, 0)])  # type: ignore[attr-defined]
        space.add_lwpolyline([(0, 0, 0, 0, 1), (1, 0)])  # type: ignore[attr-defined]

    path = _drawing(tmp_path / "x.dxf", fill)
    read = incoming("frame").read(path, lambda share: None)
    assert (read.unit, read.guess) == ("", "m")  # it does not say; its size suggests metres
    job, said = brought(path, unit="m")
    assert (
        said == "7 tubes and 8 joints came, ‘0’ names no section, so its lines became 38 x 2 round, 1 arc, 1 bulged "
        "polyline and 1 spline left out: lay them as bends."
    )
    assert job.tubes[-1].section.startswith("30 x 2")
    assert {j.id for j in job.joints} == {f"J{n}{s}" for n in (1, 2, 3, 4) for s in "LR"}
    assert job.joint("J1L").place == pytest.approx((0, 300, 200))


@pytest.mark.parametrize(
    ("fill", "says"),
    [
        (lambda drawing, space: None, "holds nothing, and tubes come from lines"),
        (
            lambda drawing, space: [space.add_arc((0, 0), 1, 0, 90) for _ in range(3)],
            "holds only 3 arcs, and tubes come from lines",
        ),
    ],
)
def test_a_drawing_with_no_line_says_what_it_holds(fill: object, says: str, tmp_path: Path) -> None:
    with pytest.raises(Problem, match=says):
        brought(_drawing(tmp_path / "x.dxf", fill))


def test_a_file_that_is_no_drawing_is_refused(tmp_path: Path) -> None:
    (tmp_path / "x.dxf").write_bytes(b"hello")
    with pytest.raises(Problem, match="is not a DXF drawing"):
        brought(tmp_path / "x.dxf")
    with pytest.raises(Problem, match="There is no file"):
        brought(tmp_path / "none.dxf")
