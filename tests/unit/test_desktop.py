"""The files for the desktop are valid and belong together."""

import shutil
import subprocess
from pathlib import Path
from xml.etree import ElementTree

import pytest

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
