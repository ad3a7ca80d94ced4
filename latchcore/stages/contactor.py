"""A contactor for what a relay should not switch, its coil on the line behind a relay's contact."""

from __future__ import annotations

from dataclasses import replace

from latchcore.catalogue.mains_records import Contactor
from latchcore.design.context import ChannelContext
from latchcore.design.report import Measure, Sized, StageResult
from latchcore.design.stage import Setting
from latchcore.document.models import Load, Stage
from latchcore.figures.quantity import show, span
from latchcore.figures.slack import exceeds
from latchcore.figures.working import renamed
from latchcore.pieces import coil_and_contact, contacts, low_side
from latchcore.pieces.frame import Traits, add_part, load_domain, power_load, return_node
from latchcore.sums import ampacity
from latchcore.sums import contacts as sums

kind = "contactor"
title = "Contactor behind a relay"
summary = (
    "For heaters and motors that are too much for a relay: main poles made for the line, a coil on"
    " the line, a small relay that switches that coil."
)
_OWN = ("contact", "moves", "side_by_side")
settings = (
    Setting("contactor", "Contactor", "part", family="contactor"),
    *(s for s in coil_and_contact.SETTINGS if s.key not in _OWN and not s.key.startswith("hold")),
)
traits = Traits(
    isolates=True,
    air_gap=True,
    silent=False,
    side="high",
    cost=9,
    fails="welds on, or does not close",
    note="main poles break both sides where asked",
)
#: A contactor for motors makes ten times its rating, that is what its motor figure is for; its
#: poles wear like a contact's.
MOTOR_MAKES = 10.0
#: Shares of its voltage from which a contactor's coil closes it, and up to which it bears it.
PULLS_IN, MOST_VOLTS = 0.85, 1.1
#: Until its armature has seated its coil draws its surge [s].
SEATS = 0.05
#: Kinds of duty its motor figure is meant for.
MOTORS = ("induction_motor", "brush_motor", "dc_motor", "pump")


#: The relay's own figures keep names of their own beside the load's.
PILOT_NAMES = {
    "I_load": "I_pilot",
    "R_load": "R_pilot",
    "I_make": "I_pilot_make",
    "I_share": "I_pilot_share",
    "V_line": "V_pilot",
    "V_supply": "V_pilot_supply",
}


beginning = contacts.beginning


def suits(context: ChannelContext) -> str | None:
    """Its coil hangs on the line of the load: alternating current only."""
    return power_load(context) or (
        None
        if context.alternating
        else "its coil wants alternating current; on direct current a relay or a MOSFET serves"
    )


def choose(context: ChannelContext) -> tuple[Contactor, bool]:
    """
    The contactor the user fixed, or the smallest whose coil bears this line at both its ends and
    whose poles carry the load.
    """
    fixed = context.around.part(context.setting("contactor"))
    if isinstance(fixed, Contactor):
        return fixed, False
    current, duty = low_side.rough_current(context), contacts.duty_of(context)[0]
    family = context.around.family("contactor")
    volts = context.volts

    def unfit(part: Contactor) -> tuple:
        pulls_in = not exceeds(PULLS_IN * part.coil, volts.min)
        bears = pulls_in and not exceeds(volts.max, MOST_VOLTS * part.coil)
        short = (part.motors if duty in MOTORS else part.heaters) < current
        return (
            not bears,
            part.poles < contacts.poles_wanted(context),
            short,
            part.heaters,
            abs(part.coil - volts.typ),
        )

    return min(family, key=unfit), True


