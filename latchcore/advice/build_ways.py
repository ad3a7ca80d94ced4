"""Ways out of what is wrong with the whole build: packages, lines, barriers, what takes most."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from latchcore.advice.waysout import ways_out
from latchcore.catalogue import Catalogue
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, Remedy, Report, StageResult
from latchcore.document.models import Build
from latchcore.edits import apply
from latchcore.evaluate import evaluate_channel
from latchcore.figures.quantity import resistor_code, show
from latchcore.findings import channel_findings
from latchcore.findings.records import record_of
from latchcore.whole.pinning import assign, demands

#: A channel that was worked out, with what it hangs on.
Use = tuple[ChannelContext, StageResult]
#: Array packages a channel may be moved to.
PACKAGES = 4
#: A builder wants a choice, not a list.
MOST_RELAYS = 2


def trial_of(catalogue: Catalogue):
    def trial(build: Build, channel_id: str) -> tuple[StageResult, list[Finding]] | None:
        try:
            outcome = evaluate_channel(build, channel_id, catalogue)
            if outcome is None:
                return None
            context, result = outcome
            return result, channel_findings(context, result)
        except (ValueError, ArithmeticError, LookupError, TypeError, AttributeError):
            # What cannot be worked out mends nothing.
            return None

    return trial


@dataclass(frozen=True)
class Case:
    """A finding of the build with all that its ways out may rest on."""

    around: BuildContext
    report: Report
    uses: list[Use]
    finding: Finding


def _largest_base(result: StageResult) -> str | None:
    """The largest base resistor within the window of a stage, where it is larger than its own."""
    base = result.value("base_resistor")
    if base is None or base.window is None or not base.window.admissible:
        return None
    largest = max(base.window.admissible)
    return resistor_code(largest) if largest > base.value else None


def lightest_pin(case: Case) -> Iterator[Remedy]:
    """A MOSFET in place of the transistor that takes most of the board."""
    larger = {
        context.channel.id: base
        for context, result in case.uses
        if (base := _largest_base(result)) is not None
    }
    if larger:
        names = ", ".join(c.channel.name for c, _ in case.uses if c.channel.id in larger)
        yield Remedy(
            f"The largest base resistors that still serve: {names}",
            tuple(
                ("set_setting", {"channel": channel, "base_resistor": text})
                for channel, text in larger.items()
            ),
        )
    heaviest = max(
        (u for u in case.uses if u[1].kind == "npn_low_side"),
        key=lambda u: u[1].pin_current,
        default=None,
    )
    if heaviest:
        yield Remedy(
            f"Drive {heaviest[0].channel.name} by a MOSFET",
            (("set_stage", {"channel": heaviest[0].channel.id, "stage": "nmos_low_side"}),),
            f"saves {show(heaviest[1].pin_current, 'A')}",
        )


def more_lines(case: Case) -> Iterator[Remedy]:
    """The ways out where a board has too few lines: those with a press first."""
    around = case.around
    wanted = demands(around.build, around)
    plan = assign(around.deck, wanted)
    taken = {c.channel.id: r.pin_current for c, r in case.uses}
    ways = ways_out(around.build, around, wanted, plan, taken)
    yield from (w.remedy for w in ways if w.remedy)
    yield from (Remedy(f"{w.title}: {w.says}") for w in ways if not w.remedy)


def kept_apart(case: Case) -> Iterator[Remedy]:
    """
    A bare relay in place of a stage whose barrier is too weak, where one is sound for the load.
    """
    around, offered = case.around, 0
    trial = trial_of(around.catalogue)
    for context, result in case.uses:
        channel = context.channel
        if channel.id not in case.finding.concerns or result.kind == "relay_contact":
            continue
        edits = (("set_stage", {"channel": channel.id, "stage": "relay_contact"}),)
        changed, _ = apply(around.build, *edits[0], around.catalogue)
        outcome = trial(changed, channel.id)
        if (
            offered < MOST_RELAYS
            and outcome
            and outcome[0].barrier == "reinforced"
            and not any(f.severity == "stop" for f in outcome[1])
        ):
            offered += 1
            yield Remedy(
                f"{channel.name} by a relay: the {outcome[0].value('relay').text}",
                edits,
                "a reinforced barrier between its coil and its contact",
            )
    yield Remedy(record_of(case.finding.check).advice)


def by_an_adapter(case: Case) -> Iterator[Remedy]:
    """An approved adapter in place of whatever hangs a low rail on one that hurts."""
    around = case.around
    for rail in around.build.rails:
        above = around.build.rail(rail.fed_by)
        if above is not None and rail.converter != "isolating" and around.hazardous(above):
            yield Remedy(
                f"{rail.name} comes from an approved safety-isolating adapter",
                (("set_rail", {"rail": rail.id, "converter": "isolating"}),),
                f"nothing of {above.name} is then one piece of metal with it",
            )
    yield Remedy(record_of(case.finding.check).advice)


def out_of_the_array(case: Case) -> Iterator[Remedy]:
    """Wire the diode pin, or move the last channel to the next package or to a MOSFET."""
    members = [(c.channel, r.array) for c, r in case.uses if c.channel.id in case.finding.concerns]
    opened = [channel for channel, array in members if array.common_open]
    if opened:
        # One pin serves the whole package: whoever of it says otherwise is set right with the rest.
        yield Remedy(
            "Wire the common pin to the coil rail",
            tuple(("set_setting", {"channel": c.id, "common_pin": "rail"}) for c in opened),
        )
    last, array = members[-1]
    package = str(int(array.package) % PACKAGES + 1)
    # One that is too hot alone is too hot anywhere.
    if len(members) > 1:
        yield Remedy(
            f"Move {last.name} to array {package}",
            (("set_setting", {"channel": last.id, "package": package}),),
        )
    yield Remedy(
        f"Drive {last.name} by a MOSFET",
        (("set_stage", {"channel": last.id, "stage": "nmos_low_side"}),),
    )
