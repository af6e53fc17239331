<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/* The digits of numbers, and the plural categories that UTS 35 part 3 section 5 finds by them (docs/reference/packs.md section 3). */

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

/** A number as ECMAScript writes it: with an exponent from 1e21 and below 1e-6. */
function written_number(int|float $value): string
{
    $minus = $value < 0 ? '-' : '';
    if ($value == 0 || (abs($value) >= 1e-6 && abs($value) < 1e21)) {
        return $minus . digits_of($value);
    }
    preg_match('/^(\d)(?:\.(\d+))?e([+-]\d+)$/i', json_encode(abs($value)), $parts);
    $rest = rtrim($parts[2] ?? '', '0');
    return $minus . $parts[1] . ($rest === '' ? '' : ".$rest") . 'e' . $parts[3];
}

/** The number that a value is, or that a text writes; else null. */
function numeric(mixed $value): int|float|null
{
    if (is_string($value) && preg_match('/^-?\d+(\.\d+)?(e[-+]?\d+)?$/iD', $value) === 1) {
        return 0 + $value;
    }
    return is_int($value) || is_float($value) ? $value : null;
}

/** A number with three decimals at the most, half to even. */
function rounded(int|float $value): int|float
{
    [, $decimals] = explode('.', digits_of($value)) + [1 => ''];
    return strlen($decimals) > 3 ? round($value, 3, PHP_ROUND_HALF_EVEN) : $value;
}

/** What stands in the cases of a plural for its number. */
function with_decimals(mixed $value): mixed
{
    $number = numeric($value);
    return $number === null ? $value : rounded($number);
}

/** The plural category by the conditions of the pack (UTS 35 part 3 section 5). */
function category(int|float $value, array $plurals): string
{
    [$whole, $rest] = explode('.', digits_of($value)) + [1 => ''];
    $size = strlen($rest);
    $known = ['n' => abs($value), 'i' => (int) $whole, 'v' => $size, 'w' => $size, 'f' => (int) $rest, 't' => (int) $rest];
    foreach ($plurals as $category => $condition) {
        foreach (explode(' or ', $condition) as $either) {
            $failed = array_filter(explode(' and ', $either), fn (string $one) => !holds($one, $known + ['c' => 0, 'e' => 0]));
            if ($failed === []) {
                return $category;
            }
        }
    }
    return 'other';
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
