"""Edits of a channel's stage."""

from __future__ import annotations

from latchcore.catalogue import in_use
from latchcore.design.context import BuildContext
from latchcore.design.kinds import wants_of
from latchcore.design.stage import Setting
from latchcore.document.models import Build, Channel, Stage
from latchcore.edits.channels import set_channel_rail
from latchcore.edits.lines import fill_lines, quiet_pin
from latchcore.edits.rails import add_rail, set_rail
from latchcore.edits.registry import EditError, edit, reread, the_channel, the_rail
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import resistor_code
from latchcore.stages import STAGES
from latchcore.whole.standardise import common_resistors


def _means_the_same(old: Setting | None, new: Setting, value: str) -> bool:
    """
    Whether what was fixed at one stage can be fixed at another: the same family of parts, a choice
    it has too.
    """
    try:
        new.check(value)
    except ValueError:
        return False
    return new.kind != "part" or (old is not None and old.family == new.family)


@edit
def set_stage(build: Build, channel: str, stage: str, **settings: str) -> str:
    """
    Drive a channel by another stage; what the user fixed carries over where the new stage knows it,
    ``settings`` on top.
    """
    found = the_channel(build, channel)
    if stage not in STAGES:
        raise EditError(f"“{stage}” is no stage; expected one of {', '.join(STAGES)}.", "stage")
    before = {s.key: s for s in STAGES[found.stage.kind].settings}
    shared = {
        s.key: s for s in STAGES[stage].settings if s.key not in ("transistor", "pull_resistor")
    }
    kept = {
        key: value
        for key, value in found.stage.settings.items()
        if key in shared and _means_the_same(before.get(key), shared[key], value)
    }
    begun = getattr(STAGES[stage], "beginning", lambda _: {})(
        BuildContext(build, in_use()).channel(found)
    )
    found.stage = Stage(kind=stage, settings=kept | begun)
    _line_that_serves(build, found)
    fill_lines(build, found)
    fixed = set_setting(build, channel, **settings).removeprefix(found.name) if settings else ""
    return f"{found.name}: {STAGES[stage].title}{fixed}"


def _line_that_serves(build: Build, channel: Channel) -> None:
    """Move a channel off a line that cannot do what its stage wants, to a free one that can."""
    around = BuildContext(build, in_use())
    pin, wanted = around.line(channel.pin), wants_of(around.channel(channel))
    if pin is None or wanted <= set(pin.can) or channel.pin_locked or "in" in wanted:
        return
    free = quiet_pin(build, channel)
    if free:
        channel.pin, channel.moves_with = free, None


@edit
def feed_coil(build: Build, channel: str, voltage: str) -> str:
    """Give a channel's coil an adapter of its own voltage; several with commas share one."""
    found = [the_channel(build, c) for c in channel.split(",")]
    says = add_rail(build, voltage, source="adapter")
    for piece in found:
        set_setting(build, piece.id, coil_rail=build.rails[-1].id, relay="auto")
    return f"{', '.join(piece.name for piece in found)}: coil on a new {says}"


@edit
def feed_load(build: Build, channel: str, voltage: str) -> str:
    """Give a channel's load an adapter of its own voltage; several with commas share one."""
    found = [the_channel(build, c) for c in channel.split(",")]
    says = add_rail(build, voltage, source="adapter")
    for piece in found:
        set_channel_rail(build, piece.id, build.rails[-1].id)
    return f"{', '.join(piece.name for piece in found)}: on a new {says}"


@edit
def regulate_coil(build: Build, channel: str, voltage: str, rail: str) -> str:
    """
    Put a regulator of its own voltage between a rail and a channel's coil; several with commas
    share one.
    """
    found, above = [the_channel(build, c) for c in channel.split(",")], the_rail(build, rail)
    says = add_rail(build, voltage, name=f"{voltage.strip()} from {above.name}"[:60])
    set_rail(build, build.rails[-1].id, fed_by=above.id, converter="linear")
    for piece in found:
        if any(s.key == "coil_rail" for s in STAGES[piece.stage.kind].settings):
            set_setting(build, piece.id, coil_rail=build.rails[-1].id)
        else:
            set_channel_rail(build, piece.id, build.rails[-1].id)
    return f"{', '.join(piece.name for piece in found)}: coil on a new {says}"


def _held(build: Build, setting: Setting, value: str) -> str:
    """A value of a setting as it is kept, or a refusal of it."""
    if setting.kind in ("ohms", "watts") and value.lower() in ("auto", "none"):
        value = value.lower()
    try:
        setting.check(value)
    except ValueError as error:
        raise EditError(str(error), setting.key) from error
    if setting.kind == "part" and value not in ("", "auto"):
        part = BuildContext(build, in_use()).part(value)
        if part is None or getattr(part, "family", "") != setting.family:
            raise EditError(f"“{value}” is no part for {setting.label}.", setting.key)
    return value


@edit
def set_setting(build: Build, channel: str, **settings: str) -> str:
    """Fix things of a stage, or let them be sized again ("auto" or empty)."""
    found = the_channel(build, channel)
    known = {s.key: s for s in STAGES[found.stage.kind].settings}
    fresh, says = dict(found.stage.settings), []
    for key, value in settings.items():
        setting = known.get(key)
        if setting is None:
            raise EditError(
                f"{STAGES[found.stage.kind].title} has no “{key}”; expected any of"
                f" {', '.join(known)}.",
                key,
            )
        value = _held(build, setting, value.strip())
        if value in ("", "auto"):
            if fresh.pop(key, None) is not None:
                says.append(f"{setting.label.lower()} sized")
        elif fresh.get(key) != value:
            fresh[key] = value
            says.append(f"{setting.label.lower()} {value}")
    reread(found.stage, Stage, settings=fresh)
    fill_lines(build, found)
    return f"{found.name}: {', '.join(says) or 'nothing changed'}"


@edit
def fit_common_resistors(build: Build) -> str:
    """Fit the smallest set of resistor values that serves every channel."""
    found = common_resistors(evaluate(build, in_use()), in_use().stock)
    if found is None:
        raise EditError("There is nothing to save: the values are as few as they can be.")
    for (channel, key), value in found.chosen.items():
        stage = the_channel(build, channel).stage
        stage.settings = {**stage.settings, key: resistor_code(value)}
    return f"{len(found.after)} resistor values in place of {len(found.before)}"
