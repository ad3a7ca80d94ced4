"""
Sense inputs: pull, debounce and level, over-voltage, a dead board fed from outside, mains sensed
without a barrier.
"""

from __future__ import annotations

from latchcore.design.context import BuildContext
from latchcore.design.report import Finding, Remedy
from latchcore.document.models import SenseInput
from latchcore.findings.records import record_of
from latchcore.pieces.input_kinds import KINDS
from latchcore.senses import InputReport
from latchcore.whole.pinning import Demand, lacking, refusal

#: What reads a line, in place of anything made for direct current.
OF_THE_LINE = "The line's own detector: a mains-rated coupler with two LEDs back to back"
#: Resistors of another kind of input say nothing of the next.
CLEARED = {"upper": "", "lower": ""}


def findings(
    around: BuildContext, item: SenseInput, report: InputReport, wanted: list[Demand]
) -> list[Finding]:
    """Every finding of one input among the lines the build wants."""
    found = _pins(around, item, wanted)
    kind = KINDS[item.kind]
    if around.hazardous(around.build.rail(item.rail)) and not kind.barrier:
        found.append(
            Finding(
                "I4",
                "stop",
                item.id,
                "Mains sensed without a barrier",
                f"{report.title} on {around.build.rail(item.rail).name}: its line is one piece of"
                " metal with the board.",
                "Whoever touches the board touches the line. A divider is no barrier.",
                "any",
                remedies=(
                    Remedy(
                        OF_THE_LINE,
                        (("set_input", {"what": item.id, "kind": "zero_coupler", **CLEARED}),),
                    )
                    if around.alternating(around.build.rail(item.rail))
                    else Remedy(
                        "Sense it through a coupler with a barrier",
                        (("set_input", {"what": item.id, "kind": "opto", **CLEARED}),),
                    ),
                ),
                lasting=True,
            )
        )
    rail = around.build.rail(item.rail)
    if kind.of_the_line and rail is not None and not around.alternating(rail):
        found.append(
            Finding(
                "S8",
                "stop",
                item.id,
                "A zero detector on direct current",
                f"{rail.name} has no zero.",
                "It wants the line whose half-cycles are counted.",
                remedies=(Remedy("Choose the rail that carries alternating current."),),
            )
        )
    if item.kind == "opto" and around.alternating(around.build.rail(item.rail)):
        found.append(
            Finding(
                "S8",
                "stop",
                item.id,
                "A direct-current input on alternating current",
                "Its LED is turned backwards every half-cycle, with the full peak across it.",
                "A coupler for alternating current, or a rectifier before it.",
                "negative half-cycle",
                remedies=(
                    Remedy(
                        OF_THE_LINE,
                        (("set_input", {"what": item.id, "kind": "zero_coupler", **CLEARED}),),
                    ),
                    Remedy(
                        "Sense the direct-current side of the supply, or the contact that"
                        " switches it."
                    ),
                ),
                lasting=around.hazardous(around.build.rail(item.rail)),
            )
        )
    for measure in report.measures:
        if measure.verdict != "sound" and not any(f.check == measure.check for f in found):
            found.append(
                Finding(
                    measure.check,
                    measure.verdict,
                    item.id,
                    record_of(measure.check).title_of(measure.key),
                    measure.sentence + ".",
                    measure.why,
                    measure.corner,
                    measure,
                )
            )
    return found


def _pins(around: BuildContext, item: SenseInput, wanted: list[Demand]) -> list[Finding]:
    """P3 and P10 of the lines it is on."""
    found = []
    for d in wanted:
        if d.key.split(".")[0] != item.id or d.pin is None or around.board is None:
            continue
        pin = around.board.pin(d.pin)
        if pin is None:
            found.append(
                Finding(
                    "P3",
                    "stop",
                    item.id,
                    f"This board has no pin {d.pin}",
                    f"{around.board.title} has no line of that name.",
                    "A pin that is not there reads nothing.",
                    remedies=(
                        Remedy("Give every line a pin", (("assign_pins", {"scope": "missing"}),)),
                    ),
                )
            )
        elif (why := refusal(d, pin)) is not None:
            check = "P3" if lacking(d, pin) in (None, "in", "out") else "P10"
            found.append(
                Finding(
                    check,
                    "stop",
                    item.id,
                    f"{d.pin} {why}",
                    f"{d.name} wants {d.words}; {d.pin} ({pin.chip}) {why}.",
                    "Nothing is read there.",
                    remedies=(
                        Remedy("Give every line a pin", (("assign_pins", {"scope": "missing"}),)),
                    ),
                )
            )
    return found[:1]
