<?php
// SPDX-License-Identifier: MIT

declare(strict_types=1);

/* Error bodies in every shape of a pack, from its sentences and templates (section 6 of packs.md). */

require_once __DIR__ . '/sentences.php';

const LACKING = ['required', 'dependentRequired'];
const OF_MEMBERS = ['additionalProperties', 'unevaluatedProperties', 'propertyNames'];
/** Statuses of problems that come alone, whatever else is broken. */
const ALONE = [401, 403, 404, 405, 410];
const SLOT = '/<([a-z][a-z-]*)(?:\("([^"]*)"\))?>/';

/** A JSON Pointer (RFC 6901). */
function plain_pointer(array $segments): string
{
    return implode('', array_map(fn (mixed $one) => '/' . strtr((string) $one, ['~' => '~0', '/' => '~1']), $segments));
}

/** A JSON Pointer as a URI fragment (RFC 6901 section 6). */
function pointer_of(array $segments): string
{
    $kept = ['%21' => '!', '%27' => "'", '%28' => '(', '%29' => ')', '%2A' => '*', '%40' => '@', '%3A' => ':', '%2F' => '/'];
    $kept += ['%24' => '$', '%26' => '&', '%2B' => '+', '%2C' => ',', '%3B' => ';', '%3D' => '='];
    return '#' . strtr(rawurlencode(plain_pointer($segments)), $kept);
}

/** What is to be said of a problem, before it takes a shape. */
function problem_answer(Sentences $sentences, string $name, array $params = [], array $extensions = []): array
{
    [$title, $detail] = $sentences->problem($name, $params);
    return answered($sentences, $name, $title, $detail, $extensions);
}

function answered(Sentences $sentences, string $name, string $title, string $detail, array $extensions = []): array
{
    $about = $sentences->pack['problems'][$name];
    $head = ['problem' => $name, 'type' => $about['type'], 'status' => $about['status'], 'title' => $title, 'detail' => $detail];
    $locale = ['locale' => $sentences->pack['locale'], 'direction' => $sentences->pack['direction']];
    return $head + $locale + ['extensions' => (object) $extensions, 'more' => 0, 'sentences' => []];
}

/** What is to be said to a request that broke rules; the violations come in the order of the document. */
function fields_answer(Sentences $sentences, string $form, array $violations): array
{
    $settings = $sentences->pack['settings'];
    $whole = whole_problem($sentences, $form, $violations);
    if ($whole !== null) {
        return $whole;
    }
    $all = array_map(fn (array $one) => sentence_of($sentences, $form, $one), $violations);
    $firsts = [];
    foreach ($all as $one) {
        $firsts["{$one['in']} {$one['place']}"] ??= $one;
    }
    $kept = $settings['perField'] === 'first' ? array_values($firsts) : $all;
    $alone = $settings['detail'] === 'first';
    $told = array_slice($kept, 0, $alone ? 1 : $settings['maxViolations']);
    $more = $alone ? 0 : count($kept) - count($told);
    $counts = $alone ? ['count' => 1, 'fields' => 1] : ['count' => count($told) + $more, 'fields' => count($firsts)];
    $answer = problem_answer($sentences, 'invalid-fields', $counts);
    if ($settings['detail'] !== 'own') {
        $answer['detail'] = implode($settings['separator'], array_column($told, 'text'));
    }
    return ['sentences' => $told, 'more' => $more] + $answer;
}

/** The problem that a broken rule is, where that is the answer: alone, or where all that is broken is one. */
function whole_problem(Sentences $sentences, string $form, array $violations): ?array
{
    $found = $urgent = [];
    foreach ($violations as $violation) {
        $entry = $sentences->becomes($form, $violation);
        if ($entry !== null) {
            $found[] = [$violation, $entry];
            if (in_array($sentences->pack['problems'][$entry['problem']]['status'], ALONE, true)) {
                $urgent[] = [$violation, $entry];
            }
        }
    }
    $pick = $urgent[0] ?? (count($found) === count($violations) ? $found[0] ?? null : null);
    return $pick === null ? null : answered($sentences, $pick[1]['problem'], ...$sentences->problem_of($form, ...$pick));
}

function sentence_of(Sentences $sentences, string $form, array $violation): array
{
    [$part, $rule, $params] = [$violation['in'] ?? 'body', $violation['rule'], $violation['params'] ?? []];
    [$text, $inline] = $sentences->say($form, $violation);
    [$segments, $is_secret] = $sentences->shown_path($form, $violation);
    if (in_array($rule, OF_MEMBERS, true) && is_string($params['name'] ?? null)) {
        $segments[] = $is_secret ? MASK : $params['name'];
    }
    $members = in_array($rule, ['atLeastOne', 'exactlyOne'], true) ? $params['members'] ?? null : null;
    return [
        'path' => $segments,
        'in' => $part,
        'place' => $part === 'body' ? pointer_of($segments) : implode('.', $segments),
        'code' => $violation['as'] ?? $rule,
        'text' => $text,
        'inline' => $sentences->pack['settings']['inline'] ? $inline : null,
        'lacks' => in_array($rule, LACKING, true),
        'members' => $members === null ? null : array_map(fn (string $one) => [...$segments, ...read_path($one)], $members),
    ];
}

