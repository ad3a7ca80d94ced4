"""A rule taken apart for its form: a row for each thing it looks at, with what may be changed."""

from __future__ import annotations

from dataclasses import dataclass, field

from latchcore.behaviour.named import Names, outputs_of
from latchcore.behaviour.sentences import Sentences
from latchcore.document import conditions as looked
from latchcore.document.models import Build
from latchcore.edits.behaviour.looks import choice_of, event_choice


@dataclass(frozen=True, slots=True)
class Row:
    """
    One condition within a rule.

    ``piece`` and ``path`` say where it stands, ``of`` the same as a part of a form's id; ``choice``
    is what is chosen in its field, empty for a join; ``figures`` are its own fields by name.
    """

    piece: str
    path: str
    words: str
    choice: str
    deep: int
    removable: bool
    figures: tuple[tuple[str, str], ...] = ()
    for_at_least: str = ""
    lasts: str = ""

    @property
    def of(self) -> str:
        """Where it stands, in one word."""
        return f"{self.piece}-{self.path.replace('.', '-')}"


@dataclass(frozen=True, slots=True)
class Happens:
    """An event within a piece: what is chosen, its time if it has one, and the rows under it."""

    piece: str
    path: str
    choice: str
    time: tuple[str, str] | None = None
    rows: list[Row] = field(default_factory=list)

    @property
    def of(self) -> str:
        """Where it stands, in one word."""
        return f"{self.piece}-{self.path.replace('.', '-')}"


def rows_of(
    words: Sentences,
    piece: str,
    path: str,
    condition: looked.Condition,
    deep: int = 0,
    removable: bool = False,
) -> list[Row]:
    """A condition and all within it, a row each, in the order in which they are read."""
    base = {
        "piece": piece,
        "path": path,
        "deep": deep,
        "removable": removable,
        "for_at_least": condition.for_at_least or "",
        "lasts": condition.lasts or "",
        "words": words.condition(condition),
    }
    if isinstance(condition, looked.Joined):
        joint = "all of" if condition.kind == "all" else "any of"
        found = [Row(**base | {"words": joint}, choice="")]
        for n, part in enumerate(condition.parts):
            inner = f"{path}.parts.{n}"
            found += rows_of(words, piece, inner, part, deep + 1, len(condition.parts) > 1)
        return found
    at_rest = isinstance(condition, looked.Not) and isinstance(condition.part, looked.Acted)
    if isinstance(condition, looked.Not) and not at_rest:
        return [
            Row(**base | {"words": "not"}, choice=""),
            *rows_of(words, piece, f"{path}.part", condition.part, deep + 1),
        ]
    return [Row(**base, choice=choice_of(condition), figures=_figures(condition))]


def _figures(condition: looked.Condition) -> tuple[tuple[str, str], ...]:
    if isinstance(condition, looked.Threshold):
        return (("at", condition.at), ("hysteresis", condition.hysteresis))
    if isinstance(condition, looked.Between):
        return (
            ("begin", condition.begin),
            ("end", condition.end),
            ("days", ",".join(condition.days)),
        )
    if isinstance(condition, looked.SincePower):
        return (("time", condition.time),)
    return ()


def happens_of(words: Sentences, piece: str, path: str, event: looked.Event | None) -> Happens:
    """An event for its form."""
    if event is None:
        return Happens(piece, path, "")
    if isinstance(event, looked.Becomes):
        rows = rows_of(words, piece, f"{path}.condition", event.condition)
        return Happens(piece, path, event_choice(event), None, rows)
    time = None
    if isinstance(event, looked.Double):
        time = ("within", event.within)
    elif isinstance(event, looked.Held):
        time = ("over", event.over)
    return Happens(piece, path, event_choice(event), time)


def looks(build: Build) -> list[tuple[str, str]]:
    """Everything a condition may look at, as choices."""
    found = []
    for key, sense in Names.of(build).senses.items():
        if sense.scaled:
            found += [
                (f"over:{key}", f"{sense.name} is over"),
                (f"under:{key}", f"{sense.name} is under"),
            ]
        else:
            found += [
                (f"input:{key}", f"{sense.name} is acted on"),
                (f"rest:{key}", f"{sense.name} is at rest"),
            ]
    does = build.does
    for channel in outputs_of(build):
        found.append((f"channel:{channel.id}", f"{channel.name} is on"))
        if does.manner(channel.id).confirm is not None:
            found += [
                (f"confirmed:{channel.id}", f"{channel.name} is confirmed on"),
                (f"overdue:{channel.id}", f"{channel.name} is overdue"),
            ]
    found += [(f"command:{c.id}", f"“{c.name}” is commanded") for c in does.commands]
    found += [(f"named:{c.id}", f"“{c.name}”") for c in does.conditions]
    found += [("between", "the time of day is between"), ("since_power", "power has been up for")]
    return found


def happenings(build: Build) -> list[tuple[str, str]]:
    """Everything that may happen once, as choices."""
    found = []
    for key, sense in Names.of(build).senses.items():
        if not sense.scaled:
            found += [
                (f"press:{key}", f"{sense.name} is pressed"),
                (f"double:{key}", f"{sense.name} is pressed twice"),
                (f"hold:{key}", f"{sense.name} is held"),
            ]
    found += [(f"queue:{q.id}", f"something leaves “{q.name}”") for q in build.does.queues]
    found += [(f"becomes:{key}", f"it begins that {says}") for key, says in looks(build)]
    return found
