# SPDX-License-Identifier: MIT
"""Says violations in words from a pack of plain sentences: nothing but Python's standard library.

Written from docs/reference/packs.md; the numbers in the comments are its sections.
"""

from __future__ import annotations

import datetime
import enum
import json
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from decimal import Decimal
from typing import Any, Union

#: The version of the format that is read.
FORMAT = 1
Path = list[Union[int, str]]
#: Of a list with more entries than the first number so many are named.
MOST_ENTRIES, FEW_ENTRIES = 20, 10

RTL = "\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc\U00010800-\U00010fff\U0001e800-\U0001efff"
HAS_RTL = re.compile(f"[{RTL}]")
HAS_LTR = re.compile(rf"[^\W\d_{RTL}]")
PRIVATE = "\ue000-\uf8ff\U000f0000-\U0010ffff"
FROM_RIGHT = re.compile(rf"(?!\d)[{RTL}]|[{PRIVATE}]")
SIGNED = re.compile(rf"\d(?:[^\w\s(){PRIVATE}{RTL}]|_)|(?:[^\w\s(){PRIVATE}{RTL}]|_)\d")
PLACES = ("query:", "header:", "cookie:", "path:")
ISOLATED = re.compile("\u2068[^\u2069]*\u2069")
BREAKS = re.compile("[\t\n\v\f\r\u0085\u2028\u2029]+")
UNWANTED = re.compile("[\x00-\x1f\x7f-\x9f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]")
MASK = "•••"
LONE = re.compile("[\ud800-\udfff]")
NUMERIC = re.compile(r"-?[0-9]+(?:\.[0-9]+)?(?:[eE][-+]?[0-9]{1,4})?")
SEGMENT = re.compile(r'\[(?:(\d+)|("(?:[^"\\]|\\.)*")|\*)\]|\.\.(?=.)|\.?([^.\[\]"\'*\s\x00-\x1f\x7f-\x9f]+)|\.?\*')


class Open(enum.Enum):
    """An open segment of a pattern."""

    ELEMENT = "[*]"
    KEY = ".*"
    DEPTH = ".."


def path_of(path: str | Sequence[int | str]) -> Path:
    """The segments of a path, which may be a list of them already."""
    if not isinstance(path, str):
        return list(path)
    return [one for one in read_pattern(path) if not isinstance(one, Open)]


def read_pattern(text: str) -> list[int | str | Open]:
    """The segments of a path or a pattern (2): numbers from 0 for elements, texts for members."""
    return [
        int(number)
        if number
        else json.loads(quoted)
        if quoted
        else name or (Open.ELEMENT if found[0] == "[" else Open.DEPTH if found == ".." else Open.KEY)
        for found, (number, quoted, name) in ((one[0], one.groups()) for one in SEGMENT.finditer(text))
    ]


def is_number(value: object) -> bool:
    return isinstance(value, (int, float, Decimal)) and not isinstance(value, bool)


def numeric(value: object) -> int | float | Decimal | None:
    """The number that a value is, or that a text writes; else None."""
    if isinstance(value, str) and NUMERIC.fullmatch(value):
        return Decimal(value)
    return value if isinstance(value, (int, float, Decimal)) and not isinstance(value, bool) else None


def digits_of(value: int | float | Decimal) -> str:
    """The digits of a number without its sign, an exponent or zeros at the end."""
    text = f"{abs(Decimal(str(value))):f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def yes_or_no(value: Any) -> Any:
    """A parameter, with a truth value as a `select` asks for it."""
    return ("yes" if value else "no") if isinstance(value, bool) else value


def spaced(value: Any, hides: Callable[[Path], bool] = lambda path: False, path: Path = []) -> str:
    """JSON with a space behind `,` and `:`; dates as texts, numbers as ECMAScript writes them."""
    if path and hides(path):
        return f'"{MASK}"'
    if isinstance(value, (datetime.date, datetime.time)):
        return value.isoformat()
    if isinstance(value, Mapping):
        members = ((str(key), spaced(one, hides, [*path, str(key)])) for key, one in value.items())
        return f"{{{', '.join(f'{json.dumps(key, ensure_ascii=False)}: {one}' for key, one in members)}}}"
    if isinstance(value, (list, tuple)):
        return f"[{', '.join(spaced(one, hides, [*path, at]) for at, one in enumerate(value))}]"
    if isinstance(value, (int, float, Decimal)) and not isinstance(value, bool):
        return written_number(value)
    return json.dumps(value, ensure_ascii=False, default=str)


