"""What a stage does when everything is dead, against what is wanted of it."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult

#: Load models that keep their state without current, and through a power cut.
KEEPING = ("two_coils", "two_way_coil", "panel")


def channel(context: ChannelContext, result: StageResult) -> list[Finding]:
    """K7 of one channel, whatever its kind of stage; a lock is asked for it."""
    wanted, where = context.channel.when_dead, context.channel.id
    does = _does(context, result)
    if does is None:
        return []
    if wanted == "unknown" and "lock" in (context.load.hazards or ()):
        return [_asked(context, does)]
    if does == ("on" if wanted == "on" else "off"):
        return []
    which = result.contact.which
    by = f"The {which} contact" if which else result.title
    return [
        Finding(
            "K7",
            "stop" if context.hazardous else "fix",
            where,
            f"Dead, the load is {does}",
            f"{by} leaves it {does} when everything is dead; wanted is"
            f" {'off' if wanted == 'unknown' else wanted}.",
            (
                "NO or NC is chosen by the state wanted when nothing has power."
                if which
                else "Only a closed contact keeps a load on while nothing drives it."
            ),
            "everything dead",
            lasting=context.hazardous,
        )
    ]


def _does(context: ChannelContext, result: StageResult) -> str | None:
    """What the load does; ``None`` where nothing tells, or another finding speaks for it."""
    if result.drive.senses or context.load.kind.model in KEEPING:
        # What keeps its state without current is neither, and told so.
        return None
    if result.contact.which is not None:
        return "on" if result.contact.inverts else "off"
    state = next((s for s in result.states if s.key == "unpowered"), None)
    if state is None or state.load == "undecided":
        return None
    # What flows into the dead board is a fault of its own, and says that the load is on.
    fed_back = state.load == "on" and result.drive.back_feed > 0
    return None if fed_back and context.channel.when_dead != "on" else state.load


def _asked(context: ChannelContext, does: str) -> Finding:
    edit = {
        "channel": context.channel.id,
        "cycles_per_day": str(context.channel.cycles_per_day or ""),
        "release_within": context.channel.release_within or "",
        "on_level": context.channel.on_level or "",
    }
    return Finding(
        "K7",
        "check",
        context.channel.id,
        "What is the lock to do when everything is dead?",
        f"As it is planned it is {does} then; whether that is wanted is not said.",
        "One lock opens when its power fails, the next one holds: only you know which it is.",
        "everything dead",
        remedies=tuple(
            Remedy(f"It is to be {state} then", (("set_use", {**edit, "when_dead": state}),))
            for state in ("off", "on")
        ),
        lasting=True,
    )
