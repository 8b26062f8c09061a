"""The sheet of offsets: what is typed comes out where a builder with a tape would put it, and stays together after."""

import math
from itertools import pairwise

import pytest

from ironcage.core.answers.place.clashes import find_clashes
from ironcage.core.job import edits
from ironcage.core.job.store.file import from_text, to_text
from ironcage.core.job.text import understand
from ironcage.core.job.text.sheet import cell_words
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.units import METRIC


def typed(*lines: str, job: Job | None = None) -> Job:
    made = job or Job()
    for line in lines:
        made = understand(line, made).job
    return made


# two rails of 40 x 40 on three stations; the nose is narrower, the tail on the centreline above
BOX = (
    "sheet line lower 40 x 40 x 2",
    "sheet line upper 30 x 30 x 2",
    "sheet web 25 x 2",
    "sheet diagonals up to the front",
    "sheet 300: 200, 150; 210, 450",
    "sheet -500: 300, 150; 310, 500 open",
    "sheet -1500: 300, 180; 310, 520",
)


@pytest.fixture
def box() -> Job:
    return typed(*BOX, "sheet lay")


def tubes(job: Job) -> set[tuple[tuple[float, ...], tuple[float, ...], str, str]]:
    """Tubes as their two places, lowest x first, their section and role."""
    found = set()
    for t in job.tubes:
        ends = sorted(job.joint_by_id[e].place for e in t.ends)
        found.add((ends[0], ends[1], t.section, t.role))
    return found


def test_a_sheet_lays_every_member_where_it_was_typed(box: Job) -> None:
    low = [(300.0, 200.0, 150.0), (-500.0, 300.0, 150.0), (-1500.0, 300.0, 180.0)]
    high = [(300.0, 210.0, 450.0), (-500.0, 310.0, 500.0), (-1500.0, 310.0, 520.0)]
    rails = [(line[k + 1], line[k], s) for line, s in ((low, "40 x 40 x 2"), (high, "30 x 30 x 2")) for k in (0, 1)]
    expected = {(a, b, s, "rail") for a, b, s in rails}
    expected |= {(low[k], high[k], "25 x 2", "side") for k in range(3)}
    expected |= {(low[k + 1], high[k], "25 x 2", "diagonal") for k in (0, 1)}
    mirrored = [(sorted((x, -y, z) for x, y, z in (a, b)), s, role) for a, b, s, role in expected]
    expected |= {(a, b, s, role) for (a, b), s, role in mirrored}
    crossed = [(p, "40 x 40 x 2") for p in low] + [(high[0], "30 x 30 x 2"), (high[2], "30 x 30 x 2")]
    expected |= {((x, -y, z), (x, y, z), s, "cross member") for (x, y, z), s in crossed}
    assert tubes(box) == expected


def test_widths_and_heights_are_read_as_builders_take_them() -> None:
    # over both rails to the outside, height to the underside: 440 over 40 mm tubes is 200 to each centre
    job = typed(
        "sheet line lower 40 x 40 x 2",
        "sheet widths over both outside",
        "sheet heights underside",
        "sheet 0: 440, 130",
        "sheet -1000: 640, 130",
        "sheet lay",
    )
    assert [job.joint_by_id[n].place for n in ("J1L", "J2R")] == [(0.0, 200.0, 150.0), (-1000.0, -300.0, 150.0)]
    inside = typed("sheet widths half inside", "sheet heights top", job=job)
    assert cell_words(inside, 0, 0) == "180.0, 170.0"
    assert inside.joints == job.joints
    # a fatter tube keeps the faces that are read: inside and top stay, the centre moves out and down by 10
    fat = typed("sheet line lower 60 x 60 x 3", job=inside)
    assert fat.joint_by_id["J1L"].place == (0.0, 210.0, 140.0)
    assert {t.section for t in fat.tubes if t.role != "diagonal"} == {"60 x 60 x 3"}
    assert cell_words(fat, 0, 0) == "180.0, 170.0"


def test_figures_are_from_the_shown_datum_and_in_the_job_s_unit() -> None:
    job = typed(
        "datum post at 100 0 50", "units inch 1/16 lb", "sheet line lower 1-1/2 x 1-1/2 x .083", "sheet 10: 8 1/2, 6"
    )
    cell = job.offsets.stations[0].cells[0]
    assert cell is not None
    assert job.offsets.stations[0].x == pytest.approx(254 + 100 if job.brief.shown_from == "post" else 254)
    assert (cell.half, cell.z) == pytest.approx((8.5 * 25.4, 6 * 25.4 + job.datum.z))


