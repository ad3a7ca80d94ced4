"""What a load can do to somebody, as far as rules have to mind it."""

from __future__ import annotations

from latchcore.catalogue import load_catalogue
from latchcore.document.models import Channel

#: Hazards that must never start by themselves, go the wrong way or stay on for ever.
GRAVE = frozenset({"mains", "heat", "water", "motion", "pulse coil", "igniter"})


def is_grave(channel: Channel) -> bool:
    """
    Whether its load can hurt somebody: as stated, else as its kind usually does.

    Examples
    --------
    >>> load = {"kind": "heater", "voltage": "12 V", "figure": "1 A"}
    >>> mat = Channel.model_validate({"id": "ch1", "name": "Mat", "load": load})
    >>> is_grave(mat)
    True
    >>> mat.load.hazards = []
    >>> is_grave(mat)
    False
    """
    if channel.load.hazards is not None:
        return bool(GRAVE & set(channel.load.hazards))
    kind = load_catalogue().loads.get(channel.load.kind)
    return kind is not None and kind.hazard in GRAVE
