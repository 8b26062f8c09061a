"""The crowded car that is measured is one on which the measure means something."""

from ironcage.bench.placing import PARTS, TUBES, crowded, every_pair
from ironcage.bench.scanning import lumpy_ring
from ironcage.core.answers.place import clashes
from ironcage.core.exchange.meshes import read_mesh
from ironcage.core.job.geometry.bodies import bodies


def test_the_plain_loop_finds_the_overlaps_that_the_quick_way_finds() -> None:
    job = crowded().but(arms=())  # whose ways the plain loop does not know
    assert len(job.tubes) >= TUBES
    assert len(job.parts) == PARTS
    kinds = {b.id: b for b in bodies(job)}
    held = {
        (n.first, n.second)
        for n in clashes.find_clashes(job).near
        if n.gap < -1e-4 and "person" not in (kinds[n.first].kind, kinds[n.second].kind)
    }
    alone = job.but(people=())
    assert every_pair(alone) == len(held)
    assert len(held) > 3


def test_the_ring_that_is_measured_is_whole(tmp_path) -> None:
    path = tmp_path / "ring.stl"
    lumpy_ring(path, 5000)
    read = read_mesh(path)
    assert read.notes == ()
    assert abs(len(read.mesh.faces) - 5000) < 250
