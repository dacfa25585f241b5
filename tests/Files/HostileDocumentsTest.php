<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;
use Ypomna\Tests\Support\HostileDocuments;
use Ypomna\Tests\Support\HostileReaders;

/**
 * Documents made to cost much, read by every part that reads what others wrote, in processes with the memory that a request
 * has. A process that does not come to its end is ended by its share of the processor; how long each takes is measured by
 * bench/hostile.
 */
final class HostileDocumentsTest extends TestCase
{
    private const MEMORY = '128M';
    private const PROCESSOR_SECONDS = 240;
    /** What costs each of them most at the size that a page may have in a request. */
    private const HEAVY = [
        'requisites' => ['attrs', 'imgs'], 'glance' => ['title', 'comments'], 'page' => ['attrs', 'w-urls'],
        'main text' => ['comments2', 'div'], 'rewriting markup' => ['imgs', 'attrs3', 'comments'],
        'address list' => ['www'], 'rewriting styles' => ['css2'], 'draft markdown' => ['links2', 'backticks'], 'draft html' => ['hlinks'],
        'draft text' => ['dates'], 'draft bibtex' => ['at'], 'draft ris' => ['risr'],
        'draft csl' => ['cslr'], 'draft csv' => ['csvr'], 'draft docx' => ['w-runs', 't-urls'], 'draft odt' => ['t-notes'],
        'text' => ['sentence'], 'table' => ['csv2'],
    ];

    #[DataProvider('readers')]
    public function testNothingIsTooMuchForAReader(string $reader): void
    {
        $names = HostileDocuments::names(HostileReaders::isOffice($reader));
        self::assertCount(\count($names), $this->readAll(array_map(static fn (string $name): string => $reader.'|'.$name, $names), 32_768));
        foreach (['-->', '">', '<'] as $end) {
            self::assertCount(
                \count($names), $this->readAll(array_map(static fn (string $name): string => $reader.'|'.$name, $names), 8_192, $end),
            );
        }
    }

    /** @return iterable<string, array{string}> */
    public static function readers(): iterable
    {
        foreach (HostileReaders::NAMES as $name) {
            yield $name => [$name];
        }
    }

    #[DataProvider('heavy')]
    public function testALargeOneFitsIntoTheMemoryOfARequest(string $reader): void
    {
        $lines = array_map(static fn (string $name): string => $reader.'|'.$name, self::HEAVY[$reader]);
        self::assertCount(\count($lines), $this->readAll($lines, 4_194_304));
    }

    /** @return iterable<string, array{string}> */
    public static function heavy(): iterable
    {
        foreach (array_keys(self::HEAVY) as $name) {
            yield $name => [$name];
        }
    }

    /**
     * @param list<string> $lines
     *
     * @return list<string> what was read
     */
    private function readAll(array $lines, int $bytes, string $end = ''): array
    {
        $command = [
            'bash', '-c', 'ulimit -t '.self::PROCESSOR_SECONDS.'; exec "$@"', 'bash', \PHP_BINARY, '-d', 'memory_limit='.self::MEMORY,
            \dirname(__DIR__).'/Support/hostile.php', (string) $bytes, $end,
        ];
        $process = new Process($command, null, null, implode("\n", $lines)."\n", null);
        $process->run();
        $told = array_values(array_filter(explode("\n", $process->getOutput()), static fn (string $line): bool => '' !== $line));
        self::assertSame(
            0,
            $process->getExitCode(),
            'read '.\count($told).', then '.($lines[\count($told)] ?? '').': '.mb_strimwidth($process->getErrorOutput().end($told), 0, 400),
        );

        return $told;
    }
}
