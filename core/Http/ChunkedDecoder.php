<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * Takes the chunked transfer-coding off a body that arrives in pieces (RFC 9112 section 7.1). Chunk extensions and
 * trailers are passed over; a chunk line may end in a bare LF.
 */
final class ChunkedDecoder
{
    private const MAX_LINE = 16_384;

    private string $line = '';
    private bool $begun = false;
    private int $left = 0;
    private ChunkedState $state = ChunkedState::Size;

    /**
     * @return string what these bytes add to the decoded body
     *
     * @throws MalformedMessage where the coding is broken; nothing of these bytes is decoded then
     */
    public function push(string $bytes): string
    {
        $out = '';
        $at = 0;
        $length = \strlen($bytes);
        while ($at < $length && ChunkedState::Done !== $this->state) {
            if (ChunkedState::Data === $this->state) {
                $piece = substr($bytes, $at, $this->left);
                $out .= $piece;
                $at += \strlen($piece);
                $this->left -= \strlen($piece);
                $this->state = 0 === $this->left ? ChunkedState::DataEnd : ChunkedState::Data;
                continue;
            }
            $lf = strpos($bytes, "\n", $at);
            $this->line .= false === $lf ? substr($bytes, $at) : substr($bytes, $at, $lf - $at);
            $at = false === $lf ? $length : $lf + 1;
            if (\strlen($this->line) > self::MAX_LINE) {
                throw new MalformedMessage('A chunk line is longer than 16 KiB.');
            }
            if (false !== $lf) {
                $this->endOfLine();
            }
        }
        $this->surplus += $length - $at;

        return $out;
    }

    /** How many bytes came behind the end of the body; they belong to the next message. */
    public int $surplus = 0;

    /** The beginning of a line whose end has not come yet. */
    public function held(): string
    {
        return $this->line;
    }

    public function isDone(): bool
    {
        return ChunkedState::Done === $this->state;
    }

    /** Whether not even one size line has come, though something else has. */
    public function neverBegan(): bool
    {
        return !$this->begun && '' !== $this->line;
    }

    private function endOfLine(): void
    {
        $this->begun = true;
        $line = rtrim($this->line, "\r");
        $this->line = '';
        if (ChunkedState::Trailer === $this->state) {
            $this->state = '' === $line ? ChunkedState::Done : ChunkedState::Trailer;

            return;
        }
        if (ChunkedState::DataEnd === $this->state) {
            if ('' !== $line) {
                throw new MalformedMessage('A chunk is longer than its size line says.');
            }
            $this->state = ChunkedState::Size;

            return;
        }
        if (1 !== preg_match('/^\s*([0-9a-f]{1,15})\s*(?:;.*)?$/i', $line, $m)) {
            throw new MalformedMessage(\sprintf('“%s” is no chunk size.', mb_strimwidth(mb_scrub($line), 0, 40, '…')));
        }
        $this->left = (int) hexdec($m[1]);
        $this->state = 0 === $this->left ? ChunkedState::Trailer : ChunkedState::Data;
    }
}
