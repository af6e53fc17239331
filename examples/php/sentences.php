<?php

declare(strict_types=1);

/*
 * Says violations in words from a pack of plain sentences: nothing but PHP itself.
 * Written from docs/reference/packs.md; the numbers in the comments are its sections.
 */

const ANY_ELEMENT = ['[*]'];
const ANY_KEY = ['*'];
const RTL = '\x{590}-\x{8FF}\x{FB1D}-\x{FDFF}\x{FE70}-\x{FEFC}\x{10800}-\x{10FFF}\x{1E800}-\x{1EFFF}';
const BARE_NAME = '/^[^.\[\]"\'*\s\p{Cc}]+$/u';

/** The segments of a path (2): numbers from 0 for elements, texts for members. */
function read_path(string $text): array
{
    preg_match_all('/\[(?:(\d+)|("(?:[^"\\\\]|\\\\.)*"))\]|\.?([^.\[\]"\'*\s\p{Cc}]+)/u', $text, $found, PREG_SET_ORDER);
    return array_map(
        fn (array $one) => $one[1] !== '' ? (int) $one[1] : (($one[2] ?? '') !== '' ? json_decode($one[2]) : $one[3]),
        array_map(fn (array $one) => $one + ['', '', '', ''], $found),
    );
}

function print_path(array $segments): string
{
    $text = '';
    foreach ($segments as $segment) {
        $text .= match (true) {
            $segment === ANY_ELEMENT => '[*]',
            is_int($segment) => "[$segment]",
            $segment === ANY_KEY => '.*',
            preg_match(BARE_NAME, $segment) === 1 => ($text === '' ? '' : '.') . $segment,
            default => '[' . as_json($segment) . ']',
        };
    }
    return $text;
}

/** All patterns that match a path, the narrowest first: what is open further to the right comes first (2). */
function patterns_for(array $segments): iterable
{
    if ($segments === []) {
        yield [];
        return;
    }
    $last = array_pop($segments);
    foreach ([$last, is_int($last) ? ANY_ELEMENT : ANY_KEY] as $segment) {
        foreach (patterns_for($segments) as $head) {
            yield [...$head, $segment];
        }
    }
}

function as_json(mixed $value): string
{
    $flags = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_LINE_TERMINATORS | JSON_THROW_ON_ERROR;
    return json_encode($value, $flags);
}

/** The digits of a number without its sign, an exponent or zeros at the end. */
function digits_of(int|float $value): string
{
    $text = ltrim(is_int($value) ? (string) $value : json_encode($value), '-');
    if (preg_match('/^(\d+)(?:\.(\d+))?e([+-]\d+)$/i', $text, $parts) === 1) {
        [$whole, $rest, $power] = [$parts[1], $parts[2], (int) $parts[3]];
        $digits = str_repeat('0', max(0, -$power)) . $whole . str_pad($rest, max(0, $power), '0');
        $at = max(0, -$power) + strlen($whole) + $power;
        $text = (ltrim(substr($digits, 0, $at), '0') ?: '0') . '.' . substr($digits, $at);
    }
    return str_contains($text, '.') ? rtrim(rtrim($text, '0'), '.') : $text;
}

/** The sentences of one language. */
final class Sentences
{
    private string $place;

    public function __construct(public readonly array $pack)
    {
        if (($pack['sentences'] ?? null) !== 1) {
            throw new InvalidArgumentException('this is no pack of plain sentences, or one of a later version');
        }
        [$open, $close] = array_map(fn (string $one) => preg_quote($one, '/'), $pack['place']);
        $this->place = "/$open(\w+)$close/u";
    }

    /** The sentence of a violation, and the text for beside the input or null. */
    public function say(string $form, array $violation): array
    {
        $place = $violation['in'] ?? 'body';
        $code = $violation['as'] ?? $violation['rule'];
        $segments = read_path($violation['path']);
        $told = ($violation['params'] ?? []) + ['code' => $code, 'value' => $violation['value'] ?? null];
        $text = $inline = $field = null;
        foreach (patterns_for($segments) as $pattern) {
            $key = ($place === 'body' ? '' : "$place:") . print_path($pattern);
            $found = $this->pack['fields'][$form][$key] ?? null;
            if ($found === null) {
                continue;
            }
            $field ??= $found + ['at' => array_keys(array_filter($pattern, is_array(...)))];
            $text ??= $this->pack['forms'][$form][$key][$code] ?? null;
            $inline ??= $this->pack['inlines'][$form][$key][$code] ?? null;
        }
        foreach ($field['places'] ?? [] as $n => $name) {
            $segment = $segments[$field['at'][$n]];
            $told[$name] = is_int($segment) ? $segment + 1 : $segment;
        }
        if ($field['secret'] ?? false) {
            $told['value'] = '•••';
        }
        $told = $this->arguments($told);
        $text ??= $field['otherwise'] ?? $code;
        return [$this->fill($text, $told), $inline === null ? null : $this->fill($inline, $told)];
    }

    /** Title and detail of a problem. */
    public function problem(string $name, array $params): array
    {
        $problem = $this->pack['problems'][$name];
        $told = $this->arguments($params + [
            'located' => isset($params['line'], $params['column']) ? 'yes' : 'no',
            'timed' => isset($params['seconds']) ? 'yes' : 'no',
        ]);
        return [$this->fill($problem['title'], $told), $this->fill($problem['detail'] ?? '', $told)];
    }

    /** What stands for each name (4); texts in the marks of the language behind `_quoted`. */
    private function arguments(array $told): array
    {
        foreach ($told as $name => $value) {
            if ($value !== null) {
                $told += ["{$name}_quoted" => strtr($this->pack['quoted'], ['{text}' => $this->isolated($this->shown($value))])];
            }
        }
        return $told;
    }

