// Package errortexts says violations in words from packs of plain sentences, with nothing but Go's standard library.
// Written from docs/reference/packs.md; the numbers in the comments are its sections. SPDX-License-Identifier: MIT
package errortexts

import (
	"errors"
	"fmt"
	"os"
	"regexp"
	"strconv"
	"strings"
	"unicode"
)

// Format is the version of the format that is read.
const Format = "1"

// Of a list with more entries than the first number so many are named.
const (
	mostEntries = 20
	fewEntries  = 10
)

const (
	isolate = "\u2068"
	popped  = "\u2069"
	masked  = "•••"
	quotes  = "_quoted"
)

// ErrPack is returned for what is no pack of sentences of this version.
var ErrPack = errors.New("this is not a pack of sentences of version " + Format)

// errMissing says that a sentence asks for an argument that the violation does not have.
var errMissing = errors.New("an argument is missing")

var (
	breaks   = regexp.MustCompile("[\t\n\v\f\r\u0085\u2028\u2029]+")
	unwanted = regexp.MustCompile("[\\p{Cc}\u061C\u200E\u200F\u202A-\u202E\u2066-\u2069]")
	isolated = regexp.MustCompile(isolate + "[^" + popped + "]*" + popped)
)

// Violation is a broken rule.
type Violation struct {
	Path, In, Rule, As string
	Params             *Object
	// Value is what was sent, where HasValue is true.
	Value    any
	HasValue bool
}

// ViolationOf returns a violation that is written as the vectors have it.
func ViolationOf(given any) Violation {
	one := Violation{In: "body", Params: NewObject(), Value: Get(given, "value")}
	one.Path, _ = Get(given, "path").(string)
	one.Rule, _ = Get(given, "rule").(string)
	one.As, _ = Get(given, "as").(string)
	if part, ok := Get(given, "in").(string); ok {
		one.In = part
	}
	if params, ok := Get(given, "params").(*Object); ok {
		one.Params = params
	}
	_, one.HasValue = given.(*Object).Values["value"]
	return one
}

// Code is what clients see of the rule.
func (v Violation) Code() string {
	if v.As != "" {
		return v.As
	}
	return v.Rule
}

// Sentences are those of one language. They may be used by several goroutines at once.
type Sentences struct {
	Pack   *Object
	isRTL  bool
	slot   *regexp.Regexp
	others map[string]*Sentences
	fields map[string]fields
}

// Open reads a pack from a file.
func Open(file string) (*Sentences, error) {
	text, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	pack, err := ReadJSON(string(text))
	if err != nil {
		return nil, err
	}
	return New(pack)
}

// New returns the sentences of a pack.
func New(given any) (*Sentences, error) {
	pack, ok := given.(*Object)
	if !ok || fmt.Sprint(Get(pack, "sentences")) != Format {
		return nil, ErrPack
	}
	marks := []any{"{", "}"}
	if found, ok := Get(pack, "slot").([]any); ok {
		marks = found
	}
	opening, closing := marks[0].(string), marks[1].(string)
	pattern := regexp.QuoteMeta(opening) + `([\p{L}\p{M}\p{N}_]+)` + regexp.QuoteMeta(closing)
	// A per cent sign is doubled where slots begin with one.
	if strings.HasPrefix(opening, "%") {
		pattern = "%%|" + pattern
	}
	s := &Sentences{Pack: pack, isRTL: Get(pack, "direction") == "rtl", slot: regexp.MustCompile(pattern)}
	s.fields, s.others = map[string]fields{}, map[string]*Sentences{}
	forms := Get(pack, "fields").(*Object)
	for _, form := range forms.Keys {
		s.fields[form] = newFields(forms.Values[form].(*Object).Keys)
	}
	if locales, ok := Get(pack, "locales").(*Object); ok {
		for _, locale := range locales.Keys {
			other := *pack
			other.Values = map[string]any{}
			for name, value := range pack.Values {
				other.Values[name] = value
			}
			for name, value := range locales.Values[locale].(*Object).Values {
				other.Values[name] = value
			}
			s.others[locale] = &Sentences{Pack: &other, isRTL: Get(&other, "direction") == "rtl", slot: s.slot}
		}
	}
	return s, nil
}

// found is what there is to say of a violation: its arguments, the sentence, the one beside an input, what stands in.
type found struct {
	told                    map[string]any
	text, inline, otherwise any
}

