"""
What the rules of a build get wrong as they stand, without walking them: rests not kept, limits the
wrong way round, what drives its own sensor, what goes on without link, what was declared otherwise.
"""

from __future__ import annotations

from collections.abc import Iterator

from latchcore.behaviour.checking import faults_of
from latchcore.behaviour.declared import Contradiction, asked_for, contradictions
from latchcore.behaviour.hazards import is_grave
from latchcore.behaviour.named import channel_of, outputs_of
from latchcore.behaviour.sentences import Sentences
from latchcore.design.report import Finding, Remedy
from latchcore.document import behaviour as said
from latchcore.document import conditions as looked
from latchcore.document.models import Build, Channel

USUAL_TIME_OUT = "5 s"


def build(stated: Build) -> Iterator[Finding]:
    """T2, T4 and T6 to T8 of the rules; ``stated`` is the build as its user declared it."""
    if stated.does.empty:
        return
    yield from _faults(stated)
    yield from _together(stated)
    yield from _access(stated)
    yield from _link(stated)
    yield from _blind(stated)
    yield from _own_sensor(stated)
    for found in contradictions(stated):
        yield _contradicted(found)


def _faults(stated: Build) -> Iterator[Finding]:
    """Rules that cannot be run: what they name is gone, or a figure does not fit."""
    for fault in faults_of(stated):
        yield Finding(
            "T2",
            "fix",
            "build",
            "A rule cannot be run as it stands",
            fault.message,
            "Until it is mended nothing of the behaviour can be rehearsed, walked or built.",
            "",
            cause=f"{fault.of} {fault.field}",
        )


def _together(stated: Build) -> Iterator[Finding]:
    """Sources of one line that the program is to keep apart, and no interlock does."""
    apart = [set(lock.channels) for lock in stated.does.interlocks]
    names = {o.id: o.name for o in outputs_of(stated)}
    asked = asked_for(stated.does)
    for route in stated.routes:
        members = [m for m in route.members if m in names]
        if route.interlock != "program" or len(set(members) & asked) < 2:
            continue
        if any(set(members) <= lock for lock in apart):
            continue
        gap = route.gap or "0 s"
        yield Finding(
            "T2",
            "stop",
            "build",
            f"Nothing in the rules keeps the sources of {route.name} apart",
            f"{', '.join(names[m] for m in members)} are said to be kept apart by the program; no"
            " interlock of it names them all.",
            "Two sources on one line feed each other.",
            "asked for in one step",
            remedies=(
                Remedy(
                    f"Keep them apart, {gap} between",
                    (("add_interlock", {"channels": ",".join(members), "gap": gap,
                                        "name": route.name}),),
                ),
            ),
            cause=f"route {route.id}",
        )  # fmt: skip


def _access(stated: Build) -> Iterator[Finding]:
    does = stated.does
    if does.access == "further" and does.commands and does.secret_changed != "yes":
        yield Finding(
            "T4",
            "fix",
            "build",
            "Commanded from further away with the secret it came with",
            "Who may command is anybody who can guess it; that it was changed from its default is"
            " not stated.",
            "A default secret is printed in the leaflet of every other of its kind.",
            "",
            remedies=(Remedy("It was changed", (("set_behaviour", {"secret_changed": "yes"}),)),),
            cause="secret",
        )


def _link(stated: Build) -> Iterator[Finding]:
    """What can hurt somebody and goes on as it was last told when the link is lost."""
    does = stated.does
    for channel in outputs_of(stated):
        manner = does.manner(channel.id)
        if not _commanded(does, channel.id) or not is_grave(channel.channel):
            continue
        if manner.link == "hold" and not (manner.longest_on and does.link_time_out):
            time_out = does.link_time_out or USUAL_TIME_OUT
            yield Finding(
                "T6",
                "stop",
                channel.channel.id,
                f"{channel.name} goes on as it was last told when the link is lost",
                "It stays on while a command stands, and nobody is left to withdraw it.",
                "Out of reach, or with its sender off, nothing switches it off.",
                "link lost",
                remedies=(
                    Remedy(
                        f"Off {time_out} after the last sign of life",
                        (
                            ("set_behaviour", {"link_time_out": time_out}),
                            ("set_manner", {"channel": channel.id, "link": "off"}),
                        ),
                    ),
                ),
                cause=f"link {channel.id}",
            )


def _commanded(does: said.Behaviour, channel: str) -> bool:
    """Whether a rule has it on while a command stands."""
    named = {c.id: c.condition for c in does.conditions}

    def looks(condition: looked.Condition) -> bool:
        parts = looked.walk(condition)
        return any(
            isinstance(p, looked.Commanded)
            or (isinstance(p, looked.Named) and p.of in named and looks(named[p.of]))
            for p in parts
        )

    return any(
        isinstance(r, said.While) and r.channel == channel and looks(r.condition)
        for r in does.requests
    )


def _blind(stated: Build) -> Iterator[Finding]:
    """T7: a load on one pulse line told from outside to move, whichever way that is."""
    for request in stated.does.requests:
        if not isinstance(request, said.Pulse) or request.bring is not None:
            continue
        event, manner = request.event, stated.does.manner(request.channel)
        outside = isinstance(event, looked.Becomes) and any(
            isinstance(c, looked.Commanded) for c in looked.walk(event.condition)
        )
        channel = stated.channel(channel_of(request.channel))
        if channel is None or manner.confirm != "toggle_load" or not outside:
            continue
        yield Finding(
            "T7",
            "fix",
            channel.id,
            f"{channel.name} is told to move, and nobody knows which way",
            "One pulse opens or closes it, by turns; whoever commands it from outside does not see"
            " where it stands.",
            "A command says where it shall go, and does nothing where it is there already.",
            "",
            remedies=tuple(
                Remedy(
                    f"Bring it to {words}",
                    (("set_rule", {"rule": request.id, "bring": end}),),
                )
                for end, words in (("open", "open"), ("closed", "closed"))
            ),
            cause=f"blind {request.id}",
        )