def test_a_changed_cell_takes_what_hangs_on_it_along(box: Job) -> None:
    upright = next(t for t in box.tubes if t.role == "side" and "J3L" in t.ends)
    hung = understand("joint on " + upright.id + " 50%", box).job
    assert len(hung.joints) > len(box.joints)
    middle = hung.joints[-2]
    moved = typed("sheet -500: 340, 150", job=hung)
    joint = next(j for j in moved.joints if j.x == -500 and j.z == 150 and j.y > 0)
    assert joint.y == 340
    assert next(j for j in moved.joints if j.id == joint.twin).y == -340
    assert len(moved.tubes) == len(hung.tubes)
    assert moved.joint_by_id[middle.id].id == middle.id
    # and a joint that is moved by hand is read from where it is
    by_hand = edits.move(box, [joint.id], dz=12.5)
    assert cell_words(by_hand, 1, 0) == "300.0, 162.5"


def test_a_station_moves_and_cannot_pass_its_neighbour(box: Job) -> None:
    moved = typed("sheet station -500 to -620", job=box)
    assert sorted(j.x for j in moved.joints if j.x not in (300, -1500)) == [-620.0] * 4
    with pytest.raises(Problem, match="another can't pass it"):
        typed("sheet station -500 to -1600", job=box)
    with pytest.raises(Problem, match="has a station at"):
        typed("sheet station -498", job=box)


def test_a_station_between_two_divides_rails_and_braces_the_new_bays(box: Job) -> None:
    more = typed("sheet -1000: 300, 165; 330, 510", "sheet lay", job=box)
    at = {j.id: j.place for j in more.joints}
    rails = [sorted(at[e] for e in t.ends) for t in more.tubes if t.role == "rail"]
    assert len(rails) == 12
    assert all(abs(a[0] - b[0]) <= 800 for a, b in rails)
    diagonals = {tuple(sorted(at[e][0] for e in t.ends)) for t in more.tubes if t.role == "diagonal"}
    assert diagonals == {(-500.0, 300.0), (-1000.0, -500.0), (-1500.0, -1000.0)}
    kept = {t.id for t in box.tubes} - {t.id for t in more.tubes}
    assert len(kept) == 2  # the diagonal of the divided bay, both sides
    assert len({j.place for j in more.joints}) == len(more.joints)


def test_what_was_taken_out_by_hand_is_not_laid_again(box: Job) -> None:
    door = next(t for t in box.tubes if t.role == "diagonal" and t.id.endswith("L"))
    without = edits.delete(box, [door.id])
    longer = typed("sheet -1900: 250, 200; 260, 520", "sheet lay", job=without)
    ends = {frozenset(t.ends) for t in longer.tubes}
    assert frozenset(door.ends) not in ends
    with pytest.raises(Problem, match="All of the sheet is laid"):
        typed("sheet lay", job=longer)


def test_two_diagonals_share_a_joint_and_go_again(box: Job) -> None:
    both = typed("sheet diagonals both", job=box)
    assert len(both.tubes) == len(box.tubes) + 4 * 3  # of each pair one is split and the other in two: 1 -> 4
    middle = [j for j in both.joints if j.id not in box.joint_by_id]
    assert len(middle) == 4
    for j in middle:
        assert len(both.tubes_at[j.id]) == 4
    again = typed("sheet diagonals up to the front", job=both)
    assert tubes(again) == tubes(box)
    assert len(again.joints) == len(box.joints)
    none = typed("sheet diagonals none", job=both)
    assert not [t for t in none.tubes if t.role == "diagonal"]
    assert len(none.joints) == len(box.joints)


