"""
The edges: for each finding that rests on a measure a build that does not trip it and, a hair
further, one that does, through the document.

``python -m tests.edges`` searches and writes ``tests/data/edges.json``; the tests only walk what it
found. A limit that is changed on purpose moves its edges: search anew and read the difference.
"""

from __future__ import annotations

import itertools
import json
import math
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from latchcore.catalogue import load_catalogue
from latchcore.design.report import Measure
from latchcore.document.models import Build
from latchcore.edits import EditError
from latchcore.evaluate import evaluate_afresh
from latchcore.pieces.input_kinds import KINDS
from latchcore.stages import STAGES
from tests.core.benches import bench, edited
from tests.grounds import BOARDS, LOADS, stage_bench

EDGES = Path(__file__).parent / "data" / "edges.json"
#: How far the two builds are apart, and how near the limit the sound one's value is.
HAIR, NEAR = 0.002, 0.02

#: Volts an input begins with, where it wants any.
INPUT_VOLTS = {
    "divider": "12 V",
    "opto": "24 V",
    "sensor": "5 V",
    "tachometer": "5 V",
    "serial": "5 V",
    "zero_transformer": "9 V",
}
#: What is turned, from where to where: an edit, its argument, its unit.
Knob = tuple[str, dict[str, str], str, str, float, float]
#: Where an edge is: stage, load, board, knob, sound value, tripping value.
Edge = tuple[str, str, str, str, str, str]


def knobs(stage: str, load: str) -> dict[str, Knob]:
    """Everything of a bench that is a number, by its name."""
    if stage.startswith("input "):
        return input_knobs(stage.removeprefix("input "))
    _, volts, figure, rail, _ = LOADS[load]
    channel = {"channel": "ch2"}

    def around(text: str, less: float, more: float) -> tuple[str, float, float]:
        size, unit = text.split()
        scale = {"mA": (1e-3, "A")}.get(unit, (1.0, unit))
        return scale[1], float(size) * scale[0] * less, float(size) * scale[0] * more

    found: dict[str, Knob] = {
        "figure": ("set_load", channel, "figure", *around(figure, 0.02, 50)),
        "rated": ("set_load", channel, "voltage", *around(volts, 0.3, 3)),
        "rail": ("set_rail", {"rail": "rail1"}, "voltage", *around(rail, 0.3, 4)),
        "ambient": ("set_conditions", {}, "ambient", "°C", 5.0, 95.0),
        "pwm": ("set_switching", channel, "pwm", "Hz", 50.0, 90e3),
        "lasts": ("set_switching", channel, "longest_on", "s", 0.01, 3000.0),
    }
    for setting in STAGES[stage].settings:
        if setting.kind == "ohms":
            found[setting.key] = ("set_setting", channel, setting.key, "Ω", 1.0, 1e6)
    return found


def turned(build: Build, knob: Knob, value: str) -> Build | None:
    """The bench with a knob at a value; ``None`` where that is refused."""
    name, args, key, *_ = knob
    try:
        return edited(build, (name, {**args, key: value}))
    except EditError:
        return None


def ground(stage: str, load: str, board: str) -> Build | None:
    """The bench of a stage on a load, or of a kind of input (``input button``)."""
    if not stage.startswith("input "):
        return stage_bench(stage, load, board, "")
    kind = stage.removeprefix("input ")
    mains = KINDS[kind].of_the_line
    build = bench(
        *(("filament_lamp", "230 V", "60 W") if mains else ("relay_coil", "12 V", "400 Ω")),
        rail="230 V" if mains else "12 V",
        source="mains" if mains else "adapter",
        stage="triac_coupler" if mains else "npn_low_side",
        board=board,
    )
    volts = {"voltage": INPUT_VOLTS[kind]} if kind in INPUT_VOLTS else {}
    try:
        return edited(
            build, ("add_input", {"kind": kind, **volts, **({"rail": "rail1"} if mains else {})})
        )
    except EditError:
        return None


