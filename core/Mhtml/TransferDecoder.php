<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/**
 * Takes the transfer-encoding off a body that passes by in pieces: quoted-printable and base64 (RFC 2045 sections 6.7 and
 * 6.8), uuencode as old mail has it, and the encodings that are none.
 */
final class TransferDecoder
{
    private const MAX_LINE = 1_048_576;

    private string $held = '';
    private bool $ended = false;
    /** What was wrong, in words; null if nothing was. */
    public ?string $problem = null;

    public function __construct(private readonly string $encoding)
    {
        if (!\in_array(
            $encoding, ['7bit', '8bit', 'binary', 'quoted-printable', 'base64', 'uuencode', 'x-uuencode', 'uue', 'x-uue'], true,
        )) {
            $this->problem = \sprintf(
                'the transfer-encoding “%s” is not known; the body is taken as it is', mb_strimwidth(mb_scrub($encoding), 0, 40, '…'),
            );
        }
    }

    public function push(string $piece): string
    {
        return match ($this->encoding) {
            'base64' => $this->base64($piece),
            'quoted-printable' => $this->byLine($piece, $this->quotedPrintable(...)),
            'uuencode', 'x-uuencode', 'uue', 'x-uue' => $this->byLine($piece, $this->uuencoded(...)),
            default => $piece,
        };
    }

    /** What was held back for what might have followed. */
    public function end(): string
    {
        $held = $this->held;
        $this->held = '';
        if ('base64' === $this->encoding) {
            if ('' === $held) {
                return '';
            }
            $this->problem ??= 'the base64 text ends in the middle of a group';

            return 1 === \strlen($held) ? '' : self::decoded($held);
        }

        return match ($this->encoding) {
            'quoted-printable' => '' === $held ? '' : $this->quotedPrintable($held),
            'uuencode', 'x-uuencode', 'uue', 'x-uue' => '' === $held ? '' : $this->uuencoded($held),
            default => '',
        };
    }

    private function base64(string $piece): string
    {
        $text = (string) preg_replace('/[^A-Za-z0-9+\/=]+/', '', $piece);
        if (1 === preg_match('/[^A-Za-z0-9+\/=\s]/', $piece)) {
            $this->problem ??= 'the base64 text holds other characters';
        }
        $text = $this->held.$text;
        $out = '';
        $pad = strpos($text, '=');
        while (false !== $pad) {
            $end = $pad + strspn($text, '=', $pad);
            if ($end === \strlen($text) && $pad % 4 + $end - $pad < 4 && 0 !== $pad % 4) {
                // The rest of the padding may still come.
                break;
            }
            if (0 === $pad % 4 || 1 === $pad % 4) {
                $this->problem ??= 'the base64 text has padding where none can be';
            }
            $out .= self::decoded(substr($text, 0, $pad - (1 === $pad % 4 ? 1 : 0)));
            $text = substr($text, $end);
            $pad = strpos($text, '=');
        }
        $whole = false === $pad ? \strlen($text) - \strlen($text) % 4 : $pad - $pad % 4;
        $this->held = substr($text, $whole);

        return $out.self::decoded(substr($text, 0, $whole));
    }

    private static function decoded(string $base64): string
    {
        return (string) base64_decode($base64, true);
    }

    /**
     * @param \Closure(string): string $decode takes a line with its end
     */
    private function byLine(string $piece, \Closure $decode): string
    {
        $this->held .= $piece;
        $end = strrpos($this->held, "\n");
        if (false === $end) {
            if (\strlen($this->held) < self::MAX_LINE) {
                return '';
            }
            // No line is that long; it is cut where no code is split.
            $cut = \strlen($this->held) - 3;
            $cut -= '=' === $this->held[$cut - 1] ? 1 : ('=' === $this->held[$cut - 2] ? 2 : 0);
            $out = $decode(substr($this->held, 0, $cut));
            $this->held = substr($this->held, $cut);

            return $out;
        }
        $lines = substr($this->held, 0, $end + 1);
        $this->held = substr($this->held, $end + 1);
        $out = '';
        foreach (explode("\n", substr($lines, 0, -1)) as $line) {
            $out .= $decode($line."\n");
        }

        return $out;
    }

    private function quotedPrintable(string $line): string
    {
        $body = rtrim($line, "\r\n");
        $lineEnd = substr($line, \strlen($body));
        if ('' !== $lineEnd) {
            // White space before a line end was added on the way.
            $body = rtrim($body, " \t");
        }
        if (str_ends_with($body, '=')) {
            $body = substr($body, 0, -1);
            $lineEnd = '';
        }
        if (1 === preg_match('/=(?![0-9A-Fa-f]{2})/', $body)) {
            $this->problem ??= 'the quoted-printable text has a = that begins no code';
        }

        return (string) preg_replace_callback('/=([0-9A-Fa-f]{2})/', static fn (array $m): string => \chr((int) hexdec($m[1])), $body)
            .$lineEnd;
    }

    private function uuencoded(string $line): string
    {
        $line = rtrim($line, "\r\n");
        if ($this->ended || '' === $line || 1 === preg_match('/^begin \d{3,4} /', $line)) {
            return '';
        }
        if ('end' === $line || '`' === $line[0]) {
            $this->ended = 'end' === $line;

            return '';
        }
        $decoded = @convert_uudecode($line."\n`\n");
        if (false === $decoded) {
            $this->problem ??= 'a line of the uuencoded text cannot be read';
        }

        return (string) $decoded;
    }
}
