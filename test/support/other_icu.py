"""Formats messages with Debian's ICU: one JSON list [message, locale, arguments] a line in, [ok, text or error] a line out.

An argument {"at": milliseconds} is an instant.
"""

import json
import sys

import icu

icu.TimeZone.setDefault(icu.TimeZone.createTimeZone("UTC"))


def formattable(value):
    if isinstance(value, dict):
        return icu.Formattable(value["at"] / 1000.0, icu.Formattable.kIsDate)
    return icu.Formattable(value)


for line in sys.stdin:
    text, locale, arguments = json.loads(line)
    try:
        message = icu.MessageFormat(text, icu.Locale.forLanguageTag(locale))
        said = message.format(list(arguments), [formattable(value) for value in arguments.values()])
        print(json.dumps([True, said]))
    except icu.ICUError as error:
        print(json.dumps([False, str(error)[:80]]))
