"""Sections and materials as calculators take them: by library name, by sizes, or by their figures alone."""

from typing import Annotated, Any

from pydantic import BeforeValidator, Field

from ironcage.cli.calc.question import Asked, demand, material_of, section_of
from ironcage.core.calc.sections import Angle, Figured, Rect, Round, Stated
from ironcage.core.job.values.model import Material
from ironcage.problem import Problem

More = Annotated[float, Field(gt=0, le=1e12)]
OrNone = Annotated[float, Field(ge=0, le=1e12)]


class AskedSection(Asked):
    """A section by sizes, corners sharp unless `corner_mm` is given, or by its figures."""

    od_mm: More | None = None
    width_mm: More | None = None
    height_mm: More | None = None
    leg_y_mm: More | None = None
    leg_z_mm: More | None = None
    wall_mm: More | None = None
    corner_mm: OrNone = 0.0
    area_mm2: More | None = None
    i_y_mm4: More | None = None
    i_z_mm4: More | None = None
    j_mm4: More | None = None
    shear_area_y_mm2: OrNone = 0.0
    shear_area_z_mm2: OrNone = 0.0
    far_y_mm: More | None = None
    far_z_mm: More | None = None
    torsion_modulus_mm3: More | None = None

    def shape(self) -> Figured:
        """The section. Raises Problem where it is incomplete."""
        match (self.od_mm, self.width_mm, self.height_mm, self.leg_y_mm, self.leg_z_mm, self.wall_mm):
            case (float(od), None, None, None, None, float(wall)):
                return Round(od, wall)
            case (None, float(width), float(height), None, None, float(wall)):
                return Rect(width, height, wall, self.corner_mm)
            case (None, None, None, float(leg_y), float(leg_z), float(wall)):
                return Angle(leg_y, leg_z, wall)
        match (self.area_mm2, self.i_y_mm4, self.i_z_mm4, self.j_mm4):
            case (float(area), float(i_y), float(i_z), float(j)):
                return Stated(
                    area,
                    i_y,
                    i_z,
                    j,
                    self.shear_area_y_mm2,
                    self.shear_area_z_mm2,
                    self.far_y_mm,
                    self.far_z_mm,
                    self.torsion_modulus_mm3,
                )
        raise Problem(
            "The section is incomplete.",
            where="section",
            hint="Give od_mm and wall_mm, or width_mm, height_mm and wall_mm, or leg_y_mm, leg_z_mm and wall_mm, or "
            "area_mm2, i_y_mm4, i_z_mm4 and j_mm4.",
        )


class AskedMaterial(Asked):
    """A material by its figures; without `yield_mpa` nothing is said of strength, `welded_yield_mpa` is what is left
    beside a weld, the same unless given."""

    e_mpa: Annotated[float, Field(gt=0, le=1e9)]
    g_mpa: Annotated[float, Field(gt=0, le=1e9)]
    density_kg_m3: Annotated[float, Field(gt=0, le=1e9)] = 7850.0
    yield_mpa: Annotated[float, Field(gt=0, le=1e9)] | None = None
    welded_yield_mpa: Annotated[float, Field(gt=0, le=1e9)] | None = None


def _section(value: Any) -> Any:
    if isinstance(value, str):
        return section_of(value)
    return demand(AskedSection, value).shape() if isinstance(value, dict) else value


def _material(value: Any) -> Any:
    if isinstance(value, str):
        return material_of(value)
    if not isinstance(value, dict):
        return value
    m = demand(AskedMaterial, value)
    strength = m.yield_mpa or UNKNOWN_MPA
    return Material(
        name="stated",
        e=m.e_mpa,
        g=m.g_mpa,
        density=m.density_kg_m3,
        yield_strength=strength,
        as_welded_yield=m.welded_yield_mpa or strength,
    )


UNKNOWN_MPA = 1e9  # stands for a strength that was not given; nothing is told of it
SectionLike = Annotated[Figured, BeforeValidator(_section)]
MaterialLike = Annotated[Material, BeforeValidator(_material)]
