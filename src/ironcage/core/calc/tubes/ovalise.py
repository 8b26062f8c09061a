"""How much softer a bent round tube is in bending because its section goes oval."""

from ironcage.core.calc.sections import AnySection


def flexibility(radius: float, shape: AnySection) -> float:
    """The factor (12·h² + 10) / (12·h² + 1) on the curvature of a bend, with h = t·R/r² of its wall t, centreline
    radius R and section's middle radius r (mm).

    Von Kármán 1911 for bending in the bend's plane; Vigness 1943 found the same out of it. The first term of a series:
    good for h over 0.3, as tube bends have.
    """
    middle = (shape.size[0] - shape.wall_mm) / 2
    h = shape.wall_mm * radius / middle**2
    return (12 * h * h + 10) / (12 * h * h + 1)
