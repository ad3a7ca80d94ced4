"""
The pin deck: every line of the board in its place, what it can, who has it; ways out where lines
run short.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from latchcore.advice.waysout import ways_out
from latchcore.catalogue.boards import Board, Pin
from latchcore.whole.pinning import Demand, assign, demands, refusal, reservation, shares
from workbench.models import Build
from workbench.stations import Page, missing
from workbench.views.pages import BuildPage


@dataclass
class Place:
    """One line of the board with those who hang on it, and how each stands with it."""

    pin: Pin
    chips: list[tuple[Demand, str, str | None]] = field(default_factory=list)


def sides(board: Board) -> list[tuple[str, list[Pin]]]:
    """
    Lines by the side of the board they come out at, in the order of the header; a two-row header
    gives two sides.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> [name for name, _ in sides(load_catalogue().parts["board-sbc-3v3-40"])]
    ['odd positions', 'even positions']
    """
    found: dict[str, list[tuple[int, Pin]]] = {}
    for n, pin in enumerate(board.pins):
        m = re.match(r"^(\D*?)\s*(\d+)$", pin.header)
        side, at = (m[1].strip() or "header", int(m[2])) if m else (pin.header, n)
        if side == "position":
            side = "odd positions" if at % 2 else "even positions"
        found.setdefault(side, []).append((at, pin))
    order = {
        "left": 0,
        "odd positions": 0,
        "south": 0,
        "right": 2,
        "even positions": 2,
        "north": 2,
        "inside": 9,
    }
    return [
        (s, [p for _, p in sorted(rows, key=lambda r: r[0])])
        for s, rows in sorted(found.items(), key=lambda f: order.get(f[0], 1))
    ]


class Pins(BuildPage):
    """Lines of the board and who uses them."""

    page = Page(
        "pins/",
        "pins",
        "pins",
        "build/pins.html",
        "6",
        "Pins",
        touched=lambda build: any(c.pin for c in build.document.channels),
        unanswered=missing("pin"),
    )

    def content(self, build: Build, **kwargs) -> dict:
        """
        The deck by sides, who waits for a line, why each line cannot serve whom, and the ways out.
        """
        doc = build.document
        around = build.around
        board = around.board
        if board is None:
            return {"board": None}
        wanted = demands(doc, around)
        letters = {c.id: c.letter for c in build.report.channels}
        letters |= {c.id: f"N{n + 1}" for n, c in enumerate(build.report.chains)}
        deck = around.deck
        places = {p.id: Place(p) for p in deck.pins}
        waiting = []
        for d in wanted:
            place = places.get(d.pin)
            chip = (
                d,
                letters.get(d.key.partition(".")[0], "in"),
                (
                    "barred"
                    if place and refusal(d, place.pin)
                    else "reserved"
                    if place and reservation(d, place.pin)
                    else None
                ),
            )
            place.chips.append(chip) if place else waiting.append(chip)
        for c in doc.channels:
            if shares(doc, c) and c.pin in places:
                places[c.pin].chips.append(
                    (Demand(c.id, c.name, frozenset(), c.pin, True), letters[c.id], "follows")
                )
        kinds = {tuple(sorted(d.wants)): d for d in wanted}
        refusals = {
            ",".join(key): {p.id: why for p in deck.pins if (why := refusal(d, p))}
            for key, d in kinds.items()
        }
        currents = {r.id: r.result.pin_current for r in build.report.channels if r.result}
        plan = assign(deck, wanted) if waiting else None
        typed = kwargs.get("refused")
        asked = typed if typed and typed.edit == "place_pin" else None
        return {
            "asked_what": asked and asked.args.get("what"),
            "asked_pin": asked and asked.args.get("pin"),
            "board": board,
            "sides": [(name, [places[p.id] for p in pins]) for name, pins in sides(board)]
            + [(c.chain.name, [places[p.id] for p in c.pins]) for c in around.chains.values()],
            "waiting": waiting,
            "wanted": [(d, letters.get(d.key.partition(".")[0], "in")) for d in wanted],
            "refusals": refusals,
            "unserved": (
                [(d, plan.refused[d.key]) for d in wanted if d.key in plan.refused] if plan else []
            ),
            "ways": ways_out(doc, around, wanted, plan, currents) if plan and plan.refused else [],
            "sum": build.report.pin_total,
            "free": sum(1 for p in board.pins if not places[p.id].chips and not p.owner),
        }
