"""Mapping a keypad: read against earth, split, tried pair by pair; its buttons become channels."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, field

from django.db import transaction

from latchcore.document.machines import Machine
from latchcore.edits import EditError
from latchcore.figures.typed import can_be_kept, in_one_line, quoted, whole
from latchcore.procedure.judging import ReadingError, volts_typed
from latchcore.procedure.mapping import (
    MOST_CONDUCTORS,
    MappingError,
    Pair,
    Precondition,
    may_be_mapped,
    pair_of,
)
from workbench.actions.editing import edit_build
from workbench.models import Build, KeypadMap

Args = dict[str, str]
#: What a pair did is told in so many letters; a button without a name is called by its pair.
MOST_WORDS = 60


@dataclass
class Keypad:
    """What is known of one keypad; pairs are kept by “lower-higher”."""

    conductors: int = 8
    disabled: bool = False
    to_earth: dict[str, float] = field(default_factory=dict)
    matter: list[int] = field(default_factory=list)
    tried: dict[str, dict[str, str]] = field(default_factory=dict)
    made: int = 0

    @property
    def pairs(self) -> dict[Pair, bool]:
        """Pairs that were tried, and whether they did something."""
        found = {}
        for key, what in self.tried.items():
            one, _, other = key.partition("-")
            found[int(one), int(other)] = bool(what.get("effect"))
        return found

    @property
    def left(self) -> list[int]:
        """Conductors that still matter."""
        return self.matter or list(range(1, self.conductors + 1))


def machine_of(build: Build, key: str) -> Machine:
    """The machine of that id; raises :class:`EditError`."""
    found = next((m for m in build.document.machines if m.id == key), None)
    if found is None:
        raise EditError("That machine is no longer in the build.")
    return found


def keypad_of(build: Build, machine: str) -> Keypad:
    """What is kept of a machine's keypad, or a fresh one."""
    kept = build.keypads.filter(machine=machine).values_list("state", flat=True).first() or {}
    known = {k: v for k, v in kept.items() if k in Keypad.__dataclass_fields__}
    return Keypad(**known)


def precondition_of(machine: Machine, keypad: Keypad) -> Precondition:
    """Whether pairs may be tried, and how."""
    to_earth = {int(n): volts for n, volts in keypad.to_earth.items()}
    return may_be_mapped(
        machine.button.supply, machine.stores_high_voltage, to_earth, keypad.conductors
    )


@transaction.atomic
def do(build: Build, key: str, what: str, args: Args, version: int) -> Keypad:
    """
    Do one thing to a keypad's map and keep it.

    Raises
    ------
    EditError
        If there is no such thing or machine, or what was typed is none
    """
    act = ACTS.get(what)
    if act is None:
        raise EditError(f"“{what[:40]}” is nothing that can be done here.")
    machine, keypad = machine_of(build, key), keypad_of(build, key)
    try:
        act(machine, keypad, args)
    except MappingError as error:
        raise EditError(str(error), "one") from error
    if what == "make":
        names, holds, gaps = buttons_of(keypad)
        edit_build(build, "add_buttons", {
            "voltage": args.get("voltage", ""), "figure": args.get("figure", ""),
            "names": "\n".join(names), "holds": "\n".join(holds), "gaps": "\n".join(gaps),
        }, version)  # fmt: skip
        keypad.made = len(names)
    KeypadMap.objects.update_or_create(build=build, machine=key, defaults={"state": asdict(keypad)})
    return keypad


def buttons_of(keypad: Keypad) -> tuple[list[str], list[str], list[str]]:
    """Names, press times and gaps of the pairs that did something."""
    hits = [(key, told) for key, told in keypad.tried.items() if told.get("effect")]
    names = [f"{told['effect']} ({key})"[:60] for key, told in hits]
    return names, [t.get("hold", "") for _, t in hits], [t.get("gap", "") for _, t in hits]


def _size(machine: Machine, keypad: Keypad, args: Args) -> None:
    """How many conductors, and what each reads against protective earth."""
    many = whole(args.get("conductors", ""), 2, MOST_CONDUCTORS)
    if many is None:
        raise EditError(
            f"{quoted(args.get('conductors', ''))} is no count; expected 2 to {MOST_CONDUCTORS}.",
            "conductors",
        )
    read: dict[str, float] = {}
    for n, typed in enumerate(args.get("to_earth", "").replace(";", " ").split(), 1):
        try:
            read[str(n)] = volts_typed(typed)
        except ReadingError as error:
            raise EditError(f"Conductor {n}: {error}", "to_earth") from error
    if len(read) > many:
        raise EditError(f"{len(read)} readings for {many} conductors.", "to_earth")
    lost = [key for key in keypad.tried if int(key.partition("-")[2]) > many]
    if lost:
        raise EditError(f"Pair {lost[0]} was tried already; it has no place among {many}.",
                        "conductors")  # fmt: skip
    keypad.conductors, keypad.to_earth = many, read
    keypad.disabled = args.get("disabled") == "yes"
    keypad.matter = [n for n in keypad.matter if n <= many]


def _half(machine: Machine, keypad: Keypad, args: Args) -> None:
    """Only one half matters; or all of them again."""
    typed = args.get("matter", "").replace(",", " ").split()
    numbers = [whole(n, 1, keypad.conductors) for n in typed]
    if any(n is None for n in numbers) or len(set(numbers)) == 1:
        raise EditError(f"{quoted(args.get('matter', ''))} is no half of the conductors.", "matter")
    keypad.matter = sorted({n for n in numbers if n is not None})


def _try(machine: Machine, keypad: Keypad, args: Args) -> None:
    """A pair with what it did; nothing, or the name of what happened."""
    may = precondition_of(machine, keypad)
    if may.way == "never":
        raise EditError(f"Not yet: {may.why}")
    if not keypad.disabled:
        raise EditError("Not yet: the load part of the machine is disabled first, and that is said"
                        " above.")  # fmt: skip
    numbers = [whole(args.get(n, ""), 1, 10_000) or 0 for n in ("one", "other")]
    one, other = pair_of(numbers[0], numbers[1], keypad.conductors)
    effect = "" if args.get("nothing") else in_one_line(args.get("effect", "")).strip()[:MOST_WORDS]
    if not args.get("nothing") and not effect:
        raise EditError("What did it do? A name of the button, or “nothing”.", "effect")
    if effect and not can_be_kept(effect):
        raise EditError("It holds a character that cannot be shown; expected plain text.", "effect")
    told = {"effect": effect, "hold": args.get("hold", "").strip()[:20],
            "gap": args.get("gap", "").strip()[:20]}  # fmt: skip
    keypad.tried[f"{one}-{other}"] = told


def _forget(machine: Machine, keypad: Keypad, args: Args) -> None:
    """Take a pair back; it may be tried again."""
    if keypad.tried.pop(args.get("pair", ""), None) is None:
        raise EditError("That pair was not tried.")


def _make(machine: Machine, keypad: Keypad, args: Args) -> None:
    """Channels and a row of presses; confirmed first, for buttons may heat or move something."""
    if not any(keypad.pairs.values()):
        raise EditError("No pair has done anything yet.")
    if args.get("sure") != "yes":
        raise EditError("A press may heat or move something: say that somebody stands by.", "sure")


ACTS: dict[str, Callable[[Machine, Keypad, Args], None]] = {
    "size": _size,
    "half": _half,
    "try": _try,
    "forget": _forget,
    "make": _make,
}
