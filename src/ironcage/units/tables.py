"""Gauge and pipe tables, in mm.

Tube walls by the Birmingham wire gauge (BWG), the gauge tube mills quote for walls; sheet steel by the manufacturers'
standard gauge (15 USC 206). Pipe by nominal size and schedule after ASME B36.10M.
"""

import math

INCH = 25.4  # mm
LB = 0.45359237  # kg
LBF = 4.4482216152605  # N
MPA_PER_PSI = LBF / INCH**2
LBF_FT = 1355.8179483314  # N·mm
HORSEPOWER_KW = 0.74569987158227  # mechanical, 550 ft·lbf/s
UNITS_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "inch": 25.4, "m": 1000.0}  # what lists and drawings count in

_BWG_INCH = {
    4: 0.238, 5: 0.220, 6: 0.203, 7: 0.180, 8: 0.165, 9: 0.148, 10: 0.134, 11: 0.120, 12: 0.109,
    13: 0.095, 14: 0.083, 15: 0.072, 16: 0.065, 17: 0.058, 18: 0.049, 19: 0.042, 20: 0.035,
    21: 0.032, 22: 0.028, 23: 0.025, 24: 0.022,
}  # fmt: skip
_SHEET_INCH = {
    3: 0.2391, 4: 0.2242, 5: 0.2092, 6: 0.1943, 7: 0.1793, 8: 0.1644, 9: 0.1495, 10: 0.1345,
    11: 0.1196, 12: 0.1046, 13: 0.0897, 14: 0.0747, 15: 0.0673, 16: 0.0598, 17: 0.0538, 18: 0.0478,
    19: 0.0418, 20: 0.0359, 22: 0.0299, 24: 0.0239,
}  # fmt: skip

TUBE_GAUGE_MM = {gauge: inch * INCH for gauge, inch in _BWG_INCH.items()}
SHEET_GAUGE_MM = {gauge: inch * INCH for gauge, inch in _SHEET_INCH.items()}

# nominal size -> (outside diameter, {schedule: wall}), inches
_PIPE_INCH: dict[str, tuple[float, dict[str, float]]] = {
    "1/8": (0.405, {"40": 0.068, "80": 0.095}),
    "1/4": (0.540, {"40": 0.088, "80": 0.119}),
    "3/8": (0.675, {"40": 0.091, "80": 0.126}),
    "1/2": (0.840, {"5": 0.065, "10": 0.083, "40": 0.109, "80": 0.147, "160": 0.188}),
    "3/4": (1.050, {"5": 0.065, "10": 0.083, "40": 0.113, "80": 0.154, "160": 0.219}),
    "1": (1.315, {"5": 0.065, "10": 0.109, "40": 0.133, "80": 0.179, "160": 0.250}),
    "1 1/4": (1.660, {"5": 0.065, "10": 0.109, "40": 0.140, "80": 0.191, "160": 0.250}),
    "1 1/2": (1.900, {"5": 0.065, "10": 0.109, "40": 0.145, "80": 0.200, "160": 0.281}),
    "2": (2.375, {"5": 0.065, "10": 0.109, "40": 0.154, "80": 0.218, "160": 0.344}),
    "2 1/2": (2.875, {"5": 0.083, "10": 0.120, "40": 0.203, "80": 0.276, "160": 0.375}),
    "3": (3.500, {"5": 0.083, "10": 0.120, "40": 0.216, "80": 0.300, "160": 0.438}),
}

PIPE_MM: dict[str, tuple[float, dict[str, float]]] = {
    size: (od * INCH, {schedule: wall * INCH for schedule, wall in walls.items()})
    for size, (od, walls) in _PIPE_INCH.items()
}

N_M_PER_DEGREE = math.pi / 180 / 1000  # what a stiffness of one N·mm/rad is in N·m/deg
