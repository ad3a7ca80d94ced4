"""Filters and tags of the bench: quantities, bars, fields that keep what was typed."""

from __future__ import annotations

from html import escape

from django import template
from django.utils.safestring import mark_safe

from drawings.gate import gate
from drawings.margin import margin_bar, rail_bar
from drawings.relay import state_picture
from latchcore.figures.quantity import digits, show
from latchcore.findings.measured import LIMIT_NAMES
from latchcore.findings.records import record_of
from latchcore.formats.partsrecord import FIGURE_WORDS
from latchcore.stages import STAGES
from latchcore.sums.motion.told import told
from workbench.actions.ticking import state_of
from workbench.icons import severity_icon

register = template.Library()
RESET_WORDS = {
    "floating": "floats",
    "pull_up": "pulled up",
    "pull_down": "pulled down",
    "driven_high": "driven high",
    "driven_low": "driven low",
    "pulses": "pulses",
}


@register.filter
def combinations(motion):
    """Combinations of a stage of several lines that come about."""
    return [row for row in told(motion) if row.reachable]


@register.filter
def quantity(value, unit=""):
    """A value with its unit."""
    return show(value, unit) if value is not None else "not known"


@register.filter
def percent(value):
    """A share as whole per cent."""
    return f"{digits(value * 100, 2)} %"


@register.filter
def bar(measure):
    """Margin bar of a measure."""
    return mark_safe(margin_bar(measure))


@register.filter
def small_bar(measure):
    """Margin bar for a lane."""
    return mark_safe(margin_bar(measure, 90, compact=True))


@register.filter
def rail(report):
    """Bar of a rail."""
    return mark_safe(
        rail_bar(
            report.typical, report.all_on, report.worst, report.rating, report.idle, report.name
        )
    )


@register.filter
def icon(severity):
    """Shape of a severity; the word stands beside it."""
    return mark_safe(severity_icon(severity))


@register.filter
def plain_svg(text):
    """A drawing of our own."""
    return mark_safe(text or "")


@register.filter
def steps(result, symbol):
    """The working that leads to a symbol."""
    return result.steps_for(symbol)


@register.filter
def working_items(steps):
    """Steps of a working as list items, written at once."""
    return mark_safe(
        "".join(
            f"<li><code>{escape(step.as_text())}</code>"
            + (f"<small>{escape(step.why)}</small>" if step.why else "")
            + "</li>"
            for step in steps
        )
    )


@register.filter
def get(mapping, key):
    """A key of a mapping, or nothing."""
    return mapping.get(key, "") if mapping else ""


@register.filter
def chain_span(numbers, chain):
    """First and last line of a chain by their names."""
    return f"{chain}.{numbers[0]} to {chain}.{numbers[-1]}"


@register.filter
def fit_for(channels, report):
    """Channels that a chain's outputs can drive and that are not on it, as (id, words)."""
    sinks = report.context.part.drives == "sinks"
    there = set(report.channels)
    return [(key, words) for key, words, wants in channels if wants == sinks and key not in there]


@register.filter
def records(mapping):
    """Records of a mapping, in order."""
    return mapping.values()


@register.filter
def figure_words(name):
    """What a figure of a part is called."""
    return FIGURE_WORDS.get(name, name.replace("_", " "))


@register.filter("state_of")
def state_of_rows(rows, ticked):
    """What a group of the wire list looked like when the page was shown."""
    return state_of([row.key for row in rows], ticked)


@register.filter
def where(report, finding):
    """The place of a finding in the words of the build."""
    return report.where(finding)


@register.filter
def header_of(board, name):
    """Where a pin of a board is."""
    pin = board.pin(name) if board else None
    return pin.header if pin else ""


@register.filter
def line_words(pin):
    """A line of the deck for somebody who does not see it."""
    said = (pin.id, pin.chip, pin.header, pin.owner, f"{RESET_WORDS[pin.reset]} in reset")
    return ", ".join(words for words in said if words)


@register.filter
def starting(pin):
    """What has to be known of a line before the program runs: who owns it, else what it does."""
    if pin.owner:
        return pin.owner
    said = RESET_WORDS[pin.reset] if pin.reset != "floating" else ""
    said += " no pull-up inside" if pin.pull_up == "none" else ""
    return said + (f"; must be {pin.start} to start" if pin.start else "")


@register.filter
def sized(value):
    """A sized value: with its unit where it is a resistor."""
    return show(value.value, "Ω") if value.unit == "Ω" else value.text


@register.filter
def limit_sign(measure):
    """On which side of its limit a measure has to stay."""
    return "≤" if measure.sense == "max" else "≥"


@register.filter
def texture(channel, dangerous):
    """The ground a load and its rail stand on."""
    if channel.id in dangerous:
        return "dm-mains"
    return "dm-low" if channel.rail else "dm-logic"