def input_knobs(kind: str) -> dict[str, Knob]:
    """Everything of an input that is a number, by its name."""
    args = {"what": "in3"}
    found: dict[str, Knob] = {
        "lead": ("set_input", args, "lead_length", "m", 0.1, 100.0),
        "debounce": ("set_input", args, "debounce", "s", 1e-4, 1.0),
        "sampled": ("set_input", args, "sampled", "s", 1e-4, 1.0),
    }
    asks = KINDS[kind].asks
    for key in ("pull", "upper", "lower"):
        if key in asks:
            found[key] = ("set_input", args, key, "Ω", 10.0, 1e6)
    if "voltage" in asks:
        found["voltage"] = ("set_input", args, "voltage", "V", 1.0, 200.0)
    return found


def measures(build: Build | None) -> dict[str, Measure]:
    """Measures of a bench's channel and inputs, by check and key."""
    if build is None:
        return {}
    report = evaluate_afresh(build, load_catalogue())
    result = report.channels[0].result
    listed = [*(result.measures if result else ()), *(m for i in report.inputs for m in i.measures)]
    return {f"{m.check} {m.key}": m for m in listed}


def tripped(build: Build) -> set[str]:
    """Findings of a bench that rest on a measure, by check and key."""
    report = evaluate_afresh(build, load_catalogue())
    channel = report.channels[0]
    found = [*channel.findings, *(f for f, _ in channel.accepted), *report.findings]
    return {f"{f.check} {f.measure.key}" for f in found if f.measure is not None}


def near(measure: Measure) -> bool:
    """Whether a sound value lies a hair within its limit."""
    zero = measure.zero
    return abs((measure.worst - measure.limit) / ((measure.limit - zero) or 1.0)) < NEAR


def flips(build: Build, knob: Knob) -> Iterator[tuple[str, str, str]]:
    """Each measure that goes over its limit along a knob, between two values a hair apart."""
    *_, unit, low, high = knob
    grid = [low * (high / low) ** (n / 14) for n in range(15)]
    seen = [measures(turned(build, knob, f"{v:.6g} {unit}")) for v in grid]
    for (a, left), (b, right) in itertools.pairwise(zip(grid, seen, strict=True)):
        for name in left.keys() & right.keys():
            sound = left[name].verdict == "sound", right[name].verdict == "sound"
            if sound[0] == sound[1]:
                continue
            one, other = (a, b) if sound[0] else (b, a)
            edge = _narrowed(build, knob, name, one, other)
            if edge is not None:
                yield name, *edge


def _narrowed(build, knob, name, sound: float, over: float) -> tuple[str, str] | None:
    unit = knob[3]
    while abs(math.log(over / sound)) > HAIR:
        middle = math.sqrt(sound * over)
        there = measures(turned(build, knob, f"{middle:.6g} {unit}")).get(name)
        if there is None:
            return None
        if there.verdict == "sound":
            sound = middle
        else:
            over = middle
    texts = f"{sound:.6g} {unit}", f"{over:.6g} {unit}"
    builds = [turned(build, knob, text) for text in texts]
    last = measures(builds[0]).get(name)
    holds = last is not None and near(last) and name in tripped(builds[1])
    return texts if holds and name not in tripped(builds[0]) else None


def search(stage: str) -> dict[str, Edge]:
    """The edges of one stage, one a measure."""
    found: dict[str, Edge] = {}
    for load in LOADS if stage in STAGES else [""]:
        for board in BOARDS:
            build = ground(stage, load, board)
            if build is None or not measures(build):
                continue
            for which, knob in knobs(stage, load).items():
                for name, sound, over in flips(build, knob):
                    found.setdefault(name, (stage, load, board, which, sound, over))
    return found


def main() -> None:
    """Search every stage; of each measure two edges at most are kept, at different stages."""
    kept: dict[str, list[Edge]] = {}
    with ProcessPoolExecutor() as pool:
        for edges in pool.map(search, [*STAGES, *(f"input {kind}" for kind in KINDS)]):
            for name, edge in edges.items():
                if len(kept.setdefault(name, [])) < 2:
                    kept[name].append(edge)
    rows = [
        f"{json.dumps([name, *edge], ensure_ascii=False)}"
        for name in sorted(kept)
        for edge in kept[name]
    ]
    EDGES.write_text("[\n" + ",\n".join(rows) + "\n]\n", encoding="utf-8")
    print(f"{len(kept)} measures have an edge, {len(rows)} edges")


if __name__ == "__main__":
    main()
