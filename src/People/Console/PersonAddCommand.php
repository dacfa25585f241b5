<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\People\OnceLinks;
use Ypomna\App\People\Passwords;
use Ypomna\App\People\PeopleMail;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\Core\Account\PasswordRule;

/** Makes a person from the command line. */
#[AsCommand('person:add', 'Adds a person; without a password it prints a link by which they choose one')]
final class PersonAddCommand extends Command
{
    use SaysWhatWasRefused;

    public function __construct(
        private readonly PersonChanges $changes,
        private readonly Passwords $passwords,
        private readonly OnceLinks $links,
        private readonly PeopleMail $mail,
        private readonly CurrentPerson $person,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'The name under which they sign in and act')
            ->addOption('role', null, InputOption::VALUE_REQUIRED, 'reader, keeper, custodian or administrator')
            ->addOption('mail', null, InputOption::VALUE_REQUIRED, 'Their mail address')
            ->addOption('password-stdin', null, InputOption::VALUE_NONE, 'Reads the password from the first line of standard input')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Prints JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->orRefused($output, function () use ($input, $output): int {
            $role = self::role(self::text($input->getOption('role')));
            $mail = self::text($input->getOption('mail'));
            $name = self::text($input->getArgument('name'));
            $hash = null;
            if (true === $input->getOption('password-stdin')) {
                $line = fgets(\STDIN);
                $password = false === $line ? '' : rtrim($line, "\r\n");
                if ('' === $password || \strlen($password) > PasswordRule::MOST_BYTES) {
                    self::errors($output)->writeln(
                        '<error>Standard input has no password in its first line, or one that is too long.</error>',
                    );

                    return self::INVALID;
                }
                if (null !== PasswordRule::broken($password, $name)) {
                    self::errors($output)->writeln('This password is easily guessed; on the screen it would be refused.');
                }
                // Whoever has the command line has the data anyway, and may know why.
                $hash = $this->passwords->hashAnyhow($password);
            }
            $person = $this->changes->add($this->person->actor(), $name, $role, '' === $mail ? null : $mail, $hash);
            $link = null === $hash ? $this->mail->address($this->links->reset('', $person)) : null;
            if (true === $input->getOption('json')) {
                $this->json($output, ['name' => $person->name, 'role' => $person->role->value] + (null === $link ? [] : ['link' => $link]));
            } else {
                $output->writeln(\sprintf('%s is a %s now.', $person->name, $person->role->value), OutputInterface::OUTPUT_RAW);
                if (null !== $link) {
                    $output->writeln('They choose a password here, once and within a day: '.$link, OutputInterface::OUTPUT_RAW);
                }
            }

            return self::SUCCESS;
        });
    }
}
