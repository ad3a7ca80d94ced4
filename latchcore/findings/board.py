"""
The board as a whole: pins used twice, timers at odds, totals of groups, more lines wanted than
there are.
"""

from __future__ import annotations

from collections import Counter, defaultdict

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import exceeds
from latchcore.findings.pins import unlimited
from latchcore.whole.pinning import Demand, assign, shares


def build(
    around: BuildContext, uses: list[tuple[ChannelContext, StageResult]], wanted: list[Demand]
) -> list[Finding]:
    """P2, P10 and P11, and P1 where channels share a pin on purpose."""
    if around.board is None:
        return _twice(around, wanted)
    hung = _watchdog(around, uses)
    return [
        *_twice(around, wanted),
        *_together(around, uses),
        *_timers(around, wanted),
        *_totals(around, uses),
        *_short(around, uses, wanted),
        *hung,
    ]


def _twice(around: BuildContext, wanted: list[Demand]) -> list[Finding]:
    found = []
    counted = Counter(d.pin for d in wanted if d.pin)
    free = None
    for pin, many in counted.items():
        if many > 1 and around.of_line(pin) is None:
            users = [d for d in wanted if d.pin == pin]
            if free is None:
                plan = assign(around.deck, wanted, keep=True) if around.deck else None
                free = plan.pins if plan else {}
            last = users[-1]
            other = free.get(last.key)
            moves = (
                (
                    Remedy(
                        f"Move {last.name} to {other}",
                        (("place_pin", {"what": last.key, "pin": other}),),
                    ),
                )
                if other and other != pin
                else ()
            )
            found.append(
                Finding(
                    "P10",
                    "stop",
                    f"pin:{pin}",
                    f"{pin} is used {many} times",
                    f"{', '.join(d.name for d in users)} all hang on {pin}.",
                    "Loads on one pin always move together; what one stage needs the other undoes.",
                    remedies=moves,
                )
            )
    return found


def _together(around: BuildContext, uses) -> list[Finding]:
    """P1 of a pin that several channels share on purpose."""
    groups: dict[str, list] = defaultdict(list)
    for c, r in uses:
        lead = c.channel.moves_with if shares(around.build, c.channel) else c.channel.id
        groups[lead].append((c, r))
    found = []
    for members in groups.values():
        total, pin = sum(r.pin_current for _, r in members), members[0][0].channel.pin
        board = members[0][0].board
        if len(members) < 2 or pin is None or not exceeds(total, board.pin_recommended):
            continue
        severity = "stop" if total > board.pin_absolute else "fix"
        limit = board.pin_absolute if severity == "stop" else board.pin_recommended
        last = members[-1][0].channel
        found.append(
            Finding(
                "P1",
                severity,
                f"pin:{pin}",
                f"{len(members)} stages ask too much of {pin}",
                f"Together {show(total, 'A')}, over {show(limit, 'A')}.",
                "A pin gives what one stage needs; several want a transistor between, or pins of"
                " their own.",
                "highest level, all of them on",
                remedies=(
                    Remedy(
                        f"Give {last.name} a line of its own",
                        (("move_together", {"channel": last.id, "lead": ""}),),
                    ),
                ),
            )
        )
    return found


def _timers(around: BuildContext, wanted: list[Demand]) -> list[Finding]:
    """P10: pins of one timer pulse at one frequency."""
    at: dict[str, dict[float, list]] = defaultdict(lambda: defaultdict(list))
    for channel in around.build.channels:
        pin = around.line(channel.pin)
        if pin is not None and pin.timer and channel.pwm and not shares(around.build, channel):
            at[pin.timer][parse(channel.pwm, "Hz")].append(channel)
    found = []
    for timer, by_frequency in at.items():
        if len(by_frequency) > 1:
            parts = [
                f"{', '.join(c.name for c in channels)} at {show(f, 'Hz')}"
                for f, channels in by_frequency.items()
            ]
            channels = [c for group in by_frequency.values() for c in group]
            found.append(
                Finding(
                    "P10",
                    "stop",
                    f"pin:{channels[0].pin}",
                    f"{timer.capitalize()} cannot pulse at two frequencies",
                    f"{'; '.join(parts)}: their pins hang on one timer.",
                    "The one that is set last decides for both.",
                    remedies=_other_timer(around, channels, wanted),
                )
            )
    return found


