"""A panel of pulse coils by rows and columns: half-bridges with two control lines each."""

from __future__ import annotations

from latchcore.catalogue.chain_records import LineDriver
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.outcomes import PanelOutcome
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.design.states import Control, Decided
from latchcore.figures.quantity import parse, show
from latchcore.figures.resistance import resistor_words
from latchcore.pieces import panel_sums, several
from latchcore.pieces.bridge_states import STIFF, boots, worked
from latchcore.pieces.frame import Traits, add_part, load_domain, pin_limits
from latchcore.sums import pulls
from latchcore.sums.motion.judge import Motion
from latchcore.sums.motion.power import Chip, Line, Power, Program, Pull, Start

kind = "row_column"
title = "Row and column drivers"
summary = "A half-bridge for each row and column; a dot is flipped by the pulse where both meet."
settings = (
    Setting("driver", "Line driver", "part", family="line_driver"),
    Setting(
        "steering",
        "Each coil hangs",
        "choice",
        choices=(
            ("pairs", "by a diode each way, on a source and a sink wire a line"),
            ("none", "straight between one row and one column"),
        ),
    ),
    Setting(
        "interlock",
        "Both inputs of a line at once",
        "choice",
        choices=(("driver", "do what the driver does"), ("logic", "are kept apart by logic")),
    ),
    Setting("at_once", "Columns pulsed together", "plain", usual="1"),
    Setting("gap", "Rest between two pulses", "seconds", usual="as long as the pulse"),
    Setting("redrawn", "Redrawn every", "seconds", usual="1 s"),
    Setting("bulk", "Capacitor at the panel", "farads"),
    Setting("charge", "Resistor that charges it", "resistance"),
    Setting("pull_resistor", "Pull-down at each input", "ohms", may_omit=True),
)
traits = Traits(side="both", cost=15, fails="shorted: a row or column is driven for good")
#: Pulse that is reckoned with while the program's is not stated [s].
USUAL_PULSE = 10e-3


def suits(context: ChannelContext) -> str | None:
    """Why the stage cannot serve a load, or ``None``."""
    if context.alternating:
        return "it pulses coils on direct current"
    if context.load.kind.model != "panel":
        return "for a panel of pulse coils by rows and columns"
    return None


def missing(context: ChannelContext) -> list[str]:
    """How many rows and columns there are, besides what every stage wants."""
    load = context.channel.load
    return context.missing + ([] if load.rows and load.columns else ["rows and columns"])


def lines(context: ChannelContext) -> list[str]:
    """Names of rows and columns."""
    load = context.channel.load
    rows = [f"r{n + 1}" for n in range(load.rows or 1)]
    return rows + [f"c{n + 1}" for n in range(load.columns or 1)]


def roles(context: ChannelContext) -> tuple[str, ...]:
    """Two inputs for each row and column."""
    return tuple(f"{line}-{level}" for line in lines(context) for level in ("high", "low"))


def pulsed(context: ChannelContext) -> tuple[str, ...]:
    """None is pulsed by a timer: the program makes the pulses."""
    return ()


def asks(key: str, settings: dict[str, str], result: StageResult | None) -> bool:
    """Whether a setting has a bearing on the driver that is fitted."""
    part = result.parts.get("driver") if result is not None else None
    return key != "interlock" or not isinstance(part, LineDriver) or part.at_both == "shorts"


def size(context: ChannelContext) -> StageResult:
    """Size the stage with the user's driver, or the smallest class that holds."""
    fixed = context.around.part(context.setting("driver"))
    if isinstance(fixed, LineDriver):
        return _with(context, fixed, False)
    return best_of(context.around.family("line_driver"), lambda part: _with(context, part, True))


def _with(context: ChannelContext, part: LineDriver, auto: bool) -> StageResult:
    result = StageResult(kind, title, {"driver": part}, auto_part=auto)
    own = roles(context)
    many = -(-len(lines(context)) // part.lines)
    driver = Sized("driver", "Line driver", "U1", "", None, part.title, not auto, many=many)
    result.values.append(driver)
    panel_sums.currents(context, result, part)
    panel_sums.heat(context, result, part)
    panel_sums.sneaks(context, result)
    panel_sums.bulk(context, result, part)
    _supply(context, result, part)
    pull = _pull(context, result, part, len(own))
    _levels(context, result, part)
    locked = part.at_both == "off" or context.setting("interlock") == "logic"
    result.motion = _motion(context, part, pull, locked)
    result.panel = _outcome(context, result, locked)
    _states(context, result)
    _join(context, result, part, own, pull, many)
    result.coil.built_in_clamp = True
    result.pulses.limit = 1 / panel_sums.pulse_of(context)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "load": show(result.each or 0.0, "A"),
        "switch": f"loses ≤ {show(part.upper + part.lower, 'V')}",
        "volts": result.shown_volts,
    }
    return result


