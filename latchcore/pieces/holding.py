"""What holds a coil once it is in: the level PWM leaves it, and what less would save."""

from __future__ import annotations

import math

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.figures.quantity import parse, show
from latchcore.sums.coils import hot_pull_in
from latchcore.sums.pulsed_hold import hold_by_pwm


def _pulled_in(context: ChannelContext, result: StageResult, left: float) -> None:
    """C1 under PWM: whether pulses alone pull it in, or full volts are given for long enough."""
    hot, w = hot_pull_in(context.load.pull_in, context.around.ambient), result.working
    if context.channel.full_first:
        first = w.note("t_full", "as given", "s", parse(context.channel.full_first, "s"), {}, {})
        result.measures.append(
            Measure(
                "full_first",
                "C1",
                "Full volts before the pulses",
                "s",
                first,
                "min",
                "hot coil, lowest supply",
                "t_full",
                "The pulses must not begin before the armature has moved.",
                fix=context.limits["seat_time"],
                fix_name="what an armature takes to seat",
            )
        )
        return
    result.measures.append(
        Measure(
            "pulsed_pull_in",
            "C1",
            "Mean coil voltage under PWM",
            "V",
            left,
            "min",
            "low supply, hot coil",
            "V_hold",
            "Pulses from the first instant hold a coil that is in; they do not pull it in.",
            fix=hot,
            fix_name="hot pull-in voltage",
        )
    )


def holding(context: ChannelContext, result: StageResult, diode) -> None:
    """
    C3 under PWM, else what holding with less would take; wants a coil with a pull-in and a plain
    freewheel diode.

    With any other clamp every cycle burns in the clamp, so nothing is offered.
    """
    pull_in, load, volts, w = (
        result.measure("coil_pull_in"),
        context.load,
        context.volts,
        result.working,
    )
    if pull_in is None or load.inductance is None or result.coil.hold_rc is not None:
        return
    share, drop = context.limits["hold_share"], max(volts.min - pull_in.worst, 0.0)
    v_f = diode.v_f.max if diode else 0.0
    if context.frequency:
        left = w.calc(
            "V_hold",
            "larger(0, D*(V_supply_min - V_sw + V_F) - V_F)",
            "V",
            "low supply, highest drops",
            "between pulses the diode takes its own volts off the coil",
            D=(context.duty, ""),
            V_supply_min=(volts.min, "V"),
            V_sw=(drop, "V"),
            V_F=(v_f, "V"),
        )
        limit = share * load.rated
        _pulled_in(context, result, left)
        result.measures.append(
            Measure(
                "hold",
                "C3",
                "Mean coil voltage under PWM",
                "V",
                left,
                "min",
                "low supply, highest drops",
                "V_hold",
                "Below its hold voltage a coil that is in lets go, or hums.",
                stop=limit,
                stop_name=f"{share * 100:g} % of its rated volts",
            )
        )
        return
    if diode is None:
        return
    hold = hold_by_pwm(
        rated=load.rated,
        resistance=load.resistance.typ,
        inductance=load.inductance.min,
        ambient=context.around.ambient,
        hold_share=share,
        supply_min=volts.min,
        switch_drop=drop,
        diode_drop=v_f,
    )
    if hold.duty >= 0.95:
        return
    limit = result.pulses.limit or 0.0
    result.coil.hold = {
        # Rounded up: what is said here is what the check takes.
        "duty": f"{math.ceil(hold.duty * 100 - 1e-9)} %",
        "frequency": show(hold.least_frequency, "Hz", 2),
        "saved": f"{(1 - hold.power_ratio) * 100:.0f} %",
        "follows": limit >= hold.least_frequency,
        "limit": show(limit, "Hz", 2) if limit else "",
        "share": f"{share * 100:g} %",
        "assumed": not load.inductance_measured,
    }
