"""The lines of a STEP file (ISO 10303-21): what they are made of, and what the format wants round them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ironcage.core.calc.frames.beams import Floats

EXACT_MM = 0.01  # how far off the surfaces are that curves lie on
HEAD = """ISO-10303-21;
HEADER;
FILE_DESCRIPTION((''),'2;1');
FILE_NAME('{name}','',(''),(''),'','Iron Cage','');
FILE_SCHEMA(('AUTOMOTIVE_DESIGN {{ 1 0 10303 214 3 1 1 }}'));
ENDSEC;
DATA;
"""


class File:
    """Lines of the file, each known by its number."""

    def __init__(self) -> None:
        self.lines: list[str] = []

    def add(self, text: str) -> str:
        """Another line; its name."""
        self.lines.append(text)
        return f"#{len(self.lines)}"

    def point(self, place: Floats) -> str:
        """A place."""
        return self.add(f"CARTESIAN_POINT('',({figures(place)}))")

    def axes(self, place: Floats, z: Floats, x: Floats) -> str:
        """A place with directions."""
        along, across = (self.add(f"DIRECTION('',({figures(way)}))") for way in (z, x))
        return self.add(f"AXIS2_PLACEMENT_3D('',{self.point(place)},{along},{across})")


def figures(values: Sequence[float] | Floats) -> str:
    return ",".join(f"{round(float(v), 7) + 0.0:.7f}".rstrip("0") for v in values)


def letters(text: str) -> str:
    """Text as the format takes it: plain letters, quotes doubled."""
    return text.encode("ascii", "replace").decode().replace("'", "''").replace("\\", "/")


def product(file: File, name: str, solids: list[str]) -> None:
    """What the format wants round the solids: a product, its shape, and the units."""
    name = letters(name)
    context = file.add("APPLICATION_CONTEXT('automotive design')")
    file.add(f"APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,{context})")
    trade = file.add(f"PRODUCT_CONTEXT('',{context},'mechanical')")
    product = file.add(f"PRODUCT('{name}','{name}','',({trade}))")
    formation = file.add(f"PRODUCT_DEFINITION_FORMATION('','',{product})")
    design = file.add(f"PRODUCT_DEFINITION_CONTEXT('part definition',{context},'design')")
    definition = file.add(f"PRODUCT_DEFINITION('design','',{formation},{design})")
    shape = file.add(f"PRODUCT_DEFINITION_SHAPE('','',{definition})")
    length = file.add("(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))")
    angle = file.add("(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))")
    solid = file.add("(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())")
    exact = file.add(f"UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE({EXACT_MM}),{length},'distance_accuracy_value','')")
    space = file.add(
        f"(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT(({exact}))"
        f"GLOBAL_UNIT_ASSIGNED_CONTEXT(({length},{angle},{solid}))REPRESENTATION_CONTEXT('',''))"
    )
    home = file.axes(np.zeros(3), np.array([0.0, 0, 1]), np.array([1.0, 0, 0]))
    body = file.add(f"ADVANCED_BREP_SHAPE_REPRESENTATION('{name}',({','.join([home, *solids])}),{space})")
    file.add(f"SHAPE_DEFINITION_REPRESENTATION({shape},{body})")
