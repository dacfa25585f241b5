<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Tester\CommandTester;

/** What a file command said with --json, and how it ended. */
final readonly class Told
{
    /**
     * @param list<array<string, mixed>> $rows
     */
    private function __construct(public array $rows, public int $status, public string $errors)
    {
    }

    /**
     * @param array<string, mixed> $arguments
     */
    public static function by(Command $command, array $arguments): self
    {
        $tester = new CommandTester($command);
        $status = $tester->execute($arguments + ['--json' => true], ['capture_stderr_separately' => true]);
        $rows = [];
        foreach (explode("\n", trim($tester->getDisplay())) as $line) {
            if ('' !== $line) {
                /** @var array<string, mixed> $row */
                $row = json_decode($line, true, 32, \JSON_THROW_ON_ERROR);
                $rows[] = $row;
            }
        }

        return new self($rows, $status, $tester->getErrorOutput());
    }

    /**
     * @return list<mixed>
     */
    public function column(string $name): array
    {
        return array_column($this->rows, $name);
    }

    /**
     * @return list<string> codes of the first row's problems, with their places: `bad-date@0`
     */
    public function problems(string $place = 'offset'): array
    {
        $problems = $this->rows[0]['problems'] ?? [];

        return array_values(array_map(
            static fn (mixed $p): string => \is_array($p) && \is_string($p['code'] ?? null)
                ? $p['code'].'@'.json_encode($p[$place] ?? null)
                : '?',
            \is_array($problems) ? $problems : [],
        ));
    }
}
