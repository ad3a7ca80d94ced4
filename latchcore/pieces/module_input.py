"""
The input of a ready-made module: what stands between the board's pin and whatever the module
switches.
"""

from __future__ import annotations

from latchcore.catalogue.records import Module
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.document.models import Rail
from latchcore.figures.resistance import resistor_words
from latchcore.figures.spread import Spread
from latchcore.pieces import five_states, low_side
from latchcore.pieces.drivers import npn_shifter
from latchcore.pieces.frame import add_part, join_pin, pin_limits
from latchcore.pieces.module_low import _low_input
from latchcore.sums import modules, pulls

#: Channels that share one module share its number.
BOARDS = tuple((str(n), f"module {n}") for n in range(1, 9))
SETTINGS = (
    Setting("module", "Module", "part", family="module"),
    Setting("coil_rail", "Module fed from", "rail"),
    Setting(
        "feed",
        "Input side fed from",
        "choice",
        choices=(
            ("module", "the module's rail"),
            ("logic", "the board's logic supply, jumper taken off"),
            ("rail", "a rail of its own, jumper taken off"),
        ),
    ),
    Setting("input_rail", "Rail of its input side", "rail", when=("feed", ("rail",))),
    Setting("parallel", "Across the input resistor", "ohms", may_omit=True),
    Setting(
        "drive",
        "Between pin and input",
        "choice",
        choices=(("pin", "nothing: the pin itself"), ("npn", "a small NPN")),
    ),
    Setting("base_resistor", "Base resistor", "ohms", when=("drive", ("npn",))),
    Setting("pull_resistor", "Pull resistor at the input", "ohms", may_omit=True),
    Setting(
        "level",
        "Level jumper",
        "choice",
        choices=(
            ("low", "at low: 0 V switches it on"),
            ("high", "at high: a high pin switches it on"),
        ),
    ),
    Setting("board_no", "Which module", "choice", choices=BOARDS),
)


def module_of(
    context: ChannelContext, outputs: tuple[str, ...] = ("contact",)
) -> tuple[Module, bool]:
    """
    The module the user fixed, or the first class of such an output whose supply fits one of the
    rails.
    """
    fixed = context.around.part(context.setting("module"))
    if isinstance(fixed, Module) and (fixed.output == "contact") == (outputs == ("contact",)):
        return fixed, False
    around = context.around
    volts = [around.rail_volts(r).typ for r in around.build.rails] or [0.0]
    kept = [m for m in around.family("module") if m.output in outputs]
    return min(
        kept,
        key=lambda m: min(abs(v - m.coil) for v in volts) > context.limits["coil_match"] * m.coil,
    ), True


def level_of(context: ChannelContext, module: Module) -> str:
    """Which level switches it on: as the module has it, or as its jumper stands."""
    return (context.setting("level") or "low") if module.active == "jumper" else module.active


def pulled_low(context: ChannelContext, module: Module) -> bool:
    """
    Whether the input is switched on by pulling it low; while that is not known, by what its kind of
    input usually is.
    """
    level = level_of(context, module)
    return level == "low" or (level == "unknown" and module.input == "coupler")


def coil_rail(context: ChannelContext, module: Module):
    """The rail the coils hang on: as fixed, else the nearest to their voltage."""
    around = context.around
    rails = [r for r in around.build.rails if not around.alternating(r)] or around.build.rails
    return context.fixed_rail("coil_rail") or min(
        rails, key=lambda r: abs(around.rail_volts(r).typ - module.coil)
    )


def regulated(module: Module, volts: Spread) -> Spread:
    """
    What an on-board regulator gives from a rail [V]: its own volts, or the rail less its drop where
    that is lower.
    """
    given, drop = module.regulator, module.regulator_drop
    return Spread(
        *(
            min(own, max(rail - drop, 0.0))
            for own, rail in (
                (given.min, volts.min),  # type: ignore[union-attr]
                (given.typ, volts.typ),  # type: ignore[union-attr]
                (given.max, volts.max),  # type: ignore[union-attr]
            )
        )
    )


