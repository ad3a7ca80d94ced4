"""Generic parts, loads, boards, supplies and regions that ship with the program."""

from __future__ import annotations

import hashlib
import tomllib
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

from latchcore.catalogue.families import PART_FAMILIES
from latchcore.catalogue.records import Board, Load, Record, Region, Source

DATA = Path(__file__).parent / "data"


@dataclass(frozen=True)
class Limits:
    """
    Thresholds a person might argue with, each with the reason it has that value (``limits.toml``).
    """

    values: dict[str, float]
    reasons: dict[str, str]

    def __getitem__(self, name: str) -> float:
        return self.values[name]


@dataclass(frozen=True)
class Stock:
    """What is in the drawer: resistor values [Ω] and ids of parts."""

    resistors: frozenset[float] = frozenset()
    parts: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Catalogue:
    """Everything generic, by id; ``raw`` keeps the text form that travels with a build file."""

    parts: dict[str, Any]
    loads: dict[str, Load]
    sources: dict[str, Source]
    regions: dict[str, Region]
    limits: Limits
    version: str
    raw: dict[str, dict[str, Any]] = field(repr=False, default_factory=dict)
    stock: Stock | None = None
    contacts: dict[str, dict[str, float]] = field(repr=False, default_factory=dict)
    datasheet: dict[str, dict[str, list[str]]] = field(repr=False, default_factory=dict)
    discipline: dict[str, dict[str, str]] = field(repr=False, default_factory=dict)
    assembly: dict[str, dict[str, str]] = field(repr=False, default_factory=dict)
    cautions: dict[str, dict[str, str]] = field(repr=False, default_factory=dict)

    def of_family(self, family: str) -> list[Any]:
        """Parts of one family in catalogue order, the smallest first."""
        return list(self._families.get(family, ()))

    @cached_property
    def _families(self) -> dict[str, list[Any]]:
        groups: dict[str, list[Any]] = {}
        for part in self.parts.values():
            groups.setdefault(part.family, []).append(part)
        return groups

    @property
    def boards(self) -> list[Board]:
        """The board profiles."""
        return self.of_family("board")


def read_part(raw: dict[str, Any]) -> Record:
    """
    Validate one part record from its text form.

    Raises
    ------
    ValueError
        If the family is unknown or a figure is missing, misspelt or no quantity

    Examples
    --------
    >>> read_part({"family": "zener", "id": "z15", "title": "15 V", "v_z": "15 V ±5 %",
    ...     "power": "1.3 W",
    ...     "i_peak": "1 A"}).v_z.min
    14.25
    """
    family = raw.get("family") if isinstance(raw, dict) else None
    if not isinstance(family, str) or family not in PART_FAMILIES:
        raise ValueError(
            f"part family “{family}” is not known; expected one of {', '.join(PART_FAMILIES)}"
        )
    return PART_FAMILIES[family].model_validate(raw)


_IN_USE: ContextVar[Catalogue | None] = ContextVar("catalogue in use", default=None)


def in_use() -> Catalogue:
    """The catalogue an edit is carried out against: the one it was given, else the generic one."""
    return _IN_USE.get() or load_catalogue()


@contextmanager
def using(catalogue: Catalogue | None):
    """Carry out edits against a catalogue of one's own."""
    token = _IN_USE.set(catalogue)
    try:
        yield
    finally:
        _IN_USE.reset(token)


@lru_cache
def load_catalogue() -> Catalogue:
    """
    Read the data files that ship with the program.

    Examples
    --------
    >>> sorted(load_catalogue().regions)
    ['europe-230', 'fused-plugs-230', 'north-america-120', 'north-america-240']
    """
    digest, tables = hashlib.sha256(), {}
    for path in sorted(DATA.rglob("*.toml")):
        content = path.read_bytes()
        digest.update(content)
        tables[path.relative_to(DATA).as_posix()] = tomllib.loads(content.decode())
    raw: dict[str, dict[str, Any]] = {}
    for name in (
        "bipolar.toml",
        "mosfets.toml",
        "diodes.toml",
        "couplers.toml",
        "special.toml",
        "relays.toml",
        "mains.toml",
        "chains.toml",
        "meters.toml",
    ):
        raw |= {row["id"]: row for row in tables[name]["parts"]}
    raw |= {table["id"]: table for name, table in tables.items() if name.startswith("boards/")}
    parts = {key: read_part(row) for key, row in raw.items()}
    limits = tables["limits.toml"]
    return Catalogue(
        parts=parts,
        loads={row["id"]: Load.model_validate(row) for row in tables["loads.toml"]["loads"]},
        sources={
            row["id"]: Source.model_validate(row) for row in tables["sources.toml"]["sources"]
        },
        regions={
            row["id"]: Region.model_validate(row) for row in tables["regions.toml"]["regions"]
        },
        limits=Limits(
            {k: v["value"] for k, v in limits.items()}, {k: v["why"] for k, v in limits.items()}
        ),
        version=digest.hexdigest()[:12],
        raw=raw,
        contacts=tables["contacts.toml"],
        datasheet=tables["datasheet.toml"],
        discipline=tables["discipline.toml"],
        assembly=tables["assembly.toml"],
        cautions=tables["cautions.toml"],
    )
