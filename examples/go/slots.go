// SPDX-License-Identifier: MIT

package errortexts

// The slots of templates: of an answer, of a violation, of a field (docs/reference/bodies.md).

import "strings"

// isSlot has the names of all slots.
var isSlot = map[string]bool{}

func init() {
	for _, name := range strings.Fields(`title status type problem instance locale direction time address more extensions
		request-id trace-id details detail uri count fields texts broken field path pointer place fragment header parameter
		in part code text inline beside members member-fragments member-fields member-paths member-pointers nearest missing
		developer inlines codes`) {
		isSlot[name] = true
	}
}

func orNothing(text string) any {
	if text == "" {
		return nil
	}
	return text
}

func (t *template) slot(name string, at *place) any {
	var own any
	if at != nil && at.isField {
		own = ofField(name, at.all)
	} else if at != nil {
		own = t.ofViolation(name, at.all[0])
	}
	if own != nil {
		return own
	}
	return t.ofAnswer(name)
}

func (t *template) ofAnswer(name string) any {
	answer := t.answer
	switch name {
	case "title":
		return answer.Title
	case "status":
		return answer.Status
	case "type":
		return answer.Type
	case "problem":
		return answer.Problem
	case "locale":
		return answer.Locale
	case "direction":
		return answer.direction
	case "more":
		return answer.more
	case "extensions":
		return answer.Extensions
	case "detail":
		return orNothing(answer.Detail)
	case "uri":
		if answer.Type != "about:blank" {
			return answer.Type
		}
	case "count":
		return len(answer.broken) + answer.more
	case "fields":
		all := []any{}
		for _, group := range t.grouped() {
			all = append(all, printPath(group[0].path))
		}
		return all
	case "texts":
		all := []any{}
		for _, one := range answer.broken {
			all = append(all, one.text)
		}
		return all
	case "broken":
		if answer.Problem == "invalid-fields" {
			return true
		}
	}
	return nil
}

func (t *template) ofViolation(name string, one broken) any {
	isBody := one.in == "body"
	members := func(write func([]any) any) any {
		if one.members == nil {
			return nil
		}
		all := []any{}
		for _, path := range one.members {
			all = append(all, write(path))
		}
		return all
	}
	switch name {
	case "field":
		return printPath(one.path)
	case "path":
		return append([]any{}, one.path...)
	case "pointer":
		if isBody {
			return pointer(one.path)
		}
		return one.place
	case "place":
		return one.place
	case "fragment":
		if isBody {
			return one.place
		}
	case "header":
		if one.in == "header" {
			return one.place
		}
	case "parameter":
		if !isBody && one.in != "header" {
			return one.place
		}
	case "in":
		return one.in
	case "part":
		if !isBody {
			return one.in
		}
	case "code":
		return one.code
	case "text":
		return one.text
	case "inline":
		if one.inline == nil {
			return one.text
		}
		return one.inline
	case "beside":
		return one.inline
	case "members":
		return members(func(path []any) any { return pointer(path) })
	case "member-fragments":
		return members(func(path []any) any { return fragment(path) })
	case "member-fields":
		return members(func(path []any) any { return printPath(path) })
	case "member-paths":
		return members(func(path []any) any { return append([]any{}, path...) })
	case "member-pointers":
		return members(func(path []any) any { return t.prefix + pointer(path) })
	case "nearest":
		if isBody {
			return t.prefix + pointer(t.present(one))
		}
	case "missing":
		if isBody && one.lacks && len(one.path) > 0 {
			return t.prefix + pointer(one.path)
		}
	}
	return nil
}

// present returns the nearest place around a path that is in the request: what is missing is not.
func (t *template) present(one broken) []any {
	lacking := map[string]bool{}
	for _, other := range t.answer.broken {
		lacking[pointer(other.path)] = lacking[pointer(other.path)] || other.lacks && other.in == "body"
	}
	path := one.path
	for one.lacks && len(path) > 0 && lacking[pointer(path)] {
		path = path[:len(path)-1]
	}
	return path
}

func ofField(name string, group []broken) any {
	each := func(of func(broken) any) any {
		all := []any{}
		for _, one := range group {
			all = append(all, of(one))
		}
		return all
	}
	inline := func(one broken) any {
		if one.inline == nil {
			return one.text
		}
		return one.inline
	}
	switch name {
	case "field":
		return printPath(group[0].path)
	case "pointer":
		if group[0].in == "body" {
			return pointer(group[0].path)
		}
		return group[0].place
	case "in":
		return group[0].in
	case "texts":
		return each(func(one broken) any { return one.text })
	case "text":
		texts := []string{}
		for _, one := range group {
			texts = append(texts, one.text)
		}
		return strings.Join(texts, " ")
	case "inlines":
		return each(inline)
	case "beside":
		for _, one := range group {
			if one.inline != nil {
				return one.inline
			}
		}
	case "codes":
		return each(func(one broken) any { return one.code })
	}
	return nil
}