def _own_sensor(stated: Build) -> Iterator[Finding]:
    """A rule that looks at what its own channel moves: the wrong way, or in a circle."""
    words = Sentences(stated)
    moved = {i.id: i for i in stated.inputs if i.moved_by and i.moved}
    for piece in (*stated.does.requests, *stated.does.bars):
        if not isinstance(piece, said.While | said.Bar):
            continue
        channel = stated.channel(channel_of(piece.channel))
        if channel is None:
            continue
        grave = is_grave(channel)
        bar = isinstance(piece, said.Bar)
        for threshold, positive in _thresholds(piece.condition):
            item = moved.get(threshold.of)
            if item is None or item.moved_by != channel.id:
                continue
            rises = (threshold.kind == "over") == (item.moved == "up")
            if rises == positive and not bar or rises != positive and bar:
                yield _wrong_way(words, piece, channel, threshold, grave)
            elif (
                not bar
                and item.moved_by_much
                and float(item.moved_by_much) > float(threshold.hysteresis)
            ):
                yield _circle(piece, channel, threshold, item.name, item.moved_by_much)


def _thresholds(
    condition: looked.Condition, positive: bool = True
) -> Iterator[tuple[looked.Threshold, bool]]:
    """Every threshold in a condition, with whether it must be so rather than not."""
    if isinstance(condition, looked.Threshold):
        yield condition, positive
    elif isinstance(condition, looked.Not):
        yield from _thresholds(condition.part, not positive)
    else:
        for part in looked.parts_of(condition):
            yield from _thresholds(part, positive)


def _wrong_way(
    words: Sentences,
    piece: said.While | said.Bar,
    channel: Channel,
    threshold: looked.Threshold,
    grave: bool,
) -> Finding:
    bar = isinstance(piece, said.Bar)
    other = "under" if threshold.kind == "over" else "over"
    remedies = ()
    if isinstance(piece.condition, looked.Threshold):
        args = {"piece": piece.id, "path": "condition", "looks_at": f"{other}:{threshold.of}"}
        figures = {"at": threshold.at, "hysteresis": threshold.hysteresis}
        place = {"piece": piece.id, "path": "condition"}
        remedies = (
            Remedy(
                f"{'Off' if bar else 'On'} {other} {threshold.at} instead",
                (("set_condition", args), ("set_condition_figures", place | figures)),
            ),
        )
    return Finding(
        "T8",
        "stop" if grave else "fix",
        channel.id,
        f"{'A limit' if bar else 'A rule'} of {channel.name} points the wrong way",
        f"{'Off' if bar else 'On'} while {words.condition(piece.condition)}: the more it does, the"
        f" {'less is it kept off' if bar else 'more is it asked for'}.",
        "What moves its own reading away from where it would end never ends.",
        "",
        remedies=remedies,
        cause=f"way {piece.id}",
    )


def _circle(
    piece: said.While, channel: Channel, threshold: looked.Threshold, sense: str, much: str
) -> Finding:
    band = f"{float(much) * 1.2:.3g}"
    remedies = ()
    if piece.condition == threshold:
        args = {"piece": piece.id, "path": "condition", "hysteresis": band}
        remedies = (Remedy(f"Hysteresis {band}", (("set_condition_figures", args),)),)
    return Finding(
        "T8",
        "fix",
        channel.id,
        f"{channel.name} drives its own sensor",
        f"It moves {sense} by {much}, and the rule comes back after {threshold.hysteresis}: on and"
        " off and on again.",
        "What it does must not be enough to end what asked for it.",
        "",
        remedies=remedies,
        cause=f"circle {piece.id}",
    )


FIELDS = {
    "longest_on": "longest on",
    "shortest_off": "shortest off",
    "cycles_per_day": "how often it is switched",
    "on_return": "what it does when power returns",
}


def _contradicted(found: Contradiction) -> Finding:
    words = FIELDS[found.field]
    keep = {
        "longest_on": ("set_manner", {"longest_on": found.declared}),
        "shortest_off": ("set_manner", {"least_off": found.declared}),
        "on_return": ("set_manner", {"returns": "anew"}),
        "cycles_per_day": ("set_manner", {"starts": "", "starts_in": ""}),
    }[found.field]
    label = f"Let the rules keep it: {found.declared}"
    if found.field == "cycles_per_day":
        label = "Limit its starts no more"
    return Finding(
        "T2",
        "fix" if found.field != "cycles_per_day" else "check",
        found.channel,
        f"What was stated of {found.name} and what its rules do differ",
        f"{words[0].upper()}{words[1:]}: stated {found.declared}, by its rules"
        f" {found.ruled or 'no such limit'}. The sums are done with the rules.",
        "A fact nobody keeps is worse than none.",
        "",
        remedies=(Remedy(label, ((keep[0], {"channel": found.channel} | keep[1]),)),),
        cause=f"stated {found.field}",
    )
