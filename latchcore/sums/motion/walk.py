"""Every state of several stages together: all combinations of all their lines, driven."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from latchcore.sums.motion.judge import Motion

#: As many lines as a walk takes in: every further one doubles it.
MOST_LINES = 16


class TooMany(ValueError):
    """More lines than a walk takes in."""


def walk(motions: list[Motion]) -> Iterator[tuple[str, tuple[str, ...]]]:
    """
    Every combination of driven lines of some stages, with what each of them then does.

    Stages do not act on one another, so that each is worked out once for each of its own
    combinations, and the whole is their product.

    Yields
    ------
    (str, tuple of str)
        Levels of all lines in the order of the stages; the result of each stage

    Raises
    ------
    TooMany
        For more than 16 lines together

    Examples
    --------
    >>> from latchcore.sums.motion.judge import judge
    >>> from latchcore.sums.motion.power import Line, Power, Program, Pull, Start, Switch, Winding
    >>> line = Line("run", 0.5, 2.5, Pull("low", 10e3))
    >>> motion = judge(Power("motor", 12.0, 0.1, 5.0, 5.0, (line,),
    ...     Program({"rest": "0", "run": "1"}, "rest"), Start(("z",), True),
    ...     switches=(Switch("lower", ("a", "minus"), 0.1, "run"),),
    ...     windings=(Winding("M", "motor", ("plus", "a"), 8.0),)))
    >>> list(walk([motion, motion]))[1]
    ('10', ('forward', 'coast'))
    """
    lines = sum(len(motion.power.lines) for motion in motions)
    if lines > MOST_LINES:
        raise TooMany(
            f"{lines} lines have {2**lines} combinations; a walk takes in up to {MOST_LINES} lines."
        )
    tables = []
    for motion in motions:
        codes = map("".join, itertools.product("10", repeat=len(motion.power.lines)))
        tables.append([(code, motion.table.row(code).result) for code in codes])
    for together in itertools.product(*tables):
        yield "".join(code for code, _ in together), tuple(result for _, result in together)
