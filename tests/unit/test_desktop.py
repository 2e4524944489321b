"""The files for the desktop are valid and belong together."""

import shutil
import subprocess
from pathlib import Path
from xml.etree import ElementTree

import pytest

from under_lattice.command_line.installing import main

SHARE = Path(__file__).parent.parent.parent / "share"
NAME = "org.under_lattice.Studio"


@pytest.mark.parametrize(
    ("tool", "arguments"),
    [("desktop-file-validate", [f"{NAME}.desktop"]), ("appstreamcli", ["validate", "--no-net", f"{NAME}.metainfo.xml"])],
)
def test_validators_agree(tool, arguments):
    if shutil.which(tool) is None:
        pytest.skip(f"{tool} is not installed")
    done = subprocess.run([tool, *arguments], cwd=SHARE, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def test_the_type_of_the_file_is_the_same_everywhere():
    entry = (SHARE / f"{NAME}.desktop").read_text()
    mime = ElementTree.parse(SHARE / f"{NAME}.mime.xml").find("{*}mime-type").get("type")
    info = ElementTree.parse(SHARE / f"{NAME}.metainfo.xml")
    assert f"MimeType={mime};" in entry
    assert f"Icon={NAME}" in entry
    assert info.find("id").text == NAME
    assert info.find("provides/mediatype").text == mime
    assert (SHARE / f"{NAME}.svg").exists()


def test_everything_is_put_into_the_persons_own_folders_and_taken_out_again(tmp_path, monkeypatch, capsys):
    monkeypatch.setenv("HOME", str(tmp_path))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("PATH", "/usr/bin:/bin")
    program = tmp_path / "a folder" / "under-lattice"
    program.parent.mkdir()
    program.write_text("#!/bin/sh\necho started $1\n")
    program.chmod(0o755)
    before = {path for path in tmp_path.rglob("*") if path.is_file()}
    assert main([str(program)]) == 0
    entry = tmp_path / "data" / "applications" / f"{NAME}.desktop"
    assert f'Exec="{program}" %f' in entry.read_text()
    assert (tmp_path / "data" / "mime" / "packages" / f"{NAME}.xml").exists()
    assert (tmp_path / "data" / "icons" / "hicolor" / "scalable" / "apps" / f"{NAME}.svg").exists()
    command = tmp_path / ".local" / "bin" / "under-lattice"
    assert subprocess.run([command, "x"], capture_output=True, text=True, check=True).stdout == "started x\n"
    assert "is not in your PATH" in capsys.readouterr().out
    if shutil.which("desktop-file-validate"):
        assert subprocess.run(["desktop-file-validate", entry], check=False).returncode == 0
    assert main(["--uninstall"]) == 0
    assert {path for path in tmp_path.rglob(f"*{NAME}*") if path.is_file()} | {path for path in [command] if path.exists()} == set()
    assert before <= {path for path in tmp_path.rglob("*") if path.is_file()}
    assert main(["--uninstall"]) == 0
    assert "nothing was installed" in capsys.readouterr().out


def test_what_cannot_be_written_is_said(tmp_path, monkeypatch, capsys):
    monkeypatch.setenv("HOME", str(tmp_path))
    (tmp_path / "data").write_text("a file where a folder should be")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    assert main(["/bin/true"]) == 1
    assert "nothing was installed" in capsys.readouterr().err
