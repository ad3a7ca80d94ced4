"""Single faults of a circuit, each an edit of its parts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from latchcore.bench.solver import Part

#: What a short measures [Ω].
SHORT = 0.01
#: Ends of each kind of part that may be shorted, and those that may change places.
SHORTED = {
    "resistor": ("a", "b"),
    "winding": ("a", "b"),
    "diode": ("a", "k"),
    "led": ("a", "k"),
    "npn": ("collector", "emitter"),
    "pnp": ("collector", "emitter"),
    "nmos": ("drain", "source"),
    "pmos": ("drain", "source"),
}
SWAPPED = {
    "diode": ("a", "k"),
    "led": ("a", "k"),
    "npn": ("collector", "emitter"),
    "pnp": ("collector", "emitter"),
    "nmos": ("drain", "source"),
    "pmos": ("drain", "source"),
    "coupler": ("a", "k"),
}
OPEN_WORDS = {
    "pin": "not joined",
    "source": "missing",
    "resistor": "open or not joined",
    "winding": "open or not joined",
}


@dataclass(frozen=True, slots=True)
class BenchFault:
    """
    One fault: the part, what is wrong with it in words, and the circuit that makes of a sound one.
    """

    part: str
    words: str
    parts: tuple[Part, ...]


def single_faults(parts: list[Part]) -> Iterator[BenchFault]:
    """
    Every single fault that is looked for: each part missing, shorted, the wrong way round; a pin
    that stays at the other level.

    Examples
    --------
    >>> r = Part("R1", "resistor", {"a": "p", "b": "0"}, {"ohm": 470.0})
    >>> [f.words for f in single_faults([r])]
    ['open or not joined', 'shorted']
    """
    for n, part in enumerate(parts):
        others = (*parts[:n], *parts[n + 1 :])
        yield BenchFault(part.id, OPEN_WORDS.get(part.kind, "missing or open"), others)
        if part.kind in SHORTED:
            a, b = (part.at[t] for t in SHORTED[part.kind])
            tie = Part(f"{part.id}.short", "resistor", {"a": a, "b": b}, {"ohm": SHORT})
            yield BenchFault(part.id, "shorted", (*others, tie))
        if part.kind in SWAPPED:
            one, other = SWAPPED[part.kind]
            at = {**part.at, one: part.at[other], other: part.at[one]}
            yield BenchFault(part.id, "the wrong way round", (*others, replace(part, at=at)))
        if part.kind == "pin":
            for mode in ("low", "high"):
                # Where it is commanded that way it looks sound, and that tells something too.
                stuck = replace(part, figures={**part.figures, "mode": mode})
                yield BenchFault(part.id, f"stays {mode}", (*others, stuck))
