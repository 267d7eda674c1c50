"""Measure everything: `make bench`. Ends with status 1 if a promise does not hold.

`python -m benchmarks numbers hand` measures these parts alone.
"""

from __future__ import annotations

import sys

from benchmarks import browser, hand, numbers, scale, starting, taken

PARTS = {
    "starting": starting,
    "numbers": numbers,
    "scale": scale,
    "browser": browser,
    "hand": hand,
    "taken": taken,
}


def main(named: list[str]) -> int:
    """Print each ratio as it is taken."""
    if unknown := set(named) - set(PARTS):
        sys.exit(f"There is no part {min(unknown)} of the bench. There are: {', '.join(PARTS)}.")
    good = True
    for name, part in PARTS.items():
        if named and name not in named:
            continue
        for ratio in part.all_ratios():
            sys.stdout.write(f"{ratio}\n")
            sys.stdout.flush()
            good &= ratio.holds
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
