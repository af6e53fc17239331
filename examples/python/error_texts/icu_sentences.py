# SPDX-License-Identifier: MIT
"""Says violations in words from a pack of ICU messages (`zeitwort pack --sentences --format icu`), with PyICU.

Written from docs/reference/packs.md section 9. All but the messages themselves is as in plain sentences.
"""

from __future__ import annotations

import datetime
import re
import zoneinfo
from collections.abc import Mapping
from typing import Any

import icu

from .sentences import Missing, Sentences, in_cases, is_number

ASKED = re.compile(r"\{\s*(\w+)\s*[,}]")
DATED = re.compile(r"\{\s*(\w+)_raw\s*,\s*(?:date|time)\b")
NEEDED = re.compile(r"\{\s*(\w+)_raw\s*,\s*(?!select\b)")
COUNTED = re.compile(r"\{\s*(\w+)_raw\s*,\s*(?:plural|selectordinal)\b")
SELECTED = re.compile(r"\{\s*(\w+)_raw\s*,\s*select\b")
TOKEN = re.compile("\ue000(\\d+)\ue001")


class IcuSentences(Sentences):
    """The sentences of one language, whose cases and styles ICU takes."""

    def __init__(self, pack: dict[str, Any]) -> None:
        super().__init__(pack)
        self.locale = icu.Locale.forLanguageTag(pack["icu"])
        self.messages: dict[str, Any] = {}

    def fill(self, sentence: Any, told: Mapping[str, Any]) -> str:
        names = sorted(set(ASKED.findall(sentence)))
        dated, selected = set(DATED.findall(sentence)), set(SELECTED.findall(sentence))
        # Whatever is inside of a case may not be said; a select without a value takes "other".
        for found in NEEDED.finditer(sentence):
            before = sentence[: found.start()]
            if told.get(found[1]) is None and before.count("{") == before.count("}"):
                raise Missing(found[1])
        # A token stands for each text, so that ICU neither reads nor changes it; the text comes when the rest is said.
        values = [self.raw(told, name, dated, selected) if name.endswith("_raw") else f"\ue000{at}\ue001" for at, name in enumerate(names)]
        message = self.messages.get(sentence) or icu.MessageFormat(icu.UnicodeString(sentence), self.locale)
        self.messages[sentence] = message
        said = message.format(names, [value if isinstance(value, icu.Formattable) else icu.Formattable(value) for value in values])
        told = {**told, **{name: in_cases(told.get(name)) for name in COUNTED.findall(sentence)}}
        return TOKEN.sub(lambda found: self.written(names[int(found[1])], told, said[: found.start()]), said)

    def raw(self, told: Mapping[str, Any], name: str, dated: set[str], selected: set[str]) -> Any:
        """The value itself, to choose a case by or to write in a style."""
        name = name.removesuffix("_raw")
        value = told.get(name)
        if name in dated and isinstance(value, str):
            moment = datetime.datetime.fromisoformat(value.replace("Z", "+00:00"))
            # ICU writes in the machine's zone: what the clock shows in the pack's is made an instant of that.
            moment = moment.astimezone(zoneinfo.ZoneInfo(self.pack["zone"])).replace(tzinfo=None) if moment.tzinfo else moment
            return icu.Formattable(moment.timestamp(), icu.Formattable.kIsDate)
        if value is None:
            return ""
        # What chooses a case of a select is a text.
        return self.shown(value) if name in selected or not is_number(value) else value
