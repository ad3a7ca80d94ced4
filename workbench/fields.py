"""
Fields of a form written at once: a page holds dozens, and a template takes longer over them than
the sums do.
"""

from __future__ import annotations

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

NONE = mark_safe("")
_WRONG = '<p class="wrong" id="{}-wrong" role="alert">{}</p>'
_QUANTITY = (
    ' class="m" data-unit="{unit}" hx-get="/echo/" hx-trigger="input changed delay:250ms"'
    ' hx-target="#{id}-echo" hx-swap="innerHTML" hx-vals=\'{{"unit": "{unit}"}}\' hx-include="this"'
    ' hx-sync="this:replace"'
)


def text_field(
    *, id, name, label, value, unit="", hint="", series="", kind="text", placeholder="", error=""
) -> SafeString:
    """
    A labelled input: a quantity echoes what it was understood as; what was refused stands there
    with its message.

    Parameters
    ----------
    id, name, label, value : str
        As they stand on the page
    unit : str
        Of a quantity; empty for plain words
    hint, placeholder, error : str
    series : str
        Preferred series its arrow keys step along
    kind : str
        ``text`` for quantities, anything else for words
    """
    quantity = format_html(_QUANTITY, unit=unit, id=id) if kind == "text" and unit else NONE
    more = format_html(' data-series="{}"', series) if series else NONE
    held = format_html(' placeholder="{}"', placeholder) if placeholder else NONE
    told = format_html(" {}-hint", id) if hint else NONE
    bad = format_html(" {}-wrong", id) if error else NONE
    return format_html(
        '<div class="field{}"><label for="{}">{}</label>\n<input id="{}" name="{}" value="{}"'
        ' autocomplete="off" spellcheck="false"{}{}{} aria-describedby="{}-echo{}{}"{}>\n<span'
        ' class="echo" id="{}-echo" aria-live="polite"></span>{}{}</div>',
        " bad" if error else "",
        id,
        label,
        id,
        name,
        value,
        quantity,
        more,
        held,
        id,
        told,
        bad,
        mark_safe(' aria-invalid="true"') if error else NONE,
        id,
        format_html('<small id="{}-hint">{}</small>', id, hint) if hint else NONE,
        format_html(_WRONG, id, error) if error else NONE,
    )


def select_field(*, id, name, label, chosen, pairs, empty="", error="") -> SafeString:
    """A labelled choice among (key, words) pairs; ``empty`` are the words of choosing none."""
    rows = ((key, mark_safe(" selected") if key == chosen else NONE, words) for key, words in pairs)
    return format_html(
        '<div class="field{}"><label for="{}">{}</label>\n<select id="{}"'
        ' name="{}"{}>{}{}</select>{}</div>',
        " bad" if error else "",
        id,
        label,
        id,
        name,
        format_html(' aria-invalid="true" aria-describedby="{}-wrong"', id) if error else NONE,
        format_html('<option value="">{}</option>', empty) if empty else NONE,
        format_html_join("", '<option value="{}"{}>{}</option>', rows),
        format_html(_WRONG, id, error) if error else NONE,
    )
