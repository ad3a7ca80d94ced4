"""Chains: their lines, levels, what their packages carry, and what reset leaves standing."""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.design.chains import ChainContext
from latchcore.design.context import BuildContext
from latchcore.design.report import Finding
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds, falls_short
from latchcore.findings.slips import slipped
from latchcore.whole.chains import ChainReport, Uses


def build(around: BuildContext, chains: list[ChainReport], uses: Uses) -> list[Finding]:
    """P2, P7, P9, P11, D6, D9, S8, M6, M7 and T9 of every chain."""
    if around.board is None:
        return []
    found = list(_outside(around))
    for report in chains:
        found += [
            *_twice(report),
            *_lines(report),
            *_start(report.context),
            *_supply(report.context),
            *_levels(report.context),
            *_package(report),
            *_heat(around, report, uses),
            *_frequency(report, uses),
            *_keeps(report, uses),
            *slipped(report, uses),
        ]
    return found


def _where(chain: ChainContext) -> str:
    return f"chain:{chain.id}"


def _outside(around: BuildContext) -> Iterator[Finding]:
    """T9: a number that its chain does not have, and lines of a chain that is gone."""
    for channel in around.build.channels:
        for name in channel.pins:
            chain = around.of_line(name)
            if chain is None or around.line(name) is not None:
                continue
            first, last = chain.numbers[0], chain.numbers[-1]
            mixed = int(name.partition(".")[2]) in (first - 1, last + 1)
            yield Finding(
                "T9",
                "stop",
                channel.id,
                f"{chain.chain.name} has no output {name}",
                f"Its outputs are {chain.id}.{first} to {chain.id}.{last}"
                + (": whoever counts from the other base is one off." if mixed else "."),
                "What is sent to an output that is not there goes to another, or nowhere.",
                cause=name,
            )


def _twice(report: ChainReport) -> Iterator[Finding]:
    """T9: two that claim one output."""
    for cell in report.cells:
        if len(cell.holders) < 2:
            continue
        name = f"{report.id}.{cell.number}"
        yield Finding(
            "T9",
            "stop",
            f"pin:{name}",
            f"{name} is claimed {len(cell.holders)} times",
            f"{', '.join(who for _, who, _ in cell.holders)} all stand at {name}.",
            "One bit cannot say two things; the load that is written last decides.",
            concerns=tuple(who for who, _, _ in cell.holders),
        )


def _lines(report: ChainReport) -> Iterator[Finding]:
    """P11: a role for which no line of the board is named."""
    chain = report.context
    pins = {p.ref for p in report.netlist.parts if p.kind == "pin" and p.value == "no pin yet"}
    absent = [r for r in chain.roles if r not in chain.chain.lines] if pins else []
    if absent:
        yield Finding(
            "P11",
            "stop",
            _where(chain),
            f"{chain.chain.name} has no line for {' and '.join(absent)}",
            f"It wants {', '.join(chain.roles)} of the board;"
            f" {', '.join(chain.chain.lines) or 'none'} named.",
            "A chain that misses one of its lines is told nothing.",
        )


def _start(chain: ChainContext) -> Iterator[Finding]:
    """P3 of lines that cannot drive, P4 of a pull at one that must stand otherwise to start."""
    board = chain.around.board
    for role, name in chain.chain.lines.items():
        pin = board.pin(name)
        if pin is None or "out" not in pin.can:
            yield Finding(
                "P3",
                "stop",
                _where(chain),
                f"{name} cannot tell {chain.chain.name} anything",
                f"{name} is " + ("input only" if pin else "no line of this board") + f"; it is"
                f" named for its {role}.",
                "A chain that misses one of its lines is told nothing.",
                cause=role,
            )
        elif role == chain.part.release and pin.start not in (None, chain.part.release_at):
            if chain.pull is None:
                continue
            yield Finding(
                "P4",
                "stop",
                _where(chain),
                f"{pin.id} must be {pin.start} to start",
                f"The pull at the {role} of {chain.chain.name} holds it {chain.part.release_at}.",
                "The board reads this pin when it starts; pulled the wrong way it does not run the"
                " program.",
                "power-on and reset",
            )


