<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\Actor;

/** How somebody wanted pages to be kept the last time: offered again, so that one need not say it twice. */
final readonly class RememberedChoices
{
    public function __construct(private Connection $database)
    {
    }

    /**
     * @return array<string, string>
     */
    public function last(Actor $actor): array
    {
        $json = $this->database->fetchOne('SELECT choices FROM choice WHERE person = ?', [$actor->name]);

        return array_filter(
            \is_string($json) ? (array) json_decode($json, true) : [],
            static fn (mixed $value, int|string $name): bool => \is_string($name) && \is_string($value),
            \ARRAY_FILTER_USE_BOTH,
        );
    }

    /** @param array<string, string> $choices */
    public function remember(Actor $actor, array $choices): void
    {
        $this->database->executeStatement(
            'INSERT INTO choice (person, choices) VALUES (?, ?) ON DUPLICATE KEY UPDATE choices = VALUES(choices)',
            [$actor->name, json_encode($choices, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE)],
        );
    }
}
