<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/*
 * Says violations in words from a pack of plain sentences: nothing but PHP itself.
 * Written from docs/reference/packs.md; the numbers in the comments are its sections.
 */

require_once __DIR__ . '/numbers.php';
require_once __DIR__ . '/paths.php';

const MASK = '•••';
/** Of a list with more entries than the first number so many are named. */
const MOST_ENTRIES = 20;
const FEW_ENTRIES = 10;
const RTL = '\x{590}-\x{8FF}\x{FB1D}-\x{FDFF}\x{FE70}-\x{FEFC}\x{10800}-\x{10FFF}\x{1E800}-\x{1EFFF}';

function as_json(mixed $value): string
{
    $flags = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_LINE_TERMINATORS | JSON_THROW_ON_ERROR;
    return json_encode($value, $flags);
}

/** A value as a text: a text as it is, all else as JSON with a space behind `,` and `:`. */
function as_text(mixed $value, ?Closure $hides = null): string
{
    return is_string($value) ? $value : spaced($value, $hides);
}

/** @param Closure|null $hides says of the path of a part whether it is secret */
function spaced(mixed $value, ?Closure $hides = null, array $path = []): string
{
    if ($hides !== null && $path !== [] && $hides($path)) {
        return as_json(MASK);
    }
    if (is_array($value) || $value instanceof stdClass) {
        $isList = is_array($value) && array_is_list($value);
        $parts = [];
        foreach ((array) $value as $key => $one) {
            $name = $isList ? $key : (string) $key;
            $parts[] = ($isList ? '' : as_json($name) . ': ') . spaced($one, $hides, [...$path, $name]);
        }
        return $isList ? '[' . implode(', ', $parts) . ']' : '{' . implode(', ', $parts) . '}';
    }
    return is_int($value) || is_float($value) ? written_number($value) : as_json($value);
}

/** A sentence asks for an argument that the violation does not have. */
final class Missing extends RuntimeException
{
}

/** The sentences of one language. */
class Sentences
{
    private string $slot;
    private array $others = [];
    private array $fields = [];

    final public function __construct(public readonly array $pack)
    {
        if (($pack['sentences'] ?? null) !== 1) {
            throw new InvalidArgumentException('this is not a pack of sentences of version 1');
        }
        [$open, $close] = array_map(fn (string $one) => preg_quote($one, '/'), $pack['slot'] ?? ['{', '}']);
        // A per cent sign is doubled where slots begin with one.
        $this->slot = '/' . (str_starts_with($open, '%') ? '%%|' : '') . "$open(\w+)$close/u";
        foreach ($pack['fields'] as $form => $fields) {
            $this->fields[$form] = new Fields(array_map(strval(...), array_keys($fields)));
        }
    }

    /** The sentence of a violation, and the text for beside the input or null. */
    public function say(string $form, array $violation): array
    {
        [$told, $text, $inline, $otherwise] = $this->looked_up($form, $violation);
        $texts = is_array($text) && array_is_list($text) ? $text : [$text];
        $inlines = is_array($inline) && array_is_list($inline) ? $inline : [$inline];
        foreach ($texts as $at => $one) {
            $said = $this->said_or_null($one, $told);
            if ($said !== null) {
                $inline = $this->said_or_null($inlines[$at] ?? null, $told);
                return [$said, $inline === '' ? null : $inline];
            }
        }
        return [$this->said_or_null($otherwise, $told) ?? $violation['as'] ?? $violation['rule'], null];
    }

    /** The arguments of a violation, its sentence, its text for beside the input, and what stands in (2, 4). */
    private function looked_up(string $form, array $violation): array
    {
        $code = $violation['as'] ?? $violation['rule'];
        $segments = read_path($violation['path']);
        $told = array_map(fn (mixed $one) => is_bool($one) ? ($one ? 'yes' : 'no') : $one, $violation['params'] ?? []);
        if (array_key_exists('value', $violation)) {
            $told['value'] = as_text($violation['value'], $this->gate($form, $violation));
        }
        $fields = $this->fields[$form] ?? throw new InvalidArgumentException("there is no form \"$form\" in the pack");
        $field = $text = $inline = $otherwise = null;
        foreach ($fields->matching($violation['in'] ?? 'body', $segments) as [$key, $open]) {
            $found = $this->pack['fields'][$form][$key];
            if ($field === null) {
                $field = $found;
                foreach ($found['positions'] as $n => $name) {
                    $segment = $segments[$open[$n] < 0 ? count($segments) + $open[$n] : $open[$n]];
                    $told += [$name => is_int($segment) ? $segment + 1 : $segment];
                }
                foreach (isset($found['secret']) ? ['value', 'name'] : [] as $name) {
                    $told = isset($told[$name]) ? [...$told, $name => MASK] : $told;
                }
            }
            $otherwise ??= $found['otherwise'] ?? null;
            if ($text === null) {
                $text = $this->pack['forms'][$form][$key][$code] ?? null;
                $inline = $text === null ? null : $this->pack['inlines'][$form][$key][$code] ?? null;
            }
        }
        return [$told, $text, $inline, $otherwise];
    }

