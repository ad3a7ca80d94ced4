"""What every command of ``zinc-latch`` shares: reading a build, refusing in one line."""

from __future__ import annotations

import sys
from pathlib import Path

from latchcore.design.report import ChannelReport, Report
from latchcore.document.models import Build
from latchcore.formats.buildfile import MOST_BYTES, BuildFileError, read_build

SOUND, FALLS_SHORT, UNUSABLE = 0, 1, 2


def refuse(why: str) -> int:
    """Say in one line on standard error why nothing came of it; returns the exit status."""
    print(f"zinc-latch: {' '.join(why.split())}", file=sys.stderr)
    return UNUSABLE


def the_build(name: str) -> Build | None:
    """The build of a file, or of standard input for ``-``; without one a line says why."""
    try:
        content = sys.stdin.buffer.read(MOST_BYTES + 1) if name == "-" else _read(Path(name))
        return read_build(content)
    except OSError as error:
        refuse(f"{name}: {error.strerror}")
    except BuildFileError as error:
        refuse(f"{name}: {error}")
    return None


def _read(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(MOST_BYTES + 1)


def the_channel(report: Report, called: str) -> ChannelReport | None:
    """A channel by its id, its letter or its name; without one a line says which there are."""
    for channel in report.channels:
        if called in (channel.id, channel.letter, channel.name):
            return channel
    names = ", ".join(c.id for c in report.channels) or "none, the build is empty"
    refuse(f"“{called}” is no channel of this build; expected one of {names}.")
    return None
