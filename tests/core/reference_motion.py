"""The reference cases of motion in the types of the sums: stages of several lines, and chains."""

from __future__ import annotations

import json
from pathlib import Path

from latchcore.sums.motion.chain import Chain, Member
from latchcore.sums.motion.power import (
    Changeover,
    Chip,
    Gate,
    HoldsOff,
    Line,
    Power,
    Program,
    Pull,
    Start,
    Switch,
    Winding,
)

CASES = json.loads((Path(__file__).parents[1] / "data" / "motion.json").read_text(encoding="utf-8"))


def of(topic: str) -> list[dict]:
    """The cases of a topic."""
    return [case for case in CASES if case["topic"] == topic]


def _line(given: dict) -> Line:
    pull = given["pull"]
    held = Pull(pull["to"], pull["ohm"], pull["fed_by"]) if pull else None
    return Line(given["name"], given["low_most_v"], given["high_least_v"], held, given["open"])


def _program(given: dict, lines: list[Line]) -> Program:
    at = {line.name: n for n, line in enumerate(lines)}
    return Program(
        given["patterns"],
        given["first"],
        given["writes"],
        {k: tuple(v) for k, v in (given.get("after") or {}).items()},
        tuple(at[n] for n in given.get("order") or []),
        given.get("outputs_begin") == "low",
    )


def _signal(given: dict, key: str) -> tuple[str, int]:
    return given[key]["signal"], given[key]["is"]


def power_of(given: dict) -> Power:
    """A stage of several lines."""
    lines = [_line(x) for x in given["lines"]]
    board, chain = given["board"], given.get("chain") or {}
    return Power(
        given["kind"],
        given["supply_v"],
        given["source_ohm"],
        given["logic_v"],
        given["pull_v"],
        tuple(lines),
        _program(given["program"], lines),
        Start(tuple(board["boot"]), board["dies_alone"], board["reset"], board["weak_least_ohm"]),
        tuple(
            Gate(g["name"], g["op"], tuple(g["of"]), g["fed_by"], g["dead"])
            for g in given.get("logic") or []
        ),
        tuple(
            Switch(s["name"], tuple(s["between"]), s["ohm"], *_signal(s, "on_when"))
            for s in given.get("switches") or []
        ),
        tuple(HoldsOff(h["name"], h["while"], h["off"]) for h in given.get("holds_off") or []),
        tuple(
            Changeover(
                c["name"], c["common"], c["nc"], c["no"], c["ohm"], *_signal(c, "pulled_in_when")
            )
            for c in given.get("changeovers") or []
        ),
        tuple(
            Chip(
                c["name"],
                tuple(c["inputs"]),
                tuple(c["outputs"]),
                tuple((r["when"], tuple(r[o] for o in c["outputs"])) for r in c["rows"]),
                c["ohm"],
                c["plus"],
                c["minus"],
            )
            for c in given.get("chips") or []
        ),
        tuple(
            Winding(w["name"], w["role"], tuple(w["between"]), w["ohm"])
            for w in given.get("loads") or []
        ),
        tuple(chain.get("nearest_first") or []),
        chain.get("modes_confirmed", True),
    )


def chain_of(given: dict) -> Chain:
    """A chain of registers."""
    members = tuple(
        Member(m["name"], tuple(m["indices"]), m["codes"], m["rest"]) for m in given["channels"]
    )
    return Chain(
        sum(given["parts_outputs"]),
        members,
        given["index_base"],
        given["first_index_at"] == "farthest",
        given["data_rests"],
    )
