"""A ready-made relay module, reckoned from its own input circuit, its coils' supply and its contacts."""

from __future__ import annotations

from latchcore.catalogue.records import Module
from latchcore.context import ChannelContext
from latchcore.quantity import resistor_code, show, span
from latchcore.report import Measure, Sized, StageResult, State
from latchcore.spread import Spread
from latchcore.stages import contacts, low_side
from latchcore.stages.base import Setting
from latchcore.stages.drivers import npn_shifter
from latchcore.stages.frame import UNPOWERED_PIN, Traits, add_part, join_pin, power_only, return_node
from latchcore.sums import modules, pulls
from latchcore.transients import coils

kind = "relay_module"
title = "Relay module"
summary = "Bought ready: its trigger level, its coils' supply and its jumper decide whether it works on this board."
settings = (
    Setting("module", "Module", "part", family="module"),
    Setting("coil_rail", "Coils fed from", "rail"),
    Setting("feed", "Input side fed from", "choice", choices=(("module", "the coils' rail"), ("logic", "the board's logic supply, jumper taken off"))),
    Setting("parallel", "Across the input resistor", "ohms", may_omit=True),
    Setting("drive", "Between pin and input", "choice", choices=(("pin", "nothing: the pin itself"), ("npn", "a small NPN"))),
    Setting("base_resistor", "Base resistor", "ohms", when=("drive", ("npn",))),
    Setting("pull_resistor", "Base-emitter resistor", "ohms", may_omit=True, when=("drive", ("npn",))),
    Setting("contact", "Contact", "choice", choices=(("NO", "normally open, the load off when dead"), ("NC", "normally closed, the load on when dead"))),
    Setting("load_clamp", "Clamp at the load", "choice", choices=(("diode", "diode across an inductive load"), ("none", "none"))),
)
traits = Traits(isolates=True, air_gap=True, silent=False, side="high", cost=3, fails="welds on, or does not close", note="whether it isolates hangs on its jumper")
suits = power_only
#: What the module's own driver keeps of the coil's volts: a small transistor in saturation, as its class has it [V].
DRIVER_DROP = Spread(0.05, 0.15, 0.3)


def module_of(context: ChannelContext) -> tuple[Module, bool]:
    """The module the user fixed, or the first class whose coils fit one of the rails."""
    fixed = context.around.part(context.setting("module"))
    if isinstance(fixed, Module):
        return fixed, False
    around = context.around
    volts = [around.rail_volts(r).typ for r in around.build.rails] or [0.0]
    return min(around.family("module"), key=lambda m: min(abs(v - m.coil) for v in volts) > 0.12 * m.coil), True


def pulled_low(module: Module) -> bool:
    """Whether the input is switched on by pulling it low; while that is not known, by what its kind of input usually is."""
    return module.active == "low" or (module.active == "unknown" and module.input == "coupler")


def coil_rail(context: ChannelContext, module: Module):
    """The rail the coils hang on: as fixed, else the nearest to their voltage."""
    around = context.around
    return context.fixed_rail("coil_rail") or min(around.build.rails, key=lambda r: abs(around.rail_volts(r).typ - module.coil))


def input_of(context: ChannelContext, module: Module, supply: Spread) -> modules.ModuleInput:
    """The input circuit with what was put across its resistor."""
    resistor, across = module.input_resistor, context.ohms("parallel")
    if across:
        tol = context.tolerance
        low, high = (1 / (1 / r + 1 / (across * t)) for r, t in ((resistor.min, 1 - tol), (resistor.max, 1 + tol)))
        resistor = Spread(low, 1 / (1 / resistor.typ + 1 / across), high)
    none = Spread(0.0, 0.0, 0.0)
    return modules.ModuleInput(supply, resistor, module.led, module.indicator or none)