def written_number(value: int | float | Decimal) -> str:
    """A number as ECMAScript writes it: with an exponent from 1e21 and below 1e-6."""
    minus, size = "-" if value < 0 else "", abs(Decimal(str(value)))
    if size == 0 or Decimal("1e-6") <= size < Decimal("1e21"):
        return minus + digits_of(value)
    digits, _, exponent = f"{Decimal(str(value)).normalize():e}".lower().lstrip("-").partition("e")
    return f"{minus}{digits}e{int(exponent):+d}"


def rounded(value: int | float | Decimal) -> int | float | Decimal:
    """A number with three decimals at the most, half to even."""
    _, _, decimals = digits_of(value).partition(".")
    return round(Decimal(str(value)), 3) if len(decimals) > 3 else value


def in_cases(value: Any) -> Any:
    """What stands in the cases of a plural for its number."""
    number = numeric(value)
    return value if number is None else rounded(number)


def print_path(segments: Sequence[int | str]) -> str:
    text = ""
    for segment in segments:
        if isinstance(segment, int):
            text += f"[{segment}]"
        elif re.fullmatch(r'[^.\[\]"\'*\s\x00-\x1f\x7f-\x9f]+', segment):
            text += f".{segment}" if text else segment
        else:
            text += f"[{json.dumps(segment, ensure_ascii=False)}]"
    return text


class Fields:
    """The fields of a form as a tree from the last segment to the first, so that a path takes no longer than it is deep."""

    def __init__(self, keys: Mapping[str, Any]) -> None:
        self.root: dict[Any, Any] = {}
        for key in keys:
            place, path = key.split(":", 1) if key.startswith(PLACES) else ("body", key)
            pattern = read_pattern(path)
            node = self.root.setdefault(place, {})
            for segment in reversed(pattern):
                node = node.setdefault(segment, {})
            # Behind `..` places are counted from the end.
            depth = pattern.index(Open.DEPTH) if Open.DEPTH in pattern else len(pattern)
            opened = [at for at, one in enumerate(pattern) if one in (Open.ELEMENT, Open.KEY)]
            node[None] = (key, [at if at < depth else at - len(pattern) for at in opened])

    def matching(self, place: str, segments: Path) -> Iterator[tuple[str, list[int]]]:
        """The key and the open places of each field whose pattern matches, in the order of section 2."""
        return self._below(self.root.get(place, {}), segments, len(segments))

    def _below(self, node: dict[Any, Any], segments: Path, left: int) -> Iterator[tuple[str, list[int]]]:
        if left == 0 and None in node:
            yield node[None]
        last = segments[left - 1] if left else None
        for segment in (last, Open.ELEMENT if isinstance(last, int) else Open.KEY) if left else ():
            if segment in node:
                yield from self._below(node[segment], segments, left - 1)
        if Open.DEPTH in node:
            for further in range(left, -1, -1):
                yield from self._below(node[Open.DEPTH], segments, further)


class Missing(Exception):
    """A sentence asks for an argument that the violation does not have."""


