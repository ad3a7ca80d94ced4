"""What a simulated bench answers to a step of the plan: a reading as it stands, or a look."""

from __future__ import annotations

from latchcore.bench.faults import STUCK, WELDED
from latchcore.bench.hidden import BARRIER, EARTH, FUSE, NO_PULL
from latchcore.bench.looks import WORKS
from latchcore.bench.meter import OL
from latchcore.bench.rig import Rig
from latchcore.bench.undriven import RESET
from latchcore.procedure.steps import ALTERNATING_VOLTS, AMPERES, MILLIAMPERES, OHMS, VOLTS, Step

#: An earth that is joined, a strand across a barrier [Ω].
EARTH_OHM, STRAND_OHM = 0.13, 0.4
#: A switch that makes so many times the heat it should, and so much more [W], is felt.
HOT, HOTTER = 2.0, 0.3
AS_SAID, NOT_SO = "yes", "no"


def answer(rig: Rig, step: Step) -> str:
    """
    What is read or seen at a step, with the build told what the step asks for.

    Examples
    --------
    >>> from latchcore.catalogue import load_catalogue
    >>> from latchcore.design.context import BuildContext
    >>> from latchcore.document.models import Build
    >>> from latchcore.evaluate import evaluate
    >>> from latchcore.procedure.plan import LOOK
    >>> build = Build(name="Bench")
    >>> rig = Rig(BuildContext(build, load_catalogue()), evaluate(build))
    >>> answer(rig, Step("s0-empty", 0, "", LOOK, ""))
    'yes'
    """
    rig.all_off()
    if step.channel in rig.told and step.state:
        rig.tell(step.channel, step.state)
    if step.about == RESET and step.nodes is not None:
        return rig.volts_in_reset(step.nodes[0])
    if step.setting == VOLTS and step.nodes is not None:
        return rig.volts(*step.nodes)
    if step.setting == ALTERNATING_VOLTS:
        return rig.alternating(step.about)
    if step.setting in (MILLIAMPERES, AMPERES):
        return rig.read_lead(step.channel, step.about)
    if step.setting == OHMS:
        return _ohms(rig, step)
    return AS_SAID if _as_said(rig, step) else NOT_SO


def _ohms(rig: Rig, step: Step) -> str:
    what = rig.fault.what if rig.fault is not None else ""
    if step.nodes is not None:
        return rig.ohms(*step.nodes)
    if step.about.startswith("contact "):
        return rig.contact(step.channel, step.about.partition(" ")[2].lower())
    found = {
        "barrier": STRAND_OHM if what == BARRIER else None,
        "earth": None if what == EARTH else EARTH_OHM,
    }
    value = found.get(step.about)
    return OL if value is None else rig.meter.shown(value, "Ω")


def _as_said(rig: Rig, step: Step) -> bool:
    fault = rig.fault
    if step.about == "legs":
        return fault is None or fault.of != step.channel or "way round" not in fault.what
    if step.about == "own":
        return True
    if step.about == "fuse":
        return fault is None or fault.what != FUSE
    if step.about == "float":
        return not _comes_on_of_itself(rig)
    if step.about == "walk":
        return _walked(rig, step.channel)
    if step.about == "heat":
        return _cool(rig, step.channel)
    if step.unit == "A" and step.most is not None:
        return rig.amps(step.about) <= step.most
    if fault is not None and fault.what == NO_PULL:
        return step.about != fault.of
    return True


def _comes_on_of_itself(rig: Rig) -> bool:
    """More comes on while nothing is driven than does on a sound bench of the same build."""
    if rig.fault is None or rig.fault.what in (WELDED, STUCK):
        # Nothing hangs on a contact yet, and its coil does what it should.
        return False
    return bool(set(rig.on_when_all_float()) - set(rig.sound().on_when_all_float()))


def _walked(rig: Rig, channel: str) -> bool:
    """The name said is the lamp seen: this one lights, and nothing on another line does."""
    rig.tell(channel, rig.first_way(channel))
    line = rig.around.build.channel(channel)
    lit = {key for key, found in rig.lit().items() if found.word != "dead"}
    also = {
        key for key in lit
        if (other := rig.around.build.channel(key)) and line and other.pin == line.pin
    }  # fmt: skip
    return channel in lit and lit <= also | {channel}


def _cool(rig: Rig, channel: str) -> bool:
    """Whether it works, and its switch makes no more heat than that of a sound one."""
    state = rig.first_way(channel)
    rig.tell(channel, state)
    if rig.lit()[channel].word != WORKS:
        return False
    if rig.fault is None or channel in rig.not_modelled:
        return True
    sound = rig.sound()
    sound.tell(channel, state)
    return _heat(rig, channel) <= HOT * _heat(sound, channel) + HOTTER


def _heat(rig: Rig, channel: str) -> float:
    """What the parts of a channel turn to heat, its load apart [W]."""
    parts, point = rig.solved()
    if point is None:
        return 0.0
    total = 0.0
    for part in parts:
        if part.id.startswith(f"{channel}.") and ".LOAD" not in part.id:
            for terminal, node in part.at.items():
                volts = point.volts(node, "0V")
                total += (volts or 0.0) * point.amps_into(f"{part.id}.{terminal}")
    return total
