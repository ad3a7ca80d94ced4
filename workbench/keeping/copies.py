"""
Copies of everything: written while the program runs, looked at before they are brought back, one
kept for each day.
"""

from __future__ import annotations

import hashlib
import io
import json
import os
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings

from latchcore.figures.typed import Refusal, in_one_line
from workbench.keeping.program import PROGRAM

DATABASE, ABOUT = "zinc-latch.sqlite3", "about.json"
#: Copies of single days that are kept, and copies made before something was brought back.
DAYS, BEFORE_RESTORE = 14, 5
#: A copy unpacks to no more than this [bytes].
MOST_BYTES = 4_000_000_000
_CHUNK = 1 << 20


class CopyError(Refusal):
    """A copy that cannot be used: what is wrong with it."""


@dataclass(frozen=True)
class About:
    """What a copy says of itself."""

    made: str
    program: str
    builds: int
    revisions: int
    parts: int
    digest: str


def directory() -> Path:
    """Where copies are kept, readable by their owner alone."""
    path = settings.DATA_DIR / "copies"
    path.mkdir(mode=0o700, exist_ok=True)
    return path


def database_path() -> Path:
    """The database that is in use."""
    return Path(settings.DATABASES["default"]["NAME"])


def write_copy(target: Path, source: Path | None = None) -> About:
    """
    Write a consistent copy of the database, photos within it, while it may be written to.

    Parameters
    ----------
    target : Path
        The file to write; it is there whole or not at all
    source : Path, optional
        The database; the one in use by default
    """
    source = source or database_path()
    with tempfile.TemporaryDirectory(dir=target.parent, prefix=".copying-") as work:
        snapshot = Path(work) / DATABASE
        with (
            closing(sqlite3.connect(source, timeout=30)) as live,
            closing(sqlite3.connect(snapshot)) as copy,
        ):
            live.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")
        about = _about(snapshot)
        packed = Path(work) / "copy.zip"
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
            archive.write(snapshot, DATABASE)
            archive.writestr(ABOUT, json.dumps(about.__dict__, indent=1))
        os.chmod(packed, 0o600)
        os.replace(packed, target)
    return about


def _about(database: Path) -> About:
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as copy:
        counts = [
            copy.execute(f"SELECT COUNT(*) FROM workbench_{table}").fetchone()[0]
            for table in ("build", "revision", "stockpart")
        ]
    return About(
        datetime.now(UTC).isoformat(timespec="seconds"), PROGRAM, *counts, _digest(database)
    )


def _digest(path: Path) -> str:
    found = hashlib.sha256()
    with path.open("rb") as file:
        while chunk := file.read(_CHUNK):
            found.update(chunk)
    return found.hexdigest()


def damage_of(database: Path, thorough: bool = False) -> str | None:
    """
    What is wrong with a database file, or ``None``.

    Parameters
    ----------
    thorough : bool
        Whether indexes are held against their tables too, which takes longer
    """
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=10)) as found:
            told = found.execute(
                f"PRAGMA {'integrity_check' if thorough else 'quick_check'}(3)"
            ).fetchall()
    except sqlite3.Error as error:
        return str(error)
    return None if told == [("ok",)] else in_one_line("; ".join(str(row[0]) for row in told))


def head_of(database: Path) -> str | None:
    """What is wrong with the first page of a database, or ``None``; quick however large it is."""
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=10)) as found:
            found.execute("SELECT COUNT(*) FROM sqlite_master").fetchone()
    except sqlite3.Error as error:
        return in_one_line(str(error))
    return None


def _known_migrations() -> set[str]:
    return {path.stem for path in (Path(__file__).parent.parent / "migrations").glob("0*.py")}


