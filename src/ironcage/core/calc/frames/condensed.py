"""Members that are not one straight beam between two joints: bent, tapered, sleeved, or landing beside their joints.

The member is cut into straight beams along its centreline; what lies between its ends is condensed out exactly
(Guyan 1965, exact for static loads at the ends), and ends that land beside a joint are carried to it by rigid arms.
So such a member is one element like any other, and a frame has no more freedoms than joints.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ironcage.core.calc.frames.beams import Floats, Frame, element_axes, release_pins

FREEDOMS = 6


@dataclass(frozen=True, eq=False)
class CondensedMember:
    """A member as beams in a row. line (k + 1, 3): its centreline, mm; figures (k, 7): area, I about y and about z,
    J and shear areas along y and z of each beam, mm² and mm⁴; across (k, 3): where each beam's y axis points; e, g:
    MPa; first, second (3,): the joints, mm; pinned: ends that are balls."""

    line: Floats
    figures: Floats
    across: Floats
    e: float
    g: float
    first: Floats
    second: Floats
    pinned: tuple[bool, bool] = (False, False)


def stiffness(member: CondensedMember, roll: float = 0.0) -> Floats:
    """Stiffness (12, 12) between the member's joints, N and mm, in the axes that a straight beam between them with
    that roll has."""
    inner = _condensed(member)
    axes = element_axes(member.first[None], member.second[None], np.array([roll]))[0]
    turn = np.kron(np.eye(4), axes)
    local = turn @ inner @ turn.T
    local = release_pins(local[None], np.array([member.pinned]))[0]
    arms = np.eye(12)
    for end, (joint, landing) in enumerate(((member.first, member.line[0]), (member.second, member.line[-1]))):
        x, y, z = axes @ (landing - joint)  # u at the landing = u at the joint + rotation × arm
        arms[6 * end : 6 * end + 3, 6 * end + 3 : 6 * end + 6] = [[0, z, -y], [-z, 0, x], [y, -x, 0]]
    made = arms.T @ local @ arms
    return np.asarray((made + made.T) / 2)


def _condensed(member: CondensedMember) -> Floats:
    """Stiffness (12, 12) between the two ends of the line, in global axes."""
    count = len(member.line) - 1
    nodes = np.arange(count + 1)
    area, i_y, i_z, j, shear_y, shear_z = member.figures.T
    beams = Frame(
        nodes=member.line,
        ends=np.stack([nodes[:-1], nodes[1:]], axis=1),
        e=np.full(count, member.e),
        g=np.full(count, member.g),
        area=area,
        i_y=i_y,
        i_z=i_z,
        j=j,
        shear_area_y=shear_y,
        shear_area_z=shear_z,
        roll=_rolls(member),
        pinned=np.zeros((count, 2), dtype=bool),
    )
    size = FREEDOMS * (count + 1)
    whole = np.zeros((size, size))
    for k, dofs in zip(beams.global_stiffness, beams.dofs, strict=True):
        whole[np.ix_(dofs, dofs)] += k
    ends = np.r_[0:FREEDOMS, size - FREEDOMS : size]
    inside = np.arange(FREEDOMS, size - FREEDOMS)
    kept = whole[np.ix_(ends, ends)]
    if not inside.size:
        return kept
    coupling = whole[np.ix_(inside, ends)]
    return np.asarray(kept - coupling.T @ np.linalg.solve(whole[np.ix_(inside, inside)], coupling))


def _rolls(member: CondensedMember) -> Floats:
    """How far each beam's axes are turned from the usual ones, rad."""
    axes = element_axes(member.line[:-1], member.line[1:], np.zeros(len(member.line) - 1))
    y, z = (np.einsum("ij,ij->i", member.across, axes[:, k]) for k in (1, 2))
    return np.arctan2(z, y)
