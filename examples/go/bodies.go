// SPDX-License-Identifier: MIT

package errortexts

// Answers, and their bodies in every shape of a pack (docs/reference/packs.md section 6).

import (
	"fmt"
	"strings"
)

// Answer is what is to be said to a request, before it takes a shape.
type Answer struct {
	Problem, Type, Title, Detail string
	Status                       int
	// Extensions are further members of the body, by name.
	Extensions *Object
	// Locale is the language of the answer, for Content-Language.
	Locale    string
	direction string
	broken    []broken
	more      int
}

// broken is one violation in words.
type broken struct {
	path                  []any
	in, place, code, text string
	inline                any
	lacks                 bool
	members               [][]any
}

func (s *Sentences) shared(name string) Answer {
	about := Get(s.Pack, "problems", name)
	answer := Answer{Problem: name, Extensions: NewObject()}
	answer.Type, _ = Get(about, "type").(string)
	fmt.Sscan(fmt.Sprint(Get(about, "status")), &answer.Status)
	answer.Locale, answer.direction = Get(s.Pack, "locale").(string), Get(s.Pack, "direction").(string)
	return answer
}

// Problem returns the answer of a problem of the whole request.
func (s *Sentences) Problem(name string, params map[string]any) Answer {
	answer := s.shared(name)
	answer.Title, answer.Detail = s.problem(name, params)
	return answer
}

// Fields returns the answer to a request that broke rules; the violations come in the order of the document.
func (s *Sentences) Fields(form string, violations []Violation) (Answer, error) {
	if answer, isWhole, err := s.whole(form, violations); isWhole || err != nil {
		return answer, err
	}
	all, kept, seen := []broken{}, []broken{}, map[string]bool{}
	for _, violation := range violations {
		one, err := s.broken(form, violation)
		if err != nil {
			return Answer{}, err
		}
		all = append(all, one)
		if key := one.in + " " + one.place; !seen[key] {
			seen[key] = true
			kept = append(kept, one)
		}
	}
	settings := Get(s.Pack, "settings")
	if Get(settings, "perField") == "all" {
		kept = all
	}
	most, counts := 0, map[string]any{"count": len(kept), "fields": len(seen)}
	fmt.Sscan(fmt.Sprint(Get(settings, "maxViolations")), &most)
	told := kept
	if len(told) > most {
		told = told[:most]
	}
	more := len(kept) - len(told)
	if Get(settings, "detail") == "first" && len(kept) > 0 {
		told, more, counts = kept[:1], 0, map[string]any{"count": 1, "fields": 1}
	}
	answer := s.Problem("invalid-fields", counts)
	answer.broken, answer.more = told, more
	if Get(settings, "detail") != "own" {
		texts := []string{}
		for _, one := range told {
			texts = append(texts, one.text)
		}
		answer.Detail = strings.Join(texts, Get(settings, "separator").(string))
	}
	return answer, nil
}

// whole returns the problem that a broken rule is, where that is the answer: alone, or where all that is broken is one.
func (s *Sentences) whole(form string, violations []Violation) (Answer, bool, error) {
	if Get(s.Pack, "becomes", form) == nil {
		return Answer{}, false, nil
	}
	taken, entry, all := -1, any(nil), true
	for at, violation := range violations {
		one := s.becomes(form, violation)
		if one == nil {
			all = false
			continue
		}
		status := fmt.Sprint(Get(s.Pack, "problems", Get(one, "problem").(string), "status"))
		if strings.Contains("401 403 404 405 410", status) {
			taken, entry, all = at, one, true
			break
		}
		if taken < 0 {
			taken, entry = at, one
		}
	}
	if taken < 0 || !all {
		return Answer{}, false, nil
	}
	known, err := s.lookedUp(form, violations[taken])
	answer := s.Problem(Get(entry, "problem").(string), known.told)
	if title, err := s.said(Get(entry, "title"), known.told); err == nil {
		answer.Title = title
	}
	if detail, err := s.said(Get(entry, "detail"), known.told); err == nil {
		answer.Detail = detail
	}
	return answer, true, err
}

func (s *Sentences) broken(form string, violation Violation) (broken, error) {
	text, inline, hasInline, err := s.Say(form, violation)
	path, isSecret := s.shownPath(form, violation)
	one := broken{path: path, in: violation.In, code: violation.Code(), text: text}
	one.lacks = violation.Rule == "required" || violation.Rule == "dependentRequired"
	params := violation.Params
	switch violation.Rule {
	case "additionalProperties", "unevaluatedProperties", "propertyNames":
		if name, ok := params.Values["name"].(string); ok {
			if isSecret {
				name = masked
			}
			one.path = append(append([]any{}, one.path...), name)
		}
	case "atLeastOne", "exactlyOne":
		members, _ := params.Values["members"].([]any)
		for _, member := range members {
			around := append([]any{}, one.path...)
			one.members = append(one.members, append(around, ReadPath(member.(string))...))
		}
	}
	one.place = fragment(one.path)
	if one.in != "body" {
		names := make([]string, len(one.path))
		for at, segment := range one.path {
			names[at] = fmt.Sprint(segment)
		}
		one.place = strings.Join(names, ".")
	}
	if asked := Get(s.Pack, "settings", "inline"); hasInline && asked != false && asked != nil {
		one.inline = inline
	}
	return one, err
}

// Body returns the media type and the text of an answer in a shape; in that of the settings where none is named.
func (s *Sentences) Body(answer Answer, shape string) (mediaType, text string) {
	settings := Get(s.Pack, "settings")
	if shape == "" {
		shape = Get(settings, "shape").(string)
	}
	prefix, _ := Get(settings, "prefix").(string)
	about := Get(settings, "shapes", shape)
	t := template{answer: answer, prefix: prefix, media: Get(about, "mediaType").(string)}
	return t.media, t.write(Get(about, "body"))
}