def _other_timer(around: BuildContext, channels, wanted: list[Demand]) -> tuple[Remedy, ...]:
    taken = {d.pin for d in wanted}
    last, mine = channels[-1], around.line(channels[-1].pin)
    busy = {
        pin.timer
        for c in around.build.channels
        if c.pwm and (pin := around.line(c.pin)) is not None
    }
    free = next(
        (
            p
            for p in around.deck.pins
            if p.id not in taken
            and "pwm" in p.can
            and p.timer != mine.timer
            and p.timer not in busy
            and not p.owner
        ),
        None,
    )
    rows = (
        [
            Remedy(
                f"Move {last.name} to {free.id}",
                (("set_pin", {"channel": last.id, "pin": free.id}),),
            )
        ]
        if free
        else []
    )
    lead = channels[0]
    return (
        *rows,
        Remedy(
            f"Pulse {last.name} at {lead.pwm} as well",
            (("set_switching", {"channel": last.id, "pwm": lead.pwm}),),
        ),
    )


def _totals(around: BuildContext, uses) -> list[Finding]:
    """P2: the board in all, and each group of pins."""
    board, found = around.board, []
    groups: dict[str, float] = defaultdict(float)
    for c, r in uses:
        for pin in pins_of(c):
            if pin is not None and pin.group and around.of_line(pin.id) is None:
                groups[pin.group] += r.pin_current
    for group, sum_ in groups.items():
        if board.group_limit is not None and exceeds(sum_, board.group_limit):
            found.append(
                Finding(
                    "P2",
                    "stop",
                    "board",
                    f"The pins of {group} give more than they may together",
                    f"All of them on: {show(sum_, 'A')}, over {show(board.group_limit, 'A')}.",
                    "A group of pins shares one path through the chip.",
                    "all outputs on, highest level",
                )
            )
    total = sum(
        result.pin_current * sum(around.of_line(pin) is None for pin in c.channel.pins)
        for c, result in uses
    )
    severity = "stop" if total > board.total_absolute else "fix"
    if total > board.total_recommended and (severity == "stop" or not found):
        limit = board.total_absolute if severity == "stop" else board.total_recommended
        found.insert(
            0,
            Finding(
                "P2",
                severity,
                "board",
                "The pins together give more than the board may",
                f"All outputs on: {show(total, 'A')}, over the"
                f" {'absolute' if severity == 'stop' else 'recommended'} {show(limit, 'A')}.",
                "Every pin's current goes through the chip's few supply pins.",
                "all outputs on, highest level",
            ),
        )
    return found


def _watchdog(around: BuildContext, uses) -> list[Finding]:
    """
    P14 once for the build: asked while it is not stated, noted where there is none; hazards have
    their own.
    """
    stated = around.build.watchdog
    open_ = [c for c, r in uses if unlimited(c) and not r.drive.senses]
    grave = [c for c in open_ if c.hazardous]
    if not open_ or (stated is None and not grave) or (stated == "no" and len(grave) == len(open_)):
        return []
    remedies = (
        Remedy(
            "A watchdog is on, and releases the outputs", (("set_watchdog", {"watchdog": "yes"}),)
        ),
    )
    if stated is None:
        names = ", ".join(c.channel.name for c in grave[:4]) + (" …" if len(grave) > 4 else "")
        return [
            Finding(
                "P14",
                "check",
                "board",
                "Is there a watchdog?",
                f"Hung with its output on, the program leaves {names} on, and whether anything"
                " takes that back is not stated.",
                "Motion, heat and water must not wait until somebody notices.",
                "program hung, output on",
                remedies=(
                    *remedies,
                    Remedy("There is none", (("set_watchdog", {"watchdog": "no"}),)),
                ),
            )
        ]
    mild = [c.channel.name for c in open_ if not c.hazardous]
    return [
        Finding(
            "P14",
            "note",
            "board",
            "No watchdog",
            f"Hung with their outputs on, {', '.join(mild[:4])}{' …' if len(mild) > 4 else ''}"
            " stay on.",
            "Nothing here does harm by it; it is worth knowing.",
            "program hung, output on",
            remedies=remedies,
        )
    ]


def _short(around: BuildContext, uses, wanted: list[Demand]) -> list[Finding]:
    """P11: lines that no assignment can serve."""
    if all(d.pin for d in wanted):
        return []
    plan = assign(around.deck, wanted)
    if not plan.refused:
        return []
    names = {d.key: d.name for d in wanted}
    first, why = next(iter(plan.refused.items()))
    many = len(plan.refused)
    return [
        Finding(
            "P11",
            "stop",
            "board",
            f"{many} line{'s' * (many != 1)} more wanted than the board has",
            f"{names[first]}: {why}.",
            "No other order of pins serves everything; something has to change.",
            "any assignment",
        )
    ]
