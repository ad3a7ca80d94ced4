"""``zinc-latch``: check a build file from the terminal, without any web framework."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from latchcore.advice.mending import advised
from latchcore.formats.buildfile import MOST_BYTES, BuildFileError, json_schema, read_build
from latchcore.formats.reportfile import report_data, report_text

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
    commands.add_parser("schema", help="print the JSON Schema of the build file")
    arguments = parser.parse_args(argv)
    try:
        if arguments.command == "schema":
            print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
            return SOUND
        return _check(arguments.build, arguments.json)
    except BrokenPipeError:
        # The reader has gone (a pager was closed); that is no fault of the build.
        sys.stderr.close()
        return SOUND


def _check(name: str, as_json: bool) -> int:
    try:
        content = sys.stdin.buffer.read(MOST_BYTES + 1) if name == "-" else _read(Path(name))
        build = read_build(content)
    except OSError as error:
        print(f"zinc-latch: {name}: {error.strerror}", file=sys.stderr)
        return UNUSABLE
    except BuildFileError as error:
        print(f"zinc-latch: {name}: {' '.join(str(error).split())}", file=sys.stderr)
        return UNUSABLE
    report = advised(build)
    if as_json:
        print(json.dumps(report_data(report), indent=2, ensure_ascii=False))
    else:
        print(report_text(report), end="")
    return FALLS_SHORT if report.count("stop") or report.count("fix") else SOUND


def _read(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(MOST_BYTES + 1)


if __name__ == "__main__":
    sys.exit(main())
