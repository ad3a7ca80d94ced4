"""
Documents of older versions brought to the present one, a step a version; what is newer is refused
by its version.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from latchcore.document.models import SCHEMA_VERSION
from latchcore.figures.typed import Refusal

#: Gives the record of a class that stands in for figures an older program did not ask for: (family,
#: id) to its text form.
StandIn = Callable[[str, str], dict[str, Any]]


class VersionError(Refusal):
    """A document of a version this program cannot read."""


def _one_to_two(data: dict[str, Any], stand_in: StandIn) -> None:
    """
    A rail's pin of the board was called otherwise; records of parts and boards had fewer figures.
    """
    for rail in data.get("rails") or []:
        if isinstance(rail, dict) and "power_pin" in rail:
            pin = rail.pop("power_pin")
            rail.setdefault("board_pin", pin)
    parts = data.get("parts")
    if not isinstance(parts, dict):
        return
    for key, record in parts.items():
        if isinstance(record, dict) and isinstance(record.get("family"), str):
            lacking = stand_in(record["family"], str(key))
            parts[key] = {
                **record,
                **{name: figure for name, figure in lacking.items() if name not in record},
            }


def _two_to_three(data: dict[str, Any], stand_in: StandIn) -> None:
    """Only more can be said: blocks, cables, metal, the print of a channel's own fuse."""


def _three_to_four(data: dict[str, Any], stand_in: StandIn) -> None:
    """Only more can be said: kinds of loads and inputs, what stands at pins, years, full volts."""


def _four_to_five(data: dict[str, Any], stand_in: StandIn) -> None:
    """Only more can be said: chains, and channels on their lines."""


def _five_to_six(data: dict[str, Any], stand_in: StandIn) -> None:
    """Only more can be said: what the loads do."""


STEPS: dict[int, Callable[[dict[str, Any], StandIn], None]] = {
    1: _one_to_two,
    2: _two_to_three,
    3: _three_to_four,
    4: _four_to_five,
    5: _five_to_six,
}


def upgraded(data: dict[str, Any], stand_in: StandIn = lambda family, key: {}) -> dict[str, Any]:
    """
    A document in the present version.

    Parameters
    ----------
    data : dict
        As it was read; a document of an older version is changed in place
    stand_in : callable
        Gives class figures for those a record of an older program lacks

    Raises
    ------
    VersionError
        If the version is none, or newer than this program

    Examples
    --------
    >>> upgraded({"schema_version": 1, "rails": [{"power_pin": "5V"}]})
    {'schema_version': 6, 'rails': [{'board_pin': '5V'}]}
    >>> try:
    ...     upgraded({"schema_version": 99})
    ... except VersionError as error:
    ...     print(str(error)[:45])
    It has schema version 99, of a newer program;
    """
    version = data.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise VersionError(
            f"It has schema version {version!r}; this program reads versions 1 to {SCHEMA_VERSION}."
        )
    if version > SCHEMA_VERSION:
        raise VersionError(
            f"It has schema version {version}, of a newer program; this one reads up to version"
            f" {SCHEMA_VERSION}."
        )
    while version < SCHEMA_VERSION:
        STEPS[version](data, stand_in)
        version += 1
        data["schema_version"] = version
    return data
