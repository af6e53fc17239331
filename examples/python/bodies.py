"""Error bodies as RFC 9457 has them, from the sentences of a pack."""

from urllib.parse import quote

from sentences import print_path, read_path


def pointer_of(segments):
    """A JSON Pointer as a URI fragment (RFC 6901 section 6)."""
    tokens = (str(one).replace("~", "~0").replace("/", "~1") for one in segments)
    return "#" + "".join("/" + quote(token, safe="!'()*@:$&+,;=") for token in tokens)


def problem_body(sentences, name, params):
    """What is answered to anything but broken rules."""
    title, detail = sentences.problem(name, params)
    about = sentences.pack["problems"][name]
    body = {"type": about["type"], "title": title, "status": about["status"]}
    return {**body, "detail": detail} if detail else body


def fields_body(sentences, form, violations):
    """The answer to a request that broke rules; the violations come in the order of the document."""
    fields = {(one.get("in", "body"), one["path"]) for one in violations}
    body = problem_body(sentences, "invalid-fields", {"count": len(violations), "fields": len(fields)})
    return {**body, "errors": [error(sentences, form, violation) for violation in violations]}


def error(sentences, form, violation):
    part, segments = violation.get("in", "body"), read_path(violation["path"])
    name = violation.get("params", {}).get("name")
    if violation["rule"] in ("additionalProperties", "unevaluatedProperties", "propertyNames") and name is not None:
        segments = [*segments, name]
    where = {"body": "pointer", "header": "header"}.get(part, "parameter")
    at = pointer_of(segments) if part == "body" else print_path(segments)
    code = violation.get("as") or violation["rule"]
    return {where: at, "code": code, "detail": sentences.say(form, violation)[0]}
