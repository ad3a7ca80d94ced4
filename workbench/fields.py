"""
Fields of a form written at once: a page holds dozens, and a template takes longer over them than
the sums do.
"""

from __future__ import annotations

from functools import lru_cache
from html import escape

from django.utils.safestring import SafeString, mark_safe

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
    id, unit = escape(str(id)), escape(unit)
    told = f" {id}-hint" if hint else ""
    bad = f" {id}-wrong" if error else ""
    return mark_safe(
        f"{_label(id, label, error)}\n"
        f'<input id="{id}" name="{escape(str(name))}" value="{escape(str(value))}"'
        ' autocomplete="off" spellcheck="false"'
        + (_QUANTITY.format(unit=unit, id=id) if kind == "text" and unit else "")
        + (f' data-series="{escape(series)}"' if series else "")
        + (f' placeholder="{escape(str(placeholder))}"' if placeholder else "")
        + f' aria-describedby="{id}-echo{told}{bad}"'
        + (' aria-invalid="true"' if error else "")
        + f'>\n<span class="echo" id="{id}-echo" aria-live="polite"></span>'
        + (f'<small id="{id}-hint">{escape(str(hint))}</small>' if hint else "")
        + _wrong(id, error)
        + "</div>"
    )


def select_field(*, id, name, label, chosen, pairs, empty="", error="") -> SafeString:
    """A labelled choice among (key, words) pairs; ``empty`` are the words of choosing none."""
    id = escape(str(id))
    rows = _options(tuple(pairs), chosen)
    told = f' aria-invalid="true" aria-describedby="{id}-wrong"' if error else ""
    return mark_safe(
        f"{_label(id, label, error)}\n"
        f'<select id="{id}" name="{escape(str(name))}"{told}>'
        + (f'<option value="">{escape(str(empty))}</option>' if empty else "")
        + rows
        + f"</select>{_wrong(id, error)}</div>"
    )


@lru_cache(maxsize=512)
def _options(pairs: tuple, chosen) -> str:
    """The choices of a field; a page of rules asks for the same ones dozens of times."""
    return "".join(
        f'<option value="{escape(str(key))}"{" selected" if key == chosen else ""}>'
        f"{escape(str(words))}</option>"
        for key, words in pairs
    )


def _label(id: str, label: str, error: str) -> str:
    bad = " bad" if error else ""
    return f'<div class="field{bad}"><label for="{id}">{escape(str(label))}</label>'


def _wrong(id: str, error: str) -> str:
    said = escape(str(error))
    return f'<p class="wrong" id="{id}-wrong" role="alert">{said}</p>' if error else ""
