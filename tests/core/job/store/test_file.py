"""The file there and back, older ones brought forward, and every kind of bad one refused in a sentence."""

import json
import math
import os
from pathlib import Path

import jsonschema
import pytest

from ironcage.core.answers.brief import judge_rules
from ironcage.core.job.store import file
from ironcage.core.job.store.migrations import VERSION
from ironcage.core.job.values.model import Job
from ironcage.core.job.values.proving import Proving
from ironcage.core.job.values.shown import units_of
from ironcage.problem import Problem
from ironcage.samples import sample

CORPUS = Path(__file__).parent / "corpus"


def test_there_and_back(sandpiper: Job, tmp_path: Path) -> None:
    path = tmp_path / "s.cage"
    file.save(sandpiper, path)
    assert file.read(path) == sandpiper
    jsonschema.validate(json.loads(path.read_text("utf-8")), file.schema())
    file.save(sandpiper.but(brief=sandpiper.brief.but(name="Tern")), path)
    assert file.read(path).brief.name == "Tern"
    assert file.read(tmp_path / "s.cage~") == sandpiper
    assert sorted(p.name for p in tmp_path.iterdir() if p.name != "home") == ["s.cage", "s.cage~"]


def test_the_published_schema_is_this_one() -> None:
    published = Path(__file__).parents[4] / "docs" / "cage.schema.json"
    assert json.loads(published.read_text("utf-8")) == file.schema()


@pytest.mark.parametrize("path", sorted(CORPUS.glob("*.cage")), ids=lambda path: path.stem)
def test_every_file_that_any_version_wrote_opens_whole(path: Path) -> None:
    """Demos as the program wrote them when that version was the present one."""
    written = json.loads(path.read_text("utf-8"))
    job = file.read(path)
    assert path.name.startswith(f"v{written['version']}-")
    assert written["version"] < VERSION
    for kind in ("joints", "tubes", "parts", "people", "chains", "fittings", "masses", "wheels"):
        assert [t["id"] for t in written["job"].get(kind, ())] == [t.id for t in getattr(job, kind)]
    assert [(j["x"], j["y"], j["z"]) for j in written["job"]["joints"]] == [j.place for j in job.joints]
    if written["version"] < 5:
        assert job.proving == Proving()
    assert file.from_text(file.to_text(job)) == job


def test_every_version_has_a_file_but_the_first_which_was_never_given_out() -> None:
    assert {path.name[:2] for path in CORPUS.glob("*.cage")} == {f"v{n}" for n in range(2, VERSION)}


def test_angles_and_stiffness_of_the_fifth_version_mean_what_they_meant() -> None:
    written = json.loads((CORPUS / "v5-sandpiper.cage").read_text("utf-8"))["job"]
    job = file.read(CORPUS / "v5-sandpiper.cage")
    degrees = {r["id"]: (r.get("least"), r.get("most")) for r in written["rules"]["rules"]}
    assert degrees["R6"] == (30, 60)
    assert {r.rule: r.state for r in judge_rules(job)} == {r.rule: r.state for r in judge_rules(sample("sandpiper"))}
    lean = next(r for r in job.rules.rules if r.id == "R6")
    assert (lean.least, lean.most) == pytest.approx((math.pi / 6, math.pi / 3))
    (aim,) = (t["value"] for t in written["brief"]["targets"] if t["kind"] == "twist stiffness")
    (kept,) = (t.value for t in job.brief.targets if t.kind == "twist stiffness")
    ties = [j["tie"] for j in written["joints"] if j.get("tie")]
    assert [tuple(tie["off"]) for tie in ties] == [j.tie.offset for j in job.joints if j.tie]
    assert written["proving"]["test"]["off"] == job.proving.test.reading_error
    assert units_of(job).torsional_stiffness(kept) == f"{aim:,.0f} N·m/deg"


def test_a_file_of_the_first_version_is_brought_forward() -> None:
    document = json.loads((CORPUS / "v2-sandpiper.cage").read_text("utf-8"))
    for key in ("last_joint", "last_tube", "last_part"):
        del document["job"][key]
    document["job"]["last_number"] = 400
    document["version"] = 1
    job = file.from_text(json.dumps(document))
    assert (job.last_joint, job.last_tube, job.last_part) == (400, 400, 400)
    assert job.tubes == file.read(CORPUS / "v2-sandpiper.cage").tubes


def _changed(job: Job, change) -> str:
    document = json.loads(file.to_text(job))
    change(document)
    return json.dumps(document)


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda t: t[: len(t) // 2], "ends too early; it looks cut off"),
        (lambda t: "", "is not JSON"),
        (lambda t: "hello", "is not JSON"),
        (lambda t: "[" * 100_000, "nested too deeply|ends too early|not JSON"),
        (lambda t: '{"format": "other"}', "is not an Iron Cage job"),
        (lambda t: t.replace(f'"version": {VERSION}', '"version": 99'), "newer Iron Cage .format 99"),
        (lambda t: t.replace(f'"version": {VERSION}', '"version": "x"'), "does not say which version"),
        (lambda t: t.replace('"x": 330.0', '"x": NaN', 1), "number NaN"),
        (lambda t: t.replace('"x": 330.0', '"x": 1e308', 1), "x of J1L is 1e.308"),
        (lambda t: t.replace('"x": 330.0', '"x": "left"', 1), "x of J1L is 'left'"),
        (lambda t: t.replace('"b": "J4L"', '"b": "J400"', 1), "names joint ‘J400’"),
        (lambda t: t.replace('"section": "38 x 2 round"', '"section": "38 x 9"', 1), "names section ‘38 x 9’"),
        (lambda t: t.replace('"wall_mm": 2.5', '"wall_mm": 250', 1), "over half its size|wall"),
        (lambda t: t.replace('"id": "J1R"', '"id": "J1L"', 1), "Two joints are called J1L"),
        (lambda t: t.replace('"brief": {', '"extra": 1, "brief": {', 1), "extra"),
    ],
)
def test_a_bad_file_is_refused_in_one_sentence(spoil, says: str, sandpiper: Job, tmp_path: Path) -> None:
    path = tmp_path / "bad.cage"
    path.write_text(spoil(file.to_text(sandpiper)), "utf-8")
    with pytest.raises(Problem, match=says) as caught:
        file.read(path)
    assert "bad.cage" in str(caught.value)
    assert "\n" not in str(caught.value)
    assert len(str(caught.value)) < 400


def test_not_text_too_large_and_not_there(tmp_path: Path) -> None:
    path = tmp_path / "scan.cage"
    path.write_bytes(b"\xff\xfe\x00")
    with pytest.raises(Problem, match="is not text"):
        file.read(path)
    with path.open("wb") as stream:
        stream.truncate(file.MOST_BYTES + 1)
    with pytest.raises(Problem, match="too large for a job"):
        file.read(path)
    with pytest.raises(Problem, match="There is no file"):
        file.read(tmp_path / "none.cage")


def test_a_full_disk_leaves_the_old_file_whole(sandpiper: Job, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "s.cage"
    file.save(sandpiper, path)

    def full(descriptor: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(Problem, match=r"could not be saved in .*: No space left on device.* still here"):
        file.save(Job(), path)
    monkeypatch.undo()
    assert file.read(path) == sandpiper
    assert not list(tmp_path.glob(".*new"))
    with pytest.raises(Problem, match="could not be saved"):
        file.save(sandpiper, tmp_path / "no such folder" / "s.cage")
