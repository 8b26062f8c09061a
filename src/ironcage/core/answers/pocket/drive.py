"""Sums of the car: chain length, gear and speed, corner weights."""

from __future__ import annotations

import math

from ironcage.core.answers.pocket.sum import Ask, Sketch, Sum, Told, Values
from ironcage.core.calc.car.chain import fit
from ironcage.units.quantity import COUNT, LENGTH, MASS, NUMBER, SHARE, SPEED, TURNS


def _chain(v: Values) -> tuple[Told, ...]:
    made = fit(v["pitch"], (round(v["driving teeth"]), round(v["driven teeth"])), v["centres"])
    return (
        Told("links", made.links, None, f"{made.links} links"),
        Told("centres where the chain is tight", made.centres, LENGTH),
        Told("move apart by", made.take_up, LENGTH),
        Told("slack now, middle of the run pushed", made.sag, LENGTH),
        Told("ratio", v["driven teeth"] / v["driving teeth"], NUMBER),
    )


def _speed(v: Values) -> tuple[Told, ...]:
    turns = v["engine"] / v["gear"] / v["final"]
    speed = turns / 60 * math.pi * v["tyre"] / 1000
    return (
        Told("speed", speed, SPEED),
        Told("wheel", turns, TURNS),
        Told("speed for 1,000 rpm", 1000 * speed / v["engine"], SPEED),
    )


def _corners(v: Values) -> tuple[Told, ...]:
    left, right = v["front left"] + v["rear left"], v["front right"] + v["rear right"]
    front, whole = v["front left"] + v["front right"], left + right
    cross = (v["front right"] + v["rear left"]) / whole
    even = front / whole * (right / whole) + (1 - front / whole) * (left / whole)
    return (
        Told("whole", whole, MASS),
        Told("front", front / whole, SHARE),
        Told("left", left / whole, SHARE),
        Told("cross, front right and rear left", cross, SHARE),
        Told("more on each of front right and rear left", (even - cross) * whole / 2, MASS),
    )


SUMS = (
    Sum(
        "chain",
        "Links of a chain between two sprockets",
        (
            Ask("pitch", LENGTH, 15.875, 1.0, 100.0),
            Ask("driving teeth", COUNT, 15, 6, 250),
            Ask("driven teeth", COUNT, 40, 6, 250),
            Ask("centres", LENGTH, 430.0, 1.0, 20_000.0),
        ),
        "pitches = 2·C·cos α / p + z₁·(½ − α/π) + z₂·(½ + α/π), sin α = (R₂ − R₁) / C",
        Sketch(
            (
                tuple((22 + 9 * math.cos(a / 8 * math.pi), 30 + 9 * math.sin(a / 8 * math.pi)) for a in range(17)),
                tuple((72 + 20 * math.cos(a / 8 * math.pi), 30 + 20 * math.sin(a / 8 * math.pi)) for a in range(17)),
                ((20, 39), (68, 50)),
                ((20, 21), (68, 10)),
            ),
            (((22, 30), (72, 30)),),
            ((42, 32, "centres"),),
        ),
        _chain,
    ),
    Sum(
        "speed",
        "Road speed by engine, gears and tyre",
        (
            Ask("engine", TURNS, 9000.0, 1.0, 50_000.0),
            Ask("gear", NUMBER, 2.8, 0.01, 100.0),
            Ask("final", NUMBER, 2.67, 0.01, 100.0),
            Ask("tyre", LENGTH, 580.0, 10.0, 5000.0),
        ),
        "speed = engine / gear / final · π · tyre",
        Sketch(
            (
                tuple((50 + 22 * math.cos(a / 12 * math.pi), 28 + 22 * math.sin(a / 12 * math.pi)) for a in range(25)),
                ((8, 6), (92, 6)),
            ),
            (((50, 6), (50, 50)),),
            ((52, 30, "tyre"),),
        ),
        _speed,
    ),
    Sum(
        "corner weights",
        "Four scales: shares, and what to move across",
        tuple(
            Ask(f"{end} {side}", MASS, kg, 0.1, 1e5)
            for end, side, kg in (
                ("front", "left", 118.0),
                ("front", "right", 121.0),
                ("rear", "left", 150.0),
                ("rear", "right", 146.0),
            )
        ),
        "cross = (front right + rear left) / whole; even where front and rear carry left and right alike",
        Sketch(
            (((20, 10), (80, 10), (80, 50), (20, 50), (20, 10)),),
            (((20, 10), (80, 50)), ((20, 50), (80, 10))),
            ((6, 53, "front left"), (74, 53, "front right"), (6, 3, "rear left"), (74, 3, "rear right")),
        ),
        _corners,
    ),
)
