"""Older job files brought forward, one version at a time.

A step takes the body of version N and gives the body of version N + 1. Never change a step that has been
released; add the next one and raise VERSION.
"""

import math
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


_ANGULAR = ("harness angle", "lap belt angle", "eyes over nose")


def _with_internal_units(body: Body) -> Body:
    """5 -> 6: angles of rules from degrees to radians, and the target for twist stiffness from N·m/deg to N·mm/rad;
    what was called `off` of a tie is its offset, and of the twist test its reading error. In the job and in its
    variants."""
    body = dict(body)
    if isinstance(body.get("joints"), list):
        body["joints"] = [
            {**j, "tie": _renamed(j["tie"], "off", "offset")} if isinstance(j, dict) and j.get("tie") else j
            for j in body["joints"]
        ]
    proving = body.get("proving")
    if isinstance(proving, dict) and "test" in proving:
        body["proving"] = {**proving, "test": _renamed(proving["test"], "off", "reading_error")}
    rules = body.get("rules")
    if isinstance(rules, dict) and isinstance(rules.get("rules"), list):
        body["rules"] = {**rules, "rules": [_rule_in_radians(rule) for rule in rules["rules"]]}
    brief = body.get("brief")
    if isinstance(brief, dict) and isinstance(brief.get("targets"), list):
        body["brief"] = {**brief, "targets": [_target_in_n_mm(target) for target in brief["targets"]]}
    variants = body.get("variants")
    if isinstance(variants, list):
        body["variants"] = [
            {**v, "job": _with_internal_units(v["job"])}
            if isinstance(v, dict) and isinstance(v.get("job"), dict)
            else v
            for v in variants
        ]
    return body


def _rule_in_radians(rule: Any) -> Any:
    if not isinstance(rule, dict) or (rule.get("kind") != "brace angle" and rule.get("reading") not in _ANGULAR):
        return rule
    return {**rule, **_scaled(rule, ("least", "most"), math.pi / 180)}


def _target_in_n_mm(target: Any) -> Any:
    if not isinstance(target, dict) or target.get("kind") != "twist stiffness":
        return target
    return {**target, **_scaled(target, ("value", "tolerance"), 180_000 / math.pi)}


def _renamed(values: Any, old: str, new: str) -> Any:
    if not isinstance(values, dict) or old not in values:
        return values
    return {new if name == old else name: value for name, value in values.items()}


def _scaled(values: Body, names: tuple[str, ...], factor: float) -> Body:
    """Those of the named numbers that are there, times a factor; what is no number is left for the model to refuse."""
    return {n: values[n] * factor for n in names if isinstance(values.get(n), int | float)}


STEPS: dict[int, Callable[[Body], Body]] = {
    1: _number_by_kind,
    2: _with_room_for_parts,
    3: _with_shaped_tubes,
    4: _with_proving,
    5: _with_internal_units,
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
