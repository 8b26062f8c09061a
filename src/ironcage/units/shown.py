"""Write internal values as the builder reads them, and read the builder's bare numbers in the same units."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ironcage import told
from ironcage.units import typed
from ironcage.units.tables import HORSEPOWER_KW, INCH, LB, LBF, LBF_FT

SAMPLE_TORSIONAL = 2500e3 * 180 / math.pi  # N·mm/rad, for an example


@dataclass(frozen=True)
class Units:
    """The builder's choice: what bare numbers mean and how figures are written.

    `fraction` is the finest inch fraction shown (0 for decimal inches). Rounding to a fraction is said
    with ± half of it.
    """

    length_unit: Literal["mm", "inch"] = "mm"
    fraction: int = 16
    mass_unit: Literal["kg", "lb"] = "kg"

    @property
    def bare_mm(self) -> float:
        """What a length typed without a unit counts in, mm."""
        return INCH if self.length_unit == "inch" else 1.0

    @property
    def snap_mm(self) -> float:
        """The round value that dragging snaps to, mm."""
        return INCH / 4 if self.length_unit == "inch" else 5.0

    def read_length(self, text: str) -> float:
        """A typed length, mm."""
        return typed.length(text, self.bare_mm)

    def read_mass(self, text: str) -> float:
        """A typed mass, kg."""
        return typed.mass(text, self.bare_kg)

    @property
    def bare_kg(self) -> float:
        """What a mass typed without a unit counts in, kg."""
        return LB if self.mass_unit == "lb" else 1.0

    @property
    def inches(self) -> bool:
        """Whether the builder counts in inches, and so in pounds of force, feet and horsepower."""
        return self.length_unit == "inch"

    def read_force(self, text: str) -> float:
        """A typed force, N."""
        return typed.force(text, LBF if self.inches else 1.0)

    def read_torque(self, text: str) -> float:
        """A typed torque, N·m."""
        return typed.torque(text, LBF_FT / 1000 if self.inches else 1.0, self.torque(140))

    def read_power(self, text: str) -> float:
        """A typed power, kW."""
        return typed.power(text, HORSEPOWER_KW if self.inches else 1.0, self.power(80))

    def read_torsional_stiffness(self, text: str) -> float:
        """A typed torsional stiffness, N·mm/rad."""
        return typed.torsional_stiffness(
            text, self.bare_torsional_stiffness, self.torsional_stiffness(SAMPLE_TORSIONAL)
        )

    @property
    def bare_torsional_stiffness(self) -> float:
        """What a torsional stiffness without a unit counts in, N·mm/rad."""
        return (LBF_FT if self.inches else 1000.0) * 180 / math.pi

    def read_linear_stiffness(self, text: str) -> float:
        """A typed stiffness, N/mm."""
        return typed.linear_stiffness(text, LBF / INCH if self.inches else 1.0, self.linear_stiffness(800))

    def say(self, text: str) -> str:
        """A text with the quantities that it carries (`ironcage.told`) written out."""
        return told.rewrite(text, lambda kind, value: WRITERS[kind](self, value))

    def length(self, mm: float, *, unit: bool = True) -> str:
        """A length in mm as text. Without `unit` it is for a column or a tag whose heading says the unit and
        `rounding`."""
        if self.length_unit == "mm":
            return f"{_clean(mm, 1)} mm" if unit else _clean(mm, 1)
        if not self.fraction:
            return f'{_clean(mm / INCH, 3)}"'
        return _inch_fraction(mm / INCH, self.fraction, say=unit)

    def reading(self, mm: float) -> str:
        """A length in mm as text, for a column, a tag or an axis whose words say the unit."""
        return self.length(mm, unit=False)

    @property
    def rounding(self) -> str:
        """How far a shown length may be from the true one; empty where a decimal says it."""
        inexact = self.length_unit == "inch" and self.fraction
        return f'to 1/{self.fraction}" ±1/{2 * self.fraction}' if inexact else ""

    def fine(self, mm: float, *, unit: bool = True) -> str:
        """A length in mm with one more place, for small displacements and walls. Without `unit` it is for a column
        whose heading says `length_name`."""
        text = _clean(mm / INCH, 3) if self.inches else _clean(mm, 2)
        return text if not unit else f'{text}"' if self.inches else f"{text} mm"

    def metres(self, mm: float) -> str:
        """A long length in mm, as metres or feet."""
        return f"{mm / 1000:.2f} m" if self.length_unit == "mm" else f"{mm / (12 * INCH):.1f} ft"

    def far(self, mm: float) -> str:
        """A length in mm far beyond any frame, as metres or feet."""
        return f"{mm / (12 * INCH):,.0f} ft" if self.inches else f"{mm / 1000:,.0f} m"

    def point(self, xyz_mm: tuple[float, float, float]) -> str:
        """Three lengths side by side."""
        return "  ".join(f"{axis} {self.length(v, unit=False)}" for axis, v in zip("xyz", xyz_mm, strict=True))

    def mass(self, kg: float, *, unit: bool = True) -> str:
        """A mass in kg as text; without `unit` for a column whose heading says `mass_unit`."""
        figure = _clean(kg / self.bare_kg, 1)
        return f"{figure} {self.mass_unit}" if unit else figure

    def whole_mass(self, kg: float) -> str:
        """A mass in kg to the kilogram or the pound."""
        return f"{kg / self.bare_kg:,.0f} {self.mass_unit}"

    def limit(self, mm: float, *, unit: bool = True) -> str:
        """A size in mm as a micrometer reads it, `25.035 mm` or `0.9856"`."""
        text = _clean(mm / INCH, 4) if self.inches else _clean(mm, 3)
        return text if not unit else f'{text}"' if self.inches else f"{text} mm"

    def fine_mass(self, kg: float, *, unit: bool = True) -> str:
        """A mass in kg to 10 g, or to 0.01 lb; without `unit` for a column whose heading says `mass_unit`."""
        figure = f"{kg / self.bare_kg:.2f}"
        return f"{figure} {self.mass_unit}" if unit else figure

    def change_of_mass(self, kg: float, *, unit: bool = True) -> str:
        """By how much something gets heavier or lighter, with its sign, as `fine_mass` says masses."""
        return f"{'−' if kg < 0 else '+'}{self.fine_mass(abs(kg), unit=unit)}"

    @property
    def length_name(self) -> str:
        """What lengths count in, for headings."""
        return "in" if self.inches else "mm"

    def in_length(self, mm: float) -> float:
        """A length in mm as a number of `length_name`."""
        return mm / INCH if self.inches else mm

    @property
    def torsional_stiffness_name(self) -> str:
        """What torsional stiffness counts in, for headings."""
        return "lbf·ft/deg" if self.inches else "N·m/deg"

    @property
    def linear_stiffness_name(self) -> str:
        """What a stiffness along a line counts in, for headings."""
        return "lbf/in" if self.inches else "N/mm"

    @property
    def force_name(self) -> str:
        """What large forces count in, for headings."""
        return "lbf" if self.inches else "kN"

    def in_torsional_stiffness(self, n_mm_per_rad: float) -> float:
        """How many of `torsional_stiffness_name` a torsional stiffness in N·mm/rad is."""
        return n_mm_per_rad / self.bare_torsional_stiffness

    def torsional_stiffness(self, n_mm_per_rad: float) -> str:
        """A torsional stiffness in N·mm/rad, as N·m/deg or lbf·ft/deg."""
        return f"{self.in_torsional_stiffness(n_mm_per_rad):,.0f} {self.torsional_stiffness_name}"

    def torsional_stiffness_per_mass(self, n_mm_per_rad_per_kg: float) -> str:
        """A torsional stiffness for each of its mass, as a number of `torsional_stiffness_name` per `mass_unit`."""
        return f"{self.in_torsional_stiffness(n_mm_per_rad_per_kg * self.bare_kg):.1f}"

    def speed(self, m_per_s: float) -> str:
        """A road speed in m/s, as km/h or mph."""
        return f"{m_per_s * 2.2369362920544:.1f} mph" if self.inches else f"{m_per_s * 3.6:.1f} km/h"

    @property
    def torque_name(self) -> str:
        """What torques count in, for headings."""
        return "lbf·ft" if self.inches else "N·m"

    def in_torque(self, n_m: float) -> str:
        """A torque in N·m as a number of `torque_name`."""
        return f"{n_m * 1000 / LBF_FT if self.inches else n_m:,.0f}"

    def torque(self, n_m: float) -> str:
        """A torque in N·m, as N·m or lbf·ft."""
        return f"{self.in_torque(n_m)} {self.torque_name}"

    def power(self, kw: float) -> str:
        """A power in kW, as kW or hp."""
        return f"{kw / HORSEPOWER_KW:,.0f} hp" if self.inches else f"{kw:,.0f} kW"

    def linear_stiffness(self, n_per_mm: float) -> str:
        """A stiffness in N/mm, as N/mm or lbf/in."""
        return f"{self.in_linear_stiffness(n_per_mm):,.0f} {self.linear_stiffness_name}"

    def spring_rate(self, n_per_mm: float) -> str:
        """A spring's or a wheel's rate in N/mm, finer than a frame's stiffness is told."""
        return f"{self.in_linear_stiffness(n_per_mm):.1f} {self.linear_stiffness_name}"

    def in_linear_stiffness(self, n_per_mm: float) -> float:
        """How many of `linear_stiffness_name` a stiffness in N/mm is."""
        return n_per_mm * INCH / LBF if self.inches else n_per_mm

    def force(self, newtons: float) -> str:
        """A force in N, as kN to 10 N or as lbf."""
        return f"{self.in_force(newtons)} {self.force_name}"

    def in_force(self, newtons: float) -> str:
        """A force in N as a number of `force_name`."""
        return f"{newtons / LBF:z,.0f}" if self.inches else f"{newtons / 1000:z.2f}"

    def small_force(self, newtons: float) -> str:
        """A force in N, as N or lbf."""
        return f"{newtons / LBF:,.0f} lbf" if self.inches else f"{newtons:,.0f} N"

    def round_force(self, newtons: float) -> str:
        """A force that is a round figure in kN, as that or as lbf."""
        return f"{newtons / LBF:,.0f} lbf" if self.inches else f"{newtons / 1000:g} kN"

    def turn_of_length(self, rad_per_mm: float) -> str:
        """A twist along the frame in rad/mm, as degrees a metre or a foot."""
        per = 12 * INCH if self.inches else 1000
        return f"{math.degrees(rad_per_mm) * per:.3f}° a {'foot' if self.inches else 'metre'}"

    def mass_of_length(self, kg_per_mm: float) -> str:
        """What a tube weighs along its length, kg/mm, as a number of `mass_of_length_name`."""
        return f"{kg_per_mm * (12 * INCH if self.inches else 1000) / self.bare_kg:.2f}"

    @property
    def sheet_area_name(self) -> str:
        """What areas of sheet count in, for headings."""
        return "ft²" if self.inches else "m²"

    def sheet_area(self, mm2: float) -> str:
        """An area of sheet in mm² as a number of `sheet_area_name`."""
        return f"{mm2 / (12 * INCH) ** 2:.2f}" if self.inches else f"{mm2 / 1e6:.3f}"

    def area(self, mm2: float) -> str:
        """An area in mm² as a number of square `length_name`."""
        return f"{mm2 / INCH**2:.3f}" if self.inches else f"{mm2:.0f}"

    @property
    def mass_of_length_name(self) -> str:
        """What a tube's mass along its length counts in, for headings."""
        return f"{self.mass_unit}/{'ft' if self.inches else 'm'}"

    def whole(self, mm: float) -> str:
        """A length in mm to the nearest millimetre, or as lengths are in inches."""
        return self.length(mm) if self.inches else f"{_clean(mm, 0)} mm"

    def size(self, mm: float) -> str:
        """A size as it is bought, in mm: `25.4 mm`, or decimal inches: `0.083"`."""
        return self.sizes(mm) if self.inches else f"{mm:g} mm"

    def sizes(self, mm: float) -> str:
        """A size in a row of sizes, which say no mm: `40`, `1.5"`."""
        return f'{_clean(mm / INCH, 3).rstrip("0").rstrip(".")}"' if self.inches else f"{mm:g}"

    def whole_sizes(self, mm: float) -> str:
        """A measured size in a row of sizes: to the millimetre, or to 0.01"."""
        return f'{mm / INCH:.2f}"' if self.inches else _clean(mm, 0)

    def typing(self, mm: float) -> str:
        """A length in mm as it is typed and reads back the same."""
        return f"{mm / self.bare_mm:.6g}"

    def typing_mass(self, kg: float) -> str:
        """A mass in kg as it is typed and reads back the same."""
        return f"{kg / self.bare_kg:.6g}"

    def sample(self, mm: float) -> str:
        """About a length in mm, as a round number that is typed: for examples."""
        return f"{_round_inches(mm / INCH):g}" if self.inches else f"{mm:g}"

    def sample_mass(self, kg: float) -> str:
        """About a mass in kg, as a round one that is typed: for examples."""
        return f"{self.sample_bare_mass(kg)} {self.mass_unit}"

    def sample_bare_mass(self, kg: float) -> str:
        """About a mass in kg, as a round number that is typed: for examples."""
        if self.mass_unit == "kg":
            return f"{kg:g}"
        return f"{round(kg / LB) if kg > 2 else round(kg / LB, 1):g}"

    def sample_torsional_stiffness(self, n_mm_per_rad: float) -> str:
        """About a torsional stiffness in N·mm/rad, as a round number that is typed: for examples."""
        return f"{float(f'{self.in_torsional_stiffness(n_mm_per_rad):.2g}'):.0f}"

    def sample_linear_stiffness(self, n_per_mm: float) -> str:
        """About a stiffness in N/mm, as a round number that is typed: for examples."""
        return f"{float(f'{self.in_linear_stiffness(n_per_mm):.2g}'):.0f}"

    def sample_force(self, newtons: float) -> str:
        """About a force in N, as a round one that is typed: for examples."""
        return f"{float(f'{newtons / LBF:.2g}'):.0f} lbf" if self.inches else f"{newtons / 1000:g} kN"


