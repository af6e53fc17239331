"""The packs of a folder, and the language that a client likes best."""

from __future__ import annotations

import json
import pathlib
import re
from collections.abc import Iterable

from .sentences import Sentences

WEIGHT = re.compile(r"\s*q=(0(?:\.\d{0,3})?|1(?:\.0{0,3})?)\s*", re.IGNORECASE)


def load(folder: str | pathlib.Path) -> dict[str, Sentences]:
    """The sentences of a folder by locale."""
    packs = (json.loads(file.read_text("utf-8")) for file in sorted(pathlib.Path(folder).glob("*.sentences.json")))
    return {pack["locale"]: Sentences(pack) for pack in packs}


def preferred(header: str | None, offered: Iterable[str], otherwise: str) -> str:
    """The language that a client likes best (RFC 9110 section 12.5.4, lookup of RFC 4647).

    A range of weight 0 refuses its language; where nothing else fits, `otherwise` is spoken in any case.
    """
    known = {locale.lower(): locale for locale in offered}
    wanted: list[tuple[float, str]] = []
    refused: set[str] = set()
    for part in (header or "").split(","):
        tag, _, parameters = part.strip().partition(";")
        found = WEIGHT.fullmatch(parameters)
        weight = float(found[1]) if found else 1.0
        if weight == 0:
            refused.add(tag.strip().lower())
        elif tag.strip():
            wanted.append((weight, tag.strip().lower()))
    for _, tag in sorted(wanted, key=lambda one: -one[0]):
        if tag == "*" and otherwise.lower() not in refused:
            return otherwise
        while tag:
            if tag in known and tag not in refused:
                return known[tag]
            # A subtag of one letter goes with the one behind it.
            tag = re.sub(r"-[^-]$", "", tag.rpartition("-")[0])
    return otherwise
