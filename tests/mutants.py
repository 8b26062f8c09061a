"""Do the tests bite? Faults planted one at a time in what is worked out, and the tests that let one live.

`python -m tests.mutants COUNT SEED [FOLDER …]` plants COUNT faults, evenly over the modules of the folders (by default
`core/calc` and `core/answers`), each in a copy of the source, and runs the tests of the same folder until one fails,
then the rest of that layer's, then all others. What survives is printed with its line. A fault is a comparison, an
operation, a number or a condition that says something else; numbers that only choose a speed, a size kept or a text
are left alone.
"""

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "ironcage"
FOLDERS = ("core/calc", "core/answers")
LONGEST_S = 1200  # several times what all tests take: beyond, a fault has made something run on for ever
COMPARED = {ast.Lt: ast.GtE, ast.GtE: ast.Lt, ast.Gt: ast.LtE, ast.LtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
DONE = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
JOINED = {ast.And: ast.Or, ast.Or: ast.And}


@dataclass(frozen=True)
class Fault:
    """A module, the line of the fault, what stood there and what stands there now, and the whole module with it."""

    module: Path
    line: int
    before: str
    after: str
    text: str


def _swapped(node: ast.AST) -> bool:
    """Make one node say something else; whether there was anything to change."""
    if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARED:
        node.ops[0] = COMPARED[type(node.ops[0])]()
    elif isinstance(node, ast.BinOp) and type(node.op) in DONE and not isinstance(node.left, ast.JoinedStr | ast.List):
        node.op = DONE[type(node.op)]()
    elif isinstance(node, ast.BoolOp):
        node.op = JOINED[type(node.op)]()
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        node.op = ast.UAdd()
        node.operand = ast.Call(ast.Name("bool", ast.Load()), [node.operand], [])
    elif isinstance(node, ast.Constant) and type(node.value) in (int, float) and abs(node.value) > 1e-3:
        node.value = node.value * 2 if isinstance(node.value, float) else node.value + 1
    else:
        return False
    return True


def _bodies(tree: ast.Module) -> Iterator[ast.AST]:
    """What can be changed: inside functions, but neither annotations nor defaults nor text that is said."""
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for statement in function.body:
                for node in ast.walk(statement):
                    if isinstance(node, ast.Compare | ast.BinOp | ast.BoolOp | ast.UnaryOp | ast.Constant):
                        yield node


def faults_of(module: Path, chance: random.Random) -> Fault | None:
    """One fault at random in a module; none where nothing can be changed."""
    text = module.read_text("utf-8")
    tree = ast.parse(text)
    nodes = list(_bodies(tree))
    chance.shuffle(nodes)
    for node in nodes:
        before = ast.unparse(node)
        if _swapped(node):
            ast.fix_missing_locations(tree)
            return Fault(module, node.lineno, before, ast.unparse(node), ast.unparse(tree))
    return None


def tests_of(module: Path) -> list[list[str]]:
    """What pytest is called with to look for a module's faults: its own folder, the rest of its layer, then all others:
    what a step works out is looked at from files, the command line and the window as well."""
    layer = ROOT / "tests" / "core" / module.relative_to(SOURCE).parts[1]
    own = ROOT / "tests" / module.parent.relative_to(SOURCE)
    if own == layer or not own.is_dir():
        return [[str(layer)], [str(ROOT / "tests"), f"--ignore={layer}"]]
    return [[str(own)], [str(layer), f"--ignore={own}"], [str(ROOT / "tests"), f"--ignore={layer}"]]


def survives(fault: Fault) -> bool:
    """Whether every test passes with a fault in place."""
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "src"
        shutil.copytree(ROOT / "src", copy, ignore=shutil.ignore_patterns("__pycache__"))
        (copy / "ironcage" / fault.module.relative_to(SOURCE)).write_text(fault.text, "utf-8")
        env = {**os.environ, "PYTHONPATH": str(copy), "QT_QPA_PLATFORM": "offscreen", "PYTHONDONTWRITEBYTECODE": "1"}
        for tests in tests_of(fault.module):
            try:
                done = subprocess.run(
                    [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests],
                    cwd=ROOT,
                    env=env,
                    capture_output=True,
                    check=False,
                    timeout=LONGEST_S,
                )
            except subprocess.TimeoutExpired:
                return False
            if done.returncode != 0:
                return False
    return True


def main(words: list[str]) -> int:
    """Plant the faults and say which survive; 1 when one in ten or more does."""
    count, seed = int(words[0]), int(words[1])
    chance = random.Random(seed)
    modules = sorted(
        m for folder in (words[2:] or FOLDERS) for m in (SOURCE / folder).rglob("*.py") if m.name != "__init__.py"
    )
    chosen = [m for _ in range(-(-count // len(modules))) for m in chance.sample(modules, len(modules))][:count]
    lived = 0
    planted = [fault for module in chosen if (fault := faults_of(module, chance)) is not None]
    for n, fault in enumerate(planted, 1):
        alive = survives(fault)
        lived += alive
        where = f"{fault.module.relative_to(ROOT)}:{fault.line}"
        print(
            f"{n}/{len(planted)} {'SURVIVED' if alive else 'found'} {where}: {fault.before} -> {fault.after}",
            flush=True,
        )
    print(f"{lived} of {len(planted)} survived")
    return int(lived * 10 >= len(planted))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
