"""What is said of how a load is switched, used and guarded."""

from __future__ import annotations

from latchcore.document.models import Build, Channel
from latchcore.edits.behaviour.mirror import mirror
from latchcore.edits.counting import whole_number
from latchcore.edits.registry import EditError, edit, reread, the_channel

#: What may be said of how a channel is switched, with the words of the log.
SWITCHING = {
    "pwm": "PWM",
    "duty": "duty",
    "full_first": "full volts first",
    "on_share": "share of time in use",
    "longest_on": "longest on",
    "shortest_on": "shortest on",
    "shortest_off": "shortest off",
}


@edit
def set_switching(build: Build, channel: str, **fields: str) -> str:
    """
    Say how a channel is switched: PWM frequency, share of time on, longest and shortest on-time,
    shortest off-time; empty text takes one back.
    """
    found = the_channel(build, channel)
    if unknown := set(fields) - set(SWITCHING):
        raise EditError(
            f"Switching has no “{', '.join(sorted(unknown))}”; expected any of"
            f" {', '.join(SWITCHING)}."
        )
    reread(found, Channel, **fields)
    mirror(build, found, fields)
    parts = [
        f"{words} {value}" for key, words in SWITCHING.items() if (value := getattr(found, key))
    ]
    return f"{found.name}: {', '.join(parts) or 'on and off'}"


@edit
def set_needs(build: Build, channel: str, needs: str = "") -> str:
    """
    Say what the load needs of its stage: any of dims, isolated, silent, fast, air_gap,
    grounded_load.
    """
    found = the_channel(build, channel)
    reread(found, Channel, needs=[n for n in needs.split(",") if n])
    return f"{found.name}: needs {', '.join(found.needs).replace('_', ' ') or 'nothing special'}"


@edit
def set_use(
    build: Build,
    channel: str,
    when_dead: str = "unknown",
    cycles_per_day: str = "",
    release_within: str = "",
    on_level: str = "",
    years: str | None = None,
    irreplaceable: str | None = None,
) -> str:
    """
    Say what the load must do when everything is dead, how often it is switched, how soon its coil
    must let go, and which level of the pin is on in the program. The years its contact should last,
    and that it cannot be had again, stay as they are unless given.
    """
    found = the_channel(build, channel)
    if years is not None:
        reread(found, Channel, years=whole_number(years, "years", 100) or None)
    if irreplaceable is not None:
        reread(found, Channel, irreplaceable=irreplaceable or None)
    many = (
        whole_number(cycles_per_day, "cycles_per_day", 1_000_000)
        if cycles_per_day.strip()
        else None
    )
    reread(
        found,
        Channel,
        when_dead=when_dead,
        cycles_per_day=many,
        release_within=release_within.strip() or None,
        on_level=on_level or None,
    )
    dead = "not said what it is" if found.when_dead == "unknown" else found.when_dead
    return (
        f"{found.name}: {dead} when dead"
        + (f", {found.cycles_per_day} times a day" if found.cycles_per_day else "")
        + (", cannot be had again" if found.irreplaceable else "")
    )


GUARDS = ("unattended", "limit", "second_contactor", "on_return", "way_out")


@edit
def set_guards(build: Build, channel: str, **facts: str) -> str:
    """
    State what guards a load that can hurt: whether it runs unattended, its limit, what it does when
    power returns, the way out.
    """
    found = the_channel(build, channel)
    if unknown := set(facts) - set(GUARDS):
        raise EditError(
            f"There is no “{', '.join(sorted(unknown))}” to state; expected any of"
            f" {', '.join(GUARDS)}."
        )
    reread(found, Channel, **facts)
    mirror(build, found, facts)
    said = [
        f"{key.replace('_', ' ')} {value.replace('_', ' ') or 'not stated'}"
        for key, value in facts.items()
    ]
    return f"{found.name}: {', '.join(said)}"
