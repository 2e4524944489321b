"""Works, drawings, recipes, pictures, formulas, `--set` words, lists and palettes spoilt at random: read, refused, or a fault.

python -m bench.fuzz [TIMES] [KIND] [SEED]
"""

import resource
import sys

from tests.mutating import KINDS, Trials, tried


def main(times: int, kinds: tuple[str, ...], seed: int = 1) -> None:
    """Print the counts of each kind, and what went wrong."""
    trials = Trials()
    for kind in kinds:
        met, wrong = tried(trials, kind, times, seed=seed)
        most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
        print(f"{kind}: {times} spoilt: {dict(met)}, at most {most} MB so far", flush=True)
        print("\n".join(f"  {one}" for one in wrong[:60]), flush=True)


if __name__ == "__main__":
    given = sys.argv[1:]
    if len(given) > 1 and given[1] not in KINDS:
        sys.exit(f"there is no kind {given[1]!r}; one of {', '.join(KINDS)}")
    main(int(given[0]) if given else 1000, (given[1],) if len(given) > 1 else KINDS, int(given[2]) if len(given) > 2 else 1)
