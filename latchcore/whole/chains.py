"""
Chains of a build: which channel is at which place, what they take, what a wrong clock edge does.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from latchcore.design.chains import ChainContext
from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.kinds import lines_of
from latchcore.design.report import Sized, StageResult
from latchcore.document.chains import part_of
from latchcore.figures.quantity import parse, resistor_code
from latchcore.figures.working import Working
from latchcore.metal.netlist import Netlist
from latchcore.pieces.sensing import VDD
from latchcore.sums.motion.chain import Chain, Clock, Member

#: The edge a shift register reads at.
RISING = Clock("low", "first")
#: What one load on a two-wire bus takes besides its data: address and register [bytes of 9 bits].
HEADER, BYTE = 2, 9
Uses = list[tuple[ChannelContext, StageResult]]


@dataclass(frozen=True)
class Cell:
    """One output: its number, place from the data input, and who hangs there with which role."""

    number: int
    place: int
    package: int
    holders: tuple[tuple[str, str, str], ...] = ()


@dataclass
class ChainReport:
    """
    Everything about one chain.

    ``cells`` nearest to the data input first, ``packages`` what each takes or gives with everything
    on [A], ``draws`` from its supply [A], ``update`` the time of one load [s] where the clock is
    stated; ``logic`` its channels by the codes they know, for slips.
    """

    context: ChainContext
    cells: tuple[Cell, ...]
    values: list[Sized]
    netlist: Netlist
    working: Working
    packages: list[float]
    draws: float
    update: float | None
    logic: Chain
    outside: list[tuple[str, str]] = field(default_factory=list)

    @property
    def id(self) -> str:
        """Its id."""
        return self.context.id

    @property
    def name(self) -> str:
        """Its name."""
        return self.context.chain.name

    @property
    def channels(self) -> list[str]:
        """Ids of the channels on it, each once."""
        return list(dict.fromkeys(who for cell in self.cells for who, _, _ in cell.holders))

    @property
    def program(self) -> Clock:
        """Idle level and sampling edge of the program's clock."""
        return Clock(self.context.chain.idle, self.context.chain.samples)


def lines_on(context: ChannelContext, chain: str) -> list[tuple[int, str]]:
    """Numbers of a chain a channel has lines on, with the role of each, in the order of roles."""
    found = []
    for role, name in lines_of(context):
        at = part_of(name) if name else None
        if at is not None and at[0] == chain:
            found.append((at[1], role))
    return found


def codes_of(
    context: ChannelContext, result: StageResult, roles: list[str]
) -> tuple[dict[str, str], str]:
    """
    Codes of some lines of a channel in each of its states, and the state it rests in.

    Lines of one switch know on and off; those of a bridge what its program writes.
    """
    if result.panel is not None:
        places = [n for n, (role, _) in enumerate(lines_of(context)) if role in roles]
        codes = {s: "".join(c[p] for p in places) for s, c in result.panel.codes.items()}
        return codes, result.panel.rest
    if result.motion is None:
        on = "0" if result.drive.active == "low" else "1"
        return {"off": "1" if on == "0" else "0", "on": on}, "off"
    power = result.motion.power
    places = [power.index[role] for role in roles if role in power.index]
    codes: dict[str, str] = {}
    for state, lines in power.program.patterns.items():
        code = "".join(lines[place] for place in places)
        if code not in codes.values():
            codes[state] = code
    return codes, power.program.first


def chain_reports(around: BuildContext, uses: Uses) -> list[ChainReport]:
    """Every chain of a build, in its order."""
    return [_report(chain, uses) for chain in around.chains.values()]


def drawn(around: BuildContext, chains: list[ChainReport]) -> list[tuple[str, str, float]]:
    """
    What chains take of rails, as (rail, name, amperes): of their own, or of the board's feed where
    the board gives them its logic supply.
    """
    feed = around.build.board_feed
    own = [(c.context.rail.id if c.context.rail else feed, c.name, c.draws) for c in chains]
    return [(rail, name, amperes) for rail, name, amperes in own if rail]


