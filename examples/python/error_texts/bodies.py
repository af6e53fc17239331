# SPDX-License-Identifier: MIT
"""Error bodies in every shape of a pack, from its sentences and templates (section 6 of packs.md)."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any
from urllib.parse import quote

from .sentences import MASK, Sentences, path_of, print_path

Answer = dict[str, Any]
Sentence = dict[str, Any]

# Where nothing stands, no pointer of JSON:API leads.
LACKING = ("required", "dependentRequired")
OF_MEMBERS = ("additionalProperties", "unevaluatedProperties", "propertyNames")
LONE = re.compile("[\ud800-\udfff]")
SLOT = re.compile(r'<([a-z][a-z-]*)(?:\("([^"]*)"\))?>')
ESCAPES = str.maketrans({"&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;"})
XML_NAME = re.compile(r"[A-Za-z_][\w.-]*", re.ASCII)
NO_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]")
ALONE = (401, 403, 404, 405, 410)


def to_json(value: Any) -> str:
    """JSON without spaces; what is no JSON is written as a text, half of a pair of surrogates with an escape."""
    text = json.dumps(value, ensure_ascii=False, separators=(",", ":"), default=str)
    return LONE.sub(lambda found: f"\\u{ord(found[0]):04x}", text)


def plain_pointer(segments: Sequence[int | str]) -> str:
    """A JSON Pointer (RFC 6901)."""
    return "".join("/" + str(one).replace("~", "~0").replace("/", "~1") for one in segments)


def pointer_of(segments: Sequence[int | str]) -> str:
    """A JSON Pointer as a URI fragment (RFC 6901 section 6)."""
    return "#" + quote(plain_pointer(segments), safe="/~!'()*@:$&+,;=")


def problem_answer(
    sentences: Sentences, name: str, params: Mapping[str, Any], extensions: Mapping[str, Any] | None = None
) -> Answer:
    """What is to be said of a problem, before it takes a shape."""
    title, detail = sentences.problem(name, params)
    return {**shared(sentences, name), "title": title, "detail": detail, "extensions": extensions or {}}


def shared(sentences: Sentences, name: str) -> Answer:
    about = sentences.pack["problems"][name]
    pack = sentences.pack
    answer = {"problem": name, "type": about["type"], "status": about["status"], "locale": pack["locale"]}
    return {**answer, "direction": pack["direction"], "extensions": {}, "more": 0, "sentences": []}


def fields_answer(sentences: Sentences, form: str, violations: Sequence[Mapping[str, Any]]) -> Answer:
    """What is to be said to a request that broke rules; the violations come in the order of the document."""
    settings = sentences.pack["settings"]
    one = whole_problem(sentences, form, violations)
    if one:
        return one
    all_of_them = [sentence_of(sentences, form, violation) for violation in violations]
    first: dict[tuple[str, str], Sentence] = {}
    for each in all_of_them:
        first.setdefault((each["in"], each["place"]), each)
    fields = len(first)
    kept = all_of_them if settings["perField"] == "all" else list(first.values())
    alone = settings["detail"] == "first"
    told = kept[: 1 if alone else settings["maxViolations"]]
    more = 0 if alone else len(kept) - len(told)
    counts = {"count": 1, "fields": 1} if alone else {"count": len(told) + more, "fields": fields}
    answer = problem_answer(sentences, "invalid-fields", counts)
    if settings["detail"] != "own":
        answer["detail"] = settings["separator"].join(one["text"] for one in told)
    return {**answer, "sentences": told, "more": more}


def whole_problem(sentences: Sentences, form: str, violations: Sequence[Mapping[str, Any]]) -> Answer | None:
    """The problem that a broken rule is, where that is the answer: alone, or where all that is broken is one."""
    becomes = sentences.pack["becomes"].get(form)
    if not becomes or not violations:
        return None
    entries = [(violation, sentences.becomes(form, violation)) for violation in violations]
    found = [(violation, one) for violation, one in entries if one]
    urgent = [pair for pair in found if sentences.pack["problems"][pair[1]["problem"]]["status"] in ALONE]
    for violation, one in urgent[:1] or (found[:1] if len(found) == len(entries) else []):
        title, detail = sentences.problem_of(form, violation, one)
        return {**shared(sentences, one["problem"]), "title": title, "detail": detail}
    return None


def sentence_of(sentences: Sentences, form: str, violation: Mapping[str, Any]) -> Sentence:
    text, inline = sentences.say(form, violation)
    part, (segments, is_secret) = violation.get("in", "body"), sentences.shown_path(form, violation)
    params = violation.get("params") or {}
    if violation["rule"] in OF_MEMBERS and isinstance(params.get("name"), str):
        segments = [*segments, MASK if is_secret else params["name"]]
    members = params.get("members") if violation["rule"] in ("atLeastOne", "exactlyOne") else None
    return {
        "path": segments,
        "in": part,
        "place": pointer_of(segments) if part == "body" else ".".join(str(one) for one in segments),
        "code": violation.get("as") or violation["rule"],
        "text": text,
        "inline": inline if sentences.pack["settings"]["inline"] else None,
        "lacks": violation["rule"] in LACKING,
        "members": members and [[*segments, *path_of(one)] for one in members],
    }


def grouped(answer: Answer) -> list[list[Sentence]]:
    groups: dict[tuple[str, str], list[Sentence]] = {}
    for one in answer["sentences"]:
        groups.setdefault((one["in"], print_path(one["path"])), []).append(one)
    return list(groups.values())


#: Whether the node is repeated for a field, and its violations; or the violation alone.
At = Any
OfViolation = Callable[[Sentence, Answer, str], Any]


class Template:
    """A shape: what fills the slots of its template with an answer (bodies.md)."""

    def __init__(self, shape: Mapping[str, Any], prefix: str) -> None:
        self.media: str = shape["mediaType"]
        self.body = shape["body"]
        self.prefix = prefix
        self.as_xml = self.media == "application/problem+xml"
        markup = re.search("html|xml", self.media) and not self.as_xml
        self.is_markup = bool(markup)

    def escape(self, text: str) -> str:
        return text.translate(ESCAPES) if self.is_markup else text

    def write(self, answer: Answer) -> str:
        """The body's text."""
        value = self.fill(self.body, answer, None)
        if self.as_xml:
            members = "".join(xml(name, member) for name, member in value.items())
            root = f'<problem xmlns="urn:ietf:rfc:7807" xml:lang="{answer["locale"]}">'
            return f'<?xml version="1.0" encoding="UTF-8"?>\n{root}{members}</problem>'
        return value if isinstance(value, str) and "json" not in self.media else to_json(value)

    # What is left out is None; a null of the template itself is kept by `NULL`.

    def fill(self, node: Any, answer: Answer, at: At) -> Any:
        if isinstance(node, str):
            return self.text(node, answer, at)
        if isinstance(node, list):
            return [self.fill(one, answer, at) for one in node]
        if not isinstance(node, dict):
            return node
        if "each" in node:
            return self.each(node, answer)
        if "when" in node and "node" in node:
            taken = "node" if self.slot(node["when"], answer, at) else "otherwise"
            return self.fill(node[taken], answer, at) if taken in node else None
        if isinstance(node.get("join"), list) and set(node) <= {"join", "with"}:
            return self.join(node, answer, at)
        if set(node) == {"unless-empty"}:
            return self.fill(node["unless-empty"], answer, at) or None
        made: dict[str, Any] = {}
        for key, one in node.items():
            value = self.fill(one, answer, at)
            if key == "...":
                made.update(value or {})
            elif value is not None or one is None:
                made[key] = value
        return made

    def each(self, node: Mapping[str, Any], answer: Answer) -> Any:
        each = node["each"]
        entries = [[one] for one in answer["sentences"]] if each == "violation" else grouped(answer)
        if each in ("body-field", "other-field"):
            entries = [one for one in entries if (one[0]["in"] == "body") == (each == "body-field")]
        places = [(each != "violation", one) for one in entries]
        values = [self.fill(node["node"], answer, place) for place in places]
        if "key" not in node:
            return values
        keys = [self.text(node["key"], answer, place) for place in places]
        return {key: value for key, value in zip(keys, values) if value is not None}

    def join(self, node: Mapping[str, Any], answer: Answer, at: At) -> Any:
        parts: list[Any] = []
        for one in node["join"]:
            value = self.fill(one, answer, at)
            parts += value if isinstance(value, list) else [value]
        parts = [one for one in parts if one not in (None, "")]
        return node["with"].join(shown(one) for one in parts) if "with" in node else parts

    def text(self, text: str, answer: Answer, at: At) -> Any:
        only = SLOT.fullmatch(text)
        if only and only[2] is None and only[1] in SLOTS:
            value = self.slot(only[1], answer, at)
            if isinstance(value, list):
                return [self.escape(one) if isinstance(one, str) else one for one in value]
            return self.escape(value) if isinstance(value, str) else value

        def written(found: re.Match[str]) -> str:
            if found[1] not in SLOTS:
                return found[0]
            value = self.slot(found[1], answer, at)
            if found[2] is not None and isinstance(value, list):
                return found[2].join(self.escape(shown(one)) for one in value)
            return self.escape(shown(value))

        return SLOT.sub(written, text)

    def slot(self, name: str, answer: Answer, at: At) -> Any:
        own = None
        if at:
            by_field, here = at
            if by_field and name in OF_FIELD:
                own = OF_FIELD[name](here)
            elif not by_field and name in OF_VIOLATION:
                own = OF_VIOLATION[name](here[0], answer, self.prefix)
        return own if own is not None or name not in OF_ANSWER else OF_ANSWER[name](answer)