    /** The path of a violation as it may be shown, and whether what stands there is secret (6). */
    public function shown_path(string $form, array $violation): array
    {
        $segments = read_path($violation['path']);
        [[$key]] = [...$this->fields[$form]->matching($violation['in'] ?? 'body', $segments), [null]];
        $field = $key === null ? [] : $this->pack['fields'][$form][$key];
        return [array_slice($segments, 0, count($segments) - ($field['hidden'] ?? 0)), isset($field['secret'])];
    }

    /** Whether a part of a violation's value is secret: by its place, or by the name of a secret field (4); null where nothing is. */
    private function gate(string $form, array $violation): ?Closure
    {
        $names = $this->pack['secrets'][$form] ?? null;
        $around = read_path($violation['path']);
        return $names === null ? null : function (array $path) use ($names, $form, $violation, $around): bool {
            foreach ($this->fields[$form]->matching($violation['in'] ?? 'body', [...$around, ...$path]) as [$key]) {
                if (isset($this->pack['fields'][$form][$key]['secret'])) {
                    return true;
                }
            }
            return in_array(end($path), $names, true);
        };
    }

    /** The entry of `becomes` for a violation, or null (6). */
    public function becomes(string $form, array $violation): ?array
    {
        $code = $violation['as'] ?? $violation['rule'];
        foreach (($this->fields[$form] ?? null)?->matching($violation['in'] ?? 'body', read_path($violation['path'])) ?? [] as [$key]) {
            $found = $this->pack['becomes'][$form][$key][$code] ?? null;
            if ($found !== null) {
                return $found;
            }
        }
        return null;
    }

    /** Title and detail of the problem that a broken rule is. */
    public function problem_of(string $form, array $violation, array $entry): array
    {
        [$told] = $this->looked_up($form, $violation);
        [$title, $detail] = $this->problem($entry['problem'], $told);
        return [
            $this->said_or_null($entry['title'] ?? null, $told) ?? $title,
            $this->said_or_null($entry['detail'] ?? null, $told) ?? $detail,
        ];
    }

    private function said_or_null(string|array|null $sentence, array $told): ?string
    {
        try {
            return $sentence === null ? null : $this->said($sentence, $told);
        } catch (Missing) {
            return null;
        }
    }

    /** Title and detail of a problem. */
    public function problem(string $name, array $params): array
    {
        $problem = $this->pack['problems'][$name];
        $told = $params + [
            'located' => isset($params['line'], $params['column']) ? 'yes' : 'no',
            'timed' => isset($params['seconds']) ? 'yes' : 'no',
        ];
        return [$this->said_or_null($problem['title'], $told) ?? $problem['phrase'], $this->said_or_null($problem['detail'] ?? '', $told) ?? ''];
    }

    /** A sentence, in the language that it is in where that is another (1). */
    private function said(string|array $sentence, array $told): string
    {
        if (is_array($sentence) && isset($sentence['sentence'])) {
            $locale = $sentence['locale'];
            $this->others[$locale] ??= new static($this->pack['locales'][$locale] + $this->pack);
            return $this->others[$locale]->said($sentence['sentence'], $told);
        }
        return $this->fill($sentence, $told);
    }

    /** What stands for a name (4); behind `_quoted` the text in the marks of the language. */
    private function argument(string $name, array $told): mixed
    {
        $value = $told[preg_replace('/_quoted$/', '', $name)] ?? null;
        if (isset($told[$name]) || $value === null) {
            return $told[$name] ?? null;
        }
        $text = $this->shown(is_array($value) ? $this->shown($value) : $value);
        return strtr($this->pack['quoted'], ['{text}' => $this->isolated($text)]);
    }

    /** A list as the language joins it. */
    private function joined(array $entries): string
    {
        $lists = $this->pack['lists'];
        $count = count($entries);
        if ($count > MOST_ENTRIES) {
            return implode($lists['mark'], [...array_slice($entries, 0, FEW_ENTRIES), "… ({$this->in_digits((string) $count)})"]);
        }
        $put = fn (string $pattern, string $one, string $other) => strtr($pattern, ['{0}' => $one, '{1}' => $other]);
        if ($count < 3) {
            return $count === 2 ? $put($lists['two'], ...$entries) : $entries[0] ?? '';
        }
        $said = $put($lists['end'], ...array_slice($entries, -2));
        for ($at = $count - 3; $at >= 0; $at -= 1) {
            $said = $put($lists[$at === 0 ? 'start' : 'middle'], $entries[$at], $said);
        }
        return $said;
    }

