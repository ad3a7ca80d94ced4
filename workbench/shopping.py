"""What a build needs, what the drawer has of it, and what is left to buy."""

from __future__ import annotations

import re
from dataclasses import dataclass

from latchcore.design.report import Report
from latchcore.document.models import Build
from latchcore.whole.needed import Need, parts_needed
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


def shopping_list(report: Report, build: Build | None = None) -> list[Item]:
    """Parts by kind and value with the drawer's count."""
    stock = {p.value if p.family == "resistor" else p.key: p for p in StockPart.objects.all()}
    return [_item(need, stock.get(need.key)) for need in parts_needed(report, build)]


def _item(need: Need, part: StockPart | None) -> Item:
    have, many = part.quantity if part else 0, len(need.users)
    price = re.search(r"\d+(?:[.,]\d+)?", part.price) if part else None
    cost = float(price[0].replace(",", ".")) * max(many - have, 0) if price else None
    return Item(need.kind, need.text, need.named, many, have, cost)
