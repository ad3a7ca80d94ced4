"""What can be written into a log: each form as a record, so that they are all shown by one."""

from __future__ import annotations

from dataclasses import dataclass

from workbench.models import LogEntry


@dataclass(frozen=True)
class Asked:
    """
    One field: the name it is posted by, its words, how it is typed (``line``, ``short``, ``long``,
    ``choice``), what stands in it while it is empty, and what it begins with.
    """

    name: str
    words: str
    how: str = "line"
    held: str = ""
    first: str = ""


@dataclass(frozen=True)
class LogForm:
    """
    One form: what it does, the kind of entry it writes, its title, fields and button; whether it
    asks for channel and time, takes a photo, or goes by the version of the build that was seen.
    """

    do: str
    kind: str
    title: str
    fields: tuple[Asked, ...]
    button: str = "Write it"
    where: bool = True
    photo: bool = False
    seen: bool = False


WORDS = Asked("words", "What", "long")
SAID = tuple((k, w) for k, w in LogEntry.KINDS if k in ("note", "change", "rework", "console"))
FORMS = (
    LogForm("add", "note", "Note, change, rework, console",
            (Asked("kind", "It is a", "choice"), WORDS), photo=True),
    LogForm("add", "reading", "A reading",
            (Asked("between", "Between", held="A2 and 0 V"),
             Asked("typed", "Reads", "short", "0.12"), Asked("words", "Note"))),
    LogForm("add", "incident", "Something went wrong",
            (Asked("words", "What happened", "long"), Asked("why", "Why it happened"),
             Asked("replaced", "What replaced it"), Asked("prevents", "What now prevents it")),
            photo=True),
    LogForm("add", "contact", "A contact: hours, cycles, resistance",
            (Asked("hours", "Hours", "short"), Asked("cycles", "Cycles", "short"),
             Asked("ohms", "Closed", "short", "35 mΩ"))),
    LogForm("add", "part", "A part was used",
            (Asked("part", "Part", "choice"), Asked("many", "How many", "short", first="1"),
             Asked("words", "For")), "Take it from the drawer", where=False),
    LogForm("calibrate", "calibration", "A calibration: a figure measured, used from now on",
            (Asked("what", "What", "choice"), Asked("value", "It is", "short"),
             Asked("instrument", "With", held="hand meter"),
             Asked("conditions", "Conditions", held="21 °C, on the adapter"),
             Asked("at", "When", held="now")), "Use it", where=False, seen=True),
    LogForm("moves", "calibration", "Timed moves: speed and lag",
            (Asked("moves", "Seconds and how far, in pairs", held="0.5 8, 1 18, 2 38"),
             Asked("unit", "Far in", "short", first="mm"),
             Asked("far", "The whole way", "short", held="not used")), "Work it out", seen=True),
)  # fmt: skip


def shown(
    choices: dict[str, list[tuple[str, str]]], typed: dict[str, str]
) -> list[tuple[LogForm, bool, list[tuple[Asked, str, list[tuple[str, str]]]]]]:
    """
    Each form, whether it is open, and its fields with what stands in them and can be chosen; what
    was typed stands in the form it was typed into.
    """
    found = []
    others = {form.kind for form in FORMS if form.kind != "note"}
    for form in FORMS:
        kind = typed.get("kind", "note")
        # What is of no kind that has a form of its own was meant as a note.
        own = kind == form.kind if kind in others else form.kind == "note"
        same = typed.get("do") == form.do and (own or form.do != "add")
        fields = [
            (asked, typed.get(asked.name, asked.first) if same else asked.first,
             choices.get(asked.name, []))
            for asked in form.fields
        ]  # fmt: skip
        found.append((form, same, fields))
    return found
