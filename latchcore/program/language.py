"""What differs between the two languages a program is written in."""

from __future__ import annotations

import json
from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, field

from latchcore.program import hardware as hw


@dataclass(frozen=True, slots=True)
class Var:
    """Something declared before, by its name."""

    name: str


@dataclass(frozen=True, slots=True)
class To:
    """The same where C++ wants its address; ``None`` for nothing there."""

    name: str | None


@dataclass(frozen=True, slots=True)
class Raw:
    """A word that is the same in both languages."""

    text: str


#: A time that is not there.
NEVER = Raw("NEVER")
Value = Var | To | Raw | str | int | float | bool
Row = tuple[Value, ...]


def plain(text: str) -> str:
    """
    Words as a comment can hold them.

    Examples
    --------
    >>> plain("Lamp\\\\ two")
    'Lamp/ two'
    """
    return " ".join(text.replace("\\", "/").split())


def name_of(key: str) -> str:
    """
    An id as both languages name things.

    Examples
    --------
    >>> name_of("ch10.2")
    'ch10_2'
    """
    return key.replace(".", "_")


@dataclass
class Language(ABC):
    """
    Writes declarations and what is set of them afterwards.

    ``lines`` is what was written so far, ``later`` what is done once all is declared.
    """

    lines: list[str] = field(default_factory=list)
    later: list[str] = field(default_factory=list)

    @abstractmethod
    def truth(self, value: bool) -> str:
        """Yes or no."""

    @abstractmethod
    def to(self, name: str | None) -> str:
        """What leads to something declared before, or to nothing."""

    def value(self, value: Value) -> str:
        """A value as it is written."""
        if isinstance(value, bool):
            return self.truth(value)
        if isinstance(value, To):
            return self.to(value.name)
        if isinstance(value, Var):
            return value.name
        if isinstance(value, Raw):
            return value.text
        return self.quoted(value) if isinstance(value, str) else repr(value)

    def values(self, values: Sequence[Value]) -> str:
        """Several, side by side."""
        return ", ".join(self.value(v) for v in values)

    @abstractmethod
    def comment(self, text: str = "") -> None:
        """A comment on a line of its own; an empty one leaves a line free."""

    @abstractmethod
    def new(self, name: str, kind: str, *values: Value, says: str = "") -> Var:
        """Declare something."""

    @abstractmethod
    def set(self, of: str, field: str, value: Value) -> None:
        """Set a field of something declared."""

    @abstractmethod
    def call(self, of: str, method: str, *values: Value) -> None:
        """Call a method of something declared."""

    @abstractmethod
    def row(self, owner: str, kind: str, names: Sequence[str]) -> Raw:
        """Several things declared before, in a row."""

    @abstractmethod
    def table(self, owner: str, kind: str, rows: Sequence[Row]) -> Raw:
        """Rows of plain values."""

    @abstractmethod
    def numbers(self, owner: str, numbers: Sequence[int], wide: bool = False) -> Raw:
        """Whole numbers in a row."""

    @abstractmethod
    def all_rows(self, name: str, kind: str, names: Sequence[str]) -> None:
        """One of the lists the step runs through."""

    @abstractmethod
    def order(self, conditions_and_events: Sequence[tuple[str, bool]]) -> None:
        """In which order conditions (True) and events are worked out."""

    @abstractmethod
    def queue(self, name: str, values: Row, length: int, clear: To, says: str) -> None:
        """A queue with room for what waits."""

    @abstractmethod
    def starts(self, channel: str, most: int) -> None:
        """How many starts of a channel are counted, with room for them."""

    @abstractmethod
    def interlock(self, name: str, gap: int, channels: Sequence[str], says: str) -> None:
        """Channels never on together."""

    @abstractmethod
    def firing(self, name: str, plan: hw.FiringPlan) -> None:
        """A triac that is fired after the zero."""

    @abstractmethod
    def counted(self, name: str, plan: hw.CountedPlan) -> None:
        """A pin whose pulses are counted."""

    @abstractmethod
    def chain(self, plan: hw.ChainPlan) -> None:
        """A chain of registers, or one whose words are its own."""

    @abstractmethod
    def routine(self, name: str, kind: str, says: str) -> Raw:
        """A routine that is left to the builder: of an ``output``, an ``input``, a ``chain``."""

    @abstractmethod
    def patterns(self, owner: str, patterns: Sequence[str]) -> Raw:
        """Patterns of lines in turn."""

    @abstractmethod
    def ways(self, owner: str, ways: Sequence[tuple[str, str]]) -> Raw:
        """Channels of one drive with the pattern of each."""

    @abstractmethod
    def remembered(self, names: Sequence[str], levels: bool) -> None:
        """What outlives a power cut; ``levels`` where toggles or ramps do."""

    @property
    @abstractmethod
    def lists_chains(self) -> bool:
        """Whether the list of chains stands there even without any."""

    @staticmethod
    def quoted(text: str) -> str:
        """A text in quotes; both languages read the escapes of JSON."""
        return json.dumps(text, ensure_ascii=False)
