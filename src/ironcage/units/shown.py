"""Write internal values as the builder reads them."""

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ironcage.units import typed
from ironcage.units.tables import INCH

LBF_FT = 1355.8179483314  # N·mm
LB = 0.45359237  # kg


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
        return typed.mass(text, LB if self.mass_unit == "lb" else 1.0)

    def length(self, mm: float, *, unit: bool = True) -> str:
        """A length in mm as text. Without `unit` it is for a column or a tag whose heading says the unit and
        `rounding`."""
        if self.length_unit == "mm":
            return f"{_clean(mm, 1)} mm" if unit else _clean(mm, 1)
        if not self.fraction:
            return f'{_clean(mm / INCH, 3)}"'
        return _inch_fraction(mm / INCH, self.fraction, say=unit)

    @property
    def rounding(self) -> str:
        """How far a shown length may be from the true one; empty where a decimal says it."""
        inexact = self.length_unit == "inch" and self.fraction
        return f'to 1/{self.fraction}" ±1/{2 * self.fraction}' if inexact else ""

    def fine(self, mm: float) -> str:
        """A length in mm with one more place, for small displacements and walls."""
        return f"{_clean(mm, 2)} mm" if self.length_unit == "mm" else f'{_clean(mm / INCH, 3)}"'

    def metres(self, mm: float) -> str:
        """A long length in mm, as metres or feet."""
        return f"{mm / 1000:.2f} m" if self.length_unit == "mm" else f"{mm / (12 * INCH):.1f} ft"

    def point(self, xyz_mm: tuple[float, float, float]) -> str:
        """Three lengths side by side."""
        return "  ".join(f"{axis} {self.length(v, unit=False)}" for axis, v in zip("xyz", xyz_mm, strict=True))

    def mass(self, kg: float) -> str:
        """A mass in kg as text."""
        return f"{_clean(kg / LB, 1)} lb" if self.mass_unit == "lb" else f"{_clean(kg, 1)} kg"

    def change_of_mass(self, kg: float) -> str:
        """By how much something gets heavier or lighter, with its sign, to 10 g."""
        text = f"{abs(kg) / LB:.2f} lb" if self.mass_unit == "lb" else f"{abs(kg):.2f} kg"
        return f"{'−' if kg < 0 else '+'}{text}"

    def torsional_stiffness(self, n_mm_per_rad: float) -> str:
        """A torsional stiffness in N·mm/rad, as N·m/deg or lbf·ft/deg."""
        per_degree = n_mm_per_rad * math.pi / 180
        if self.length_unit == "inch":
            return f"{per_degree / LBF_FT:,.0f} lbf·ft/deg"
        return f"{per_degree / 1000:,.0f} N·m/deg"

    def speed(self, m_per_s: float) -> str:
        """A road speed in m/s, as km/h or mph."""
        return f"{m_per_s * 2.2369362920544:.1f} mph" if self.length_unit == "inch" else f"{m_per_s * 3.6:.1f} km/h"

    def torque(self, n_m: float) -> str:
        """A torque in N·m, as N·m or lbf·ft."""
        return f"{n_m * 1000 / LBF_FT:,.0f} lbf·ft" if self.length_unit == "inch" else f"{n_m:,.0f} N·m"

    def linear_stiffness(self, n_per_mm: float) -> str:
        """A stiffness in N/mm, as N/mm or lbf/in."""
        if self.length_unit == "inch":
            return f"{n_per_mm * INCH / 4.4482216152605:,.0f} lbf/in"
        return f"{n_per_mm:,.0f} N/mm"


METRIC = Units()


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
