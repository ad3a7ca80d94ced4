"""What mends a finding: candidate edits, each tried on a copy and offered only where the finding then is gone."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from latchcore.advice import other
from latchcore.advice.modules import ways
from latchcore.advice.other import Candidate, Edits
from latchcore.design.context import ChannelContext
from latchcore.design.report import Finding, Remedy, StageResult
from latchcore.document.models import Build
from latchcore.edits import EditError, apply
from latchcore.figures.quantity import show
from latchcore.findings import fuses, guards
from latchcore.stages import STAGES
from latchcore.sums import ampacity

#: A builder wants a choice, not a list.
MOST_REMEDIES = 3
#: Where no edit of the design helps, this is what to ask for.
ADVICE = {
    "A1": "Use a stage made for this kind of current, or a rail of the other kind.",
    "A3": "A sink with a lower figure, moving air, or a part with a lower drop; enter what is fitted.",
    "A4": "Use a relay or a contactor, or a part that leaks and holds less; a resistor beside the load would take up what leaks, but it runs hot on the line.",
    "A8": "Use a triac with a lower gate current, or a solid-state device; at low voltage a contact serves.",
    "K1": "Use a larger relay, or a contactor; or split the load.",
    "K2": "Use a relay or contactor with a printed making capacity over this, limit the surge, or measure it and enter it at the load.",
    "K3": "Use a part printed for these volts, with its figures entered; direct current beyond a contact's curve wants a solid-state stage, or a rail of fewer volts.",
    "K4": "Use a relay with gold contacts, a reed or a solid-state stage; on the line a film is usually broken through: check now and then that it still closes.",
    "K8": "A contactor or a relay with two poles breaks both sides at once; say at the rail how its plug and conductors are.",
    "K10": "Measure the way along its board and enter it on the module's sheet, or use a bare relay with its distance printed.",
    "D3": "Use a part that blocks more, with its figures entered, or a lower rail.",
    "C8": "Let the program end it within what it bears, and end it in hardware besides: a timer, a thermal cut-out or a capacitor that empties; then enter after how long.",
    "C7": "Nothing in the drawer lets it go that soon below what the switch blocks: a switch for more volts, then a higher zener.",
    "T3": "Say how it is at the mains station: a cut-out in series that no program overrides, an input that confirms it, a longest on-time; or say that somebody watches.",
    "T6": "Say at the mains station what it does when power returns.",
    "X5": "Fit a way out by hand, then say so at the mains station.",
    "S6": "Shorten the wire, or feed the load from a rail near it.",
    "P2": "Give the loads with the most pin current a MOSFET, or use a board that may give more.",
    "P3": "Use another pin, or a board with more outputs.",
    "P7": "Put a level shifter or an optocoupler between pin and stage, or use a board with a higher logic level.",
    "C1": "Raise the supply, or use a coil for a lower voltage.",
    "C2": "Lower the supply, or use a coil for this voltage.",
    "S8": "Use a supply of the load's own voltage, or a load for this rail.",
    "D2": "Use a part with a higher current rating; enter its figures with the build.",
    "D13": "Limit the surge (warm-up resistor, soft start), or use a part with a higher pulse rating.",
    "P13": "Feed the load from a rail that dies with the board, or put a transistor between.",
}


def candidates(context: ChannelContext, result: StageResult, finding: Finding) -> Iterator[Candidate]:
    """Edits that might mend a finding, the least change first; they are tried before they are shown."""
    channel, settings = context.channel.id, context.channel.stage.settings

    def setting(**values: str) -> Edits:
        return (("set_setting", {"channel": channel, **values}),)

    def stage(kind: str) -> Edits:
        return (("set_stage", {"channel": channel, "stage": kind}),)

    check = finding.check
    if check in ("P1", "D1", "D7", "D9", "D13", "D14") or (check == "D4" and "gate_resistor" in settings):
        for key, symbol in (("base_resistor", "base"), ("gate_resistor", "gate"), ("series_resistor", "series")):
            if key in settings:
                yield f"Use {{{key}}} Ω as the {symbol} resistor", setting(**{key: "auto"})
    if check in ("P6", "P4", "D4", "P1", "D1") and "pull_resistor" in settings:
        yield "Fit a pull resistor of {pull_resistor} Ω", setting(pull_resistor="auto")
    if check == "D4" and settings.get("pull_side") == "gate":
        yield "Move the pull-down to the pin side", setting(pull_side="pin")
    if check in ("D1", "D2", "D3", "D4", "D5", "D6", "D9", "D11", "D13", "C1", "P7") and "transistor" in settings:
        yield "Use the {transistor}", setting(transistor="auto")
    if check == "D1" and settings.get("school"):
        yield "Size by the build's own school", setting(school="auto")
    if check == "D14":
        for watts in ("0.5 W", "1 W", "2 W"):
            yield f"Fit a {watts} resistor", setting(resistor_watts=watts)
    if check == "C4":
        yield "Add a {clamp_diode}, band to the rail", setting(clamp="diode", clamp_band="rail")
        yield "Add diode and zener for a quicker release", setting(clamp="diode_zener", clamp_band="rail")
    if check == "C7":
        # The lowest zener that is soon enough leaves the switch the most room.
        for zener in sorted(context.around.family("zener"), key=lambda z: z.v_z.typ):
            yield "Use diode and zener: {clamp_zener}", setting(clamp="diode_zener", clamp_zener=zener.id, clamp_band="rail")
    if check == "C8" and context.channel.load.longest_rated:
        yield f"Let the program end it after {context.channel.load.longest_rated}", (("set_switching", {"channel": channel, "longest_on": context.channel.load.longest_rated}),)
    if check == "P14":
        yield "Turn the watchdog on and say so", (("set_watchdog", {"watchdog": "yes"}),)
    if check == "T6":
        yield "Let it stay off until asked", (("set_guards", {"channel": channel, "on_return": "stays_off"}),)
    if check == "T2":
        wanted = {key: show(least, "s") for key, least in guards.rests(context).items() if least}
        words = {"shortest_on": "run at least", "shortest_off": "wait at least"}
        yield "Let the program " + " and ".join(f"{words[key]} {text}" for key, text in wanted.items()), (("set_switching", {"channel": channel} | wanted),)
    if check == "S6":
        table = context.around.wires(context.dangerous)
        for area in table:
            yield f"Wire of {ampacity.area_words(area, table)}", (("set_wire", {"channel": channel, "wire_area": ampacity.area_words(area, table)}),)
    if check == "S7":
        sizes = fuses.own_fuses(context, result)
        yield from ((f"A slow fuse of {show(size, 'A')}", (("set_wire", {"channel": channel, "fuse": show(size, "A")}),)) for size in sizes[:1])
        yield "No fuse of its own", (("set_wire", {"channel": channel, "fuse": ""}),)
    if check == "P12" and context.channel.on_level:
        used = context.channel
        yield f"Let the program switch on with the pin {result.on_with}", (("set_use", {"channel": used.id, "when_dead": used.when_dead, "on_level": result.on_with,
              "cycles_per_day": str(used.cycles_per_day or ""), "release_within": used.release_within or ""}),)  # fmt: skip
        yield "Put a small NPN between pin and input", setting(drive="npn")
    if check == "C3":
        yield "Switch it on and off, without pulses", (("set_switching", {"channel": channel, "pwm": ""}),)
    if check == "C5":
        yield "Turn the diode round, band to the rail", setting(clamp_band="rail")
        yield "Use the {clamp_zener}", setting(clamp_zener="auto")
        yield "Use a plain diode instead", setting(clamp="diode", clamp_band="rail")
    if check in ("C6", "D3"):
        yield "Use the {clamp_diode}", setting(clamp_diode="auto")
        if "clamp_zener" in settings:
            yield "Use the {clamp_zener}", setting(clamp_zener="auto")
        if settings.get("clamp", "diode") != "diode":
            yield "Use a plain diode instead", setting(clamp="diode")
    if check in ("P3", "P4", "P5", "P6", "P10"):
        yield from other.pins(context, check)
    if check in ("P13", "P9") and settings.get("connection") == "sink":
        yield "Connect the LED between pin and 0 V", setting(connection="source")
    if check in ("D8", "P13", "P9") and settings.get("drive") == "pin":
        yield "Put a small NPN between pin and gate", setting(drive="npn")
    if check == "I3":
        if "line_ground" in {s.key for s in STAGES[result.kind].settings}:
            yield "Join the line's ground with the board's, at one point", setting(line_ground="joined")
        elif context.rail is not None:
            yield f"Join the ground of {context.rail.name} with the board's, at one point", (("set_rail", {"rail": context.rail.id, "ground": "shared"}),)
        for kind in ("coupler_nmos", "coupler_pmos", "coupler_logic", "bridge_reed"):
            yield f"Use {STAGES[kind].title[0].lower()}{STAGES[kind].title[1:]}", stage(kind)
    if result.kind in ("relay_module", "solid_module") and check in ("P7", "P8", "P9", "P13", "P6", "P1"):
        for way in ways(context):
            if way.settings and not way.used:
                yield f"{way.title}", setting(**{k: v or "auto" for k, v in way.settings.items()})
    if check == "K7":
        yield "Use the other contact", setting(contact="NO" if result.facts.get("contact") == "NC" else "NC")
        yield "Use the {relay}", setting(relay="auto")
    if check == "A5":
        for key, words in (("snubber_class", "A capacitor of class X2: {snubber}"), ("snubber_resistor", "Let its resistor be sized: {snubber}"), ("quench", "Put across the switch what fits: {snubber}")):
            if key in settings:
                yield words, setting(**{key: "auto"})
    if check in ("C4", "C5", "A5") and "load_clamp" in settings:
        yield "Put across the load what fits it: {load_diode}{snubber}", setting(load_clamp="auto")
    if result.kind in ("relay_module", "solid_module") and check in ("A1", "A2", "A4", "D2", "D3", "A9"):
        yield "Use the {module}", setting(module="auto")
        yield "Use a relay: the {relay}", stage("relay_contact")
    if check == "K9":
        yield "Use one contact, of a relay that carries it: the {relay}", setting(side_by_side="auto", relay="auto")
        yield "Use one contact", setting(side_by_side="auto")
    if check == "K8":
        yield "Break the live side", setting(breaks="auto")
        if "contactor" in result.parts:
            yield "Break both sides: the {contactor}", setting(breaks="both", contactor="auto")
        else:
            yield "Break both sides by two poles: the {relay}", setting(breaks="both", relay="auto")
    if check == "K5":
        yield "Use the {relay}", setting(relay="auto")
    if check in ("K1", "K2", "K3", "K6") and result.kind in ("relay_contact", "relay_module"):
        yield "Use the {relay}", setting(relay="auto")
    if check in ("C1", "C2"):
        yield from other.coil_rails(context, result)
    if check in ("C1", "C2", "S8", "P9", "P13"):
        yield from other.rails(context)
    if finding.measure is not None:
        # Whatever the user fixed may be what stands in the way: let it be sized again, one thing at a time.
        for fixed in STAGES[result.kind].settings:
            if fixed.key in settings and fixed.kind != "choice":
                yield f"Let the {fixed.label.lower()} be sized: {{{fixed.key}}}", setting(**{fixed.key: "auto"})
    yield from other.stages(context, result, check)
    if check == "K8" and context.rail.plug == "unknown":
        yield "It was looked at: the plug fits one way only", (("set_rail", {"rail": context.rail.id, "plug": "polarised"}),)


def remedies(
    context: ChannelContext, result: StageResult, finding: Finding, standing: list[Finding],
    trial: Callable[[Build, str], tuple[StageResult, list[Finding]] | None], tried: dict[str, tuple[StageResult, list[Finding]] | None] | None = None,
) -> tuple[Remedy, ...]:  # fmt: skip
    """
    The candidates that work: after the edit the finding is gone, no stop has come, and a fix only in the place of a stop.

    Parameters
    ----------
    context, result, finding
        The channel, its result, and what is to be mended
    standing : list of Finding
        What stands at the channel now
    trial : callable
        Evaluates one channel of a changed build to its result and findings
    tried : dict, optional
        What was tried at this channel already, for several findings may be mended by one edit
    """
    def attempt(edits: Edits) -> tuple[StageResult, list[Finding]] | None:
        changed = context.around.build
        try:
            for name, args in edits:
                changed, _ = apply(changed, name, args, context.around.catalogue)
        except EditError:
            return None
        return trial(changed, context.channel.id)

    working, tried = [], {} if tried is None else tried
    for label, edits in candidates(context, result, finding):
        known = repr(edits)
        if known not in tried:
            tried[known] = attempt(edits)
        outcome = tried[known]
        if outcome is None:
            continue
        after, found = outcome
        if any(f.check == finding.check for f in found) or weight(found) >= weight(standing) or _worsens(standing, found, finding):
            continue
        if after.kind != result.kind and context.dangerous and not other.keeps_apart(context, after):
            continue
        text = label.format_map(_Texts(after))
        if not any(r.label == text for r in working):
            working.append(Remedy(text, edits, _outcome(after, finding)))
        if len(working) == MOST_REMEDIES:
            break
    if not working:
        working.append(Remedy(ADVICE.get(finding.check, "Change the load, the supply or the part; no single change of this stage mends it.")))
    return tuple(working)


def _worsens(before: list[Finding], after: list[Finding], mended: Finding) -> bool:
    """Whether a stop has come that did not stand before, or a fix that is not the lesser evil in the place of a stop."""
    stood = {(f.check, f.severity) for f in before}
    return any(f.severity == "stop" and (f.check, "stop") not in stood or f.severity == "fix" and mended.severity != "stop" and stood.isdisjoint({(f.check, "stop"), (f.check, "fix")}) for f in after)


def weight(findings: list[Finding]) -> int:
    """Stops over fixes over the rest, to tell better from worse."""
    return sum({"stop": 1000, "fix": 10}.get(f.severity, 1) for f in findings)


class _Texts(dict):
    """Fills a label from the sized values of the tried design."""

    def __init__(self, result: StageResult):
        # The package is of no matter in a label; the figures are.
        self.update({"load_diode": "", "snubber": ""})
        self.update({v.key: ",".join(v.text.split(",")[:2]) for v in result.values})

    def __missing__(self, key: str) -> str:
        return "part"


def _outcome(result: StageResult, finding: Finding) -> str:
    if finding.measure is not None:
        after = result.measure(finding.measure.key)
        if after is not None:
            return f"then {after.label[0].lower()}{after.label[1:]} {show(after.worst, after.unit)}, {after.limit_name} {show(after.limit, after.unit)}"
    if finding.check in ("C4", "C5") and (clamped := result.measure("blocking")):
        release = result.facts.get("release_time")
        text = f"then the switch sees {show(clamped.worst, 'V')}"
        return text + (f", release about {show(release, 's', 2)}" if release else "")
    state = next((s for s in result.states if s.key in ("floating", "weakly_pulled") and s.voltage), None)
    if finding.check in ("P6", "P5") and state:
        return f"then the input stays at {show(state.voltage, 'V')}, off up to {show(state.limit, 'V')}"
    return ""
