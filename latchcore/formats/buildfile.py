"""The build file: one JSON document that holds a whole build with the parts it uses."""

from __future__ import annotations

import json
from typing import Any, NoReturn

from pydantic import ValidationError

from latchcore.catalogue import Catalogue, load_catalogue, read_part
from latchcore.catalogue.chain_records import ChainPart
from latchcore.catalogue.families import PART_FAMILIES
from latchcore.design.context import BuildContext
from latchcore.document.chains import Chain
from latchcore.document.models import FORMAT, PIECES, Build, Channel
from latchcore.document.upgrades import VersionError, upgraded
from latchcore.edits.registry import plain
from latchcore.evaluate import evaluate
from latchcore.figures.quantity import QuantityError
from latchcore.figures.typed import Refusal, can_be_kept
from latchcore.formats.references import hold_references
from latchcore.stages import STAGES

MOST_BYTES = 2_000_000
MOST_DEPTH = 18


class BuildFileError(Refusal):
    """A file that is no build: one line that says where and why."""


def read_build(text: str | bytes, catalogue: Catalogue | None = None) -> Build:
    """
    Read a build file, all or nothing.

    Parameters
    ----------
    text : str or bytes
        The file's content, UTF-8

    Returns
    -------
    Build

    Raises
    ------
    BuildFileError
        If it is too large, too deep, no JSON, no build, of a newer version, or does not hold
        together

    Examples
    --------
    >>> read_build('{"format": "zinc-latch-build", "schema_version": 3, "name": "Bench"}').name
    'Bench'
    >>> try:
    ...     read_build('{"name": "Bench"')
    ... except BuildFileError as error:
    ...     print(str(error)[:20])
    The file is no JSON:
    """
    size = len(text if isinstance(text, bytes) else text.encode(errors="replace"))
    if size > MOST_BYTES:
        raise BuildFileError(
            f"The file has {size / 1e6:.1f} MB; a build file has at most {MOST_BYTES / 1e6:.0f} MB."
        )
    if isinstance(text, bytes):
        try:
            text = text.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise BuildFileError(
                f"The file is not UTF-8 text: byte {error.start} does not fit."
            ) from error
    _hold_depth(text)
    try:
        data = json.loads(text, parse_constant=_no_constant, object_pairs_hook=_no_twice)
    except (json.JSONDecodeError, RecursionError) as error:
        where = (
            f"{error.msg}, line {error.lineno} column {error.colno}"
            if isinstance(error, json.JSONDecodeError)
            else "too deep"
        )
        raise BuildFileError(f"The file is no JSON: {where}.") from error
    except ValueError as error:
        raise BuildFileError(str(error)) from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise BuildFileError(f'The file is no build: expected an object with "format": "{FORMAT}".')
    _hold_characters(data)
    try:
        build = open_document(data)
    except VersionError as error:
        raise BuildFileError(f"The file cannot be read here. {error}") from error
    except ValidationError as error:
        place = ".".join(str(p) for p in error.errors()[0]["loc"])
        raise BuildFileError(f"{place}: {plain(error)}") from error
    hold_together(build, catalogue or load_catalogue())
    return build


def open_document(data: dict[str, Any]) -> Build:
    """
    A document as it was stored, by this program or an older one, as a build.

    Raises
    ------
    VersionError
        If a newer program wrote it
    pydantic.ValidationError
        If it is no document
    """
    return Build.model_validate(upgraded(data, _stand_in))


def _stand_in(family: str, key: str) -> dict[str, Any]:
    """
    Figures of the class of that id, else of the first of its family, for a record that lacks some.
    """
    generic = load_catalogue()
    same = generic.raw.get(key)
    if same is None or same.get("family") != family:
        same = next((generic.raw[part.id] for part in generic.of_family(family)), {})
    wanted = PART_FAMILIES[family].model_fields if family in PART_FAMILIES else {}
    return {
        name: same[name]
        for name, field in wanted.items()
        if field.is_required()
        and name in same
        and name not in ("id", "title", "pins", "power_pins")
    }


def _hold_characters(data: Any) -> None:
    """Refuse what no page, file or drawing could carry, wherever it stands."""
    waiting = [("", data)]
    while waiting:
        place, value = waiting.pop()
        if isinstance(value, dict):
            for key, inner in value.items():
                if not can_be_kept(key):
                    raise BuildFileError(
                        f"{place or 'the file'}: a name in it holds a character that cannot be"
                        " shown."
                    )
                waiting.append((f"{place}.{key}".removeprefix("."), inner))
        elif isinstance(value, list):
            waiting += [(f"{place}.{n}", inner) for n, inner in enumerate(value)]
        elif isinstance(value, str) and not can_be_kept(value, lines=True):
            raise BuildFileError(
                f"{place}: holds a character that cannot be shown; expected plain text."
            )


def _hold_depth(text: str) -> None:
    depth = 0
    inside = escaped = False
    for character in text:
        if inside:
            if escaped:
                escaped = False
            elif character == "\\":
                escaped = True
            elif character == '"':
                inside = False
        elif character == '"':
            inside = True
        elif character in "[{":
            depth += 1
            if depth > MOST_DEPTH:
                raise BuildFileError(
                    f"The file nests deeper than {MOST_DEPTH} levels; a build does not."
                )
        elif character in "]}":
            depth -= 1


