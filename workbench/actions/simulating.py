"""What is done at the simulated bench: told, plugged in, probed; a fault hidden, guessed, shown."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any

from django.db import transaction

from latchcore.behaviour.script import ScriptError, value_of
from latchcore.bench.controller import MOST_WORDS, Controller, Kept
from latchcore.bench.hidden import Hidden, hidden_faults, named
from latchcore.bench.rig import Rig
from latchcore.edits import EditError
from latchcore.figures.quantity import QuantityError, parse
from workbench.drawer import meter_at_hand
from workbench.models import Build, SimulatedBench

VOLTS, OHMS, AMPS = "volts", "ohms", "amps"
#: What each costs in effort, as the search for a fault counts it.
EFFORT = {"look": 1, VOLTS: 2, OHMS: 4, AMPS: 4}
#: Lines and readings that are kept.
MOST_SAID, MOST_TAKEN = 60, 200
GROUND = "0 V"


@dataclass
class Standing:
    """What stands on the bench of a build."""

    states: dict[str, str] = field(default_factory=dict)
    powered: bool = True
    limits: dict[str, float] = field(default_factory=dict)
    channel: str = ""
    mode: str = VOLTS
    red: str = ""
    black: str = GROUND
    shows: str = ""
    fault: str = ""
    seed: int = 0
    over: bool = False
    right: bool | None = None
    guess: str = ""
    taken: list[dict[str, Any]] = field(default_factory=list)
    said: list[str] = field(default_factory=list)
    kept: dict[str, Any] = field(default_factory=dict)

    @property
    def effort(self) -> int:
        """What was spent on reading so far."""
        return sum(t["effort"] for t in self.taken)

    @property
    def practising(self) -> bool:
        """Whether a fault is hidden and not found yet."""
        return bool(self.fault) and not self.over


def standing_of(build: Build) -> Standing:
    """What stands there; what is no longer known of an older design is let go."""
    kept = SimulatedBench.objects.filter(build=build).values_list("state", flat=True).first() or {}
    known = {k: v for k, v in kept.items() if k in Standing.__dataclass_fields__}
    return Standing(**known)


def rig_of(build: Build, standing: Standing) -> Rig:
    """The bench as it stands, on the build as it is now."""
    fault: Hidden | None = None
    if standing.fault:
        fault = named(build.around, build.report, standing.fault)
    rig = Rig(build.around, build.report, fault, standing.seed, meter_at_hand())
    for key, state in standing.states.items():
        if state in rig.commands.get(key, ()):
            rig.states[key] = state
    rig.powered = standing.powered
    rails = {rail.id for rail in rig.rails}
    rig.limits = {k: v for k, v in standing.limits.items() if k in rails}
    return rig


def controller_of(standing: Standing, rig: Rig) -> Controller:
    """The board as it stands, its time with it: between what is pressed that stands still."""
    known = {k: v for k, v in standing.kept.items() if k in Kept.__dataclass_fields__}
    return Controller(rig, kept=Kept(**known))


@transaction.atomic
def do(build: Build, what: str, args: dict[str, str]) -> Standing:
    """
    Do one thing at the bench and keep how it stands then.

    Raises
    ------
    EditError
        If there is no such thing, channel, point or fault
    """
    act = ACTS.get(what)
    if act is None:
        raise EditError(f"“{what[:40]}” is nothing that can be done at the bench.")
    standing = standing_of(build)
    rig = rig_of(build, standing)
    act(build, standing, rig, args)
    standing.states, standing.powered = dict(rig.states), rig.powered
    standing.limits = dict(rig.limits)
    standing.said = standing.said[-MOST_SAID:]
    standing.taken = standing.taken[-MOST_TAKEN:]
    SimulatedBench.objects.update_or_create(build=build, defaults={"state": vars(standing)})
    return standing


def chosen_fault(build: Build, wanted: str = "") -> Hidden:
    """
    The fault of that name, or any.

    Raises
    ------
    EditError
        If the build has none of that name, or none at all
    """
    known = hidden_faults(build.around, build.report)
    if not known:
        raise EditError("Nothing of this build can be hidden a fault in yet; add a load first.")
    if not wanted:
        return secrets.choice(known)
    chosen = next((f for f in known if f.id == wanted), None)
    if chosen is None:
        raise EditError(f"The build has no fault called “{wanted[:60]}”.", "fault")
    return chosen


def _line(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """One line to the controller, as typed or as a button says it."""
    line = " ".join(args.get("line", "").split())[:120]
    if not line:
        raise EditError("Nothing was typed; “?” asks for the channels, “words” for what there is.",
                        "line")  # fmt: skip
    controller, full = controller_of(standing, rig), []
    if controller.kept.full:
        rig.all_off()
        controller = Controller(rig)
        full = [f"The board was reset: it keeps {MOST_WORDS} words and a day from power-up on."]
    said = [*full, *controller.does(line)]
    standing.kept = asdict(controller.kept)
    standing.said += [f"> {line}", *said]
    if line.split()[0].lower() == "look":
        _count(standing, "look", "every load", "; ".join(said))


def _input(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Act on an input, or have it read a level."""
    names = {s.key: s for s, _ in controller_of(standing, rig).board.reads()}
    key, typed = args.get("sense", ""), args.get("reads", "").strip()
    if key not in names:
        raise EditError(f"There is no input “{key[:40]}” on the bench.")
    try:
        value_of(names[key].scaled, typed)
    except ScriptError as error:
        raise EditError(str(error), key) from error
    _line(build, standing, rig, {"line": f"input {key} {typed}"})


