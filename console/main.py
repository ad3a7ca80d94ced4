"""``zinc-latch``: check a build file from the terminal, without any web framework."""

from __future__ import annotations

import argparse
import csv
import json
import sys
from pathlib import Path

from console.behaviour import print_exploration, print_rehearsal
from console.states import print_states
from latchcore.advice.mending import advised
from latchcore.advice.wish_build import open_wish
from latchcore.advice.wishes import WishError, name_of, read_wish, said_unknown
from latchcore.catalogue import load_catalogue
from latchcore.design.context import BuildContext
from latchcore.document.models import Build
from latchcore.edits import EditError
from latchcore.evaluate import evaluate
from latchcore.formats.buildfile import MOST_BYTES, BuildFileError, json_schema, read_build
from latchcore.formats.reportfile import report_data, report_text
from latchcore.whole.laying.conductors import conductors
from latchcore.whole.wire_list import WIRE, wire_list

HEADER = ("number", "from", "to", "area", "colour", "domain", "current", "fuse in front", "cable")
SOUND, FALLS_SHORT, UNUSABLE = 0, 1, 2


def main(argv: list[str] | None = None) -> int:
    """
    Run the command; returns the exit status: 0 sound, 1 a fix or stop stands, 2 unusable input.
    """
    parser = argparse.ArgumentParser(
        prog="zinc-latch", description="Check a Zinc Latch build file."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    check = commands.add_parser("check", help="evaluate a build file and print its findings")
    check.add_argument("build", help="build file, or - for standard input")
    check.add_argument("--json", action="store_true", help="print the whole report as JSON")
    wires = commands.add_parser("wires", help="print the wire list of a build file as CSV")
    wires.add_argument("build", help="build file, or - for standard input")
    size = commands.add_parser("size", help="work out a wish, such as “12 V solenoid 0.5 A”")
    size.add_argument("wish", help="what is to be switched, on which board, in a line")
    size.add_argument("--json", action="store_true", help="print the whole report as JSON")
    states = commands.add_parser("states", help="print every combination of a channel's lines")
    states.add_argument("build", help="build file, or - for standard input")
    states.add_argument("channel", help="its id, letter or name")
    states.add_argument("--json", action="store_true", help="print them as JSON")
    run = commands.add_parser("rehearse", help="run what the loads of a build file do")
    run.add_argument("build", help="build file, or - for standard input")
    run.add_argument("--inputs", help="recorded inputs, a table (CSV) or a value change dump (VCD)")
    run.add_argument("--seconds", type=float, help="how long; up to the last input and 60 s more")
    run.add_argument("--vcd", help="also write it as a value change dump")
    run.add_argument("--json", action="store_true", help="print it as JSON")
    walk = commands.add_parser("explore", help="walk everything the loads of a build file can do")
    walk.add_argument("build", help="build file, or - for standard input")
    walk.add_argument("--seconds", type=float, default=5.0, help="how long it may take; 5 s")
    walk.add_argument("--json", action="store_true", help="print what was found as JSON")
    commands.add_parser("schema", help="print the JSON Schema of the build file")
    arguments = parser.parse_args(argv)
    try:
        if arguments.command == "schema":
            print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
            return SOUND
        if arguments.command == "size":
            return _size(arguments.wish, arguments.json)
        build = _build(arguments.build)
        if build is None:
            return UNUSABLE
        if arguments.command == "states":
            return print_states(build, arguments.channel, arguments.json)
        if arguments.command == "rehearse":
            return print_rehearsal(
                build, arguments.inputs, arguments.seconds, arguments.vcd, arguments.json
            )
        if arguments.command == "explore":
            return print_exploration(build, arguments.json, arguments.seconds)
        return _wires(build) if arguments.command == "wires" else _check(build, arguments.json)
    except BrokenPipeError:
        # The reader has gone (a pager was closed); that is no fault of the build.
        sys.stderr.close()
        return SOUND


def _build(name: str) -> Build | None:
    """The build of a file; without one, a line on standard error says why."""
    try:
        content = sys.stdin.buffer.read(MOST_BYTES + 1) if name == "-" else _read(Path(name))
        return read_build(content)
    except OSError as error:
        print(f"zinc-latch: {name}: {error.strerror}", file=sys.stderr)
    except BuildFileError as error:
        print(f"zinc-latch: {name}: {' '.join(str(error).split())}", file=sys.stderr)
    return None


def _size(text: str, as_json: bool) -> int:
    """A wish worked out: its stages with their values, then the report."""
    try:
        wish = read_wish(text)
        missing = [f"{name} of the {x.words}" for x in wish.loads for name in x.missing]
        missing += [] if wish.board else ["board"]
        if not wish.loads or missing:
            lacks = ", ".join(missing) if wish.loads else "a load, such as lamp, coil or motor"
            raise WishError(f"Missing: {lacks}. {said_unknown(wish)}".strip())
        build = open_wish(wish, name_of(wish))
    except (WishError, EditError) as error:
        print(f"zinc-latch: {' '.join(str(error).split())}", file=sys.stderr)
        return UNUSABLE
    if wish.unknown:
        print(f"zinc-latch: {said_unknown(wish)}", file=sys.stderr)
    if not as_json:
        for channel in evaluate(build).channels:
            if channel.result is not None:
                values = ", ".join(f"{v.label} {v.text}" for v in channel.result.values if v.text)
                print(f"{channel.letter} {channel.name}: {channel.result.title}. {values}.")
        print()
    return _check(build, as_json)


def _wires(build: Build) -> int:
    """Every wire in the order in which one wires; exits as it does for a sound build."""
    around = BuildContext(build, load_catalogue())
    table = csv.writer(sys.stdout, lineterminator="\n")
    table.writerow(HEADER)
    for group in wire_list(around, evaluate(build)):
        for row in group.rows:
            if row.kind == WIRE:
                ends = (row.number, row.start, row.end, row.area.removesuffix(" mm²"))
                rest = (row.colour, row.domain, f"{row.current:.4g}", row.fuse_a, row.cable)
                table.writerow([*ends, *rest])
    return SOUND


def _check(build: Build, as_json: bool) -> int:
    report = advised(build)
    if as_json:
        laid = conductors(BuildContext(build, load_catalogue()), report)
        print(json.dumps(report_data(report, laid), indent=2, ensure_ascii=False))
    else:
        print(report_text(report), end="")
    return FALLS_SHORT if report.count("stop") or report.count("fix") else SOUND


def _read(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(MOST_BYTES + 1)


if __name__ == "__main__":
    sys.exit(main())