def _report(chain: ChainContext, uses: Uses) -> ChainReport:
    w = Working()
    holders: dict[int, list[tuple[str, str, str]]] = {}
    members, outside = [], []
    amperes = Counter[int]()
    for context, result in uses:
        here = lines_on(context, chain.id)
        for number, role in here:
            if number not in chain.numbers:
                outside.append((context.channel.id, f"{chain.id}.{number}"))
                continue
            holders.setdefault(number, []).append((context.channel.id, context.channel.name, role))
            sinks = chain.part.drives == "sinks"
            amperes[number] += result.running if sinks else result.pin_current
        inside = [(n, role) for n, role in here if n in chain.numbers]
        if inside:
            codes, rest = codes_of(context, result, [role for _, role in inside])
            indices = tuple(n for n, _ in inside)
            members.append(Member(context.channel.id, indices, codes, rest))
    farthest = chain.chain.first == "farthest"
    logic = Chain(chain.outputs, tuple(members), chain.chain.base, farthest, chain.chain.data_rests)
    per = chain.part.outputs
    cells = sorted(
        (
            Cell(n, logic.place(n), logic.place(n) // per + 1, tuple(holders.get(n, ())))
            for n in chain.numbers
        ),
        key=lambda cell: cell.place,
    )
    packages = [
        sum(amperes[c.number] for c in cells if c.package == k + 1)
        for k in range(chain.chain.count)
    ]
    given = 0.0 if chain.part.drives == "sinks" else sum(packages)
    draws = w.calc(
        "I_chain",
        "n*I_idle + I_out",
        "A",
        "every output on",
        n=(chain.chain.count, ""),
        I_idle=(chain.part.idle, "A"),
        I_out=(given, "A"),
    )
    report = ChainReport(
        chain, tuple(cells), [], Netlist(), w, packages, draws, _update(chain, w), logic, outside
    )
    _join(report)
    return report


def _update(chain: ChainContext, w: Working) -> float | None:
    """The time of one load of the whole chain, where its clock is stated [s]."""
    if not chain.chain.clock:
        return None
    clock = parse(chain.chain.clock, "Hz")
    if chain.part.bus == "shift":
        return w.calc(
            "t_load",
            "(n + 1)/f_clock",
            "s",
            "every bit, one more for the latch",
            n=(chain.outputs, ""),
            f_clock=(clock, "Hz"),
        )
    one = chain.outputs * 4 if chain.part.steps else chain.outputs / 8
    return w.calc(
        "t_load",
        "9*(2*k + n_bytes)/f_clock",
        "s",
        "address and register of each package, then its data, nine clocks a byte",
        k=(chain.chain.count, ""),
        n_bytes=(one, ""),
        f_clock=(clock, "Hz"),
    )


def _join(report: ChainReport) -> None:
    """Its packages with their supply, capacitors, the pull at what releases them, and its lines."""
    chain, net = report.context, report.netlist
    supply = chain.rail.id if chain.rail else VDD
    ground = "0V"
    shared: dict[str, str] = {}
    for role in chain.roles:
        pin = chain.chain.lines.get(role) or _bus_line(chain, role)
        node = f"{chain.id}.{role.upper()}"
        net.domains[node] = "logic"
        net.add(f"BOARD.{pin or 'pin ?'}", "pin", pin or "no pin yet", chain.id, pin=node)
        shared[role] = node
    if chain.chain.shifter and chain.roles:
        ends = {}
        for role in chain.roles:
            far = f"{chain.id}.{role.upper()}5"
            net.domains[far] = "logic"
            ends |= {f"{role.upper()} in": shared[role], f"{role.upper()} out": far}
            shared[role] = far
        net.domains |= {VDD: "logic", supply: "low"}
        known = {"LOW": VDD} if supply != VDD else {}
        ends |= {"HIGH": supply, "GND": ground} | known
        net.add(f"{chain.id}.A1", "shifter", "level shifter", chain.id, **ends)
    release = chain.part.release
    held = {"high": supply, "low": ground}[chain.part.release_at]
    on = ground if chain.part.release_at == "high" else supply
    net.domains.setdefault(supply, "low" if chain.rail else "logic")
    net.domains.setdefault(ground, "logic")
    serial = shared["data"]
    for n in range(chain.chain.count):
        ends = {"VCC": supply, "GND": ground}
        for role in chain.part.roles[1:]:
            ends[role.upper()] = shared[role]
        if chain.part.bus == "shift":
            ends |= {"SERIAL": serial, "CLEAR": supply}
            serial = f"{chain.id}.NEXT{n + 1}"
            if n + 1 < chain.chain.count:
                net.domains[serial] = "logic"
                ends["SERIAL OUT"] = serial
        else:
            ends["DATA"] = shared["data"]
        if release != "none":
            ends[release.upper()] = shared.get(release, on)
        net.add(f"{chain.id}.U{n + 1}", "chain", chain.part.title, chain.id, **ends)
        net.add(
            f"{chain.id}.C{n + 1}", "capacitor", "100 nF", chain.id, **{"1": supply, "2": ground}
        )
    text = f"{chain.chain.count} × {chain.part.title}"
    report.values.append(Sized("part", "Packages", "U", "", None, text, True))
    if chain.pull is not None:
        code = resistor_code(chain.pull)
        own = chain.chain.enable_pull != "auto"
        title = f"Pull at its {release}, to {'its supply' if held == supply else '0 V'}"
        report.values.append(Sized("enable_pull", title, "R1", "Ω", chain.pull, code, own))
        net.add(f"{chain.id}.R1", "resistor", code, chain.id, **{"1": shared[release], "2": held})


def _bus_line(chain: ChainContext, role: str) -> str | None:
    """The line of a two-wire bus another chain already has."""
    if chain.part.bus != "two_wire" or role not in chain.part.roles:
        return None
    others = (c for c in chain.around.chains.values() if c.part.bus == "two_wire")
    return next((c.chain.lines[role] for c in others if c.chain.lines.get(role)), None)