def shown(value: Any) -> str:
    return "" if value is None else value if isinstance(value, str) else to_json(value)


def xml(name: str, value: Any) -> str:
    """RFC 9457 appendix B: members are elements, the entries of a list are `i`."""
    if value is None:
        return ""
    if isinstance(value, list):
        inside = "".join(xml("i", one) for one in value)
    elif isinstance(value, dict):
        named = ((key if XML_NAME.fullmatch(key) else "member", one) for key, one in value.items())
        inside = "".join(xml(key, one) for key, one in named)
    else:
        inside = NO_XML.sub("", shown(value).translate({**ESCAPES, ord("'"): "'"}))
    return f"<{name}>{inside}</{name}>"


def present(one: Sentence, answer: Answer) -> list[int | str]:
    """The nearest place around a path that is in the request: what is missing is not."""
    lacking = {plain_pointer(other["path"]) for other in answer["sentences"] if other["lacks"] and other["in"] == "body"}
    path: list[int | str] = one["path"]
    while one["lacks"] and path and plain_pointer(path) in lacking:
        path = path[:-1]
    return path


def in_part(*parts: str) -> OfViolation:
    return lambda one, _answer, _prefix: one["place"] if one["in"] in parts else None


def of_members(write: Callable[[Sequence[int | str], str], Any]) -> OfViolation:
    return lambda one, _answer, prefix: one["members"] and [write(path, prefix) for path in one["members"]]


