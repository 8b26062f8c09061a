"""Calculators on neutral JSON, no job needed: text in, plain data out, one calculator per module.

A new one is a module with a pydantic `Question` and a function, and a line in CALCULATORS.
"""

from collections.abc import Callable
from typing import Any

from ironcage.cli.calc import (
    axle,
    bend,
    chain,
    column,
    corner,
    driver,
    fold,
    frame,
    head,
    leaf,
    mass,
    mitre,
    nest,
    notch,
    pattern,
    rodend,
    rollbar,
    shrink,
    spring,
    steer,
    survey,
)
from ironcage.cli.calc.question import asked

CALCULATORS: dict[str, Callable[[str], dict[str, Any]]] = {
    "frame": lambda text: frame.answer(asked(frame.FrameQuestion, text)),
    "notch": lambda text: notch.answer(asked(notch.NotchQuestion, text)),
    "mitre": lambda text: mitre.answer(asked(mitre.MitreQuestion, text)),
    "fold": lambda text: fold.answer(asked(fold.FoldQuestion, text)),
    "bend": lambda text: bend.bend(asked(bend.BendQuestion, text)),
    "section": lambda text: bend.section(asked(bend.SectionQuestion, text)),
    "chain": lambda text: chain.answer(asked(chain.ChainQuestion, text)),
    "driver": lambda text: driver.answer(asked(driver.DriverQuestion, text)),
    "pattern": lambda text: pattern.pattern(asked(pattern.PatternQuestion, text)),
    "bolt": lambda text: pattern.bolt(asked(pattern.BoltQuestion, text)),
    "survey": lambda text: survey.survey(asked(survey.SurveyQuestion, text)),
    "axle": lambda text: axle.axle(asked(axle.AxleQuestion, text)),
    "column": lambda text: column.column(asked(column.ColumnQuestion, text)),
    "corner": lambda text: corner.corner(asked(corner.CornerQuestion, text)),
    "head": lambda text: head.head(asked(head.HeadQuestion, text)),
    "leaf": lambda text: leaf.leaf(asked(leaf.LeafQuestion, text)),
    "rodend": lambda text: rodend.rodend(asked(rodend.RodEndQuestion, text)),
    "rollbar": lambda text: rollbar.rollbar(asked(rollbar.RollBarQuestion, text)),
    "spring": lambda text: spring.spring(asked(spring.SpringQuestion, text)),
    "steer": lambda text: steer.steer(asked(steer.SteerQuestion, text)),
    "shrink": lambda text: shrink.shrink(asked(shrink.ShrinkQuestion, text)),
    "nest": lambda text: nest.nest(asked(nest.NestQuestion, text)),
    "mass": lambda text: mass.answer(asked(mass.MassQuestion, text)),
}