def _channel(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Lay another channel's drawing out."""
    if args.get("channel") not in rig.told:
        raise EditError(f"There is no channel “{args.get('channel', '')[:40]}” on the bench.")
    standing.channel, standing.red, standing.shows = args["channel"], "", ""


def _probe(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Put both tips down and read."""
    mode = args.get("mode", standing.mode)
    if mode not in (VOLTS, OHMS, AMPS):
        raise EditError(f"The meter has no setting “{mode[:40]}”.", "mode")
    points = rig.points
    red, black = args.get("red", ""), args.get("black", GROUND)
    for tip, point in (("red", red), ("black", black)):
        if mode != AMPS and point not in points:
            raise EditError(f"“{point[:40]}” is no point a probe can be put on.", tip)
    standing.mode, standing.red, standing.black = mode, red, black
    if mode == VOLTS:
        shows = f"{rig.volts(points[red], points[black])} V"
    elif mode == OHMS:
        if rig.powered:
            raise EditError("Ohms only on a dead circuit: turn the supplies off first.", "mode")
        shows = f"{rig.ohms(points[red], points[black])} Ω"
    else:
        rail = next((r.id for r in rig.rails if r.name == red), None)
        if rail is None:
            raise EditError("Milliamperes are read in a supply's lead: put the red tip on a rail.",
                            "red")  # fmt: skip
        shows = rig.read_amps(rail)
    standing.shows = shows
    where = f"in the lead of {red}" if mode == AMPS else f"{red} against {black}"
    told = ", ".join(f"{rig.told[k].letter} {s}" for k, s in rig.states.items() if s != "off")
    _count(standing, mode, f"{where}{f', {told}' if told else ''}", shows)


def _count(standing: Standing, how: str, what: str, shows: str) -> None:
    """Keep a reading, with its effort where a fault is sought."""
    standing.taken.append({"how": how, "what": what, "shows": shows, "effort": EFFORT[how]})


def _look(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Look at the load laid out."""
    key = standing.channel if standing.channel in rig.told else next(iter(rig.told), "")
    if not key:
        raise EditError("Nothing is planned yet; add a load first.")
    found = rig.lit()[key]
    state = rig.states[key]
    standing.shows = found.word
    _count(standing, "look", f"{rig.told[key].name}, told {state}", found.word)


def _limit(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Set a supply's limit, or take it away."""
    rail = args.get("rail", "")
    if rail not in {r.id for r in rig.rails}:
        raise EditError(f"There is no supply “{rail[:40]}” on the bench.", "rail")
    typed = args.get("limit", "").strip()
    if not typed or typed.lower() == "none":
        rig.limits.pop(rail, None)
        return
    try:
        rig.limits[rail] = parse(typed, "A")
    except QuantityError as error:
        raise EditError(str(error), "limit") from error


def _hide(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Hide a fault, any or the one asked for; what was read before counts for nothing."""
    chosen = chosen_fault(build, args.get("fault", ""))
    fresh = Standing(fault=chosen.id, seed=secrets.randbelow(10_000) + 1, channel=standing.channel)
    _become(standing, rig, fresh)


def _sound(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Clear the bench: a sound build, everything off."""
    _become(standing, rig, Standing(channel=standing.channel))


def _become(standing: Standing, rig: Rig, fresh: Standing) -> None:
    vars(standing).update(vars(fresh))
    rig.all_off()
    rig.powered, rig.limits = True, {}


def _guess(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Say what it is; right or wrong, that is the end of it."""
    if not standing.practising:
        raise EditError("No fault is hidden; hide one first.")
    said = args.get("guess", "")
    if named(build.around, build.report, said) is None:
        raise EditError("Choose what it is from the list.", "guess")
    standing.guess, standing.over, standing.right = said, True, said == standing.fault


def _show(build: Build, standing: Standing, rig: Rig, args: dict[str, str]) -> None:
    """Give up: the fault is shown."""
    if not standing.practising:
        raise EditError("No fault is hidden; hide one first.")
    standing.over, standing.right = True, None


ACTS: dict[str, Callable[[Build, Standing, Rig, dict[str, str]], None]] = {
    "line": _line,
    "input": _input,
    "channel": _channel,
    "probe": _probe,
    "look": _look,
    "limit": _limit,
    "hide": _hide,
    "sound": _sound,
    "guess": _guess,
    "show": _show,
}