METRIC = Units()
IMPERIAL = Units("inch", 16, "lb")
WRITERS: Mapping[str, Callable[[Units, float], str]] = {
    name: getattr(Units, name)
    for name in (
        "length",
        "reading",
        "whole",
        "fine",
        "limit",
        "size",
        "sizes",
        "whole_sizes",
        "typing",
        "sample",
        "far",
        "metres",
        "mass",
        "fine_mass",
        "whole_mass",
        "sample_mass",
        "sample_bare_mass",
        "torsional_stiffness",
        "sample_torsional_stiffness",
        "sample_linear_stiffness",
        "linear_stiffness",
        "spring_rate",
        "force",
        "torque",
        "power",
        "force",
        "small_force",
        "round_force",
        "sample_force",
        "turn_of_length",
    )
}


def written(kind: str, value: float) -> str:
    """A quantity that stands in a text and is written out by `Units.say`. kind: one of the ways of `Units`."""
    return told.mark(kind, value, WRITERS[kind](METRIC, value))


def _round_inches(inches: float) -> float:
    """Inches as somebody would choose them for an example."""
    size = abs(inches)
    if size >= 10:
        return round(inches)
    return round(inches * 4) / 4 if size >= 1 else round(inches * 16) / 16 if size > 0.3 else float(f"{inches:.2g}")


def _clean(value: float, places: int) -> str:
    text = f"{value:.{places}f}"
    return text[1:] if text.startswith("-") and not float(text) else text


def _inch_fraction(inches: float, finest: int, *, say: bool) -> str:
    steps = round(abs(inches) * finest)
    exact = math.isclose(abs(inches) * finest, steps, abs_tol=finest * 5e-4)
    whole, part = divmod(steps, finest)
    sign = "-" if inches < 0 and steps else ""
    fraction = f"{Fraction(part, finest)}" if part else ""
    body = " ".join(filter(None, [str(whole) if whole or not part else "", fraction]))
    return f'{sign}{body}"' + ("" if exact or not say else f" ±1/{2 * finest}")


def angle(radians: float, places: int = 1) -> str:
    """An angle in radians as degrees."""
    return f"{_clean(math.degrees(radians), places)}°"


def angle_minutes(radians: float) -> str:
    """An angle in radians as degrees and minutes, as a protractor with a vernier reads."""
    minutes = round(math.degrees(abs(radians)) * 60)
    return f"{'-' if radians < 0 and minutes else ''}{minutes // 60}°{minutes % 60:02d}'"
