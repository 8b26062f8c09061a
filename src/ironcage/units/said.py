"""Quantities for the sentences that the core says: each stands in the text as a mark and is written out in the
reader's units (`ironcage.told`, `Units.say`)."""

import re

from ironcage.units.shown import written
from ironcage.units.tables import N_M_PER_DEGREE


def length(mm: float) -> str:
    """A measured length, `12.5 mm` or `1/2"`."""
    return written("length", mm)


def reading(mm: float) -> str:
    """A measured length beside the axis it is read on, `-950.0` or `-37 3/8"`."""
    return written("reading", mm)


def whole(mm: float) -> str:
    """A length that is told to the millimetre, `120 mm` or `4 3/4"`."""
    return written("whole", mm)


def fine(mm: float) -> str:
    """A small length, `0.12 mm` or `0.005"`."""
    return written("fine", mm)


def size(mm: float) -> str:
    """A size as it is bought, `25.4 mm` or `1"`."""
    return written("size", mm)


def sizes(mm: float) -> str:
    """A size in a row of sizes that says no unit in metric: `40` or `1.575"`."""
    return written("sizes", mm)


def whole_sizes(mm: float) -> str:
    """A measured size in a row of sizes: `212` or `8.35"`."""
    return written("whole_sizes", mm)


def typing(mm: float) -> str:
    """A length inside a line that can be typed as it stands and means the same: `38` or `1.49606`."""
    return written("typing", mm)


def metres(mm: float) -> str:
    """A length of material, `1.24 m` or `4.1 ft`."""
    return written("metres", mm)


def far(mm: float) -> str:
    """A length far beyond any frame, `1,200 m` or `3,937 ft`."""
    return written("far", mm)


def limit(mm: float) -> str:
    """A size as a micrometer reads it, `25.035 mm` or `0.9856"`."""
    return written("limit", mm)


def fine_mass(kg: float) -> str:
    """A mass to 10 g, `12.43 kg` or `27.40 lb`."""
    return written("fine_mass", kg)


def whole_mass(kg: float) -> str:
    """A mass to the kilogram or pound, `700 kg` or `1,543 lb`."""
    return written("whole_mass", kg)


def mass(kg: float) -> str:
    """A mass, `12.4 kg` or `27.3 lb`."""
    return written("mass", kg)


def torsional_stiffness(n_mm_per_rad: float) -> str:
    """A torsional stiffness, `2,500 N·m/deg` or `1,844 lbf·ft/deg`."""
    return written("torsional_stiffness", n_mm_per_rad)


def linear_stiffness(n_per_mm: float) -> str:
    """A stiffness along a line, `800 N/mm` or `4,568 lbf/in`."""
    return written("linear_stiffness", n_per_mm)


def spring_rate(n_per_mm: float) -> str:
    """A spring's or a wheel's rate, `28.0 N/mm` or `159.9 lbf/in`."""
    return written("spring_rate", n_per_mm)


def force(newtons: float) -> str:
    """A force, `1.24 kN` or `279 lbf`."""
    return written("force", newtons)


def torque(n_m: float) -> str:
    """A torque, `140 N·m` or `103 lbf·ft`."""
    return written("torque", n_m)


def round_force(newtons: float) -> str:
    """A force that is a round figure in kN, `1 kN` or `225 lbf`."""
    return written("round_force", newtons)


def turn_of_length(rad_per_mm: float) -> str:
    """A twist along the frame, `0.123° a metre` or `0.037° a foot`."""
    return written("turn_of_length", rad_per_mm)


_SAMPLE = re.compile(r"\[(-?[\d.]+)(?: (kg|in kg|kN|N·m/deg|N/mm))?\]")
_SAMPLES = {
    None: ("sample", 1.0),
    "kg": ("sample_mass", 1.0),
    "in kg": ("sample_bare_mass", 1.0),
    "kN": ("sample_force", 1000.0),
    "N·m/deg": ("sample_torsional_stiffness", 1 / N_M_PER_DEGREE),
    "N/mm": ("sample_linear_stiffness", 1.0),
}


def example(line: str) -> str:
    """An example of what can be typed. Figures in brackets, `[300]` mm, `[40 kg]`, `[40 in kg]` without its unit,
    `[12 kN]`, `[300 N·m/deg]`, `[800 N/mm]`, are read as about that much in round figures of the reader's units."""

    def sample(match: re.Match[str]) -> str:
        kind, unit = _SAMPLES[match[2]]
        return written(kind, float(match[1]) * unit)

    return _SAMPLE.sub(sample, line)