def test_lines_that_meet_are_one_joint() -> None:
    job = typed(
        "sheet line lower 40 x 2",
        "sheet line upper 40 x 2",
        "sheet 0: 200, 150; 200, 450",
        "sheet -800: 200, 150; 200, 450",
        "sheet -1200: 150, 300; 150, 300",
        "sheet lay",
    )
    assert len(job.joints) == 10
    assert job.offsets.stations[2].cells[0].joint == job.offsets.stations[2].cells[1].joint  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("sheet -500: 300, 150, 20", "3 figures, and a cell takes two"),
        ("sheet -500: -20, 150", "its two sides would pass each other"),
        ("sheet -500: 0, 150", "is laid on both sides already"),
        ("sheet -500: 300; 300; 300", "the sheet has 2 lines"),
        ("sheet line loer gone", "lower"),
        ("sheet station 900000", "farther off than any frame reaches"),
        ("sheet diagonals sideways", "There are none, up to the front"),
        ("sheet two seat", "two seats"),
        ("sheet laay", "lay"),
        ("sheet", "Say what to do with the sheet. Write sheet and one of ladder"),
        ("sheet -500 300, 150", "has no colon after the station"),
        ("sheet line lower crossed maybe", "‘maybe’ is neither yes nor no"),
        ("sheet widths", "Say how widths are measured"),
        ("sheet -500: wide", "wide"),
    ],
)
def test_refusals_name_the_culprit_and_lose_nothing(box: Job, line: str, says: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, box)
    assert says in METRIC.say(str(refused.value))


def test_half_filled_cells_and_crossing_rails() -> None:
    job = typed("sheet line lower 40 x 2", "sheet line upper 40 x 2")
    with pytest.raises(Problem, match="gives no height"):
        typed("sheet 0: 200", job=job)
    job = typed("sheet 0: 200, 150; 200, 450", "sheet -800: 250", job=job)
    assert cell_words(job, 1, 0) == "250.0, 150.0"  # at the height of the station ahead
    crossing = typed("sheet -800: 200, 450; 200, 150", job=job)
    with pytest.raises(Problem, match="lower and upper cross between the stations"):
        typed("sheet lay", job=crossing)
    with pytest.raises(Problem, match="draws no tube yet"):
        typed("sheet lay")


def test_a_deleted_joint_leaves_its_cell_empty_and_a_file_keeps_the_sheet(box: Job) -> None:
    gone = edits.delete(box, ["J1L"])
    assert [c is None for c in gone.offsets.stations[0].cells] == [True, False]
    again = from_text(to_text(gone))
    assert again.offsets == gone.offsets
    merged = edits.merge(box, "J3L", "J5L")
    assert merged.offsets.stations[2].cells[0].joint == "J3L"  # type: ignore[union-attr]
    longer = typed("stretch ahead of -1000 by 250", job=box)
    assert [s.x for s in longer.offsets.stations] == [550.0, -250.0, -1500.0]


@pytest.mark.parametrize("kind", edits.STARTS)
@pytest.mark.parametrize(
    "people",
    [
        (),
        ("person Ann 1560 at -1300 0 320",),
        ("person Bo 1950 at -1250 320 300", "person Cy 1650 at -1250 -320 300"),
        ("person Child 1050 at -900 0 280",),
    ],
)
def test_a_starting_sheet_lays_a_frame_round_the_people(kind: str, people: tuple[str, ...]) -> None:
    job = typed(*people, "target wheelbase 2100", f"sheet {kind}", "sheet lay")
    assert find_clashes(job).clashes == ()
    xs = [j.x for j in job.joints]
    assert max(xs) > 0 > -2100 > min(xs)  # past both axles
    assert all(len(job.tubes_at[j.id]) >= 2 for j in job.joints)


def test_a_sheet_taken_off_a_frame_reads_its_rails_and_moves_them() -> None:
    frame = sample("sandpiper")
    job = edits.sheet_of_frame(frame)
    lower = next(n for n, line in enumerate(job.offsets.lines) if line.section == "38 x 2 round")
    joints = [c.joint for s in job.offsets.stations if (c := s.cells[lower])]
    assert len(joints) >= 8
    between = [job.tube_between((a or "", b or ""), bent=False) for a, b in pairwise(joints)]
    assert all(between)
    cell = next(k for k, s in enumerate(job.offsets.stations) if s.cells[lower])
    place = job.joint_by_id[joints[0] or ""].place
    wider = edits.put_cell(job, cell, lower, place[1] + 20, place[2])
    assert math.isclose(wider.joint_by_id[joints[0] or ""].y, place[1] + 20)
    assert edits.sheet_of_frame(frame).joints == frame.joints
    with pytest.raises(Problem, match="No tubes run along the car"):
        edits.sheet_of_frame(Job())
