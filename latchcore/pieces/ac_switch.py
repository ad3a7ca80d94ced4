"""
What every solid-state switch of alternating current shares: heat and sink, voltage class, surge,
leakage, holding, fuse, snubber.
"""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.mains_records import AcSwitch
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.figures.quantity import digits, show
from latchcore.pieces import ac_class, ac_leak, low_side, quench
from latchcore.pieces.frame import add_part, load_domain, return_node
from latchcore.sums import suppression, triac

SETTINGS = (
    Setting("heat_sink", "Heat sink", "thermal", may_omit=True),
    Setting(
        "quench",
        "Across the switch",
        "choice",
        choices=(
            ("fitting", "what fits: a snubber where it is wanted"),
            ("snubber", "resistor and capacitor"),
            ("none", "nothing"),
        ),
    ),
    *(replace(s, when=("quench", ("fitting", "snubber"))) for s in quench.SETTINGS),
    Setting(
        "varistor",
        "Across the line",
        "choice",
        choices=(("none", "nothing"), ("fitting", "a varistor")),
    ),
    Setting("varistor_rating", "Its continuous volts", "volts", when=("varistor", ("fitting",))),
    Setting("varistor_clamp", "It clamps at", "volts", when=("varistor", ("fitting",))),
    Setting("bypass", "Bypass across the load", "farads"),
    Setting(
        "protection",
        "A short is ended by",
        "choice",
        choices=(
            ("sacrificial", "an ordinary fuse; the device may die of it"),
            ("semiconductor", "a semiconductor fuse that saves the device"),
        ),
    ),
    Setting("fuse_i2t", "Its let-through, A²s", "plain", when=("protection", ("semiconductor",))),
)


def switch_measures(
    context: ChannelContext, result: StageResult, part: AcSwitch, extra_leak: float = 0.0
) -> None:
    """Everything the power part is held against, added to the measures of a stage."""
    w, add, ambient = result.working, result.measures.append, context.enclosed
    running = low_side.running_current(context, result)
    add(
        Measure(
            "switch_current",
            "D2",
            "Current through the switch",
            "A",
            running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            "Its printed current is for a case that is kept cool.",
            stop=part.i_rms,
            stop_name="rating",
            typical=result.typical,
        )
    )
    if result.surge > running:
        w.note(
            "I_surge",
            "surge of the load",
            "A",
            result.surge,
            {},
            {},
            "measured or usual for the kind",
        )
        # Its ratings for a half-cycle are peaks, the currents of a load are rms.
        peak = w.calc(
            "I_surge_peak", "I_surge*sqrt(2)", "A", "start of the load", I_surge=(result.surge, "A")
        )
        bears, named = low_side.surge_bearing(
            context, result, part.i_surge, part.i_rms * 2**0.5, "half_cycle"
        )
        add(
            Measure(
                "switch_surge",
                "D13",
                "Peak of the surge through the switch",
                "A",
                peak,
                "max",
                "start of the load",
                "I_surge_peak",
                "More than it bears for as long as that, and it fails shorted: the load stays on.",
                stop=bears,
                fix=context.limits["start_share"] * bears,
                stop_name=named,
                fix_name=f"three fifths of {named}, as it comes at every start",
            )
        )
    _heat(context, result, part, running, ambient)
    ac_class.class_measure(context, result, part.v_drm, "switch")
    ac_class.varistor_measure(context, result)
    quenched = _quench(context, result, part)
    leak = part.leakage + extra_leak + (quenched.leakage if quenched else 0.0)
    w.note("I_typ", "typical running current", "A", result.typical, {}, {})
    ac_leak.leakage_measure(context, result, leak)
    w.note("I_hold", "as printed", "A", part.holding, {}, {})
    add(
        Measure(
            "holding",
            "A4",
            "Running current against its holding current",
            "A",
            result.typical,
            "min",
            "typical load",
            "I_typ",
            "Below its holding current it drops out in every half-cycle.",
            fix=part.holding,
            fix_name="holding current",
        )
    )
    result.pulses.limit = 0.0
    result.output.i2t = part.i2t
    result.output.leaks = leak
    result.load_volts = (context.volts.min - part.drop, context.volts.max)


def _heat(
    context: ChannelContext, result: StageResult, part: AcSwitch, running: float, ambient: float
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
            "Semiconductors on mains fail shorted when they get too hot: the load stays on.",
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


def _quench(
    context: ChannelContext, result: StageResult, part: AcSwitch
) -> suppression.Snubber | None:
    """
    The snubber across the switch, where the load is inductive and the part wants one; ``None``
    where there is none.
    """
    chosen = context.setting("quench") or "fitting"
    bears = getattr(part, "snubberless", False)
    inductive = context.load.kind.inductive
    fit = chosen == "snubber" or (chosen == "fitting" and inductive and not bears)
    result.across.load_clamp = "snubber" if fit or (bears and inductive) else "none"
    if not fit:
        return None
    return quench.snubber(context, result, "Snubber across the switch", "across the switch")


def join_switch(context: ChannelContext, result: StageResult) -> tuple[str, str]:
    """
    Line, switched conductor and load of the netlist, with what stands across; returns line and
    switched node.
    """
    prefix, domain, rail = context.channel.id, load_domain(context), context.feed.id
    switched, back = f"{prefix}.SW", return_node(context)
    result.netlist.domains |= {rail: domain, switched: domain}
    result.netlist.domains.setdefault(back, domain)
    add_part(
        context,
        result,
        "LOAD",
        "load",
        context.channel.load.shown,
        domain=domain,
        **{"+": switched, "-": back},
    )
    bypass = result.value("bypass")
    if bypass is not None:
        add_part(
            context,
            result,
            "Z3",
            "snubber",
            bypass.text,
            "across the load",
            domain=domain,
            **{"1": switched, "2": back},
        )
    snubber = result.value("snubber")
    if snubber is not None:
        add_part(
            context,
            result,
            "Z1",
            "snubber",
            snubber.text,
            "across the switch",
            domain=domain,
            **{"1": rail, "2": switched},
        )
    if context.setting("varistor") == "fitting":
        rating = ac_class.varistor_of(context)
        result.across.varistor = rating
        text = (
            f"varistor {rating:g} V continuous, with thermal protection"
            if rating
            else "no class of varistor fits"
        )
        result.values.append(
            Sized(
                "varistor_part",
                "Varistor across the line",
                "Z2",
                "",
                None,
                text,
                False,
                detail="behind the fuse: it wears and fails short",
            )
        )
        add_part(
            context,
            result,
            "Z2",
            "varistor",
            text,
            "across the line",
            domain=domain,
            **{"1": rail, "2": back},
        )
    return rail, switched
