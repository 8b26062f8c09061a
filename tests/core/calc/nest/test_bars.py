"""Bars: what is bought is held against every way of cutting small jobs, and against the bound for large ones."""

import math
import random
from itertools import combinations

import pytest

from ironcage.core.calc.nest.bars import Layout, Saw, lay_out
from ironcage.problem import Problem


def fewest_bars(lengths: tuple[float, ...], length: float, saw: Saw) -> int:
    """The least bars of one length, by trying every set of parts that a bar can hold."""
    room = length - saw.grip + saw.kerf
    count = len(lengths)
    holds = [
        sum(1 << n for n in chosen)
        for size in range(1, count + 1)
        for chosen in combinations(range(count), size)
        if sum(lengths[n] + saw.kerf for n in chosen) <= room + 1e-9
    ]
    least = {0: 0}
    for state in range(1 << count):
        if state in least:
            for held in holds:
                after = state | held
                if after != state:
                    least[after] = min(least.get(after, count), least[state] + 1)
    return least[(1 << count) - 1]


def sums(made: Layout, lengths, saw: Saw) -> None:
    """Every part is cut once, and each bar is its parts, kerfs, grip and rest; the last cut may run out of its end."""
    assert sorted(n for bar in made.bars for n in bar.parts) == list(range(len(lengths)))
    for bar in made.bars:
        taken = sum(lengths[n] for n in bar.parts) + saw.kerf * len(bar.parts) + saw.grip + bar.rest
        assert bar.length - 0.01 <= taken <= bar.length + saw.kerf + 0.01
        assert [lengths[n] for n in bar.parts] == sorted((lengths[n] for n in bar.parts), reverse=True)


@pytest.mark.parametrize("seed", range(12))
def test_as_few_bars_as_any_way_of_cutting_a_small_job(seed: int) -> None:
    rng = random.Random(seed)
    lengths = tuple(rng.uniform(150, 1500) for _ in range(8))
    saw = Saw(kerf=rng.choice((0.0, 2.5)), grip=rng.choice((0.0, 80.0)))
    made = lay_out(lengths, [2500.0], [], saw)
    sums(made, lengths, saw)
    assert len(made.bars) == fewest_bars(lengths, 2500.0, saw)
    assert made.bound <= made.bought == 2500.0 * len(made.bars)


def test_three_hundred_parts_come_within_a_hundredth_of_the_bound() -> None:
    rng = random.Random(2)
    lengths = [rng.uniform(120, 2400) for _ in range(300)]
    saw = Saw(kerf=2.5, grip=50.0)
    for stock in ([6000.0], [6000.0, 7500.0], [240 * 25.4, 288 * 25.4]):
        made = lay_out(lengths, stock, [], saw)
        sums(made, lengths, saw)
        need = sum(lengths) + 300 * saw.kerf  # the last cut of each bar may run out of its end: a kerf more room
        least = min(need / (length - saw.grip + saw.kerf) * length for length in stock)
        assert least <= made.bound + 0.1
        assert made.bought <= 1.01 * made.bound


def test_offcuts_are_used_before_anything_is_bought() -> None:
    made = lay_out([1000.0, 400.0, 390.0], [6000.0], [805.0, 1010.0], Saw(kerf=2.0))
    assert [(bar.length, bar.bought, bar.parts) for bar in made.bars] == [(805.0, False, (1, 2)), (1010.0, False, (0,))]
    assert (made.bought, made.bound, made.proven) == (0.0, 0.0, True)
    assert made.bars[1].rest == pytest.approx(8.0)


def test_a_part_that_no_bar_holds_is_told_with_the_bar_and_the_grip() -> None:
    with pytest.raises(Problem, match="longer than the longest bar"):
        lay_out([5990.0], [6000.0], [], Saw(grip=60.0))
    assert len(lay_out([6000.0], [6000.0], [], Saw(kerf=3.0)).bars) == 1  # as long as the bar: nothing is cut off
    with pytest.raises(Problem, match="no bar is on sale"):
        lay_out([500.0, 500.0], [], [600.0])
    stopped: list[float] = []

    def stop(share: float) -> None:
        stopped.append(share)
        if len(stopped) > 2:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        lay_out([math.pi * 100 + n for n in range(40)], [1000.0], [], Saw(), stop)
