"""Settings shared by all tests."""

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from hypothesis import settings

settings.register_profile("steady", deadline=None, derandomize=True, print_blob=False)
settings.load_profile("steady")
