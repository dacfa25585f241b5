<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\MalformedMessage;
use Ypomna\Core\Http\MessageHead;

/**
 * A record whose block is an HTTP answer, or a resource that stands for one: its head at hand, its body still to pass by.
 */
final readonly class HttpRecord
{
    /**
     * @param MessageHead|null        $head  the final answer's; null if the block is no HTTP message
     * @param string                  $rest  what was read beyond the head
     * @param \Generator<int, string> $block
     */
    private function __construct(public Record $record, public ?MessageHead $head, private string $rest, private \Generator $block)
    {
    }

    /**
     * @throws WarcError
     */
    public static function of(Record $record): self
    {
        $block = $record->block();
        $bytes = '';
        if (!$record->header->isHttp()) {
            return new self($record, null, '', $block);
        }
        while ($block->valid()) {
            $bytes .= $block->current();
            $block->next();
            while (null !== ($end = MessageHead::end($bytes))) {
                try {
                    $head = MessageHead::parse(substr($bytes, 0, $end));
                } catch (MalformedMessage) {
                    return new self($record, null, $bytes, $block);
                }
                $bytes = substr($bytes, $end);
                if (null === $head->status || $head->status >= 200 || 101 === $head->status) {
                    return new self($record, $head, $bytes, $block);
                }
            }
            if (\strlen($bytes) > MessageHead::MAX_BYTES) {
                break;
            }
        }

        return new self($record, null, $bytes, $block);
    }

    /** Media type without parameters: the answer's, or a resource's own. */
    public function mime(): ?string
    {
        if (null !== $this->head) {
            return $this->head->mime();
        }
        $type = strtolower(trim(explode(';', $this->record->header->contentType() ?? '')[0]));

        return '' === $type ? null : $type;
    }

    /**
     * The body, chunked coding taken off, content-coding left on. Can be read once.
     *
     * @return iterable<string>
     */
    public function body(): iterable
    {
        return true === $this->head?->isChunked() ? Body::unchunk($this->raw()) : $this->raw();
    }

    /**
     * @return \Generator<int, string>
     */
    private function raw(): \Generator
    {
        if ('' !== $this->rest) {
            yield $this->rest;
        }
        for (; $this->block->valid(); $this->block->next()) {
            yield $this->block->current();
        }
    }
}
