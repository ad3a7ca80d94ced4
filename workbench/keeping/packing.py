"""Revisions stored small: a whole document now and then, the others as what differs from it."""

from __future__ import annotations

import json
from typing import Any

import zstandard

#: A document packed against another is begun anew when it is larger than this share of that one's
#: own size, or this many bytes.
SHARE, SMALL = 0.35, 700
#: No document unpacks to more than this [bytes]; a build file has at most two million.
MOST_BYTES = 16_000_000


def text_of(document: dict[str, Any]) -> bytes:
    """A document as the text that is stored."""
    return json.dumps(document, ensure_ascii=False, separators=(",", ":")).encode("utf-8")


def pack(text: bytes, base: bytes | None = None) -> bytes:
    """
    Text made small, against a base text where one is given.

    Examples
    --------
    >>> base = text_of({"rails": [{"id": f"rail{n}", "voltage": "12 V"} for n in range(60)]})
    >>> small = pack(base.replace(b"12 V", b"24 V", 1), base)
    >>> len(base) > 1900, len(small) < 90, unpack(small, base).count(b"24 V")
    (True, True, 1)
    """
    dictionary = (
        zstandard.ZstdCompressionDict(base, dict_type=zstandard.DICT_TYPE_RAWCONTENT)
        if base
        else None
    )
    return zstandard.ZstdCompressor(level=9 if base is None else 3, dict_data=dictionary).compress(
        text
    )


def unpack(body: bytes, base: bytes | None = None) -> bytes:
    """
    The text again.

    Raises
    ------
    ValueError
        If the bytes are damaged
    """
    dictionary = (
        zstandard.ZstdCompressionDict(base, dict_type=zstandard.DICT_TYPE_RAWCONTENT)
        if base
        else None
    )
    try:
        return zstandard.ZstdDecompressor(dict_data=dictionary).decompress(
            bytes(body), max_output_size=MOST_BYTES
        )
    except zstandard.ZstdError as error:
        raise ValueError(f"the stored revision is damaged ({error})") from error


def begins_anew(packed: bytes, base_packed: bytes) -> bool:
    """Whether a document has moved so far from its base that it is stored whole."""
    return len(packed) > max(SMALL, SHARE * len(base_packed))
