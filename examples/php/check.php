<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/* Holds a reader against the vectors: php check.php FOLDER [--icu], where `zeitwort pack --sentences` and `--test-vectors` wrote. */

require_once __DIR__ . '/bodies.php';
require_once __DIR__ . '/languages.php';

$folder = $argv[1];
$icu = in_array('--icu', $argv, true);
if ($icu) {
    require_once __DIR__ . '/icu_sentences.php';
}
$read = fn (string $file): array => json_decode(file_get_contents("$folder/$file"), true, flags: JSON_THROW_ON_ERROR);
$alike = 0;
$differences = [];
$compare = function (string $about, mixed $found, mixed $wanted) use (&$alike, &$differences): void {
    if ($found === $wanted) {
        $alike += 1;
    } else {
        $differences[] = "$about:\n  " . as_json($found) . "\n  " . as_json($wanted);
    }
};
// Of what a client sent, `{}` and `[]` are told apart.
$as_sent = function (mixed $one) use (&$as_sent): mixed {
    if (!is_array($one) && !$one instanceof stdClass) {
        return $one;
    }
    $made = [];
    foreach ((array) $one as $name => $member) {
        $made[$name] = $name === 'value' ? $member : $as_sent($member);
    }
    return $made;
};
$vectors = $as_sent(json_decode(file_get_contents("$folder/vectors.json"), flags: JSON_THROW_ON_ERROR));
foreach ($vectors['locales'] as $locale => $groups) {
    // What plain packs leave out is said with an ICU alone.
    $wanted = array_map(fn (array $all) => array_filter($all, fn (array $one) => $icu || !isset($one['icu'])), $groups);
    $sentences = $icu ? new IcuSentences($read("$locale.icu.json")) : new Sentences($read("$locale.sentences.json"));
    foreach ($wanted['sentences'] as $one) {
        [$text, $inline] = $sentences->say($one['form'], $one['violation']);
        $about = "$locale {$one['form']} {$one['violation']['path']} {$one['violation']['rule']}";
        $compare($about, $text, $one['sentence']);
        $compare("$about inline", $inline, $one['inline'] ?? null);
    }
    foreach ($wanted['problems'] as $one) {
        $answer = problem_answer($sentences, $one['problem'], $one['params']);
        $compare("$locale {$one['problem']}", [$answer['title'], $answer['detail']], [$one['title'], $one['detail']]);
        foreach ($one['bodies'] as $shape => $text) {
            $compare("$locale {$one['problem']} as $shape", body($sentences, $answer, $shape)[1], $text);
        }
    }
    foreach ($wanted['bodies'] as $one) {
        $answer = fields_answer($sentences, $one['form'], $one['violations']);
        $compare("$locale {$one['form']} status", $answer['status'], $one['status']);
        foreach ($one['bodies'] + ($one['own'] ?? []) as $shape => $text) {
            $compare("$locale {$one['form']} as $shape", body($sentences, $answer, $shape)[1], $text);
        }
    }
}
foreach ($vectors['languages'] as ['header' => $header, 'language' => $language]) {
    $compare("Accept-Language: $header", preferred($header, $sentences->pack['settings']), $language);
}
if ($differences !== []) {
    fwrite(STDERR, implode("\n", array_slice($differences, 0, 10)) . "\n");
}
echo "$alike alike, ", count($differences), " different\n";
exit($differences === [] ? 0 : 1);
