"""Edits of chains: lines beside the board's own."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.catalogue.chain_records import ChainPart
from latchcore.design.context import BuildContext
from latchcore.design.kinds import roles_of
from latchcore.document.chains import Chain, part_of
from latchcore.document.models import MOST_OF_A_KIND, Build, Channel
from latchcore.edits.registry import EditError, edit, next_id, own, reread, the_rail, validated
from latchcore.figures.quantity import parse, show
from latchcore.figures.typed import quoted
from latchcore.whole.pinning import assign, demands

CHAIN_FIELDS = tuple(n for n in Chain.model_fields if n not in ("id", "lines"))
YES = ("shifter", "compared")


def the_chain(build: Build, chain: str) -> Chain:
    """The chain of that id, one that may be changed, or an error that says it is gone."""
    found = build.chain(chain)
    if found is None:
        raise EditError(
            "That chain is no longer in the build; it was removed, perhaps in another tab."
        )
    return own(build, found)


def _the_part(build: Build, part: str) -> ChainPart:
    found = BuildContext(build, in_use()).part(part)
    if not isinstance(found, ChainPart):
        known = ", ".join(p.id for p in BuildContext(build, in_use()).family("chain"))
        raise EditError(f"{quoted(part)} gives no lines; expected one of {known}.", "part")
    return found


def _of(build: Build, chain: str) -> list[tuple[Channel, str, int]]:
    """Lines of channels on a chain: channel, role (empty for its own pin), number."""
    found = []
    for channel in build.channels:
        for role, line in (("", channel.pin), *channel.lines.items()):
            at = part_of(line) if line else None
            if at is not None and at[0] == chain:
                found.append((channel, role, at[1]))
    return found


def _move(build: Build, channel: Channel, role: str, line: str | None) -> None:
    held = own(build, build.channel(channel.id) or channel)
    if not role:
        held.pin = line
        return
    rest = {r: at for r, at in held.lines.items() if r != role}
    held.lines = rest | ({role: line} if line else {})


def fill_board_lines(build: Build) -> None:
    """Give each role of every chain that has none a free line of the board, while there are any."""
    around = BuildContext(build, in_use())
    if around.board is None:
        return
    wanted = demands(build, around)
    plan = assign(around.deck, wanted, keep=True)
    for chain in list(build.chains):
        lines = {
            d.key.partition(".")[2]: pin
            for d in wanted
            if d.key.startswith(f"{chain.id}.") and (pin := plan.pins.get(d.key))
        }
        if lines != chain.lines:
            own(build, chain).lines = lines


def _usual_rail(build: Build, part: ChainPart) -> str | None:
    """
    A rail that suits a part where the board's own supply does not: one that dies with the board
    first.
    """
    around = BuildContext(build, in_use())
    if around.board is None:
        return None

    def suits(volts) -> bool:
        return part.supply.min <= volts.min and volts.max <= part.supply.max

    if suits(around.board.logic):
        return None
    fit = [
        r
        for r in build.rails
        if not around.alternating(r) and around.return_of(r) == "0V" and suits(around.rail_volts(r))
    ]
    fit.sort(key=lambda r: not around.dies_with_board(r))
    return fit[0].id if fit else None


@edit
def add_chain(build: Build, part: str, count: str = "1", name: str = "", channels: str = "") -> str:
    """
    A chain of packages that gives lines beside the board's; it takes free lines of the board for
    itself and hangs on what suits it. ``channels`` move to it, by their ids with commas between.
    """
    if len(build.chains) >= MOST_OF_A_KIND:
        raise EditError(f"A build holds up to {MOST_OF_A_KIND} chains.")
    found = _the_part(build, part)
    key = next_id(build, "chain")
    usual = {"shift": "Registers", "two_wire": "Expander" if not found.steps else "Pulse driver"}
    given = name.strip() or f"{usual[found.bus]} {len(build.chains) + 1}"
    data = {
        "id": key,
        "name": given,
        "part": part,
        "count": count.strip() or "1",
        "rail": _usual_rail(build, found),
    }
    build.chains.append(validated(Chain, data))
    if BuildContext(build, in_use()).board is not None:
        needs = BuildContext(build, in_use()).chains[key]
        board = BuildContext(build, in_use()).board
        # A level the part does not surely read, or may not bear, is shifted from the beginning.
        bears = board.logic.max + board.over_supply
        if board.voh_noload_min < needs.reads_high or needs.supply.max > bears:
            own(build, build.chains[-1]).shifter = True
    moved = f"; {move_to_chain(build, key, channels)}" if channels else ""
    fill_board_lines(build)
    outputs = found.outputs * build.chains[-1].count
    return f"{given}: {outputs} lines {key}.0 to {key}.{outputs - 1}{moved}"


@edit
def set_chain(build: Build, chain: str, **fields: str) -> str:
    """
    Say any field of a chain; channels keep their places where the numbering changes, and lines that
    fall off its end are let go.
    """
    found = the_chain(build, chain)
    if unknown := set(fields) - set(CHAIN_FIELDS):
        raise EditError(
            f"A chain has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(CHAIN_FIELDS)}."
        )
    given: dict[str, object] = {key: value.strip() for key, value in fields.items()}
    part = _the_part(build, str(given.get("part") or found.part))
    if given.get("rail"):
        the_rail(build, str(given["rail"]))
    for key in YES:
        if key in given:
            given[key] = str(given[key]).split(",")[-1] == "yes"
    for key, usual in (("enable_pull", "auto"), ("note", "")):
        if given.get(key) == "":
            given[key] = usual
    if given.get("base") in ("0", "1"):
        given["base"] = int(str(given["base"]))
    clock = str(given.get("clock", found.clock) or "")
    before = found.base
    reread(found, Chain, **{k: (v if v != "" or k == "note" else None) for k, v in given.items()})
    if clock and parse(clock, "Hz") > part.clock_most:
        raise EditError(
            f"A clock of {clock} is over what a {part.title} reads; expected up to"
            f" {show(part.clock_most, 'Hz')}.",
            "clock",
        )
    lost = _renumber(build, chain, found.base - before, part.outputs * found.count)
    fill_board_lines(build)
    said = ", ".join(key.replace("_", " ") for key in fields)
    return f"{found.name}: {said or 'nothing changed'}" + (f"; let go {lost}" if lost else "")


def _renumber(build: Build, chain: str, step: int, outputs: int) -> str:
    """Keep every line at its place after the numbering changed; says which fell off the end."""
    base = build.chain(chain).base
    lost = []
    for channel, role, number in _of(build, chain):
        there = number + step
        if there >= base + outputs:
            lost.append(f"{channel.name}{', ' + role if role else ''}")
            _move(build, channel, role, None)
        elif step:
            _move(build, channel, role, f"{chain}.{there}")
    return "; ".join(lost)


@edit
def remove_chain(build: Build, chain: str) -> str:
    """Take a chain away; what hung on its lines is on none."""
    found = the_chain(build, chain)
    for channel, role, _ in _of(build, chain):
        _move(build, channel, role, None)
    build.chains.remove(found)
    fill_board_lines(build)
    return f"removed {found.name}"


@edit
def move_to_chain(build: Build, chain: str, channels: str) -> str:
    """Move channels, by their ids with commas between, to the free outputs of a chain."""
    found = the_chain(build, chain)
    around = BuildContext(build, in_use())
    context = around.chains.get(found.id)
    if context is None or around.board is None:
        raise EditError("Choose a board first; a chain is told by it.", "chain")
    taken = {number for _, _, number in _of(build, chain)}
    free = [n for n in context.numbers if n not in taken]
    moved = 0
    for name in [x for x in channels.split(",") if x]:
        channel = build.channel(name)
        if channel is None:
            raise EditError(f"{quoted(name)} is no channel of this build.", "channels")
        roles = ["", *roles_of(around.channel(channel))[1:]]
        if len(roles) > len(free):
            raise EditError(
                f"{found.name} has {len(free)} outputs free; {channel.name} wants {len(roles)}.",
                "channels",
            )
        for role in roles:
            _move(build, channel, role, f"{chain}.{free.pop(0)}")
            moved += 1
        own(build, build.channel(name)).moves_with = None
    return f"{moved} line{'s' * (moved != 1)} moved to {found.name}"
