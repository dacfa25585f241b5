<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\FilePieces;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\MessageHead;
use Ypomna\Core\Http\TooLarge;
use Ypomna\Core\Http\UnsupportedCoding;
use Ypomna\Core\Split;

/**
 * What signs a person in, overwritten in the files of a capture before they are written for good: in heads the values of Cookie,
 * Set-Cookie, Authorization and of fields that the person added, sign by sign, so that nothing else changes its place; and wherever
 * such a value stands otherwise, in heads, bodies and what the browser made of them, if it has eight bytes or more.
 */
final class Secrets
{
    /** Values shorter than this would be found by chance; they are overwritten in their own fields only. */
    public const LEAST = 8;
    private const FIELDS = ['cookie', 'cookie2', 'set-cookie', 'set-cookie2', 'authorization', 'proxy-authorization'];
    /** These tell how a message is read, and nobody's secret. */
    private const FRAMING = 'content-(?:length|type|encoding|range)|transfer-encoding|connection|host|date|last-modified|'
        .'accept(?:-encoding)?|upgrade|te|trailer';
    /** What a person may add and what signs nobody in. */
    private const HARMLESS = ['accept-language', 'user-agent', 'accept', 'accept-encoding', 'dnt', 'sec-gpc'];
    private const MOST = 500;
    private const LONGEST = 16_384;
    private const PIECE = 1_048_576;
    private const MOST_PLACES = 2_000;

    /** @var array<string, true> */
    private array $values = [];
    /** @var list<string>|null every way in which a value may stand in a text, the longest first; null: to be made */
    private ?array $needles = null;
    /** @var list<string> in lower case */
    private readonly array $names;

    /**
     * @param array<string, string> $fields that a person added, by name
     * @param list<Cookie> $cookies that a person gave
     */
    public function __construct(array $fields, array $cookies)
    {
        $secret = array_filter($fields, self::isSecretField(...), \ARRAY_FILTER_USE_KEY);
        $this->names = array_values(array_unique([...self::FIELDS, ...array_map(strtolower(...), array_keys($secret))]));
        foreach ($secret as $name => $value) {
            $this->learnField(strtolower($name), $value);
        }
        foreach ($cookies as $cookie) {
            $this->learn($cookie->value);
        }
    }

    /** Whether a field of that name may sign somebody in. */
    public static function isSecretField(string $name): bool
    {
        return !\in_array(strtolower($name), self::HARMLESS, true);
    }

    /**
     * Overwrites them in all exchanges: what any of them says is looked for in each.
     *
     * @param list<Exchange> $exchanges
     *
     * @return list<Overwritten> by exchange, request and answer
     */
    public function overwrite(array $exchanges): array
    {
        foreach ($exchanges as $exchange) {
            foreach ([$exchange->requestPath, $exchange->responsePath] as $path) {
                $this->learnHead($path);
            }
        }
        $done = [];
        foreach ($exchanges as $exchange) {
            foreach (['request' => $exchange->requestPath, 'response' => $exchange->responsePath] as $part => $path) {
                $one = is_file($path) ? $this->message($part, $exchange, $path) : null;
                if (null !== $one) {
                    $done[] = $one;
                }
            }
            if (null !== $exchange->messagesPath) {
                $done[] = $this->inMessages($exchange, $exchange->messagesPath);
            }
            $exchange->url = $this->clean($exchange->url);
        }

        return array_values(array_filter($done, static fn (?Overwritten $one): bool => null !== $one));
    }

    /**
     * Overwrites them in a file that is no message: what a browser made of a page.
     *
     * @param int $number of the exchange that it was made of
     */
    public function inFile(string $part, int $number, string $url, string $path): ?Overwritten
    {
        $digest = is_file($path) ? (string) hash_file('sha256', $path) : '';
        $places = '' === $digest ? [] : $this->inPlace($path, 0);

        return [] === $places
            ? null
            : new Overwritten($part, $number, $this->clean($url), \array_slice($places, 0, self::MOST_PLACES), $digest);
    }

