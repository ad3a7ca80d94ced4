"""
What is said of builds, kept as text, so that a change of a sum, a limit or a rule shows where it
shows.

``python -m tests.accounts`` writes ``tests/data/accounts`` anew: the demo's builds in full, to be
read as a difference and each change of it named in the changelog, and a short mark for each build
of the two nets. ``python -m tests.accounts NAME`` prints what stands behind a mark.
"""

from __future__ import annotations

import hashlib
import itertools
import json
import sys
from collections.abc import Iterator
from dataclasses import asdict, is_dataclass
from functools import cache
from pathlib import Path
from typing import Any

from latchcore.advice.advisor import advise
from latchcore.advice.mending import advised
from latchcore.advice.spreading import spread_out
from latchcore.bench.module_test import judge
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError
from latchcore.pieces.input_kinds import KINDS
from latchcore.stages import STAGES
from latchcore.whole.barriers import barrier_map
from latchcore.whole.pinning import assign, demands
from latchcore.whole.standardise import common_resistors
from latchcore.whole.timeline import rows
from latchcore.whole.wire_list import wire_list
from tests.core.benches import edited
from tests.edges import EDGES, ground, knobs, turned
from tests.felt import FELT, witnessed
from tests.grounds import BOARDS, LOADS, grounds, priors, report_of, said, stage_bench

ACCOUNTS = Path(__file__).parent / "data" / "accounts"
MARKS = ACCOUNTS / "marks.json"
#: Draws of a spread: few, for what is kept is that it follows its sources.
DRAWS = 4000


def plain(value: Any) -> Any:
    """Anything as what JSON knows, numbers to six figures: the last ones are the machine's."""
    if is_dataclass(value) and not isinstance(value, type):
        return plain(asdict(value))
    if isinstance(value, dict):
        return {str(k): plain(v) for k, v in value.items()}
    if isinstance(value, set | frozenset):
        return sorted(plain(v) for v in value)
    if isinstance(value, list | tuple):
        return [plain(v) for v in value]
    if isinstance(value, float):
        return f"{value:.6g}"
    return value if isinstance(value, str | int | None) else str(value)


def account(build: Build) -> str:
    """Everything that is said of a build, line by line."""
    catalogue = load_catalogue()
    around, report = BuildContext(build, catalogue), advised(build, catalogue)
    data = report_of(report)
    told = {
        "report": data,
        "advice": {c.id: _cards(build, c.id) for c in build.channels},
        "moments": rows(around, report.channels),
        "barriers": barrier_map(around, report.netlist),
        "wires": wire_list(around, report),
        "resistors": common_resistors(report),
        "lines": assign(around.board, demands(build, around)) if around.board else None,
        "spreads": [s for c in report.channels if c.result for s in _spreads(around, c)],
    }
    return json.dumps(plain(told), indent=0, ensure_ascii=False)


def _cards(build: Build, channel: str) -> list:
    return [
        (c.kind, c.unfit, c.verdict, c.points, c.unmet, c.reason, c.parts, c.lost_share, _tight(c))
        for c in advise(build, channel)
    ]


def _tight(card) -> str:
    return card.tightest.key if card.result and card.result.measures else ""


def _spreads(around: BuildContext, channel) -> Iterator:
    context = around.channel(around.build.channel(channel.id))
    for measure in channel.result.measures:
        if found := spread_out(context, channel.result, measure, DRAWS):
            yield measure.key, found.low, found.middle, found.high, found.outside


def mended(stage: str, load: str, board: str) -> str:
    """What is said of a stage on a load, with what would mend each finding."""
    build = stage_bench(stage, load, board, "")
    return json.dumps(report_of(advised(build, load_catalogue())) if build else None, default=str)


#: What one field of an input may be, one after another.
OPTIONS = (
    ("rest", "closed"),
    ("output", "open_collector"),
    ("shifter", "yes"),
    ("pull", "none"),
    ("pull", "internal"),
    ("edge", "middle"),
    ("shift", "200 us"),
    ("voltage", "24 V"),
    ("lead_length", "20 m"),
)