    protected function shown(mixed $value): string
    {
        if (is_array($value) && array_is_list($value)) {
            return $this->joined(array_map(fn (mixed $one) => $this->isolated($this->shown(as_text($one))), $value));
        }
        $text = as_text($value);
        $text = preg_replace('/[\t\n\v\f\r\x{85}\x{2028}\x{2029}]+/u', ' ', $text);
        $text = preg_replace('/[\p{Cc}\x{61C}\x{200E}\x{200F}\x{202A}-\x{202E}\x{2066}-\x{2069}]/u', '', $text);
        preg_match_all('/\X/u', $text, $letters);
        $longest = $this->pack['longest'];
        return count($letters[0]) <= $longest ? $text : rtrim(implode('', array_slice($letters[0], 0, $longest - 1))) . '…';
    }

    /** A number with the language's digits and marks, thousands set apart as it does. */
    private function number(int|float $value): string
    {
        $numbers = $this->pack['numbers'];
        [$whole, $rest] = explode('.', digits_of($value)) + [1 => ''];
        [$last, $more] = $numbers['sizes'];
        if (strlen($whole) < $last + $numbers['least']) {
            $last = strlen($whole);
        }
        $groups = [substr($whole, -$last)];
        for ($whole = substr($whole, 0, -$last); $whole !== ''; $whole = substr($whole, 0, -$more)) {
            array_unshift($groups, substr($whole, -$more));
        }
        $text = implode($numbers['group'], $groups) . ($rest === '' ? '' : $numbers['decimal'] . $rest);
        return ($value < 0 ? $numbers['minus'] : '') . $this->in_digits($text);
    }

    private function in_digits(string $text): string
    {
        preg_match_all('/./u', $this->pack['numbers']['digits'], $digits);
        return strtr($text, $digits[0]);
    }

    /** The text in an isolate (U+2068, U+2069) where it runs against what is around it (5). */
    private function isolated(string $text, ?bool $rtl = null): string
    {
        $has = fn (string $pattern, string $one) => preg_match("/$pattern/u", $one) === 1;
        $rest = preg_replace('/\x{2068}[^\x{2069}]*\x{2069}/u', '', $text);
        $against = $has('[' . RTL . ']', $rest);
        if ($rtl ?? $this->pack['direction'] === 'rtl') {
            $sign = '[^\p{L}\p{Nd}\p{Co}\s()' . RTL . ']';
            $against = $has('(?![' . RTL . '])\p{L}', $rest)
                || $has("\p{Nd}$sign|$sign\p{Nd}", $rest)
                || ($rest === $text && $has('\P{Nd}', $text) && !$has('(?!\p{Nd})[' . RTL . ']|\p{Co}', $text));
        }
        return $against ? "\u{2068}$text\u{2069}" : $text;
    }

    /** What stands in a slot; inside of an isolate the direction is the other one. */
    protected function written(string $name, array $told, string $before): string
    {
        $value = $this->argument($name, $told);
        if (is_int($value) || is_float($value)) {
            return $this->number($value);
        }
        $value ??= throw new Missing($name);
        $inside = substr_count($before, "\u{2068}") > substr_count($before, "\u{2069}");
        $text = str_ends_with($name, '_quoted') && !isset($told[$name]) ? $value : $this->shown($value);
        return $this->isolated($text, ($this->pack['direction'] === 'rtl') !== $inside);
    }

    /** A sentence with its cases chosen (3) and its slots filled. */
    protected function fill(string|array $sentence, array $told): string
    {
        $shown = $told;
        while (is_array($sentence)) {
            $name = $sentence['plural'] ?? '';
            $sentence = $this->chosen($sentence, $told);
            $shown[$name] = with_decimals($told[$name] ?? null);
        }
        preg_match_all($this->slot, $sentence, $found, PREG_SET_ORDER | PREG_OFFSET_CAPTURE);
        [$text, $end] = ['', 0];
        foreach ($found as $one) {
            [$whole, $at] = $one[0];
            $said = isset($one[1]) ? $this->written($one[1][0], $shown, substr($sentence, 0, $at)) : '%';
            $text .= substr($sentence, $end, $at - $end) . $said;
            $end = $at + strlen($whole);
        }
        return $text . substr($sentence, $end);
    }

    private function chosen(array $sentence, array $told): string|array
    {
        $cases = $sentence['cases'];
        if (isset($sentence['select'])) {
            $asked = $told[$sentence['select']] ?? '';
            return $cases[is_array($asked) ? '' : (string) $asked] ?? $cases['other'];
        }
        $value = $told[$sentence['plural']] ?? throw new Missing($sentence['plural']);
        $number = numeric($value);
        if ($number === null) {
            return $cases['other'];
        }
        $exact = '=' . ($number < 0 ? '-' : '') . digits_of($number);
        return $cases[$exact] ?? $cases[category(rounded($number), $this->pack['plurals'])] ?? $cases['other'];
    }
}