/** The body of an answer in a shape, that of the settings where none is named: its media type and its text. */
function body(Sentences $sentences, array $answer, ?string $shape = null): array
{
    $settings = $sentences->pack['settings'];
    $found = $settings['shapes'][$shape ?? $settings['shape']];
    return [$found['mediaType'], (new Template($found, $settings['prefix']))->write($answer)];
}

function shown(mixed $value): string
{
    return $value === null ? '' : (is_string($value) ? $value : as_json($value));
}

/** RFC 9457 appendix B: members are elements, the entries of a list are `i`. */
function xml(string $name, mixed $value): string
{
    if ($value === null) {
        return '';
    }
    $inside = '';
    if (is_array($value) || is_object($value)) {
        foreach ($value as $key => $one) {
            $called = preg_match('/^[A-Za-z_][A-Za-z0-9_.-]*$/D', (string) $key) === 1 ? (string) $key : 'member';
            $inside .= xml(is_array($value) ? 'i' : $called, $one);
        }
    } else {
        $text = strtr(shown($value), ['&' => '&amp;', '<' => '&lt;', '>' => '&gt;', '"' => '&quot;']);
        $inside = preg_replace('/[\x{0}-\x{8}\x{B}\x{C}\x{E}-\x{1F}\x{FFFE}\x{FFFF}]/u', '', $text);
    }
    return "<$name>$inside</$name>";
}

/** A shape: what fills the slots of its template with an answer (bodies.md). What is left out is null. */
final class Template
{
    private readonly bool $isXml;
    private readonly bool $isMarkup;
    private array $answer = [];

    public function __construct(private readonly array $shape, private readonly string $prefix)
    {
        $this->isXml = $shape['mediaType'] === 'application/problem+xml';
        $this->isMarkup = !$this->isXml && preg_match('/html|xml/', $shape['mediaType']) === 1;
    }

    /** The body's text. */
    public function write(array $answer): string
    {
        $this->answer = $answer;
        $value = $this->fill($this->shape['body'], null);
        if ($this->isXml) {
            $members = '';
            foreach ($value as $name => $member) {
                $members .= xml((string) $name, $member);
            }
            $root = "<problem xmlns=\"urn:ietf:rfc:7807\" xml:lang=\"{$answer['locale']}\">";
            return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n$root$members</problem>";
        }
        return is_string($value) && !str_contains($this->shape['mediaType'], 'json') ? $value : as_json($value);
    }

    /** Whether a value is none of nothing, false, 0, an empty text or list; "0" is a text. */
    private static function is_full(mixed $value): bool
    {
        return !in_array($value, [null, false, 0, '', []], true);
    }

    /** @param $at the violations of the repetition: one, or a field's under `group` */
    private function fill(mixed $node, ?array $at): mixed
    {
        if (is_string($node)) {
            return $this->text($node, $at);
        }
        if (!is_array($node) || array_is_list($node)) {
            return is_array($node) ? array_map(fn (mixed $one) => $this->fill($one, $at), $node) : $node;
        }
        if (isset($node['each'])) {
            return $this->each($node);
        }
        if (isset($node['when']) && array_key_exists('node', $node)) {
            return $this->fill($node[self::is_full($this->slot($node['when'], $at)) ? 'node' : 'otherwise'] ?? null, $at);
        }
        if (is_array($node['join'] ?? null) && array_diff(array_keys($node), ['join', 'with']) === []) {
            return $this->join($node, $at);
        }
        if (array_keys($node) === ['unless-empty']) {
            $made = $this->fill($node['unless-empty'], $at);
            return (array) $made === [] ? null : $made;
        }
        $made = [];
        foreach ($node as $key => $one) {
            $value = $this->fill($one, $at);
            if ($key === '...') {
                $made = array_replace($made, (array) $value);
            } elseif ($value !== null || $one === null) {
                $made[$key] = $value;
            }
        }
        return (object) $made;
    }

    private function each(array $node): mixed
    {
        $each = $node['each'];
        $entries = $each === 'violation' ? $this->answer['sentences'] : array_map(fn (array $one) => ['group' => $one], $this->groups());
        if ($each === 'body-field' || $each === 'other-field') {
            $entries = array_filter($entries, fn (array $one) => ($one['group'][0]['in'] === 'body') === ($each === 'body-field'));
        }
        $made = [];
        foreach ($entries as $one) {
            $value = $this->fill($node['node'], $one);
            if (!isset($node['key'])) {
                $made[] = $value;
            } elseif ($value !== null) {
                $made[shown($this->text($node['key'], $one))] = $value;
            }
        }
        return isset($node['key']) ? (object) $made : $made;
    }

    private function join(array $node, ?array $at): mixed
    {
        $parts = [];
        foreach ($node['join'] as $one) {
            $value = $this->fill($one, $at);
            array_push($parts, ...(is_array($value) ? $value : [$value]));
        }
        $parts = array_values(array_filter($parts, fn (mixed $one) => $one !== null && $one !== ''));
        return isset($node['with']) ? implode($node['with'], array_map(shown(...), $parts)) : $parts;
    }

