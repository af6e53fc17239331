"""Holds a reader against the vectors: python3 check.py FOLDER [--icu], where `zeitwort pack --sentences` and `--test-vectors` wrote."""

import json
import pathlib
import sys

from error_texts import Sentences, body, fields_answer, preferred, problem_answer

folder = pathlib.Path(sys.argv[1])
with_icu = "--icu" in sys.argv
if with_icu:
    from error_texts.icu_sentences import IcuSentences
vectors = json.loads((folder / "vectors.json").read_text("utf-8"))
packs, alike, differences = {}, 0, []


def compare(about, found, wanted):
    global alike
    if found == wanted:
        alike += 1
    else:
        differences.append(f"{about}:\n  {found}\n  {wanted}")


for locale, groups in vectors["locales"].items():
    # What plain packs leave out is said with an ICU alone.
    wanted = {group: [one for one in all_of if with_icu or not one.get("icu")] for group, all_of in groups.items()}
    file = folder / f"{locale}.{'icu' if with_icu else 'sentences'}.json"
    sentences = (IcuSentences if with_icu else Sentences)(json.loads(file.read_text("utf-8")))
    packs[locale] = sentences
    for one in wanted["sentences"]:
        found, inline = sentences.say(one["form"], one["violation"])
        about = f"{locale} {one['form']} {one['violation']['path']} {one['violation']['rule']}"
        compare(about, found, one["sentence"])
        compare(f"{about} inline", inline, one.get("inline"))
    for one in wanted["problems"]:
        answer = problem_answer(sentences, one["problem"], one["params"])
        compare(f"{locale} {one['problem']}", (answer["title"], answer["detail"]), (one["title"], one["detail"]))
        for shape, text in one["bodies"].items():
            compare(f"{locale} {one['problem']} as {shape}", body(sentences, answer, shape)[1], text)
    for one in wanted["bodies"]:
        answer = fields_answer(sentences, one["form"], one["violations"])
        compare(f"{locale} {one['form']} status", answer["status"], one["status"])
        for shape, text in {**one["bodies"], **one.get("own", {})}.items():
            compare(f"{locale} {one['form']} as {shape}", body(sentences, answer, shape)[1], text)

for one in vectors["languages"]:
    compare(f"Accept-Language: {one['header'][:80]}", preferred(one["header"], packs), one["language"])

print("\n".join(differences[:10]), file=sys.stderr) if differences else None
print(f"{alike} alike, {len(differences)} different")
sys.exit(1 if differences else 0)
