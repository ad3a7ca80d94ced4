"""
The parts drawer as the core sees it: the generic catalogue with the user's own parts laid over it,
and what is in stock.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import replace
from functools import lru_cache

from pydantic import ValidationError

from latchcore.bench.meter import HandMeter, usual_meter
from latchcore.catalogue import Catalogue, Stock, load_catalogue, read_part
from latchcore.edits.registry import plain
from workbench.models import StockPart

_HELD: ContextVar[Catalogue | None] = ContextVar("catalogue of this answer", default=None)


@contextmanager
def held_catalogue() -> Iterator[None]:
    """
    Ask the drawer once for all of one answer; only where the answer changes nothing in the drawer.
    """
    token = _HELD.set(catalogue())
    try:
        yield
    finally:
        _HELD.reset(token)


def catalogue() -> Catalogue:
    """
    The catalogue with the drawer as it is now; the same object while nothing in the drawer has
    changed.

    A part whose figures cannot be read is left out of it: the drawer names it, and nothing else
    hangs on it.
    """
    held = _HELD.get()
    if held is not None:
        return held

    rows = (
        StockPart.objects.filter(binned=None)
        .order_by("key")
        .values_list("key", "family", "figures", "value", "quantity")
    )
    return _laid_over(json.dumps(list(rows)))


@lru_cache(maxsize=16)
def _laid_over(text: str) -> Catalogue:
    generic, rows = load_catalogue(), json.loads(text)
    parts, raw, resistors, held = dict(generic.parts), dict(generic.raw), set(), set()
    for key, family, figures, value, quantity in rows:
        if family == "resistor":
            if quantity and value:
                resistors.add(value)
            continue
        if figures and figures != generic.raw.get(key):
            try:
                parts[key], raw[key] = read_part(figures), figures
            except (ValueError, TypeError):
                continue
        if quantity:
            held.add(key)
    version = (
        hashlib.sha256((generic.version + text).encode()).hexdigest()[:12]
        if rows
        else generic.version
    )
    return replace(
        generic,
        parts=parts,
        raw=raw,
        version=version,
        stock=Stock(frozenset(resistors), frozenset(held)),
    )


def trouble_with(figures: dict) -> str | None:
    """Why the figures of a part cannot be used, or ``None``; the drawer says it beside the part."""
    try:
        read_part(figures)
    except ValidationError as error:
        return plain(error)
    except (ValueError, TypeError) as error:
        return str(error)
    return None


def meter_at_hand(key: str = "") -> HandMeter:
    """
    The meter of that key; without one the first in stock, else the usual one.
    """
    parts = catalogue()
    held = parts.stock.parts if parts.stock is not None else frozenset()
    meters = [p for p in parts.of_family("meter") if p.id == key]
    meters += [p for p in parts.of_family("meter") if p.id in held]
    return meters[0] if meters else usual_meter()