    private function text(string $text, ?array $at): mixed
    {
        if (preg_match('/^' . substr(SLOT, 1, -1) . '$/D', $text, $found) === 1 && !isset($found[2]) && $this->knows($found[1])) {
            $value = $this->slot($found[1], $at);
            $list = is_array($value) ? array_map(fn (mixed $one) => is_string($one) ? $this->escape($one) : $one, $value) : null;
            return $list ?? (is_string($value) ? $this->escape($value) : $value);
        }
        return preg_replace_callback(SLOT, function (array $found) use ($at): string {
            if (!$this->knows($found[1])) {
                return $found[0];
            }
            $value = $this->slot($found[1], $at);
            return isset($found[2]) && is_array($value)
                ? implode($found[2], array_map(fn (mixed $one) => $this->escape(shown($one)), $value))
                : $this->escape(shown($value));
        }, $text);
    }

    private function escape(string $text): string
    {
        return $this->isMarkup ? strtr($text, ['&' => '&amp;', '<' => '&lt;', '>' => '&gt;', '"' => '&quot;', "'" => '&#39;']) : $text;
    }

    private function groups(): array
    {
        $groups = [];
        foreach ($this->answer['sentences'] as $one) {
            $groups["{$one['in']} " . print_path($one['path'])][] = $one;
        }
        return array_values($groups);
    }

    private function knows(string $name): bool
    {
        return preg_match('/^(?:title|status|type|problem|instance|locale|direction|time|address|more|extensions|request-id|trace-id|details|detail|uri|count|fields|texts?|broken|field|path|pointer|place|fragment|header|parameter|in|part|code|inlines?|beside|members|member-(?:fragments|fields|paths|pointers)|nearest|missing|developer|codes)$/D', $name) === 1;
    }

    private function slot(string $name, ?array $at): mixed
    {
        $own = $at === null ? null : (isset($at['group']) ? $this->of_field($name, $at['group']) : $this->of_violation($name, $at));
        return $own ?? $this->of_answer($name);
    }

    private function of_answer(string $name): mixed
    {
        $answer = $this->answer;
        return match ($name) {
            'detail' => $answer['detail'] === '' ? null : $answer['detail'],
            'uri' => $answer['type'] === 'about:blank' ? null : $answer['type'],
            'count' => count($answer['sentences']) + $answer['more'],
            'fields' => array_map(fn (array $one) => print_path($one[0]['path']), $this->groups()),
            'texts' => array_column($answer['sentences'], 'text'),
            'broken' => $answer['problem'] === 'invalid-fields' ? true : null,
            default => $name === 'sentences' ? null : $answer[$name] ?? null,
        };
    }

    private function of_field(string $name, array $group): mixed
    {
        return match ($name) {
            'texts' => array_column($group, 'text'),
            'text' => implode(' ', array_column($group, 'text')),
            'inlines' => array_map(fn (array $one) => $one['inline'] ?? $one['text'], $group),
            'beside' => array_values(array_filter(array_column($group, 'inline'), fn (?string $one) => $one !== null))[0] ?? null,
            'codes' => array_column($group, 'code'),
            'field', 'pointer', 'in' => $this->of_violation($name, $group[0]),
            default => null,
        };
    }

    private function of_violation(string $name, array $one): mixed
    {
        $body = $one['in'] === 'body';
        $members = fn (callable $write) => $one['members'] === null ? null : array_map($write, $one['members']);
        return match ($name) {
            'field' => print_path($one['path']),
            'pointer' => $body ? plain_pointer($one['path']) : $one['place'],
            'fragment' => $body ? $one['place'] : null,
            'header' => $one['in'] === 'header' ? $one['place'] : null,
            'parameter' => $body || $one['in'] === 'header' ? null : $one['place'],
            'part' => $body ? null : $one['in'],
            'inline' => $one['inline'] ?? $one['text'],
            'beside' => $one['inline'],
            'members' => $members(plain_pointer(...)),
            'member-fragments' => $members(pointer_of(...)),
            'member-fields' => $members(print_path(...)),
            'member-paths' => $one['members'],
            'member-pointers' => $members(fn (array $path) => $this->prefix . plain_pointer($path)),
            'nearest' => $body ? $this->prefix . plain_pointer($this->present($one)) : null,
            'missing' => $body && $one['lacks'] && $one['path'] !== [] ? $this->prefix . plain_pointer($one['path']) : null,
            'path', 'place', 'in', 'code', 'text' => $one[$name],
            default => null,
        };
    }

    /** The nearest place around a path that is in the request: what is missing is not. */
    private function present(array $one): array
    {
        $missing = array_filter($this->answer['sentences'], fn (array $other) => $other['lacks'] && $other['in'] === 'body');
        $lacking = array_map(fn (array $other) => plain_pointer($other['path']), $missing);
        $path = $one['path'];
        while ($one['lacks'] && $path !== [] && in_array(plain_pointer($path), $lacking, true)) {
            array_pop($path);
        }
        return $path;
    }
}
