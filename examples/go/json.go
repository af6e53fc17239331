// SPDX-License-Identifier: MIT

package errortexts

// JSON with members in their order, and numbers as they are written.

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"
)

// Object is an object of JSON: its members in their order.
type Object struct {
	Keys   []string
	Values map[string]any
}

// NewObject returns an object without members.
func NewObject() *Object { return &Object{Values: map[string]any{}} }

// Set adds a member behind the others, or replaces the one of this name.
func (o *Object) Set(key string, value any) {
	if _, known := o.Values[key]; !known {
		o.Keys = append(o.Keys, key)
	}
	o.Values[key] = value
}

// Get returns a member; nil where there is none, and of what is no object.
func Get(value any, names ...string) any {
	for _, name := range names {
		object, ok := value.(*Object)
		if !ok {
			return nil
		}
		value = object.Values[name]
	}
	return value
}

// ReadJSON reads a text: nil, bool, json.Number, string, []any or *Object.
func ReadJSON(text string) (any, error) {
	decoder := json.NewDecoder(strings.NewReader(text))
	decoder.UseNumber()
	value, err := readValue(decoder)
	if err != nil {
		return nil, err
	}
	if _, err := decoder.Token(); err != io.EOF {
		return nil, errors.New("something stands behind the JSON")
	}
	return value, nil
}

func readValue(decoder *json.Decoder) (any, error) {
	token, err := decoder.Token()
	if err != nil {
		return nil, err
	}
	switch token {
	case json.Delim('{'):
		object := NewObject()
		for decoder.More() {
			key, err := decoder.Token()
			if err != nil {
				return nil, err
			}
			value, err := readValue(decoder)
			if err != nil {
				return nil, err
			}
			object.Set(key.(string), value)
		}
		_, err = decoder.Token()
		return object, err
	case json.Delim('['):
		list := []any{}
		for decoder.More() {
			value, err := readValue(decoder)
			if err != nil {
				return nil, err
			}
			list = append(list, value)
		}
		_, err = decoder.Token()
		return list, err
	}
	return token, nil
}

// writeJSON writes a value; space stands behind commas and colons.
func writeJSON(value any, space string) string { return writePart(value, space, nil, nil) }

// writePart writes a value, without its parts that are secret by their paths.
func writePart(value any, space string, hides func([]any) bool, path []any) string {
	if hides != nil && len(path) > 0 && hides(path) {
		return quoted(masked)
	}
	below := func(one any) []any { return append(append([]any{}, path...), one) }
	switch one := value.(type) {
	case nil:
		return "null"
	case string:
		return quoted(one)
	case []any:
		parts := make([]string, len(one))
		for at, element := range one {
			parts[at] = writePart(element, space, hides, below(at))
		}
		return "[" + strings.Join(parts, ","+space) + "]"
	case *Object:
		parts := make([]string, len(one.Keys))
		for at, key := range one.Keys {
			parts[at] = quoted(key) + ":" + space + writePart(one.Values[key], space, hides, below(key))
		}
		return "{" + strings.Join(parts, ","+space) + "}"
	}
	if number, ok := numberOf(value); ok {
		return number.written()
	}
	return fmt.Sprint(value)
}

var escapes = map[rune]string{'"': `\"`, '\\': `\\`, '\b': `\b`, '\f': `\f`, '\n': `\n`, '\r': `\r`, '\t': `\t`}

// quoted writes a text as ECMAScript does.
func quoted(text string) string {
	var written strings.Builder
	written.WriteByte('"')
	for _, one := range strings.ToValidUTF8(text, string(utf8.RuneError)) {
		if escape, known := escapes[one]; known {
			written.WriteString(escape)
		} else if one < 0x20 {
			fmt.Fprintf(&written, `\u%04x`, one)
		} else {
			written.WriteRune(one)
		}
	}
	written.WriteByte('"')
	return written.String()
}