    private function inMessages(Exchange $exchange, string $path): ?Overwritten
    {
        $received = is_file($path) ? (string) hash_file('sha256', $path) : '';
        if ('' === $received || [] === $this->needles()) {
            return null;
        }
        // Bytes stand in base64, in which a value begins at any of three places: they are looked through below it.
        $recoded = SocketLog::clean($path, $this->clean(...));
        $places = \array_slice($this->inPlace($path, 0), 0, self::MOST_PLACES);

        return [] === $places && !$recoded ? null
            : new Overwritten('socket', $exchange->number, $this->clean($exchange->url), $places, $received, $recoded);
    }

    /** The same text without them. */
    public function clean(string $text): string
    {
        foreach ($this->needles() as $needle) {
            $text = str_replace($needle, str_repeat('x', \strlen($needle)), $text);
        }

        return $text;
    }

    private function learn(string $value): void
    {
        $value = trim($value, " \t\"");
        if (\strlen($value) >= self::LEAST && \strlen($value) <= self::LONGEST && \count($this->values) < self::MOST) {
            $this->values[$value] = true;
            $this->needles = null;
        }
    }

    /** @param string $name in lower case */
    private function learnField(string $name, string $value): void
    {
        if (str_starts_with($name, 'set-cookie')) {
            $this->learn((string) preg_replace('/^[^=;]*=|;.*$/s', '', $value));
        } elseif (str_starts_with($name, 'cookie')) {
            foreach (explode(';', $value) as $pair) {
                $this->learn((string) preg_replace('/^[^=]*=/', '', $pair));
            }
        } elseif (1 === preg_match('/^([A-Za-z][A-Za-z0-9-]*)[ \t]+(\S.*)$/s', trim($value), $m)) {
            // A scheme and what belongs to it (RFC 9110, section 11.4); of the basic one both halves.
            $this->learn($m[2]);
            $plain = 'basic' === strtolower($m[1]) ? base64_decode($m[2], true) : false;
            if (false !== $plain) {
                $this->learn($plain);
                $this->learn(explode(':', $plain, 2)[1] ?? '');
            }
        } else {
            $this->learn($value);
        }
    }

    private function learnHead(string $path): void
    {
        foreach (self::heads($path) as [$head]) {
            preg_match_all($this->pattern(), $head, $lines, \PREG_SET_ORDER);
            foreach ($lines as $line) {
                $this->learnField(strtolower($line[1]), (string) preg_replace('/\r?\n[ \t]+/', ' ', $line[3]));
            }
        }
    }

    private function message(string $part, Exchange $exchange, string $path): ?Overwritten
    {
        $received = (string) hash_file('sha256', $path);
        $end = 0;
        $places = [];
        $clean = '';
        foreach (self::heads($path) as [$head, $at]) {
            [$head, $found] = $this->head($head);
            $clean .= $head;
            foreach ($found as [$from, $length]) {
                $places[] = [$at + $from, $length];
            }
            $end = $at + \strlen($head);
        }
        if ([] !== $places) {
            self::put($path, 0, $clean);
        }
        array_push($places, ...$this->inPlace($path, $end));
        [$recoded, $unchecked] = 'response' === $part ? $this->belowCodings($exchange, $path, $places) : [false, false];

        return [] === $places && !$recoded && !$unchecked
            ? null
            : new Overwritten(
                $part, $exchange->number, $this->clean($exchange->url), \array_slice($places, 0, self::MOST_PLACES), $received, $recoded,
                $unchecked,
            );
    }

    /**
     * @return array{string, list<array{int, int}>} the head, as long as before, and what was overwritten in it
     */
    private function head(string $head): array
    {
        $places = [];
        $clean = $head;
        preg_match_all($this->pattern(), $head, $fields, \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE);
        foreach ($fields as [, [$name], , [$value, $from]]) {
            $hidden = self::value(strtolower($name), $value);
            $clean = substr_replace($clean, $hidden, $from, \strlen($value));
            // From the first sign that is another one to the last.
            $first = strspn($value ^ $hidden, "\0");
            if ($first < \strlen($value)) {
                $places[] = [$from + $first, \strlen(rtrim($value ^ $hidden, "\0")) - $first];
            }
        }
        // Elsewhere in it: an address that it is sent on to, an echo.
        $line = 0;
        foreach (Split::by('/(?<=\n)/', $clean) as $text) {
            if (1 !== preg_match('/^(?:HTTP\/|(?:'.self::FRAMING.')[ \t]*:)/i', $text)) {
                foreach ($this->found($text) as [$at, $length]) {
                    $clean = substr_replace($clean, str_repeat('x', $length), $line + $at, $length);
                    $places[] = [$line + $at, $length];
                }
            }
            $line += \strlen($text);
        }

        return [$clean, self::inOrder($places)];
    }

