"""Two ways of doing the same, timed in turns in one process; what counts is the median of the ratios."""

import statistics
import time
from collections.abc import Callable


def seconds(work: Callable[[], object]) -> float:
    begun = time.perf_counter()
    work()
    return time.perf_counter() - begun


def ratio(label: str, ours: Callable[[], object], other: Callable[[], object], rounds: int = 9) -> float:
    """Print and return how many times as long `ours` takes as `other`."""
    ours(), other()
    pairs = [(seconds(ours), seconds(other)) for _ in range(rounds)]
    found = statistics.median(one / two for one, two in pairs)
    own, their = (statistics.median(pair[k] for pair in pairs) * 1000 for k in (0, 1))
    print(f"{label:58} ours {own:8.1f} ms, other {their:8.1f} ms, ratio {found:6.2f}")
    return found
