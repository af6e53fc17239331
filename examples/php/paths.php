<?php

declare(strict_types=1);

/* Paths (docs/reference/packs.md section 2): elements are numbers from 0, members are texts. */

const ANY_ELEMENT = ['[*]'];
const ANY_KEY = ['*'];
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
