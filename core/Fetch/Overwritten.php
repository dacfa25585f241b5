<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** What was overwritten in one message, and what the message was. */
final readonly class Overwritten
{
    /**
     * @param string $part `request`, `response`, `socket` (its messages) or what else was made of the page
     * @param int $number of the exchange
     * @param list<array{int, int}> $places first byte and length of each value, in the message as it is kept
     * @param string $sha256 of the message as it was received, hex
     * @param bool $recoded whether codings were taken off its body: what was overwritten could not be found below them
     * @param bool $unchecked whether its body has a coding that is not known here, so that it could not be looked through
     */
    public function __construct(
        public string $part,
        public int $number,
        public string $url,
        public array $places,
        public string $sha256,
        public bool $recoded = false,
        public bool $unchecked = false,
    ) {
    }

    /**
     * @param string $answer id of the record with the exchange's answer
     *
     * @return array<string, mixed> as it stands in the file
     */
    public function facts(string $answer): array
    {
        return [
            'part' => $this->part, 'answer' => $answer, 'url' => $this->url, 'places' => $this->places, 'sha256AsReceived' => $this->sha256,
        ]
            + ($this->recoded ? ['codingsRemoved' => true] : []) + ($this->unchecked ? ['bodyNotChecked' => true] : []);
    }
}
