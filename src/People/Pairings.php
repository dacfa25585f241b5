<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/**
 * Pairs a browser with a person: a code that they read on their own page and type into it is exchanged for a token. It works once, for
 * five minutes; of a person there is one at a time. Here is its digest alone.
 */
final readonly class Pairings
{
    public const MINUTES = 5;
    /** How long a paired browser has its way in. */
    public const DAYS = 400;
    public const SCOPES = [Scope::Read, Scope::Write, Scope::Capture];
    private const LETTERS = '23456789abcdefghjkmnpqrstuvwxyz';
    private const LENGTH = 10;

    public function __construct(
        private Connection $database,
        private ClockInterface $realTime,
        private PersonRepository $people,
        private Tokens $tokens,
    ) {
    }

    /** @return string a code, as people read it */
    public function begin(Person $person): string
    {
        $code = '';
        for ($i = 0; $i < self::LENGTH; ++$i) {
            $code .= self::LETTERS[random_int(0, \strlen(self::LETTERS) - 1)];
        }
        $this->database->executeStatement('DELETE FROM pairing WHERE person_id = ? OR made_at <= ?', [$person->id(), $this->oldest()]);
        $this->database->insert('pairing', [
            'hash' => self::hash($code), 'person_id' => $person->id(), 'made_at' => MomentType::text($this->realTime->now()),
        ]);

        return substr($code, 0, 5).'-'.substr($code, 5);
    }

    /**
     * @param string $typed however it is spaced, in whatever letters
     * @param string $name of the browser
     *
     * @return array{Person, string}|null whose it is, and the token; null if there is no such code
     *
     * @throws CannotChange if that person is closed
     */
    public function pair(#[\SensitiveParameter] string $typed, string $name): ?array
    {
        $hash = self::hash(strtolower((string) preg_replace('/[^0-9A-Za-z]+/', '', substr($typed, 0, 100))));
        $found = $this->database->fetchAssociative('SELECT person_id FROM pairing WHERE hash = ? AND made_at > ?', [
            $hash, $this->oldest(),
        ]);
        // Of two who use it at once, one does.
        if (false === $found || 1 !== $this->database->executeStatement('DELETE FROM pairing WHERE hash = ?', [$hash])) {
            return null;
        }
        $person = $this->people->byId((new Row($found))->int('person_id'));

        return null === $person || $person->isClosed() ? null
            : [$person, $this->tokens->add(new Actor($person->name), $person, self::SCOPES, self::DAYS, $name)[1]];
    }

    private function oldest(): string
    {
        return MomentType::text($this->realTime->now()->modify('-'.self::MINUTES.' minutes'));
    }

    private static function hash(string $code): string
    {
        return hash('sha256', 'pairing '.$code, true);
    }
}
