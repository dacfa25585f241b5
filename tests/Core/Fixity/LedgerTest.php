<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fixity;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fixity\Ledger;
use Ypomna\Core\Fixity\LedgerFinding;
use Ypomna\Core\Fixity\LedgerLine;
use Ypomna\Tests\Support\Folder;

final class LedgerTest extends TestCase
{
    private Folder $folder;
    private string $path;
    private Ledger $ledger;

    protected function setUp(): void
    {
        $this->folder = new Folder();
        $this->path = $this->folder->path.'/ledger.txt';
        $this->ledger = new Ledger($this->path);
        foreach (['a', 'b', 'c', 'd'] as $n => $subject) {
            $this->ledger->append('capture.kept', $subject, ['n' => $n], new \DateTimeImmutable("2024-11-0{$n}T10:00:00Z"));
        }
    }

    public function testAnUntouchedLedgerHolds(): void
    {
        self::assertSame([], $this->ledger->check());
        $lines = [];
        foreach ($this->ledger->lines() as $text) {
            $line = LedgerLine::parse($text);
            self::assertNotNull($line);
            $lines[] = $line;
        }
        self::assertSame([1, 2, 3, 4], array_map(static fn (LedgerLine $line): int => $line->seq, $lines));
        self::assertSame(['n' => 2], $lines[2]->details);
        self::assertSame($lines[1]->hash, $lines[2]->previous);
    }

    public function testAnyoneCanCheckALineWithGeneralTools(): void
    {
        $line = explode("\n", (string) file_get_contents($this->path))[2];
        exec('printf %s '.escapeshellarg($line).' | cut -c66- | tr -d "\n" | sha256sum', $out);
        self::assertSame(substr($line, 0, 64), substr($out[0] ?? '', 0, 64));
    }

    public function testAnAlteredLineIsNamed(): void
    {
        $this->rewrite(static fn (array $lines): array => array_replace($lines, [1 => str_replace('"b"', '"B"', $lines[1])]));
        self::assertSame([2], self::numbers($this->ledger->check()));
    }

    public function testALineThatWasTakenOutIsNoticedAtTheNextOne(): void
    {
        $this->rewrite(static fn (array $lines): array => [$lines[0], $lines[2], $lines[3]]);
        self::assertSame([2], self::numbers($this->ledger->check()));
    }

    public function testALineThatWasRewrittenWithItsHashIsNoticedAtTheNextOne(): void
    {
        $this->rewrite(static function (array $lines): array {
            $json = str_replace('"b"', '"B"', substr($lines[1], 65));

            return array_replace($lines, [1 => hash('sha256', $json).' '.$json]);
        });
        self::assertSame([3], self::numbers($this->ledger->check()));
    }

    public function testLinesThatChangedPlacesAreNoticed(): void
    {
        $this->rewrite(static fn (array $lines): array => [$lines[0], $lines[2], $lines[1], $lines[3]]);
        self::assertSame([2, 3, 4], self::numbers($this->ledger->check()));
    }

    public function testNonsenseIsNamedAndTheRestIsStillChecked(): void
    {
        $this->rewrite(static fn (array $lines): array => array_replace($lines, [2 => 'garbage']));
        self::assertSame([3, 4], self::numbers($this->ledger->check()));
    }

    public function testALineThatACrashCutShortIsKeptInTheNextOne(): void
    {
        file_put_contents($this->path, 'half a li', \FILE_APPEND);
        $line = $this->ledger->append('capture.kept', 'e', [], new \DateTimeImmutable('2024-11-05'));
        self::assertSame(bin2hex('half a li'), $line->details['torn'] ?? null);
        self::assertSame(5, $line->seq);
        self::assertSame([], $this->ledger->check());
    }

    public function testNothingIsAddedBehindALineThatCannotBeRead(): void
    {
        file_put_contents($this->path, "garbage\n", \FILE_APPEND);
        $this->expectException(\RuntimeException::class);
        $this->expectExceptionMessage('altered');
        $this->ledger->append('capture.kept', 'e', [], new \DateTimeImmutable('2024-11-05'));
    }

    public function testSeveralProcessesMayAppendAtOnce(): void
    {
        $children = [];
        for ($i = 0; $i < 4; ++$i) {
            $pid = pcntl_fork();
            if (0 === $pid) {
                for ($k = 0; $k < 15; ++$k) {
                    $this->ledger->append('capture.kept', "p{$i}-{$k}", [], new \DateTimeImmutable('2024-11-05'));
                }
                posix_kill((int) getmypid(), \SIGKILL);
            }
            $children[] = $pid;
        }
        foreach ($children as $pid) {
            pcntl_waitpid($pid, $status);
        }
        self::assertSame([], $this->ledger->check());
        self::assertCount(64, iterator_to_array($this->ledger->lines(), false));
    }

    public function testAFullDiskLeavesNoHalfLine(): void
    {
        $code = 'require "'.\dirname(__DIR__, 3)
            .'/vendor/autoload.php"; $l = new Ypomna\Core\Fixity\Ledger($argv[1]); for (;;) { try { $l->append("capture.kept", "x", [],'
                .' new DateTimeImmutable("2024-11-05")); } catch (RuntimeException $e) { echo $e->getMessage(); exit(3); } }';
        exec("trap '' XFSZ; ulimit -f 4; php -r ".escapeshellarg($code).' '.escapeshellarg($this->path), $out, $exit);
        self::assertSame(3, $exit);
        self::assertStringContainsString('took no more', implode('', $out));
        self::assertStringEndsWith("\n", (string) file_get_contents($this->path));
        self::assertSame([], $this->ledger->check());
    }

    /**
     * @param \Closure(list<string>): array<string> $change
     */
    private function rewrite(\Closure $change): void
    {
        file_put_contents($this->path, implode("\n", $change(explode("\n", rtrim((string) file_get_contents($this->path)))))."\n");
    }

    /**
     * @param list<LedgerFinding> $findings
     *
     * @return list<int>
     */
    private static function numbers(array $findings): array
    {
        return array_map(static fn (LedgerFinding $finding): int => $finding->line, $findings);
    }
}