// Say returns the sentence of a violation, and the text for beside the input where there is one.
func (s *Sentences) Say(form string, violation Violation) (text string, inline string, hasInline bool, err error) {
	known, err := s.lookedUp(form, violation)
	if err != nil {
		return "", "", false, err
	}
	texts, isList := known.text.([]any)
	if !isList && known.text != nil {
		texts = []any{known.text}
	}
	for at, one := range texts {
		said, err := s.said(one, known.told)
		if err != nil {
			continue
		}
		beside := known.inline
		if list, ok := beside.([]any); ok {
			beside = list[at]
		}
		if beside != nil {
			inline, err = s.said(beside, known.told)
			return said, inline, err == nil && inline != "", nil
		}
		return said, "", false, nil
	}
	if known.otherwise != nil {
		if said, err := s.said(known.otherwise, known.told); err == nil {
			return said, "", false, nil
		}
	}
	return violation.Code(), "", false, nil
}

func (s *Sentences) lookedUp(form string, violation Violation) (found, error) {
	known := found{told: map[string]any{}}
	if s.fields[form] == nil {
		return known, fmt.Errorf("there is no form %q in the pack", form)
	}
	for _, name := range violation.Params.Keys {
		known.told[name] = yesOrNo(violation.Params.Values[name])
	}
	if violation.HasValue {
		text, isText := violation.Value.(string)
		if !isText {
			text = writePart(violation.Value, " ", s.gate(form, violation), nil)
		}
		known.told["value"] = text
	}
	path := ReadPath(violation.Path)
	for nth, one := range s.fields[form].matching(violation.In, path) {
		field := Get(s.Pack, "fields", form, one.key)
		if nth == 0 {
			s.places(known.told, field, one.open, path)
		}
		if known.otherwise == nil {
			known.otherwise = Get(field, "otherwise")
		}
		if known.text == nil {
			known.text = Get(s.Pack, "forms", form, one.key, violation.Code())
			known.inline = nil
			if known.text != nil {
				known.inline = Get(s.Pack, "inlines", form, one.key, violation.Code())
			}
		}
	}
	return known, nil
}

// gate says whether a part of a violation's value is secret: by its place, or by the name of a secret field (4).
func (s *Sentences) gate(form string, violation Violation) func([]any) bool {
	names, hasSecrets := Get(s.Pack, "secrets", form).([]any)
	if !hasSecrets {
		return nil
	}
	around := ReadPath(violation.Path)
	return func(path []any) bool {
		for _, name := range names {
			if path[len(path)-1] == name {
				return true
			}
		}
		for _, one := range s.fields[form].matching(violation.In, append(append([]any{}, around...), path...)) {
			if Get(s.Pack, "fields", form, one.key, "secret") == true {
				return true
			}
		}
		return false
	}
}

// places adds the numbers and keys on the way, and hides what is secret.
func (s *Sentences) places(told map[string]any, field any, open []int, path []any) {
	names, _ := Get(field, "positions").([]any)
	for nth, name := range names {
		at := open[nth]
		if at < 0 {
			at += len(path)
		}
		if _, isTold := told[name.(string)]; isTold {
			continue
		}
		if element, ok := path[at].(int); ok {
			told[name.(string)] = element + 1
		} else {
			told[name.(string)] = path[at]
		}
	}
	for _, name := range []string{"value", "name"} {
		if _, isTold := told[name]; isTold && Get(field, "secret") == true {
			told[name] = masked
		}
	}
}

// shownPath returns the path of a violation as it may be shown, and whether what stands there is secret (6).
func (s *Sentences) shownPath(form string, violation Violation) (path []any, isSecret bool) {
	path = ReadPath(violation.Path)
	for _, one := range s.fields[form].matching(violation.In, path) {
		field := Get(s.Pack, "fields", form, one.key)
		hidden, _ := strconv.Atoi(fmt.Sprint(Get(field, "hidden")))
		return path[:len(path)-hidden], Get(field, "secret") == true
	}
	return path, false
}

// becomes returns the entry of `becomes` for a violation, or nil (6).
func (s *Sentences) becomes(form string, violation Violation) any {
	for _, one := range s.fields[form].matching(violation.In, ReadPath(violation.Path)) {
		if entry := Get(s.Pack, "becomes", form, one.key, violation.Code()); entry != nil {
			return entry
		}
	}
	return nil
}