def _no_constant(name: str):
    raise ValueError(f"The file holds {name}, which is no number.")


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise ValueError(f"The file names “{key[:40]}” twice in one place.")
        found[key] = value
    return found


def refuse(place: str, message: str) -> NoReturn:
    """Refuse the file at a place of it."""
    raise BuildFileError(f"{place}: {message}")


def _hold_part(key: str, raw: dict[str, Any]) -> None:
    try:
        part = read_part(raw)
    except ValidationError as error:
        place = ".".join(str(p) for p in error.errors()[0]["loc"])
        raise BuildFileError(f"parts.{key}.{place}: {plain(error)}") from error
    except ValueError as error:
        raise BuildFileError(f"parts.{key}: {error}") from error
    if part.id != key:
        refuse(f"parts.{key}", f"the record calls itself “{part.id}”")


def _hold_ids(build: Build) -> None:
    ids = [item.id for name in PIECES for item in getattr(build, name)]
    if len(ids) != len(set(ids)):
        refuse("ids", "two pieces share one id")
    highest = max((int("".join(filter(str.isdigit, i))) for i in ids), default=0)
    if build.serial < highest:
        refuse("serial", f"is {build.serial}, but an id up to {highest} is in use")


def _hold_channel(around: BuildContext, channel: Channel, place: str) -> None:
    if channel.load.kind not in around.catalogue.loads:
        refuse(f"{place}.load.kind", f"“{channel.load.kind}” is not known")
    if channel.rail is not None and around.build.rail(channel.rail) is None:
        refuse(f"{place}.rail", f"there is no rail “{channel.rail}”")
    _hold_stage(around, channel, f"{place}.stage")


def _hold_stage(around: BuildContext, channel: Channel, place: str) -> None:
    stage = STAGES.get(channel.stage.kind)
    if stage is None:
        refuse(f"{place}.kind", f"“{channel.stage.kind}” is not known")
    known = {s.key: s for s in stage.settings}
    for key, value in channel.stage.settings.items():
        if key not in known:
            refuse(f"{place}.settings.{key}", "the stage has no such setting")
        try:
            known[key].check(value)
        except ValueError as error:
            raise BuildFileError(f"{place}.settings.{key}: {error}") from error
        family = getattr(around.part(value), "family", None)
        if known[key].kind == "part" and family != known[key].family:
            refuse(f"{place}.settings.{key}", f"“{value}” is no part of the kind it must be")


def _hold_chain(around: BuildContext, chain: Chain) -> None:
    part = around.part(chain.part)
    if not isinstance(part, ChainPart):
        refuse(f"chains.{chain.id}.part", f"“{chain.part}” gives no lines")
    strange = set(chain.lines) - {*part.roles, part.release}
    if strange:
        refuse(f"chains.{chain.id}.lines", f"it has no “{sorted(strange)[0]}”")


def hold_together(build: Build, catalogue: Catalogue) -> None:
    """Check what one piece says of another: kinds, parts, ids, rails, settings."""
    for key, raw in build.parts.items():
        _hold_part(key, raw)
    around = BuildContext(build, catalogue)
    _hold_ids(build)
    if build.region not in catalogue.regions:
        refuse("region", f"“{build.region}” is not known")
    if build.board is not None and around.board is None:
        refuse("board", f"“{build.board}” neither ships nor travels with the file")
    for rail in build.rails:
        if rail.source not in catalogue.sources:
            refuse(f"rails.{rail.id}.source", f"“{rail.source}” is not known")
        try:
            around.rail_volts(rail)
        except QuantityError as error:
            raise BuildFileError(f"rails.{rail.id}.voltage: {error}") from error
    if build.board_feed is not None and build.rail(build.board_feed) is None:
        refuse("board_feed", f"there is no rail “{build.board_feed}”")
    for chain in build.chains:
        _hold_chain(around, chain)
    hold_references(build, refuse)
    for channel in build.channels:
        _hold_channel(around, channel, f"channels.{channel.id}")


def packed(build: Build, catalogue: Catalogue | None = None) -> Build:
    """The build with exactly the parts it uses, so that it means the same elsewhere and later."""
    catalogue = catalogue or load_catalogue()
    report = evaluate(build, catalogue)
    used = {part.id for c in report.channels if c.result for part in c.result.parts.values()}
    used |= {build.board} if build.board else set()
    used |= {chain.part for chain in build.chains}
    # A record that stands in a class's place matters unused too: without it the class would be
    # chosen again.
    used |= {key for key, raw in build.parts.items() if catalogue.raw.get(key, raw) != raw}
    used |= {
        v
        for c in build.channels
        for v in c.stage.settings.values()
        if v in build.parts or v in catalogue.raw
    }
    parts = {key: build.parts.get(key) or catalogue.raw[key] for key in sorted(used)}
    return build.model_copy(update={"parts": parts})


def write_build(build: Build, catalogue: Catalogue | None = None) -> str:
    """
    Write a build as the text of a build file; reading and writing it again gives the same bytes.
    """
    data = packed(build, catalogue).model_dump(mode="json", exclude_none=True)
    return json.dumps(data, ensure_ascii=False, indent=2) + "\n"


def json_schema() -> dict[str, Any]:
    """JSON Schema of the build file."""
    schema = Build.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Zinc Latch build"
    return schema
