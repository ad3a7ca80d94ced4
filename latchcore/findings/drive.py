"""Drive: what a bare pin must not carry, and what shares an array's package."""

from __future__ import annotations

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import show
from latchcore.sums.arrays import ground_current, package_loss


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """D12 of one channel."""
    if result.kind != "direct_pin" or context.load.kind.model == "led":
        return []
    heavy = (
        "a coil kicks back into the pin when it is opened"
        if context.load.kind.inductive
        else "there is no margin at the corner"
    )
    return [
        Finding(
            "D12",
            "stop",
            context.channel.id,
            f"{context.load.kind.title} on a bare pin",
            f"It draws up to {show(result.running, 'A')}; the pin is good for"
            f" {show(context.board.pin_recommended, 'A')}.",
            f"No clamp, no level shift: {heavy}. One transistor is the least that serves.",
            "highest supply, least load",
            lasting=context.hazardous,
        )
    ]


def build(around: BuildContext, uses: list[tuple[ChannelContext, StageResult]]) -> list[Finding]:
    """D10 of each array package: its diode pin, its rails, its heat, its channels."""
    found, packages = [], {}
    for context, result in uses:
        if result.kind == "array_low_side":
            packages.setdefault(result.array.package, []).append((context, result))
    for package, members in packages.items():
        found += _package(around, package, members)
    return found


def _package(around: BuildContext, package: str, members) -> list[Finding]:
    part, where, found = members[0][1].parts["transistor"], f"array {package}", []
    names = ", ".join(c.channel.name for c, _ in members)
    everyone = tuple(c.channel.id for c, _ in members)
    inductive = [(c, r) for c, r in members if c.load.kind.inductive]
    if len(members) > part.channels:
        found.append(
            Finding(
                "D10",
                "stop",
                where,
                f"Array {package} has more channels than pins",
                f"{len(members)} channels share {part.channels}: {names}.",
                "The package holds no more.",
                concerns=everyone,
            )
        )
    if inductive and any(r.array.common_open for _, r in members):
        found.append(
            Finding(
                "D10",
                "stop",
                where,
                f"The common diode pin of array {package} is open",
                f"{', '.join(c.channel.name for c, _ in inductive)}: nothing clamps their coils.",
                "The diodes inside serve only when the common pin goes to the coil rail.",
                concerns=everyone,
            )
        )
    rails = {c.channel.rail for c, _ in inductive}
    if len(rails) > 1:
        found.append(
            Finding(
                "D10",
                "stop",
                where,
                f"Coils on array {package} hang on different rails",
                f"{', '.join(c.channel.name for c, _ in inductive)} share one diode pin.",
                "Through the common pin the higher rail would feed the lower one's coils.",
                concerns=everyone,
            )
        )
    power = package_loss(
        [r.running for _, r in members],
        [r.array.drop for _, r in members],
        [c.heat_duty for c, _ in members],
        [float("inf") if c.heat_duty == 1.0 else 0.0 for c, _ in members],
        around.catalogue.limits["continuous_over"],
    )
    junction = around.ambient + power * part.theta_ja
    near = around.catalogue.limits["junction_margin"]
    if junction > part.t_j_max - near:
        severity = "stop" if junction > part.t_j_max else "fix"
        over = "over" if severity == "stop" else f"within {near:g} K of"
        ground = ground_current([r.running for _, r in members])
        found.append(
            Finding(
                "D10",
                severity,
                where,
                f"Array {package} gets too hot",
                f"With {names} on it sheds {show(power, 'W')}: junction {show(junction, '°C')},"
                f" {over} {show(part.t_j_max, '°C')};"
                f" {show(ground, 'A')} in its ground pin.",
                "The package sheds the sum of its channels.",
                "all its channels on",
                concerns=everyone,
            )
        )
    return found
