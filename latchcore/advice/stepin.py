"""
Where to step into a machine that already exists: its remote line, its button, its supply or its
inside.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.document.models import Machine

WAYS = {
    "remote_line": ("its remote on/off line", "a pair meant to be bridged from outside", "logic"),
    "button": ("its own button", "two pads bridged as a finger would", "pair"),
    "supply_side": ("its supply", "switch what feeds it", "power"),
    "inside": ("its inside", "cut into its own circuit", "power"),
}
#: Points against a way: hazard counts most, then what cannot be undone, effort, and whether it
#: tells its state.
BASE = {
    "remote_line": {"hazard": 0, "reversibility": 0, "effort": 1, "feedback": 1},
    "button": {"hazard": 1, "reversibility": 1, "effort": 2, "feedback": 2},
    "supply_side": {"hazard": 2, "reversibility": 0, "effort": 1, "feedback": 1},
    "inside": {"hazard": 3, "reversibility": 3, "effort": 3, "feedback": 1},
}
WEIGHT = {"hazard": 10, "reversibility": 3, "effort": 2, "feedback": 1}
WORDS = {
    "hazard": ("harmless as found", "mind what it does", "can hurt", "hurts easily"),
    "reversibility": ("plugs out again", "a few wires", "solder on its board", "cannot be undone"),
    "effort": ("minutes", "an evening", "days", "a project"),
    "feedback": ("tells its state", "its state can be sensed", "acts by turns: sense it", "blind"),
}


@dataclass(frozen=True)
class Verdict:
    """
    One way judged: refused with the reason, open with the question, or ranked by points against it.
    """

    key: str
    title: str
    what: str
    state: str
    reason: str
    points: int
    criteria: tuple[tuple[str, str], ...]


def judge(machine: Machine) -> list[Verdict]:
    """
    Judge the four ways, the best first; what is refused comes last.

    Examples
    --------
    >>> machine = Machine(id="m1", name="Drying fan", remote_line={"exists": "yes",
    ...     "supply": "isolated_low"})
    >>> judge(machine)[0].key
    'remote_line'
    """
    order = {"open": 1, "ranked": 0, "refused": 2, "absent": 3}
    return sorted((_way(machine, key) for key in WAYS), key=lambda v: (order[v.state], v.points))


def _way(machine: Machine, key: str) -> Verdict:
    way, (title, what, _) = getattr(machine, key), WAYS[key]
    marks = dict(BASE[key])
    state, reason = "ranked", ""
    opens = way.opens == "yes" or key == "inside"
    if way.exists == "no":
        state, reason = "absent", "there is none"
    elif opens and machine.stores_high_voltage == "yes":
        # The catalogue's X2: such a machine is not opened here, whatever else speaks for it.
        state, reason = (
            "refused",
            "it stores high voltage: not opened here, refer it to somebody who repairs such things",
        )
    elif way.supply == "mains" and key in ("remote_line", "button", "inside"):
        state, reason = (
            "refused",
            (
                "joined with mains: bridged or cut only behind reinforced barriers, and not by"
                " this way"
            ),
        )
    elif way.exists == "unknown" and key in ("remote_line", "button"):
        state, reason = "open", "is there one? look at the back, at the manual, at its connectors"
    elif way.supply == "unknown" and key != "supply_side":
        state, reason = (
            "open",
            (
                "is its supply an identified isolated low-voltage one? until then it counts as"
                " hazardous: unplugged, by continuity only"
            ),
        )
    elif opens and machine.stores_high_voltage == "unknown":
        state, reason = (
            "open",
            (
                "does it store high voltage (flash, microwave, tube, motor capacitor)? until that"
                " is known it stays closed"
            ),
        )
    if way.supply == "mains":
        marks["hazard"] = 3
        reason = (
            reason
            or "mains: a relay or solid-state switch in an enclosure, with fuse, earth and"
            " residual-current protection; local codes rule"
        )
    if way.opens == "yes":
        marks["reversibility"] = max(marks["reversibility"], 2)
    points = sum(WEIGHT[name] * mark for name, mark in marks.items())
    criteria = tuple((name, WORDS[name][mark]) for name, mark in marks.items())
    return Verdict(key, title, what, state, reason or _why(key), points, criteria)


def _why(key: str) -> str:
    return {
        "remote_line": "made for it: least hazard, nothing is changed",
        "button": "does what a finger does; the machine's own logic stays in charge",
        "supply_side": "the machine must bear losing its supply, and must come back as wanted",
        "inside": "the last resort: its own protections may be what is cut",
    }[key]
