"""What to change next is exact: every brace, size and missing tube is worth what building it shows; the lightest
sections keep what they promise."""

import numpy as np
import pytest

from ironcage.core.answers.brief.aims import aims
from ironcage.core.answers.findings import advice, checks
from ironcage.core.answers.prove import (
    balance,
    braces,
    lightest,
    measured,
    stiffness,
    strength,
    vibration,
    worth,
)
from ironcage.core.answers.prove.cases import load_cases
from ironcage.core.answers.shared.beam_model import beam_frame, fine_frame
from ironcage.core.answers.shared.mass import weigh
from ironcage.core.job import edits
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from tests.core.lines import typed

PER_DEGREE = np.pi / 180e3


@pytest.fixture(scope="module", params=("sandpiper", "fell-litter", "skerry"))
def demo(request: pytest.FixtureRequest) -> Job:
    return sample(request.param)


def test_the_first_advised_brace_gives_what_it_promised(demo: Job) -> None:
    before = stiffness.answer(demo)
    brace = next(b for b in braces.rank_braces(demo) if not b.blocked)
    built = understand(brace.line, demo).job
    after = stiffness.answer(built)
    assert after.torsion - before.torsion == pytest.approx(brace.change.torsion, rel=1e-6)
    assert brace.change.torsion > 0.05 * before.torsion  # each demo ships with a weakness that one brace mends
    assert after.mass - before.mass == pytest.approx(brace.change.kg, rel=1e-6)
    if before.bending is not None and brace.change.bending is not None:
        assert after.bending == pytest.approx(before.bending + brace.change.bending, rel=1e-6)
    assert len(built.tubes) - len(demo.tubes) == len(brace.pairs)


def test_blocked_braces_name_what_is_in_the_way_and_leave_people_a_way_out() -> None:
    job = sample("sandpiper")
    told = braces.rank_braces(job)
    names = {n for b in told for n in b.blocked}
    assert {"D32", "D32’s way out", "D33’s way out"} <= names
    across = next(b for b in told if set(b.joints) == {"J12R", "J21L"})
    assert across.blocked == ("D32’s way out",)
    rates = [b.change.per_kg for b in told]
    assert rates == sorted(rates, reverse=True)
    assert not any(frozenset(p) in job.tube_by_ends for b in told for p in b.pairs)


@pytest.mark.parametrize("nth", [0, 7, 20])
def test_a_tube_is_worth_what_the_frame_is_without_it(demo: Job, nth: int) -> None:
    told = worth.tube_worth(demo)
    one = told[min(nth, len(told) - 1)]
    before, without = stiffness.answer(demo), edits.delete(demo, list(one.tubes))
    if any(p.joint not in without.tubes_at for p in without.pickups):
        return
    stiff = beam_frame(without)
    if stiff.condensed.keys() != {
        n - sum(m < n for m in _rows(demo, one.tubes))
        for n in beam_frame(demo).condensed
        if n not in _rows(demo, one.tubes)
    }:
        return  # a fitting went with it and left another tube as it was
    after = stiffness.answer(without)
    assert after.torsion - before.torsion == pytest.approx(one.gone.torsion, rel=1e-4, abs=1e-6 * before.torsion)
    assert weigh(demo).tube_masses.sum() - weigh(without).tube_masses.sum() == pytest.approx(-one.gone.kg)


def _rows(job: Job, names: tuple[str, ...]) -> list[int]:
    return [n for n, t in enumerate(job.tubes) if t.id in names]


def test_a_size_up_or_down_gives_what_it_says(demo: Job) -> None:
    told = worth.tube_worth(demo)
    before = stiffness.answer(demo).torsion
    sections = {s.name: s for s in worth.stock(demo)}
    one = next(w for w in told[::-1] if w.up and w.down)
    for change in (one.up, one.down):
        assert change is not None
        made = edits.change_tubes(demo, list(one.tubes), section=sections[change.what])
        assert stiffness.answer(made).torsion - before == pytest.approx(change.torsion, rel=1e-6)
        assert weigh(made).tube_masses.sum() - weigh(demo).tube_masses.sum() == pytest.approx(change.kg, rel=1e-6)
    assert one.up is not None
    assert one.down is not None
    assert one.up.torsion > 0 > one.down.torsion


def test_a_tube_that_holds_a_corner_up_is_told_so() -> None:
    job = typed(Job(), "joint 0 300 300", "joint -1000 300 300", "joint -500 0 700")
    job = typed(job, "tube J1L J2L", "tube J1L J1R", "tube J2L J2R", "tube J1L J3", "tube J2L J3")
    job = edits.add_pickup(edits.add_pickup(job, "J1L", "front"), "J2L", "rear")
    hanging = typed(job, "joint 300 0 900", "tube J3 J4")
    told = {w.tubes: w.gone for w in worth.tube_worth(hanging)}
    assert told[("T6",)].torsion == pytest.approx(0, abs=1e-3)  # an end in the air carries nothing
    assert not told[("T6",)].falls


