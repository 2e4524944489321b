"""Kills while saving, while saving a file of several names, and while copying unsaved work: what is left is whole each time.

python -m bench.kills [KILLS]
"""

import sys
import tempfile
from pathlib import Path

from tests.killing import counts


def main(kills: int) -> None:
    """Print the counts."""
    for what in ("saving", "linked", "copying"):
        with tempfile.TemporaryDirectory() as name:
            print(f"{what}, {kills} kills: {counts(what, kills, Path(name))}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 500)