// problem returns title and detail of a problem.
func (s *Sentences) problem(name string, params map[string]any) (title, detail string) {
	told := map[string]any{"located": "no", "timed": "no"}
	if params["line"] != nil && params["column"] != nil {
		told["located"] = "yes"
	}
	if params["seconds"] != nil {
		told["timed"] = "yes"
	}
	for key, value := range params {
		told[key] = value
	}
	about := Get(s.Pack, "problems", name)
	title, err := s.said(Get(about, "title"), told)
	if err != nil {
		title, _ = Get(about, "phrase").(string)
	}
	detail, _ = s.said(Get(about, "detail"), told)
	return title, detail
}

// said returns a sentence, in the language that it is in where that is another (1).
func (s *Sentences) said(sentence any, told map[string]any) (string, error) {
	if locale, ok := Get(sentence, "locale").(string); ok && Get(sentence, "sentence") != nil {
		return s.others[locale].fill(Get(sentence, "sentence"), told)
	}
	return s.fill(sentence, told)
}

// Cases (3)

func (s *Sentences) fill(sentence any, given map[string]any) (string, error) {
	told := map[string]any{}
	for name, value := range given {
		told[name] = value
	}
	for sentence != nil {
		if _, isText := sentence.(string); isText {
			break
		}
		chosen, err := s.chosen(sentence, given)
		if err != nil {
			return "", err
		}
		if name, ok := Get(sentence, "plural").(string); ok {
			if n, ok := numeric(given[name]); ok {
				told[name] = n.rounded()
			}
		}
		sentence = chosen
	}
	text, ok := sentence.(string)
	if !ok {
		return "", errMissing
	}
	var filled strings.Builder
	end := 0
	for _, at := range s.slot.FindAllStringSubmatchIndex(text, -1) {
		filled.WriteString(text[end:at[0]])
		end = at[1]
		if at[2] < 0 {
			filled.WriteByte('%')
			continue
		}
		said, err := s.written(text[at[2]:at[3]], told, text[:at[0]])
		if err != nil {
			return "", err
		}
		filled.WriteString(said)
	}
	return filled.String() + text[end:], nil
}

func (s *Sentences) chosen(sentence any, told map[string]any) (any, error) {
	cases := Get(sentence, "cases")
	other := Get(cases, "other")
	if name, ok := Get(sentence, "select").(string); ok {
		if told[name] != nil {
			if one := Get(cases, asText(told[name])); one != nil {
				return one, nil
			}
		}
		return other, nil
	}
	value := told[Get(sentence, "plural").(string)]
	if value == nil {
		return nil, errMissing
	}
	n, ok := countOf(value)
	if !ok {
		return other, nil
	}
	if one := Get(cases, "="+n.signed()); one != nil {
		return one, nil
	}
	if one := Get(cases, n.rounded().category(Get(s.Pack, "plurals"))); one != nil {
		return one, nil
	}
	return other, nil
}

// Arguments (4)

func countOf(value any) (number, bool) {
	if n, ok := value.(number); ok {
		return n, true
	}
	return numeric(value)
}

// yesOrNo returns a parameter, with a truth value as a `select` asks for it.
func yesOrNo(value any) any {
	switch value {
	case true:
		return "yes"
	case false:
		return "no"
	}
	return value
}

func asText(value any) string {
	if text, ok := value.(string); ok {
		return text
	}
	return writeJSON(value, " ")
}

func (s *Sentences) shown(value any) string {
	if list, ok := value.([]any); ok {
		entries := make([]string, len(list))
		for at, one := range list {
			entries[at] = s.apart(s.shown(asText(one)), s.isRTL)
		}
		return s.joined(entries)
	}
	text := strings.ToValidUTF8(asText(value), "\uFFFD")
	letters := []rune(unwanted.ReplaceAllString(breaks.ReplaceAllString(text, " "), ""))
	longest, _ := numberOf(Get(s.Pack, "longest"))
	most := 0
	fmt.Sscan(longest.whole, &most)
	if len(letters) <= most {
		return string(letters)
	}
	return strings.TrimRightFunc(string(letters[:most-1]), unicode.IsSpace) + "…"
}

// joined returns a list as the language joins it.
func (s *Sentences) joined(entries []string) string {
	pattern := func(name string) string { return Get(s.Pack, "lists", name).(string) }
	put := func(name, one, other string) string {
		return strings.NewReplacer("{0}", one, "{1}", other).Replace(pattern(name))
	}
	count := len(entries)
	switch {
	case count > mostEntries:
		more := "… (" + s.inDigits(fmt.Sprint(count)) + ")"
		return strings.Join(append(append([]string{}, entries[:fewEntries]...), more), pattern("mark"))
	case count == 0:
		return ""
	case count == 1:
		return entries[0]
	case count == 2:
		return put("two", entries[0], entries[1])
	}
	said := put("end", entries[count-2], entries[count-1])
	for at := count - 3; at > 0; at-- {
		said = put("middle", entries[at], said)
	}
	return put("start", entries[0], said)
}

