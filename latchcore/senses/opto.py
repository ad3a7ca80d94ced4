"""
A voltage sensed across a barrier: a coupler's LED on one side, a pull-up at the pin on the other.
"""

from __future__ import annotations

from latchcore.catalogue.records import Coupler
from latchcore.design.report import Measure, Sized
from latchcore.figures import preferred
from latchcore.figures.quantity import parse, resistor_code, show
from latchcore.pieces.sensing import VDD, InputContext, InputReport

#: Pull-up at the pin [Ω].
PULL = 10e3


def size(context: InputContext, report: InputReport) -> None:
    """
    LED resistor from the lowest voltage, watts from the highest, low level at the pin from the
    least transfer ratio.
    """
    item, board, w, tol, volts, limits = (
        context.item,
        context.board,
        report.working,
        context.tolerance,
        context.volts,
        context.around.catalogue.limits,
    )
    fixed = context.around.part(item.part)
    part = fixed if isinstance(fixed, Coupler) else context.around.family("coupler")[0]
    pull = context.fitted_pull or PULL
    need = w.calc(
        "I_C_need",
        "V_DD_max/(R_pull*(1 - tol))",
        "A",
        "high logic supply",
        "to hold the pin low",
        V_DD_max=(board.logic.max, "V"),
        R_pull=(pull, "Ω"),
        tol=(tol, ""),
    )
    led = w.calc(
        "I_F_need",
        "k*I_C_need/(d*CTR_min)",
        "A",
        "least ratio, old and hot",
        k=(limits["coupler_factor"], ""),
        I_C_need=(need, "A"),
        d=(limits["ctr_derating"], ""),
        CTR_min=(part.ctr_min, ""),
    )
    most = (volts.min - part.v_f.max) / (led * (1 + tol)) if volts.min > part.v_f.max else 0.0
    mine = preferred.largest_below(context.around.build.series, most) if most > 1 else None
    if item.upper:
        mine = parse(item.upper, "Ω")
    chosen = mine or 10.0
    report.values += [
        Sized(
            "upper", "LED resistor", "R_LED", "Ω", chosen, resistor_code(chosen), bool(item.upper)
        ),
        Sized(
            "pull",
            "Pull-up at the pin",
            "R_pull",
            "Ω",
            pull,
            resistor_code(pull),
            bool(context.fitted_pull),
        ),
        Sized("coupler", "Coupler", "OK1", "", None, part.title, part is fixed),
    ]
    least = w.calc(
        "I_F_min",
        "larger(0, (V_in_min - V_F_max)/(R_LED*(1 + tol)))",
        "A",
        "lowest voltage, high V_F",
        V_in_min=(volts.min, "V"),
        V_F_max=(part.v_f.max, "V"),
        R_LED=(chosen, "Ω"),
        tol=(tol, ""),
    )
    report.measures.append(
        Measure(
            "led",
            "D1",
            "LED current",
            "A",
            least,
            "min",
            "lowest voltage, high V_F",
            "I_F_min",
            "The pin is not pulled fully low.",
            stop=led / 2,
            fix=led,
            stop_name="half of what is needed",
            fix_name="need",
        )
    )
    top = w.calc(
        "I_F_max",
        "(V_in_max - V_F_min)/(R_LED*(1 - tol))",
        "A",
        "highest voltage, low V_F",
        V_in_max=(volts.max, "V"),
        V_F_min=(part.v_f.min, "V"),
        R_LED=(chosen, "Ω"),
        tol=(tol, ""),
    )
    report.measures.append(
        Measure(
            "led_most",
            "D2",
            "Highest LED current",
            "A",
            top,
            "max",
            "highest voltage",
            "I_F_max",
            "Above it the LED ages and dies.",
            stop=part.i_f_max,
            stop_name="rating",
        )
    )
    heat = w.calc(
        "P_R",
        "I_F_max**2*R_LED*(1 - tol)",
        "W",
        "highest voltage",
        I_F_max=(top, "A"),
        R_LED=(chosen, "Ω"),
        tol=(tol, ""),
    )
    rating = next(
        (r for r in (0.25, 0.5, 1.0, 2.0, 5.0) if heat <= limits["resistor_power_share"] * r), 5.0
    )
    report.measures.append(
        Measure(
            "watts",
            "D14",
            "Heat in the LED resistor",
            "W",
            heat,
            "max",
            "highest voltage",
            "P_R",
            "It gets too hot to last.",
            stop=rating,
            fix=limits["resistor_power_share"] * rating * 1.0001,
            stop_name="rating",
            fix_name="half the rating",
        )
    )
    report.found.watts = rating
    report.rows = [
        ("voltage there", f"LED at {show(least, 'A')} to {show(top, 'A')}", "low", "it is on"),
        ("voltage absent", "held by the pull-up", "high", "it is off"),
    ]
    context.time(report)
    node = context.join_pin(report)
    far = context.rail.id if context.rail is not None else f"{item.id}.IN+"
    back = context.around.return_of(context.rail) if context.rail is not None else f"{item.id}.IN-"
    context.add(
        report,
        "R1",
        "resistor",
        f"{resistor_code(chosen)}, {rating:g} W",
        domain="low",
        **{"1": far, "2": f"{item.id}.LED"},
    )
    context.add(
        report,
        "OK1",
        "coupler",
        part.title,
        f"{part.isolation} barrier",
        barrier=part.isolation,
        A=f"{item.id}.LED",
        K=back,
        C=node,
        E="0V",
    )
    context.add(report, "R2", "resistor", resistor_code(pull), **{"1": VDD, "2": node})
    report.draws = (context.rail.id, top) if context.rail is not None else None
