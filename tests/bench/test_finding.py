"""The search for a fault: what a builder reads of a broken channel leads to what is broken."""

from __future__ import annotations

from pathlib import Path

import pytest

from latchcore.bench.circuit import GROUND, Corner, circuit_of
from latchcore.bench.faults import single_faults
from latchcore.bench.looks import DEAD, WORKS
from latchcore.bench.solver import NoPoint, solve
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import read_build
from latchcore.procedure.finding import search_of
from latchcore.procedure.ranking import rank
from latchcore.whole.wire_list import node_numbers

DEMO = Path(__file__).parents[2] / "demo"
MIDDLE = Corner(0.4, 0.6, 0.5)


@pytest.fixture(scope="module")
def relay():
    build = read_build((DEMO / "potting-bench-valve.json").read_bytes())
    told = evaluate(build).channels[0]
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    return context, told.result, search_of(context, told.result)


def shown(context, result, part: str, words: str) -> dict[str, float | str]:
    """What the meter and the eye show of a channel with one fault."""
    found: dict[str, float | str] = {}
    whole = solve(circuit_of(context, result, "on", MIDDLE)).amps_into("ch2.LOAD.a")
    for state in ("on", "off"):
        faults = single_faults(circuit_of(context, result, state, MIDDLE))
        fault = next((f for f in faults if (f.part, f.words) == (part, words)), None)
        if fault is None:
            continue
        point = solve(fault.parts)
        there = {node for p in fault.parts for node in p.at.values()}
        for node, n in node_numbers(result.netlist, "ch2").items():
            volts = point.volts(node, GROUND) if node in there else None
            if volts is not None:
                found[f"{state}-{n}"] = volts
        load = next((p for p in fault.parts if p.id == "ch2.LOAD"), None)
        flows = abs(point.amps_into("ch2.LOAD.a")) > 0.5 * abs(whole) if load else False
        found[f"load-{state}"] = WORKS if flows else DEAD
    return found


def test_a_dead_load_alone_leaves_connections_first(relay):
    _, _, search = relay
    found = rank(search.weights, search.readings, [("load-on", DEAD)])
    best = max(found.posterior, key=lambda c: found.posterior[c])
    assert search.weights[best] == 5 and found.next is not None
    # A load that runs cannot be one that is not joined.
    runs = rank(search.weights, search.readings, [("load-on", WORKS)])
    open_load = next(c for c in search.words if search.words[c] == "the load open or not joined")
    assert runs.posterior[open_load] < 0.01 < found.posterior[open_load]


def test_the_base_resistor_is_found_in_three_readings(relay):
    _, _, search = relay
    read = [("load-on", DEAD), ("on-2", 12.0), ("on-3", 0.0), ("on-1", 4.9)]
    found = rank(search.weights, search.readings, read)
    best = max(found.posterior, key=lambda c: found.posterior[c])
    assert search.words[best] == "R1 open or not joined" and found.posterior[best] > 0.8


def test_every_single_fault_is_among_the_first_three_once_all_is_read(relay):
    context, result, search = relay
    for key in search.words:
        part, _, words = key.partition(":")
        try:
            read = shown(context, result, part, words)
        except (NoPoint, KeyError):
            continue
        known = {r.id for r in search.readings}
        taken = [(k, v) for k, v in read.items() if k in known]
        found = rank(search.weights, search.readings, taken)
        first = sorted(found.posterior, key=lambda c: -found.posterior[c])[:3]
        # What reads alike everywhere cannot be told apart by reading.
        assert key in first or found.posterior[key] == pytest.approx(
            found.posterior[first[2]], rel=0.9
        ), (search.words[key], [search.words.get(c, c) for c in first])


def test_following_the_proposals_takes_fewer_readings_than_reading_in_order(relay):
    context, result, search = relay
    proposed, in_order = 0, 0
    for key in search.words:
        part, _, words = key.partition(":")
        try:
            read = shown(context, result, part, words)
        except (NoPoint, KeyError):
            continue
        known = [r.id for r in search.readings if r.id in read]
        all_read = rank(search.weights, search.readings, [(k, read[k]) for k in known])
        best = max(all_read.posterior, key=lambda c: all_read.posterior[c])
        taken: list = []
        while True:
            found = rank(search.weights, search.readings, taken)
            if found.posterior[best] > 0.5 or found.next is None or found.next not in read:
                break
            taken.append((found.next, read[found.next]))
        proposed += len(taken)
        for n in range(len(known) + 1):
            found = rank(search.weights, search.readings, [(k, read[k]) for k in known[:n]])
            if found.posterior[best] > 0.5 or n == len(known):
                in_order += n
                break
    assert proposed < in_order
