"""Whether the parts of a job name each other rightly: what is refused when one is read, and when one is changed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import TYPE_CHECKING

from ironcage.core.job.values.fittings import Holes, Panel, hosts_of
from ironcage.core.job.values.running import HUNG
from ironcage.core.job.values.ties import Between, ToHole, ToJoint
from ironcage.problem import Problem, nearest

if TYPE_CHECKING:
    from ironcage.core.job.values.model import Job, Joint, Tube


def _demand_unique(what: str, names: Iterable[str]) -> set[str]:
    listed = list(names)
    seen = set(listed)
    if len(seen) != len(listed):
        twice = next(name for name, count in Counter(listed).items() if count > 1)
        raise Problem(f"Two {what} are called {twice}.", where=twice)
    return seen


def _demand_known(owner: str, what: str, name: str | None, known: set[str]) -> None:
    if name is not None and name not in known:
        raise Problem(
            f"{owner} names {what} ‘{name}’, which this job does not have.", where=owner, hint=nearest(name, known)
        )


def check_references(job: Job, since: Job | None = None) -> None:
    """Refuse a job with repeated ids, names of things it does not have, or a tube that ends where it starts.

    Where it was made from a sound one, `since`, tubes that are the same objects are not looked into again unless what
    they name may be gone.
    """
    joints = _demand_unique("joints", (j.id for j in job.joints))
    tubes = _demand_unique("tubes", (t.id for t in job.tubes))
    sections = _demand_unique("sections", (s.name for s in job.shelf.sections))
    materials = _demand_unique("materials", (m.name for m in job.shelf.materials))
    datums = _demand_unique("datums", (d.name for d in job.brief.datums))
    _demand_unique(
        "pickups, wheels, masses, parts, people, chains, shafts, pictures, patterns or adapters",
        (
            thing.id
            for group in (
                job.pickups,
                job.wheels,
                job.masses,
                job.parts,
                job.people,
                job.chains,
                job.shafts,
                job.pictures,
                job.patterns,
                job.adapters,
            )
            for thing in group
        ),
    )
    _demand_unique("rules", (r.id for r in job.rules.rules))
    _demand_unique("targets", (t.kind for t in job.brief.targets))
    _demand_unique("variants", (v.name for v in job.variants))
    _demand_unique("ends that are hung", (hung.axle for kind in HUNG for hung in getattr(job, kind)))
    _demand_unique("lines", (line.name.lower() for line in job.lines))
    for line in job.lines:
        for name in line.joints:
            _demand_known(f"Line {line.name}", "joint", name, joints)
    if since is None or since.offsets is not job.offsets or since.joints is not job.joints:
        _demand_sheet(job, joints)
    for variant in job.variants:
        if variant.job.variants:
            raise Problem(f"Variant {variant.name} holds variants of its own.", where=variant.name)
    _demand_tubes(_unproven(job, since, joints), joints, sections, materials)
    twins = {j.id: j.twin for j in job.joints}
    for joint in job.joints:
        if joint.twin is not None and twins.get(joint.twin) != joint.id:
            raise Problem(f"{joint.id} names {joint.twin} as its twin, but not the other way round.", where=joint.id)
        _demand_known(f"Joint {joint.id}", "tube", joint.through, tubes)
        if joint.tie is not None:
            _demand_tied(job, joint, joints)
    _demand_fitted(job, joints, tubes)
    for pickup in job.pickups:
        _demand_known(f"Pickup {pickup.id}", "joint", pickup.joint, joints)
    for stand in job.table.stands:
        _demand_known("The jig table", "joint", stand, joints)
    _demand_known("The brief", "datum", job.brief.shown_from, datums)
    patterns, parts = {p.id for p in job.patterns}, {p.id for p in job.parts}
    for adapter in job.adapters:
        for name in (adapter.one, adapter.other):
            _demand_known(f"Adapter {adapter.name}", "pattern", name, patterns)
    for shaft in job.shafts:
        for name in (shaft.start_on, shaft.stop_on):
            _demand_known(f"Shaft {shaft.id}", "part", name or None, parts)


def _demand_sheet(job: Job, joints: set[str]) -> None:
    """Refuse a sheet of offsets whose rows are not as long as it has lines, or that names joints that are not
    there."""
    sheet = job.offsets
    _demand_unique("lines of the sheet", (line.name.lower() for line in sheet.lines))
    for station in sheet.stations:
        if len(station.cells) != len(sheet.lines):
            raise Problem("A station of the sheet has not as many cells as the sheet has lines.", where="offsets")
    for _, n, cell in sheet.cells():
        _demand_known(f"Line {sheet.lines[n].name} of the sheet", "joint", cell.joint, joints)


def _unproven(job: Job, since: Job | None, joints: set[str]) -> Iterable[Tube]:
    """The tubes that may name what is not there."""
    if since is None or since.shelf is not job.shelf or not joints.issuperset(since.joint_by_id):
        return job.tubes
    if since.tubes is job.tubes:
        return ()
    proven = set(map(id, since.tubes))
    return (t for t in job.tubes if id(t) not in proven)


def _demand_tubes(tubes: Iterable[Tube], joints: set[str], sections: set[str], materials: set[str]) -> None:
    """Refuse a tube that ends where it starts, or names what is not there."""
    for tube in tubes:
        if tube.a == tube.b:
            raise Problem(
                f"Tube {tube.id} starts and ends at {tube.a}.", where=tube.id, hint="Choose another joint for one end."
            )
        if tube.a not in joints or tube.b not in joints:
            _demand_known(f"Tube {tube.id}", "joint", tube.b if tube.a in joints else tube.a, joints)
        if tube.section not in sections:
            _demand_known(f"Tube {tube.id}", "section", tube.section, sections)
        if tube.material not in materials:
            _demand_known(f"Tube {tube.id}", "material", tube.material, materials)
        if tube.taper or tube.cut_from:
            for name in (tube.taper, tube.cut_from):
                _demand_known(f"Tube {tube.id}", "section", name or None, sections)


def _demand_tied(job: Job, joint: Joint, joints: set[str]) -> None:
    """Refuse a tie to something that is not there."""
    tie, owner = joint.tie, f"Joint {joint.id}"
    if isinstance(tie, ToHole):
        _demand_known(owner, "part", tie.thing, {p.id for p in job.parts})
        holes = {h.name for p in job.parts if p.id == tie.thing for h in p.holes}
        _demand_known(owner, f"hole of {tie.thing}", tie.hole, holes)
    elif isinstance(tie, ToJoint):
        _demand_known(owner, "joint", tie.joint, joints)
    elif isinstance(tie, Between):
        _demand_known(owner, "joint", tie.a, joints)
        _demand_known(owner, "joint", tie.b, joints)


def _demand_fitted(job: Job, joints: set[str], tubes: set[str]) -> None:
    """Refuse fittings on things that are not there."""
    if not job.fittings:
        return
    known = _demand_unique("fittings", (f.id for f in job.fittings))
    for f in job.fittings:
        on_joints, on_tubes = hosts_of(f)
        for name in on_joints:
            _demand_known(f"Fitting {f.id}", "joint", name, joints)
        for name in on_tubes:
            _demand_known(f"Fitting {f.id}", "tube", name, tubes)
        if isinstance(f, Holes):
            _demand_known(f"Fitting {f.id}", "fitting", f.host, known)
        if isinstance(f, Panel):
            _demand_known(f"Fitting {f.id}", "material", f.material, {m.name for m in job.shelf.materials})