def test_the_hardest_worked_tube_without_another_is_that_of_the_frame_without_it() -> None:
    job = sample("skerry")
    told = worth.strength_without(job)
    names = next(k for k in told if k == ("T20L", "T20R"))
    without = edits.delete(job, list(names))
    # the same loads on the frame without them: the frame's own weight is still counted, as when they were there
    full = strength.tube_strength(without)
    assert full.worst is not None
    assert told[names] == pytest.approx(full.worst.use, rel=0.05)


def test_money_is_told_where_the_shelf_knows_the_price() -> None:
    job = sample("skerry")
    assert all(b.change.money is None for b in braces.rank_braces(job))
    priced = typed(job, "price 25 x 25 x 2 square 4.20", "price 30 x 30 x 2 square 5.10")
    brace = next(b for b in braces.rank_braces(priced) if not b.blocked)
    whole = sum(np.linalg.norm(np.subtract(*(priced.joint_by_id[j].place for j in pair))) for pair in brace.pairs)
    assert brace.change.money == pytest.approx(4.20 * whole / 1000)


def test_braces_are_ranked_by_what_they_give_for_their_money() -> None:
    job = sample("skerry")
    for ranked in (braces.rank_braces, braces.for_money):
        with pytest.raises(Problem, match="no tubes"):
            ranked(Job())
    with pytest.raises(Problem, match="No section of the frame has a price") as refused:
        braces.for_money(job)
    assert "price 25 x 25 x 2 square" in str(refused.value)
    dear = typed(job, "price 25 x 25 x 2 square 9.00", "price 30 x 30 x 2 square 5.10")
    told = [b for b in braces.for_money(dear) if not b.blocked]
    per = [b.change.per_money for b in told]
    assert per == sorted(per, reverse=True)
    assert {b.section for b in told} == {"30 x 30 x 2 square"}  # the larger tube is the cheaper one
    before = stiffness.answer(dear).torsion
    built = edits.add_tube(dear, *told[0].joints, told[0].section, told[0].material, "diagonal")
    assert stiffness.answer(built).torsion - before == pytest.approx(told[0].change.torsion, rel=1e-6)
    assert braces.for_money(typed(job, "price 25 x 25 x 2 square 4"))[0].joints == braces.rank_braces(job)[0].joints


def test_the_lightest_sections_keep_stiffness_margins_and_rules(demo: Job) -> None:
    target = stiffness.answer(demo).torsion
    shares = []
    found = lightest.search(demo, target, lambda share, words: shares.append(share))
    made = demo
    for swap in found.swaps:
        assert {demo.tube_by_id[t].section for t in swap.tubes} == {swap.old}
        made = edits.change_tubes(made, list(swap.tubes), section=demo.section(swap.new))
    assert stiffness.answer(made).torsion >= target * (1 - 2e-4)
    assert stiffness.answer(made).torsion == pytest.approx(found.torsion, rel=1e-6)
    worst = strength.tube_strength(made).worst
    assert worst is not None
    assert worst.use <= 1
    assert weigh(made).tube_masses.sum() == pytest.approx(found.kg, rel=1e-6)
    assert found.bound <= found.kg <= found.before + 1e-9
    assert found.gap < 0.15
    assert shares == sorted(shares)
    rules_before = {(s.code, s.where) for s in checks.find_snags(demo) if s.code == "rule"}
    assert {(s.code, s.where) for s in checks.find_snags(made) if s.code == "rule"} <= rules_before


def test_the_bound_is_below_every_choice_that_is_stiff_enough() -> None:
    """All choices of a small frame, one by one."""
    job = typed(Job(), "joint 0 300 300", "joint -700 300 300", "joint -1400 300 300", "joint -700 0 700")
    job = typed(
        job,
        "tube J1L J2L 30 x 2",
        "tube J2L J3L 30 x 2",
        "tube J1L J1R 30 x 2",
        "tube J3L J3R 30 x 2",
        "tube J2L J4 30 x 2",
        "tube J1L J4 30 x 2",
        "tube J3L J4 30 x 2",
    )
    job = edits.add_pickup(edits.add_pickup(job, "J1L", "front"), "J3L", "rear")
    job = edits.put_section(
        job, job.section("30 x 2").but(name="light", shape=type(job.section("30 x 2").shape)(25, 1.5))
    )
    target = 0.8 * stiffness.answer(job).torsion
    found = lightest.search(job, target)
    groups = worth.pairs(job)
    best = np.inf
    for choice in range(2 ** len(groups)):
        light = {job.tubes[n].id for k, g in enumerate(groups) if choice >> k & 1 for n in g}
        trial = job.but(tubes=tuple(t.but(section="light") if t.id in light else t for t in job.tubes))
        if stiffness.answer(trial).torsion >= target:
            best = min(best, float(weigh(trial).tube_masses.sum()))
    assert found.bound <= best + 1e-6
    assert found.kg == pytest.approx(best, rel=0.06)


