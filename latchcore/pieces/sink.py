"""A3: the heat sink a solid-state switch wants, and its junction with the one it has."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import digits, show
from latchcore.sums import triac

SETTING = Setting("heat_sink", "Heat sink", "thermal", may_omit=True)


def measure(
    context: ChannelContext, result: StageResult, part, running: float, ambient: float
) -> None:
    """A3: the sink it wants, and the junction with the one that is fitted, or with none."""
    w = result.working
    power, possible, budget = triac.heat_sink(
        part.t_j_max, ambient, part.theta_jc, part.theta_cs, part.drop, running, working=w
    )
    result.power = power
    none = context.left_out("heat_sink")
    fitted = None if none else context.given("heat_sink", "K/W")
    bare = (
        ambient + power * part.theta_ja <= part.t_j_max - triac.MARGIN
        and running <= triac.BARE_BOARD
    )
    theta = (
        part.theta_jc + part.theta_cs + fitted
        if fitted
        else (
            part.theta_ja
            if bare or none or not possible or budget is None
            else part.theta_jc + part.theta_cs + budget
        )
    )
    junction = w.calc(
        "T_J",
        "T_A + P_switch*R_θ",
        "°C",
        "highest current, drop and ambient",
        T_A=(ambient, "°C"),
        P_switch=(power, "W"),
        R_θ=(theta, "K/W"),
    )
    result.measures.append(
        Measure(
            "junction",
            "A3",
            "Junction temperature",
            "°C",
            junction,
            "max",
            "highest current, drop and ambient",
            "T_J",
            "A semiconductor fails shorted when it gets too hot: the load stays on.",
            stop=part.t_j_max if fitted or bare or none else part.t_j_max - triac.MARGIN * 0.999,
            fix=part.t_j_max - triac.MARGIN if fitted or none else None,
            stop_name="limit",
            fix_name="limit less 25 K",
            zero=ambient,
        )
    )
    if none and not bare:
        text, detail = "none fitted", (f"at most {digits(budget)} K/W would do" if budget else "")
    elif bare and not fitted:
        text, detail = "none: free air will do", f"up to {show(triac.BARE_BOARD, 'A')}"
    elif fitted:
        text, detail = (
            f"{digits(fitted)} K/W",
            (f"at most {digits(budget)} K/W will do" if budget else "none can"),
        )
    else:
        text, detail = (
            f"at most {digits(budget, 2)} K/W" if budget else "none can do",
            "isolated, and not to be touched",
        )
    result.values.append(
        Sized("heat_sink", "Heat sink", "HS1", "", None, text, bool(fitted), detail=detail)
    )
    result.output.sink = budget
    asked = fitted or (None if bare or none else budget)
    if asked:
        w.note("R_sink", "as fitted" if fitted else "what it must not exceed", "K/W", asked, {}, {})
        result.measures.append(
            Measure(
                "sink",
                "A3",
                "Thermal resistance of the sink",
                "K/W",
                asked,
                "min",
                "highest current, drop and ambient",
                "R_sink",
                context.limits.reasons["least_sink"],
                stop=context.limits["least_sink"],
                stop_name="what is to be had in still air",
            )
        )
