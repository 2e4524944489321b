"""Small files that once took minutes or gigabytes: each is read or refused with a sentence, at once."""

import os
import signal
import subprocess
from pathlib import Path

import pytest

from under_lattice.core.errors import FileError, LatticeError
from under_lattice.files.bounded import LARGEST, read_bytes
from under_lattice.files.recipe import open_any
from under_lattice.files.svg.shapes import read_svg

HEAD = b'<svg xmlns="http://www.w3.org/2000/svg"'
SHAPE = b'<path d="M0 0H5V5Z"/></svg>'
FILES = {
    "document types": b"<!DOCTYPE" * 60_000,
    "brackets in a document type": b"<!DOCTYPE svg [" + b"[" * 500_000,
    "digits in a width": HEAD + b' width="' + b"1" * 100_000 + b'">' + SHAPE,
    "a page without end": HEAD + b' viewBox="0 0 1e400 1"><path transform="scale(1)" d="M0 0H5V5Z"/></svg>',
    "brackets in a transform": HEAD + b'><path transform="' + b"(" * 200_000 + b'" d="M0 0H5V5Z"/></svg>',
    "words in a transform": HEAD + b'><path transform="' + b"scale(" * 40_000 + b'" d="M0 0H5V5Z"/></svg>',
    "letters in a transform": HEAD + b'><path transform="' + b"a" * 300_000 + b'" d="M0 0H5V5Z"/></svg>',
    "blocks in a style": HEAD + b"><style>" + b"a{" * 100_000 + b"</style>" + SHAPE,
    "parts of a selector": HEAD + b"><style>" + b".a " * 50_000 + b"{fill:red}</style>" + SHAPE,
    "points": HEAD + b'><polygon points="' + b"1," * 300_000 + b'"/></svg>',
    "moves": HEAD + b'><path d="' + b"M" * 300_000 + b'"/></svg>',
    "figures of a place": HEAD + b'><path d="M0 0 L' + b"1" * 300_000 + b'"/></svg>',
    "signs": HEAD + b'><path d="M0 0 L' + b"-" * 300_000 + b'"/></svg>',
    "groups in groups": HEAD + b">" + b"<g>" * 100_000 + b"</g>" * 100_000 + b"</svg>",
    "dashes": HEAD + b'><path stroke="red" stroke-dasharray="' + b"1 " * 200_000 + b'" d="M0 0H500"/></svg>',
    "a dash too fine": HEAD + b'><path stroke="red" stroke-dasharray="0.00001" d="M0 0H500"/></svg>',
    "a use of itself": HEAD + b'><g id="a"><use href="#a"/></g></svg>',
    "transforms without numbers": HEAD + b'><path transform="scale() matrix(1) rotate( ) skewX()" d="M0 0H5V5Z"/></svg>',
}


@pytest.fixture(autouse=True)
def never_without_end():
    """A test that stands for a minute fails, wherever it stands."""

    def ends(*_):
        raise AssertionError("it takes more than a minute")

    before = signal.signal(signal.SIGALRM, ends)
    signal.alarm(60)
    yield
    signal.alarm(0)
    signal.signal(signal.SIGALRM, before)


@pytest.mark.parametrize("what", FILES)
def test_a_drawing_is_read_or_refused_with_a_sentence(what):
    try:
        found = read_svg(FILES[what], "trial.svg")
    except LatticeError as error:
        assert "trial.svg" in str(error)
    else:
        assert found.text.startswith("M")


def test_pipes_devices_and_folders_are_refused(tmp_path):
    pipe = tmp_path / "pipe.svg"
    os.mkfifo(pipe)
    for path, words in ((pipe, "no plain file"), (Path("/dev/zero"), "no plain file"), (tmp_path, "Is a directory")):
        with pytest.raises(FileError, match=words):
            read_bytes(path)
    for name in ("pipe.lattice", "pipe.png"):
        os.mkfifo(tmp_path / name)
        with pytest.raises(FileError, match="no plain file"):
            open_any(tmp_path / name)
    with pytest.raises(FileError, match="No such file"):
        read_bytes(tmp_path / "gone.svg")


def test_a_file_that_is_too_large_is_known_by_its_size(tmp_path):
    large = tmp_path / "large.svg"
    with open(large, "wb") as file:
        file.truncate(LARGEST + 1)
    with pytest.raises(FileError, match="larger than 256 MB"):
        read_bytes(large)
    small = tmp_path / "small.svg"
    small.write_bytes(b"abc")
    assert read_bytes(small) == b"abc"
    with pytest.raises(FileError, match="larger"):
        read_bytes(small, 2)


def test_what_lies_in_the_folder_one_stands_in_is_never_run(tmp_path, monkeypatch):
    from under_lattice.render import warm

    begun = []
    monkeypatch.setattr(warm.subprocess, "Popen", lambda command, **_: begun.append(command))
    warm.warm_elsewhere()
    monkeypatch.undo()
    (tmp_path / "numpy.py").write_text("raise SystemExit(3)")
    (command,) = begun
    flags = command[: command.index("-c")]
    done = subprocess.run([*flags, "-c", "import numpy"], cwd=tmp_path, check=False)
    assert done.returncode == 0