class Sentences:
    """The sentences of one language."""

    def __init__(self, pack: dict[str, Any]) -> None:
        if pack.get("sentences") != FORMAT:
            raise ValueError(f"this is not a pack of sentences of version {FORMAT}")
        self.pack = pack
        self.others: dict[str, Sentences] = {}
        self.fields = {form: Fields(keys) for form, keys in pack["fields"].items()}
        opened, closed = (re.escape(one) for one in pack.get("slot", "{}"))
        # A per cent sign is doubled where slots begin with one.
        self.slot = re.compile(rf"{'%%|' if opened.startswith('%') else ''}{opened}(\w+){closed}")

    def say(self, form: str, violation: Mapping[str, Any]) -> tuple[str, str | None]:
        """The sentence of a violation, and the text for beside the input or None."""
        told, text, inline, otherwise = self.looked_up(form, violation)
        texts = text if isinstance(text, list) else [] if text is None else [text]
        inlines = inline if isinstance(inline, list) else [inline]
        for at, one in enumerate(texts):
            said = self.said_or_none(one, told)
            if said is not None:
                beside = inlines[at] if at < len(inlines) else None
                return said, beside and self.said_or_none(beside, told) or None
        code = violation.get("as") or violation["rule"]
        last = None if otherwise is None else self.said_or_none(otherwise, told)
        return code if last is None else last, None

    def looked_up(self, form: str, violation: Mapping[str, Any]) -> tuple[dict[str, Any], Any, Any, Any]:
        """The arguments of a violation, its sentence, its text for beside the input, and what stands in (2, 4)."""
        code = violation.get("as") or violation["rule"]
        segments = path_of(violation["path"])
        told = {name: yes_or_no(value) for name, value in (violation.get("params") or {}).items()}
        if "value" in violation:
            value = violation["value"]
            told["value"] = value if isinstance(value, str) else spaced(value, self.gate(form, violation))
        if form not in self.fields:
            raise KeyError(f"there is no form {form!r} in the pack")
        field, text, inline, otherwise = None, None, None, None
        for key, opened in self.fields[form].matching(violation.get("in", "body"), segments):
            found = self.pack["fields"][form][key]
            if field is None:
                field = found
                for name, at in zip(found["positions"], opened):
                    segment = segments[at]
                    told.setdefault(name, segment + 1 if isinstance(segment, int) else segment)
                if found.get("secret"):
                    told |= {name: MASK for name in ("value", "name") if name in told}
            otherwise = otherwise or found.get("otherwise")
            if text is None:
                text = self.pack["forms"][form].get(key, {}).get(code)
                inline = None if text is None else self.pack["inlines"][form].get(key, {}).get(code)
        return told, text, inline, otherwise

    def shown_path(self, form: str, violation: Mapping[str, Any]) -> tuple[list[str | int], bool]:
        """The path of a violation as it may be shown, and whether what stands there is secret (6)."""
        segments = path_of(violation["path"])
        for key, _ in self.fields[form].matching(violation.get("in", "body"), segments):
            field = self.pack["fields"][form][key]
            return segments[: len(segments) - field.get("hidden", 0)], "secret" in field
        return segments, False

    def gate(self, form: str, violation: Mapping[str, Any]) -> Callable[[Path], bool]:
        """Whether a part of a violation's value is secret: by its place, or by the name of a secret field (4)."""
        names = self.pack.get("secrets", {}).get(form)
        around, part = path_of(violation["path"]), violation.get("in", "body")

        def hides(path: Path) -> bool:
            places = self.fields[form].matching(part, [*around, *path])
            return path[-1] in names or any(self.pack["fields"][form][key].get("secret") for key, _ in places)

        return hides if names else lambda path: False

    def becomes(self, form: str, violation: Mapping[str, Any]) -> Mapping[str, Any] | None:
        """The entry of `becomes` for a violation, or None (6)."""
        code = violation.get("as") or violation["rule"]
        places = self.fields[form].matching(violation.get("in", "body"), path_of(violation["path"]))
        found = (self.pack["becomes"].get(form, {}).get(key, {}).get(code) for key, _ in places)
        return next((one for one in found if one), None)

    def problem_of(self, form: str, violation: Mapping[str, Any], entry: Mapping[str, Any]) -> tuple[str, str]:
        """Title and detail of the problem that a broken rule is."""
        told = self.looked_up(form, violation)[0]
        title, detail = self.problem(entry["problem"], told)
        own = {name: self.said_or_none(entry[name], told) for name in ("title", "detail") if name in entry}
        return own.get("title") or title, own.get("detail") or detail

    def problem(self, name: str, params: Mapping[str, Any]) -> tuple[str, str]:
        """Title and detail of a problem."""
        problem = self.pack["problems"][name]
        told = {
            "located": "yes" if "line" in params and "column" in params else "no",
            "timed": "yes" if "seconds" in params else "no",
            **params,
        }
        return self.said_or_none(problem["title"], told) or problem["phrase"], self.said_or_none(problem.get("detail", ""), told) or ""

    def said_or_none(self, sentence: Any, told: Mapping[str, Any]) -> str | None:
        try:
            return self.said(sentence, told)
        except Missing:
            return None

    def said(self, sentence: Any, told: Mapping[str, Any]) -> str:
        """A sentence, in the language that it is in where that is another (1)."""
        if isinstance(sentence, dict) and "sentence" in sentence:
            language = sentence["locale"]
            if language not in self.others:
                self.others[language] = type(self)({**self.pack, **self.pack["locales"][language]})
            return self.others[language].said(sentence["sentence"], told)
        return self.fill(sentence, told)

    # Arguments (4)

    def argument(self, name: str, told: Mapping[str, Any]) -> Any:
        """What stands for a name; behind `_quoted` the text in the marks of the language."""
        value = told.get(name)
        base = name.removesuffix("_quoted")
        if name in told or base == name or told.get(base) is None:
            return value
        text = self.shown(self.shown(told[base]) if isinstance(told[base], (list, tuple)) else told[base])
        return str(self.pack["quoted"]).replace("{text}", self.isolated(text))

    def shown(self, value: Any) -> str:
        if isinstance(value, (list, tuple)):
            return self.joined([self.isolated(self.shown(one if isinstance(one, str) else spaced(one))) for one in value])
        if not isinstance(value, str):
            value = spaced(value)
        text = UNWANTED.sub("", BREAKS.sub(" ", LONE.sub("\ufffd", value)))
        longest: int = self.pack["longest"]
        return text if len(text) <= longest else text[: longest - 1].rstrip() + "…"

    def joined(self, entries: list[str]) -> str:
        """A list as the language joins it."""
        lists = self.pack["lists"]
        if len(entries) > MOST_ENTRIES:
            few: str = lists["mark"].join([*entries[:FEW_ENTRIES], f"… ({self.in_digits(str(len(entries)))})"])
            return few
        if len(entries) < 3:
            pattern: str = lists["two"] if len(entries) == 2 else "{0}"
            return pattern.format(*entries) if entries else ""
        said: str = lists["end"].format(*entries[-2:])
        for at in range(len(entries) - 3, -1, -1):
            said = lists["middle" if at else "start"].format(entries[at], said)
        return said

    def number(self, value: int | float | Decimal) -> str:
        """A number with the language's digits and marks, thousands set apart as it does."""
        numbers = self.pack["numbers"]
        whole, _, rest = digits_of(value).partition(".")
        last, more = numbers["sizes"]
        if len(whole) < last + numbers["least"]:
            last = len(whole)
        groups = [whole[-last:]]
        whole = whole[:-last]
        while whole:
            groups.insert(0, whole[-more:])
            whole = whole[:-more]
        text: str = numbers["group"].join(groups) + (numbers["decimal"] + rest if rest else "")
        text = self.in_digits(text)
        return f"{numbers['minus']}{text}" if value < 0 else text

    def in_digits(self, text: str) -> str:
        digits = self.pack["numbers"]["digits"]
        return "".join(digits[int(one)] if one in "0123456789" else one for one in text)

    def isolated(self, text: str, rtl: bool | None = None) -> str:
        """The text in an isolate (U+2068, U+2069) where it runs against what is around it (5)."""
        rest = ISOLATED.sub("", text)
        if not (self.pack["direction"] == "rtl" if rtl is None else rtl):
            against = bool(HAS_RTL.search(rest))
        else:
            neutral = rest == text and bool(re.search(r"\D", text)) and not FROM_RIGHT.search(text)
            against = bool(HAS_LTR.search(rest) or SIGNED.search(rest)) or neutral
        return f"\u2068{text}\u2069" if against else text

    def written(self, name: str, told: Mapping[str, Any], before: str) -> str:
        """What stands in a slot; inside of an isolate the direction is the other one."""
        value = self.argument(name, told)
        if value is None:
            raise Missing(name)
        if is_number(value):
            return self.number(value)
        inside = before.count("\u2068") > before.count("\u2069")
        text = value if name.endswith("_quoted") and name not in told else self.shown(value)
        return self.isolated(text, (self.pack["direction"] == "rtl") != inside)

    # Cases (3)

    def fill(self, sentence: Any, told: Mapping[str, Any]) -> str:
        shown = dict(told)
        while not isinstance(sentence, str):
            name = sentence.get("plural")
            sentence = self.chosen(sentence, told)
            if name:
                shown[name] = in_cases(told.get(name))
        return self.slot.sub(
            lambda found: self.written(found[1], shown, sentence[: found.start()]) if found[1] else "%", sentence
        )

    def chosen(self, sentence: Mapping[str, Any], told: Mapping[str, Any]) -> Any:
        cases = sentence["cases"]
        if "select" in sentence:
            return cases.get(str(told.get(sentence["select"], "")), cases["other"])
        value = told.get(sentence["plural"])
        if value is None:
            raise Missing(sentence["plural"])
        number = numeric(value)
        if number is None:
            return cases["other"]
        exact = f"={'-' if number < 0 else ''}{digits_of(number)}"
        return cases[exact] if exact in cases else cases.get(self.category(rounded(number)), cases["other"])

    def category(self, value: int | float | Decimal) -> str:
        """The plural category by the conditions of the pack (UTS 35 part 3 section 5)."""
        digits = digits_of(value)
        whole, _, rest = digits.partition(".")
        known: dict[str, Any] = {"n": Decimal(digits), "i": int(whole), "v": len(rest), "w": len(rest), "c": 0, "e": 0}
        known.update(f=int(rest or 0), t=int(rest or 0))
        for category, condition in self.pack["plurals"].items():
            if any(all(holds(one, known) for one in either.split(" and ")) for either in condition.split(" or ")):
                return str(category)
        return "other"


def holds(relation: str, known: Mapping[str, Any]) -> bool:
    """Whether a relation such as `i % 100 != 12..14` holds."""
    left, negated, right = re.findall(r"^(.+?) (!?)= (.+)$", relation)[0]
    operand, _, modulus = left.partition(" % ")
    number = known[operand] % int(modulus) if modulus else known[operand]
    ranges = (part.split("..") for part in right.split(","))
    inside = any(number in range(int(one[0]), int(one[-1]) + 1) for one in ranges)
    return inside != bool(negated)
