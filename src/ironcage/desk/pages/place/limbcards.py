"""Bench cards that say which limb to measure, from where to where, with a picture of a person sitting upright."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from ironcage.core.calc.car.mannequin import HELMET_MM, Limbs, Pose, Seat, pose
from ironcage.core.job.values.placed import Person
from ironcage.desk.look import Look
from ironcage.desk.pages.page import Card
from ironcage.units import Units

CAUTION = "Measure over driving clothes and shoes, sitting on something hard, a second person at the tape."


@dataclass(frozen=True)
class Measure:
    """A limb to measure: how, between which points of the figure, and whether it is seen from the front."""

    limb: str
    how: str
    start: str
    stop: str
    front: bool = False


MEASURES = (
    Measure(
        "trunk",
        "Sitting upright: from the hip bone, the knob at the side, straight up to the top of the shoulder.",
        "left hip",
        "shoulder top",
    ),
    Measure(
        "head",
        "From the top of the shoulder straight up to the crown; a level on the head helps.",
        "shoulder top",
        "crown",
    ),
    Measure("shoulders", "Across both shoulders at their widest, arms down.", "left shoulder", "right shoulder", True),
    Measure("hips", "Across both hips at their widest, sitting.", "left hip", "right hip", True),
    Measure("upper_arm", "From the tip of the shoulder to the elbow, arm bent.", "left shoulder", "left elbow"),
    Measure("forearm", "From the elbow to the middle of a bar gripped in the fist.", "left elbow", "left hand"),
    Measure("thigh", "From the hip bone to the middle of the knee, at the outside.", "left hip", "left knee"),
    Measure("lower_leg", "From the middle of the knee to the ankle bone, at the outside.", "left knee", "left ankle"),
    Measure("ankle", "From the ankle bone straight down to the floor, shoe on.", "left ankle", "left sole"),
    Measure("foot", "From the back of the heel to the tip of the toes, shoe on.", "left heel", "left toe"),
    Measure("helmet", "Across the helmet at its widest.", "helmet left", "helmet right", True),
)


def limb_cards(person: Person, units: Units) -> list[Card]:
    """One card for each limb of a person."""
    figure = _upright(person.limbs)
    return [
        Card(
            f"{person.name}: {m.limb.replace('_', ' ')}",
            units.length(getattr(person.limbs, m.limb)),
            (m.how, f"Then type: set {m.limb.replace('_', ' ')} …", CAUTION),
            _picture(figure, m),
        )
        for m in MEASURES
    ]


def _upright(limbs: Limbs) -> dict[str, np.ndarray]:
    """Points of a person sitting upright, forearms forward."""
    hip = (0.0, 0.0, limbs.lower_leg + limbs.ankle)
    ball = limbs.thigh + 0.48 * limbs.foot
    shoulder = hip[2] + limbs.trunk - 40
    wheel = (limbs.forearm, 0.0, shoulder - limbs.upper_arm)
    seat = Seat(hip, 0.0, (ball, 0.0, 0.0), limbs.hips * 0.45, 0.0, 0.0, wheel, max(limbs.shoulders - 90, 60), 0.0)
    made: Pose = pose(limbs, seat, 75.0)
    points = dict(made.points)
    points["left sole"] = points["left ankle"] * [1, 1, 0]
    half = np.array([0.0, (limbs.helmet or HELMET_MM) / 2, 0])
    points["helmet left"], points["helmet right"] = points["helmet"] + half, points["helmet"] - half
    return points


_BONES = (
    ("left hip", "shoulder top"),
    ("shoulder top", "crown"),
    ("left shoulder", "left elbow"),
    ("left elbow", "left hand"),
    ("left hip", "left knee"),
    ("left knee", "left ankle"),
    ("left heel", "left toe"),
    ("left ankle", "left heel"),
)
_FRONT = (
    ("left shoulder", "right shoulder"),
    ("left hip", "right hip"),
    ("shoulder top", "crown"),
    ("hip", "shoulder top"),
    ("left hip", "left knee"),
    ("right hip", "right knee"),
    ("left knee", "left ankle"),
    ("right knee", "right ankle"),
    ("left shoulder", "left elbow"),
    ("right shoulder", "right elbow"),
)


def _picture(points: dict[str, np.ndarray], measure: Measure) -> Callable[[QPainter, QRectF, Look], None]:
    def paint(painter: QPainter, room: QRectF, look: Look) -> None:
        axes = [1, 2] if measure.front else [0, 2]
        bones = _FRONT if measure.front else _BONES
        flat = {name: p[axes] for name, p in points.items()}
        shown = np.array([flat[n] for bone in bones for n in bone])
        low, high = shown.min(axis=0) - 60, shown.max(axis=0) + 60
        scale = min(room.width() / (high[0] - low[0]), room.height() / (high[1] - low[1]))
        middle = (low + high) / 2

        def spot(name: str) -> QPointF:
            x, z = (flat[name] - middle) * scale
            return QPointF(room.center().x() + float(x), room.center().y() - float(z))

        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(look.line), max(26 * scale, 4), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        for a, b in bones:
            painter.drawLine(spot(a), spot(b))
        radius = 105 * scale
        painter.drawEllipse(spot("helmet"), radius, radius)
        one, other = spot(measure.start), spot(measure.stop)
        painter.setPen(QPen(QColor(look.blue), max(10 * scale, 3), Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
        painter.drawLine(one, other)
        way = other - one
        size = math.hypot(way.x(), way.y()) or 1.0
        tick = QPointF(-way.y() / size, way.x() / size) * max(45 * scale, 10)
        for end in (one, other):
            painter.drawLine(end - tick, end + tick)

    return paint
