"""What is seen of a broken build, and which causes that makes likelier."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from latchcore.bench.looks import DEAD, WEAK, WORKS

#: How much likelier a symptom makes a cause it points to, and a part the log already names.
POINTS, NAMED = 4.0, 3.0
#: A part as it is called on the drawing.
REFERENCE = re.compile(r"\b[A-Z]{1,3}\d{1,3}[a-z]?\b")


@dataclass(frozen=True, slots=True)
class Symptom:
    """
    One symptom: its words, what it says of the load by reading, and words of the causes it points
    to.
    """

    words: str
    looks: Mapping[str, str]
    causes: tuple[str, ...]


SYMPTOMS: dict[str, Symptom] = {
    "dead": Symptom("nothing happens", {"load-on": DEAD},
                    ("open", "not joined", "missing", "wrong way round", "stays")),
    "clicks": Symptom("it clicks, but the load stays dead", {"load-on": DEAD},
                      ("does not close", "the load")),
    "still": Symptom("the indicator lights, but nothing moves", {},
                     ("too low", "ten times", "the load")),
    "stays": Symptom("it stays on when told off", {"load-off": WORKS},
                     ("welded", "shorted", "stays")),
    "inverted": Symptom("it is on when it should be off, and off when on",
                        {"load-on": DEAD, "load-off": WORKS}, ("stays", "wrong way round")),
    "weak": Symptom("it is weak, the more so with others on", {"load-on": WEAK},
                    ("too low", "ten times")),
    "alone": Symptom("it works on USB, not on its own supply", {}, ("too low", "supply", "rail")),
    "warm": Symptom("the transistor gets warm", {"load-on": WEAK},
                    ("ten times", "wrong way round", "missing")),
    "upload": Symptom("it is dead after an upload", {"load-on": DEAD}, ("stays",)),
}  # fmt: skip


def raised(
    weights: Mapping[str, float], words: Mapping[str, str], symptom: str, named: Iterable[str] = ()
) -> dict[str, float]:
    """
    Weights with what a symptom and the log make likelier.

    Parameters
    ----------
    weights, words : mapping
        Prior and words of each cause
    symptom : str
        Of :data:`SYMPTOMS`; any other changes nothing
    named : iterable of str
        Parts the build's history names

    Examples
    --------
    >>> found = raised({"a": 1.0, "b": 2.0}, {"a": "K1 welded", "b": "R1 shorted"}, "clicks",
    ...     ["R1"])
    >>> found["a"], found["b"]
    (1.0, 6.0)
    """
    known = SYMPTOMS.get(symptom)
    past = set(named)
    found = {}
    for cause, weight in weights.items():
        said = words[cause]
        if known is not None and any(hint in said for hint in known.causes):
            weight *= POINTS
        if past & set(REFERENCE.findall(said)):
            weight *= NAMED
        found[cause] = weight
    return found


def parts_named(texts: Iterable[str]) -> set[str]:
    """
    Parts that are named in words of the log.

    Examples
    --------
    >>> sorted(parts_named(["Q1 got hot, D1 was the wrong way round", "all well"]))
    ['D1', 'Q1']
    """
    return {name for text in texts for name in REFERENCE.findall(text)}
