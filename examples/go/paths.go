// SPDX-License-Identifier: MIT

package errortexts

// Paths and patterns (docs/reference/packs.md section 2): members are strings, elements ints from 0.

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

type open string

const (
	anyElement open = "[*]"
	anyKey     open = ".*"
	anyDepth   open = ".."
)

const bareName = `[^.\[\]"'*\s\p{Z}\p{Cc}]+`

var (
	segment   = regexp.MustCompile(`^(?:\[(?:(\d+)|("(?:[^"\\]|\\.)*")|\*)\]|(\.\.)|\.?(` + bareName + `)|\.?\*)`)
	onlyBare  = regexp.MustCompile(`^` + bareName + `$`)
	elsewhere = regexp.MustCompile(`(?s)^(query|header|cookie|path):(.*)$`)
)

// ReadPath returns the segments of a path or a pattern.
func ReadPath(text string) []any {
	segments := []any{}
	for text != "" {
		found := segment.FindStringSubmatch(text)
		if found == nil {
			break
		}
		text = text[len(found[0]):]
		switch {
		case found[1] != "":
			at, _ := strconv.Atoi(found[1])
			segments = append(segments, at)
		case found[2] != "":
			name, _ := ReadJSON(found[2])
			segments = append(segments, name)
		case found[3] != "":
			segments = append(segments, anyDepth)
		case found[4] != "":
			segments = append(segments, found[4])
		case found[0] == "[*]":
			segments = append(segments, anyElement)
		default:
			segments = append(segments, anyKey)
		}
	}
	return segments
}

func printPath(segments []any) string {
	text := ""
	for _, one := range segments {
		name, isName := one.(string)
		switch {
		case !isName:
			text += fmt.Sprintf("[%v]", one)
		case !onlyBare.MatchString(name):
			text += "[" + quoted(name) + "]"
		case text == "":
			text = name
		default:
			text += "." + name
		}
	}
	return text
}

// match is a field whose pattern matches a path, and which segments of the path it leaves open: behind `..` from the
// end, below 0.
type match struct {
	key  string
	open []int
}

type node struct {
	to  map[any]*node
	end *match
}

// fields are those of a form as trees from the last segment to the first, so that a path takes no longer than it is
// deep.
type fields map[string]*node

func newFields(keys []string) fields {
	roots := fields{}
	for _, key := range keys {
		place, path := "body", key
		if parts := elsewhere.FindStringSubmatch(key); parts != nil {
			place, path = parts[1], parts[2]
		}
		if roots[place] == nil {
			roots[place] = &node{to: map[any]*node{}}
		}
		pattern, at := ReadPath(path), roots[place]
		for index := len(pattern) - 1; index >= 0; index-- {
			if at.to[pattern[index]] == nil {
				at.to[pattern[index]] = &node{to: map[any]*node{}}
			}
			at = at.to[pattern[index]]
		}
		places, isDeep := []int{}, false
		for index, one := range pattern {
			if one == anyDepth {
				isDeep = true
			} else if _, isOpen := one.(open); isOpen && isDeep {
				places = append(places, index-len(pattern))
			} else if isOpen {
				places = append(places, index)
			}
		}
		at.end = &match{key, places}
	}
	return roots
}

// matching returns the fields that match, in the order of section 2.
func (f fields) matching(place string, path []any) []match {
	return f[place].collect(path, nil)
}

func (n *node) collect(path []any, found []match) []match {
	if n == nil {
		return found
	}
	if len(path) == 0 && n.end != nil {
		found = append(found, *n.end)
	}
	if len(path) > 0 {
		last := path[len(path)-1]
		rest := path[:len(path)-1]
		found = n.to[last].collect(rest, found)
		if _, isElement := last.(int); isElement {
			found = n.to[anyElement].collect(rest, found)
		} else {
			found = n.to[anyKey].collect(rest, found)
		}
	}
	if deeper := n.to[anyDepth]; deeper != nil {
		for left := len(path); left >= 0; left-- {
			found = deeper.collect(path[:left], found)
		}
	}
	return found
}

// pointer returns a JSON Pointer (RFC 6901).
func pointer(path []any) string {
	text := ""
	for _, one := range path {
		text += "/" + strings.ReplaceAll(strings.ReplaceAll(fmt.Sprint(one), "~", "~0"), "/", "~1")
	}
	return text
}

// fragment returns a JSON Pointer as a URI fragment (RFC 6901 section 6).
func fragment(path []any) string {
	text := "#"
	for _, one := range []byte(pointer(path)) {
		isLetter := one >= 'a' && one <= 'z' || one >= 'A' && one <= 'Z' || one >= '0' && one <= '9'
		if isLetter || strings.IndexByte("-._~!'()*@:$&+,;=/", one) >= 0 {
			text += string(rune(one))
		} else {
			text += fmt.Sprintf("%%%02X", one)
		}
	}
	return text
}