def own_path(one: Sentence, _answer: Answer) -> Sequence[int | str]:
    path: list[int | str] = one["path"]
    return path


def body_pointer(path: Callable[[Sentence, Answer], Sequence[int | str]]) -> OfViolation:
    return lambda one, answer, prefix: prefix + plain_pointer(path(one, answer)) if one["in"] == "body" else None


OF_ANSWER: dict[str, Callable[[Answer], Any]] = {
    **{name: (lambda name: lambda answer: answer.get(name))(name) for name in (
        "title", "status", "type", "problem", "instance", "locale", "direction", "time", "address",
        "more", "extensions", "request-id", "trace-id", "details",
    )},
    "detail": lambda answer: answer["detail"] or None,
    "uri": lambda answer: None if answer["type"] == "about:blank" else answer["type"],
    "count": lambda answer: len(answer["sentences"]) + answer["more"],
    "fields": lambda answer: [print_path(one[0]["path"]) for one in grouped(answer)],
    "texts": lambda answer: [one["text"] for one in answer["sentences"]],
    "broken": lambda answer: True if answer["problem"] == "invalid-fields" else None,
}  # fmt: skip
OF_VIOLATION: dict[str, OfViolation] = {
    "field": lambda one, _answer, _prefix: print_path(one["path"]),
    "path": lambda one, _answer, _prefix: one["path"],
    "pointer": lambda one, _answer, _prefix: plain_pointer(one["path"]) if one["in"] == "body" else one["place"],
    "place": lambda one, _answer, _prefix: one["place"],
    "fragment": in_part("body"),
    "header": in_part("header"),
    "parameter": in_part("query", "path", "cookie"),
    "in": lambda one, _answer, _prefix: one["in"],
    "part": lambda one, _answer, _prefix: None if one["in"] == "body" else one["in"],
    "code": lambda one, _answer, _prefix: one["code"],
    "text": lambda one, _answer, _prefix: one["text"],
    "inline": lambda one, _answer, _prefix: one["text"] if one["inline"] is None else one["inline"],
    "beside": lambda one, _answer, _prefix: one["inline"],
    "members": of_members(lambda path, _prefix: plain_pointer(path)),
    "member-fragments": of_members(lambda path, _prefix: pointer_of(path)),
    "member-fields": of_members(lambda path, _prefix: print_path(path)),
    "member-paths": of_members(lambda path, _prefix: path),
    "member-pointers": of_members(lambda path, prefix: prefix + plain_pointer(path)),
    "nearest": body_pointer(present),
    "missing": lambda one, answer, prefix: (
        body_pointer(own_path)(one, answer, prefix) if one["lacks"] and one["path"] else None
    ),
    "developer": lambda _one, _answer, _prefix: None,
}
OF_FIELD: dict[str, Callable[[list[Sentence]], Any]] = {
    "field": lambda group: print_path(group[0]["path"]),
    "pointer": lambda group: OF_VIOLATION["pointer"](group[0], {}, ""),
    "in": lambda group: group[0]["in"],
    "texts": lambda group: [one["text"] for one in group],
    "text": lambda group: " ".join(one["text"] for one in group),
    "inlines": lambda group: [OF_VIOLATION["inline"](one, {}, "") for one in group],
    "beside": lambda group: next((one["inline"] for one in group if one["inline"] is not None), None),
    "codes": lambda group: [one["code"] for one in group],
}
SLOTS = {*OF_ANSWER, *OF_VIOLATION, *OF_FIELD}


def body(sentences: Sentences, answer: Answer, shape: str | None = None) -> tuple[str, str]:
    """The media type and the text of an answer in a shape; in that of the settings where none is named."""
    settings = sentences.pack["settings"]
    template = Template(settings["shapes"][shape or settings["shape"]], settings["prefix"])
    return template.media, template.write(answer)
