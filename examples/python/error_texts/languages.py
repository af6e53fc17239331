# SPDX-License-Identifier: MIT
"""The packs of a folder, and the language that a client likes best."""

from __future__ import annotations

import json
import pathlib
import re
from collections.abc import Iterator, Mapping

from .sentences import Sentences

RANGE = re.compile(r"\s*(\*|[a-z0-9]+(?:-[a-z0-9*]+)*)\s*(?:;\s*q=(0(?:\.\d{0,3})?|1(?:\.0{0,3})?)\s*)?", re.IGNORECASE)
#: Longer headers are no preference of anyone.
LONGEST = 1024


def load(folder: str | pathlib.Path) -> dict[str, Sentences]:
    """The sentences of a folder by locale."""
    packs = (json.loads(file.read_text("utf-8")) for file in sorted(pathlib.Path(folder).glob("*.sentences.json")))
    return {pack["locale"]: Sentences(pack) for pack in packs}


def preferred(header: str | None, packs: Mapping[str, Sentences]) -> str:
    """The language that a client likes best (section 7), of those that there are packs of."""
    settings = next(iter(packs.values())).pack["settings"]
    locales: list[str] = [one for one in (settings["original"], *settings["locales"]) if one in packs]
    parents = {child.lower(): parent.lower() for child, parent in settings.get("parents", {}).items()}
    offered = {locale.lower(): locale for locale in locales}
    found = (RANGE.fullmatch(part) for part in (header or "")[:LONGEST].split(","))
    ranges = [(one[1].lower(), float(one[2] or 1)) for one in found if one]
    wanted = [tag for tag, weight in sorted(ranges, key=lambda one: -one[1]) if weight > 0]
    refused = [tag for tag, weight in ranges if weight == 0]

    def free(locale: str) -> bool:
        tag = locale.lower()
        named = [len(one) for one in wanted if covers(one, tag)]
        return all(any(size > len(one) for size in named) for one in refused if covers(one, tag))

    for tag in wanted:
        chain = list(wider(tag, parents))
        candidates = [offered[one] for one in chain if one in offered]
        if tag == "*":
            candidates = locales
        elif not candidates:
            candidates = [one for one in locales if chain[-1] in wider(one.lower(), parents)]
        for locale in filter(free, candidates):
            return locale
    return next(filter(free, locales), locales[0])


def covers(tag: str, other: str) -> bool:
    return other == tag or other.startswith(f"{tag}-")


def wider(tag: str, parents: Mapping[str, str]) -> Iterator[str]:
    """A tag, and those that stand in for it (section 7), in small letters."""
    while tag not in ("", "und"):
        yield tag
        # A subtag of one letter goes with the one behind it.
        tag = parents.get(tag) or (re.sub(r"(-.)*(-[^-]*)?$", "", tag) if "-" in tag else "")
