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
from latchcore.pieces import ac_class, ac_leak, low_side, quench, sink
from latchcore.pieces.frame import add_part, load_domain, return_node
from latchcore.sums import suppression

SETTINGS = (
    sink.SETTING,
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
    Setting(
        "load_clamp",
        "Across the load",
        "choice",
        choices=(
            ("none", "nothing"),
            ("snubber", "resistor and capacitor, in place of one across the switch"),
            ("varistor", "a varistor"),
            ("diode", "a diode"),
        ),
    ),
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
    sink.measure(context, result, part, running, ambient)
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


def _quench(
    context: ChannelContext, result: StageResult, part: AcSwitch
) -> suppression.Snubber | None:
    """
    The snubber across the switch, where the load is inductive and the part wants one; ``None``
    where there is none.
    """
    at_load = context.setting("load_clamp")
    if at_load == "snubber":
        # Seen from the switch the line is a short: it slows the volts as one across it would, and
        # leaks nothing through the load.
        result.across.load_clamp, result.across.at_load = "snubber", True
        quench.snubber(context, result, "Snubber at the load", "across the load")
        return None
    chosen = context.setting("quench") or "fitting"
    bears = getattr(part, "snubberless", False)
    inductive = context.load.kind.inductive
    fit = chosen == "snubber" or (chosen == "fitting" and inductive and not bears)
    result.across.load_clamp = "snubber" if fit or (bears and inductive) else "none"
    if at_load == "diode":
        result.across.load_clamp = "diode"
    if not fit:
        return None
    return quench.snubber(context, result, "Snubber across the switch", "across the switch")


def _at_load(context: ChannelContext, result: StageResult, switched: str, back: str) -> None:
    """A varistor or a diode across the load, as somebody has it."""
    chosen, domain = context.setting("load_clamp"), load_domain(context)
    if chosen == "varistor":
        rating = suppression.varistor(context.volts.max, ac_class.VARISTORS)
        text = f"varistor {rating:g} V continuous" if rating else "no class of varistor fits"
        says = "behind the switch: it wears and fails short"
        result.values.append(
            Sized("load_varistor", "Varistor at the load", "Z5", "", None, text, False, detail=says)
        )
        add_part(
            context,
            result,
            "Z5",
            "varistor",
            text,
            "across the load",
            domain=domain,
            **{"1": switched, "2": back},
        )
    elif chosen == "diode":
        title = context.around.family("diode")[1].title
        result.values.append(Sized("load_diode", "Diode at the load", "D3", "", None, title, False))
        add_part(
            context,
            result,
            "D3",
            "diode",
            title,
            "at the load",
            domain=domain,
            A=back,
            K=switched,
        )


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
            "across the load" if result.across.at_load else "across the switch",
            domain=domain,
            **{"1": switched, "2": back} if result.across.at_load else {"1": rail, "2": switched},
        )
    _at_load(context, result, switched, back)
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
