"""Older job files brought forward, one version at a time.

A step takes the body of version N and gives the body of version N + 1. Never change a step that has been
released; add the next one and raise VERSION.
"""

from collections.abc import Callable
from typing import Any

from ironcage.problem import Problem

Body = dict[str, Any]


def _number_by_kind(body: Body) -> Body:
    """1 -> 2: one counter for all ids became one each for joints, tubes and parts."""
    body = dict(body)
    last = body.pop("last_number", 0)
    return {**body, "last_joint": last, "last_tube": last, "last_part": last}


def _with_room_for_parts(body: Body) -> Body:
    """2 -> 3: aims, rules, parts, people, chains, shafts and variants came; a job without them starts with none."""
    return body


def _with_shaped_tubes(body: Body) -> Body:
    """3 -> 4: bent tubes, dies, ties and fittings came; a job without them has straight tubes and nothing on them."""
    return body


def _with_proving(body: Body) -> Body:
    """4 -> 5: load cases, the joint factor and the twist test came; a job without them has the usual ones and rigid
    welds."""
    return body


STEPS: dict[int, Callable[[Body], Body]] = {
    1: _number_by_kind,
    2: _with_room_for_parts,
    3: _with_shaped_tubes,
    4: _with_proving,
}
VERSION = 1 + len(STEPS)


def migrated(document: dict[str, Any], name: str) -> Body:
    """The body of a document of any known version, as the present one. Raises Problem for others."""
    version, body = document.get("version"), document.get("job")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise Problem(f"{name} does not say which version of the format it is.", where=name)
    if version > VERSION:
        raise Problem(
            f"{name} was written by a newer Iron Cage (format {version}; this one knows up to {VERSION}).",
            where=name,
            hint="Open it with that one; nothing was changed.",
        )
    if not isinstance(body, dict):
        raise Problem(f"{name} holds no job.", where=name)
    for step in range(version, VERSION):
        body = STEPS[step](body)
    return body
