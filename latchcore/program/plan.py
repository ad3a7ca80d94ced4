"""All that a program text is made of: the build, its compiled behaviour, its lines, its stamp."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property

from latchcore.behaviour.compiling import compiled, line_time_out
from latchcore.behaviour.faults import BehaviourError, Fault
from latchcore.behaviour.layout import FUZZ, steps_of
from latchcore.behaviour.named import Names, channel_of
from latchcore.behaviour.sentences import Sentences
from latchcore.behaviour.step import Program
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.design.report import Report
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.program.features import features
from latchcore.program.hardware import Hardware
from latchcore.program.lines import Lines
from latchcore.program.reads import reads

#: The hardware watchdog where one is there and no time is said: two hundred usual steps [s].
USUAL_WATCHDOG = 2.0
#: A current sensor keeps the furthest reading of so long: two half-cycles of the slowest line [s].
PEAK_TIME = 0.02


@dataclass(frozen=True)
class ProgramPlan:
    """
    What is written down, in words of no language; ``revision`` is what the build calls its state.

    Raises
    ------
    BehaviourError
        If the behaviour cannot be done as it stands
    """

    build: Build
    revision: str = ""
    around: BuildContext | None = None
    report: Report | None = None

    @cached_property
    def program(self) -> Program:
        """The behaviour, compiled, with a line to command it over."""
        found = compiled(self.build, by_line=True)
        ms = found.step * 1e3
        if round(ms) < 1 or abs(ms - round(ms)) > FUZZ:
            words = f"A step of {ms:g} ms is none a board counts; expected whole milliseconds."
            raise BehaviourError([Fault("", "step", words)])
        return found

    @cached_property
    def names(self) -> Names:
        """Places of all that is named."""
        return Names.of(self.build)

    @cached_property
    def words(self) -> Sentences:
        """What each piece says."""
        return Sentences(self.build)

    @cached_property
    def context(self) -> BuildContext:
        """The build with its catalogue."""
        return self.around or BuildContext(self.build, load_catalogue())

    @cached_property
    def hardware(self) -> Hardware:
        """Its lines."""
        report = self.report or evaluate(self.build)
        lines = Lines(self.context, report)
        return Hardware(
            tuple(lines.drives()), tuple(reads(self.context, report)), tuple(lines.chains())
        )

    @cached_property
    def features(self) -> frozenset[str]:
        """What of the step is needed."""
        found = features(self.program, self.hardware)
        return found | {"watchdog"} if self.watchdog is not None else found

    @property
    def watchdog(self) -> float | None:
        """After how long a hung program is reset by hardware [s], where there is a watchdog."""
        if self.program.watchdog is not None:
            return self.program.watchdog * self.program.step
        return USUAL_WATCHDOG if self.build.watchdog == "yes" else None

    def unfit(self, language: str) -> str:
        """Why the board takes no program in a language, ``micropython`` or ``cpp``; else empty."""
        board = self.context.board
        if board is None or board.program == "either" or board.program == language:
            return ""
        if board.program == "neither":
            return (
                f"{board.title}: it runs an operating system, and a program under that writes its"
                " lines; this text knows the pins of a board without one."
            )
        return f"{board.title}: it has not the memory for MicroPython; take C++."

    @property
    def silent(self) -> int:
        """Steps after which what was asked by hand ends."""
        return self.steps(line_time_out(self.build.does))

    def steps(self, seconds: float) -> int:
        """A time in steps."""
        return steps_of(seconds, self.program.step)

    @property
    def stamp(self) -> str:
        """From which build and revision it is."""
        said = f"revision {self.revision}, " if self.revision else ""
        return f"{said}content {self.content}"

    @cached_property
    def content(self) -> str:
        """Eight letters that change with anything a program is made of, and with nothing else."""
        does, names = self.build.does, self.names
        words = [
            self.build.name,
            does.model_dump_json(),
            repr(self.hardware),
            repr([(o.id, o.name) for o in names.outputs.values()]),
            repr(list(names.senses.values())),
            repr(self.watchdog),
        ]
        return hashlib.sha256("\n".join(words).encode()).hexdigest()[:8]

    @property
    def slug(self) -> str:
        """The name of its files."""
        return slug_of(self.build.name)

    def title(self, output: str) -> str:
        """The name of an output."""
        return self.names.outputs[output].name

    def outputs_of(self, channel: str) -> list[str]:
        """Outputs of one channel."""
        return [key for key in self.names.outputs if channel_of(key) == channel]


def slug_of(name: str) -> str:
    """
    A name both languages and every file system take.

    Examples
    --------
    >>> slug_of("Potting bench, valve 2"), slug_of("2 µ"), slug_of("Übung")
    ('potting_bench_valve_2', 'build_2', 'build_bung')
    """
    plain = "".join(c if c.isascii() and c.isalnum() else "_" for c in name.lower())
    short = "_".join(part for part in plain.split("_") if part)[:40]
    return short if short and short[0].isalpha() and name[0].isascii() else f"build_{short}"