def size(context: ChannelContext) -> StageResult:
    """Size the relay for the contactor's coil, then hold the main poles against the load."""
    part, auto = choose(context)
    hazards = context.channel.load.hazards or context.load.hazards or []
    coil = Load(
        kind="ac_coil",
        voltage=f"{part.coil:g} V",
        figure=f"{part.coil_current:g} A",
        surge=f"{part.coil_current * part.coil_surge:g} A",
        surge_time=show(SEATS, "s"),
        hazards=list(hazards),  # type: ignore[arg-type]
    )
    own = {
        k: v
        for k, v in context.channel.stage.settings.items()
        if k not in ("contactor", "breaks", *_OWN)
    }
    proxy = context.around.channel(
        context.channel.model_copy(
            update={"load": coil, "pwm": None, "stage": Stage(kind="relay_contact", settings=own)}
        )
    )
    result = coil_and_contact.size(proxy, kind, title)
    result.values.insert(
        0,
        Sized(
            "contactor",
            "Contactor",
            "K2",
            "",
            None,
            part.title,
            not auto,
            detail=f"coil {show(part.coil_current, 'A')}, behind the relay",
        ),
    )
    result.parts["contactor"] = part
    _coil(context, result, part)
    pilot = result.running
    result.working.rename(PILOT_NAMES)
    for held in (result.measures, result.states):
        held[:] = [replace(item, symbol=renamed(item.symbol, PILOT_NAMES)) for item in held]  # type: ignore[misc]
    result.measures[:] = [m for m in result.measures if m.key != "life"]
    low_side.running_current(context, result)
    _poles(context, result, part)
    _join(context, result, part, pilot)
    result.running += pilot
    result.contact.which = "NO"
    result.contact.inverts = False
    result.loose.pilot = pilot
    result.live |= {
        "load": show(result.running - pilot, "A"),
        "volts": span(context.volts.min, context.volts.max, "V"),
    }
    return result


def _coil(context: ChannelContext, result: StageResult, part: Contactor) -> None:
    w, volts = result.working, context.volts
    w.note("V_main_coil", "lowest line", "V", volts.min, {}, {}, "lowest line")
    result.measures.append(
        Measure(
            "main_coil",
            "C1",
            "Volts on the contactor's coil",
            "V",
            volts.min,
            "min",
            "lowest line",
            "V_main_coil",
            "A contactor that does not seat chatters, and its coil burns.",
            fix=PULLS_IN * part.coil,
            fix_name="85 % of its coil's voltage",
            typical=volts.typ,
        )
    )
    w.note("V_main_coil_typ", "nominal line", "V", volts.typ, {}, {}, "nominal line")
    result.measures.append(
        Measure(
            "main_coil_typ",
            "C1",
            "Volts on the contactor's coil, nominal line",
            "V",
            volts.typ,
            "min",
            "nominal line",
            "V_main_coil_typ",
            "Below this it never closes.",
            stop=PULLS_IN * part.coil,
            stop_name="85 % of its coil's voltage",
        )
    )
    w.note("V_main_coil_max", "highest line", "V", volts.max, {}, {}, "highest line")
    result.measures.append(
        Measure(
            "main_coil_max",
            "C2",
            "Most volts on the contactor's coil",
            "V",
            volts.max,
            "max",
            "highest line",
            "V_main_coil_max",
            "Heat in a coil goes with the square of its volts.",
            stop=MOST_VOLTS * part.coil,
            stop_name="110 % of its coil's voltage",
        )
    )


def _poles(context: ChannelContext, result: StageResult, part: Contactor) -> None:
    """
    K1 to K3 of the main poles: a figure of their own for motors, the share of the kind for the
    rest.
    """
    w, add, (name, duty) = result.working, result.measures.append, contacts.duty_of(context)
    motor = name in MOTORS
    rating, share = (part.motors, 1.0) if motor else (part.heaters, duty["share"])
    allowed = w.calc(
        "I_poles",
        "share*I_pole",
        "A",
        name.replace("_", " "),
        "its motor figure" if motor else "what a contact bears of this kind of load",
        share=(share, ""),
        I_pole=(rating, "A"),
    )
    add(
        Measure(
            "main_current",
            "K1",
            "Current through the main poles",
            "A",
            result.running,
            "max",
            "highest supply, least load resistance",
            "I_load_max",
            "The figure for heaters is not the figure for anything else.",
            stop=rating,
            fix=allowed,
            stop_name="rating",
            fix_name=f"share for a {name.replace('_', ' ')}",
            typical=result.typical,
        )
    )
    if result.surge > result.running:
        w.note(
            "I_start",
            "upper end of the usual surge" if not context.load.surge_measured else "as measured",
            "A",
            result.surge,
            {},
            {},
        )
        making = MOTOR_MAKES * part.motors
        add(
            Measure(
                "main_making",
                "K2",
                "Surge the main poles close onto",
                "A",
                result.surge,
                "max",
                "start of the load",
                "I_start",
                "A welded contactor leaves the load on, whatever the program says.",
                stop=making if context.hazardous else None,
                fix=making,
                stop_name="what its motor figure allows",
                fix_name="what its motor figure allows",
            )
        )
    w.note("V_poles", "nominal line voltage", "V", context.volts.typ, {}, {})
    add(
        Measure(
            "main_volts",
            "K3",
            "Voltage across the open poles",
            "V",
            context.volts.typ,
            "max",
            "nominal line",
            "V_poles",
            "A contact printed for less does not put the arc out in time.",
            stop=part.volts,
            stop_name="printed voltage",
        )
    )
    times = (result.running / allowed) if allowed else 1.0
    result.contact.duty = name
    result.contact.allowed = allowed
    result.contact.life = (
        sums.MECHANICAL_LIFE
        if times <= 0
        else min(sums.MECHANICAL_LIFE, duty["life"] * times**-1.5)
    )