def size(context: ChannelContext) -> StageResult:
    """Reckon one channel of the module."""
    module, auto = module_of(context)
    feed = coil_rail(context, module)
    volts = context.around.rail_volts(feed)
    result = StageResult(kind, title, {"module": module}, auto_part=auto)
    w, board = result.working, context.board
    logic = context.setting("feed") == "logic"
    supply = board.logic if logic else volts if abs(module.supply - volts.typ) < 0.2 * module.supply or not module.separate else Spread.of(module.supply, 0.05)
    unit = input_of(context, module, supply)
    result.values.append(Sized("module", "Module", "K1", "", None, module.title, not auto, detail=f"coils on {feed.name}"))
    if context.ohms("parallel"):
        across = context.ohms("parallel")
        result.values.append(Sized("parallel", "Across the input resistor", "R_par", "Ω", across, resistor_code(across), True))
    result.facts |= {"relay": module, "unit": unit, "module_feed": feed, "logic_fed": logic, "active": module.active}
    _join(context, result, module, feed)
    if context.setting("drive") == "npn":
        _through_npn(context, result, module, unit, feed)
    elif pulled_low(module):
        _low_input(context, result, module, unit, logic)
    else:
        _high_input(context, result, module, unit)
    _coil(context, result, module, volts)
    draw = w.calc("I_coil", "V_coil_rail/R_coil_min", "A", "highest rail, least coil", V_coil_rail=(volts.max, "V"), R_coil_min=(module.coil_resistance.min, "Ω"))
    closed = context.setting("contact") == "NC"
    result.facts |= {"coil_draw": (feed.id, draw), "contact": "NC" if closed else "NO", "inverts": closed, "barrier": module.barrier}
    low_side.running_current(context, result)
    contacts.contact_measures(context, result, module, closed)
    result.load_volts = (context.volts.min, context.volts.max)
    contacts.no_pulses(context, result)
    result.live = {"pin": show(result.pin_current, "A"), "base": "", "coil": show(draw, "A"), "load": show(result.running, "A"), "switch": "",
                   "volts": span(*result.load_volts, "V")}  # fmt: skip
    return result


def _coil(context, result, module, volts) -> None:
    w, add = result.working, result.measures.append
    low = w.calc("V_coil_min", "V_rail_min - V_drop_max", "V", "low rail, highest drop", V_rail_min=(volts.min, "V"), V_drop_max=(DRIVER_DROP.max, "V"))
    typical = w.calc("V_coil_typ", "V_rail - V_drop", "V", "typical", V_rail=(volts.typ, "V"), V_drop=(DRIVER_DROP.typ, "V"))
    high = w.calc("V_coil_max", "V_rail_max - V_drop_min", "V", "high rail, least drop", V_rail_max=(volts.max, "V"), V_drop_min=(DRIVER_DROP.min, "V"))
    pull_in = module.pull_in * module.coil
    hot = coils.hot_pull_in(pull_in, context.around.ambient, working=w)
    add(Measure("coil_pull_in", "C1", "Lowest coil voltage", "V", low, "min", "low rail, highest drop, hot coil", "V_coil_min",
                "Indicator on but no movement: the coil's own supply is too low.", fix=hot, fix_name="hot pull-in voltage", typical=typical))  # fmt: skip
    add(Measure("coil_pull_in_cold", "C1", "Coil voltage at typical supply", "V", typical, "min", "typical rail, coil at 20 °C", "V_coil_typ",
                "Below this the armature does not move at all.", stop=pull_in, stop_name="pull-in voltage"))  # fmt: skip
    add(Measure("coil_maximum", "C2", "Highest coil voltage", "V", high, "max", "high rail, least drop", "V_coil_max",
                "A regulator on the board may serve the logic and not the coils.", stop=module.maximum * module.coil, stop_name="maximum continuous voltage"))  # fmt: skip