def check_copy(path: Path, work: Path) -> tuple[Path, About]:
    """
    Unpack a copy beside the data and look it over: form, size, digest, integrity, tables, version.

    Returns
    -------
    tuple of (Path, About)
        The unpacked database, and what the copy says of itself

    Raises
    ------
    CopyError
        With what is wrong; nothing was touched
    """
    try:
        with zipfile.ZipFile(path) as archive:
            names = {info.filename: info for info in archive.infolist()}
            if set(names) != {DATABASE, ABOUT}:
                raise CopyError(
                    f"{path.name} is no copy of this program; expected a file with {DATABASE} and"
                    f" {ABOUT} in it."
                )
            if names[DATABASE].file_size > MOST_BYTES or names[ABOUT].file_size > 10_000:
                raise CopyError(
                    f"{path.name} unpacks to {names[DATABASE].file_size / 1e9:.1f} GB; at most"
                    f" {MOST_BYTES / 1e9:.0f} GB are taken."
                )
            about = About(**json.loads(archive.read(ABOUT)))
            target = work / DATABASE
            with archive.open(DATABASE) as packed, target.open("wb") as out:
                while chunk := packed.read(_CHUNK):
                    out.write(chunk)
    except (zipfile.BadZipFile, EOFError, OSError, ValueError, TypeError, KeyError) as error:
        if isinstance(error, CopyError):
            raise
        raise CopyError(f"{path.name} cannot be read as a copy: {error}.") from error
    if _digest(target) != about.digest:
        raise CopyError(
            f"{path.name} is not what was written: its digest differs. Take another copy."
        )
    if (damage := damage_of(target, thorough=True)) is not None:
        raise CopyError(f"The database in {path.name} is damaged: {damage}.")
    with closing(sqlite3.connect(target)) as found:
        applied = {
            row[0]
            for row in found.execute("SELECT name FROM django_migrations WHERE app = 'workbench'")
        }
    if newer := sorted(applied - _known_migrations()):
        raise CopyError(f"{path.name} was written by a newer program ({newer[-1]}); use that one.")
    return target, about


def restore(path: Path) -> tuple[About, Path | None]:
    """
    Bring a copy back; what was there is kept as a copy of its own first.

    Returns
    -------
    tuple of (About, Path or None)
        What was brought back, and where what was there is kept; ``None`` where there was nothing or
        it cannot be read
    """
    with tempfile.TemporaryDirectory(dir=directory(), prefix=".restoring-") as work:
        fresh, about = check_copy(path, Path(work))
        live = database_path()
        kept = _keep_what_is_there(live)
        if damage_of(live) is None and live.exists():
            # Page by page under the database's own locks, so that a server that runs sees the old
            # state or the new one.
            with (
                closing(sqlite3.connect(fresh)) as source,
                closing(sqlite3.connect(live, timeout=30)) as target,
            ):
                source.backup(target)
        else:
            for tail in ("-wal", "-shm"):
                Path(f"{live}{tail}").unlink(missing_ok=True)
            os.replace(fresh, live)
        os.chmod(live, 0o600)
    return about, kept


def _keep_what_is_there(live: Path) -> Path | None:
    if not live.exists():
        return None
    kept = directory() / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}.zip"
    try:
        write_copy(kept, live)
    except sqlite3.Error:
        # Damaged: no copy can be made of it, so the file itself is set aside, with what was not yet
        # written into it.
        kept = kept.with_suffix(".damaged")
        kept.write_bytes(live.read_bytes())
        if (wal := Path(f"{live}-wal")).exists():
            kept.with_suffix(".damaged-wal").write_bytes(wal.read_bytes())
    for old in sorted(directory().glob("before-restore-*.zip"))[:-BEFORE_RESTORE]:
        old.unlink(missing_ok=True)
    return kept


def copy_of_the_day(now: datetime | None = None) -> Path | None:
    """
    The copy of today, made if there is none yet; only the newest fourteen are kept. ``None`` where
    it was there.
    """
    target = directory() / f"day-{(now or datetime.now(UTC)):%Y-%m-%d}.zip"
    if target.exists():
        return None
    write_copy(target)
    for old in sorted(directory().glob("day-*.zip"))[:-DAYS]:
        old.unlink(missing_ok=True)
    return target


@dataclass(frozen=True)
class Kept:
    """One copy that is kept."""

    name: str
    bytes: int
    about: About | None


def kept_copies() -> list[Kept]:
    """Every copy, the newest first, with what it says of itself."""
    return [
        Kept(path.name, path.stat().st_size, _says(path))
        for path in sorted(directory().glob("*.zip"), key=lambda p: p.stat().st_mtime, reverse=True)
    ]


def _says(path: Path) -> About | None:
    try:
        with zipfile.ZipFile(path) as archive:
            return About(**json.loads(io.BytesIO(archive.read(ABOUT)).read()))
    except (zipfile.BadZipFile, OSError, ValueError, TypeError, KeyError):
        return None
