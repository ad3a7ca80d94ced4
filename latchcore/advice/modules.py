"""
The ways to make a module work on this board, each with its own numbers and what it does to
isolation.
"""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.preferred import largest_below
from latchcore.figures.quantity import resistor_code, show
from latchcore.findings import channel_findings
from latchcore.pieces import module_input
from latchcore.stages import STAGES
from latchcore.sums.modules import FED_LOW, fed_from_logic

#: Findings that speak of the input; the coil and the contact are not mended by any of these ways.
INPUT_CHECKS = {"P1", "P5", "P6", "P7", "P8", "P9", "P12", "P13", "D1"}


@dataclass(frozen=True)
class Way:
    """
    One way: what is changed, whether it then works at every corner, its numbers, and what isolation
    is left.
    """

    key: str
    title: str
    settings: dict[str, str] | None
    works: bool
    numbers: str
    isolation: str
    used: bool


def ways(context: ChannelContext) -> list[Way]:
    """
    Work out the module as it is, its inputs fed from the logic supply, its resistor lowered, a
    transistor added.

    Parameters
    ----------
    context : ChannelContext
        A channel on a relay module

    Returns
    -------
    list of Way
        In the order of effort; the last one is another module
    """
    module = STAGES[context.channel.stage.kind].size(context).module.part
    board, found = context.board, []
    drop = module.led.max + (module.indicator.max if module.indicator else 0.0)
    low = fed_from_logic(
        board.logic.min,
        module.input_resistor.typ,
        drop,
        board.vol_noload + board.sink_droop * FED_LOW,
    )
    plain = {"feed": "module", "parallel": "", "drive": "pin"}
    plans = [("as_it_is", "As it is", plain)]
    if module_input.pulled_low(context, module):
        plans.append(
            ("fed_low", "Inputs fed from the logic supply, jumper off", plain | {"feed": "logic"})
        )
        if low.parallel:
            across = resistor_code(largest_below("E12", low.parallel / (1 + context.tolerance)))
            plans.append(
                (
                    "parallel",
                    f"The same with {across} across its {show(module.input_resistor.typ, 'Ω')}",
                    plain | {"feed": "logic", "parallel": across},
                )
            )
        plans.append(("npn", "A small NPN between pin and input", plain | {"drive": "npn"}))
    now = {key: context.channel.stage.settings.get(key, "") or plain[key] for key in plain}
    for key, title, settings in plans:
        if settings["feed"] == "logic" and not module.separate:
            found.append(
                Way(
                    key,
                    title,
                    None,
                    False,
                    "its coils and inputs share one supply: there is no jumper to take off",
                    "none",
                    False,
                )
            )
            continue
        result, findings = _tried(context, settings)
        found.append(
            Way(
                key,
                title,
                settings,
                not any(
                    f.check in INPUT_CHECKS and f.severity in ("stop", "fix") for f in findings
                ),
                _numbers(result, low, key),
                _isolation(key, module),
                now == settings,
            )
        )
    found.append(
        Way(
            "other",
            "Another module: one whose inputs are made for this logic",
            None,
            True,
            "none of its own",
            "as its own jumper leaves it",
            False,
        )
    )
    return found


def _tried(context: ChannelContext, settings: dict[str, str]) -> tuple[StageResult, list[Finding]]:
    stage = context.channel.stage
    merged = {k: v for k, v in (stage.settings | settings).items() if v not in ("", "auto")}
    channel = context.channel.model_copy(
        update={"stage": stage.model_copy(update={"settings": merged})}
    )
    tried = BuildContext(context.around.build, context.around.catalogue).channel(channel)
    result = STAGES[stage.kind].size(tried)
    return result, channel_findings(tried, result)


def _numbers(result: StageResult, low, key: str) -> str:
    on, off, inject = (result.measure(name) for name in ("input_on", "input_off", "injection"))
    parts = [f"on {show(on.worst, 'A')}, wants {show(on.limit, 'A')}"] if on else []
    if off:
        parts.append(f"left when off {show(off.worst, 'A')}, bears {show(off.limit, 'A')}")
    if inject and inject.worst:
        parts.append(f"injects {show(inject.worst, 'A')} into a floating pin")
    if key == "fed_low" and not low.enough:
        parts.append(
            f"{show(max(low.headroom, 0.0), 'V')} left for the resistor: no resistor helps"
        )
    return "; ".join(parts)


def _isolation(key: str, module) -> str:
    if not module.separate:
        return "none: one supply for coils and inputs"
    return {
        "as_it_is": "none with the jumper on; the coils' ground joins the board's",
        "fed_low": "kept: coils on their own supply, jumper off",
        "parallel": "kept: coils on their own supply, jumper off",
        "npn": "none: its emitter joins the inputs' ground with the board's",
    }[key]
