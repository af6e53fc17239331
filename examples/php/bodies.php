<?php

declare(strict_types=1);

/* Error bodies as RFC 9457 has them, from the sentences of a pack. */

require_once __DIR__ . '/sentences.php';

/** A JSON Pointer as a URI fragment (RFC 6901 section 6). */
function pointer_of(array $segments): string
{
    $kept = ['%21' => '!', '%27' => "'", '%28' => '(', '%29' => ')', '%2A' => '*', '%40' => '@', '%3A' => ':'];
    $kept += ['%24' => '$', '%26' => '&', '%2B' => '+', '%2C' => ',', '%3B' => ';', '%3D' => '='];
    $pointer = '#';
    foreach ($segments as $segment) {
        $pointer .= '/' . strtr(rawurlencode(strtr((string) $segment, ['~' => '~0', '/' => '~1'])), $kept);
    }
    return $pointer;
}

/** What is answered to anything but broken rules. */
function problem_body(Sentences $sentences, string $name, array $params = []): array
{
    [$title, $detail] = $sentences->problem($name, $params);
    $about = $sentences->pack['problems'][$name];
    $body = ['type' => $about['type'], 'title' => $title, 'status' => $about['status']];
    return $detail === '' ? $body : $body + ['detail' => $detail];
}

/** The answer to a request that broke rules; the violations come in the order of the document. */
function fields_body(Sentences $sentences, string $form, array $violations): array
{
    $fields = array_unique(array_map(fn (array $one) => ($one['in'] ?? 'body') . ' ' . $one['path'], $violations));
    $body = problem_body($sentences, 'invalid-fields', ['count' => count($violations), 'fields' => count($fields)]);
    return $body + ['errors' => array_map(fn (array $one) => error($sentences, $form, $one), $violations)];
}

function error(Sentences $sentences, string $form, array $violation): array
{
    [$part, $segments] = [$violation['in'] ?? 'body', read_path($violation['path'])];
    $name = $violation['params']['name'] ?? null;
    if ($name !== null && in_array($violation['rule'], ['additionalProperties', 'unevaluatedProperties', 'propertyNames'], true)) {
        $segments[] = $name;
    }
    $where = ['body' => 'pointer', 'header' => 'header'][$part] ?? 'parameter';
    $at = $part === 'body' ? pointer_of($segments) : print_path($segments);
    return [$where => $at, 'code' => $violation['as'] ?? $violation['rule'], 'detail' => $sentences->say($form, $violation)[0]];
}
