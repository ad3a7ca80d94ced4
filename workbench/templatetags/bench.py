"""Filters and tags of the bench: quantities, bars, fields that keep what was typed."""

from __future__ import annotations

from django import template
from django.utils.html import format_html, format_html_join
from django.utils.safestring import mark_safe

from drawings.gate import gate
from drawings.margin import margin_bar, rail_bar
from drawings.relay import state_picture
from latchcore.catalogue import load_catalogue
from latchcore.design.stage import TYPED
from latchcore.figures.quantity import digits, show
from latchcore.findings.measured import LIMIT_NAMES
from latchcore.findings.records import record_of
from latchcore.formats.partsrecord import FIGURE_WORDS
from latchcore.stages import STAGES
from workbench.actions.ticking import state_of
from workbench.fields import select_field, text_field
from workbench.icons import severity_icon

register = template.Library()


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
    rows = (
        (step.as_text(), format_html("<small>{}</small>", step.why) if step.why else "")
        for step in steps
    )
    return format_html_join("", "<li><code>{}</code>{}</li>", rows)


@register.filter
def get(mapping, key):
    """A key of a mapping, or nothing."""
    return mapping.get(key, "") if mapping else ""


@register.simple_tag(takes_context=True)
def field(
    context,
    edit,
    name,
    label,
    value="",
    unit="",
    hint="",
    channel=None,
    rail=None,
    series="",
    kind="text",
    id_extra="",
    placeholder="",
):
    """A field that shows what was typed when the edit was refused, with the message beside it."""
    refused = context.get("refused")
    typed = refused.typed(edit, name, channel, rail) if refused else None
    wrong = refused is not None and typed is not None and refused.field in (name, None)
    return text_field(
        id=f"f-{edit}-{name}-{channel or rail or ''}{id_extra}",
        name=name,
        label=label,
        value=typed if typed is not None else ("" if value is None else value),
        unit=unit,
        hint=hint,
        series=series,
        kind=kind,
        placeholder=placeholder,
        error=refused.message if wrong else "",
    )


@register.simple_tag(takes_context=True)
def choice(context, edit, name, label, value, options, channel=None, rail=None, empty=""):
    """A choice among (key, words) pairs or records with id and title."""
    pairs = [
        (o.id, o.title) if hasattr(o, "title") and hasattr(o, "id") else tuple(o) for o in options
    ]
    refused = context.get("refused")
    typed = refused.typed(edit, name, channel, rail) if refused else None
    wrong = refused is not None and typed is not None and refused.field == name
    return select_field(
        id=f"f-{edit}-{name}-{channel or rail or ''}",
        name=name,
        label=label,
        chosen=typed if typed is not None else value,
        pairs=pairs,
        empty=empty,
        error=refused.message if wrong else "",
    )


@register.filter
def records(mapping):
    """Records of a mapping, in order."""
    return mapping.values()


@register.filter
def family(around, name):
    """Parts of a family that may be chosen in a build."""
    return around.family(name)


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
def pin_of(board, name):
    """A pin of a board."""
    return board.pin(name) if board else None


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
def short_verdict(title, check):
    """The two words a lane has room for."""
    return record_of(check).short or check


@register.filter
def load_of(around, channel):
    """Figures of a channel's load."""
    return around.channel(channel).load


@register.filter
def pairs(records, attribute):
    """(id, words) of records."""
    return [(r.id, getattr(r, attribute)) for r in records]


@register.filter
def tightest(result):
    """The measure with the least headroom."""
    return min(result.measures, key=lambda m: m.headroom, default=None)


@register.filter
def by_headroom(measures):
    """
    The tightest first; of measures that answer to one check about one quantity the tighter stands
    for both.
    """
    return sorted(measures or (), key=lambda m: m.headroom)


@register.filter
def limit_name(name):
    """A limit in words."""
    return LIMIT_NAMES.get(name, name)


