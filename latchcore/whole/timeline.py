"""From power-on to a hung program: what the pin does and what the load sees, moment by moment."""

from __future__ import annotations

from dataclasses import dataclass, replace

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import StageResult
from latchcore.figures.quantity import parse, show
from latchcore.stages import STAGES, missing_facts

#: The stories a board goes through, each as moments: (words, state of the stage, what the pin does
#: then).
STORIES = (
    (
        "Switched on",
        (
            ("rail up, board dead", "unpowered", "dead"),
            ("boot", "weakly_pulled", "boot"),
            ("before the program sets it", "floating", "floats"),
            ("ready", "commanded_off", "off"),
        ),
    ),
    (
        "Reset while on",
        (
            ("on", "commanded_on", "on"),
            ("reset held", "floating", "floats"),
            ("boot", "weakly_pulled", "boot"),
            ("ready", "commanded_off", "off"),
        ),
    ),
    (
        "A long upload while on",
        (
            ("on", "commanded_on", "on"),
            ("upload", "floating", "floats"),
            ("boot", "weakly_pulled", "boot"),
            ("ready", "commanded_off", "off"),
        ),
    ),
    ("Board off", (("rail still live", "unpowered", "dead"),)),
    ("Program hung", (("hung while on", "hung", "on"), ("later", "later", "on"))),
)


@dataclass(frozen=True)
class Moment:
    """
    One moment of a story: how long it lasts [s], what the pin does, what the load does, and why.
    """

    story: str
    words: str
    lasts: float | None
    pin: str
    load: str
    says: str
    asked: bool = False


@dataclass(frozen=True)
class Row:
    """
    One channel through all stories, as it is and with its pull resistor the other way: left out, or
    fitted.
    """

    channel: str
    letter: str
    name: str
    moments: tuple[Moment, ...]
    other: tuple[Moment, ...] = ()
    pull: str = ""

    @property
    def acts_unasked(self) -> bool:
        """Whether the load is on, or nobody decides, at any moment at which nobody asked for it."""
        return any(m.load != "off" for m in self.moments if not m.asked)


def moments(context: ChannelContext, result: StageResult) -> tuple[Moment, ...]:
    """
    Every moment of every story for one sized channel.

    A load behind a contact that is closed at rest is on while its coil is off.
    """
    states = {s.key: s for s in result.states}
    board, found = context.board, []
    active = result.drive.active
    reset = context.pin.reset if context.pin else "floating"
    lasts = {"boot": board.boot_time, "upload": board.upload_time}
    freed = context.around.build.watchdog == "yes" or context.ended_in_hardware
    for story, parts in STORIES:
        for words, key, pin in parts:
            state = states.get(
                "commanded_off" if key == "later" and freed else "hung" if key == "later" else key
            )
            if state is None:
                continue
            load = result.load_in(state)
            does = {
                "off": "low" if active != "low" else "high",
                "on": "high" if active != "low" else "low",
                "boot": reset,
                "floats": "floating",
                "dead": "dead",
            }[pin]
            says = state.says
            if key == "later":
                words = (
                    (
                        "watchdog lets it go"
                        if context.around.build.watchdog == "yes"
                        else f"cut off after {show(_cut_off(context, result), 's')}"
                    )
                    if freed
                    else "until somebody notices"
                )
                does, says = ("floating" if freed else does), words
            found.append(
                Moment(
                    story,
                    words,
                    lasts.get(words),
                    does,
                    load,
                    says,
                    key in ("commanded_on", "hung"),
                )
            )
    return tuple(found)


def _cut_off(context: ChannelContext, result: StageResult) -> float:
    if result.coil.one_shot is not None:
        return result.coil.one_shot.most
    return parse(context.channel.load.cut_off, "s")


def row(context: ChannelContext, result: StageResult, letter: str = "") -> Row:
    """One channel, and beside it what its pull resistor changes."""
    value = result.value("pull_resistor")
    fitted = value is not None and value.value is not None
    known = {s.key for s in STAGES[context.channel.stage.kind].settings}
    other: tuple[Moment, ...] = ()
    if "pull_resistor" in known:
        stage = context.channel.stage.model_copy(
            update={
                "settings": (
                    context.channel.stage.settings | {"pull_resistor": "none" if fitted else "auto"}
                )
            }
        )
        twin = context.around.channel(context.channel.model_copy(update={"stage": stage}))
        if not missing_facts(twin):
            other = moments(twin, STAGES[stage.kind].size(twin))
    return Row(
        context.channel.id,
        letter,
        context.channel.name,
        moments(context, result),
        other,
        value.text if fitted else "",
    )


def rows(around: BuildContext, channels) -> list[Row]:
    """Every channel that is sized and drives something."""
    found = []
    for report in channels:
        if report.result is None or report.result.drive.senses or around.board is None:
            continue
        found.append(
            replace(
                row(around.channel(around.build.channel(report.id)), report.result),
                letter=report.letter,
            )
        )
    return found