def _supply(chain: ChainContext) -> Iterator[Finding]:
    """S8: fed outside of what it is made for, or by what is no direct current of this board's."""
    rail, made = chain.rail, chain.part.supply
    if rail is not None and _own_switch(chain):
        yield Finding(
            "S11",
            "stop",
            _where(chain),
            f"{chain.chain.name} is fed by a rail one of its own channels turns on",
            f"{rail.name} is turned on by {_own_switch(chain)}, which waits for it.",
            "Nothing can turn it on the first time, and off it stays.",
            "power-on",
        )
    title = f"{chain.chain.name} is not made for {chain.supply.shown('V')}"
    if rail is not None and (chain.around.alternating(rail) or chain.around.hazardous(rail)):
        title = f"{chain.chain.name} cannot hang on {rail.name}"
    elif rail is not None and chain.around.return_of(rail) != "0V":
        title = f"{chain.chain.name} shares no 0 V with the board on {rail.name}"
    elif not (falls_short(chain.supply.min, made.min) or exceeds(chain.supply.max, made.max)):
        return
    yield Finding(
        "S8",
        "stop",
        _where(chain),
        title,
        f"Fed by {rail.name if rail else 'the board'} with {chain.supply.shown('V')}; it works from"
        f" {show(made.min, 'V')} to {show(made.max, 'V')}, against the board's 0 V.",
        "Below it its outputs are anything, above it it dies.",
        "both ends of the supply",
    )


def _own_switch(chain: ChainContext) -> str:
    """The name of a channel on it that turns its own rail on, or of one that feeds that."""
    build, rail, seen = chain.around.build, chain.rail, set()
    while rail is not None and rail.id not in seen:
        seen.add(rail.id)
        by = build.channel(rail.switched_by)
        if by is not None and any(line.startswith(f"{chain.id}.") for line in by.pins):
            return by.name
        rail = build.rail(rail.fed_by)
    return ""


def _levels(chain: ChainContext) -> Iterator[Finding]:
    """P7 of the board's high level at its inputs, P9 of either that bears too much."""
    if chain.chain.shifter:
        return
    board = chain.around.board
    if chain.rail is None:
        # One supply: both levels go up and down with it.
        return
    high, needs = board.voh_noload_min, chain.reads_high
    pull = (
        f" The pull-up at its {chain.part.release} would lead {show(chain.supply.max, 'V')} to the"
        " board's pin too."
    )
    led_back = (
        chain.pull is not None
        and chain.part.release_at == "high"
        and exceeds(chain.supply.max, board.logic.min + board.over_supply)
    )
    if falls_short(high, needs):
        yield Finding(
            "P7",
            "stop",
            _where(chain),
            f"{chain.chain.name} does not surely read the board's high",
            f"The board gives {show(high, 'V')} at the least, it reads high from"
            f" {show(needs, 'V')}." + (pull if led_back else ""),
            "At one temperature it works, at the next a bit is missed, and everything behind it"
            " stands one place off.",
            "low board supply, high supply of the chain",
        )
    elif led_back:
        amperes = (chain.supply.max - board.logic.min) / chain.pull
        yield Finding(
            "P9",
            "stop",
            _where(chain),
            f"The pull-up of {chain.chain.name} leads its supply to the board",
            f"{show(chain.supply.max, 'V')} over {show(chain.pull, 'Ω')} stand at the board's pin,"
            f" which bears {show(board.logic.min + board.over_supply, 'V')}; up to"
            f" {show(amperes, 'A')} flow into it.",
            "A pull-up belongs to the lower of two levels, or behind a level shifter.",
            "high supply of the chain, low supply of the board",
        )
    bears = chain.supply.min + chain.part.bears
    if exceeds(board.logic.max, bears):
        yield Finding(
            "P9",
            "stop",
            _where(chain),
            f"The board's high is too much for {chain.chain.name}",
            f"{show(board.logic.max, 'V')} stand at its inputs, which bear {show(bears, 'V')}.",
            "Its protection conducts and feeds its supply from the board's pins.",
            "high board supply, low supply of the chain",
            cause="inputs",
        )


