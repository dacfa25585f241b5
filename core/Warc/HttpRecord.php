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
    private function __construct(public Record $record, public ?MessageHead $head, private ?Message $message)
    {
    }

    /**
     * @throws WarcError
     */
    public static function of(Record $record): self
    {
        $message = $record->header->isHttp() ? Message::read($record->block()) : null;

        return new self($record, $message?->head, $message);
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
        return null === $this->message ? $this->record->block() : $this->message->body();
    }
}