def _coil_fuse(
    context: ChannelContext, result: StageResult, part: Contactor, rail: str, pilot: float
) -> None:
    """
    The coil's own circuit is thin: a fuse of its own between the line and the relay's contact, so
    that a short there does not meet the load's.
    """
    surge, relay, node = (
        part.coil_current * part.coil_surge,
        result.parts["relay"],
        f"{context.channel.id}.CTL",
    )
    size = next(
        (
            f
            for f in ampacity.FUSES
            if 1.25 * pilot <= f <= relay.contact_amperes  # type: ignore[attr-defined]
            and ampacity.melting_time(surge / f) > SEATS
        ),
        None,
    )
    if size is None:
        return
    contact = result.netlist.the(f"{context.channel.id}.K1")
    moved = next((t for t, n in contact.terminals.items() if t == "COM" and n == rail), None)
    if moved is None:
        return
    detail = f"before the relay's contact; stands {show(surge, 'A')} until the contactor has closed"
    result.values.append(
        Sized(
            "coil_fuse",
            "Fuse of the coil's circuit",
            "F1",
            "",
            None,
            f"slow {show(size, 'A')}",
            False,
            detail=detail,
        )
    )
    contact.terminals[moved] = node
    result.netlist.domains[node] = load_domain(context)
    add_part(
        context,
        result,
        "F1",
        "fuse",
        f"slow {show(size, 'A')}",
        "in the coil's circuit",
        domain=load_domain(context),
        **{"1": rail, "2": node},
    )
    thin = [node, *contact.terminals.values()]
    result.loose.node_currents = {
        n: pilot
        for n in thin
        if n != rail and result.netlist.domains.get(n) == load_domain(context)
    }


def _join(context: ChannelContext, result: StageResult, part: Contactor, pilot: float) -> None:
    """The relay's load becomes the contactor's coil; the load hangs on its main poles."""
    net, prefix, domain, rail, back = (
        result.netlist,
        context.channel.id,
        load_domain(context),
        context.feed.id,
        return_node(context),
    )
    coil = net.the(f"{prefix}.LOAD")
    net.parts.remove(coil)
    out, ret = f"{prefix}.OUT", f"{prefix}.RET"
    both = context.setting("breaks") == "both"
    poles = {"1": rail, "2": out} | ({"3": back, "4": ret} if both else {})
    net.domains |= {out: domain, ret: domain} if both else {out: domain}
    _coil_fuse(context, result, part, rail, pilot)
    add_part(
        context,
        result,
        "K2",
        "contactor",
        part.title,
        "functional barrier",
        barrier="functional",
        domain=domain,
        A1=coil.terminals["+"],
        A2=coil.terminals["-"],
        **poles,
    )
    add_part(
        context,
        result,
        "LOAD",
        "load",
        context.channel.load.shown,
        domain=domain,
        **{"+": out, "-": ret if both else back},
    )
    result.contact.breaks = "both" if both else "live"
    # What stands across the relay's load is the contactor's coil's; the load's own kick is its
    # poles'.
    result.across.load_clamp = "snubber"
    # At the line's voltage a film is broken through whatever the current.
    result.contact.under_wetting = False