def _supply(context: ChannelContext, result: StageResult, part: LineDriver) -> None:
    volts, add = context.volts, result.measures.append
    result.working.note("V_supply_min", "lowest rail voltage", "V", volts.min, {}, {})
    words = "Supply of the drivers"
    add(
        Measure(
            "bridge_supply_most",
            "D3",
            words,
            "V",
            volts.max,
            "max",
            "highest supply",
            "V_supply_max",
            "Over it its switches break through.",
            stop=part.v_supply_max,
            stop_name="highest supply it bears",
        )
    )
    add(
        Measure(
            "bridge_supply_least",
            "D10",
            words,
            "V",
            volts.min,
            "min",
            "lowest supply",
            "V_supply_min",
            "Below it its upper switches are only half on.",
            stop=part.v_supply_min,
            stop_name="least it works from",
        )
    )


def _levels(context: ChannelContext, result: StageResult, part: LineDriver) -> None:
    board, w, add = context.board, result.working, result.measures.append
    w.note("V_OH_min", "low high level of the line", "V", board.voh_noload_min, {}, {})
    w.note("V_OL", "low level of the line", "V", board.vol_noload, {}, {})
    why = "Between both levels a line is neither driven nor let go."
    add(
        Measure(
            "input_high",
            "P7",
            "High level at its inputs",
            "V",
            board.voh_noload_min,
            "min",
            "low logic supply",
            "V_OH_min",
            why,
            stop=part.reads_high,
            stop_name="least level read as high",
        )
    )
    add(
        Measure(
            "input_low",
            "P8",
            "Low level at its inputs",
            "V",
            board.vol_noload,
            "max",
            "highest low level",
            "V_OL",
            why,
            stop=part.reads_low,
            stop_name="highest level read as low",
        )
    )


def _pull(
    context: ChannelContext, result: StageResult, part: LineDriver, many: int
) -> Sized | None:
    """A pull-down at every input, and what an input takes of its line."""
    board, w = context.board, result.working
    pull = None
    if not context.left_out("pull_resistor"):
        yours = context.ohms("pull_resistor")
        leak = board.leakage + part.input_current
        chosen = pulls.choose_pull(board.logic.max, None, leak, part.reads_low, context.tolerance)
        value = yours or (context.resistor(chosen) if chosen else None)
        if value is not None:
            text = resistor_words(value, context.tolerance)
            label = "Pull-down at each input"
            pull = Sized("pull_resistor", label, "R_pd", "Ω", value, text, bool(yours), many=many)
            result.values.append(pull)
    takes = part.input_current + (board.logic.max / pull.low if pull else 0.0)
    result.pin_current = w.note("I_pin", "an input and its pull", "A", takes, {}, {}, "one line")
    pin_limits(context, result, "one line", "An input takes little; its pull takes the rest.")
    return pull


def _motion(context: ChannelContext, part: LineDriver, pull: Sized | None, locked: bool) -> Motion:
    """The states of one row or column: both its inputs, what they pull it to."""
    board = context.board
    held = Pull("low", pull.size) if pull is not None else None
    own = tuple(Line(level, part.reads_low, part.reads_high, held) for level in ("high", "low"))
    both = ("off", "off") if locked else ("high", "low")
    rows = [("10", ("high", "off")), ("01", ("off", "low")), ("00", ("off", "off")), ("11", both)]
    pins = pins_of(context)[:2]
    weak = [pin.pull.min for pin in pins if pin is not None and pin.pull is not None]
    codes = {"off": "00", "high": "10", "low": "01"}
    return worked(
        Power(
            "line",
            context.volts.max,
            STIFF,
            board.logic.max,
            board.logic.max,
            own,
            Program(codes, "off", "off_first", {"high": ("off",), "low": ("off",)}),
            Start(boots(pins), not context.rail_dies_with_board, weak=min(weak, default=20e3)),
            chips=(Chip("line", ("high", "low"), ("out", "out"), tuple(rows), 0.5),),
        )
    )


