"""
What one piece of a build says of another must be there: rails of rails, channels of channels,
inputs, lines.
"""

from __future__ import annotations

from collections.abc import Callable

from latchcore.document.chains import part_of
from latchcore.document.models import Build, Rail, SenseInput, chain_of
from latchcore.figures.quantity import QuantityError, parse
from latchcore.pieces.knob_scale import number


def hold_references(build: Build, refuse: Callable[[str, str], None]) -> None:
    """
    Check every reference of a build.

    Parameters
    ----------
    build : Build
    refuse : callable
        Called with the place and what is wrong there; it raises
    """
    rails, channels, inputs = (
        {i.id for i in items} for items in (build.rails, build.channels, build.inputs)
    )

    def there(place: str, name: str | None, known: set[str], what: str) -> None:
        if name is not None and name not in known:
            refuse(place, f"there is no {what} “{name}”")

    for rail in build.rails:
        place = f"rails.{rail.id}"
        there(f"{place}.fed_by", rail.fed_by, rails, "rail")
        there(f"{place}.joined_with", rail.joined_with, rails, "rail")
        there(f"{place}.switched_by", rail.switched_by, channels, "channel")
        if _in_a_circle(build, rail):
            refuse(f"{place}.fed_by", "the rails feed each other in a circle")
    _hold_channels(build, channels, inputs, there, refuse)
    _hold_chains(build, rails, there, refuse)
    for item in build.inputs:
        place = f"inputs.{item.id}"
        there(f"{place}.rail", item.rail, rails, "rail")
        there(f"{place}.pulled_to", item.pulled_to, rails, "rail")
        there(f"{place}.watches", item.watches, channels, "channel")
        _hold_figures(item, place, refuse)
    _hold_laid(build, rails, there, refuse)
    _hold_pairs(build, channels, there, refuse)


def _hold_pairs(build: Build, channels: set[str], there, refuse) -> None:
    """Channels of a vehicle, and those of a shared line."""
    for vehicle in build.vehicles:
        for side in ("left", "right"):
            there(f"vehicles.{vehicle.id}.{side}", getattr(vehicle, side), channels, "channel")
        if vehicle.left == vehicle.right:
            refuse(f"vehicles.{vehicle.id}.right", "both sides are one motor")
    for route in build.routes:
        for member in route.members:
            there(f"routes.{route.id}.members", member, channels, "channel")


def _hold_chains(build: Build, rails: set[str], there, refuse) -> None:
    """What feeds each chain, and that none is told by another."""
    for chain in build.chains:
        there(f"chains.{chain.id}.rail", chain.rail, rails, "rail")
        for role, line in chain.lines.items():
            if part_of(line) is not None:
                refuse(f"chains.{chain.id}.lines.{role}", f"“{line}” is a line of a chain")


def _hold_channels(build: Build, channels: set[str], inputs: set[str], there, refuse) -> None:
    """What channels say of each other, of inputs, points and cables."""
    for channel in build.channels:
        place = f"channels.{channel.id}"
        there(f"{place}.series_switch", channel.series_switch, channels, "channel")
        there(f"{place}.confirmed_by", channel.confirmed_by, inputs, "input")
        there(f"{place}.moves_with", channel.moves_with, channels - {channel.id}, "other channel")
        there(f"{place}.block", channel.block, {b.id for b in build.blocks}, "block")
        point = build.block(channel.block)
        if point is not None and point.rail != channel.rail:
            refuse(f"{place}.block", f"“{point.id}” is on another rail than the channel")
        there(f"{place}.cable", channel.cable, {c.id for c in build.cables}, "cable")
        lead = build.channel(channel.moves_with)
        if lead is not None and lead.moves_with is not None:
            refuse(f"{place}.moves_with", f"{lead.id} itself moves with another")


def _hold_laid(build: Build, rails: set[str], there, refuse) -> None:
    """Blocks, cables and metal."""
    for block in build.blocks:
        place = f"blocks.{block.id}"
        there(f"{place}.rail", block.rail, rails, "rail")
        there(f"{place}.cable", block.cable, {c.id for c in build.cables}, "cable")
        there(f"{place}.behind", block.behind, {b.id for b in build.blocks}, "block")
        way = chain_of(build, block)
        if way is None:
            refuse(f"{place}.behind", "the blocks hang on each other in a circle")
        elif any(b.rail != block.rail for b in way):
            refuse(f"{place}.behind", "a block hangs on one of its own rail")
    for metal in build.metals:
        for end in metal.ends:
            if end != "board":
                there(f"metals.{metal.id}.ends", end[:-1], rails, "rail")


def _in_a_circle(build: Build, rail: Rail) -> bool:
    """Whether a rail is fed, over others, by itself or by some that feed each other."""
    seen, now = {rail.id}, build.rail(rail.fed_by)
    while now is not None:
        if now.id in seen:
            return True
        seen.add(now.id)
        now = build.rail(now.fed_by)
    return False


def _hold_figures(item: SenseInput, place: str, refuse: Callable[[str, str], None]) -> None:
    try:
        if item.pull not in ("auto", "internal", "none"):
            parse(item.pull, "Ω")
        number(item.lowest)
        number(item.highest)
    except QuantityError as error:
        refuse(place, str(error))
