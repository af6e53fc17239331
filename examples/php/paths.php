<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/* Paths (docs/reference/packs.md section 2): elements are numbers from 0, members are texts. */

enum Any
{
    case Element;
    case Key;
    case Depth;
}

const BARE_NAME = '/^[^.\[\]"\'*\s\p{Cc}]+$/u';

/** The segments of a path or a pattern (2): numbers from 0 for elements, texts for members. */
function read_path(string $text): array
{
    preg_match_all('/\[(?:(\d+)|("(?:[^"\\\\]|\\\\.)*")|\*)\]|\.\.(?=.)|\.?([^.\[\]"\'*\s\p{Cc}]+)|\.?\*/u', $text, $found, PREG_SET_ORDER);
    return array_map(
        fn (array $one) => match (true) {
            $one[1] !== '' => (int) $one[1],
            $one[2] !== '' => json_decode($one[2]),
            $one[3] !== '' => $one[3],
            default => ['[*]' => Any::Element, '..' => Any::Depth][$one[0]] ?? Any::Key,
        },
        array_map(fn (array $one) => $one + ['', '', '', ''], $found),
    );
}

function print_path(array $segments): string
{
    $text = '';
    foreach ($segments as $segment) {
        $text .= match (true) {
            is_int($segment) => "[$segment]",
            preg_match(BARE_NAME, $segment) === 1 => ($text === '' ? '' : '.') . $segment,
            default => '[' . as_json($segment) . ']',
        };
    }
    return $text;
}

/** The fields of a form as a tree from the last segment to the first, so that a path takes no longer than it is deep. */
final class Fields
{
    private array $root = [];

    public function __construct(iterable $keys)
    {
        foreach ($keys as $key) {
            [$place, $path] = preg_match('/^(query|header|cookie|path):(.*)$/s', $key, $found) === 1 ? [$found[1], $found[2]] : ['body', $key];
            $pattern = read_path($path);
            $node = &$this->root[$place];
            foreach (array_reverse($pattern) as $segment) {
                $node = &$node['to'][self::branch($segment)];
            }
            // Behind `..` places are counted from the end.
            $depth = array_search(Any::Depth, $pattern, true);
            $open = array_keys(array_filter($pattern, fn (mixed $one) => $one === Any::Element || $one === Any::Key));
            $node['end'] = [$key, array_map(fn (int $at) => $depth !== false && $at > $depth ? $at - count($pattern) : $at, $open)];
            unset($node);
        }
    }

    /** The key and the open places of each field whose pattern matches, in the order of section 2. */
    public function matching(string $place, array $segments): iterable
    {
        return $this->below($this->root[$place] ?? [], $segments, count($segments));
    }

    private function below(array $node, array $segments, int $left): iterable
    {
        if ($left === 0 && isset($node['end'])) {
            yield $node['end'];
        }
        $last = $segments[$left - 1] ?? null;
        foreach ($left === 0 ? [] : [$last, is_int($last) ? Any::Element : Any::Key] as $segment) {
            $next = $node['to'][self::branch($segment)] ?? null;
            if ($next !== null) {
                yield from $this->below($next, $segments, $left - 1);
            }
        }
        $next = $node['to'][self::branch(Any::Depth)] ?? null;
        for ($further = $next === null ? -1 : $left; $further >= 0; $further -= 1) {
            yield from $this->below($next, $segments, $further);
        }
    }

    /** A key of an array: there the text "0" would be the number 0. */
    private static function branch(mixed $segment): string
    {
        return $segment instanceof Any ? $segment->name : (is_int($segment) ? "[$segment" : ".$segment");
    }
}
