"""``zinc-latch size``: a wish worked out."""

from __future__ import annotations

import sys

from console.asking import refuse
from console.checking import print_check
from latchcore.advice.wish_build import open_wish
from latchcore.advice.wishes import WishError, name_of, read_wish, said_unknown
from latchcore.edits import EditError
from latchcore.evaluate import evaluate


def print_size(text: str, as_json: bool) -> int:
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
        return refuse(str(error))
    if wish.unknown:
        print(f"zinc-latch: {said_unknown(wish)}", file=sys.stderr)
    if not as_json:
        for channel in evaluate(build).channels:
            if channel.result is not None:
                values = ", ".join(f"{v.label} {v.text}" for v in channel.result.values if v.text)
                print(f"{channel.letter} {channel.name}: {channel.result.title}. {values}.")
        print()
    return print_check(build, as_json)
