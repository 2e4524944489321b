"""The wheel and the source package: made without a warning, whole, and used from where they were unpacked."""

import os
import shutil
import subprocess
import sys
import tarfile
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
MAKE = "from setuptools import build_meta as made; print(made.build_sdist('out')); print(made.build_wheel('out'))"
WINDOW = """
import under_lattice
from under_lattice.library import demo
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
app = make_application()
window = Window()
window.show_work(demo("entrance-floor"))
window.show()
app.processEvents()
print(under_lattice.__file__, window.isVisible(), window.windowTitle())
"""


def run(*words, **more):
    made = subprocess.run([sys.executable, *words], capture_output=True, text=True, timeout=120, check=False, **more)
    assert made.returncode == 0, made.stderr[-2000:]
    return made


@pytest.fixture(scope="module")
def packed(tmp_path_factory):
    """A folder with both packages, made of a copy of what the project holds."""
    folder = tmp_path_factory.mktemp("packed")
    for name in ("src", "share"):
        shutil.copytree(ROOT / name, folder / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE", "CHANGELOG.md"):
        shutil.copy(ROOT / name, folder / name)
    plain = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    made = run("-c", MAKE, cwd=folder, env=plain)
    assert "warn" not in made.stderr.lower(), made.stderr
    return folder


def test_all_files_of_the_program_are_in_both_packages(packed):
    files = [path for path in (ROOT / "src").rglob("*") if path.is_file() and not {"__pycache__"} & set(path.parts)]
    wanted = {str(path.relative_to(ROOT / "src")) for path in files if "egg-info" not in str(path)}
    assert len(wanted) > 500
    (wheel,) = (packed / "out").glob("*.whl")
    (source,) = (packed / "out").glob("*.tar.gz")
    assert wanted <= set(zipfile.ZipFile(wheel).namelist())
    with tarfile.open(source) as tar:
        assert {f"src/{name}" for name in wanted} <= {name.partition("/")[2] for name in tar.getnames()}


def test_the_wheel_answers_the_command_and_opens_the_window(packed, tmp_path):
    (wheel,) = (packed / "out").glob("*.whl")
    zipfile.ZipFile(wheel).extractall(tmp_path / "site")
    own = {"PYTHONPATH": str(tmp_path / "site"), "QT_QPA_PLATFORM": "offscreen", "XDG_STATE_HOME": str(tmp_path)}
    there = {**os.environ, **own, "XDG_DATA_HOME": str(tmp_path), "NUMBA_CACHE_DIR": str(tmp_path)}
    facts = run("-m", "under_lattice", "facts", "demo:entrance-floor", cwd=tmp_path, env=there).stdout
    assert "67" in facts
    said = run("-c", WINDOW, cwd=tmp_path, env=there).stdout
    assert str(tmp_path / "site") in said
    assert "True" in said
