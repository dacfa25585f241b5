<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

/** What a route of programs takes and answers, for the description of all of them. The forms stand in {@see Schemas}. */
#[\Attribute(\Attribute::TARGET_METHOD)]
final readonly class Told
{
    /** What may stand in the address of every list. */
    public const LIST = ['limit' => 'How many: 1 to 200, 50 if it is not said.', 'after' => 'Where the list goes on; `next` has it.'];

    /**
     * @param string $what in a sentence
     * @param int $status of an answer to a good question
     * @param string|null $body name of its form; null if it has none
     * @param string|null $takes name of the form of what is sent; null if nothing is
     * @param string $type media type of what is sent
     * @param array<string, string> $query what may stand in the address, and what it means
     * @param string $answer media type of the answer
     * @param list<int> $also further statuses, beside those of every route
     */
    public function __construct(
        public string $what,
        public int $status = 200,
        public ?string $body = null,
        public ?string $takes = null,
        public string $type = 'application/json',
        public array $query = [],
        public array $also = [],
        public string $answer = 'application/json',
    ) {
    }
}
