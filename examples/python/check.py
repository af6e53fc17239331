"""Holds a reader against the vectors: python3 check.py FOLDER [--icu], where `zeitwort pack --sentences` and `--test-vectors` wrote."""

import json
import pathlib
import sys

from bodies import fields_body
from sentences import Sentences

folder = pathlib.Path(sys.argv[1])
with_icu = "--icu" in sys.argv
if with_icu:
    from icu_sentences import IcuSentences
vectors = json.loads((folder / "vectors.json").read_text("utf-8"))["locales"]
alike, differences = 0, []


def compare(about, found, wanted):
    global alike
    if found == wanted:
        alike += 1
    else:
        differences.append(f"{about}:\n  {found}\n  {wanted}")


for locale, wanted in vectors.items():
    file = folder / f"{locale}.{'icu' if with_icu else 'sentences'}.json"
    sentences = (IcuSentences if with_icu else Sentences)(json.loads(file.read_text("utf-8")))
    for one in wanted["sentences"]:
        found, inline = sentences.say(one["form"], one["violation"])
        about = f"{locale} {one['form']} {one['violation']['path']} {one['violation']['rule']}"
        compare(about, found, one["sentence"])
        compare(f"{about} inline", inline, one.get("inline"))
    for one in wanted["problems"]:
        found = sentences.problem(one["problem"], one["params"])
        compare(f"{locale} {one['problem']}", found, (one["title"], one["detail"]))
    for one in wanted["bodies"]:
        body = fields_body(sentences, one["form"], one["violations"])
        text = json.dumps(body, ensure_ascii=False, separators=(",", ":"))
        compare(f"{locale} {one['form']} body", (body["status"], text), (one["status"], one["bodies"]["problem"]))

print("\n".join(differences[:10]), file=sys.stderr) if differences else None
print(f"{alike} alike, {len(differences)} different")
sys.exit(1 if differences else 0)
