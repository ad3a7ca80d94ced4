"""What can be asked of a channel, and how its lines then stand."""

from __future__ import annotations

from latchcore.bench.corners import NotModelled
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import lines_of
from latchcore.design.report import StageResult
from latchcore.whole.chains import codes_of

OFF, ON = "off", "on"
#: Ways of a load that stays where a pulse brought it.
LATCHED = ("set", "reset")
#: Loads whose line carries pulses all the time; a meter on direct volts shows their mean only.
PULSED = frozenset({"servo", "pixels"})
#: The longest list of states that is read through at the bench.
MOST_COMMANDS = 12


def commands_of(context: ChannelContext, result: StageResult) -> dict[str, dict[str, bool]]:
    """
    Levels of a channel's lines by node, for each thing that can be asked of it; ``off`` stands
    first.

    Raises
    ------
    NotModelled
        If its line carries pulses, if nobody knows which level is on, or if it has so many states
        that it is written rather than switched
    """
    if context.load.kind.model in PULSED:
        raise NotModelled("its line carries pulses all the time, and a meter shows their mean only")
    if result.panel is not None:
        raise NotModelled("a panel is written dot by dot: look at its dots")
    nodes = {p.ref.partition(".")[2]: p.terminals["pin"]
             for p in result.netlist.parts if p.kind == "pin"}  # fmt: skip
    if result.motion is None:
        if result.on_with not in ("high", "low"):
            raise NotModelled("nobody knows which level is on")
        high = result.on_with == "high"
        return {
            OFF: dict.fromkeys(nodes.values(), not high),
            ON: dict.fromkeys(nodes.values(), high),
        }
    named = lines_of(context)
    codes, rest = codes_of(context, result, [role for role, _ in named])
    if len(codes) > MOST_COMMANDS:
        raise NotModelled("it has many states: look at what it does")
    if any(name not in nodes for _, name in named):
        raise NotModelled("not all of its lines have a pin yet")
    found = {rest: codes[rest], **codes}
    return {
        OFF if state == rest else state: {
            nodes[name or ""]: level == "1" for (_, name), level in zip(named, code, strict=True)
        }
        for state, code in found.items()
    }


def acting(commands: dict[str, dict[str, bool]]) -> list[str]:
    """What can be asked besides ``off``."""
    return [state for state in commands if state != OFF]
