"""Shape and stress of the frame for other viewers: an unstructured grid as XML text (VTU), tubes as lines, with the
twist test and every load case on it."""

from __future__ import annotations

from collections.abc import Iterable
from xml.sax.saxutils import quoteattr

import numpy as np

from ironcage.core.answers.prove import stiffness, strength
from ironcage.core.answers.shared.beam_model import beam_frame
from ironcage.core.calc.frames.beams import Floats
from ironcage.core.calc.frames.deflected import moved
from ironcage.core.job.geometry.routes import pieces
from ironcage.core.job.values.model import Job

PARTS = 8
LINE = 3  # the format's number for a straight cell of two points


def to_vtu(job: Job) -> bytes:
    """Points along every tube, moved by each load (mm), and by cell what of each tube's strength is used, its share
    of the twist's energy, and its number. Raises Problem where the frame can't be worked out."""
    told, twisted = strength.tube_strength(job), stiffness.answer(job)
    lines, frame = pieces(job, PARTS), beam_frame(job)
    points = np.stack([lines.start, lines.stop], axis=1).reshape(-1, 3)
    owner, share = np.repeat(lines.owner, 2), lines.share.reshape(-1)
    moves = [
        ("moved by 1000 N m of twist", twisted.twisted),
        *((f"moved in {c.name}", told.u[:, :, n]) for n, c in enumerate(told.cases)),
    ]
    cells = [("tube", lines.owner.astype(float)), ("share of twist energy", twisted.energy[lines.owner])]
    cells += [(f"used in {c.name}", told.uses[:, :, n].max(axis=0)[lines.owner]) for n, c in enumerate(told.cases)]
    count = len(lines.owner)
    body = [
        '<?xml version="1.0"?>',
        '<VTKFile type="UnstructuredGrid" version="0.1" byte_order="LittleEndian">',
        "<UnstructuredGrid>",
        f'<Piece NumberOfPoints="{2 * count}" NumberOfCells="{count}">',
        "<PointData>",
        *(_array(name, moved(frame, u, 1.0, owner, share)) for name, u in moves),
        "</PointData>",
        "<CellData>",
        *(_array(name, values) for name, values in cells),
        "</CellData>",
        "<Points>",
        _array("places in mm", points),
        "</Points>",
        "<Cells>",
        _whole("connectivity", range(2 * count)),
        _whole("offsets", range(2, 2 * count + 2, 2)),
        _whole("types", [LINE] * count),
        "</Cells>",
        "</Piece>",
        "</UnstructuredGrid>",
        "</VTKFile>",
    ]
    return "\n".join(body).encode("utf-8")


def _array(name: str, values: Floats) -> str:
    wide = 3 if values.ndim == 2 else 1
    text = " ".join(format(float(v), ".7g") for v in values.ravel())
    head = f'<DataArray type="Float64" Name={quoteattr(name)} NumberOfComponents="{wide}" format="ascii">'
    return f"{head}{text}</DataArray>"


def _whole(name: str, values: Iterable[int]) -> str:
    return f'<DataArray type="Int64" Name="{name}" format="ascii">{" ".join(map(str, values))}</DataArray>'