// number writes a number with the language's digits and marks, thousands set apart as it does.
func (s *Sentences) number(n number) string {
	numbers := Get(s.Pack, "numbers")
	size := func(value any) int {
		found := 0
		fmt.Sscan(fmt.Sprint(value), &found)
		return found
	}
	sizes := Get(numbers, "sizes").([]any)
	last, rest := size(sizes[0]), n.whole
	if len(rest) < last+size(Get(numbers, "least")) {
		last = len(rest)
	}
	groups := []string{}
	for rest != "" {
		if last > len(rest) {
			last = len(rest)
		}
		groups = append([]string{rest[len(rest)-last:]}, groups...)
		rest, last = rest[:len(rest)-last], size(sizes[1])
	}
	text := strings.Join(groups, Get(numbers, "group").(string))
	if n.decimals != "" {
		text += Get(numbers, "decimal").(string) + n.decimals
	}
	if n.minus {
		return Get(numbers, "minus").(string) + s.inDigits(text)
	}
	return s.inDigits(text)
}

func (s *Sentences) inDigits(text string) string {
	digits := []rune(Get(s.Pack, "numbers", "digits").(string))
	return strings.Map(func(one rune) rune {
		if one >= '0' && one <= '9' {
			return digits[one-'0']
		}
		return one
	}, text)
}

// Direction (5)

func isFromRight(one rune) bool {
	for _, block := range [][2]rune{{0x590, 0x8FF}, {0xFB1D, 0xFDFF}, {0xFE70, 0xFEFC}, {0x10800, 0x10FFF}, {0x1E800, 0x1EFFF}} {
		if one >= block[0] && one <= block[1] {
			return true
		}
	}
	return false
}

func isDigit(one rune) bool { return unicode.Is(unicode.Nd, one) }

func isSign(one rune) bool {
	return !unicode.IsLetter(one) && !isDigit(one) && !unicode.IsSpace(one) && !unicode.Is(unicode.Co, one) &&
		one != '(' && one != ')' && !isFromRight(one)
}

// apart returns the text in an isolate where it runs against what is around it.
func (s *Sentences) apart(text string, isRTL bool) string {
	rest := isolated.ReplaceAllString(text, "")
	against := strings.IndexFunc(rest, isFromRight) >= 0
	if isRTL {
		against = strings.IndexFunc(rest, func(one rune) bool { return unicode.IsLetter(one) && !isFromRight(one) }) >= 0
		letters := []rune(rest)
		for at := 1; at < len(letters); at++ {
			one, other := letters[at-1], letters[at]
			against = against || isDigit(one) && isSign(other) || isSign(one) && isDigit(other)
		}
		hasOther := strings.IndexFunc(text, func(one rune) bool { return !isDigit(one) }) >= 0
		fromRight := func(one rune) bool { return isFromRight(one) && !isDigit(one) || unicode.Is(unicode.Co, one) }
		against = against || rest == text && hasOther && strings.IndexFunc(text, fromRight) < 0
	}
	if against {
		return isolate + text + popped
	}
	return text
}

// written returns what stands in a slot; inside of an isolate the direction is the other one.
func (s *Sentences) written(name string, told map[string]any, before string) (string, error) {
	value := told[name]
	isQuoted := false
	if base := strings.TrimSuffix(name, quotes); value == nil && base != name && told[base] != nil {
		isQuoted = true
		value = told[base]
		if n, ok := value.(number); ok {
			value = n.written()
		} else if _, isList := value.([]any); isList {
			value = s.shown(value)
		}
		value = strings.ReplaceAll(Get(s.Pack, "quoted").(string), "{text}", s.apart(s.shown(value), s.isRTL))
	}
	if value == nil {
		return "", errMissing
	}
	if n, ok := value.(number); ok {
		return s.number(n), nil
	}
	if n, ok := numberOf(value); ok {
		return s.number(n), nil
	}
	text, _ := value.(string)
	if !isQuoted {
		text = s.shown(value)
	}
	isInside := strings.Count(before, isolate) > strings.Count(before, popped)
	return s.apart(text, s.isRTL != isInside), nil
}