def worked(stage: str) -> str:
    """What is said of a stage pulsed on each load that suits it, and with each choice on one."""
    told = []
    suits = [load for load in LOADS if _suits(stage, load)]
    cases = [(load, "work:pulsed") for load in suits]
    cases += [(load, prior) for load in suits[:1] for prior in priors(stage)[1:]]
    for load, prior in cases:
        build = stage_bench(stage, load, BOARDS[0], prior)
        if build is not None:
            told.append((load, prior, json.loads(said(build))))
    return json.dumps(told)


def _suits(stage: str, load: str) -> bool:
    build = stage_bench(stage, load, BOARDS[0], "")
    if build is None:
        return False
    context = BuildContext(build, load_catalogue()).channel(build.channels[0])
    return STAGES[stage].suits(context) is None


def sensed(kind: str) -> str:
    """What is said of a kind of input on both boards, plain and with each option it takes."""
    told = []
    for board in BOARDS:
        build = ground(f"input {kind}", "", board)
        told.append(json.loads(said(build)))
        for field, value in OPTIONS:
            try:
                changed = edited(build, ("set_input", {"what": "in3", field: value}))
            except EditError as error:
                told.append(str(error))
                continue
            told.append(json.loads(said(changed)))
    return json.dumps(told)


def judged() -> str:
    """What a test of an unlabelled module concludes, over its answers and readings."""
    words = itertools.product(
        ("clicks", "nothing"), ("clicks", "nothing"), ("the other side", "the same side")
    )
    readings = itertools.product((5.0, 12.0), (0.0018, 0.02), (None, 0.4, 2.9, 4.3, 9.5))
    told = []
    for (low, high, level), (coil, current, drop) in itertools.product(words, readings):
        answers = dict(low=low, high=high, level=level, coil=coil, current=current, drop=drop)
        told.append(asdict(judge({**answers, "jumper": "open" if drop else "joined"})))
    return json.dumps(told)


def mark(text: str) -> str:
    """A short mark of what is said, the last figures of its numbers left out."""
    rounded = json.dumps(plain(json.loads(text)))
    return hashlib.sha256(rounded.encode()).hexdigest()[:10]


@cache
def marked() -> dict[str, str]:
    """Marks as they are kept."""
    return json.loads(MARKS.read_text(encoding="utf-8"))


def kept(name: str, text: str) -> None:
    """Fails where what is said of a build of the nets is not what was kept."""
    assert marked().get(name) == mark(text), (
        f"what is said of “{name}” has changed: python -m tests.accounts “{name}” prints it;"
        " where the change is meant, python -m tests.accounts keeps it"
    )


def every_build() -> Iterator[tuple[str, Build]]:
    """Every build of the nets by its name."""
    yield from grounds().items()
    for name in json.loads(FELT.read_text(encoding="utf-8")):
        yield name, witnessed(name)[1]
    for name, stage, load, board, which, sound, over in json.loads(
        EDGES.read_text(encoding="utf-8")
    ):
        bare, knob = ground(stage, load, board), knobs(stage, load)[which]
        yield f"{name} of {stage} before", turned(bare, knob, sound)
        yield f"{name} of {stage} beyond", turned(bare, knob, over)


def every_text() -> Iterator[tuple[str, str]]:
    """Everything a mark is kept of."""
    for name, build in every_build():
        yield name, said(build)
    for stage, load, board in itertools.product(STAGES, LOADS, BOARDS):
        yield f"{stage} on {load} at {board}", mended(stage, load, board)
    yield from ((f"{stage} at work", worked(stage)) for stage in STAGES)
    yield from ((f"input {kind}", sensed(kind)) for kind in KINDS)
    yield "module tests", judged()


def main() -> None:
    """Keep everything, or show one."""
    if len(sys.argv) > 1:
        text = next(text for name, text in every_text() if name == sys.argv[1])
        print(json.dumps(plain(json.loads(text)), indent=1, ensure_ascii=False))
        return
    ACCOUNTS.mkdir(exist_ok=True)
    for name, build in grounds().items():
        if name.startswith("demo"):
            (ACCOUNTS / f"{name}.txt").write_text(account(build) + "\n", encoding="utf-8")
    marks = {name: mark(text) for name, text in every_text()}
    MARKS.write_text(json.dumps(marks, indent=0, ensure_ascii=False) + "\n", encoding="utf-8")
    print(f"{len(marks)} marks kept")


if __name__ == "__main__":
    main()
