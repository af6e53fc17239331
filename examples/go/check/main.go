// SPDX-License-Identifier: MIT

// Check holds the reader against the vectors: go run ./check FOLDER, where `zeitwort pack --sentences` and
// `--test-vectors` wrote.
package main

import (
	"fmt"
	"os"
	"path/filepath"

	"errortexts.example/errortexts"
)

var (
	alike       int
	differences []string
)

func compare(about, found, wanted any) {
	if found == wanted {
		alike++
	} else {
		differences = append(differences, fmt.Sprintf("%v:\n  %v\n  %v", about, found, wanted))
	}
}

func must[T any](value T, err error) T {
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(2)
	}
	return value
}

// list returns the vectors of a group, without those whose sentences plain packs leave out.
func list(value any, name string) []any {
	all, _ := errortexts.Get(value, name).([]any)
	found := []any{}
	for _, one := range all {
		if errortexts.Get(one, "icu") == nil {
			found = append(found, one)
		}
	}
	return found
}

func bodies(sentences *errortexts.Sentences, answer errortexts.Answer, wanted any, about string) {
	shapes, _ := wanted.(*errortexts.Object)
	if shapes == nil {
		return
	}
	for _, shape := range shapes.Keys {
		_, text := sentences.Body(answer, shape)
		compare(about+" as "+shape, text, shapes.Values[shape])
	}
}

func main() {
	if len(os.Args) < 2 {
		fmt.Fprintln(os.Stderr, "go run ./check FOLDER")
		os.Exit(2)
	}
	folder := os.Args[1]
	text := must(os.ReadFile(filepath.Join(folder, "vectors.json")))
	vectors := must(errortexts.ReadJSON(string(text)))
	locales := errortexts.Get(vectors, "locales").(*errortexts.Object)
	var sentences *errortexts.Sentences
	for _, locale := range locales.Keys {
		sentences = must(errortexts.Open(filepath.Join(folder, locale+".sentences.json")))
		wanted := locales.Values[locale]
		for _, one := range list(wanted, "sentences") {
			form := errortexts.Get(one, "form").(string)
			violation := errortexts.ViolationOf(errortexts.Get(one, "violation"))
			said, inline, hasInline, err := sentences.Say(form, violation)
			must(said, err)
			about := fmt.Sprint(locale, " ", form, " ", violation.Path, " ", violation.Rule)
			compare(about, said, errortexts.Get(one, "sentence"))
			var beside any
			if hasInline {
				beside = inline
			}
			compare(about+" inline", beside, errortexts.Get(one, "inline"))
		}
		for _, one := range list(wanted, "problems") {
			name := errortexts.Get(one, "problem").(string)
			answer := sentences.Problem(name, errortexts.Get(one, "params").(*errortexts.Object).Values)
			compare(locale+" "+name, answer.Title, errortexts.Get(one, "title"))
			compare(locale+" "+name, answer.Detail, errortexts.Get(one, "detail"))
			bodies(sentences, answer, errortexts.Get(one, "bodies"), locale+" "+name)
		}
		for _, one := range list(wanted, "bodies") {
			form := errortexts.Get(one, "form").(string)
			violations := []errortexts.Violation{}
			for _, violation := range list(one, "violations") {
				violations = append(violations, errortexts.ViolationOf(violation))
			}
			answer := must(sentences.Fields(form, violations))
			compare(locale+" "+form+" status", fmt.Sprint(answer.Status), fmt.Sprint(errortexts.Get(one, "status")))
			bodies(sentences, answer, errortexts.Get(one, "bodies"), locale+" "+form)
			bodies(sentences, answer, errortexts.Get(one, "own"), locale+" "+form)
		}
	}
	for _, one := range list(vectors, "languages") {
		header := errortexts.Get(one, "header").(string)
		compare("Accept-Language: "+header, sentences.Preferred(header), errortexts.Get(one, "language"))
	}
	for at, one := range differences {
		if at < 10 {
			fmt.Fprintln(os.Stderr, one)
		}
	}
	fmt.Printf("%d alike, %d different\n", alike, len(differences))
	if len(differences) > 0 {
		os.Exit(1)
	}
}
