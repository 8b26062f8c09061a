"""Pieces as triangles: the walls of the tubes as they are after cutting."""

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ironcage.core.job.geometry.routes import pieces as chords
from ironcage.desk.table.decor import CutFrame
from ironcage.desk.table.mesh import Mesh, joined, outline_of, prisms

if TYPE_CHECKING:
    from ironcage.core.answers.cut import Piece
    from ironcage.core.calc.tubes.shells import Shell
    from ironcage.core.job.values.fittings import AnyFitting

    _Of = tuple[Piece, tuple[AnyFitting, ...]]

FINE, COARSE = 48, 12  # lines round a tube, standing still and while things change


class CutMeshes:
    """Makes the triangles of cut pieces; keeps those of pieces that come again."""

    def __init__(self) -> None:
        self._kept: dict[tuple[int, int], tuple[_Of, Shell]] = {}

    def mesh(self, cut: CutFrame, *, coarse: bool) -> Mesh:
        """The triangles of all pieces, and of the tubes that no piece is made for where they are not shown alone."""
        from ironcage.core.answers.cut import piece_shell, tube_of_chord

        job, lines = cut.job, COARSE if coarse else FINE
        rows = {t.id: n for n, t in enumerate(job.tubes)}
        fitted: dict[str, list[AnyFitting]] = {}
        for f in job.fittings:
            if tube := getattr(f, "tube", ""):
                fitted.setdefault(tube, []).append(f)
        kept: dict[tuple[int, int], tuple[_Of, Shell]] = {}
        meshes = []
        for piece in cut.pieces:
            key = id(piece), lines
            of = piece, tuple(f for name in piece.tubes for f in fitted.get(name, ()))
            found = self._kept.get(key)
            kept[key] = found if found and found[0] == of else (of, piece_shell(job, piece, lines))
            shell = kept[key][1]
            owner = np.array([rows[name] for name in tube_of_chord(job, piece)], dtype=np.int64)[shell.chord]
            meshes.append(
                Mesh(shell.points.astype(np.float32), shell.normals.astype(np.float32), shell.triangles, owner)
            )
        self._kept = kept
        if not cut.alone:
            made = {rows[name] for piece in cut.pieces for name in piece.tubes}
            meshes.append(
                self._uncut(cut, np.array([n for n in range(len(job.tubes)) if n not in made], dtype=np.int64))
            )
        return joined(meshes)

    @staticmethod
    def _uncut(cut: CutFrame, tubes: NDArray[np.int64]) -> Mesh:
        """Tubes, by their rows, as they run from joint to joint."""
        job, lines = cut.job, chords(cut.job)
        of = np.isin(lines.owner, tubes)
        place = {s.name: n for n, s in enumerate(job.shelf.sections)}
        sizes = np.array([place[t.section] for t in job.tubes], dtype=np.int64)[lines.owner[of]]
        outlines = [outline_of(s.shape) for s in job.shelf.sections]
        return prisms(lines.start[of], lines.stop[of], lines.roll[of], outlines, sizes, lines.owner[of])
