// SPDX-License-Identifier: MIT

package errortexts

import (
	"regexp"
	"sort"
	"strconv"
	"strings"
)

// Longer headers are no preference of anyone.
const longestHeader = 1024

var (
	languageRange = regexp.MustCompile(
		`^\s*(\*|[a-z0-9]+(?:-[a-z0-9*]+)*)\s*(?:;\s*q=(0(?:\.\d{0,3})?|1(?:\.0{0,3})?)\s*)?$`)
	// A subtag of one letter goes with the one behind it.
	lastSubtag = regexp.MustCompile(`(-.)*(-[^-]*)?$`)
)

// Preferred returns the language that a client likes best, one of a pack's settings (7).
func (s *Sentences) Preferred(header string) string {
	settings := Get(s.Pack, "settings")
	locales := []string{Get(settings, "original").(string)}
	for _, one := range Get(settings, "locales").([]any) {
		if one != locales[0] {
			locales = append(locales, one.(string))
		}
	}
	parents := map[string]string{}
	if known, ok := Get(settings, "parents").(*Object); ok {
		for _, child := range known.Keys {
			parents[strings.ToLower(child)] = strings.ToLower(known.Values[child].(string))
		}
	}
	if len(header) > longestHeader {
		header = header[:longestHeader]
	}
	type asked struct {
		tag    string
		weight float64
	}
	ranges, wanted, refused := []asked{}, []string{}, []string{}
	for _, part := range strings.Split(strings.ToLower(header), ",") {
		if found := languageRange.FindStringSubmatch(part); found != nil {
			weight, err := strconv.ParseFloat(found[2], 64)
			if err != nil {
				weight = 1
			}
			ranges = append(ranges, asked{found[1], weight})
		}
	}
	sort.SliceStable(ranges, func(one, other int) bool { return ranges[one].weight > ranges[other].weight })
	for _, one := range ranges {
		if one.weight > 0 {
			wanted = append(wanted, one.tag)
		} else {
			refused = append(refused, one.tag)
		}
	}
	free := func(locale string) bool {
		against := covering(refused, locale)
		return against == 0 || covering(wanted, locale) > against
	}
	for _, tag := range wanted {
		for _, locale := range candidates(tag, locales, parents) {
			if free(locale) {
				return locale
			}
		}
	}
	for _, locale := range locales {
		if free(locale) {
			return locale
		}
	}
	return locales[0]
}

// covering returns how long the longest of the ranges is that a language falls under; 0 where none does.
func covering(ranges []string, locale string) int {
	longest := 0
	for _, one := range ranges {
		if strings.HasPrefix(strings.ToLower(locale)+"-", one+"-") && len(one) > longest {
			longest = len(one)
		}
	}
	return longest
}

// candidates returns the languages that serve a range: it, what stands in for it, else those that say more.
func candidates(tag string, locales []string, parents map[string]string) []string {
	if tag == "*" {
		return locales
	}
	found := []string{}
	chain := wider(tag, parents)
	for _, one := range chain {
		for _, locale := range locales {
			if strings.EqualFold(locale, one) {
				found = append(found, locale)
			}
		}
	}
	if len(found) > 0 {
		return found
	}
	for _, locale := range locales {
		for _, one := range wider(strings.ToLower(locale), parents) {
			if one == chain[len(chain)-1] {
				found = append(found, locale)
			}
		}
	}
	return found
}

// wider returns a tag and those that stand in for it, in small letters.
func wider(tag string, parents map[string]string) []string {
	all := []string{}
	for tag != "" && tag != "und" {
		all = append(all, tag)
		parent, isKnown := parents[tag]
		switch {
		case isKnown:
			tag = parent
		case strings.Contains(tag, "-"):
			tag = lastSubtag.ReplaceAllString(tag, "")
		default:
			tag = ""
		}
	}
	return all
}
