"""Frames of 20 to 300 tubes in all orientations against two independent programs (packages of bench.txt), where they
are installed."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from ironcage.bench import solving
from ironcage.bench.frames import truss
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.calc.frames.beams import solve
from ironcage.core.job.values.model import Job

TURNS = ((0.0, 0.0, 0.0), (0.3, -0.8, 1.1), (1.5, 0.2, -2.0))


def _turned(job: Job, turn: tuple[float, float, float]) -> Job:
    matrix = Rotation.from_euler("xyz", turn).as_matrix()
    joints = []
    for j in job.joints:
        x, y, z = (float(v) for v in matrix @ np.array(j.place))
        joints.append(j.but(x=x, y=y, z=z, twin=None))
    return job.but(joints=tuple(joints))


@pytest.mark.parametrize("turn", TURNS)
@pytest.mark.parametrize("tubes", [20, 90, 300])
@pytest.mark.parametrize("peer", ["pynite", "opensees"])
def test_displacements_agree_to_a_millionth(peer: str, tubes: int, turn: tuple[float, float, float]) -> None:
    module = {"pynite": "Pynite", "opensees": "openseespy.opensees"}[peer]
    try:
        __import__(module)
    except (ImportError, RuntimeError) as error:
        pytest.skip(f"the other solver is a package of bench.txt only, and here: {str(error)[:60]}")
    job = _turned(truss(tubes), turn)
    mine = solving.ours(job, shear=False)
    other = solving.PEERS[peer](job)
    assert np.abs(mine - other).max() <= 1e-6 * np.abs(mine).max()


@pytest.mark.parametrize("turn", TURNS)
def test_turning_the_whole_frame_turns_its_displacements(turn: tuple[float, float, float]) -> None:
    """The law that needs no other program: loads and supports turned along."""
    job = truss(60)
    matrix = Rotation.from_euler("xyz", turn).as_matrix()
    frame = beam_frame(job)
    held, loads = solving._rig(job)
    held[held.any(axis=1)] = True  # a joint held in some axes only would not turn along
    base = solve(frame, held, loads).u[:, :3, 0]
    spun = replace(frame, nodes=frame.nodes @ matrix.T)
    turned = np.zeros_like(loads)
    turned[:, :3, 0] = loads[:, :3, 0] @ matrix.T
    again = solve(spun, held, turned).u[:, :3, 0]
    assert np.abs(again - base @ matrix.T).max() <= 1e-7 * np.abs(base).max()
