"""Reads a pack and formats one of its messages with ICU: no file of the workspace, and nothing of Zeitwort, is needed.

    python3 read_pack.py packs/de.json observing-proposal title maxLength label=Titel max=120

Needs PyICU (Debian: python3-icu).
"""

import json
import sys

import icu


def message_of(pack, form, path, rule):
    """The text of a rule at a field's path pattern, and the locale that it is in."""
    for field in pack["forms"][form]["fields"]:
        if field["path"] != path:
            continue
        for use in field["rules"]:
            if use.get("as", use["rule"]) == rule and "message" in use:
                message = use["message"]
                return message["text"], message.get("locale", pack["locale"])
    raise SystemExit(f"{form} has no text for {path} {rule}")


def formatted(text, locale, arguments):
    names = list(arguments)
    values = [icu.Formattable(arguments[name]) for name in names]
    return icu.MessageFormat(text, icu.Locale.forLanguageTag(locale)).format(names, values)


def argument(pair):
    name, value = pair.split("=", 1)
    return name, int(value) if value.lstrip("-").isdigit() else value


if __name__ == "__main__":
    file, form, path, rule, *pairs = sys.argv[1:]
    with open(file, encoding="utf-8") as opened:
        pack = json.load(opened)
    text, locale = message_of(pack, form, path, rule)
    given = dict(argument(pair) for pair in pairs)
    # What a message does not get it writes as a name in braces; a key that it compares falls to "other".
    print(formatted(text, locale, {"nested": "no", **given}))
