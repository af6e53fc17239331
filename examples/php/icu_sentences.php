<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/*
 * Says violations in words from a pack of ICU messages (`zeitwort pack --sentences --format icu`), with the extension intl.
 * Written from docs/reference/packs.md section 9. All but the messages themselves is as in plain sentences.
 */

require_once __DIR__ . '/sentences.php';

/** The sentences of one language, whose cases and styles ICU takes. */
final class IcuSentences extends Sentences
{
    private array $messages = [];

    protected function fill(string|array $sentence, array $told): string
    {
        preg_match_all('/\{\s*(\w+)\s*[,}]/u', $sentence, $asked);
        preg_match_all('/\{\s*(\w+_raw)\s*,\s*(?:date|time)\b/u', $sentence, $dated);
        preg_match_all('/\{\s*(\w+_raw)\s*,\s*select\b/u', $sentence, $selected);
        $this->check($sentence, $told);
        $names = array_values(array_unique($asked[1]));
        $values = [];
        foreach ($names as $at => $name) {
            $raw = str_ends_with($name, '_raw') ? $told[substr($name, 0, -4)] ?? '' : null;
            // What chooses a case of a select is a text.
            $raw = $raw === null || (numeric($raw) !== null && !in_array($name, $selected[1], true)) ? $raw : $this->shown($raw);
            $isDate = is_string($raw) && in_array($name, $dated[1], true);
            // A token stands for each text, so that ICU neither reads nor changes it; the text comes when the rest is said.
            $values[$name] = $isDate ? $this->moment($raw) : $raw ?? "\u{E000}$at\u{E001}";
        }
        $message = $this->messages[$sentence] ??= new MessageFormatter($this->pack['icu'], $sentence);
        $said = $message->format($values);
        preg_match_all('/\{\s*(\w+)_raw\s*,\s*(?:plural|selectordinal)\b/u', $sentence, $counted);
        foreach ($counted[1] as $name) {
            $told[$name] = with_decimals($told[$name] ?? null);
        }
        preg_match_all('/\x{E000}(\d+)\x{E001}/u', $said, $found, PREG_SET_ORDER | PREG_OFFSET_CAPTURE);
        [$text, $end] = ['', 0];
        foreach ($found as [[$whole, $at], [$nth]]) {
            $text .= substr($said, $end, $at - $end) . $this->written($names[(int) $nth], $told, substr($said, 0, $at));
            $end = $at + strlen($whole);
        }
        return $text . substr($said, $end);
    }

    /** Whatever is inside of a case may not be said; a select without a value takes "other". */
    private function check(string $sentence, array $told): void
    {
        preg_match_all('/\{\s*(\w+)_raw\s*,\s*(?!select\b)/u', $sentence, $found, PREG_SET_ORDER | PREG_OFFSET_CAPTURE);
        foreach ($found as [[, $at], [$name]]) {
            $before = substr($sentence, 0, $at);
            if (!isset($told[$name]) && substr_count($before, '{') === substr_count($before, '}')) {
                throw new Missing($name);
            }
        }
    }

    /** What the clock shows in the pack's zone as an instant of the machine's, in which ICU writes. */
    private function moment(string $text): DateTimeImmutable
    {
        if (!str_contains($text, 'T')) {
            return new DateTimeImmutable($text);
        }
        $shown = (new DateTimeImmutable($text))->setTimezone(new DateTimeZone($this->pack['zone']));
        return new DateTimeImmutable($shown->format('Y-m-d\TH:i:s.v'));
    }
}
