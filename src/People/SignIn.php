<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Psr\Clock\ClockInterface;
use Symfony\Bundle\SecurityBundle\Security;
use Symfony\Component\HttpFoundation\Request;
use Ypomna\App\People\Entity\Person;
use Ypomna\Core\Account\LocalTarget;

/** Lets people in: by name and password, then by a code where they have a second step. */
final readonly class SignIn
{
    private const HALF = 'half_signed_in';
    /** Seconds within which the second step has to follow. */
    private const WITHIN = 300;

    public function __construct(
        private PersonRepository $people,
        private Passwords $passwords,
        private SecondStep $secondStep,
        private Sessions $sessions,
        private Attempts $attempts,
        private PeopleLog $log,
        private Security $security,
        private ClockInterface $realTime,
    ) {
    }

    /**
     * @return bool whether that was all; a second step is to follow, if not
     *
     * @throws TooManyAttempts|CannotChange
     */
    public function byPassword(Request $request, string $name, #[\SensitiveParameter] string $password, string $to): bool
    {
        $person = $this->people->named($name);
        // One person answers to many spellings; whoever guesses has no more attempts by them.
        $counted = $person->name ?? $name;
        $this->throttled($name, fn () => $this->attempts->password($counted, (string) $request->getClientIp()));
        if (!$this->passwords->isRight($person, $password) || null === $person) {
            $this->log->note(LoggedAct::Refused, $name);
            throw new CannotChange('people.wrong_name_or_password');
        }
        $this->attempts->succeeded($counted, (string) $request->getClientIp());
        if (null === $person->secondStep) {
            $this->letIn($person);

            return true;
        }
        $session = $request->getSession();
        $session->migrate(true);
        $session->set(self::HALF, [$person->id(), $this->realTime->now()->getTimestamp() + self::WITHIN, $to]);

        return false;
    }

    /** Whoever has given their password a moment ago, and has to give a code; null if it is nobody, or too late. */
    public function half(Request $request): ?Person
    {
        $half = $request->getSession()->get(self::HALF);
        if (!\is_array($half) || !\is_int($half[0] ?? null) || !\is_int($half[1] ?? null)
            || $half[1] < $this->realTime->now()->getTimestamp()) {
            return null;
        }
        $person = $this->people->byId($half[0]);

        return null === $person || $person->isClosed() || null === $person->secondStep ? null : $person;
    }

    /**
     * @return string where that person wanted to go
     *
     * @throws TooManyAttempts|CannotChange
     */
    public function byCode(Request $request, Person $person, string $code): string
    {
        $this->throttled($person->name, fn () => $this->attempts->code($person->id()));
        if (!$this->secondStep->takes($person, substr($code, 0, 100))) {
            $this->log->note(LoggedAct::CodeRefused, $person->name);
            throw new CannotChange('people.wrong_code');
        }
        $half = $request->getSession()->remove(self::HALF);
        $this->attempts->codeSucceeded($person->id());
        $this->letIn($person);

        return \is_array($half) && \is_string($half[2] ?? null) ? LocalTarget::of($half[2]) ?? '/' : '/';
    }

    /** Without a question: for whoever came by a link of their own, and for the demo's investigator. */
    public function letIn(Person $person): void
    {
        $this->security->login($this->sessions->begin($person), SignInDoor::class, 'main');
        $this->log->note(LoggedAct::SignedIn, $person->name);
    }

    public function out(Account $account): void
    {
        $this->sessions->endOwn($account);
        $this->log->note(LoggedAct::SignedOut, $account->name);
        $this->security->logout(false);
    }

    /**
     * @param \Closure(): void $count
     *
     * @throws TooManyAttempts
     */
    private function throttled(string $name, \Closure $count): void
    {
        try {
            $count();
        } catch (TooManyAttempts $e) {
            if ($e->isFirst) {
                $this->log->note(LoggedAct::Throttled, $name);
            }
            throw $e;
        }
    }
}
