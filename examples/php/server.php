<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/*
 * A small backend that answers with the bodies of the packs: PACKS=FOLDER php -S 127.0.0.1:8080 server.php
 * It takes visitor passes at POST /passes and checks them by itself, as backends do.
 */

require_once __DIR__ . '/bodies.php';
require_once __DIR__ . '/languages.php';

const LARGEST = 64 * 1024;

function is_date(string $text): bool
{
    return preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $text, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]);
}

/** All that is wrong with a visitor pass, in the order of its fields. */
function violations_of(mixed $visit): iterable
{
    if (!$visit instanceof stdClass) {
        yield ['path' => '', 'rule' => 'type', 'params' => ['expected' => 'object']];
        return;
    }
    $forms = ['visitor' => null, 'email' => fn (string $text) => preg_match('/^[^\s@]+@[^\s@]+\.[^\s@]+$/D', $text) === 1];
    foreach ($forms + ['day' => is_date(...)] as $name => $form) {
        $value = $visit->$name ?? null;
        if ($value === null || (is_string($value) && trim($value) === '')) {
            yield ['path' => $name, 'rule' => 'required'];
        } elseif (!is_string($value)) {
            yield ['path' => $name, 'rule' => $name === 'day' ? 'format' : 'type', 'value' => $value];
        } elseif ($form !== null && !$form($value)) {
            yield ['path' => $name, 'rule' => 'format', 'value' => $value];
        }
    }
    $guests = $visit->guests ?? 0;
    if (!is_int($guests)) {
        yield ['path' => 'guests', 'rule' => 'type', 'value' => $guests];
    } elseif ($guests < 0 || $guests > 5) {
        yield ['path' => 'guests', 'rule' => $guests < 0 ? 'minimum' : 'maximum', 'value' => $guests];
    }
}

/** What is answered to the request: what is refused, or what was accepted. */
function answer(Sentences $sentences): array
{
    if (parse_url($_SERVER['REQUEST_URI'], PHP_URL_PATH) !== '/passes') {
        return problem_answer($sentences, 'not-found');
    }
    if ($_SERVER['REQUEST_METHOD'] !== 'POST') {
        header('Allow: POST');
        return problem_answer($sentences, 'wrong-method');
    }
    $content = file_get_contents('php://input', length: LARGEST + 1);
    if ($content === '' || strlen($content) > LARGEST) {
        return problem_answer($sentences, $content === '' ? 'empty-body' : 'too-large');
    }
    if (trim(explode(';', $_SERVER['HTTP_CONTENT_TYPE'] ?? '')[0]) !== 'application/json') {
        header('Accept: application/json');
        return problem_answer($sentences, 'wrong-media-type');
    }
    try {
        $visit = json_decode($content, flags: JSON_THROW_ON_ERROR);
    } catch (JsonException) {
        return problem_answer($sentences, 'malformed-body');
    }
    $found = iterator_to_array(violations_of($visit), false);
    return $found === [] ? ['status' => 201, 'pass' => $visit->visitor] : fields_answer($sentences, 'visitor-pass', $found);
}

ini_set('display_errors', '0');
$read = fn (string $file): array => json_decode(file_get_contents($file), true, flags: JSON_THROW_ON_ERROR);
$any = $read(glob(getenv('PACKS') . '/*.sentences.json')[0]);
$locale = preferred($_SERVER['HTTP_ACCEPT_LANGUAGE'] ?? '', $any['settings']);
$sentences = new Sentences($read(getenv('PACKS') . "/$locale.sentences.json"));
try {
    $answer = answer($sentences);
} catch (Throwable $error) { // whatever it is, a client is told nothing of it
    error_log((string) $error);
    $answer = problem_answer($sentences, 'unexpected');
}
http_response_code($answer['status']);
[$media, $text] = ['application/json', ''];
if (isset($answer['problem'])) {
    [$media, $text] = body($sentences, $answer);
    header("Content-Language: $locale");
    header('Vary: Accept-Language');
} else {
    unset($answer['status']);
    $text = as_json($answer);
}
header("Content-Type: $media");
echo $text;
