"""Calibration: a figure measured, used from then on, and said so with date and instrument."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from django.db import transaction

from latchcore.edits import EditError
from latchcore.figures.quantity import plain_number, show
from latchcore.figures.typed import quoted
from latchcore.procedure.calibrating import (
    Calibration,
    CalibrationError,
    Moves,
    calibrations_of,
    stands_at,
    timed_moves,
    whole_way,
)
from workbench.actions.editing import edit_build
from workbench.actions.logbook import channel_of, time_of
from workbench.models import Build, LogEntry

Args = dict[str, str]
MOST_WORDS = 120


@dataclass(frozen=True)
class Measured:
    """A calibration as it stands: its entry, its title, whether the design still goes by it."""

    entry: LogEntry
    title: str
    value: str
    in_use: bool

    @property
    def of(self) -> str:
        """The channel, input or rail it is of."""
        return self.entry.figures["what"].partition(":")[0]

    @property
    def words(self) -> str:
        """With what it was measured and how it was around it."""
        figures = self.entry.figures
        how = ", ".join(figures[k] for k in ("instrument", "conditions") if figures.get(k))
        with_what = f", {how}" if how else ""
        return f"{self.title} {self.value}, measured {self.entry.at:%d %b %Y}{with_what}"


def chosen(build: Build, key: str) -> Calibration:
    """The figure of that name; raises :class:`EditError`."""
    for one in calibrations_of(build.document, build.around.catalogue):
        if one.id == key:
            return one
    raise EditError("Choose what was measured.", "what")


@transaction.atomic
def calibrate(build: Build, args: Args, version: int) -> LogEntry:
    """
    Take a measured figure into the design, and write down when, with what and how.

    Raises
    ------
    EditError
        If nothing or nothing known was measured, or the design does not take the value
    """
    one = chosen(build, args.get("what", ""))
    value = args.get("value", "").strip()
    if not value:
        unit = f" in {one.unit}" if one.unit else ""
        raise EditError(f"Nothing was measured; expected a figure{unit}.", "value")
    instrument = args.get("instrument", "").strip()[:MOST_WORDS]
    if not instrument:
        raise EditError("With what was it measured? A figure without that proves nothing.",
                        "instrument")  # fmt: skip
    conditions = args.get("conditions", "").strip()[:MOST_WORDS]
    at = time_of(args.get("at", ""))
    try:
        edit_build(build, one.edit, {one.target: one.of, one.argument: value}, version)
    except EditError as error:
        raise EditError(str(error), "value") from error
    stands = stands_at(build.document, one.of, one.key) or value
    known = channel_of(build, one.of) if build.document.channel(one.of) else ""
    return LogEntry.objects.create(
        build=build, revision=build.head.number, channel=known, kind="calibration", at=at,
        words=f"{one.title}: {value}, {instrument}{f', {conditions}' if conditions else ''}",
        figures={"what": one.id, "title": one.title, "value": stands, "instrument": instrument,
                 "conditions": conditions},
    )  # fmt: skip


def _use_way(build: Build, channel: str, found: Moves, typed: str, version: int) -> dict[str, str]:
    """Take the time of the whole way into the design; what stands there now, for the entry."""
    far = plain_number(typed)
    if far is None or far <= 0:
        raise EditError(f"{quoted(typed[:40])} is no way; expected how far it goes in all.", "far")
    # Up to the next hundredth: a limit that is rounded down trips.
    most = ceil(round(found.at_most(far) * 100, 6)) / 100
    one, value = whole_way(build.document, channel), show(most, "s")
    try:
        edit_build(build, one.edit, {one.target: one.of, one.argument: value}, version)
    except EditError as error:
        raise EditError(str(error), "far") from error
    stands = stands_at(build.document, one.of, one.key) or value
    return {"what": one.id, "title": one.title, "value": stands}


@transaction.atomic
def calibrate_moves(build: Build, args: Args, version: int) -> LogEntry:
    """
    Speed and lag of a load that is moved by time, from a few runs; with the whole way given, the
    time that takes at most is used from then on.
    """
    channel = args.get("channel", "")
    if not channel:
        raise EditError("Which load was moved? Choose its channel.", "channel")
    channel_of(build, channel)
    typed = args.get("moves", "").replace(",", " ").replace(";", " ").split()
    numbers = [n for n in map(plain_number, typed) if n is not None]
    if len(numbers) != len(typed) or len(numbers) % 2:
        raise EditError(
            f"{quoted(args.get('moves', '')[:60])} are no moves; expected pairs of seconds and how"
            " far, such as 0.5 8, 1 18, 2 38.",
            "moves",
        )
    pairs = list(zip(numbers[::2], numbers[1::2], strict=True))
    try:
        found = timed_moves(pairs)
    except CalibrationError as error:
        raise EditError(str(error), "moves") from error
    unit = args.get("unit", "").strip()[:12] or "units"
    lag = show(found.lag, "s") if found.lag > 0 else "0 s"
    words = (
        f"Timed moves: {found.speed:.3g} {unit} a second after {lag} of lag, off by up to"
        f" {found.residual:.2g} {unit}; {len(pairs)} runs"
    )
    figures = {"speed": found.speed, "lag": found.lag, "residual": found.residual, "unit": unit}
    if way := args.get("far", "").strip():
        figures |= _use_way(build, channel, found, way, version)
        words += f"; {way} {unit} take {figures['value']} at most"
    return LogEntry.objects.create(
        build=build, revision=build.head.number, channel=channel, kind="calibration", words=words,
        figures=figures,
        at=time_of(args.get("at", "")),
    )  # fmt: skip


def measured_of(build: Build, of: str = "") -> list[Measured]:
    """The last calibration of each figure, of one thing or of the whole build."""
    rows = build.log.filter(kind="calibration")
    if of and build.document.channel(of) is not None:
        rows = rows.filter(channel=of)
    found: dict[str, Measured] = {}
    for entry in rows.order_by("at", "pk")[:1000]:
        what = entry.figures.get("what", "")
        thing, _, key = what.partition(":")
        if not what or (of and thing != of):
            continue
        stands = stands_at(build.document, thing, key)
        value = entry.figures.get("value", "")
        found[what] = Measured(entry, entry.figures["title"], value, stands == value)
    return list(found.values())
