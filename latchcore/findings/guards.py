"""
What guards somebody when nobody watches: limits, feedback, time-out, the return of power, the way
out, rests of compressors.
"""

from __future__ import annotations

from latchcore.design.context import BuildContext, ChannelContext
from latchcore.design.report import Finding, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.figures.slack import falls_short

#: What heats, runs water or moves wants all of it when it runs unattended; heat and motion on mains
#: a second contactor besides.
GUARDED, SECOND = {"heat", "water", "motion"}, {"heat", "motion"}


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """T2, T3, T6 and X5 of one channel."""
    if result.drive.senses:
        return []
    return [*_unattended(context), *_return(context), *_rest(context), *_way_out(context)]


def lacking(context: ChannelContext) -> list[str]:
    """What a load that runs unattended still lacks, in words."""
    item, absent = context.channel, []
    if item.limit == "control_relay":
        absent.append("a limit of its own (the present one works through the control relay)")
    elif item.limit != "independent":
        absent.append("a limit outside the program")
    if context.around.build.sense(item.confirmed_by) is None:
        absent.append("an input that notices “on when told off”")
    if not item.longest_on:
        absent.append("a longest on-time")
    if (
        context.dangerous
        and set(context.load.hazards or ()) & SECOND
        and item.second_contactor != "yes"
    ):
        absent.append("a second contactor with its own control")
    return absent


def _unattended(context: ChannelContext) -> list[Finding]:
    hazards = set(context.load.hazards or ()) & GUARDED
    item = context.channel
    if not hazards:
        return []
    if item.unattended is None:
        return (
            [
                Finding(
                    "T3",
                    "check",
                    item.id,
                    "Does it run while nobody watches?",
                    f"{context.load.kind.title}: {', '.join(sorted(hazards))}; on this rail that"
                    " has to be stated.",
                    "What heats or moves unattended wants a limit no program can override.",
                    "program stuck, contact welded",
                    lasting=True,
                )
            ]
            if context.dangerous
            else []
        )
    absent = lacking(context) if item.unattended == "yes" else []
    if not absent:
        return []
    return [
        Finding(
            "T3",
            "stop",
            item.id,
            "Unattended, and not guarded",
            f"It runs while nobody watches and lacks {'; '.join(absent)}.",
            "A welded contact or a hung program is then noticed by the fire, the water or the"
            " fingers.",
            "program stuck, contact welded",
            lasting=True,
        )
    ]


def _return(context: ChannelContext) -> list[Finding]:
    hazards = set(context.load.hazards or ()) & {"heat", "motion"}
    item = context.channel
    if not hazards or item.on_return == "stays_off":
        return []
    if item.on_return == "as_before":
        return [
            Finding(
                "T6",
                "stop",
                item.id,
                "It starts by itself when power returns",
                "After a power cut, or a lost link, it goes on as it was before.",
                "Whoever looked after it in the dark has a hand in it.",
                "power cut and return",
                lasting=True,
            )
        ]
    return (
        [
            Finding(
                "T6",
                "check",
                item.id,
                "What does it do when power returns?",
                "Stays off until asked, or goes on as before: that is not stated.",
                "Motion and heat stay off until somebody asks for them again.",
                "power cut and return",
                lasting=True,
            )
        ]
        if context.dangerous
        else []
    )


def rests(context: ChannelContext) -> dict[str, float | None]:
    """Least on-time and off-time a load wants, as stated, else as usual for its kind [s]."""
    load, kind = context.channel.load, context.load.kind
    return {
        "shortest_on": parse(load.least_on, "s") if load.least_on else None,
        "shortest_off": parse(load.least_off, "s") if load.least_off else kind.least_off,
    }


def _rest(context: ChannelContext) -> list[Finding]:
    """T2: what must run, or rest, for so long before it is switched again."""
    item, said, title = context.channel, [], ""
    for key, least in rests(context).items():
        given = getattr(item, key)
        if least is None or (given and not falls_short(parse(given, "s"), least)):
            continue
        off, counted = (
            key == "shortest_off",
            (", counted from every power-up too" if context.load.kind.least_off else ""),
        )
        title = (
            "Too short a rest before it starts again"
            if off
            else "Too short a run before it is stopped"
        )
        if off:
            said.append(
                (
                    f"It may be switched on again after {given}"
                    if given
                    else "How soon it may be switched on again is not limited"
                )
                + f"; it wants {show(least, 's')}{counted}"
            )
        else:
            said.append(
                (
                    f"It may be switched off after {given}"
                    if given
                    else "How soon it may be switched off again is not limited"
                )
                + f"; it wants to run for {show(least, 's')}"
            )
    if not said:
        return []
    why = (
        "Started against its own pressure it stalls, draws its starting current for good and burns."
        if context.load.kind.least_off
        else "What is stopped before it has come to rest or to heat wears out in starts."
    )
    return [Finding("T2", "fix", item.id, title, ". ".join(said) + ".", why, "off and on again")]


def _way_out(context: ChannelContext) -> list[Finding]:
    item = context.channel
    if "lock" not in (context.load.hazards or ()) or item.way_out == "yes":
        return []
    if item.way_out == "no":
        return [
            Finding(
                "X5",
                "stop",
                item.id,
                "It can hold somebody in",
                "Without power there is no way out past this lock.",
                "A door that people are behind opens by hand from inside, power or not.",
                "power cut",
                lasting=True,
            )
        ]
    return [
        Finding(
            "X5",
            "check",
            item.id,
            "Is there a way out when power fails?",
            "A lock that can hold people in wants a way out by hand; that is not stated.",
            "A door that people are behind opens by hand from inside, power or not.",
            "power cut",
            lasting=True,
        )
    ]


def build(around: BuildContext) -> list[Finding]:
    """
    X4: conductors of a machine are bridged only where its supply is known to be isolated and low.
    """
    pairs = [
        c
        for c in around.build.channels
        if around.catalogue.loads[c.load.kind].model == "pair" or c.load.kind == "remote_line"
    ]
    found = []
    for machine in around.build.machines:
        for way, words in ((machine.button, "button"), (machine.remote_line, "remote line")):
            if way.exists == "yes" and way.supply != "isolated_low" and pairs:
                said = (
                    "is joined with mains"
                    if way.supply == "mains"
                    else "is not known to be an isolated low-voltage one"
                )
                found.append(
                    Finding(
                        "X4",
                        "stop",
                        pairs[0].id,
                        f"{machine.name}: its {words} is bridged without proof",
                        f"The supply of the {words} {said}.",
                        "Unplugged and by continuity only, and bridged through a reinforced"
                        " barrier, until every pad reads under 30 V to protective earth.",
                        "any",
                        lasting=True,
                    )
                )
    return found[:1]
