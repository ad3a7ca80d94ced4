"""What stages of several lines share: their pins in the netlist, one switch repeated for each."""

from __future__ import annotations

from dataclasses import replace

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.metal.netlist import Part


def join_lines(
    context: ChannelContext, result: StageResult, roles: tuple[str, ...], but_first: bool = False
) -> dict[str, str]:
    """The pin of each role in the netlist; returns their nodes by role."""
    channel, net, nodes = context.channel, result.netlist, {}
    net.domains["0V"] = "logic"
    for n, role in enumerate(roles):
        line = channel.pin if n == 0 else channel.lines.get(role)
        node = nodes[role] = f"{channel.id}.PIN" if n == 0 else f"{channel.id}.PIN.{role}"
        if n == 0 and but_first:
            continue
        net.domains[node] = "logic"
        named = line or ("pin ?" if n == 0 else f"pin ? for {role}")
        net.add(f"BOARD.{named}", "pin", line or "no pin yet", channel.id, pin=node)
    return nodes


#: How the parts of each line but the first are marked behind their reference.
MARKS = ("", "b", "c", "d")


def repeat(context: ChannelContext, result: StageResult, roles: tuple[str, ...]) -> None:
    """
    Give each further role of a stage the same parts its first line has: same values, nodes of its
    own, a winding each.
    """
    net, prefix = result.netlist, f"{context.channel.id}."
    own = [part for part in net.parts if part.kind != "pin"]
    mine = [n for n in net.nodes() if n.startswith(prefix)]
    net.parts = [_marked(p, roles[0], "", {}) if p in own else p for p in net.parts]
    pins = join_lines(context, result, roles, but_first=True)
    for mark, role in zip(MARKS[1:], roles[1:], strict=False):
        nodes = {node: f"{node}.{role}" for node in mine} | {f"{prefix}PIN": pins[role]}
        net.domains |= {nodes[node]: net.domains.get(node, "logic") for node in mine}
        net.parts += [_marked(part, role, mark, nodes) for part in own]


def _marked(part: Part, role: str, mark: str, nodes: dict[str, str]) -> Part:
    ends = {t: nodes.get(node, node) for t, node in part.terminals.items()}
    note = role if part.kind == "load" else part.note
    return replace(part, ref=part.ref + mark, terminals=ends, note=note)
