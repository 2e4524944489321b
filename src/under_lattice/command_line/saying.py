"""What the command says on a terminal: control characters in names of works, layers and files are written out."""

import argparse
import sys
from typing import NoReturn, TextIO

from under_lattice.core.plain import for_terminal


def say(text: str, file: TextIO | None = None) -> None:
    """Say a sentence, on stdout by default; what the terminal has no character for is written out too."""
    file = sys.stdout if file is None else file
    coding = getattr(file, "encoding", None) or "utf-8"
    print(for_terminal(text).encode(coding, "backslashreplace").decode(coding), file=file)


def warn(sentence: str) -> None:
    """Say what is wrong, or left aside, on stderr under the name of the program."""
    say("under-lattice: " + sentence.replace("\n", "\\n"), sys.stderr)


class Orders(argparse.ArgumentParser):
    """A reader of orders whose complaints are said in the same way."""

    def error(self, message: str) -> NoReturn:
        """Say what was called wrongly, and end with 2."""
        super().error(for_terminal(message.replace("\n", "\\n")))
