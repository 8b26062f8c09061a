"""Links as they are made: lengths, tubes between rod ends, how far they are set, what tilts too far."""

import math

import numpy as np
import pytest

from ironcage.core.answers.findings import find_snags
from ironcage.core.answers.run.corner import run_of
from ironcage.core.answers.run.links import links_made
from ironcage.core.exchange.kinds import kind
from ironcage.core.job.text import understand
from ironcage.core.job.values.model import Job
from ironcage.problem import Problem
from ironcage.samples import sample
from ironcage.told import plain
from tests.core.lines import typed

EYES = "eye thread 10 shank 48 start 20 nut 5 lip 4 engaged 22 head 29 housing 10.5 ball 14"


def test_the_tube_and_what_a_link_is_set_to_follow_from_its_rod_ends(sandpiper: Job) -> None:
    before = {link.name: link for link in links_made(sandpiper)["front"].links}
    hung = sandpiper.wishbones[0]
    assert before["tie rod"].length == pytest.approx(math.dist(hung.tie_in, hung.tie_out))
    inner = sandpiper.joint(hung.lower[0]).place
    assert before["lower arm, front leg"].length == pytest.approx(math.dist(inner, hung.lower_out))
    assert before["tie rod"].tube is None
    job = typed(sandpiper, f"corner front {EYES}")
    rod = next(link for link in links_made(job)["front"].links if link.name == "tie rod")
    assert rod.tube == pytest.approx(rod.length - 2 * (48 - 22 + 4))
    assert rod.shortest == pytest.approx(rod.length - 2 * ((48 - 20 - 5) - 22))  # all thread in but the nut's
    assert rod.longest == pytest.approx(rod.length + 2 * (22 - 15))  # 1.5 diameters are left in


def test_ends_do_not_tilt_at_ride_height_and_most_at_an_end_of_the_travel(sandpiper: Job) -> None:
    still = typed(sandpiper, "corner front up 0", "corner front down 0", "corner front rack 0")
    assert all(t.most < 1e-6 for link in links_made(still)["front"].links for t in link.tilts)
    links = links_made(sandpiper)["front"].links
    run = run_of(sandpiper, "front")
    stud = run.corner.upper_out - run.corner.lower_out
    at = run.found.turn @ (stud / np.linalg.norm(stud))  # the stud, and its angle to the lower arm's own plane
    inner, out = run.corner.lower, run.corner.lower_out
    now = run.found.at(out)
    normal = np.cross(inner[0] - now, inner[1] - now)
    normal /= np.linalg.norm(normal, axis=-1, keepdims=True)
    slant = np.arcsin(np.sum(at * normal, axis=-1))
    row = run.found.travel.searchsorted(0)
    swing = np.abs(slant - slant[row, run.straight]).max()
    told = next(link for link in links if link.name == "lower arm, front leg").tilts[0]
    assert told.end == "ball joint"
    assert told.most >= swing - 1e-9  # it tilts at least by what can be seen against the arm
    assert told.most < swing + math.radians(3)
    assert abs(told.travel) == 50


def test_axles_and_beams_have_links_and_arms_have_none() -> None:
    fell = links_made(sample("fell-litter"))["rear"]
    assert [link.name for link in fell.links] == ["lower link", "upper link", "track rod"]
    level = typed(sample("fell-litter"), "axle rear roll 0")
    lower = links_made(level)["rear"].links[0]
    assert max(t.most for t in lower.tilts) < max(t.most for t in fell.links[0].tilts)
    skerry = links_made(sample("skerry"))["front"]
    assert [link.name for link in skerry.links] == ["tie rod"]
    assert skerry.links[0].tilts[0].most > 0
    assert links_made(sample("sandpiper"))["rear"].links == ()


def test_an_end_past_what_it_can_is_a_snag_that_names_the_spacer(sandpiper: Job) -> None:
    job = typed(sandpiper, f"corner front {EYES} tilt 8")
    told = {plain(s.what): plain(s.hint) for s in find_snags(job) if s.code == "rod end tilts"}
    assert set(told) == {
        "The front upper arm, front leg’s ball joint tilts 8.4° at 50.0 mm down, and can tilt 8.0°.",
        "The front tie rod’s inner end tilts 9.5° at 50.0 mm up, and can tilt 7.1°.",
        "The front tie rod’s outer end tilts 8.9° at 50.0 mm down, and can tilt 7.1°.",
    }
    assert any(hint.startswith("Put a spacer of 0.56 mm on either side") for hint in told.values())
    cured = typed(job, "corner front eye ball 15.2 tilt 9")  # as wide as with the spacers
    assert not [s for s in find_snags(cured) if s.code == "rod end tilts"]
    little = typed(job, "corner front eye engaged 12")
    assert "Only 12.0 mm" in next(plain(s.what) for s in find_snags(little) if s.code == "little thread")
    short = typed(sample("skerry"), "beam front eye shank 400 engaged 60")
    assert next(s.severity for s in find_snags(short) if s.code == "link short") == "wrong"


@pytest.mark.parametrize(
    ("line", "why"),
    [
        ("corner front eye", "What is known of the rod ends is incomplete"),
        ("corner front eye thred 12", "no figure is called ‘thred’. The nearest is thread"),
        ("corner front eye thread", "Nothing was typed for thread"),
        ("corner front eye shank 40 start 45", "The thread would start 45.0 mm from the eye and end 40.0 mm"),
        ("corner front eye shank 40 start 20 engaged 30", "The thread is 20.0 mm long, so 30.0 mm"),
        ("corner front eye housing 12 ball 10", "The ball would be 10.0 mm wide in a housing of 12.0 mm"),
        ("arm rear eye thread 10", "The rear wheels hang on nothing that has rod ends"),
    ],
)
def test_what_no_rod_end_can_be_is_refused(sandpiper: Job, line: str, why: str) -> None:
    with pytest.raises(Problem) as refused:
        understand(line, sandpiper)
    assert why in plain(refused.value.sentence)


def test_the_set_up_sheet_and_the_list_hold_every_link(sandpiper: Job) -> None:
    job = typed(typed(sandpiper, "units inch lb"), "corner front eye shank 2 engaged 1")
    rows = kind("links-csv").make(job, "").decode().splitlines()
    assert rows[0].startswith("end,link,between middles in")
    rod = next(row for row in rows if row.startswith("front,tie rod"))
    length = math.dist(job.wishbones[0].tie_in, job.wishbones[0].tie_out) / 25.4
    assert [float(v) for v in rod.split(",")[2:4]] == pytest.approx([length, length - 2], abs=0.002)
    assert kind("setup-pdf").make(job, "").startswith(b"%PDF")
    for name in ("setup-pdf", "links-csv"):
        with pytest.raises(Problem, match="No wheel is hung yet"):
            kind(name).make(Job(), "")
