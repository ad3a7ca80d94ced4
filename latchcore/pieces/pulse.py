"""The window of a coil's pulse: from the least that acts to the most it bears."""

from __future__ import annotations

from dataclasses import dataclass

from latchcore.design.context import ChannelContext
from latchcore.design.report import StageResult
from latchcore.figures.quantity import parse
from latchcore.figures.working import Working
from latchcore.sums import coils
from latchcore.sums.pulse_coils import PulseWindow, pulse_window

#: The lowest common class of enamelled wire [°C].
ENAMEL = 105.0


@dataclass(frozen=True, slots=True)
class Pulses:
    """
    What a coil's pulses must keep to [s].

    ``least`` at the slowest corner, with ``never`` where it does not get there; ``quickest`` at the
    quickest; ``most`` as stated or by the copper, the shorter of both; ``by_copper`` where that
    is the copper's.
    """

    least: float | None
    never: bool
    quickest: float | None
    most: float | None
    by_copper: bool
    sure: bool


def pulses_of(
    context: ChannelContext,
    result: StageResult | None = None,
    working: Working | None = None,
) -> Pulses:
    """
    The window of a coil, as far as it is stated or follows from what is; on the volts a stage that
    is sized leaves of its rail.
    """
    load, stated = context.load, context.channel.load
    armature = parse(stated.armature, "s") if stated.armature else 0.0
    slowest = quickest = None
    risen = False
    if load.pull_in is not None and load.inductance is not None and not context.alternating:
        risen = True
        operate = load.pull_in / load.resistance.typ
        volts = _least_volts(context, result)
        slowest = coils.operate_time(volts, load.resistance.max, load.inductance.max, operate)
        quickest = coils.operate_time(
            context.volts.max, load.resistance.min, load.inductance.min, operate
        )
    least = None if slowest is None else slowest + armature
    acts = parse(stated.act_after, "s") if stated.act_after else None
    if acts is not None:
        least = max(least or 0.0, acts)
    most = parse(stated.longest_rated, "s") if stated.longest_rated else None
    copper = window(context, result, working)
    by_copper = copper is not None and (most is None or copper.most < most)
    if by_copper and copper is not None:
        most = copper.most
    return Pulses(
        least,
        risen and slowest is None and acts is None,
        quickest,
        most,
        by_copper,
        load.inductance_measured or acts is not None,
    )


def _least_volts(context: ChannelContext, result: StageResult | None) -> float:
    """The least volts at the coil while it is on [V]."""
    left = context.volts.min - context.wire_drop
    return min(left, result.load_volts[0]) if result and result.load_volts else left


def window(
    context: ChannelContext,
    result: StageResult | None = None,
    working: Working | None = None,
) -> PulseWindow | None:
    """
    What the copper of a coil bears without losing any heat, where its weight is stated; ``None``
    where it is not, or on alternating current.
    """
    load, stated = context.load, context.channel.load
    if not stated.copper or context.alternating or load.inductance is None:
        return None
    warm = parse(stated.may_warm, "K") if stated.may_warm else ENAMEL - context.enclosed
    spread = (load.resistance.max - load.resistance.typ) / load.resistance.typ
    slack = (load.inductance.max - load.inductance.typ) / load.inductance.typ
    return pulse_window(
        supply_min=_least_volts(context, result),
        supply_max=context.volts.max,
        drop_min=0.0,
        drop_max=0.0,
        resistance=load.resistance.typ,
        resistance_tolerance=spread,
        inductance=load.inductance.typ,
        inductance_tolerance=slack,
        cold=context.limits["coil_cold"],
        hot=context.enclosed,
        operate=(load.pull_in or 0.0) / load.resistance.typ,
        armature=parse(stated.armature, "s") if stated.armature else 0.0,
        mass=parse(stated.copper, "g") / 1000,
        rise=max(warm, 1e-3),
        working=working,
    )


def meant(pulse: float, pulses: Pulses) -> float | None:
    """
    The pulse somebody may have meant where a unit slipped by a thousand [s]; ``None`` unless
    exactly one of the other units makes it fit.

    Examples
    --------
    >>> meant(0.2, Pulses(1e-4, False, None, 1e-3, False, True))
    0.0002
    """
    low, high = pulses.least or 0.0, pulses.most
    fits = [
        pulse * factor
        for factor in (1e-6, 1e-3, 1e3)
        if (high is None or pulse * factor <= high) and pulse * factor >= low
    ]
    return fits[0] if len(fits) == 1 and high is not None else None