def input_rail(context: ChannelContext, module: Module, feed: Rail) -> Rail | None:
    """
    The rail the inputs hang on: as fixed, else the nearest to their volts; the coils' own unless
    something parts them. ``None`` where the board's logic supply feeds them.
    """
    wanted = context.setting("feed") or "module"
    if wanted == "logic":
        return None
    if wanted == "module":
        return feed
    around = context.around
    rails = [r for r in around.build.rails if not around.alternating(r)] or around.build.rails
    return context.fixed_rail("input_rail") or min(
        rails, key=lambda r: abs(around.rail_volts(r).typ - module.supply)
    )


def input_supply(context: ChannelContext, module: Module, volts: Spread) -> Spread:
    """
    What the input side hangs on: the board's logic supply, the on-board regulator, the rail, or a
    supply of its own.
    """
    if context.setting("feed") == "logic":
        return context.board.logic
    if context.setting("feed") == "rail":
        return volts
    if module.regulator is not None and module.regulator_feeds == "inputs":
        return regulated(module, volts)
    if abs(module.supply - volts.typ) < 0.2 * module.supply or not module.separate:
        return volts
    return Spread.of(module.supply, 0.05)


def input_of(context: ChannelContext, module: Module, supply: Spread) -> modules.ModuleInput:
    """The input circuit with what was put across its resistor."""
    resistor, across = module.input_resistor, context.ohms("parallel")
    if across:
        low, high = (
            1 / (1 / r + 1 / beside)
            for r, beside in ((resistor.min, across.low), (resistor.max, across.high))
        )
        resistor = Spread(low, 1 / (1 / resistor.typ + 1 / across), high)
    none = Spread(0.0, 0.0, 0.0)
    return modules.ModuleInput(supply, resistor, module.led, module.indicator or none)


def kind_of(context: ChannelContext, module: Module, kind: str) -> str:
    """
    Kind of part in the netlist: an input that is driven high returns through the coils' ground
    unless it has its own.
    """
    returns = not pulled_low(context, module) or module.input == "transistor"
    return f"{kind}_joined" if returns and not module.separate else kind


def begin(
    context: ChannelContext, result: StageResult, module: Module, auto: bool, feed
) -> modules.ModuleInput:
    """The module with its input circuit, as sized values and facts; returns the circuit."""
    apart = input_rail(context, module, feed)
    volts = context.around.rail_volts(apart or feed)
    unit = input_of(context, module, input_supply(context, module, volts))
    result.values.append(
        Sized(
            "module",
            "Module",
            "K1",
            "",
            None,
            module.title,
            not auto,
            detail=f"fed from {feed.name}",
        )
    )
    if across := context.ohms("parallel"):
        result.values.append(
            Sized(
                "parallel",
                "Across the input resistor",
                "R_par",
                "Ω",
                across,
                resistor_words(across, context.tolerance),
                True,
            )
        )
    result.module.part = module
    result.module.unit = unit
    result.module.feed = feed
    result.module.input_feed = apart
    result.module.logic_fed = context.setting("feed") == "logic"
    result.drive.active = level_of(context, module)
    return unit


def join_input(
    context: ChannelContext, result: StageResult, module: Module, feed
) -> dict[str, str]:
    """The input side in the netlist; returns the module's terminals on it, by name."""
    net, prefix = result.netlist, context.channel.id
    node = f"{prefix}.IN" if context.setting("drive") == "npn" else join_pin(context, result)
    apart = input_rail(context, module, feed)
    supply = apart.id if apart is not None else "board.VDD"
    back = context.around.return_of(feed)
    net.domains |= {node: "logic", feed.id: "low"}
    net.domains.setdefault(supply, "low")
    net.domains.setdefault(back, "low")
    terminals = {"IN": node, "VCC": supply, "COIL+": feed.id, "GND": back}
    if module.separate and not pulled_low(context, module):
        # Driven high, with a return of its own: nothing of its supply reaches the input.
        terminals = {"IN": node, "IN-": "0V", "COIL+": feed.id, "GND": back}
    if across := context.ohms("parallel"):
        # The module's own resistor lies between its supply and a point only it has: the added one
        # goes round it.
        inner = f"{prefix}.INNER"
        net.domains[inner] = "logic"
        add_part(
            context,
            result,
            "R5",
            "resistor",
            resistor_words(across, context.tolerance),
            "across the module's input resistor",
            **{"1": supply, "2": inner},
        )
        terminals["RIN"] = inner
    return terminals