@pytest.mark.parametrize(("times", "says"), [(20.0, "The best that can be reached is"), (1e-9, "")])
def test_targets_beyond_the_shelf_say_the_best_that_can_be(times: float, says: str) -> None:
    job = sample("skerry")
    target = times * stiffness.answer(job).torsion
    if says:
        with pytest.raises(Problem, match="Nothing on the shelf makes this frame") as caught:
            lightest.search(job, target)
        assert says in caught.value.hint
    else:
        assert lightest.search(job, target).kg < weigh(job).tube_masses.sum()


def test_a_shelf_with_one_section_and_a_search_that_is_stopped() -> None:
    job = sample("skerry")
    only = job.but(tubes=tuple(t.but(section="25 x 25 x 2 square") for t in job.tubes))
    only = only.but(shelf=only.shelf.but(sections=(only.section("25 x 25 x 2 square"),)))
    with pytest.raises(Problem, match="nothing to choose"):
        lightest.search(only, 1.0)

    class Stop(Exception):
        pass

    def stop(share: float, words: str) -> None:
        if share > 0.1:
            raise Stop

    with pytest.raises(Stop):
        lightest.search(job, stiffness.answer(job).torsion, stop)


def test_how_stiff_is_enough_follows_the_frame_and_asks_for_roll_stiffness() -> None:
    job = sample("sandpiper")
    told = balance.roll_balance(job)
    assert 0.9 < told.share < 1
    assert told.needs[0][1] < told.needs[1][1] < told.needs[2][1]
    assert np.interp(told.torsion, *told.curve.T) == pytest.approx(told.share, abs=0.005)
    assert balance.roll_balance(typed(job, "welds 0.3")).share < told.share
    assert balance.roll_balance(typed(job, "rollstiff front 3800 rear 3000")).share < told.share
    with pytest.raises(Problem, match="roll stiffness of both axles is not known"):
        balance.roll_balance(typed(job, "rollstiff front 0 rear 0"))


def test_readings_of_a_twist_test_give_back_the_joint_factor_they_were_made_with() -> None:
    job = sample("skerry")
    real = stiffness.torsion_of(job.but(proving=job.proving.but(joint=0.7)))
    assert real < stiffness.answer(job).torsion
    made = typed(job, "reading lever 800")
    for kg in (10, 20, 30, 40):
        made = typed(made, f"reading {kg} kg front {np.degrees(kg * 9.80665 * 800 / real) + 0.01:.9f} rear 0.01")
    told = measured.measured_frame(made)
    assert told.measured.stiffness == pytest.approx(real, rel=1e-6)
    assert told.factor == pytest.approx(0.7, abs=1e-3)
    assert told.between[0] is not None
    assert told.between[0] < 0.7
    calibrated = typed(made, f"welds {told.factor:.5f}")
    assert stiffness.answer(calibrated).torsion == pytest.approx(real, rel=1e-3)
    with pytest.raises(Problem, match="two weights at least"):
        measured.measured_frame(job)


@pytest.mark.parametrize(
    ("times", "why"), [(3.0, "stiffer than the model with rigid welds"), (0.04, "softer than welds alone can explain")]
)
def test_a_real_frame_that_no_joint_factor_explains_says_what_to_look_for(times: float, why: str) -> None:
    job = sample("skerry")
    real = times * stiffness.answer(job).torsion
    for kg in (2, 8):
        job = typed(job, f"reading {kg} kg front {np.degrees(kg * 9.80665 * 1000 / real):.9f}")
    told = measured.measured_frame(job)
    assert told.factor is None
    assert why in told.why


def test_a_log_keeps_what_the_frame_was(demo: Job) -> None:
    from datetime import date

    done = measured.logged(demo, "as drawn", date(2026, 11, 1))
    later = measured.logged(typed(done.job, "welds 0.8"), "as measured", date(2026, 11, 20)).job
    first, second = later.proving.log
    assert (first.note, first.when) == ("as drawn", date(2026, 11, 1))
    assert first.torsion == pytest.approx(stiffness.answer(demo).torsion)
    assert second.torsion < first.torsion
    with pytest.raises(Problem, match="What was done"):
        measured.logged(demo, "  ", date(2026, 11, 1))


