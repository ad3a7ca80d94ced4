"""A pin straight into the logic input of another device, both ways: high and low are driven."""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, sized_resistor
from latchcore.design.states import Control, Decided, at_boot, quiet
from latchcore.figures.preferred import largest_below
from latchcore.figures.quantity import show
from latchcore.figures.resistance import resistor_words
from latchcore.figures.windows import Bound, resistor_window
from latchcore.pieces import foreign, lines
from latchcore.pieces.frame import (
    UNPOWERED_PIN,
    Traits,
    add_part,
    join_pin,
    model_only,
    pin_limits,
    pwm_measure,
)

kind = "pin_logic"
title = "Pin straight into the line"
summary = (
    "A resistor between, nothing else: for a logic input of the board's own volts. Both share their"
    " ground, and neither may feed the other while it is dead."
)
settings = (
    Setting("series_resistor", "Series resistor", "ohms", may_omit=True),
    Setting("pull_resistor", "Pull-down at the pin", "ohms", may_omit=True),
    Setting(
        "acts_on",
        "The other device acts",
        "choice",
        choices=(("low", "while the line is low"), ("high", "while the line is high")),
    ),
    foreign.GROUND,
)
traits = Traits(cost=0, fails="as if it were always or never asked")
suits = model_only("logic")
missing = lines.no_rail_needed
#: Shares of its own volts an input reads as high and as low; an open line stands so much above
#: what was measured on it.
READS_HIGH, READS_LOW, ABOVE = 0.7, 0.3, 1.1
#: Edges of a pin, with what hangs on it [s].
EDGE = 1e-6


def size(context: ChannelContext) -> StageResult:
    """Size the resistor between both, and hold each level against what the other side reads."""
    result = StageResult(kind, title)
    load, w = context.load, result.working
    active = context.setting("acts_on") or "low"
    result.drive.active = active
    top = w.note(
        "V_line_max", "open, a tenth above what was measured", "V", ABOVE * load.rated, {}, {}
    )
    own = load.resistance.min
    current = lines.line_current(context, result)
    resistor = _resistor(context, result, current)
    series = (resistor.low, resistor.high) if resistor else (0.0, 0.0)
    sinks = w.calc(
        "I_pin",
        "V_line_max/(R_line_min + R_s_min)",
        "A",
        "line held low",
        V_line_max=(top, "V"),
        R_line_min=(own, "Ω"),
        R_s_min=(series[0], "Ω"),
    )
    result.pin_current = sinks
    pin_limits(
        context,
        result,
        "line held low",
        "The pin sinks what the line's own pull-up gives.",
        sinks=True,
    )
    _levels(context, result, active, sinks, series[1], top)
    pwm_measure(context, result, EDGE, EDGE, "edges of a pin behind its resistor")
    _floating(context, result, own + series[0], top)
    known = context.resistor(resistor.value or 0.0) if resistor else None
    foreign.dead_device(context, result, known)
    pull = _pull(context, result, own, series[1]) if active == "high" else None
    pin, line = join_pin(context, result), f"{context.channel.id}.LINE+"
    if resistor is not None:
        add_part(context, result, "R1", "resistor", resistor.text, **{"1": pin, "2": line})
    else:
        add_part(context, result, "W1", "wire", "no resistor", **{"1": pin, "2": line})
    if pull is not None:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": pin, "2": "0V"})
    lines.join_line(context, result, line, foreign.minus(context))
    _states(context, result, active, pull, (own, *series), top)
    result.live = lines.live(context, result, current, "")
    return result


def _resistor(context: ChannelContext, result: StageResult, current: float) -> Sized | None:
    if context.left_out("series_resistor"):
        return None
    left = READS_LOW * context.load.rated - context.board.vol_noload
    most = max(left / max(current, 1e-9) - context.board.sink_droop, 1.0)
    window = resistor_window(
        context.series,
        context.tolerance,
        [
            Bound(
                "dead_device",
                foreign.least_resistor(context.board),
                "what the other side bears dead",
            )
        ],
        [Bound("line_low", most, "the line must still be read as low")],
        None,
        "least",
    )
    # Where both cannot be had, the line works and what a dead device gets is said.
    works = largest_below(context.series, most / (1 + context.tolerance))
    sized = sized_resistor(
        context,
        "series_resistor",
        "Series resistor",
        "R_s",
        window,
        "other device dead; line low",
        prefer=None if window.admissible else works,
    )
    result.values.append(sized)
    return sized


def _levels(
    context: ChannelContext,
    result: StageResult,
    active: str,
    sinks: float,
    series: float,
    top: float,
) -> None:
    board, load, w, add = context.board, context.load, result.working, result.measures.append
    low = w.calc(
        "V_low",
        "V_OL + I_pin*(R_s_max + r_sink)",
        "V",
        "line held low, resistor at its top",
        V_OL=(board.vol_noload, "V"),
        I_pin=(sinks, "A"),
        R_s_max=(series, "Ω"),
        r_sink=(board.sink_droop, "Ω"),
    )
    on, off = ("P7", "P8") if active == "low" else ("P8", "P7")
    add(
        Measure(
            "line_low",
            on,
            "Low level on the line",
            "V",
            low,
            "max",
            "line held low, resistor at its top",
            "V_low",
            "The other side must read it as low.",
            stop=READS_LOW * load.rated,
            stop_name="three tenths of its own volts",
            setting="series_resistor",
        )
    )
    high = w.note("V_high", "least high level of the pin", "V", board.voh_noload_min, {}, {})
    add(
        Measure(
            "line_high",
            off,
            "High level on the line",
            "V",
            high,
            "min",
            "low logic supply",
            "V_high",
            "The other side must read it as high; a level shifter or a transistor lifts it.",
            stop=READS_HIGH * load.rated,
            stop_name="seven tenths of its own volts",
        )
    )


