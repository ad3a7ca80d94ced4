"""The log of a build: entries are added, corrected by another, never overwritten."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from latchcore.edits import EditError
from latchcore.figures.quantity import QuantityError, parse, plain_number
from latchcore.figures.typed import can_be_kept, quoted, whole
from latchcore.formats.machinelog import (
    MachineEvent,
    MachineLogError,
    counted,
    read_machine_log,
)
from workbench.actions import stocking
from workbench.actions.photos import made_small
from workbench.models import Build, LogEntry, LogPhoto, MachineCount, OwnCheck

#: The longest of what is said in words, of a line, and of text from a console.
MOST_WORDS, MOST_LINE, MOST_CONSOLE = 4000, 300, 20_000
#: An incident's questions, by what they are kept as.
INCIDENT = {
    "why": "why it happened",
    "replaced": "what replaced it",
    "prevents": "what now prevents it",
}
#: Rows that are written at a time.
BATCH = 2000
#: Own checks of one build, or of any, that are kept.
MOST_CHECKS = 200

Args = dict[str, str]


@transaction.atomic
def add(build: Build, args: Args, photo: Any = None) -> LogEntry:
    """
    Add an entry of any kind.

    Raises
    ------
    EditError
        If its kind is not known, or something it needs is missing or wrong
    """
    kind = args.get("kind", "note")
    maker = MAKERS.get(kind)
    if maker is None:
        raise EditError(f"{quoted(kind)} is no kind of entry; expected one of {', '.join(MAKERS)}.",
                        "kind")  # fmt: skip
    words, figures = maker(build, args)
    entry = LogEntry.objects.create(
        build=build, revision=build.head.number, channel=channel_of(build, args.get("channel", "")),
        station=args.get("station", "")[:20], kind=kind, words=words, figures=figures,
        at=time_of(args.get("at", "")),
    )  # fmt: skip
    if photo is not None:
        image, width, height = made_small(photo)
        LogPhoto.objects.create(entry=entry, image=image, width=width, height=height)
    return entry


def channel_of(build: Build, key: str) -> str:
    """A channel's id, or nothing; raises :class:`EditError` where there is none of that id."""
    if key and build.document.channel(key) is None:
        raise EditError(f"The build has no channel {quoted(key)}.", "channel")
    return key


def time_of(typed: str) -> datetime:
    """When it was; now where nothing is said. No entry is of tomorrow."""
    if not typed.strip():
        return timezone.now()
    try:
        at = datetime.fromisoformat(typed.strip())
    except ValueError as error:
        raise EditError(
            f"{quoted(typed)} is no time; expected such as 2026-11-28T18:30, or nothing for now.",
            "at",
        ) from error
    at = at if at.tzinfo else at.replace(tzinfo=UTC)
    if at > timezone.now():
        raise EditError(f"{quoted(typed)} has not been yet; the log is of what was.", "at")
    return at


def _said(args: Args, field: str, most: int, what: str) -> str:
    text = args.get(field, "").replace("\r\n", "\n").strip()
    if not text:
        raise EditError(f"Nothing was written; expected {what}.", field)
    if len(text) > most:
        raise EditError(f"It has {len(text)} letters; up to {most} are kept.", field)
    if not can_be_kept(text, lines=True):
        raise EditError("It holds a character that cannot be shown; expected plain text.", field)
    return text


def _words(build: Build, args: Args) -> tuple[str, dict]:
    return _said(args, "words", MOST_WORDS, "what is to be remembered"), {}


def _console(build: Build, args: Args) -> tuple[str, dict]:
    return _said(args, "words", MOST_CONSOLE, "the text as it stood on the console"), {}


def _reading(build: Build, args: Args) -> tuple[str, dict]:
    typed = _said(args, "typed", 60, "a reading as it stood on the meter, such as “0.74”")
    between = args.get("between", "").strip()[:MOST_LINE]
    words = " ".join(w for w in (between, typed, args.get("words", "").strip()[:MOST_WORDS]) if w)
    return words, {"typed": typed, "between": between}


def _incident(build: Build, args: Args) -> tuple[str, dict]:
    words = _said(args, "words", MOST_WORDS, "what happened")
    told = {name: args.get(name, "").strip()[:MOST_WORDS] for name in INCIDENT}
    return words, {name: text for name, text in told.items() if text}


def _contact(build: Build, args: Args) -> tuple[str, dict]:
    """Counters of a contact, and what it measures closed."""
    if not args.get("channel"):
        raise EditError("Which contact is it? Choose its channel.", "channel")
    figures: dict[str, float] = {}
    for name in ("hours", "cycles"):
        typed = args.get(name, "").strip()
        if typed:
            number = plain_number(typed)
            if number is None or not 0 <= number <= 1e9:
                raise EditError(f"{quoted(typed)} is no number of {name}.", name)
            figures[name] = number
    typed = args.get("ohms", "").strip()
    if typed:
        try:
            figures["ohms"] = parse(typed, "Ω", allow_zero=True)
        except QuantityError as error:
            raise EditError(str(error), "ohms") from error
    if not figures:
        raise EditError("Nothing was read; expected hours, cycles or a resistance.", "ohms")
    said = [f"{figures['hours']:g} h" if "hours" in figures else "",
            f"{figures['cycles']:g} cycles" if "cycles" in figures else "",
            f"closed {typed}" if "ohms" in figures else ""]  # fmt: skip
    return ", ".join(s for s in said if s), figures


