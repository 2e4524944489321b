"""``python -m under_lattice``."""

import sys

from under_lattice.command_line.begin import main

sys.exit(main())