    /** Names, schemes and attributes stay; they sign nobody in. */
    private static function value(string $field, string $text): string
    {
        $hide = static fn (string $secret): string => (string) preg_replace('/[^\s;]/', 'x', $secret);

        return (string) match (true) {
            str_starts_with($field, 'set-cookie') => preg_replace_callback(
                '/^([^=;]*=)?([^;]*)/', static fn (array $m): string => $m[1].$hide($m[2]), $text,
            ),
            str_starts_with($field, 'cookie') => preg_replace_callback(
                '/(^|;)([^=;]*=)?([^;]*)/', static fn (array $m): string => $m[1].$m[2].$hide($m[3]), $text,
            ),
            str_ends_with($field, 'authorization') => preg_replace_callback(
                '/^(\w+[ \t]+)?(.*)$/s', static fn (array $m): string => $m[1].$hide($m[2]), $text,
            ),
            default => preg_replace('/[^\s]/', 'x', $text),
        };
    }

    /**
     * @return list<array{int, int}>
     */
    private function inPlace(string $path, int $from): array
    {
        $needles = $this->needles();
        $handle = [] === $needles ? false : @fopen($path, 'r+');
        if (false === $handle) {
            return [];
        }
        try {
            $places = [];
            $longest = max(array_map(\strlen(...), $needles));
            $size = (int) (fstat($handle)['size'] ?? 0);
            for ($start = $from; $start < $size; $start += self::PIECE) {
                fseek($handle, $start);
                $bytes = (string) fread($handle, self::PIECE + $longest - 1);
                foreach ($this->found($bytes) as [$at, $length]) {
                    fseek($handle, $start + $at);
                    if (fwrite($handle, str_repeat('x', $length)) !== $length) {
                        throw new StorageFull('What signs a person in could not be overwritten.');
                    }
                    $places[] = [$start + $at, $length];
                }
            }

            return self::inOrder($places);
        } finally {
            fclose($handle);
        }
    }

    /**
     * @return list<array{int, int}> first byte and length of each value in these bytes
     */
    private function found(string $bytes): array
    {
        $places = [];
        foreach ($this->needles() as $needle) {
            $at = strpos($bytes, $needle);
            while (false !== $at) {
                $places[] = [$at, \strlen($needle)];
                $at = strpos($bytes, $needle, $at + \strlen($needle));
            }
        }

        return $places;
    }

    /**
     * @param list<array{int, int}> $places
     *
     * @return list<array{int, int}> each once
     */
    private static function inOrder(array $places): array
    {
        usort($places, static fn (array $a, array $b): int => $a <=> $b);

        return array_values(array_unique($places, \SORT_REGULAR));
    }

