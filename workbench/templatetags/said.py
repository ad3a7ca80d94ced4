"""What the pages of behaviour ask of a refused edit and of their tables."""

from __future__ import annotations

import json

from django import template

register = template.Library()

#: Edits whose forms stand in the fold of all that is of no channel.
OTHERS = frozenset(
    {
        "add_named_condition",
        "add_command",
        "add_sequence",
        "add_macro",
        "add_queue",
        "set_behaviour",
    }
)


@register.filter
def about(refused, key):
    """Whether a refused edit was about a piece of the behaviour."""
    if not refused:
        return False
    if key == "others":
        return refused.edit in OTHERS
    return key in [refused.args.get(name) for name in ("piece", "rule", "sequence", "macro")]


@register.filter
def as_json(value):
    """Plain data for a script to read off an attribute."""
    return json.dumps(value, ensure_ascii=False)


@register.filter
def of_key(table, key):
    """What stands under a key, or nothing."""
    return table.get(key, "")


@register.filter
def place(of, number):
    """The id of one in a row of things."""
    return f"{of}-{number}"