def _outcome(context: ChannelContext, result: StageResult, locked: bool) -> PanelOutcome:
    """Every dot's code by name, either way, and what redrawing takes."""
    load = context.channel.load
    rows, columns = load.rows or 1, load.columns or 1
    width = 2 * (rows + columns)
    codes = {"rest": "0" * width}
    for r in range(rows):
        for c in range(columns):
            for name, first, second in (("on", 0, 1), ("off", 1, 0)):
                bits = ["0"] * width
                bits[2 * r + first] = "1"
                bits[2 * (rows + c) + second] = "1"
                codes[f"r{r + 1} c{c + 1} {name}"] = "".join(bits)
    return PanelOutcome(rows, columns, codes, "rest", locked, *panel_sums.redraw(context, result))


def _states(context: ChannelContext, result: StageResult) -> None:
    """What a dot does while nobody drives its lines: it keeps its side."""
    board, motion = context.board, result.motion
    if motion is None:
        return

    def found(lines_: str, words: str) -> Decided:
        can = set(motion.table.row(lines_).can_be)
        if can <= {"off"}:
            return Decided(f"{words}: every line is let go; each dot keeps its side", load="off")
        if "off" in can:
            return Decided(f"{words}: nothing decides its lines")
        return Decided(f"{words}: a line is driven", load="on")

    dead = (
        Decided("rail dead as well; each dot keeps its side", load="off")
        if context.rail_dies_with_board
        else found("pp", "dead pins hold its inputs low")
    )
    boot = motion.power.start.boot
    result.drive.active = "high"
    result.states += Control(
        f"{context.channel.id}.PIN",
        "high",
        None,
        off=found("00", "every input low"),
        floating=found("zz", "its inputs as their pulls hold them"),
        boot=found(boot[-1], "as the board starts"),
        dead=dead,
        on_text="one row and one column",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    ).states()


def _join(
    context: ChannelContext,
    result: StageResult,
    part: LineDriver,
    own: tuple[str, ...],
    pull: Sized | None,
    many: int,
) -> None:
    """Inputs, drivers and the panel with its wires."""
    channel, net, prefix = context.channel, result.netlist, context.channel.id
    nodes = several.join_lines(context, result, own)
    rail, back = context.feed.id, context.around.return_of(context.feed)
    net.domains |= {rail: load_domain(context), back: load_domain(context)}
    names, ends = lines(context), {}
    pairs = context.setting("steering") != "none"
    for name in names:
        for tail in ("+", "-") if pairs else ("",):
            ends[f"{name}{tail}"] = f"{prefix}.{name}{tail}"
    net.domains |= {node: load_domain(context) for node in ends.values()}
    coils = (channel.load.rows or 1) * (channel.load.columns or 1)
    what = f"{coils} coils" + (", two diodes each" if pairs else "")
    add_part(context, result, "LOAD", "panel", what, **ends)
    for n in range(many):
        here = names[n * part.lines : (n + 1) * part.lines]
        power = {"VM": rail, "GND": back}
        for k, name in enumerate(here):
            power |= {f"H{k + 1}": nodes[f"{name}-high"], f"L{k + 1}": nodes[f"{name}-low"]}
            power |= {
                f"OUT{k + 1}{tail}": ends[f"{name}{tail}"]
                for tail in (("+", "-") if pairs else ("",))
            }
        add_part(context, result, f"U{n + 1}", "line_driver", part.title, **power)
    if pull is not None:
        for n, role in enumerate(own):
            down = {"1": nodes[role], "2": "0V"}
            add_part(context, result, f"R{n + 1}", "resistor", pull.text, role, **down)
    if context.given("bulk", "F"):
        across = {"1": rail, "2": back}
        text = show(context.given("bulk", "F"), "F")
        add_part(context, result, "C1", "capacitor", text, "at the panel", **across)
        result.values.append(Sized("bulk", "Capacitor at the panel", "C1", "F", None, text, True))


def stated_pulse(context: ChannelContext) -> float | None:
    """The program's pulse [s], where it is stated."""
    return parse(context.channel.longest_on, "s") if context.channel.longest_on else None
