<?php

declare(strict_types=1);

namespace Ypomna\App\People\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Ypomna\App\People\CannotChange;
use Ypomna\App\People\Tokens;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\CurrentPerson;

/** Gives a program a way in. */
#[AsCommand('token:add', 'Makes a token for a program that acts for a person; it is shown once')]
final class TokenAddCommand extends Command
{
    use SaysWhatWasRefused;

    public function __construct(private readonly Tokens $tokens, private readonly CurrentPerson $current)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('name', InputArgument::REQUIRED, 'The person for whom the program acts')
            ->addOption(
                'scope', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY,
                'read, write, capture, export or admin; read, write and capture if nothing is said',
            )
            ->addOption('days', null, InputOption::VALUE_REQUIRED, 'After how many days it ends; never if nothing is said')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Prints JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        return $this->orRefused($output, function () use ($input, $output): int {
            $person = $this->person(self::text($input->getArgument('name')));
            $given = $input->getOption('scope');
            $scopes = [];
            foreach (\is_array($given) ? $given : [] as $one) {
                $scopes[] = Scope::tryFrom(self::text($one)) ?? throw new CannotChange('people.no_scope', ['scope' => self::text($one)]);
            }
            $days = $input->getOption('days');
            if (null !== $days && 1 !== preg_match('/^\d{1,6}$/D', self::text($days))) {
                throw new CannotChange('people.no_days', ['most' => Tokens::MOST_DAYS]);
            }
            $scopes = [] === $scopes ? Scope::USUAL : array_values(array_unique($scopes, \SORT_REGULAR));
            [$token, $secret] = $this->tokens->add(
                $this->current->actor(), $person, $scopes, null === $days ? null : (int) self::text($days),
            );
            if (true === $input->getOption('json')) {
                $this->json($output, [
                    'id' => $token->id, 'token' => $secret,
                    'scopes' => array_map(static fn (Scope $scope): string => $scope->value, $token->scopes),
                    'expires' => $token->expires?->format('Y-m-d\TH:i:s.u\Z'),
                ]);
            } else {
                $output->writeln($secret, OutputInterface::OUTPUT_RAW);
                self::errors($output)->writeln('Its number is '.$token->id.'. It is not shown again.', OutputInterface::OUTPUT_RAW);
            }

            return self::SUCCESS;
        });
    }
}
