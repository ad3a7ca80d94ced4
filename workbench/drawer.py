"""The parts drawer as the core sees it: the generic catalogue with the user's own parts laid over it, and what is in stock."""

from __future__ import annotations

import hashlib
import json
from dataclasses import replace
from functools import lru_cache

from latchcore.catalogue import Catalogue, Stock, load_catalogue, read_part


def catalogue() -> Catalogue:
    """The catalogue with the drawer as it is now; the same object while nothing in the drawer has changed."""
    from workbench.models import StockPart

    rows = StockPart.objects.order_by("key").values_list("key", "family", "figures", "value", "quantity")
    return _laid_over(json.dumps(list(rows)))


@lru_cache(maxsize=16)
def _laid_over(text: str) -> Catalogue:
    generic, rows = load_catalogue(), json.loads(text)
    parts, raw, resistors, held = dict(generic.parts), dict(generic.raw), set(), set()
    for key, family, figures, value, quantity in rows:
        if family == "resistor":
            if quantity:
                resistors.add(value)
            continue
        if figures:
            parts[key], raw[key] = read_part(figures), figures
        if quantity:
            held.add(key)
    version = hashlib.sha256((generic.version + text).encode()).hexdigest()[:12] if rows else generic.version
    return replace(generic, parts=parts, raw=raw, version=version, stock=Stock(frozenset(resistors), frozenset(held)))
