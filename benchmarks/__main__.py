"""Measure everything: `make bench`. Ends with status 1 if a promise does not hold."""

from __future__ import annotations

import sys

from benchmarks import browser, hand, numbers, scale, starting


def main() -> int:
    """Print each ratio as it is taken."""
    good = True
    for module in (starting, numbers, scale, browser, hand):
        for ratio in module.all_ratios():
            sys.stdout.write(f"{ratio}\n")
            sys.stdout.flush()
            good &= ratio.holds
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