@register.filter
def swatch(domain):
    """The ground of a domain of the wire list."""
    return {"hazardous": "dm-hazard", "logic": "dm-logic"}.get(domain, "dm-low")


@register.filter
def lane_says(report):
    """What a lane says of its channel: what is missing, the worst finding, else the headroom."""
    if report.missing:
        return f"{', '.join(report.missing)}?"
    if report.findings and report.verdict != "sound":
        first = report.findings[0]
        return record_of(first.check).short or first.check
    return percent(report.tightest.headroom) if report.tightest else "sound"


@register.filter
def way_state(way):
    """How a way in stands."""
    if way.state == "ranked":
        return f"{way.points} points against"
    return "open question" if way.state == "open" else way.state


@register.filter
def cell_class(cell):
    """How wide and in which type a cell of the board's grid is."""
    return {"id": "m", "pull": "m", "can": "wide"}.get(cell, "")


@register.filter
def readings_of(entry, readings):
    """(words, reading) of what was read at a rework."""
    return [(words, entry[name]) for name, words, *_ in readings if entry.get(name)]


@register.filter
def stage_title(kind):
    """Title of a stage."""
    return STAGES[kind].title


@register.filter
def get_title(mapping, key):
    """Title of a record."""
    return mapping[key].title


@register.filter
def rail_name(rail_id, doc):
    """Name of a rail."""
    found = doc.rail(rail_id)
    return found.name if found else ""


@register.filter
def load_of(around, channel):
    """Figures of a channel's load."""
    return around.channel(channel).load


@register.filter
def pairs(records, attribute):
    """(id, words) of records."""
    return [(r.id, getattr(r, attribute)) for r in records]


@register.filter
def by_headroom(measures):
    """
    The tightest first; of measures that answer to one check about one quantity the tighter stands
    for both.
    """
    return sorted(measures or (), key=lambda m: m.headroom)


@register.filter
def limit_names(bounds):
    """The limits of bounds in words."""
    return " and ".join(LIMIT_NAMES.get(b.name, b.name) for b in bounds)


@register.filter
def cap_words(capability):
    """What a line can, as short as it is still read."""
    return {
        "out": "out",
        "sink": "power",
        "in": "in",
        "pwm": "PWM",
        "analogue": "analogue",
        "interrupt": "interrupt",
    }[capability]


@register.filter
def want_key(wants):
    """What a demand wants, as the page's script looks it up."""
    return ",".join(sorted(wants))


@register.filter
def power_pins(board):
    """Supply pins of a board as (name, words)."""
    return [(name, f"{name}, {show(amperes, 'A')}") for name, amperes in board.power_pins.items()]


@register.filter
def alternates(around, rail):
    """Whether a rail carries alternating current."""
    return around.alternating(rail)


@register.filter
def quantity_or(value, unit):
    """A value that stands in while nothing was measured."""
    return f"usual: {show(value, unit)}" if value else "not known"


@register.filter
def plain_symbol(symbol):
    """A symbol without its underscore, where there is no room for a subscript."""
    return symbol.replace("_", "")


@register.filter
def whole(value):
    """A plain whole number."""
    return f"{value:.0f}"


@register.filter
def hundred(share):
    """A share on a scale to a hundred."""
    return f"{share * 100:.1f}"


@register.filter
def percent_fine(share):
    """A small share without rounding it to nothing."""
    return "none of them" if share == 0 else f"{share * 100:.3g} %"


@register.filter("gate")
def gate_of(report):
    """What lies between pin and load: a wire, a barrier, or a barrier with a wire round it."""
    barrier = report.result.barrier if report.result else None
    return mark_safe(gate(barrier or "", bridged=report.bridged))


@register.filter
def relay_picture(state, result):
    """The contact in one state of the board."""
    return mark_safe(state_picture(state, result))


@register.filter
def signed_time(value):
    """A time that may be before or after, with its sign where it is before."""
    return f"−{show(-value, 's')}" if value < 0 else show(value, "s")


@register.filter
def spaced(name):
    """A name in words."""
    return name.replace("_", " ")


@register.filter
def count_words(value):
    """A large count to two figures."""
    return f"{float(f'{value:.2g}'):,.0f}".replace(",", " ")


@register.filter
def years(days):
    """Days as years, or as days where they are few."""
    return f"{digits(days / 365, 2)} years" if days >= 365 else f"{days:.0f} days"


@register.filter
def asked(report):
    """Facts that are missing, each once, with all that wait for it."""
    waits: dict[str, list[str]] = {}
    for channel in report.channels:
        for fact in channel.missing:
            waits.setdefault(fact, []).append(f"{channel.letter} {channel.name}")
    for item in report.inputs:
        for fact in item.missing:
            waits.setdefault(fact, []).append(item.name)
    return list(waits.items())
