"""Fields of a form that keep what was typed when the edit was refused, the message beside them."""

from __future__ import annotations

from django import template

from workbench.fields import select_field, text_field
from workbench.fieldwords import words_of

register = template.Library()


def _refused(context, address: str, of) -> tuple[str | None, str]:
    """What was typed into a field of the refused form, and what is wrong with it."""
    refused = context.get("refused")
    edit, name = address.split(".", 1)
    typed = refused.typed(edit, name, of) if refused else None
    if typed is None:
        return None, ""
    return typed, refused.message if refused.field in (name, None) else ""


def _id(address: str, of, id_extra: str) -> str:
    return f"f-{address.replace('.', '-', 1)}-{of or ''}{id_extra}"


@register.simple_tag(takes_context=True)
def field(context, address, value="", of=None, id_extra="", steps=False, **own):
    """
    A field for something typed.

    ``address`` is edit and argument; ``of`` the channel, rail or other thing it is about; ``own``
    are words that stand in place of those of the address. With ``steps`` its arrow keys step along
    the preferred series of the build.
    """
    words = words_of(address)
    typed, error = _refused(context, address, of)
    return text_field(
        id=_id(address, of, id_extra),
        name=address.split(".", 1)[1],
        label=own.get("label", words.label),
        value=typed if typed is not None else ("" if value is None else value),
        unit=own.get("unit", words.unit),
        hint=own.get("hint", words.hint),
        series=context["doc"].series if steps else "",
        kind=words.kind,
        placeholder=own.get("held", words.held),
        error=error,
    )


@register.simple_tag(takes_context=True)
def fitted_field(context, row, of):
    """The field of something of a stage that is typed."""
    own = {"label": row.label, "unit": row.unit, "held": row.held}
    return field(context, row.address, row.typed, of, steps=row.steps, **own)


@register.simple_tag(takes_context=True)
def choice(context, address, value, options, of=None, **own):
    """A choice among (key, words) pairs or records with id and title."""
    words = words_of(address)
    pairs = [
        (o.id, o.title) if hasattr(o, "title") and hasattr(o, "id") else tuple(o) for o in options
    ]
    typed, error = _refused(context, address, of)
    return select_field(
        id=_id(address, of, ""),
        name=address.split(".", 1)[1],
        label=own.get("label", words.label),
        chosen=typed if typed is not None else value,
        pairs=pairs,
        empty=own.get("empty", words.empty),
        error=error,
    )


@register.filter
def named(pieces):
    """Pieces of a build as (id, name), for a choice among them."""
    return [(piece.id, piece.name) for piece in pieces]


@register.filter
def points_of(channel, build):
    """Distribution points a channel's load may begin at: those of its rail."""
    return named(b for b in build.blocks if b.rail == channel.rail)


@register.filter
def points_beside(block, build):
    """Distribution points one may hang on: others of its rail."""
    return named(b for b in build.blocks if b.rail == block.rail and b is not block)
