"""The program as it is started: the launcher, the pictures, a file that is bad, a fault that must lose nothing."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from ironcage.cli.main import main
from ironcage.core.job import edits
from ironcage.core.job.store import file
from ironcage.core.job.store.journal import left_behind
from ironcage.core.job.values.model import Job

ROOT = Path(__file__).parents[1]


def started(*words: str, home: Path, **env: str) -> subprocess.CompletedProcess[str]:
    """`python -m ironcage` off screen."""
    clean = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")}
    return subprocess.run(
        [sys.executable, "-m", "ironcage", *words],
        env={**clean, "PYTHONPATH": str(ROOT / "src"), "IRONCAGE_HOME": str(home), **env},
        capture_output=True,
        text=True,
        timeout=240,
        check=False,
    )


def test_demo_takes_its_picture_and_leaves(tmp_path: Path) -> None:
    done = started(
        "demo", "--shot", str(tmp_path / "p.png"), "--step", "prove", "--size", "1024x700", home=tmp_path / "h"
    )
    assert done.returncode == 0, done.stderr
    assert done.stderr == ""
    picture = (tmp_path / "p.png").read_bytes()
    assert picture[:4] == b"\x89PNG"
    assert int.from_bytes(picture[16:20], "big") == 1024
    assert int.from_bytes(picture[20:24], "big") == 700
    assert not (tmp_path / "h").exists(), "a picture leaves no settings behind"


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["demo", "--shot", "p.png", "--step", "wold"], "There is no step ‘wold’"),
        (["demo", "--shot", "p.png", "--size", "big"], "‘big’ is not a size. Write for example 1280x800."),
        (["demo", "--shot", "p.png", "--size", "9x9"], "out of range"),
        (["demo", "sandpipper", "--shot", "p.png"], "The nearest is sandpiper"),
        (["demo", "--shot", "/nowhere/p.png"], "could not be written"),
    ],
)
def test_a_picture_that_cannot_be_taken_is_one_line(words: list[str], says: str, tmp_path: Path) -> None:
    done = started(*words, home=tmp_path)
    assert done.returncode == 2
    assert says in done.stderr
    assert "Traceback" not in done.stderr


def test_sample_schema_and_help(tmp_path: Path, capsys: pytest.CaptureFixture[str], sandpiper: Job) -> None:
    out = tmp_path / "s.cage"
    assert main(["sample", "Sandpiper", str(out)]) == 0
    assert file.read(out) == sandpiper
    assert main(["schema"]) == 0
    assert '"ironcage job"' in capsys.readouterr().out
    assert main(["--help"]) == 0
    assert "iron-cage answer STEP FILE" in capsys.readouterr().out


def test_the_launcher_does_no_work_the_second_time(tmp_path: Path) -> None:
    """With nothing but a shell and a checksum on the path: no pip, no apt, no network."""
    if not (ROOT / ".venv" / "installed-run").exists():
        pytest.skip("the tests were not started by the launcher")
    done = subprocess.run(
        [ROOT / "iron-cage", "help"],
        env={"PATH": "/usr/bin:/bin", "HOME": str(tmp_path)},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    assert done.stderr == ""
    assert done.stdout.startswith("iron-cage [FILE]")


BROKEN = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
import ironcage.desk.app as program
app, window = program.opened(file=Path(sys.argv[1]))
program._catch(window)
window.session.choose(("J12L",))
window.session.type("z+25")
def fail():
    raise RuntimeError("a fault in the program")
def look():
    print(window.entry.said.text())
    import os
    os._exit(9)  # as if the power went
QTimer.singleShot(50, fail)
QTimer.singleShot(300, look)
app.exec()
"""


def test_a_fault_is_told_and_the_work_comes_back_after_it(tmp_path: Path, sandpiper: Job) -> None:
    home, path = tmp_path / "home", tmp_path / "s.cage"
    file.save(sandpiper, path)
    env = {**os.environ, "IRONCAGE_HOME": str(home), "QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": str(ROOT / "src")}
    done = subprocess.run(
        [sys.executable, "-c", BROKEN, str(path)], env=env, capture_output=True, text=True, timeout=240, check=False
    )
    assert done.returncode == 9, done.stderr
    assert "Something broke in the program (RuntimeError). Your work is kept" in done.stdout
    assert "a fault in the program" in (home / "last-fault.txt").read_text("utf-8")
    found = list(left_behind(home / "recovery"))
    assert [f.job for f in found] == [edits.move(sandpiper, ["J12L"], dz=25)]
    assert found[0].file == path
    assert file.read(path) == sandpiper


BAD = """
import sys
from pathlib import Path
import ironcage.desk.app as program
app, window = program.opened(file=Path(sys.argv[1]))
print(window.entry.said.text())
print(len(window.session.job.joints), window.isVisible())
window.close()
"""


def test_a_bad_file_on_the_command_line_opens_the_window_and_says_why(tmp_path: Path) -> None:
    path = tmp_path / "bad.cage"
    path.write_text('{"format": "ironcage job", "version": 99, "job": {}}')
    env = {
        **os.environ,
        "IRONCAGE_HOME": str(tmp_path),
        "QT_QPA_PLATFORM": "offscreen",
        "PYTHONPATH": str(ROOT / "src"),
    }
    done = subprocess.run(
        [sys.executable, "-c", BAD, str(path)], env=env, capture_output=True, text=True, timeout=240, check=False
    )
    assert done.returncode == 0, done.stderr
    said, state = done.stdout.strip().splitlines()
    assert said.startswith("bad.cage was written by a newer Iron Cage (format 99")
    assert state == "0 True"


SAVING = """
import sys
from pathlib import Path
from ironcage.core.job import edits
from ironcage.core.job.store import file
from ironcage.samples import sample
job, path = sample("sandpiper"), Path(sys.argv[1])
for n in range(10_000):
    job = edits.move(job, ["J12L"], dz=1)
    file.save(job, path)
    print(n, flush=True)
"""


def test_killed_while_saving_the_file_is_always_whole(tmp_path: Path, sandpiper: Job) -> None:
    """Killed at eight moments in the middle of one save after another: what is there opens, and is not older than the
    save before the last that was reported."""
    path = tmp_path / "s.cage"
    env = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    for moment in range(8):
        worker = subprocess.Popen([sys.executable, "-c", SAVING, str(path)], stdout=subprocess.PIPE, text=True, env=env)
        assert worker.stdout
        for _ in range(2 + 3 * moment):
            worker.stdout.readline()
        worker.kill()
        seen = [int(line) for line in worker.stdout.read().split("\n") if line.strip().isdigit()]
        worker.wait()
        worker.stdout.close()
        lifted = file.read(path).joint("J12L").z - sandpiper.joint("J12L").z
        assert lifted >= max([1 + 3 * moment, *seen]) + 1