def test_welds_that_give_and_bends_that_go_oval_soften_and_undo() -> None:
    job = sample("sandpiper")
    base = stiffness.answer(job).torsion
    assert stiffness.answer(typed(job, "welds 0.5")).torsion < base
    assert stiffness.answer(typed(job, "welds 0.5", "welds 1")).torsion == pytest.approx(base)
    hoop = typed(Job(), "die 38 clr 114 grip 50", "hoop main 38 x 1.5 height 900 width 1000 at -500 200")
    plain, oval = beam_frame(hoop), beam_frame(typed(hoop, "ovalise on"))
    assert np.linalg.eigvalsh(plain.condensed[0] - oval.condensed[0]).min() > -1e-9 * np.abs(plain.condensed[0]).max()
    assert np.abs(plain.condensed[0] - oval.condensed[0]).max() > 1


def test_the_fine_frame_is_as_stiff_as_the_one_with_a_beam_a_tube(demo: Job) -> None:
    from ironcage.core.calc.frames import rigs

    soft = typed(demo.but(fittings=()), "welds 0.6")
    told = stiffness.rigged(soft)
    fine = fine_frame(soft, 3).frame
    rig = rigs.Rig(fine, told.rig.corners)
    _, coarse_u = told.rig.balanced(rigs.twist_loads(told.rig, 1.0)[:, None])
    balanced, u = rig.balanced(rigs.twist_loads(rig, 1.0)[:, None])
    loads = told.rig.balanced(rigs.twist_loads(told.rig, 1.0)[:, None])[0]
    assert float(balanced[:, 0] @ u[:, 0]) == pytest.approx(float(loads[:, 0] @ coarse_u[:, 0]), rel=2e-3)


def test_modes_and_buckling_of_the_demos_are_of_such_frames(demo: Job) -> None:
    told = vibration.frame_vibration(demo)
    assert all(5 < m.hz < 500 for m in told.bare)
    first_bare, first_loaded = told.bare[0].hz, told.loaded[0].hz
    assert first_loaded < first_bare
    assert any(m.kind in ("twist", "bending") for m in told.bare)
    assert told.first(told.bare, "nothing") is None
    found = vibration.collapses(demo)
    assert [c.factor for c in found] == sorted(c.factor for c in found)
    assert found[0].factor > 2
    assert found[0].tube in demo.tube_by_id
    doubled = vibration.collapses(typed(demo, f"level landing {2 * demo.proving.levels.landing}"))
    landing = {c.case: c.factor for c in found}["landing"]
    assert {c.case: c.factor for c in doubled}["landing"] == pytest.approx(landing / 2, rel=1e-3)


def test_a_target_for_twist_stiffness_is_judged_and_regions_add_up(demo: Job) -> None:
    told = stiffness.answer(demo)
    aimed = typed(demo, f"target twist stiffness {told.torsion * PER_DEGREE + 500:.0f}")
    aim = next(a for a in aims(aimed) if a.kind == "twist stiffness")
    assert aim.met is False
    assert aim.off * PER_DEGREE == pytest.approx(-500, abs=1)
    assert next(a for a in aims(typed(demo, "target twist stiffness 10")) if a.kind == "twist stiffness").met
    assert 0.2 < sum(r.energy for r in told.regions) <= 1 + 1e-9
    if told.soft:
        steepest = max(told.regions, key=lambda r: r.slope)
        assert steepest.slope > 0
    assert told.lateral is not None
    assert told.lateral > 0


def test_the_next_thing_is_a_brace_once_nothing_is_wrong() -> None:
    job = typed(sample("skerry"), f"open {' '.join(t.id for t in sample('skerry').tubes)}")
    told = advice.next_step(job, ())
    assert told.step == "prove"
    assert told.where


@pytest.mark.parametrize("name", ["bump front left", "Braking"])
def test_braces_against_a_case_ease_it_as_a_frame_with_the_brace_in_it_is_solved(name: str) -> None:
    job = sample("sandpiper")
    found = braces.against_case(job, name)
    gains = [b.eases / b.change.kg for b in found]
    assert gains == sorted(gains, reverse=True)
    loads = next(c for c in load_cases(job) if c.name.lower() == name.lower()).loads.reshape(-1, 1)

    def work(of: Job) -> float:
        return float(loads[:, 0] @ worth.Tests(of).rig.free.displacements(loads)[:, 0])

    for brace in (found[0], found[5]):
        laid = edits.add_tube(job, *brace.joints, brace.section, brace.material, "diagonal")
        assert brace.eases == pytest.approx(1 - work(laid) / work(job), rel=1e-6)


def test_what_braces_cannot_be_ranked_by_is_refused_with_the_nearest_case() -> None:
    job = sample("sandpiper")
    with pytest.raises(Problem, match="There is no load case ‘breaking’") as caught:
        braces.against_case(job, "breaking")
    assert "braking" in caught.value.hint
    held = understand("case Held: J9L z-1000 N held J1L J1R J27L J27R", job).job
    assert "Held" not in braces.cases_to_rank_by(held)
    with pytest.raises(Problem, match="holds the frame at J1L"):
        braces.against_case(held, "Held")
