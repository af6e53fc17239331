// SPDX-License-Identifier: MIT

package errortexts

// Numbers by their decimal digits, and plural categories (docs/reference/packs.md sections 3 and 4).

import (
	"encoding/json"
	"fmt"
	"math/big"
	"regexp"
	"strconv"
	"strings"
)

// number is whole and decimals without zeros at the end.
type number struct {
	minus           bool
	whole, decimals string
}

var written = regexp.MustCompile(`^(-?)([0-9]+)(?:\.([0-9]+))?(?:[eE]([-+]?[0-9]{1,4}))?$`)

// numberOf returns a value as a number, where it is one.
func numberOf(value any) (number, bool) {
	switch value.(type) {
	case json.Number, int, int8, int16, int32, int64, uint, uint8, uint16, uint32, uint64, float32, float64:
		return readNumber(fmt.Sprint(value))
	}
	return number{}, false
}

func readNumber(text string) (number, bool) {
	parts := written.FindStringSubmatch(text)
	if parts == nil {
		return number{}, false
	}
	power, _ := strconv.Atoi(parts[4])
	digits, point := parts[2]+parts[3], len(parts[2])+power
	if point < 0 {
		digits, point = strings.Repeat("0", -point)+digits, 0
	}
	if point > len(digits) {
		digits += strings.Repeat("0", point-len(digits))
	}
	whole := strings.TrimLeft(digits[:point], "0")
	if whole == "" {
		whole = "0"
	}
	one := number{whole: whole, decimals: strings.TrimRight(digits[point:], "0")}
	one.minus = parts[1] == "-" && one.digits() != "0"
	return one, true
}

// numeric returns the number that a value is, or that a text writes.
func numeric(value any) (number, bool) {
	if text, ok := value.(string); ok {
		return readNumber(text)
	}
	return numberOf(value)
}

func (n number) digits() string {
	if n.decimals == "" {
		return n.whole
	}
	return n.whole + "." + n.decimals
}

func (n number) signed() string {
	if n.minus {
		return "-" + n.digits()
	}
	return n.digits()
}

// written returns a number as ECMAScript writes it: with an exponent from 1e21 and below 1e-6.
func (n number) written() string {
	exponent := len(n.whole) - 1
	significant := n.whole + n.decimals
	if n.whole == "0" {
		rest := strings.TrimLeft(n.decimals, "0")
		exponent, significant = len(rest)-len(n.decimals)-1, rest
	}
	if n.digits() == "0" || (exponent >= -6 && exponent < 21) {
		return n.signed()
	}
	text := significant[:1]
	if rest := strings.TrimRight(significant[1:], "0"); rest != "" {
		text += "." + rest
	}
	if n.minus {
		text = "-" + text
	}
	return fmt.Sprintf("%se%+d", text, exponent)
}

// rounded returns a number with three decimals at the most, half to even.
func (n number) rounded() number {
	if len(n.decimals) <= 3 {
		return n
	}
	scaled, _ := new(big.Int).SetString(n.whole+n.decimals[:3], 10)
	rest := n.decimals[3:]
	half := rest[0] > '5' || rest[0] == '5' && (strings.Trim(rest[1:], "0") != "" || scaled.Bit(0) == 1)
	if half {
		scaled.Add(scaled, big.NewInt(1))
	}
	text := fmt.Sprintf("%04s", scaled)
	found, _ := readNumber(text[:len(text)-3] + "." + text[len(text)-3:])
	found.minus = n.minus
	return found
}

var relation = regexp.MustCompile(`^(\w)(?: % (\d+))? (!?)= (.+)$`)

// category returns the plural category by the conditions of the pack (UTS 35 part 3 section 5).
func (n number) category(plurals any) string {
	conditions, ok := plurals.(*Object)
	if !ok {
		return "other"
	}
	for _, name := range conditions.Keys {
		for _, either := range strings.Split(conditions.Values[name].(string), " or ") {
			all := true
			for _, one := range strings.Split(either, " and ") {
				all = all && n.holds(one)
			}
			if all {
				return name
			}
		}
	}
	return "other"
}

func (n number) holds(condition string) bool {
	parts := relation.FindStringSubmatch(condition)
	value := new(big.Int)
	isWhole := parts[1] != "n" || n.decimals == ""
	switch parts[1] {
	case "n", "i":
		value.SetString(n.whole, 10)
	case "v", "w":
		value.SetInt64(int64(len(n.decimals)))
	case "f", "t":
		value.SetString("0"+n.decimals, 10)
	}
	if parts[2] != "" {
		modulus, _ := new(big.Int).SetString(parts[2], 10)
		value.Mod(value, modulus)
	}
	inside := false
	for _, text := range strings.Split(parts[4], ",") {
		low, high, isRange := strings.Cut(text, "..")
		if !isRange {
			high = low
		}
		from, _ := new(big.Int).SetString(low, 10)
		to, _ := new(big.Int).SetString(high, 10)
		inside = inside || isWhole && value.Cmp(from) >= 0 && value.Cmp(to) <= 0
	}
	return inside == (parts[3] == "")
}
