"""What a contact is held against: share by kind, DC curve, making, wetting, life, and the state when everything is dead."""

from __future__ import annotations

from latchcore.catalogue.records import Relay
from latchcore.context import ChannelContext
from latchcore.quantity import show
from latchcore.report import Measure, Sized, StageResult
from latchcore.stages import clamps, low_side
from latchcore.stages.frame import add_part
from latchcore.sums import contacts

#: Kind of contact duty of each load kind.
DUTY = {
    "filament_lamp": "filament_lamp", "led_lamp": "switch_mode_or_led_lamp", "dc_motor": "dc_motor", "relay_coil": "dc_coil_clamped",
    "solenoid": "dc_coil_clamped",
}  # fmt: skip


def duty_of(context: ChannelContext) -> tuple[str, dict[str, float]]:
    """Kind of contact duty of a load with its figures."""
    name = DUTY.get(context.channel.load.kind, "resistive_heater")
    return name, context.around.catalogue.contacts[name]


def shared(context: ChannelContext, relay: Relay, running: float, closed: bool) -> contacts.ContactShare:
    """Share, surge and making of a relay's contact for the channel's load."""
    _, kind = duty_of(context)
    measured = context.load.surge if context.load.surge_measured else None
    return contacts.contact_share(
        rating=relay.contact_amperes, share=kind["share"], surge_ratio=kind["surge"], surge_lasts=kind["lasts"], running=running,
        making=relay.making, closed=closed, cheap_board=relay.cheap_board, surge=measured,
    )  # fmt: skip


def allowed_current(context: ChannelContext, relay: Relay, running: float, closed: bool = False) -> float | None:
    """Running current a relay's contact is allowed for the channel's load at its highest supply [A]; ``None`` where refused."""
    _, kind = duty_of(context)
    found = shared(context, relay, running, closed)
    curve = contacts.dc_curve(context.volts.max, found.rating, relay.dc_good_to)
    return None if curve is None else min(found.allowed, curve * kind["share"])


def contact_measures(context: ChannelContext, result: StageResult, relay: Relay, closed: bool) -> None:
    """Everything a contact is held against, added to the measures of a stage."""
    w, add, volts, running = result.working, result.measures.append, context.volts.max, result.running
    name, kind = duty_of(context)
    found = shared(context, relay, running, closed)
    w.note("V_supply_max", "highest rail voltage", "V", volts, {}, {}, "highest supply")
    good_to = relay.dc_good_to if relay.dc_good_to is not None else contacts.DC_VOLTS[-1]
    add(Measure("contact_volts", "K3", "Voltage across the open contact", "V", volts, "max", "highest supply", "V_supply_max",
                "Direct current has no zero that puts the arc out.", stop=good_to, stop_name="highest direct voltage it is good to"))  # fmt: skip
    curve = contacts.dc_curve(volts, found.rating, relay.dc_good_to, w)
    if curve is not None:
        within = running <= curve
        if volts > contacts.DC_VOLTS[0]:
            add(Measure("contact_curve", "K3", "Current broken at this voltage", "A", running, "max", "highest supply, least load resistance", "I_load_max",
                        "Above thirty volts the arc stands longer and longer: the printed current is for less.", stop=curve,
                        stop_name="DC curve of the contact"))  # fmt: skip
        share = w.calc("I_share", "share*I_DC", "A", name.replace("_", " "), "what a contact bears of this kind of load",
                       share=(kind["share"], ""), I_DC=(curve, "A"))  # fmt: skip
        steady = min(share, found.steady)
        add(Measure("contact_current", "K1", "Current through the contact", "A", running, "max", "highest supply, least load resistance", "I_load_max",
                    "The number on the lid is for a resistive load; this kind gets its share of it.", stop=found.rating, fix=steady if within else None,
                    stop_name="rating", fix_name=f"share for a {name.replace('_', ' ')}", typical=result.typical))  # fmt: skip
    _surge(context, result, found)
    _life(context, result, relay, running, closed, kind)
    result.facts |= {"share": found, "duty": name, "allowed": allowed_current(context, relay, running, closed)}
    typical = result.typical
    result.facts["under_wetting"] = (context.volts.min < relay.wetting_volts or typical < relay.wetting_amperes) and typical > 0
    result.facts["wetting"] = f"{show(relay.wetting_volts, 'V')} and {show(relay.wetting_amperes, 'A')}"


def load_on_contact(context: ChannelContext, result: StageResult, fed: str, ground: str) -> None:
    """The load behind the contact, with the diode an inductive one wants across it: the coil's own does nothing for it."""
    add_part(context, result, "LOAD", "load", context.channel.load.shown, domain="low", **{"+": fed, "-": ground})
    if context.load.kind.inductive and context.setting("load_clamp") != "none":
        diode = clamps.choose_clamp(context, low_side.rough_current(context)).diode or context.around.family("diode")[1]
        result.parts["load_diode"] = diode
        result.values.append(Sized("load_diode", "Diode at the load", "D3", "", None, diode.title, False, detail="band to plus"))
        add_part(context, result, "D3", "diode", diode.title, "at the load, band to plus", domain="low", A=ground, K=fed)


def no_pulses(context: ChannelContext, result: StageResult) -> None:
    """D9: a contact follows no PWM, whatever drives its coil."""
    result.facts["pwm_limit"] = 0.0
    result.measures[:] = [m for m in result.measures if m.key != "pwm"]
    if context.frequency:
        result.working.note("f_mech", "a contact follows no pulses", "Hz", 0.0, {}, {})
        result.measures.append(Measure("pwm", "D9", "PWM on a mechanical contact", "Hz", context.frequency, "max", "armature", "f_mech",
                                       "A contact wears with every operation: PWM is not for it.", stop=context.limits["contact_hertz"], stop_name="what a contact should follow"))  # fmt: skip


def _surge(context: ChannelContext, result: StageResult, found: contacts.ContactShare) -> None:
    if found.surge <= result.running * (1 + 1e-9):
        return
    w = result.working
    w.note("I_make", "upper end of the usual surge" if not context.load.surge_measured else "as measured", "A", found.surge, {}, {})
    result.facts["making_unknown"] = found.making is None
    if found.making is None:
        return
    limits = dict(stop=found.making) if context.hazardous else dict(fix=found.making)
    result.measures.append(
        Measure("contact_surge", "K2", "Current at closing", "A", found.surge, "max", "upper end of the usual surge", "I_make",
                "A contact that closes onto more than it can make welds, and the load then stays on.", **limits,
                stop_name="making capacity", fix_name="making capacity")
    )  # fmt: skip


def _life(context, result, relay, running, closed, kind) -> None:
    allowed = allowed_current(context, relay, running, closed)
    if allowed is None or running <= 0:
        return
    life = contacts.contact_life(running, allowed, kind["life"], result.working)
    result.facts["life"] = life
    many = context.channel.cycles_per_day
    if life is None or not many:
        return
    days = result.working.calc("t_life", "N/n_day", "", "at the highest running current", N=(life, ""), n_day=(many, ""))
    result.facts["life_days"] = days
    result.measures.append(
        Measure("contact_life", "K6", "Days the contact lasts", "", days, "min", "at the highest running current", "t_life",
                "Every opening burns a little of the contact away.", fix=365.0, fix_name="a year")
    )  # fmt: skip
