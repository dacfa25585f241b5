<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Tags and text of a page, read forward (HTML Living Standard, section 13.2.5). Comments are passed over.
 *
 * @internal
 */
final class Tokenizer
{
    private const ATTRIBUTE = '/[\t\n\f \/]*+(?:>|(=?[^\t\n\f \/>=]*+)(?:[\t\n\f ]*+=[\t\n\f ]*+'
        .'(?:"([^"]*+)"|\'([^\']*+)\'|([^\t\n\f >"\'][^\t\n\f >]*+|(?=[\t\n\f >]))))?)/A';
    private const MOST_ATTRIBUTES = 1_000;
    /** Ends of scripts within comments that are looked through. */
    private const MOST_ESCAPES = 200;

    private int $at = 0;
    private readonly int $length;
    /** The element whose content is text until its end tag. */
    private string $raw = '';
    /** Whether character references count in it. */
    private bool $references = false;
    /** Whether the place is in a foreign vocabulary, where CDATA sections are text. */
    public bool $foreign = false;

    public function __construct(private readonly string $html)
    {
        $this->length = \strlen($html);
    }

    /** What follows is text until the end tag of that element; of plaintext, to the end. */
    public function readRaw(string $element): void
    {
        $this->raw = $element;
        $this->references = 'title' === $element || 'textarea' === $element;
    }

    public function next(): ?Token
    {
        if ($this->at >= $this->length) {
            return null;
        }
        if ('' !== $this->raw) {
            $text = $this->rawText();
            if ('' !== $text) {
                return new Token(TokenKind::Text, '', $text);
            }
        }
        $text = '';
        while ($this->at < $this->length) {
            $run = strcspn($this->html, '<', $this->at);
            if ($run > 0) {
                $text .= CharacterReferences::inText(substr($this->html, $this->at, $run));
                $this->at += $run;
                continue;
            }
            if ('' !== $text && 1 === preg_match('/[a-z\/!?]/iA', $this->html, $m, 0, $this->at + 1)) {
                // A tag may change how text is read; what was gathered so far goes first.
                return new Token(TokenKind::Text, '', $text);
            }
            $token = $this->markup();
            if ($token instanceof Token) {
                return $token;
            }
            $text .= $token;
        }

        return '' === $text ? null : new Token(TokenKind::Text, '', $text);
    }

    /** @return Token|string|null the tag at this `<`; or the text that it is; null if it is passed over */
    private function markup(): Token|string|null
    {
        if (1 === preg_match('/<(\/?)([a-z][^\t\n\f \/>]*+)/iA', $this->html, $m, 0, $this->at)) {
            $this->at += \strlen($m[0]);
            $name = strtolower(str_replace("\0", "\u{FFFD}", $m[2]));
            [$attributes, $closesItself, $ends] = $this->attributes();

            // A tag that never ends is dropped.
            return $ends ? new Token('' === $m[1] ? TokenKind::Start : TokenKind::End, $name, '', $attributes, $closesItself) : null;
        }
        if ($this->foreign && 0 === substr_compare($this->html, '<![CDATA[', $this->at, 9)) {
            $end = strpos($this->html, ']]>', $this->at + 9);
            $text = substr($this->html, $this->at + 9, (false === $end ? $this->length : $end) - $this->at - 9);
            $this->at = false === $end ? $this->length : $end + 3;

            return $text;
        }
        if (1 === preg_match('/<!doctype[\t\n\f ]*([^\t\n\f >]*)[\t\n\f ]*([^>]*)>?/iA', $this->html, $m, 0, $this->at)) {
            $this->at += \strlen($m[0]);

            return new Token(TokenKind::Doctype, strtolower($m[1]), strtolower($m[2]));
        }
        if (1 === preg_match('/<!--(?:-?>)?/A', $this->html, $m, 0, $this->at)) {
            $ends = '<!--' !== $m[0];
            $this->at += \strlen($m[0]);
            if (!$ends) {
                $this->at = 1 === preg_match('/--!?>/', $this->html, $m, \PREG_OFFSET_CAPTURE, $this->at)
                    ? $m[0][1] + \strlen($m[0][0])
                    : $this->length;
            }

            return null;
        }
        if (1 === preg_match('/<[!?\/]/A', $this->html, $m, 0, $this->at) || 0 === substr_compare($this->html, '</', $this->at, 2)) {
            if ($this->at + 2 >= $this->length && 0 === substr_compare($this->html, '</', $this->at, 2)) {
                $this->at = $this->length;

                return '</';
            }
            $end = strpos($this->html, '>', $this->at + 2);
            $this->at = false === $end ? $this->length : $end + 1;

            return null;
        }
        ++$this->at;

        return '<';
    }

    /**
     * @return array{array<array-key, string>, bool, bool} attributes; whether the tag closes itself; whether it ends
     */
    private function attributes(): array
    {
        $attributes = [];
        // Most tags have none.
        if ('>' === ($this->html[$this->at] ?? '')) {
            ++$this->at;

            return [[], false, true];
        }
        while (1 === preg_match(self::ATTRIBUTE, $this->html, $m, \PREG_UNMATCHED_AS_NULL, $this->at)) {
            $this->at += \strlen($m[0]);
            if ('' === $m[0] || (isset($m[1]) && 1 === preg_match('/[\t\n\f ]*+=[\t\n\f ]*+["\']/A', $this->html, $quote, 0, $this->at))) {
                // A quotation mark that never closes takes in the rest of the document.
                $this->at = $this->length;
                break;
            }
            if (!isset($m[1])) {
                return [$attributes, str_ends_with($m[0], '/>'), true];
            }
            $value = $m[2] ?? $m[3] ?? $m[4] ?? '';
            $name = strtolower($m[1]);
            if (!isset($attributes[$name]) && '' !== $name && \count($attributes) < self::MOST_ATTRIBUTES) {
                $attributes[$name] = CharacterReferences::inValue($value);
            }
        }

        return [$attributes, false, false];
    }

    private function rawText(): string
    {
        $end = $this->endOfRaw();
        $text = substr($this->html, $this->at, $end - $this->at);
        $this->at = $end;
        $this->raw = '';

        $text = str_replace("\0", "\u{FFFD}", $text);

        return $this->references ? CharacterReferences::inText($text) : $text;
    }

    private function endOfRaw(): int
    {
        if ('plaintext' === $this->raw) {
            return $this->length;
        }
        $from = $this->at;
        for ($tries = 0; $tries < self::MOST_ESCAPES
            && 1 === preg_match('~</'.$this->raw.'(?=[\t\n\f />])~i', $this->html, $m, \PREG_OFFSET_CAPTURE, $from); ++$tries) {
            $end = $m[0][1];
            if ('script' !== $this->raw || !$this->inEscapedScript($end)) {
                return $end;
            }
            $from = $end + 2;
        }

        return $this->length;
    }

    /** Whether that end tag belongs to a script within a comment within the script (section 13.2.5.20 and on). */
    private function inEscapedScript(int $end): bool
    {
        $before = substr($this->html, $this->at, $end - $this->at);
        $comment = strrpos($before, '<!--');
        if (false === $comment || false !== strpos($before, '-->', $comment + 2)) {
            return false;
        }
        $inside = substr($before, $comment);

        return preg_match_all('~<script(?=[\t\n\f />])~i', $inside) > preg_match_all('~</script(?=[\t\n\f />])~i', $inside);
    }
}
