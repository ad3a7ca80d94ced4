"""What a rail must give: running sums and the worst instant."""

from __future__ import annotations

import numpy as np

from latchcore.figures.working import Working


def rail_sum(running, surge, count=None, working: Working | None = None) -> tuple[float, float]:
    """
    Everything on, and everything on while the one load with the largest step is in its surge [A].

    Parameters
    ----------
    running, surge : sequence of float
        Highest running current of each load and its surge, the latter counted instead of the former
        [A]
    count : sequence of int, optional
        How many of each

    Returns
    -------
    tuple of (float, float)
        Everything on, worst instant

    Examples
    --------
    >>> all_on, worst = rail_sum([0.058, 0.12, 0.24], [0.58, 0.12, 1.2], [2, 1, 1])
    >>> round(all_on, 3), round(worst, 3)
    (0.476, 1.436)
    """
    w = working or Working()
    if not len(running):
        return 0.0, 0.0
    run, peak = np.asarray(running, float), np.asarray(surge, float)
    many = np.ones_like(run) if count is None else np.asarray(count, float)
    total = w.note(
        "I_all",
        "sum of all running currents",
        "A",
        float((run * many).sum()),
        {},
        {},
        "highest supply, lowest resistance",
    )
    step = w.note(
        "ΔI",
        "largest of surge − running",
        "A",
        float(np.maximum(peak - run, 0).max()),
        {},
        {},
        "one load in its surge, the others running",
    )
    return total, w.calc(
        "I_worst", "I_all + ΔI", "A", "worst instant", I_all=(total, "A"), ΔI=(step, "A")
    )


def source_size(all_on, share, stock):
    """
    Least source rating that keeps everything on within the headroom share, and the next size that
    is sold [A].

    Examples
    --------
    >>> least, size = source_size(1.0, 0.8, (0.5, 1.0, 1.5, 2.0))
    >>> least, size
    (1.25, 1.5)
    """
    least = all_on / share
    return least, next((size for size in stock if size >= least), None)
