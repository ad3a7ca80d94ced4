"""The direct-current input of a solid-state device: on the pin, or pulled by an NPN."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.design.stage import Setting
from latchcore.pieces import five_states, low_side
from latchcore.pieces.drivers import SHIFTER_SETTINGS, npn_shifter
from latchcore.pieces.frame import add_part, join_pin, pin_limits
from latchcore.sums import pulls

SETTINGS = (
    Setting(
        "drive",
        "Its input is driven by",
        "choice",
        choices=(
            ("whichever", "the pin if its level does, else an NPN"),
            ("pin", "the pin itself"),
            ("npn", "an NPN, fed from a rail"),
        ),
    ),
    Setting("coil_rail", "Input fed from", "rail"),
    *(s for s in SHIFTER_SETTINGS),
)


def _feed(context: ChannelContext, part):
    """The rail the input hangs on behind an NPN: as fixed, else the first that fits its range."""
    around, fixed = context.around, context.fixed_rail("coil_rail")
    rails = [
        r
        for r in around.build.rails
        if r.id != context.channel.rail and not around.hazardous(r) and not around.alternating(r)
    ]
    return fixed or next(
        (
            r
            for r in rails
            if part.input_min <= around.rail_volts(r).min
            and around.rail_volts(r).max <= part.input_max
        ),
        None,
    )


def drive(context: ChannelContext, result: StageResult, part) -> tuple[str, str]:
    """
    Measure the input of a device at its corners and in the five states.

    Parameters
    ----------
    part : Record
        With ``input_min``, ``input_max`` [V] and ``input_current`` [A]

    Returns
    -------
    tuple
        Nodes its plus and minus hang on
    """
    board, w, prefix = context.board, result.working, context.channel.id
    level = board.voh_noload_min - board.droop * part.input_current
    feed, chosen = _feed(context, part), context.setting("drive") or "whichever"
    through_npn = chosen == "npn" or (
        chosen == "whichever" and level < part.input_min and feed is not None
    )
    plus, minus = f"{prefix}.IN", "0V"
    if through_npn and feed is not None:
        plus, minus = feed.id, f"{prefix}.PULL"
        at_feed = context.around.channel(context.channel.model_copy(update={"rail": feed.id}))
        driver = npn_shifter(at_feed, result, part.input_current, minus)
        result.netlist.domains.setdefault(plus, "low")
        result.coil.rail, result.coil.draws = feed.id, part.input_current
        volts = context.around.rail_volts(feed)
        least = w.calc(
            "V_input_min",
            "V_feed_min - V_CE",
            "V",
            "low supply, most volts kept by the transistor",
            V_feed_min=(volts.min, "V"),
            V_CE=(driver.drop_max, "V"),
        )
    else:
        pin = plus = join_pin(context, result)
        pull = low_side.pull_down(
            context, result, "pull_resistor", "Pull-down at the input", "R_pd", pulls.BASE_LIMIT
        )
        if pull:
            add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
        five_states.five_states(context, result, pin, 1.0, pull, "its input is fed")
        least = w.calc(
            "V_input_min",
            "V_OH_min - r_pin*I_in",
            "V",
            "low pin, its input current",
            V_OH_min=(board.voh_noload_min, "V"),
            r_pin=(board.droop, "Ω"),
            I_in=(part.input_current, "A"),
        )
        w.note("I_pin", "what its input takes", "A", part.input_current, {}, {})
        result.pin_current = part.input_current
        pin_limits(
            context,
            result,
            "its input on",
            "A pin over its recommended current loses level and ages.",
            setting="drive",
        )
    result.measures.append(
        Measure(
            "input_volts",
            "P7",
            "Volts at its input",
            "V",
            least,
            "min",
            "low level, its input current drawn",
            "V_input_min",
            "A nominal least of 3 V is marginal on 3.3 V logic: in some half-cycles it fires, in"
            " others not.",
            stop=part.input_min,
            stop_name="least its input takes",
            setting="drive",
        )
    )
    most = (
        context.around.rail_volts(feed).max if through_npn and feed is not None else board.logic.max
    )
    w.note("V_input_max", "highest level at its input", "V", most, {}, {}, "highest supply")
    result.measures.append(
        Measure(
            "input_most",
            "S8",
            "Most volts at its input",
            "V",
            most,
            "max",
            "highest supply",
            "V_input_max",
            "Over it the LED inside, or what limits its current, burns.",
            stop=part.input_max,
            stop_name="most its input takes",
            setting="coil_rail",
        )
    )
    return plus, minus
