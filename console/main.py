"""``zinc-latch``: check a build file from the terminal, without any web framework."""

from __future__ import annotations

import argparse
import json
import sys
from importlib import import_module

from console.asking import SOUND, UNUSABLE, the_build
from latchcore.formats.buildfile import json_schema

EPILOG = """examples:
  zinc-latch check bench.json                         findings as text
  zinc-latch check --json - < bench.json              the whole report as JSON
  zinc-latch advise bench.json "Mist relay"           stages that would serve it, the best first
  zinc-latch program bench.json --language micropython --out board/
  zinc-latch settings bench.json > settings.csv       for ready-made firmware
  zinc-latch wires bench.json > wires.csv             also parts, pins, readings
  zinc-latch plan bench.json                          what to read at first power, step by step
  zinc-latch bench bench.json --fault any             practise on a simulated bench
  zinc-latch drawing bench.json A > a.svg
  zinc-latch sheet bench.json --paper letter > sheet.html

exit status: 0 sound, 1 something falls short, 2 unusable input
"""
#: Commands that take a build and nothing else.
PLAIN = {
    "wires": "print the wire list of a build file as CSV",
    "parts": "print what a build file needs as CSV",
    "readings": "print what a meter should show as CSV",
    "pins": "print the pin table of its program as CSV",
    "settings": "print what ready-made firmware asks for as CSV",
}


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="zinc-latch",
        description="Check a Zinc Latch build file and take out what is made of it.",
        epilog=EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    commands = parser.add_subparsers(dest="command", required=True)

    def of_build(name: str, does: str) -> argparse.ArgumentParser:
        command = commands.add_parser(name, help=does, description=f"{does}.")
        command.add_argument("build", help="build file, or - for standard input")
        return command

    check = of_build("check", "evaluate a build file and print its findings")
    check.add_argument("--json", action="store_true", help="print the whole report as JSON")
    for name, does in PLAIN.items():
        of_build(name, does)
    size = commands.add_parser("size", help="work out a wish, such as “12 V solenoid 0.5 A”")
    size.add_argument("wish", help="what is to be switched, on which board, in a line")
    size.add_argument("--json", action="store_true", help="print the whole report as JSON")
    states = of_build("states", "print every combination of a channel's lines")
    states.add_argument("channel", help="its id, letter or name")
    states.add_argument("--json", action="store_true", help="print them as JSON")
    run = of_build("rehearse", "run what the loads of a build file do")
    run.add_argument("--inputs", help="recorded inputs, a table (CSV) or a value change dump (VCD)")
    run.add_argument("--seconds", type=float, help="how long; up to the last input and 60 s more")
    run.add_argument("--vcd", help="also write it as a value change dump")
    run.add_argument("--lines", help="also write what each line does, .vcd or .csv")
    run.add_argument("--capture", help="hold levels captured at the board against it, CSV or VCD")
    run.add_argument("--begins", type=float, default=0.0, help="where its first step is; 0 s")
    run.add_argument("--json", action="store_true", help="print it as JSON")
    walk = of_build("explore", "walk everything the loads of a build file can do")
    walk.add_argument("--seconds", type=float, default=5.0, help="how long it may take; 5 s")
    walk.add_argument("--json", action="store_true", help="print what was found as JSON")
    program = of_build("program", "write the program of a build file")
    program.add_argument("--language", choices=("micropython", "cpp"), required=True)
    program.add_argument("--out", help="a directory; without it the text itself is printed")
    advise = of_build("advise", "rank the stages that would serve its channels")
    advise.add_argument("channel", nargs="?", help="its id, letter or name; every one without it")
    plan = of_build("plan", "print the power-up plan: what to read, where, and what a miss means")
    plan.add_argument("--json", action="store_true", help="print it as JSON")
    bench = of_build("bench", "be its controller, its meter and its loads, line by line")
    bench.add_argument("--fault", help="hide a fault in it: a name, or “any”")
    bench.add_argument("--faults", action="store_true", help="print the names of all it can hide")
    drawing = of_build("drawing", "print the drawing of a channel as SVG")
    drawing.add_argument("channel", help="its id, letter or name")
    sheet = of_build("sheet", "print the build on paper as one HTML file")
    sheet.add_argument("--paper", choices=("a4", "letter"), default="a4")
    commands.add_parser("schema", help="print the JSON Schema of the build file")
    return parser


def main(argv: list[str] | None = None) -> int:
    """
    Run the command; returns the exit status: 0 sound, 1 a fix or stop stands, 2 unusable input.
    """
    arguments = _parser().parse_args(argv)
    try:
        if arguments.command == "schema":
            print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
            return SOUND
        if arguments.command == "size":
            return import_module("console.sizing").print_size(arguments.wish, arguments.json)
        build = the_build(arguments.build)
        if build is None:
            return UNUSABLE
        module, function, told = COMMANDS[arguments.command]
        given = [getattr(arguments, name) for name in told]
        return getattr(import_module(module), function)(build, *given)
    except BrokenPipeError:
        # The reader has gone (a pager was closed); that is no fault of the build.
        sys.stderr.close()
        return SOUND


#: Where each command is done, by module and function, with what else it is told. A module is
#: loaded only when its command is given: a check wants to be quick.
COMMANDS: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "check": ("console.checking", "print_check", ("json",)),
    "wires": ("console.outward", "print_table", ("command",)),
    "parts": ("console.outward", "print_table", ("command",)),
    "readings": ("console.outward", "print_table", ("command",)),
    "pins": ("console.outward", "print_pins", ()),
    "settings": ("console.outward", "print_settings", ()),
    "states": ("console.states", "print_states", ("channel", "json")),
    "rehearse": (
        "console.behaviour",
        "print_rehearsal",
        ("inputs", "seconds", "vcd", "json", "lines", "capture", "begins"),
    ),
    "explore": ("console.behaviour", "print_exploration", ("json", "seconds")),
    "program": ("console.outward", "write_program", ("language", "out")),
    "plan": ("console.planning", "print_plan", ("json",)),
    "bench": ("console.benching", "run_bench", ("fault", "faults")),
    "advise": ("console.outward", "print_advice", ("channel",)),
    "drawing": ("console.outward", "print_drawing", ("channel",)),
    "sheet": ("console.outward", "print_sheet", ("paper",)),
}


if __name__ == "__main__":
    sys.exit(main())
