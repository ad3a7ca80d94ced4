"""
Twenty thousand hostile inputs, bounded in time: edits, parts, files and tables through the core,
forms through the pages.
"""

from __future__ import annotations

import argparse
import logging
import random
import sys
import time
import warnings
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))


def main() -> int:
    """Try them and print what went wrong; exit status 1 where anything did."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=20_000)
    parser.add_argument(
        "--seconds", type=float, default=600.0, help="no new round is begun after this"
    )
    parser.add_argument("--seed", type=int, default=0)
    asked = parser.parse_args()
    logging.disable(logging.CRITICAL)
    warnings.simplefilter("ignore")
    from tests import hostile

    begun, dice, tallies = time.monotonic(), random.Random(asked.seed), {}
    round_ = 250
    while (
        sum(t.tried for t in tallies.values()) < asked.count
        and time.monotonic() - begun < asked.seconds
    ):
        for work in (hostile.edits, hostile.parts, hostile.files, hostile.tables):
            work(dice, round_, tallies.setdefault(work.__name__, hostile.Tally()))
    for name, tally in tallies.items():
        print(
            f"{name:8} {tally.tried} tried, {tally.refused} refused, {tally.accepted} accepted,"
            f" {len(tally.wrong)} wrong"
        )
    wrong = list(dict.fromkeys(w for t in tallies.values() for w in t.wrong))
    for line in wrong[:40]:
        print("  ", line[:300])
    print(f"{sum(t.tried for t in tallies.values())} in {time.monotonic() - begun:.0f} s")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