@register.filter
def pin_choices(board, doc):
    """Pins of a board as (id, words), each with its place and who has it."""
    if board is None:
        return []
    users = {c.pin: c.name for c in doc.channels if c.pin}
    rows = []
    for p in board.pins:
        remark = (
            f", {users[p.id]}"
            if p.id in users
            else f", {p.owner}"
            if p.owner
            else ", input only"
            if "out" not in p.can
            else ""
        )
        rows.append((p.id, f"{p.id} ({p.header}{remark})"))
    return rows


@register.filter
def reset_words(reset):
    """What a pin does in reset."""
    return {
        "floating": "floats",
        "pull_up": "pulled up",
        "pull_down": "pulled down",
        "driven_high": "driven high",
        "driven_low": "driven low",
        "pulses": "pulses",
    }[reset]


@register.filter
def matters(setting, channel):
    """Whether a setting has a bearing while another one is as it is."""
    inductive = load_catalogue().loads[channel.load.kind].inductive or channel.stage.kind in (
        "relay_contact",
        "bridge_reed",
    )
    if setting.key.startswith(("clamp", "hold")) and not inductive:
        return False
    if setting.when is None:
        return True
    key, values = setting.when
    default = next(
        (
            s.choices[0][0]
            for s in STAGES[channel.stage.kind].settings
            if s.key == key and s.choices
        ),
        "",
    )
    return (channel.stage.settings.get(key) or default) in values


@register.filter
def suited(parts, channel):
    """
    Those parts of a family the channel's kind of stage can use: a module by what its output is.
    """
    solid = channel.stage.kind == "solid_module"
    return [p for p in parts if p.family != "module" or (p.output != "contact") == solid]


@register.filter
def cap_words(capability):
    """What a line can, as short as it is still read."""
    return {
        "out": "out",
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
def unit_of(setting):
    """Unit a typed setting is in."""
    return TYPED.get(setting.kind, "")


@register.filter
def power_pins(board):
    """Supply pins of a board as (name, words)."""
    return [(name, f"{name}, {show(amperes, 'A')}") for name, amperes in board.power_pins.items()]


@register.filter
def alternates(around, rail):
    """Whether a rail carries alternating current."""
    return around.alternating(rail)


@register.filter
def value_of(result, key):
    """Sized value by key."""
    return result.value(key)


@register.filter
def sized_text(value):
    """What stands in an empty field: the value that is sized."""
    return f"{value.text} sized" if value and not value.yours else "auto"


@register.filter
def auto_part(value):
    """The empty choice of a part: what is chosen while nothing is fixed."""
    return f"sized: {value.text}" if value and not value.yours else "sized"


@register.filter
def quantity_or(value, unit):
    """A value that stands in while nothing was measured."""
    return f"usual: {show(value, unit)}" if value else "not known"


@register.filter
def plain_symbol(symbol):
    """A symbol without its underscore, where there is no room for a subscript."""
    return symbol.replace("_", "")


@register.filter
def lane_measure(report):
    """
    What a lane's bar shows: the measure of its worst finding, else the tightest; nothing for a
    finding without one.
    """
    if report.findings and report.verdict != "sound":
        return report.findings[0].measure
    return report.tightest


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


@register.filter
def barrier(report, channel):
    """
    What lies between pin and load: a wire, a barrier as a double line, or a barrier with a wire
    round it.
    """
    net = report.result.netlist if report.result else None
    apart = net is not None and not net.joined(f"{channel.id}.PIN", f"{channel.id}.LOAD")
    has = report.result is not None and report.result.barrier is not None
    return mark_safe(gate(report.result.barrier if has else "", bridged=has and not apart))


@register.filter
def relay_picture(state, result):
    """The contact in one state of the board."""
    return mark_safe(state_picture(state, result))


@register.filter
def load_does(state, result):
    """What the load does in a state: the other way round behind an NC contact."""
    if state.load == "undecided" or not result.contact.inverts:
        return state.load
    return "off" if state.load == "on" else "on"


@register.filter
def has_its_part(setting, result):
    """
    Whether what a setting says something of is there: of a snubber nothing is asked where none is
    fitted.
    """
    return not setting.key.startswith("snubber_") or (
        result is not None and result.value("snubber") is not None
    )


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
