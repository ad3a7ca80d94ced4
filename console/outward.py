"""``program``, ``settings``, ``pins``, ``wires``, ``parts``, ``drawing``, ``advise``, ``sheet``."""

from __future__ import annotations

import sys
from pathlib import Path

from console.asking import FALLS_SHORT, SOUND, UNUSABLE, refuse, the_channel
from drawings.alone import alone
from drawings.paper import paper_sheet
from drawings.schematic import schematic
from latchcore.advice.advisor import advise
from latchcore.behaviour.faults import BehaviourError
from latchcore.bench.readings import readings_table
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.evaluate import evaluate
from latchcore.figures.table import Table
from latchcore.program.cplusplus import cplusplus
from latchcore.program.micropython import micropython
from latchcore.program.plan import ProgramPlan
from latchcore.program.settings import checklist, pins_table, settings_table
from latchcore.whole.tables import parts_table, wires_table

LANGUAGES = {"micropython": micropython, "cpp": cplusplus}
TABLES = {"wires": wires_table, "parts": parts_table, "readings": readings_table}


def print_table(build: Build, name: str) -> int:
    """One list of a build as CSV."""
    report = evaluate(build)
    return _put(TABLES[name](BuildContext(build, load_catalogue()), report))


def print_pins(build: Build) -> int:
    """The pin table of its program as CSV."""
    try:
        return _put(pins_table(ProgramPlan(build)))
    except BehaviourError as error:
        return refuse(str(error))


def print_settings(build: Build) -> int:
    """The settings sheet as CSV; what else is to be seen to on standard error."""
    try:
        plan = ProgramPlan(build)
        table = settings_table(plan)
    except BehaviourError as error:
        return refuse(str(error))
    for text in (f"settings of {plan.build.name}, {plan.stamp}.", *checklist(plan)):
        print(f"zinc-latch: {text}", file=sys.stderr)
    return _put(table)


def _put(table: Table) -> int:
    # As RFC 4180 has it, whatever the terminal makes of the ends of lines.
    sys.stdout.write(table.as_csv())
    return SOUND


def write_program(build: Build, language: str, out: str | None) -> int:
    """
    The program of a build: into a directory, else its main file on standard output; exits with 1
    where something needs a routine of its own.
    """
    try:
        plan = ProgramPlan(build)
        files = LANGUAGES[language](plan)
        if out is None:
            sys.stdout.write(next(iter(files.values())))
        else:
            folder = Path(out)
            folder.mkdir(parents=True, exist_ok=True)
            for name, text in files.items():
                (folder / name).write_text(text, encoding="utf-8")
                print(folder / name)
    except BehaviourError as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{error.filename}: {error.strerror}")
    unfit = plan.unfit(language)
    if unfit:
        print(f"zinc-latch: {unfit}", file=sys.stderr)
    for key, why in plan.hardware.by_hand:
        print(f"zinc-latch: {key} needs a routine of its own: {why}.", file=sys.stderr)
    return FALLS_SHORT if plan.hardware.by_hand or unfit else SOUND


def print_drawing(build: Build, called: str) -> int:
    """The drawing of a channel as an SVG file."""
    report = evaluate(build)
    found = the_channel(report, called)
    if found is None:
        return UNUSABLE
    if found.result is None:
        return refuse(f"{found.name} cannot be worked out: {', '.join(found.missing)} missing.")
    channel = build.channel(found.id)
    assert channel is not None
    around = BuildContext(build, load_catalogue())
    sys.stdout.write(alone(schematic(found.result, around, channel)))
    return SOUND


def print_advice(build: Build, called: str | None) -> int:
    """
    Stages that would serve each channel, the best first; exits with 1 where a channel has none
    that is sound.
    """
    report, short = evaluate(build), False
    channels = report.channels
    if called is not None:
        one = the_channel(report, called)
        if one is None:
            return UNUSABLE
        channels = [one]
    for channel in channels:
        cards = [card for card in advise(build, channel.id) if card.unfit is None]
        short = short or not any(card.feasible for card in cards)
        print(f"{channel.letter} {channel.name}")
        for card in cards:
            mark = "*" if card.chosen else " "
            print(f"  {mark} {card.verdict:6} {card.total:5.1f}  {card.title}. {card.reason}")
    return FALLS_SHORT if short else SOUND


def print_sheet(build: Build, paper: str) -> int:
    """The build on paper: one HTML file with everything in it."""
    sys.stdout.write(paper_sheet(BuildContext(build, load_catalogue()), paper))
    return SOUND