def _low_input(context, result, module, unit, logic) -> None:
    board, w, add = context.board, result.working, result.measures.append
    least, most = modules.on_currents(unit, 0.0, board.vol_max, w)
    w.note("I_on_need", "as the module wants", "A", module.on_current, {}, {})
    add(Measure("input_on", "P7", "LED current with the pin low", "A", least, "min", "low supply, high V_F, high resistor", "I_on_min",
                "Too little, and the relay chatters or stays off; an indicator in series can eat all of 3.3 V.", stop=module.on_current, stop_name="what its input wants"))  # fmt: skip
    result.pin_current = most
    add(Measure("pin_current", "P1", "Current into the pin when ON", "A", most, "max", "high supply, low V_F, low resistor", "I_on_max",
                "The pin sinks what the LED takes.", stop=board.pin_absolute, fix=board.pin_recommended, stop_name="absolute limit", fix_name="recommended current"))  # fmt: skip
    off = modules.off_current(unit, board.logic.min, logic, w)
    left = w.calc("I_C_off", "I_off*CTR_max", "A", "highest transfer ratio", I_off=(off, "A"), CTR_max=(module.transfer_max, ""))
    add(Measure("input_off", "P8", "Left in its next stage with the pin high", "A", left, "max", "high module supply, low logic supply, highest transfer", "I_C_off",
                "The pin, though high, stands below the module's supply: the LED stays lit and the relay never lets go.", stop=module.off_current,
                stop_name="what its next stage bears"))  # fmt: skip
    held = board.logic.min + board.over_supply
    injected = 0.0 if logic else modules.held_current(unit, held, "I_inj", "floating, held by the pin's protection", w)
    if not logic:
        add(Measure("injection", "P9", "Current injected into the floating pin", "A", injected, "max", "high module supply, low logic supply", "I_inj",
                    "While the pin floats its protection carries what the module pushes into it.", stop=board.injection_limit, stop_name="injection limit"))  # fmt: skip
    _active_low_states(context, result, module, unit, off, injected, logic)


def _active_low_states(context, result, module, unit, off, injected, logic) -> None:
    board, pin, node, w, add = context.board, context.pin, f"{context.channel.id}.PIN", result.working, result.states.append
    ratio, limit = module.transfer_max, module.off_current

    def load(current: float) -> str:
        return "off" if current * ratio <= limit else "on"

    result.facts["stays_on"] = load(off) == "on"
    add(State("commanded_off", "Commanded off", "program", node, None, None, load(off), f"pin high; {show(off, 'A')} left in the LED", "I_off"))
    add(State("commanded_on", "Commanded on", "program", node, None, None, "on", "pin low: the LED is lit"))
    add(State("floating", "Floating", f"reset and upload, up to {show(board.upload_time, 's')}", node, None, None, load(injected),
              f"{show(injected, 'A')} through the pin's protection" if injected else "the input rises to its own supply"))  # fmt: skip
    weak = modules.weakly_pulled_current(unit, pin.pull.min, w) if pin and pin.reset == "pull_down" and pin.pull else 0.0
    acts = pin is not None and pin.reset in ("driven_low", "pulses")
    says = "the pin pulses" if acts and pin.reset == "pulses" else "the pin is driven low" if acts else f"{show(weak, 'A')} through the board's pull-down" if weak else "nothing pulls it low"
    add(State("weakly_pulled", "Weakly pulled or driven at boot", f"boot, about {show(board.boot_time, 's')}", node, None, None,
              "on" if acts else load(max(weak, injected)), says))  # fmt: skip
    same = logic or result.facts["module_feed"].source == "board_pin"
    dead = 0.0 if same else modules.held_current(unit, UNPOWERED_PIN, "I_dead", "board unpowered", w)
    result.facts |= {"back_feed": dead, "back_feed_through": "module's input"}
    add(State("unpowered", "Board unpowered, load supply live", "cable pulled", node, None, None, "off" if same else load(dead),
              "the inputs' supply is dead as well" if same else f"the dead pin leads {show(dead, 'A')} into the board"))  # fmt: skip
    add(State("hung", "Program hung with the output on", "until somebody notices", node, None, None, "on", "stays as it was commanded"))


