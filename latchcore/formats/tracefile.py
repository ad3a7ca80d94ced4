"""Lines over time as a table and as a value change dump."""

from __future__ import annotations

import io
from collections.abc import Sequence

from vcd import VCDWriter

from latchcore.figures.table import harmless
from latchcore.figures.trace import Level, Trace

#: Fine enough for a pulse of a servo: a dump counts in steps of this [s].
TICK, TICK_WORDS = 1e-6, "1 us"


def traces_csv(traces: Sequence[Trace]) -> str:
    """
    A table with a row for each moment anything changes; an empty cell is a line nobody drives.

    Examples
    --------
    >>> traces_csv([Trace("P1", "Lamp", ((0.0, 0), (0.5, 1)))])
    't,P1\\r\\n0,0\\r\\n0.5,1\\r\\n'
    """
    times = sorted({t for trace in traces for t, _ in trace.points})
    rows = [",".join(["t", *(_cell(harmless(t.line)) for t in traces)])]
    for t in times:
        cells = ["" if (level := trace.at(t)) is None else str(level) for trace in traces]
        rows.append(",".join([f"{t:.9g}", *cells]))
    return "\r\n".join([*rows, ""])


def _cell(text: str) -> str:
    quoted = text.replace('"', '""')
    return f'"{quoted}"' if any(c in text for c in ',"\r\n') else text


def traces_dump(traces: Sequence[Trace], comment: str) -> str:
    """Lines as a value change dump, each a wire; ``z`` while nobody drives it."""
    text = io.StringIO()
    with VCDWriter(text, timescale=TICK_WORDS, comment=comment) as writer:
        wires = [
            writer.register_var("lines", _plain(t.line), "wire", 1, init=_bit(t.at(0.0)))
            for t in traces
        ]
        moves = sorted(
            ((t, n, level) for n, trace in enumerate(traces) for t, level in trace.points),
            key=lambda move: (move[0], move[1]),
        )
        for t, n, level in moves:
            writer.change(wires[n], max(round(t / TICK), 0), _bit(level))
    return text.getvalue()


def _bit(level: Level) -> str | int:
    return "z" if level is None else level


def _plain(text: str) -> str:
    return text.replace(".", "_").replace(" ", "_")
