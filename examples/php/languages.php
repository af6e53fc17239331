<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/* The language that a client likes best (docs/reference/packs.md section 7). */

/** Longer headers are no preference of anyone. */
const LONGEST_HEADER = 1024;

/** One of the languages of a pack's settings. */
function preferred(string $header, array $settings): string
{
    $locales = array_values(array_unique([$settings['original'], ...$settings['locales']]));
    $parents = array_map(strtolower(...), array_change_key_case($settings['parents'] ?? []));
    $offered = array_combine(array_map(strtolower(...), $locales), $locales);
    $ranges = [];
    foreach (explode(',', strtolower(substr($header, 0, LONGEST_HEADER))) as $part) {
        $range = '/^\s*(\*|[a-z0-9]+(?:-[a-z0-9*]+)*)\s*(?:;\s*q=(0(?:\.\d{0,3})?|1(?:\.0{0,3})?)\s*)?$/D';
        if (preg_match($range, $part, $found) === 1) {
            $ranges[] = [$found[1], (float) ($found[2] ?? 1)];
        }
    }
    usort($ranges, fn (array $one, array $other) => $other[1] <=> $one[1]);
    $wanted = array_column(array_filter($ranges, fn (array $one) => $one[1] > 0), 0);
    $refused = array_column(array_filter($ranges, fn (array $one) => $one[1] == 0), 0);
    $covering = fn (array $tags, string $locale) => array_map(
        strlen(...),
        array_filter($tags, fn (string $tag) => str_starts_with(strtolower("$locale-"), "$tag-")),
    );
    $free = fn (string $locale) => max(0, 0, ...$covering($refused, $locale)) === 0
        || max(0, 0, ...$covering($wanted, $locale)) > max(0, 0, ...$covering($refused, $locale));
    foreach ($wanted as $tag) {
        $chain = wider($tag, $parents);
        $candidates = array_filter(array_map(fn (string $one) => $offered[$one] ?? null, $chain));
        if ($tag === '*') {
            $candidates = $locales;
        } elseif ($candidates === []) {
            $candidates = array_filter($locales, fn (string $one) => in_array(end($chain), wider(strtolower($one), $parents), true));
        }
        foreach (array_filter($candidates, $free) as $locale) {
            return $locale;
        }
    }
    return array_values(array_filter($locales, $free))[0] ?? $locales[0];
}

/** A tag, and those that stand in for it (section 7), in small letters. */
function wider(string $tag, array $parents): array
{
    $all = [];
    for ($one = $tag; $one !== '' && $one !== 'und'; ) {
        $all[] = $one;
        // A subtag of one letter goes with the one behind it.
        $one = $parents[$one] ?? (str_contains($one, '-') ? preg_replace('/(-.)*(-[^-]*)?$/D', '', $one, 1) : '');
    }
    return $all;
}
