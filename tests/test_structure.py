"""The import contract can break, and what the docs promise is there."""

import ast
import pkgutil
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from ironcage.cli.calc import CALCULATORS
from ironcage.cli.main import VERBS
from ironcage.core.exchange.kinds import KINDS
from ironcage.core.job.text import COMMANDS
from ironcage.told import plain

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "ironcage"


def contract(folder: Path) -> subprocess.CompletedProcess[str]:
    lint = Path(sys.executable).with_name("lint-imports")
    return subprocess.run(
        [lint, "--config", "pyproject.toml", "--no-cache"],
        cwd=folder,
        env={"PYTHONPATH": "src", "PATH": "/usr/bin"},
        check=False,
        capture_output=True,
        text=True,
    )


@pytest.mark.parametrize(
    "planted", ["from PyQt6.QtCore import QObject\n", "import vtkmodules\n", "import ironcage.desk.look\n"]
)
def test_the_contract_breaks_when_the_core_sees_a_screen(planted: str, tmp_path: Path) -> None:
    shutil.copytree(ROOT / "src", tmp_path / "src")
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    canary = tmp_path / "src/ironcage/core/calc/car/mass.py"
    canary.write_text(canary.read_text("utf-8") + planted, "utf-8")
    broken = contract(tmp_path)
    assert broken.returncode == 1
    assert "The core knows no screen BROKEN" in broken.stdout


BREACHES = {
    "core/answers/shared/mass.py": ("from ironcage.core.answers.cut import pieces", "What steps share knows no step"),
    "core/answers/jig/stands.py": (
        "from ironcage.core.answers.cut.pieces import Piece",
        "The inside of Cut is its own",
    ),
    "desk/pages/cut/page.py": ("from ironcage.core.answers.jig.stands import Stand", "The inside of Jig is its own"),
    "core/answers/brief/aims.py": ("from ironcage.core.answers.prove import cases", "The inside of Prove is its own"),
    "desk/pages/jig/page.py": ("import ironcage.desk.pages.frame.bays", "The inside of Frame is its own"),
    "core/answers/frame/bays.py": ("from ironcage.core.answers.place.people import ASSUMPTIONS", "The inside of Place"),
    "core/answers/frame/joined.py": ("import ironcage.core.answers.brief.rules", "The inside of Brief is its own"),
    "core/answers/jig/checks.py": ("import ironcage.core.answers.true.measured", "The inside of True is its own"),
    "core/answers/pocket/drive.py": ("import ironcage.core.job.values.model", "Pocket needs no job and no step"),
    "core/answers/prove/baywork.py": ("import ironcage.core.answers.tally.readout", "The inside of Tally is its own"),
    "desk/session.py": ("import ironcage.core.answers.findings.checks", "The inside of Findings is its own"),
    "core/job/values/ties.py": ("import ironcage.core.job.edits.ties", "In the job, text calls edits"),
    "core/calc/car/stance.py": ("import ironcage.core.job.values.model", "Each layer knows only those below it"),
}


def test_every_contract_breaks_when_a_module_looks_where_it_must_not(tmp_path: Path) -> None:
    shutil.copytree(ROOT / "src", tmp_path / "src")
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    for module, (planted, _) in BREACHES.items():
        with (tmp_path / "src/ironcage" / module).open("a", encoding="utf-8") as file:
            file.write(f"{planted}\n")
    told = contract(tmp_path).stdout
    for planted, name in BREACHES.values():
        assert re.search(rf"{re.escape(name)}.* BROKEN", told), planted


def test_the_docs_name_everything_that_is_there() -> None:
    docs = {p.name: p.read_text("utf-8") for p in (ROOT / "docs").rglob("*.md")}
    for kind in KINDS:
        assert f"`{kind.name}`" in docs["file-kinds.md"]
    for name in CALCULATORS:
        assert f"iron-cage calc {name}" in docs["calculators.md"]
    for command in COMMANDS:
        assert f"`{plain(command.example)}`" in docs["typed-lines.md"], command.word
    for verb in VERBS:
        assert f"`{verb.call}`" in docs["command-line.md"], verb.word


def test_links_and_pictures_in_the_docs_lead_somewhere() -> None:
    for page in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]:
        for target in re.findall(r"\]\(([^)#]+)", page.read_text("utf-8")):
            assert (page.parent / target).exists(), f"{page.name}: {target}"
    readme = (ROOT / "README.md").read_text("utf-8")
    for picture in (ROOT / "docs/screenshots").glob("*.png"):
        assert picture.name in readme


def test_architecture_names_only_folders_and_files_that_exist() -> None:
    text = (ROOT / "docs/architecture.md").read_text("utf-8")
    named = re.findall(r"`((?:src|tests|docs)/[\w./-]+)`", text)
    assert len(named) > 15
    for name in named:
        assert (ROOT / name).exists(), name


def test_every_name_of_the_glossary_is_in_the_code() -> None:
    names = re.findall(r"^\|[^|]+\| `([\w.]+)` \|", (ROOT / "docs/glossary.md").read_text("utf-8"), re.MULTILINE)
    assert len(names) > 40
    for name in names:
        found = pkgutil.resolve_name(f"ironcage.{name}")
        assert found is not None, name


_UNIT = re.compile(r"(?:\}|\d) (mm|kg|N·m|kN|N/mm)(?![\w/³²])")


def _sentences(path: Path) -> Iterator[tuple[int, str]]:
    """Every text of a module that is not a docstring."""
    tree = ast.parse(path.read_text("utf-8"))
    docs = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef) and isinstance(node.body[0], ast.Expr)
    }
    for node in ast.walk(tree):
        text = isinstance(node, ast.JoinedStr) or (isinstance(node, ast.Constant) and isinstance(node.value, str))
        if text and id(node) not in docs:
            yield node.lineno, ast.unparse(node)


def test_no_sentence_of_the_core_writes_a_unit_itself() -> None:
    """Quantities go into sentences by `units.said`, so that they are read in the job's units."""
    found = {
        f"{path.relative_to(SOURCE)}:{line}: {text}"
        for part in ("calc", "job", "answers", "exchange")
        for path in (SOURCE / "core" / part).rglob("*.py")
        if path.parent.name != "pocket"  # which tells every figure in both units
        for line, text in _sentences(path)
        if _UNIT.search(text) and "MPa" not in text and "[" not in text
    }
    assert found == set()
