"""A panel of pulse coils by rows and columns: half-bridges with two control lines each."""

from __future__ import annotations

from latchcore.catalogue.chain_records import LineDriver
from latchcore.design.context import ChannelContext
from latchcore.design.kinds import pins_of
from latchcore.design.outcomes import PanelOutcome
from latchcore.design.report import Sized, StageResult
from latchcore.design.stage import Setting, best_of
from latchcore.design.states import Control, Decided
from latchcore.figures.quantity import show
from latchcore.pieces import control_inputs, panel_sums, several
from latchcore.pieces.bridge_states import STIFF, boots, start_of, worked
from latchcore.pieces.frame import Traits, add_part, load_domain
from latchcore.sums.motion.judge import Motion
from latchcore.sums.motion.power import Chip, Line, Power, Program, Pull

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
    Setting("redrawn", "Redrawn every", "seconds", usual="without a pause"),
    Setting("bulk", "Capacitor at the panel", "farads"),
    Setting("charge", "Resistor that charges it", "resistance"),
    Setting("pull_resistor", "Pull-down at each input", "ohms", may_omit=True),
)
traits = Traits(side="both", cost=15, fails="shorted: a row or column is driven for good")


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
    control_inputs.supply_limits(context, result, part)
    pull, holds = control_inputs.input_pulls(context, result, part, len(own))
    between = "Between both levels a line is neither driven nor let go."
    control_inputs.input_levels(context, result, part, between, between)
    locked = part.at_both == "off" or context.setting("interlock") == "logic"
    result.motion = _motion(context, part, pull if holds else None, locked)
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


def _motion(context: ChannelContext, part: LineDriver, pull: Sized | None, locked: bool) -> Motion:
    """The states of one row or column: both its inputs, what they pull it to."""
    board = context.board
    held = Pull("low", pull.size) if pull is not None else None
    own = tuple(Line(level, part.reads_low, part.reads_high, held) for level in ("high", "low"))
    both = ("off", "off") if locked else ("high", "low")
    rows = [("10", ("high", "off")), ("01", ("off", "low")), ("00", ("off", "off")), ("11", both)]
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
            start_of(context, each=2),
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
    result.drive.active = "high"
    result.states += Control(
        f"{context.channel.id}.PIN",
        "high",
        None,
        off=found("00", "every input low"),
        floating=found("zz", "its inputs as their pulls hold them"),
        boot=_booted(context, motion),
        dead=dead,
        on_text="one row and one column",
        upload=f"reset and upload, up to {show(board.upload_time, 's')}",
        start=f"boot, about {show(board.boot_time, 's')}",
        in_volts=False,
    ).states()


def _booted(context: ChannelContext, motion: Motion) -> Decided:
    """As the board starts: a dot turns where a row and a column are driven against each other."""
    pins, rows = pins_of(context), context.channel.load.rows or 1
    ends: dict[bool, set[str]] = {True: set(), False: set()}
    for n in range(len(pins) // 2):
        for code in boots(pins[2 * n : 2 * n + 2]):
            can = set(motion.table.row(code).can_be) - {"off"}
            # Both inputs at once may leave a line at either level.
            ends[n < rows] |= {"high", "low"} if "forbidden" in can else can
    if not ends[True] and not ends[False]:
        return Decided(
            "as the board starts: every line is let go; dots keep their sides", load="off"
        )
    against = {("high", "low"), ("low", "high")}
    if not any((one, other) in against for one in ends[True] for other in ends[False]):
        return Decided("as the board starts: no row is driven against a column", load="off")
    return Decided("as the board starts: a row and a column are driven", load="on")


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