def _high_input(context, result, module, unit) -> None:
    board, w, add = context.board, result.working, result.measures.append
    least = w.calc("I_B_in", "larger(0, (V_OH_min - V_BE_max)/(R_in_max + r_pin))", "A", "low pin, high V_BE, high resistor",
                   V_OH_min=(board.voh_noload_min, "V"), V_BE_max=(unit.drop_max, "V"), R_in_max=(unit.resistor.max, "Ω"), r_pin=(board.droop, "Ω"))  # fmt: skip
    add(Measure("input_on", "P7", "Input current with the pin high", "A", least, "min", "low pin, high V_BE, high resistor", "I_B_in",
                "Too little, and its transistor does not hold the coil.", stop=module.on_current, stop_name="what its input wants"))  # fmt: skip
    most = w.calc("I_pin", "(V_OH_max - V_BE_min)/R_in_min", "A", "stiff high pin", V_OH_max=(board.logic.max, "V"), V_BE_min=(unit.drop_min, "V"), R_in_min=(unit.resistor.min, "Ω"))
    result.pin_current = most
    add(Measure("pin_current", "P1", "Pin current", "A", most, "max", "stiff high pin", "I_pin", "What its input takes.", stop=board.pin_absolute,
                fix=board.pin_recommended, stop_name="absolute limit", fix_name="recommended current"))  # fmt: skip
    # Its own resistor lies in series and holds nothing down; whether one to ground is inside is not known.
    pull = low_side.pull_down(context, result, "pull_resistor", "Pull-down at its input", "R_pd", pulls.BASE_LIMIT)
    node = f"{context.channel.id}.PIN"
    if pull:
        add_part(context, result, "R2", "resistor", pull.text, **{"1": node, "2": "0V"})
    low_side.five_states(context, result, node, pulls.BASE_LIMIT, pull, "its transistor conducts")


def _through_npn(context, result, module, unit, feed) -> None:
    """A small NPN between: the input is pulled fully low, or left to rise to its own supply."""
    w = result.working
    _, most = modules.on_currents(unit, 0.0, 0.0, w)
    # Its collector stands at the module's supply, whatever rail the load is on.
    at_module = context.around.channel(context.channel.model_copy(update={"rail": feed.id}))
    driver = npn_shifter(at_module, result, most, f"{context.channel.id}.IN")
    if pulled_low(module):
        least, _ = modules.on_currents(unit, 0.0, driver.drop_max, w)
        why = "Too little, and the relay chatters or stays off."
    else:
        least, why = w.note("I_on_min", "an NPN only pulls low", "A", 0.0, {}, {}), "This input wants to be driven high; an NPN only pulls low."
    result.measures.append(
        Measure("input_on", "P7", "Input current with the transistor on", "A", least, "min", "low supply, high V_F, high resistor", "I_on_min", why,
                stop=module.on_current, stop_name="what its input wants")
    )  # fmt: skip
    result.facts["active"] = "unknown" if module.active == "unknown" else "high"


def _join(context: ChannelContext, result: StageResult, module: Module, feed) -> None:
    net, prefix, ground = result.netlist, context.channel.id, return_node(context)
    through = context.setting("drive") == "npn"
    node = f"{prefix}.IN" if through else join_pin(context, result)
    rail, fed = context.rail.id, f"{prefix}.FED"
    net.domains |= {rail: "low", fed: "low", node: "logic"}
    net.domains.setdefault(ground, "low")
    supply = "board.VDD" if context.setting("feed") == "logic" else feed.id
    coil_return = f"{feed.id}.0V" if feed.ground == "own" else "0V"
    net.domains.setdefault(coil_return, "low")
    contact, across = "NC" if context.setting("contact") == "NC" else "NO", context.ohms("parallel")
    add_part(context, result, "K1", "module", module.title, f"{contact} contact, {module.barrier} barrier" + (f", {resistor_code(across)} across its input resistor" if across else ""), domain="low",
             **{"IN": node, "VCC": supply, "COIL+": feed.id, "GND": coil_return, "COM": rail, contact: fed})  # fmt: skip
    contacts.load_on_contact(context, result, fed, ground)