    private function shown(mixed $value): string
    {
        $text = is_string($value) ? $value : as_json($value);
        $text = preg_replace('/[\t\n\v\f\r\x{85}\x{2028}\x{2029}]+/u', ' ', $text);
        $text = preg_replace('/[\p{Cc}\x{61C}\x{200E}\x{200F}\x{202A}-\x{202E}\x{2066}-\x{2069}]/u', '', $text);
        preg_match_all('/\X/u', $text, $letters);
        $longest = $this->pack['longest'];
        return count($letters[0]) <= $longest ? $text : rtrim(implode('', array_slice($letters[0], 0, $longest - 1))) . '…';
    }

    /** A number with the language's digits and marks, all thousands set apart. */
    private function number(int|float $value): string
    {
        $numbers = $this->pack['numbers'];
        [$whole, $rest] = explode('.', digits_of($value)) + [1 => ''];
        [$last, $more] = $numbers['sizes'];
        $groups = [substr($whole, -$last)];
        for ($whole = substr($whole, 0, -$last); $whole !== ''; $whole = substr($whole, 0, -$more)) {
            array_unshift($groups, substr($whole, -$more));
        }
        $text = implode($numbers['group'], $groups) . ($rest === '' ? '' : $numbers['decimal'] . $rest);
        preg_match_all('/./u', $numbers['digits'], $digits);
        return ($value < 0 ? $numbers['minus'] : '') . strtr($text, $digits[0]);
    }

    /** The text in an isolate (U+2068, U+2069) where it runs against what is around it (5). */
    private function isolated(string $text, ?bool $rtl = null): string
    {
        $hasRtl = fn (string $one) => preg_match('/[' . RTL . ']/u', $one) === 1;
        $against = $hasRtl($text);
        if ($rtl ?? $this->pack['direction'] === 'rtl') {
            $rest = preg_replace('/\x{2068}[^\x{2069}]*\x{2069}/u', '', $text);
            $against = preg_match('/(?![' . RTL . '])\p{L}/u', $rest) === 1
                || (!$hasRtl($rest) && preg_match('/\p{Nd}[^\p{L}\p{Nd}]+\p{Nd}/u', $rest) === 1);
        }
        return $against ? "\u{2068}$text\u{2069}" : $text;
    }

    /** What stands at a place; inside of an isolate the direction is the other one. */
    private function written(string $name, array $told, string $before): string
    {
        $value = $told[$name] ?? null;
        if ($value === null || is_int($value) || is_float($value)) {
            return $value === null ? '' : $this->number($value);
        }
        $inside = substr_count($before, "\u{2068}") > substr_count($before, "\u{2069}");
        $text = str_ends_with($name, '_quoted') ? $value : $this->shown($value);
        return $this->isolated($text, ($this->pack['direction'] === 'rtl') !== $inside);
    }

    /** A sentence with its cases chosen (3) and its places filled. */
    private function fill(string|array $sentence, array $told): string
    {
        while (is_array($sentence)) {
            $sentence = $this->chosen($sentence, $told);
        }
        preg_match_all($this->place, $sentence, $found, PREG_SET_ORDER | PREG_OFFSET_CAPTURE);
        [$text, $end] = ['', 0];
        foreach ($found as [[$whole, $at], [$name]]) {
            $text .= substr($sentence, $end, $at - $end) . $this->written($name, $told, substr($sentence, 0, $at));
            $end = $at + strlen($whole);
        }
        $text .= substr($sentence, $end);
        return str_starts_with($this->pack['place'][0], '%') ? strtr($text, ['%%' => '%']) : $text;
    }

    private function chosen(array $sentence, array $told): string|array
    {
        $cases = $sentence['cases'];
        if (isset($sentence['select'])) {
            return $cases[$told[$sentence['select']] ?? ''] ?? $cases['other'];
        }
        $value = $told[$sentence['plural']] ?? 0;
        return $cases['=' . ($value < 0 ? '-' : '') . digits_of($value)] ?? $cases[$this->category($value)] ?? $cases['other'];
    }

    /** The plural category by the conditions of the pack (UTS 35 part 3 section 5). */
    private function category(int|float $value): string
    {
        [$whole, $rest] = explode('.', digits_of($value)) + [1 => ''];
        $size = strlen($rest);
        $known = ['n' => abs($value), 'i' => (int) $whole, 'v' => $size, 'w' => $size, 'f' => (int) $rest, 't' => (int) $rest];
        foreach ($this->pack['plurals'] as $category => $condition) {
            foreach (explode(' or ', $condition) as $either) {
                $failed = array_filter(explode(' and ', $either), fn (string $one) => !holds($one, $known + ['c' => 0, 'e' => 0]));
                if ($failed === []) {
                    return $category;
                }
            }
        }
        return 'other';
    }
}

/** Whether a relation such as `i % 100 != 12..14` holds. */
function holds(string $relation, array $known): bool
{
    preg_match('/^(\w)(?: % (\d+))? (!?)= (.+)$/', $relation, $parts);
    $number = $known[$parts[1]];
    $number = $parts[2] === '' ? $number : fmod($number, (int) $parts[2]);
    $inside = false;
    foreach (explode(',', $parts[4]) as $range) {
        [$low, $high] = explode('..', $range) + [1 => $range];
        $inside = $inside || ($number >= $low && $number <= $high && floor($number) == $number);
    }
    return $inside !== ($parts[3] === '!');
}
