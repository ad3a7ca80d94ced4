"""Edits of which line goes where."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue import in_use
from latchcore.catalogue.records import Board, Pin
from latchcore.design.context import BuildContext
from latchcore.design.kinds import roles_of
from latchcore.document.models import Build, Channel
from latchcore.edits.rails import set_rail
from latchcore.edits.registry import EditError, edit, own, the_channel
from latchcore.whole.pinning import Demand, assign, demands, refusal, side_of


def follow(build: Build) -> None:
    """Put every channel that moves with another on that one's pin."""
    for channel in list(build.channels):
        if channel.moves_with is None:
            continue
        head = build.channel(channel.moves_with)
        if head is None or head.id == channel.id or head.moves_with:
            own(build, channel).moves_with = None
        elif channel.pin != head.pin:
            own(build, channel).pin = head.pin


def _put(build: Build, key: str, pin: str | None) -> None:
    name, _, second = key.partition(".")
    channel = build.channel(name)
    if channel is not None and second:
        held = own(build, channel)
        rest = {role: line for role, line in held.lines.items() if role != second}
        held.lines = rest | ({second: pin} if pin else {})
        return
    chain = build.chain(name)
    if chain is not None:
        mine = own(build, chain)
        mine.lines = {r: at for r, at in mine.lines.items() if r != second} | (
            {second: pin} if pin else {}
        )
        return
    item = own(build, channel or build.sense(name))
    setattr(item, "pin_two" if second else "pin", pin)


def _roles(build: Build, channel: Channel) -> tuple[str, ...]:
    return roles_of(BuildContext(build, in_use()).channel(channel))


def _around(build: Build) -> BuildContext:
    around = BuildContext(build, in_use())
    if around.board is None:
        raise EditError("Choose a board first; pins are the board's.", "pin")
    return around


def the_line(around: BuildContext, pin: str) -> Pin:
    """The line of that name, of the board or of a chain, or an error that says what there is."""
    if around.board is None:
        raise EditError("Choose a board first; pins are the board's.", "pin")
    found = around.line(pin)
    if found is None:
        beside = "".join(
            f", or {c.id}.{c.numbers[0]} to {c.id}.{c.numbers[-1]} of {c.chain.name}"
            for c in around.chains.values()
        )
        raise EditError(
            f"“{pin}” is no pin of this board; expected one of"
            f" {', '.join(p.id for p in around.board.pins)}{beside}.",
            "pin",
        )
    return found


def _demand(wanted: list[Demand], what: str) -> Demand:
    found = next((d for d in wanted if d.key == what), None)
    if found is None:
        raise EditError(
            "That line is no longer in the build; it was removed, or shares the pin of another"
            " channel."
        )
    return found


@edit
def place_pin(build: Build, what: str, pin: str = "") -> str:
    """
    Put a channel or input (``.2`` for its second line) on a pin; whoever holds the pin takes the
    one that becomes free.
    """
    around = _around(build)
    wanted = demands(build, around)
    mine = _demand(wanted, what)
    if mine.locked and pin != (mine.pin or ""):
        raise EditError(f"{mine.name} is locked on {mine.pin}; unlock it first.", "pin")
    if not pin:
        _put(build, what, None)
        follow(build)
        return f"{mine.name} on no pin"
    target = the_line(around, pin)
    if (why := refusal(mine, target)) is not None:
        raise EditError(f"{mine.name} wants {mine.words}; {pin} {why}.", "pin")
    other = next((d for d in wanted if d.pin == pin and d.key != what), None)
    _put(build, what, pin)
    says = f"{mine.name} on {pin}"
    if other is not None:
        if other.locked:
            raise EditError(f"{other.name} is locked on {pin}; unlock it first.", "pin")
        old = around.line(mine.pin)
        if old is not None and (why := refusal(other, old)) is not None:
            raise EditError(
                f"{other.name} would go to {old.id}, and wants {other.words}; {old.id} {why}.",
                "pin",
            )
        _put(build, other.key, mine.pin)
        says += f", {other.name} on {mine.pin or 'no pin'}"
    follow(build)
    return says