def _package(report: ChainReport) -> Iterator[Finding]:
    """P2: all outputs of a package together."""
    part = report.context.part
    for n, amperes in enumerate(report.packages):
        if exceeds(amperes, part.package):
            yield Finding(
                "P2",
                "stop",
                _where(report.context),
                f"Package {n + 1} of {report.name} carries more than it may",
                f"Everything on it on: {show(amperes, 'A')}, over {show(part.package, 'A')}.",
                "All its outputs share one supply lead and one ground lead.",
                "all outputs on",
                cause=f"package {n + 1}",
            )


def _heat(around: BuildContext, report: ChainReport, uses: Uses) -> Iterator[Finding]:
    """D6: what the open drains of a package turn into heat together."""
    part = report.context.part
    if part.r_on is None:
        return
    by_id = {c.channel.id: r for c, r in uses}
    for package in range(1, report.context.chain.count + 1):
        who = [h[0] for c in report.cells if c.package == package for h in c.holders[:1]]
        watts = sum(by_id[w].power or 0.0 for w in who)
        hot = around.ambient + watts * part.theta_ja
        margin = part.t_j_max - around.catalogue.limits["junction_margin"]
        if not exceeds(hot, margin):
            continue
        yield Finding(
            "D6",
            "stop" if exceeds(hot, part.t_j_max) else "fix",
            _where(report.context),
            f"Package {package} of {report.name} gets too hot",
            f"{show(watts, 'W')} in it make {show(hot, '°C')}, over {show(margin, '°C')}.",
            "Each output alone is within its rating; together they are one piece of plastic.",
            "all outputs on, hot switches, highest ambient",
            cause=f"heat {package}",
        )


def _frequency(report: ChainReport, uses: Uses) -> Iterator[Finding]:
    """D9: a pulse driver asked for a frequency it cannot make."""
    part = report.context.part
    if part.pulse_from is None or part.pulse_to is None:
        return
    here = set(report.channels)
    for context, _ in uses:
        channel = context.channel
        if channel.id not in here or not channel.pwm:
            continue
        wanted = parse(channel.pwm, "Hz")
        if falls_short(wanted, part.pulse_from) or exceeds(wanted, part.pulse_to):
            yield Finding(
                "D9",
                "fix",
                channel.id,
                f"{report.name} does not pulse at {show(wanted, 'Hz')}",
                f"It makes {show(part.pulse_from, 'Hz')} to {show(part.pulse_to, 'Hz')}, one"
                " frequency for all its outputs.",
                "What it cannot make it rounds, and the load gets another frequency.",
                cause="pulse driver",
            )


def _keeps(report: ChainReport, uses: Uses) -> Iterator[Finding]:
    """M6: outputs that stand as they were while the board resets, uploads or is dead."""
    reasons, here = report.context.keeps, set(report.channels)
    if not reasons or not here:
        return
    there = [c for c, _ in uses if c.channel.id in here]
    grave = [c.channel.name for c in there if c.hazardous]
    names = ", ".join((grave or [c.channel.name for c in there])[:4])
    upload = show(report.context.around.board.upload_time, "s")
    unset = report.context.part.at_power_on == "undefined"
    first = " Until the program has loaded it first, its outputs are anything." if unset else ""
    yield Finding(
        "M6",
        "stop" if grave else "fix",
        _where(report.context),
        f"{report.name} keeps its outputs when the board lets go",
        f"{reasons[0].capitalize()}: through a reset, and an upload of up to {upload}, {names} stay"
        f" as they were.{first}",
        "The board's own pins let go in a reset; a register remembers the last thing it was told.",
        "reset, upload, board unpowered, with outputs on",
        lasting=bool(grave),
        concerns=tuple(c.channel.id for c in there),
    )
