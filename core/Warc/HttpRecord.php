<?php

declare(strict_types=1);

namespace Ypomna\Core\Warc;

use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\MessageHead;

/**
 * A record whose block is an HTTP answer, or a resource that stands for one: its head at hand, its body still to pass by.
 */
final readonly class HttpRecord
{
    /**
     * @param MessageHead|null $head the final answer's; null if the block is no HTTP message
     */
    private function __construct(public Record $record, public ?MessageHead $head, private Message $message)
    {
    }

    /**
     * @throws WarcError
     */
    public static function of(Record $record): self
    {
        return self::ofSegments($record, []);
    }

    /**
     * A record that was cut into pieces, joined (clause 7.2).
     *
     * @param iterable<Record> $further the other pieces in their order
     *
     * @throws WarcError
     */
    public static function ofSegments(Record $first, iterable $further): self
    {
        $block = (static function () use ($first, $further): \Generator {
            yield from $first->block();
            foreach ($further as $record) {
                yield from $record->block();
            }
        })();
        $isMessage = $first->header->isHttp()
            || ($first->header->isUntypedMessage() && str_starts_with((string) $block->current(), 'HTTP/'));
        $message = $isMessage ? Message::read($block) : Message::bare($block);

        return new self($first, $message->head, $message);
    }

    /**
     * A revisit, whole again: its own head where it has one that is an answer of its own, the body of what it refers to.
     *
     * @throws WarcError
     */
    public static function ofRevisit(Record $revisit, Record $original): self
    {
        $own = self::of($revisit)->head;
        $whole = self::of($original);
        $head = null === $own || null === $own->status || 304 === $own->status ? $whole->head : $own;

        return new self($original, $head, $whole->message);
    }

    /** Media type without parameters: the answer's, or a resource's own. */
    public function mime(): ?string
    {
        return null !== $this->head ? $this->head->mime() : $this->record->header->mime();
    }

    /**
     * The body, chunked coding taken off, content-coding left on. Can be read once.
     *
     * @return \Generator<int, string>
     */
    public function body(): \Generator
    {
        return $this->message->body();
    }
}
