<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\Shared\Actor;
use Ypomna\Core\Account\TimeBasedCode;

/** The second step of signing in: codes of a telephone, and codes on paper for the day when it is lost. */
final readonly class SecondStep
{
    private const RECOVERY_CODES = 10;
    private const LETTERS = '23456789abcdefghjkmnpqrstuvwxyz';

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private SecretBox $box,
        private PeopleLog $log,
        private ClockInterface $realTime,
    ) {
    }

    public function newSecret(): string
    {
        return random_bytes(TimeBasedCode::SECRET_BYTES);
    }

    /**
     * Begins to ask for it, once the telephone has shown that it has the secret.
     *
     * @return list<string> codes for paper, shown this once
     *
     * @throws CannotChange if the code is wrong
     */
    public function begin(Person $person, #[\SensitiveParameter] string $secret, string $code): array
    {
        $step = TimeBasedCode::step($secret, $code, $this->realTime->now()->getTimestamp(), null);
        if (null === $step) {
            throw new CannotChange('people.wrong_code');
        }
        $person->secondStep = $this->box->seal($secret);
        $person->usedStep = $step;
        $this->entities->flush();
        $this->log->note(LoggedAct::SecondStepOn, $person->name);

        return $this->recoveryCodes($person);
    }

    /** @return list<string> new codes for paper; those before hold no longer */
    public function recoveryCodes(Person $person): array
    {
        $codes = [];
        for ($i = 0; $i < self::RECOVERY_CODES; ++$i) {
            $codes[] = implode('-', [self::letters(), self::letters()]);
        }
        $this->database->transactional(function () use ($person, $codes): void {
            $this->database->executeStatement('DELETE FROM person_recovery WHERE person_id = ?', [$person->id()]);
            foreach ($codes as $code) {
                $this->database->insert('person_recovery', ['person_id' => $person->id(), 'hash' => $this->digest($code)]);
            }
        });

        return $codes;
    }

    public function end(Actor $by, Person $person): void
    {
        if (null === $person->secondStep) {
            return;
        }
        $person->secondStep = null;
        $person->usedStep = null;
        $this->entities->flush();
        $this->database->executeStatement('DELETE FROM person_recovery WHERE person_id = ?', [$person->id()]);
        $this->log->note(LoggedAct::SecondStepOff, $by->name, $by->name === $person->name ? '' : $person->name);
    }

    /** Whether a code lets that person in; it does once. */
    public function takes(Person $person, string $code): bool
    {
        $secret = null === $person->secondStep ? null : $this->box->open($person->secondStep);
        if (null === $secret) {
            return false;
        }
        $step = TimeBasedCode::step($secret, $code, $this->realTime->now()->getTimestamp(), $person->usedStep);
        if (null !== $step) {
            // Of two who come with the same code at once, one is let in.
            return 1 === $this->database->executeStatement(
                'UPDATE person SET used_step = ? WHERE id = ? AND (used_step IS NULL OR used_step < ?)', [$step, $person->id(), $step],
            );
        }
        $taken = 1 === $this->database->executeStatement(
            'DELETE FROM person_recovery WHERE person_id = ? AND hash = ?', [$person->id(), $this->digest($code)],
        );
        if ($taken) {
            $this->log->note(LoggedAct::RecoveryUsed, $person->name, '', (string) $this->left($person));
        }

        return $taken;
    }

    /** How many codes on paper were not used yet. */
    public function left(Person $person): int
    {
        $count = $this->database->fetchOne('SELECT COUNT(*) FROM person_recovery WHERE person_id = ?', [$person->id()]);

        return is_numeric($count) ? (int) $count : 0;
    }

    private function digest(string $code): string
    {
        return $this->box->digest((string) preg_replace('/[^0-9a-z]+/', '', strtolower($code)));
    }

    private static function letters(): string
    {
        $letters = '';
        for ($i = 0; $i < 6; ++$i) {
            $letters .= self::LETTERS[random_int(0, \strlen(self::LETTERS) - 1)];
        }

        return $letters;
    }
}
