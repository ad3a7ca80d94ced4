"""What belongs to one kind of finding, in one place."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Record:
    """
    One kind of finding.

    ``catches`` the mistake, ``severity`` by which rule it is a stop, fix, check or note, ``why`` it
    matters; ``short`` is
    what a lane has room for, ``station`` where the work on it is done. ``title`` stands over a
    finding that comes from a
    measure, ``titles`` over one of an input by the measure's key. ``yields_to`` are causes that
    speak for it where they are
    as grave; ``silences_all_but`` what still means something where this stands. ``tries`` are the
    ways out that are tried,
    the least change first, ``advice`` what is said where none of them helps. ``must_be_answered``
    says that a build with it
    open is not done.
    """

    id: str
    catches: str
    severity: str
    why: str
    short: str
    station: str
    title: str = ""
    titles: dict[str, str] = field(default_factory=dict)
    advice: str = ""
    yields_to: tuple[str, ...] = ()
    silences_all_but: tuple[str, ...] = ()
    tries: tuple[str, ...] = ()
    must_be_answered: bool = False
    #: Whether nobody may accept it away where the voltage is hazardous, however grave it is.
    lasts_on_line: bool = False
    #: What does it to several channels at once, where it is not a channel's own: rail or module.
    done_by: tuple[str, ...] = ()
    #: Keys of measures that see one mistake at several corners or by several limits.
    one_cause: tuple[tuple[str, ...], ...] = ()

    def cause_of(self, key: str) -> str:
        """
        The cause a measure of that key stands for.

        >>> Record("C1", "", "", "", "", "", one_cause=(("cold", "hot"),)).cause_of("hot")
        'cold'
        """
        return next((keys[0] for keys in self.one_cause if key in keys), key)

    def title_of(self, key: str) -> str:
        """The title over a finding from a measure of that key."""
        return self.titles.get(key, self.title)
