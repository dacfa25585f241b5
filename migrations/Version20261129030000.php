<?php

declare(strict_types=1);

namespace Ypomna\Migrations;

use Doctrine\DBAL\Schema\Schema;

/**
 * What waits in the queue is written as JSON from now on; what was written by PHP's own rules is carried over, and nothing of it
 * is brought to life.
 */
final class Version20261129030000 extends Forward
{
    public function up(Schema $schema): void
    {
        $this->addSql("UPDATE queue_message SET headers = '[]'");
        foreach ($this->connection->fetchAllAssociative("SELECT id, body FROM queue_message WHERE body LIKE 'O:%'") as $row) {
            $envelope = @unserialize(stripslashes(\is_string($row['body']) ? $row['body'] : ''), ['allowed_classes' => false]);
            $message = \is_object($envelope) ? self::properties($envelope)['message'] ?? null : null;
            if (!\is_object($message)) {
                continue;
            }
            $with = self::properties($message);
            $class = $with['__PHP_Incomplete_Class_Name'] ?? null;
            unset($with['__PHP_Incomplete_Class_Name']);
            $stamps = self::properties($envelope)['stamps'] ?? [];
            $last = \is_array($stamps) ? $stamps['Symfony\Component\Messenger\Stamp\RedeliveryStamp'] ?? [] : [];
            $last = \is_array($last) ? end($last) : false;
            $retried = \is_object($last) ? self::properties($last)['retryCount'] ?? 0 : 0;
            $said = ['message' => $class, 'with' => (object) $with, 'retried' => $retried];
            $this->addSql('UPDATE queue_message SET body = ? WHERE id = ?', [json_encode($said, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES), $row['id']]);
        }
    }

    /**
     * @return array<string, mixed> by name, whoever may see them
     */
    private static function properties(object $thing): array
    {
        $found = [];
        foreach ((array) $thing as $name => $value) {
            $found[substr((string) strrchr("\0".$name, "\0"), 1)] = $value;
        }

        return $found;
    }
}