def _floating(context: ChannelContext, result: StageResult, ohms: float, top: float) -> None:
    """P9: what the line pushes into the pin while that floats."""
    board = context.board
    into = result.working.calc(
        "I_inj",
        "larger(0, (V_line_max - V_bears)/R_path)",
        "A",
        "pin floating, low logic supply",
        V_line_max=(top, "V"),
        V_bears=(board.logic.min + board.over_supply, "V"),
        R_path=(ohms, "Ω"),
    )
    result.measures.append(
        Measure(
            "injection",
            "P9",
            "Current injected into the floating pin",
            "A",
            into,
            "max",
            "highest line, low logic supply",
            "I_inj",
            "While the pin floats its protection carries what the line pushes into it.",
            stop=board.injection_limit,
            stop_name="injection limit",
        )
    )


def _pull(context: ChannelContext, result: StageResult, own: float, series: float) -> Sized | None:
    """A pull-down at the pin that holds the line low against its own pull-up."""
    if context.left_out("pull_resistor"):
        return None
    most = own * READS_LOW / (ABOVE - READS_LOW) - series
    yours = context.ohms("pull_resistor")
    value = yours or context.resistor(
        largest_below("E12", max(most, 1.0) / (1 + context.tolerance)) or 1.0
    )
    sized = Sized(
        "pull_resistor",
        "Pull-down at the pin",
        "R_pd",
        "Ω",
        value,
        resistor_words(value, context.tolerance),
        yours is not None,
        corner="least pull-up of the line",
        detail=f"up to {show(most, 'Ω')} holds the line low" if most > 0 else "none can hold it",
    )
    result.values.append(sized)
    return sized


def _states(
    context: ChannelContext,
    result: StageResult,
    active: str,
    pull: Sized | None,
    path: tuple[float, float, float],
    top: float,
) -> None:
    """
    Driven both ways, held by the line's own pull-up while floating, and at a diode's volts while
    the board is dead; the drive is counted from the level that is off.
    """
    ohms = path[0] + path[1]
    board, pin, limit, w = (
        context.board,
        context.pin,
        READS_LOW * context.load.rated,
        result.working,
    )
    fed = w.calc(
        "I_back",
        "larger(0, (V_line_max - V_dead)/R_path)",
        "A",
        "board unpowered, the line live",
        V_line_max=(top, "V"),
        V_dead=(UNPOWERED_PIN, "V"),
        R_path=(ohms, "Ω"),
    )
    result.drive.back_feed, result.drive.back_feed_through = fed, "other device's pull-up"
    dead = f"the dead pin holds it at {UNPOWERED_PIN:g} V; {show(fed, 'A')} go into the board"
    if active == "low":
        floating = Decided("held high by its own pull-up", 0.0)
        against = None
        if pin is not None and pin.reset == "pull_down" and pin.pull:
            left = w.calc(
                "V_weak",
                "V_line*R_weak/(R_weak + R_path)",
                "V",
                "the board's own pull-down at its least",
                V_line=(context.load.rated, "V"),
                R_weak=(pin.pull.min, "Ω"),
                R_path=(ohms, "Ω"),
            )
            against = Decided(
                "its own pull-up against the board's pull-down", context.load.rated - left
            )
        off = Decided("pin high", max(0.0, context.load.rated - board.voh_noload_min))
        boot, gone = at_boot(pin, board, "low", True, against), Decided(dead, load="on")
    else:
        held = None
        if pull is not None:
            held = w.calc(
                "V_float",
                "V_line_max*(R_pd*(1 + tol) + R_s)/(R_pd*(1 + tol) + R_s + R_line)",
                "V",
                "pull-down at its top against the line's own pull-up",
                V_line_max=(top, "V"),
                R_pd=(pull.value, "Ω"),
                tol=(pull.tolerance, ""),
                R_s=(path[2], "Ω"),
                R_line=(path[0], "Ω"),
            )
        floating = (
            quiet(held, limit, "held by the pull-down", "V_float")
            if pull is not None
            else Decided("its own pull-up asks for it", top, "on")
        )
        off = Decided("pin low", board.vol_noload)
        boot, gone = at_boot(pin, board, "high", pull is not None, floating), Decided(dead, 0.0)
        if pin is not None and pin.reset == "floating":
            boot = floating
    control = Control(
        f"{context.channel.id}.LINE+",
        active,
        limit,
        off=off,
        floating=floating,
        boot=boot,
        dead=gone,
        on_text=f"pin {active}",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    )
    result.states += control.states()
