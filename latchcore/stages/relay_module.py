"""
A ready-made relay module, reckoned from its own input circuit, its coils' supply and its contacts.
"""

from __future__ import annotations

from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, StageResult
from latchcore.figures.quantity import show
from latchcore.figures.spread import Spread
from latchcore.pieces import contact_join, contacts, dry_contact, low_side, module_input
from latchcore.pieces.frame import Traits, add_part
from latchcore.sums import coils

kind = "relay_module"
title = "Relay module"
summary = (
    "Bought ready: its trigger level, its coils' supply and its jumper decide whether it works on"
    " this board."
)
settings = (*module_input.SETTINGS, *contacts.USE_SETTINGS)
traits = Traits(
    isolates=True,
    air_gap=True,
    silent=False,
    side="high",
    cost=3,
    fails="welds on, or does not close",
    note="whether it isolates hangs on its jumper",
)
suits = dry_contact.suits
missing = dry_contact.missing
#: What the module's own driver keeps of the coil's volts while its record does not say: a small
#: transistor in saturation, as its class has it [V].
DRIVER_DROP = Spread(0.05, 0.15, 0.3)


def size(context: ChannelContext) -> StageResult:
    """Reckon one channel of the module."""
    module, auto = module_input.module_of(context)
    feed = module_input.coil_rail(context, module)
    volts = context.around.rail_volts(feed)
    result = StageResult(kind, title, {"module": module}, auto_part=auto)
    unit = module_input.begin(context, result, module, auto, feed)
    result.contact.relay = module
    closed = context.setting("contact") == "NC"
    pair = dry_contact.across_a_pair(context)
    terminals = module_input.join_input(context, result, module, feed)
    terminals |= (dry_contact if pair else contact_join).join(context, result, closed)
    add_part(
        context,
        result,
        "K1",
        module_input.kind_of(context, module, "module"),
        module.title,
        f"{'NC' if closed else 'NO'} contact, {module.isolation} barrier",
        barrier=module.isolation,
        domain="low",
        **terminals,
    )
    module_input.drive_input(context, result, module, unit, feed)
    fed = (
        module_input.regulated(module, volts)
        if module.regulator is not None and module.regulator_feeds == "coils"
        else volts
    )
    _coil(context, result, module, fed, context.around.wire_drop(feed))
    draw = result.working.calc(
        "I_coil",
        "V_coil_rail/R_coil_min",
        "A",
        "highest rail, least coil",
        V_coil_rail=(fed.max, "V"),
        R_coil_min=(module.coil_resistance.min, "Ω"),
    )
    result.coil.rail, result.coil.draws = feed.id, draw
    result.contact.which = "NC" if closed else "NO"
    result.contact.inverts = closed
    result.barrier = module.isolation
    if pair:
        dry_contact.measures(context, result, module, closed)
    else:
        low_side.running_current(context, result)
        contacts.contact_measures(context, result, module, closed)
        result.load_volts = (context.volts.min, context.volts.max)
    contacts.no_pulses(context, result)
    result.live = {
        "pin": show(result.pin_current, "A"),
        "base": "",
        "coil": show(draw, "A"),
        "load": show(context.load.current.max if pair else result.running, "A"),
        "switch": "",
        "volts": context.channel.load.voltage if pair else result.shown_volts,
    }
    return result


def _coil(context, result, module, volts, lost) -> None:
    w, add = result.working, result.measures.append
    keeps = module.driver_drop or DRIVER_DROP
    low = w.calc(
        "V_coil_min",
        "V_rail_min - V_drop_max" + (" - V_wire" if lost else ""),
        "V",
        "low rail, highest drop",
        V_rail_min=(volts.min, "V"),
        V_drop_max=(keeps.max, "V"),
        **({"V_wire": (lost, "V")} if lost else {}),
    )
    typical = w.calc(
        "V_coil_typ",
        "V_rail - V_drop",
        "V",
        "typical",
        V_rail=(volts.typ, "V"),
        V_drop=(keeps.typ, "V"),
    )
    high = w.calc(
        "V_coil_max",
        "V_rail_max - V_drop_min",
        "V",
        "high rail, least drop",
        V_rail_max=(volts.max, "V"),
        V_drop_min=(keeps.min, "V"),
    )
    pull_in = module.pull_in * module.coil
    hot = coils.hot_pull_in(pull_in, context.around.ambient, working=w)
    add(
        Measure(
            "coil_pull_in",
            "C1",
            "Lowest coil voltage",
            "V",
            low,
            "min",
            "low rail, highest drop, hot coil",
            "V_coil_min",
            "Indicator on but no movement: the coil's own supply is too low.",
            fix=hot,
            fix_name="hot pull-in voltage",
            typical=typical,
        )
    )
    add(
        Measure(
            "coil_pull_in_cold",
            "C1",
            "Coil voltage at typical supply",
            "V",
            typical,
            "min",
            "typical rail, coil at 20 °C",
            "V_coil_typ",
            "Below this the armature does not move at all.",
            stop=pull_in,
            stop_name="pull-in voltage",
        )
    )
    add(
        Measure(
            "coil_maximum",
            "C2",
            "Highest coil voltage",
            "V",
            high,
            "max",
            "high rail, least drop",
            "V_coil_max",
            "A regulator on the board may serve the logic and not the coils.",
            stop=module.maximum * module.coil,
            stop_name="maximum continuous voltage",
        )
    )
