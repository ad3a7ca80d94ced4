"""
What a build keeps of the drawer: the figures of the parts it uses, so that nothing done to the
drawer later changes it in silence.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass, replace

from latchcore.catalogue import Catalogue, Stock, load_catalogue
from latchcore.document.models import MOST_PARTS, Build, KeptStock
from latchcore.evaluate import evaluate_channel


def kept_catalogue(build: Build) -> Catalogue:
    """
    The catalogue a build is worked out against: generic classes and the stock it was saved with;
    its own parts travel in it.

    Examples
    --------
    >>> kept_catalogue(Build(name="Bench")) is load_catalogue()
    True
    """
    generic = load_catalogue()
    if not build.prefer_stock or build.stock is None:
        return generic
    digest = hashlib.sha256(
        json.dumps([build.stock.resistors, build.stock.parts]).encode()
    ).hexdigest()[:8]
    stock = Stock(frozenset(build.stock.resistors), frozenset(build.stock.parts))
    return replace(generic, stock=stock, version=f"{generic.version}-{digest}")


def own_parts(drawer: Catalogue) -> set[str]:
    """
    Ids of the drawer that are not a class which ships, or stand in for one with figures of their
    own.
    """
    generic = load_catalogue()
    return {key for key, raw in drawer.raw.items() if generic.raw.get(key) is not raw}


def keeps(build: Build, before: Build | None, drawer: Catalogue) -> Build:
    """
    The build with the figures of every own part that what was changed uses.

    Parameters
    ----------
    build : Build
        After an edit
    before : Build or None
        Before it; channels that are the same are left as they are. ``None``: all of it counts as
        changed
    drawer : Catalogue
        Generic parts with the drawer laid over
    """
    fresh = before is None or (build.prefer_stock and not before.prefer_stock)
    if build.prefer_stock and (fresh or build.stock is None):
        build = build.model_copy(update={"stock": stock_of(drawer)})
    elif not build.prefer_stock and build.stock is not None:
        build = build.model_copy(update={"stock": None})
    own = own_parts(drawer) - set(build.parts)
    if not own:
        return build
    wanted = (
        {build.board} | {value for c in build.channels for value in c.stage.settings.values()}
    ) & own
    known = {} if fresh else {c.id: c for c in before.channels}
    changed = [c.id for c in build.channels if known.get(c.id) is not c and known.get(c.id) != c]
    wanted |= _chosen(build, changed, drawer) & own
    return _with(build, {key: drawer.raw[key] for key in wanted})


def _chosen(build: Build, channels: Iterable[str], drawer: Catalogue) -> set[str]:
    """
    Parts that channels would take with the whole drawer to choose from, in the order of the stock
    the build knows.
    """
    stocked = replace(drawer, stock=kept_catalogue(build).stock)
    found: set[str] = set()
    for channel in channels:
        try:
            outcome = evaluate_channel(build, channel, stocked)
        except (ValueError, ArithmeticError, LookupError, TypeError, AttributeError):
            # What cannot be worked out uses nothing; evaluation says so at its place.
            continue
        if outcome is not None:
            found |= {part.id for part in outcome[1].parts.values()}
    return found


def _with(build: Build, more: dict) -> Build:
    if not more:
        return build
    parts = {**build.parts, **more}
    if len(parts) > MOST_PARTS:
        in_use = (
            {build.board}
            | {value for c in build.channels for value in c.stage.settings.values()}
            | set(more)
        )
        parts = {key: raw for key, raw in parts.items() if key in in_use}
    return build.model_copy(update={"parts": parts})


def stock_of(drawer: Catalogue) -> KeptStock:
    """What is in stock now, in the form a document keeps."""
    stock = drawer.stock or Stock()
    return KeptStock(resistors=sorted(stock.resistors), parts=sorted(stock.parts)[:MOST_PARTS])


@dataclass(frozen=True)
class Otherwise:
    """
    One thing the drawer knows otherwise than the build: which part, what of it, whether it is gone.
    """

    key: str
    title: str
    figures: tuple[tuple[str, str, str], ...] = ()
    gone: bool = False


def otherwise(build: Build, drawer: Catalogue) -> list[Otherwise]:
    """
    What the drawer knows otherwise than a build has kept.

    Returns
    -------
    list of Otherwise
        Parts whose figures differ (name, kept, now) and parts that are in it no more; nothing for
        parts that came with a
        file and were never in this drawer
    """
    generic, found = load_catalogue(), []
    for key, kept in build.parts.items():
        now = drawer.raw.get(key)
        if now is None or now is generic.raw.get(key):
            continue
        names = [n for n in (*kept, *now) if n not in ("source",) and kept.get(n) != now.get(n)]
        if names:
            figures = tuple(
                (n, _text(kept.get(n)), _text(now.get(n))) for n in dict.fromkeys(names)
            )
            found.append(Otherwise(key, str(now.get("title", key)), figures))
    if build.prefer_stock and build.stock is not None and build.stock != stock_of(drawer):
        found.append(Otherwise("stock", "what is in stock"))
    return found


def _text(value: object) -> str:
    if isinstance(value, list):
        return (
            f"{len(value)} lines"
            if value and isinstance(value[0], dict)
            else " | ".join(map(str, value))
        )
    return "not stated" if value is None else str(value)


def retaken(build: Build, drawer: Catalogue) -> tuple[Build, str]:
    """
    The build with the figures and the stock the drawer has now, and what that changed in words.
    """
    changed = otherwise(build, drawer)
    fresh = {o.key: drawer.raw[o.key] for o in changed if o.key != "stock"}
    build = build.model_copy(update={"parts": {**build.parts, **fresh}})
    taken = keeps(build, None, drawer)
    new = sorted(
        str(taken.parts[key].get("title", key)) for key in set(taken.parts) - set(build.parts)
    )
    words = [o.title for o in changed] + new
    return taken, "took the drawer as it is now" + (f": {', '.join(words)}" if words else "")
