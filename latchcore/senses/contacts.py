"""Buttons, micro switches, reeds and pairs of end switches."""

from __future__ import annotations

from latchcore.pieces.held_open import hold_open, join_pulled
from latchcore.pieces.sensing import InputContext, InputReport


def size(context: InputContext, report: InputReport) -> None:
    """A contact to ground with its pull-up, or two of them."""
    item = context.item
    text, real = hold_open(
        context,
        report,
        "Pull-up",
        "contact open",
        "Open, nothing holds the line: it reads whatever is in the air.",
    )
    context.time(report)
    join_pulled(context, report, text, real)
    if item.kind == "end_pair":
        report.rows = pair_rows(item.rest)
    else:
        held, acted = ("high", "low") if item.rest == "open" else ("low", "high")
        report.rows = [
            ("at rest", "contact " + item.rest, held, "nothing"),
            (
                "acted on",
                "contact " + ("closed" if item.rest == "open" else "open"),
                acted,
                "it happened",
            ),
            (
                "lead broken",
                "line open",
                "high",
                "looks like " + ("nothing" if item.rest == "open" else "it happened: noticed"),
            ),
        ]


def pair_rows(rest: str) -> list[tuple[str, str, str, str]]:
    """
    The four states of two end switches.

    Examples
    --------
    >>> [row[3] for row in pair_rows("open")]
    ['at one end', 'at the other end', 'between', 'fault: both at once cannot be']
    """
    at, away = ("low", "high") if rest == "open" else ("high", "low")
    return [
        ("one end", "first acted on", f"{at}, {away}", "at one end"),
        ("other end", "second acted on", f"{away}, {at}", "at the other end"),
        ("on the way", "neither", f"{away}, {away}", "between"),
        ("impossible", "both", f"{at}, {at}", "fault: both at once cannot be"),
    ]
