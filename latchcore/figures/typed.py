"""
What a person typed, before it is a quantity: characters that can be kept, whole numbers, refusals
in one line.
"""

from __future__ import annotations

import re
import unicodedata

#: A refusal longer than this is not read; what is quoted in one is cut to the second figure
#: [characters].
MOST_MESSAGE, MOST_QUOTED = 280, 40
#: Control characters a note of several lines may hold.
_LAYOUT = "\n\r\t"
_WHOLE = re.compile(r"[0-9]{1,12}")


class Refusal(ValueError):
    """
    Something typed that is not taken: what it was and what was expected, in one line that can be
    shown anywhere.

    Examples
    --------
    >>> len(str(Refusal("“" + "x" * 5000 + "” is no name.")))
    280
    """

    def __init__(self, message: str):
        super().__init__(in_one_line(message))


def in_one_line(message: str) -> str:
    """
    A message without characters that break a line or cannot be written, its middle left out where
    it is long.

    Examples
    --------
    >>> in_one_line("a\\ud800b\\x00c\\nd")
    'a\ufffdb\ufffdc d'
    """
    text = "".join(
        _shown(c) for c in message[: 4 * MOST_MESSAGE] + message[4 * MOST_MESSAGE :][-MOST_MESSAGE:]
    )
    if len(text) <= MOST_MESSAGE:
        return text
    # What was expected stands at the end and is the more useful half.
    head = MOST_MESSAGE // 2
    return f"{text[:head]}…{text[-(MOST_MESSAGE - head - 1) :]}"


def _shown(character: str) -> str:
    if character in _LAYOUT:
        return " "
    return character if can_be_kept(character) else "\ufffd"


def quoted(text: object) -> str:
    """
    A piece of what was typed, short enough to be quoted.

    Examples
    --------
    >>> quoted("4k7k"), len(quoted("9" * 1000))
    ('“4k7k”', 43)
    """
    words = str(text)
    return f"“{words[:MOST_QUOTED]}…”" if len(words) > MOST_QUOTED else f"“{words}”"


def can_be_kept(text: str, lines: bool = False) -> bool:
    """
    Whether a text can be stored, shown and written to a file as it is.

    Parameters
    ----------
    text : str
    lines : bool
        Whether line breaks and tabs may stand in it

    Examples
    --------
    >>> can_be_kept("Пресс № 3"), can_be_kept("a\\x00"), can_be_kept("\\ud83d"), can_be_kept(
    ...     "a\\nb"), can_be_kept("a\\nb", lines=True)
    (True, False, False, False, True)
    """
    if text.isascii() and text.isprintable():
        return True
    return not any(
        unicodedata.category(c) in ("Cs", "Cc") and not (lines and c in _LAYOUT) for c in text
    )


def whole(text: str, least: int, most: int) -> int | None:
    """
    A whole number in plain digits within bounds, or ``None``.

    Examples
    --------
    >>> whole(" 24 ", 1, 100), whole("²", 0, 9), whole("-1", 0, 9), whole("9" * 30, 0, 10**6)
    (24, None, None, None)
    """
    clean = str(text).strip()
    if _WHOLE.fullmatch(clean) is None or not least <= int(clean) <= most:
        return None
    return int(clean)
