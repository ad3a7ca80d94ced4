"""What a build needs, what the drawer has of it, and what is left to buy."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from latchcore.design.report import Report
from latchcore.document.models import Rail
from latchcore.figures.quantity import show
from latchcore.findings.fuse_print import as_stated
from workbench.models import StockPart


@dataclass(frozen=True)
class Item:
    """One line of the list; ``cost`` is for what is left to buy, where the drawer knows a price."""

    kind: str
    text: str
    users: str
    needed: int
    have: int
    cost: float | None

    @property
    def to_buy(self) -> int:
        """How many are left to buy."""
        return max(self.needed - self.have, 0)


#: What an input is made of besides its resistors, by kind of part.
OF_INPUTS = {
    "transformer": "Transformer",
    "bridge": "Rectifier",
    "coupler": "Coupler",
    "npn": "Transistor",
}


def shopping_list(report: Report, rails: Iterable[Rail] = ()) -> list[Item]:
    """
    Parts by kind and value with the drawer's count; an array is one package however many channels
    share it.
    """
    counts: dict[tuple[str, str, object], list[str]] = {}
    packages: set[tuple[str, str]] = set()
    for channel in report.channels:
        result = channel.result
        for value in result.values if result else []:
            if value.symbol.startswith("U") and value.key == "array":
                if (value.symbol, value.text) in packages:
                    continue
                packages.add((value.symbol, value.text))
            key = (
                value.value
                if value.unit == "Ω"
                else next(
                    (p.id for p in result.parts.values() if getattr(p, "title", "") == value.text),
                    value.text,
                )
            )
            kind = (
                "Resistor"
                if value.unit == "Ω"
                else "Fuse"
                if value.key in ("own_fuse", "coil_fuse")
                else value.label
            )
            text = show(value.value, "Ω") if value.unit == "Ω" and value.value else value.text
            many = result.strings.count if value.key == "string_resistor" else 1
            counts.setdefault((kind, text, key), []).extend([channel.letter] * max(many, 1))
    for item in report.inputs:
        for value in item.values:
            if value.unit == "Ω" and value.value:
                many = (
                    item.found.many if value.key == "upper" else 2 if item.kind == "end_pair" else 1
                )
                counts.setdefault(("Resistor", show(value.value, "Ω"), value.value), []).extend(
                    [item.name] * many
                )
        for part in item.netlist.parts:
            if part.kind in OF_INPUTS:
                counts.setdefault((OF_INPUTS[part.kind], part.value, part.value), []).append(
                    item.name
                )
    for rail in rails:
        if text := as_stated(rail):
            counts.setdefault(("Fuse", text, text), []).extend(
                [rail.name] * (2 if rail.fuse_poles == "every" else 1)
            )
    stock = {p.value if p.family == "resistor" else p.key: p for p in StockPart.objects.all()}
    items = []
    for (kind, text, key), users in sorted(
        counts.items(), key=lambda pair: (pair[0][0], str(pair[0][1]))
    ):
        part = stock.get(key)
        have = part.quantity if part else 0
        price = re.search(r"\d+(?:[.,]\d+)?", part.price) if part else None
        cost = float(price[0].replace(",", ".")) * max(len(users) - have, 0) if price else None
        items.append(Item(kind, text, " ".join(dict.fromkeys(users)), len(users), have, cost))
    return items