def drive_input(context: ChannelContext, result: StageResult, module: Module, unit, feed) -> None:
    """Measure the input at its corners, and what it does in the five states."""
    if context.setting("drive") == "npn":
        _through_npn(context, result, module, unit, feed)
    elif pulled_low(context, module):
        _low_input(context, result, module, unit, context.setting("feed") == "logic")
    else:
        _high_input(context, result, module, unit)


def _high_input(context, result, module, unit) -> None:
    board, w, add = context.board, result.working, result.measures.append
    least = w.calc(
        "I_B_in",
        "larger(0, (V_OH_min - V_BE_max)/(R_in_max + r_pin))",
        "A",
        "low pin, high V_BE, high resistor",
        V_OH_min=(board.voh_noload_min, "V"),
        V_BE_max=(unit.drop_max, "V"),
        R_in_max=(unit.resistor.max, "Ω"),
        r_pin=(board.droop, "Ω"),
    )
    add(
        Measure(
            "input_on",
            "P7",
            "Input current with the pin high",
            "A",
            least,
            "min",
            "low pin, high V_BE, high resistor",
            "I_B_in",
            "Too little, and its transistor does not hold the coil.",
            stop=module.on_current,
            stop_name="what its input wants",
        )
    )
    most = w.calc(
        "I_pin",
        "(V_OH_max - V_BE_min)/R_in_min",
        "A",
        "stiff high pin",
        V_OH_max=(board.logic.max, "V"),
        V_BE_min=(unit.drop_min, "V"),
        R_in_min=(unit.resistor.min, "Ω"),
    )
    result.pin_current = most
    pin_limits(context, result, "stiff high pin", "What its input takes.")
    # Its own resistor lies in series and holds nothing down; whether one to ground is inside is not
    # known.
    pull = low_side.pull_down(
        context, result, "pull_resistor", "Pull-down at its input", "R_pd", pulls.BASE_LIMIT
    )
    node = f"{context.channel.id}.PIN"
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": node, "2": "0V"})
    five_states.five_states(
        context, result, node, pulls.BASE_LIMIT, pull, "its transistor conducts"
    )


def _through_npn(context, result, module, unit, feed) -> None:
    """A small NPN between: the input is pulled fully low, or left to rise to its own supply."""
    w = result.working
    _, most = modules.on_currents(unit, 0.0, 0.0, w)
    # Its collector stands at the module's supply, whatever rail the load is on.
    apart = input_rail(context, module, feed) or feed
    at_module = context.around.channel(context.channel.model_copy(update={"rail": apart.id}))
    driver = npn_shifter(at_module, result, most, f"{context.channel.id}.IN")
    if pulled_low(context, module):
        least, _ = modules.on_currents(unit, 0.0, driver.drop_max, w)
        why = "Too little, and the relay chatters or stays off."
    else:
        least, why = (
            w.note("I_on_min", "an NPN only pulls low", "A", 0.0, {}, {}),
            "This input wants to be driven high; an NPN only pulls low.",
        )
    result.measures.append(
        Measure(
            "input_on",
            "P7",
            "Input current with the transistor on",
            "A",
            least,
            "min",
            "low supply, high V_F, high resistor",
            "I_on_min",
            why,
            stop=module.on_current,
            stop_name="what its input wants",
        )
    )
    result.drive.active = "unknown" if level_of(context, module) == "unknown" else "high"
