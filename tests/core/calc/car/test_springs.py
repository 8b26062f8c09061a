"""A wheel on its spring, against closed forms and energies."""

import math

import numpy as np
import pytest

from ironcage.core.calc.car.springs import (
    SPRING_STEEL_G,
    bar_stiffness,
    frequency,
    leaning_stiffness,
    rate_for,
    roll_stiffness,
    wheel_rate,
)


def test_a_spring_beside_the_wheel_swings_as_a_mass_on_a_spring_does() -> None:
    """100 kg on 15.791 N/mm: √(15791 / 100) / 2π = 2 Hz."""
    assert frequency(15.791367, 100.0) == pytest.approx(2.0, abs=1e-6)
    assert rate_for(2.0, 100.0, 981.0, 1.0, 0.0) == pytest.approx(15.791367, abs=1e-6)
    assert rate_for(2.0, 100.0, 1962.0, 0.5, 0.0) == pytest.approx(4 * 15.791367, abs=1e-5)


def test_the_wheels_rate_is_how_its_load_changes() -> None:
    """A spring from a place 300 beside and 400 above the hub to the hub, which moves straight up."""
    rate, alone = 40.0, 560.0

    def length(travel: np.ndarray) -> np.ndarray:
        return np.hypot(300.0, 400.0 - travel)

    travel = np.linspace(-40, 40, 8001)
    ratio = (400.0 - travel) / length(travel)
    force = rate * (alone - length(travel))
    load = force * ratio
    told = wheel_rate(rate, force, ratio, np.gradient(ratio, travel))
    assert told[1:-1] == pytest.approx(np.gradient(load, travel)[1:-1], abs=1e-3)


def test_a_rate_that_is_asked_for_swings_as_asked() -> None:
    rate = rate_for(1.7, 120.0, 2500.0, 0.45, 4e-4)
    assert frequency(wheel_rate(rate, 2500.0, 0.45, 4e-4), 120.0) == pytest.approx(1.7)


def test_two_wheels_hold_a_leaning_car_as_far_apart_as_they_are() -> None:
    """20 N/mm each, 1200 apart: a lean φ moves each by 600·φ, so the moment is 2·20·600²·φ."""
    assert roll_stiffness(20.0, 1200.0) == pytest.approx(2 * 20 * 600**2)


@pytest.mark.parametrize("inwards", [0.0, 150.0])
def test_springs_on_a_leaning_axle_hold_it_by_their_energy(inwards: float) -> None:
    """Feet 400 to either side of an axle that leans about its middle, tops 500 above and so far further in."""
    rate, squeeze, lean = 30.0, 60.0, 1e-3

    def length(angle: float) -> float:
        foot = 400 * np.array([math.cos(angle), math.sin(angle)])
        return float(np.linalg.norm(np.array([400 - inwards, 500]) - foot))

    def energy(angle: float) -> float:
        pressed = [squeeze + length(0) - length(way * angle) for way in (1, -1)]
        return sum(rate / 2 * p**2 for p in pressed)

    rise = (length(lean) - length(-lean)) / (2 * lean)
    bend = (length(lean) - 2 * length(0) + length(-lean)) / lean**2
    by_energy = (energy(2e-3) - 2 * energy(0) + energy(-2e-3)) / 2e-3**2
    assert leaning_stiffness(rate, squeeze, rise, bend) == pytest.approx(by_energy, rel=1e-5)


def test_an_anti_roll_bar_holds_by_the_twist_of_its_middle() -> None:
    od, bore, length, arm, ratio, track = 22.0, 16.0, 760.0, 180.0, 0.6, 1320.0
    lean = 0.01
    drop = ratio * track / 2 * lean  # of each drop link, one up and one down
    torque = SPRING_STEEL_G * math.pi * ((od / 2) ** 4 - (bore / 2) ** 4) / 2 / length * 2 * drop / arm
    by_wheels = 2 * (torque / arm * ratio) * track / 2  # what both wheels push with, half a track from the middle
    assert bar_stiffness(od, bore, length, arm, ratio, track) * lean == pytest.approx(by_wheels)
