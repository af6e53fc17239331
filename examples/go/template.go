// SPDX-License-Identifier: MIT

package errortexts

// Shapes: what fills the slots of a template with an answer (docs/reference/packs.md section 6.1).

import (
	"regexp"
	"strings"
)

const problemXML = "application/problem+xml"

var (
	slotOfTemplate = regexp.MustCompile(`<([a-z][a-z-]*)(?:\("([^"]*)"\))?>`)
	xmlName        = regexp.MustCompile(`^[A-Za-z_][A-Za-z0-9_.-]*$`)
	noXML          = regexp.MustCompile("[\x00-\x08\x0b\x0c\x0e-\x1f\uFFFE\uFFFF]")
	markup         = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;", "'", "&#39;")
	inXML          = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;", `"`, "&quot;")
)

type template struct {
	answer        Answer
	prefix, media string
}

// place is what a repetition is at: a violation, or all of a field.
type place struct {
	isField bool
	all     []broken
}

func (t *template) write(body any) string {
	value := t.fill(body, nil)
	if t.media == problemXML {
		inside := ""
		object := value.(*Object)
		for _, name := range object.Keys {
			inside += asXML(name, object.Values[name])
		}
		return `<?xml version="1.0" encoding="UTF-8"?>` + "\n" +
			`<problem xmlns="urn:ietf:rfc:7807" xml:lang="` + t.answer.Locale + `">` + inside + "</problem>"
	}
	if text, ok := value.(string); ok && !strings.Contains(t.media, "json") {
		return text
	}
	return writeJSON(value, "")
}

// fill returns what a node of the template says; nil is left out of objects.
func (t *template) fill(node any, at *place) any {
	switch one := node.(type) {
	case string:
		return t.text(one, at)
	case []any:
		all := make([]any, len(one))
		for index, element := range one {
			all[index] = t.fill(element, at)
		}
		return all
	case *Object:
		return t.object(one, at)
	}
	return node
}

func (t *template) object(node *Object, at *place) any {
	has := func(name string) bool { _, known := node.Values[name]; return known }
	if has("each") {
		return t.each(node)
	}
	if has("when") && has("node") {
		if isFull(t.slot(node.Values["when"].(string), at)) {
			return t.fill(node.Values["node"], at)
		}
		return t.fill(node.Values["otherwise"], at)
	}
	if parts, ok := node.Values["join"].([]any); ok && (len(node.Keys) == 1 || len(node.Keys) == 2 && has("with")) {
		return t.join(parts, node.Values["with"], at)
	}
	if has("unless-empty") && len(node.Keys) == 1 {
		if value := t.fill(node.Values["unless-empty"], at); isFull(value) {
			return value
		}
		return nil
	}
	made := NewObject()
	for _, key := range node.Keys {
		value := t.fill(node.Values[key], at)
		if key == "..." {
			if members, ok := value.(*Object); ok {
				for _, name := range members.Keys {
					made.Set(name, members.Values[name])
				}
			}
		} else if value != nil || node.Values[key] == nil {
			made.Set(key, value)
		}
	}
	return made
}

// isFull says whether a value is none of empty, false, 0, an empty text, list or object.
func isFull(value any) bool {
	switch one := value.(type) {
	case nil:
		return false
	case bool:
		return one
	case int:
		return one != 0
	case string:
		return one != ""
	case []any:
		return len(one) > 0
	case *Object:
		return len(one.Keys) > 0
	}
	return true
}

func (t *template) grouped() [][]broken {
	groups, index := [][]broken{}, map[string]int{}
	for _, one := range t.answer.broken {
		key := one.in + " " + printPath(one.path)
		if at, known := index[key]; known {
			groups[at] = append(groups[at], one)
		} else {
			index[key] = len(groups)
			groups = append(groups, []broken{one})
		}
	}
	return groups
}

func (t *template) each(node *Object) any {
	kind := node.Values["each"]
	places := []*place{}
	if kind == "violation" {
		for _, one := range t.answer.broken {
			places = append(places, &place{all: []broken{one}})
		}
	} else {
		for _, group := range t.grouped() {
			if kind == "field" || (kind == "body-field") == (group[0].in == "body") {
				places = append(places, &place{isField: true, all: group})
			}
		}
	}
	key, isKeyed := node.Values["key"].(string)
	list, object := []any{}, NewObject()
	for _, at := range places {
		value := t.fill(node.Values["node"], at)
		list = append(list, value)
		if isKeyed && value != nil {
			object.Set(shownIn(t.text(key, at)), value)
		}
	}
	if isKeyed {
		return object
	}
	return list
}

func (t *template) join(nodes []any, with any, at *place) any {
	parts := []any{}
	for _, node := range nodes {
		value := t.fill(node, at)
		list, isList := value.([]any)
		if !isList {
			list = []any{value}
		}
		for _, one := range list {
			if one != nil && one != "" {
				parts = append(parts, one)
			}
		}
	}
	separator, isText := with.(string)
	if !isText {
		return parts
	}
	texts := make([]string, len(parts))
	for index, one := range parts {
		texts[index] = shownIn(one)
	}
	return strings.Join(texts, separator)
}

// shownIn returns what stands in a text for a value.
func shownIn(value any) string {
	if value == nil {
		return ""
	}
	if text, ok := value.(string); ok {
		return text
	}
	return writeJSON(value, "")
}

func (t *template) escaped(value any) any {
	text, isText := value.(string)
	isMarkup := t.media != problemXML && (strings.Contains(t.media, "html") || strings.Contains(t.media, "xml"))
	if !isText || !isMarkup {
		return value
	}
	return markup.Replace(text)
}

func (t *template) text(text string, at *place) any {
	parts := slotOfTemplate.FindStringSubmatchIndex(text)
	if parts != nil && parts[0] == 0 && parts[1] == len(text) && parts[4] < 0 && isSlot[text[parts[2]:parts[3]]] {
		value := t.slot(text[parts[2]:parts[3]], at)
		if list, isList := value.([]any); isList {
			all := make([]any, len(list))
			for index, one := range list {
				all[index] = t.escaped(one)
			}
			return all
		}
		return t.escaped(value)
	}
	return slotOfTemplate.ReplaceAllStringFunc(text, func(found string) string {
		parts := slotOfTemplate.FindStringSubmatchIndex(found)
		name := found[parts[2]:parts[3]]
		if !isSlot[name] {
			return found
		}
		value := t.slot(name, at)
		if list, isList := value.([]any); isList && parts[4] >= 0 {
			texts := make([]string, len(list))
			for index, one := range list {
				texts[index] = shownIn(t.escaped(shownIn(one)))
			}
			return strings.Join(texts, found[parts[4]:parts[5]])
		}
		return shownIn(t.escaped(shownIn(value)))
	})
}

// asXML returns an element (RFC 9457 appendix B): members are elements, the entries of a list are `i`.
func asXML(name string, value any) string {
	inside := ""
	switch one := value.(type) {
	case nil:
		return ""
	case []any:
		for _, element := range one {
			inside += asXML("i", element)
		}
	case *Object:
		for _, key := range one.Keys {
			tag := key
			if !xmlName.MatchString(key) {
				tag = "member"
			}
			inside += asXML(tag, one.Values[key])
		}
	default:
		inside = noXML.ReplaceAllString(inXML.Replace(shownIn(value)), "")
	}
	return "<" + name + ">" + inside + "</" + name + ">"
}