def _part(build: Build, args: Args) -> tuple[str, dict]:
    """A part that was used: it is taken from the drawer, and never more than lies there."""
    part = stocking.the_part(args.get("part", ""))
    many = whole(args.get("many", "1") or "1", 1, 10_000)
    if many is None:
        raise EditError(f"{quoted(args.get('many', ''))} is no count; expected a whole number.",
                        "many")  # fmt: skip
    if many > part.quantity:
        raise EditError(
            f"{part.quantity} × {part.title} lie in the drawer, and {many} were used: count them"
            " first.",
            "many",
        )
    stocking.change(part, part.version, f"{many} × {part.title} used in {build.name}",
                    quantity=part.quantity - many)  # fmt: skip
    why = args.get("words", "").strip()[:MOST_WORDS]
    words = f"{many} × {part.title}{f': {why}' if why else ''}; {part.quantity - many} left"
    return words, {"part": part.key, "many": many}


MAKERS: dict[str, Callable[[Build, Args], tuple[str, dict]]] = {
    "note": _words,
    "reading": _reading,
    "change": _words,
    "rework": _words,
    "incident": _incident,
    "contact": _contact,
    "part": _part,
    "console": _console,
}


@transaction.atomic
def correct(build: Build, number: str, args: Args) -> LogEntry:
    """
    Put an entry right by another that names it; the first stays as it was.

    Raises
    ------
    EditError
        If there is no such entry, it is a machine's, or nothing was written
    """
    entry = build.log.filter(pk=whole(number, 1, 2**62) or 0).first()
    if entry is None:
        raise EditError("That entry is not in the log of this build.")
    if entry.machine:
        raise EditError("What a machine wrote down is kept as it came; add a note beside it.")
    words = _said(args, "words", MOST_WORDS, "what is right")
    return LogEntry.objects.create(
        build=build, revision=build.head.number, channel=entry.channel, station=entry.station,
        kind=entry.kind, words=words, corrects=entry,
    )  # fmt: skip


@transaction.atomic
def take_in(build: Build, upload: Any) -> int:
    """
    Take in the events of a machine, all of them or none, apart from what people say; returns how
    many were new.

    Raises
    ------
    EditError
        If it is no such table
    """
    if upload is None:
        raise EditError(
            "No file was chosen; expected a table of time, channel and event.", "events"
        )
    names: dict[str, str] = {}
    for told in build.report.channels:
        names |= {told.id.lower(): told.id, told.name.lower(): told.id}
    try:
        events = read_machine_log(upload.read(), names)
    except MachineLogError as error:
        raise EditError(str(error), "events") from error
    if not events:
        raise EditError("The table has no events in it.", "events")
    first, last = min(e.at for e in events), max(e.at for e in events)
    known = set(
        build.log.filter(machine=True, at__gte=first, at__lte=last).values_list(
            "at", "channel", "words"
        )
    )
    new = [e for e in events if (e.at, e.channel, e.words) not in known]
    LogEntry.objects.bulk_create(
        [
            LogEntry(build=build, revision=build.head.number, channel=e.channel, kind="note",
                     words=e.words, at=e.at, machine=True)
            for e in new
        ],
        batch_size=BATCH,
    )  # fmt: skip
    _count_machine(build, {e.channel for e in new if e.channel})
    return len(new)


def _count_machine(build: Build, channels: set[str]) -> None:
    """Count anew what a machine's events add up to, for the channels that had any."""
    for channel in channels:
        rows = build.log.filter(machine=True, channel=channel).order_by("at")
        events = (MachineEvent(*row) for row in rows.values_list("at", "channel", "words"))
        cycles, hours = counted(events).get(channel, (0, 0.0))
        MachineCount.objects.update_or_create(
            build=build, channel=channel, defaults={"cycles": cycles, "hours": hours}
        )


@transaction.atomic
def make_check(build: Build, number: str, args: Args) -> OwnCheck:
    """
    Make a check of what now prevents an incident: of this build, or of any.

    Raises
    ------
    EditError
        If there is no such incident, or there are too many checks
    """
    entry = build.log.filter(pk=whole(number, 1, 2**62) or 0, kind="incident").first()
    if entry is None:
        raise EditError("That incident is not in the log of this build.")
    words = _said(args, "check", MOST_LINE, "what is to be looked at before power")
    own = None if args.get("for") == "any" else build
    if OwnCheck.objects.filter(build=own).count() >= MOST_CHECKS:
        raise EditError(f"{MOST_CHECKS} checks are kept; take one away first.", "check")
    return OwnCheck.objects.create(build=own, words=" ".join(words.split()), entry=entry)


def drop_check(build: Build, number: str) -> None:
    """Take a check away; raises :class:`EditError` where it is gone already."""
    found = OwnCheck.objects.filter(pk=whole(number, 1, 2**62) or 0)
    gone, _ = found.filter(build=build).delete()
    if not gone and not found.filter(build=None).delete()[0]:
        raise EditError("That check is gone already.")
