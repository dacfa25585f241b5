<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Http\Encoding\Decoder;
use Ypomna\Core\Http\Encoding\Labels;
use Ypomna\Core\Http\Fields;

/**
 * The header of a MIME entity: RFC 2045, parameters with their continuations and charsets by RFC 2231, encoded words by
 * RFC 2047.
 */
final readonly class Headers
{
    /** Media type in lower case; `text/plain` if there is none that can be read (RFC 2045 section 5.2). */
    public string $mime;
    /** Content-Transfer-Encoding in lower case, `7bit` if absent (section 6.1). */
    public string $encoding;
    /** @var array<string, string> of Content-Type, names in lower case */
    private array $parameters;

    /**
     * @param Fields|null $unfolded the same, but of a folded value the lines stand one behind the other without a blank; null if there are
     *     none
     */
    public function __construct(public Fields $fields, private ?Fields $unfolded = null)
    {
        $type = $fields->get('Content-Type') ?? '';
        [$mime, $parameters] = self::typeAndParameters($type);
        $this->mime = $mime;
        $this->parameters = $parameters;
        $encoding = strtolower(trim((string) preg_replace('/\([^()]*\)|;.*/', '', $fields->get('Content-Transfer-Encoding') ?? '')));
        $this->encoding = '' === $encoding ? '7bit' : $encoding;
    }

    public function isMultipart(): bool
    {
        return str_starts_with($this->mime, 'multipart/');
    }

    public function parameter(string $name): ?string
    {
        return $this->parameters[$name] ?? null;
    }

    public function charset(): ?string
    {
        $charset = strtolower(trim($this->parameter('charset') ?? '', " \t\"'"));

        return '' === $charset ? null : $charset;
    }

    /** Without angle brackets; null if there is none. */
    public function contentId(): ?string
    {
        return self::bareId(($this->unfolded ?? $this->fields)->get('Content-ID'));
    }

    /** Of a field that holds an address: white space from folding dropped, encoded words decoded (RFC 2557 section 4.4.2). */
    public function address(string $field): ?string
    {
        $value = ($this->unfolded ?? $this->fields)->get($field);
        if (null === $value) {
            return null;
        }
        $value = trim((string) preg_replace('/[\r\n\t]++/', '', self::decodeWords($value)));

        return '' === $value ? null : trim($value, '"');
    }

    public static function bareId(?string $id): ?string
    {
        $id = trim((string) preg_replace('/^<(.*)>$/s', '$1', trim($id ?? '')));

        return '' === $id ? null : $id;
    }

    /** Encoded words of RFC 2047; those that cannot be read stay as they are. */
    public static function decodeWords(string $text): string
    {
        if (!str_contains($text, '=?')) {
            return $text;
        }
        $text = (string) preg_replace('/(\?=)\s+(=\?)/', '$1$2', $text);

        return (string) preg_replace_callback('/=\?([^?\s*]+)(?:\*[^?\s]*)?\?([bqBQ])\?([^?\s]*)\?=/', static function (array $m): string {
            $bytes = 'B' === strtoupper($m[2]) ? base64_decode($m[3], true) : quoted_printable_decode(strtr($m[3], '_', ' '));

            return false === $bytes ? $m[0] : self::inCharset($bytes, $m[1]) ?? $m[0];
        }, $text);
    }

    /**
     * @return array{string, array<string, string>}
     */
    private static function typeAndParameters(string $value): array
    {
        if (1 !== preg_match('#^\s*([^\s;/()"]+/[^\s;/()"]+)#', $value, $m)) {
            return ['text/plain', self::parameters($value)];
        }

        return [strtolower($m[1]), self::parameters(substr($value, \strlen($m[0])))];
    }

    /**
     * @return array<string, string>
     */
    private static function parameters(string $text): array
    {
        preg_match_all(
            '/;\s*([^\s=;"*]+)(\*(\d+)?\*?)?\s*=\s*(?:"((?:[^"\\\\]|\\\\.)*)"?|([^;]*))/s',
            $text,
            $all,
            \PREG_SET_ORDER | \PREG_UNMATCHED_AS_NULL,
        );
        $found = [];
        foreach ($all as $m) {
            $value = null !== $m[4] ? stripslashes($m[4]) : trim((string) preg_replace('/\s*\([^()]*\)\s*$/', '', (string) $m[5]));
            $coded = null !== $m[2] && str_ends_with($m[2], '*');
            $found[strtolower((string) $m[1])][(int) ($m[3] ?? 0)] ??= [$value, $coded];
        }
        $parameters = [];
        foreach ($found as $name => $pieces) {
            ksort($pieces);
            $parameters[$name] = self::joined(array_values($pieces));
        }

        return $parameters;
    }

    /**
     * @param list<array{string, bool}> $pieces text, and whether it is percent-coded
     */
    private static function joined(array $pieces): string
    {
        $charset = '';
        $bytes = '';
        foreach ($pieces as $i => [$text, $coded]) {
            if (0 === $i && $coded && 1 === preg_match("/^([^']*)'[^']*'(.*)$/s", $text, $m)) {
                [, $charset, $text] = $m;
            }
            $bytes .= $coded ? rawurldecode($text) : $text;
        }

        return self::inCharset($bytes, $charset) ?? $bytes;
    }

    /** @return string|null in UTF-8; null if nobody knows the charset */
    private static function inCharset(string $bytes, string $charset): ?string
    {
        $encoding = Labels::encoding($charset);
        $decoded = null === $encoding || 'replacement' === $encoding
            ? ('' === $charset ? false : @iconv($charset, 'UTF-8', $bytes)) : Decoder::decode($bytes, $encoding);

        return false === $decoded ? null : $decoded;
    }
}
