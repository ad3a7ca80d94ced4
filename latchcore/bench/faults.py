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


#: A resistor misread by a band; a supply that gives so little of what it should; contacts that
#: no longer move; what is of the model, not of the bench.
TENFOLD, WEAK, WELDED, STUCK = "ten times its value", "too low", "welded", "does not close"
CROSSED = "has its ends changed"
WEAK_SHARE, MODEL_ONLY = 0.5, frozenset({"V_OL"})


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
    Every single fault that is looked for: each part missing, shorted, the wrong way round; a
    resistor of ten times its value, a supply that is low, a contact that no longer moves; a pin
    that stays at one level.

    Examples
    --------
    >>> r = Part("R1", "resistor", {"a": "p", "b": "0"}, {"ohm": 470.0})
    >>> [f.words for f in single_faults([r])]
    ['open or not joined', 'shorted', 'ten times its value']
    """
    stiff = {node for part in parts if part.kind == "source" for node in part.at.values()}
    for n, part in enumerate(parts):
        if part.id in MODEL_ONLY:
            continue
        others = (*parts[:n], *parts[n + 1 :])
        yield BenchFault(part.id, OPEN_WORDS.get(part.kind, "missing or open"), others)
        if part.kind in SHORTED:
            a, b = (part.at[t] for t in SHORTED[part.kind])
            tie = Part(f"{part.id}.short", "resistor", {"a": a, "b": b}, {"ohm": SHORT})
            yield BenchFault(part.id, "shorted", (*others, tie))
        yield from _worn(part, others)
        if part.kind == "winding" and stiff.isdisjoint(part.at.values()):
            # Both of its ends are switched: it matters which is which.
            at = {"a": part.at["b"], "b": part.at["a"]}
            yield BenchFault(part.id, CROSSED, (*others, replace(part, at=at)))
        if part.kind in SWAPPED:
            one, other = SWAPPED[part.kind]
            at = {**part.at, one: part.at[other], other: part.at[one]}
            yield BenchFault(part.id, "the wrong way round", (*others, replace(part, at=at)))
        if part.kind == "pin":
            for mode in ("low", "high"):
                # Where it is commanded that way it looks sound, and that tells something too.
                stuck = replace(part, figures={**part.figures, "mode": mode})
                yield BenchFault(part.id, f"stays {mode}", (*others, stuck))


def _worn(part: Part, others: tuple[Part, ...]) -> Iterator[BenchFault]:
    """A part that is there and the right way round, but is not what it should be."""
    if part.kind == "resistor":
        tenfold = {**part.figures, "ohm": 10 * part.figures["ohm"]}
        yield BenchFault(part.id, TENFOLD, (*others, replace(part, figures=tenfold)))
    if part.kind == "source":
        low = {**part.figures, "volts_v": WEAK_SHARE * part.figures["volts_v"]}
        yield BenchFault(part.id, WEAK, (*others, replace(part, figures=low)))
    if "contact_ohm" in part.figures and ("no" in part.at or part.kind == "relay"):
        for contact, words in (("no", WELDED), ("nc", STUCK)):
            welded = replace(part, figures={**part.figures, "welded": contact})
            yield BenchFault(part.id, words, (*others, welded))
