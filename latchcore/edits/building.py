"""Edits of what holds for the whole build."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.catalogue.records import Board
from latchcore.design.context import BuildContext
from latchcore.document.chains import part_of
from latchcore.document.models import Build
from latchcore.edits.registry import EditError, edit, own, reread, the_rail

WORDS = {
    "note": "note",
    "region": "region",
    "ambient": "ambient",
    "inside": "inside the box",
    "place": "place",
    "school": "school of sizing",
    "series": "resistor series",
    "prefer_stock": "stock preferred:",
}


@edit
def rename_build(build: Build, name: str) -> str:
    """Give the build another name."""
    reread(build, Build, name=name.strip())
    return f"renamed to {build.name}"


@edit
def set_conditions(build: Build, **fields: str) -> str:
    """
    Set any of note, region, ambient, what is measured inside the box, place, school, series and
    whether stock is preferred.
    """
    unknown = set(fields) - set(WORDS)
    if unknown:
        raise EditError(
            f"A build has no “{', '.join(sorted(unknown))}”; expected any of {', '.join(WORDS)}."
        )
    if "region" in fields and fields["region"] not in in_use().regions:
        raise EditError(
            f"“{fields['region']}” is no region that ships; expected one of"
            f" {', '.join(in_use().regions)}.",
            "region",
        )
    if "prefer_stock" in fields:
        fields["prefer_stock"] = fields["prefer_stock"] == "yes"
    changed = [key for key, value in fields.items() if (getattr(build, key) or "") != (value or "")]
    for key, value in fields.items():
        if value == "" and key not in ("note", "inside"):
            raise EditError("Nothing was typed; expected for instance “30 °C”.", key)
        data = build.model_dump() | {key: None if key == "inside" and value == "" else value}
        setattr(build, key, getattr(Build.model_validate(data), key))
    return ", ".join(_said(build, key) for key in changed) or "nothing changed"


def _said(build: Build, key: str) -> str:
    if key == "note":
        return "note"
    return (
        f"{WORDS[key]} {'yes' if build.prefer_stock else 'no'}"
        if key == "prefer_stock"
        else f"{WORDS[key]} {getattr(build, key) or 'not measured'}"
    )


@edit
def set_watchdog(build: Build, watchdog: str = "") -> str:
    """
    Say whether a watchdog releases the outputs when the program hangs; empty while it is not known.
    """
    if watchdog not in ("yes", "no", ""):
        raise EditError(
            f"“{watchdog}” is no answer; expected yes, no, or nothing while it is not known.",
            "watchdog",
        )
    build.watchdog = watchdog or None
    return f"watchdog: {watchdog or 'not stated'}"


@edit
def state_discipline(build: Build, **facts: str) -> str:
    """State facts of the mains discipline: yes, no, or empty where it is not known."""
    known = in_use().discipline
    for key, value in facts.items():
        if key not in known:
            raise EditError(
                f"“{key}” is no fact that is asked for; expected any of {', '.join(known)}."
            )
        if value not in ("yes", "no", ""):
            raise EditError(
                f"“{value}” is no answer; expected yes, no, or nothing while it is not known.", key
            )
        if value:
            build.discipline[key] = value
        else:
            build.discipline.pop(key, None)
    return f"mains: {sum(v == 'yes' for v in build.discipline.values())} of {len(known)} facts hold"


@edit
def set_board(build: Build, board: str) -> str:
    """
    Choose the board; pins it does not have are let go, so that nothing hangs on a line of another
    board.
    """
    if board == "":
        build.board = None
        return "no board"
    found = BuildContext(build, in_use()).part(board)
    if not isinstance(found, Board):
        raise EditError(f"“{board}” is no board that is known here.", "board")
    build.board = board
    lost = [*_let_go(build, found), *_inputs_let_go(build, found)]
    return f"board: {found.title}" + (f"; let go {', '.join(lost)}" if lost else "")


def _gone(build: Build, board: Board, line: str) -> bool:
    """Whether a line is none of a board, and none of a chain either."""
    named = part_of(line)
    return board.pin(line) is None and (named is None or build.chain(named[0]) is None)


def _let_go(build: Build, found: Board) -> list[str]:
    """Let channels and chains go of lines a board does not have; says which."""
    lost = []
    for channel in list(build.channels):
        if channel.pin and _gone(build, found, channel.pin):
            lost.append(f"{channel.name} from {channel.pin}")
            own(build, channel).pin = None
        gone = [role for role, line in channel.lines.items() if _gone(build, found, line)]
        if gone:
            held = own(build, build.channel(channel.id) or channel)
            held.lines = {role: line for role, line in held.lines.items() if role not in gone}
            lost += [f"{channel.name}, {role}" for role in gone]
    for chain in list(build.chains):
        gone = [role for role, line in chain.lines.items() if found.pin(line) is None]
        if gone:
            held = own(build, chain)
            held.lines = {role: at for role, at in chain.lines.items() if role not in gone}
            lost += [f"{chain.name}, {role}" for role in gone]
    return lost


def _inputs_let_go(build: Build, found: Board) -> list[str]:
    """Let inputs go of lines a board does not have; says which."""
    lost = []
    for item in list(build.inputs):
        for name in ("pin", "pin_two"):
            if getattr(item, name) and found.pin(getattr(item, name)) is None:
                lost.append(f"{item.name} from {getattr(item, name)}")
                setattr(own(build, build.sense(item.id)), name, None)
    return lost


@edit
def set_board_feed(build: Build, rail: str) -> str:
    """Say which rail feeds the board."""
    if rail == "":
        build.board_feed = None
        return "board feed not stated"
    build.board_feed = the_rail(build, rail).id
    return f"board fed from {the_rail(build, rail).name}"