@edit
def lock_pin(build: Build, what: str, locked: str = "yes") -> str:
    """Keep a channel or input on its pin whatever is assigned, or let it go."""
    item = build.channel(what) or build.sense(what)
    if item is None:
        raise EditError(
            "That line is no longer in the build; it was removed, perhaps in another tab."
        )
    if locked == "yes" and item.pin is None:
        raise EditError(f"{item.name} is on no pin; put it on one first.", "pin")
    item = own(build, item)
    item.pin_locked = locked == "yes"
    return f"{item.name} {'locked on' if item.pin_locked else 'free to leave'} {item.pin}"


@edit
def assign_pins(build: Build, scope: str = "missing") -> str:
    """
    Give every line a pin: those that have none (``missing``), or all that are not locked (``all``).
    """
    if scope not in ("missing", "all"):
        raise EditError(f"“{scope}” is not understood; expected missing or all.", "scope")
    around = _around(build)
    wanted = demands(build, around)
    plan = assign(around.deck, wanted, keep=scope == "missing")
    if scope == "all" and build.chains:
        # Who hangs on the board stays there, and who on a chain on that one, where that serves all:
        # other levels and limits are another stage.
        sided = [replace(d, side=side_of(d.pin or "")) for d in wanted]
        apart = assign(around.deck, sided)
        if apart.refused:
            apart = assign(around.deck, wanted, begin=apart.pins)
        plan = plan if len(plan.refused) < len(apart.refused) else apart
    if plan.refused and scope == "missing":
        # What is held may stand in the way; where moving it serves more, it is moved.
        freer = assign(around.deck, wanted)
        plan = freer if len(freer.refused) < len(plan.refused) else plan
    moved = sum(plan.pins.get(d.key) != d.pin for d in wanted)
    for d in wanted:
        if plan.pins.get(d.key) != d.pin:
            _put(build, d.key, plan.pins.get(d.key))
    follow(build)
    says = f"{moved} line{'s' * (moved != 1)} placed" if moved else "nothing moved"
    names = {d.key: d.name for d in wanted}
    return says + "".join(
        f"; {names[key]} got none: {why}" for key, why in list(plan.refused.items())[:3]
    )


@edit
def move_together(build: Build, channel: str, lead: str = "") -> str:
    """Let a channel share the pin of another on purpose, or have one of its own again."""
    found = the_channel(build, channel)
    if not lead:
        found.moves_with, found.pin = None, None
        return f"{found.name} wants a pin of its own"
    head = the_channel(build, lead)
    if head.id == found.id or head.moves_with:
        raise EditError(
            f"{found.name} cannot move with {head.name}; expected a channel with a pin of its own.",
            "lead",
        )
    if any(len(_roles(build, c)) > 1 for c in (found, head)):
        raise EditError(
            f"{found.name} cannot move with {head.name}: a stage of several lines has them alone.",
            "lead",
        )
    for other in list(build.channels):
        if other.moves_with == found.id:
            own(build, other).moves_with = head.id
    found.moves_with, found.pin_locked = head.id, False
    follow(build)
    return f"{found.name} moves with {head.name}"


@edit
def move_to_board(build: Build, board: str) -> str:
    """Put the build on another board and give every line a pin there."""
    target = BuildContext(build, in_use()).part(board)
    if not isinstance(target, Board):
        raise EditError(f"“{board}” is no board that is known.", "board")
    build.board = board
    for item in (*build.channels, *build.inputs):
        if item.pin_locked:
            own(build, item).pin_locked = False
    return f"on the {target.title}: {assign_pins(build, 'all')}"


@edit
def take_variant(build: Build, board: str = "", rail: str = "", voltage: str = "") -> str:
    """Take another board, with every line placed anew, or another voltage of one rail, or both."""
    says = []
    if rail or voltage:
        if not (rail and voltage.strip()):
            raise EditError(
                "A variant of a rail wants both the rail and its voltage, such as “24 V”.",
                "voltage",
            )
        says.append(set_rail(build, rail, voltage=voltage.strip()))
    if board and board != build.board:
        says.append(move_to_board(build, board))
    if not says:
        raise EditError(
            "Nothing would change; choose another board, or a rail and another voltage.", "board"
        )
    return "; ".join(says)
