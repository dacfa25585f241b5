<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\People\Value\ShownToken;
use Ypomna\App\People\Value\Token;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** Tokens of programs. Here are their digests alone. */
final readonly class Tokens
{
    public const MOST_DAYS = 3_660;
    /** How every token begins, so that one that lies about is known for what it is. */
    private const MARK = 'ypomna_';

    public function __construct(private Connection $database, private ClockInterface $realTime, private PeopleLog $log)
    {
    }

    /**
     * @param list<Scope> $scopes
     * @param int|null $days null for no end
     * @param string $name of the program or browser, for its person
     *
     * @return array{Token, string} the second is what the program shows; it is told this once
     *
     * @throws CannotChange
     */
    public function add(Actor $by, Person $person, array $scopes, ?int $days, string $name = ''): array
    {
        if ($person->isClosed()) {
            throw new CannotChange('people.is_closed', ['name' => $person->name]);
        }
        if (null !== $days && ($days < 1 || $days > self::MOST_DAYS)) {
            throw new CannotChange('people.no_days', ['most' => self::MOST_DAYS]);
        }
        $secret = self::MARK.rtrim(strtr(base64_encode(random_bytes(32)), '+/', '-_'), '=');
        $now = $this->realTime->now();
        $token = new Token(Codes::random(), $person->id(), $scopes, null === $days ? null : $now->add(new \DateInterval("P{$days}D")));
        $words = implode(' ', array_map(static fn (Scope $scope): string => $scope->value, $scopes));
        $this->database->insert('person_token', [
            'id' => $token->id, 'hash' => self::hash($secret), 'person_id' => $token->person, 'scopes' => $words,
            'made_at' => MomentType::text($now), 'expires_at' => null === $token->expires ? null : MomentType::text($token->expires),
            'name' => $name,
        ]);
        $this->log->note(LoggedAct::TokenAdded, $by->name, $person->name, $token->id.' '.$words);

        return [$token, $secret];
    }

    /** @throws CannotChange if there is none */
    public function end(Actor $by, string $id): void
    {
        $name = $this->database->fetchOne(
            'SELECT p.name FROM person_token t JOIN person p ON p.id = t.person_id WHERE t.id = ?', [mb_substr(mb_scrub($id), 0, 20)],
        );
        if (!\is_string($name)) {
            throw new CannotChange('people.no_such_token', ['id' => mb_substr(mb_scrub($id), 0, 40)]);
        }
        $this->database->executeStatement('DELETE FROM person_token WHERE id = ?', [$id]);
        $this->log->note(LoggedAct::TokenEnded, $by->name, $name, $id);
    }

    /** @return list<ShownToken> of a person, the last one first */
    public function of(int $person): array
    {
        return array_map(static function (array $values): ShownToken {
            $row = new Row($values);

            return new ShownToken(
                $row->text('id'), $row->text('name'), self::scopes($row->text('scopes')), $row->moment('made_at'),
                $row->momentOrNull('expires_at'), $row->momentOrNull('used_at'),
            );
        }, $this->database->fetchAllAssociative(
            'SELECT id, name, scopes, made_at, expires_at, used_at FROM person_token WHERE person_id = ? ORDER BY made_at DESC LIMIT 200',
            [$person],
        ));
    }

    /** @return bool whether it was that person's */
    public function endOwn(string $name, int $person, string $id): bool
    {
        $ended = 1 === (int) $this->database->executeStatement(
            'DELETE FROM person_token WHERE id = ? AND person_id = ?', [mb_substr(mb_scrub($id), 0, 20), $person],
        );
        if ($ended) {
            $this->log->note(LoggedAct::TokenEnded, $name, $name, $id);
        }

        return $ended;
    }

    /**
     * Whose a token is, as they are now.
     *
     * @return TokenAccount|null null if it was ended, has expired, or its person is closed
     */
    public function account(#[\SensitiveParameter] string $secret): ?TokenAccount
    {
        $found = $this->database->fetchAssociative(
            <<<'SQL'
                SELECT t.id, t.scopes, t.expires_at, t.used_at, p.id AS person, p.name, p.role, p.zone
                FROM person_token t JOIN person p ON p.id = t.person_id
                WHERE t.hash = ? AND p.closed_at IS NULL AND (t.expires_at IS NULL OR t.expires_at > ?)
                SQL,
            [self::hash($secret), MomentType::text($this->realTime->now())],
        );
        if (false === $found) {
            return null;
        }
        $row = new Row($found);
        $now = $this->realTime->now();
        if ($row->momentOrNull('used_at')?->format('Y-m-d') !== $now->format('Y-m-d')) {
            // By the day: a program that asks often writes seldom.
            $this->database->update('person_token', ['used_at' => MomentType::text($now)], ['id' => $row->text('id')]);
        }

        return TokenAccount::of(
            new Token($row->text('id'), $row->int('person'), self::scopes($row->text('scopes')), $row->momentOrNull('expires_at')),
            $row->text('name'),
            $row->text('role'), $row->textOrNull('zone'),
        );
    }

    /** @return list<Scope> */
    private static function scopes(string $words): array
    {
        return array_values(array_filter(array_map(Scope::tryFrom(...), explode(' ', $words))));
    }

    private static function hash(string $secret): string
    {
        return hash('sha256', $secret, true);
    }
}