    /**
     * What stands in a body below a content-coding, or across the border of two chunks, is found only when these are taken off; a
     * body in which something is found is kept without them.
     *
     * @param list<array{int, int}> $places in the message; those of its body count anew when it was made anew
     *
     * @return array{bool, bool} whether that was so, and whether there is a coding that is not known
     */
    private function belowCodings(Exchange $exchange, string $path, array &$places): array
    {
        $message = Message::read(FilePieces::ofFile($path));
        $codings = $message->head?->fields->tokens('Content-Encoding') ?? [];
        if (null === $message->head || ([] === $codings && !$message->head->isChunked()) || [] === $this->needles()) {
            return [false, false];
        }
        $plain = $path.'.plain';
        $out = @fopen($plain, 'w');
        if (false === $out) {
            throw new StorageFull('What signs a person in could not be overwritten.');
        }
        try {
            foreach (Body::decode($message->body(), $codings) as $piece) {
                if (@fwrite($out, $piece) !== \strlen($piece)) {
                    throw new StorageFull('What signs a person in could not be overwritten.');
                }
            }
            fclose($out);
            $found = $this->inPlace($plain, 0);
            if ([] === $found) {
                return [false, false];
            }
            $bytes = (string) file_get_contents($path, false, null, 0, 2 * MessageHead::MAX_BYTES);
            $head = substr($bytes, 0, Message::headLength($bytes));
            $head = (string) preg_replace(
                '/^(?:transfer-encoding|content-encoding|content-length|trailer)[ \t]*:[^\r\n]*\r?\n/im', '', $head,
            );
            $head = substr($head, 0, -2).'Content-Length: '.(int) filesize($plain)."\r\n\r\n";
            $end = \strlen($head);
            self::anew($path, $head, $plain);
            $exchange->responseBytes = (int) filesize($path);
            $places = [
                ...array_filter($places, static fn (array $place): bool => $place[0] < $end),
                ...array_map(static fn (array $place): array => [$end + $place[0], $place[1]], $found),
            ];

            return [true, false];
        } catch (UnsupportedCoding|MalformedMessage|TooLarge) {
            return [false, true];
        } finally {
            if (\is_resource($out)) {
                fclose($out);
            }
            @unlink($plain);
        }
    }

    private static function anew(string $path, string $head, string $body): void
    {
        $out = @fopen($path, 'w');
        $in = @fopen($body, 'r');
        if (false === $out || false === $in || fwrite($out, $head) !== \strlen($head) || false === stream_copy_to_stream($in, $out)
            || !fflush($out)) {
            throw new StorageFull('What signs a person in could not be overwritten.');
        }
        fclose($out);
        fclose($in);
    }

    private static function put(string $path, int $at, string $bytes): void
    {
        $handle = @fopen($path, 'r+');
        if (false === $handle || 0 !== fseek($handle, $at) || fwrite($handle, $bytes) !== \strlen($bytes)) {
            throw new StorageFull('What signs a person in could not be overwritten.');
        }
        fclose($handle);
    }

    /**
     * @return list<string>
     */
    private function needles(): array
    {
        if (null !== $this->needles) {
            return $this->needles;
        }
        $needles = [];
        foreach (array_map(strval(...), array_keys($this->values)) as $value) {
            foreach ([
                $value,
                rawurlencode($value),
                urlencode($value),
                htmlspecialchars($value, \ENT_QUOTES | \ENT_SUBSTITUTE),
                substr((string) json_encode($value, \JSON_INVALID_UTF8_SUBSTITUTE), 1, -1),
                rawurldecode($value),
            ] as $way) {
                if (\strlen($way) >= self::LEAST && '' !== trim($way, 'x')) {
                    $needles[$way] = true;
                }
            }
        }
        $needles = array_map(strval(...), array_keys($needles));
        usort($needles, static fn (string $a, string $b): int => \strlen($b) <=> \strlen($a));

        return $this->needles = $needles;
    }

    private function pattern(): string
    {
        return '/^('.implode('|', array_map(static fn (string $name): string => preg_quote($name, '/'), $this->names))
            .')([ \t]*:[ \t]*)([^\r\n]*(?:\r?\n[ \t][^\r\n]*)*)/im';
    }

    /**
     * The heads of a message, interim ones too.
     *
     * @return list<array{string, int}> each with its first byte
     */
    private static function heads(string $path): array
    {
        $bytes = (string) @file_get_contents($path, false, null, 0, 2 * MessageHead::MAX_BYTES);
        $heads = [];
        $at = 0;
        do {
            $end = MessageHead::end(substr($bytes, $at));
            if (null === $end) {
                break;
            }
            $heads[] = [substr($bytes, $at, $end), $at];
            $at += $end;
        } while (1 === preg_match('#^HTTP/\d\.\d 1(?!01)\d\d#', $heads[\count($heads) - 1][0]));

        return $heads;
    }
}
