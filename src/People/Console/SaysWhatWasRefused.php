<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Output\ConsoleOutputInterface;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Contracts\Service\Attribute\Required;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\PersonRepository;
use Ypomna\App\Shared\Role;

/** What the commands about people share: names and roles as they were typed, and the words for what cannot be done. */
trait SaysWhatWasRefused
{
    private TranslatorInterface $translator;
    private PersonRepository $people;

    #[Required]
    public function setWords(TranslatorInterface $translator, PersonRepository $people): void
    {
        $this->translator = $translator;
        $this->people = $people;
    }

    /** @param \Closure(): int $work */
    private function orRefused(OutputInterface $output, \Closure $work): int
    {
        try {
            return $work();
        } catch (CannotChange $e) {
            self::errors($output)->writeln($e->trans($this->translator), OutputInterface::OUTPUT_RAW);

            return self::FAILURE;
        }
    }

    private static function errors(OutputInterface $output): OutputInterface
    {
        return $output instanceof ConsoleOutputInterface ? $output->getErrorOutput() : $output;
    }

    /** @throws CannotChange */
    private static function role(string $typed): Role
    {
        return Role::tryFrom($typed) ?? throw new CannotChange('people.no_role', ['role' => $typed]);
    }

    /** @throws CannotChange */
    private function person(string $typed): Person
    {
        return $this->people->named($typed) ?? throw new CannotChange('people.no_such_person', ['name' => $typed]);
    }

    private static function text(mixed $value): string
    {
        return \is_string($value) ? $value : '';
    }

    /** @param array<string, mixed> $values */
    private function json(OutputInterface $output, array $values): void
    {
        $output->writeln(
            json_encode($values, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES), OutputInterface::OUTPUT_RAW,
        );
    }
}
