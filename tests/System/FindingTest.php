<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\Stack;
use Ypomna\Tests\Support\WarcBuilder;

/** The index of words, while workers are killed over it, and with what nobody would write. */
final class FindingTest extends TestCase
{
    private const PAGES = 160;
    private static Stack $stack;
    private static string $token = '';

    public static function setUpBeforeClass(): void
    {
        self::$stack = new Stack(getenv('YPOMNA_TEST_TMP').'/finding', ['YPOMNA_WORKERS' => '2']);
        [$status, $said] = self::$stack->start(['--empty']);
        self::assertSame(0, $status, $said);
        $process = new \Symfony\Component\Process\Process(
            ['php', Stack::root().'/bin/ypomna', 'person:add', 'The Reader', '--role', 'reader', '--password-stdin'],
            env: ['YPOMNA_DATA' => self::$stack->data, 'APP_ENV' => 'prod'],
        );
        $process->setInput('a-long-pass-word-for-the-test')->mustRun();
        [, $said] = self::$stack->ypomna('token:add', 'The Reader');
        self::assertSame(1, preg_match('/ypomna_[\w-]+/', $said, $m));
        self::$token = $m[0];
    }

    public static function tearDownAfterClass(): void
    {
        self::$stack->stop();
    }

    public function testWorkersThatAreKilledLoseNothing(): void
    {
        $warc = new WarcBuilder('many');
        for ($n = 0; $n < self::PAGES; ++$n) {
            $warc->exchange("http://many.test/{$n}", '2024-06-01T10:00:00Z', '<title>Page '.$n.'</title><p>Every one has kelp, this one '
                .self::word($n).'. '.implode(' ', array_map(self::word(...), range(1_000 * $n + 1_000, 1_000 * $n + 1_400))));
        }
        $this->import($warc, 'many');
        for ($kills = 0; $kills < 4; ++$kills) {
            usleep(300_000);
            foreach (['worker', 'worker-2'] as $worker) {
                foreach (self::childrenOf((int) @file_get_contents(self::$stack->data.'/run/'.$worker.'.pid')) as $pid) {
                    posix_kill($pid, \SIGKILL);
                }
            }
        }
        // One that makes the index is killed over it, too, while it is held.
        $command = proc_open(
            ['php', Stack::root().'/bin/ypomna', 'search:index', '--wait', '--anew'], [], $pipes, null,
            ['YPOMNA_DATA' => self::$stack->data, 'APP_ENV' => 'prod', 'PATH' => (string) getenv('PATH')],
        );
        self::assertIsResource($command);
        usleep(900_000);
        proc_terminate($command, \SIGKILL);
        proc_close($command);
        self::assertSame(0, self::$stack->ypomna('search:index', '--wait')[0]);
        self::assertSame(self::PAGES, $this->found('kelp')['total']);
        foreach ([0, 77, self::PAGES - 1] as $n) {
            self::assertSame(["http://many.test/{$n}"], $this->urls($this->found(self::word($n).' kelp')), 'By a word that it alone has.');
        }
        // Another form of a word is found by what a killed worker learned, too.
        self::assertSame(self::PAGES, $this->found('pages')['total']);
        self::assertSame(
            ['n' => 0], self::$stack->row('SELECT COUNT(*) AS n FROM search_text WHERE is_indexed <> 1'),
        );
    }

    public function testWhatNobodyWouldWriteIsBoundedAndHurtsNothingElse(): void
    {
        $long = str_repeat('a', 1_000_000);
        $numbers = implode(' ', range(1, 1_000_000));
        $warc = new WarcBuilder('odd');
        foreach ([
            'long' => 'wrack before '.$long.' wrack behind', 'numbers' => 'wrack '.$numbers, 'picture' => 'wrack <img src=/broken.png>',
            'deep' => str_repeat('<div>', 60_000).'<p>wrack in the deep', 'plain' => 'wrack and nothing else',
        ] as $name => $text) {
            $warc->exchange('http://odd.test/'.$name, '2024-07-01T10:00:00Z', '<title>'.$name.'</title><p>'.$text);
        }
        $warc->exchange('http://odd.test/broken.png', '2024-07-01T10:00:06Z', "\x89PNG\r\n\x1a\n".str_repeat("\x00\xff", 4_000),
            'image/png');
        foreach (['paper' => self::pdf(5_000), 'broken' => substr(self::pdf(20), 0, 1_500)] as $name => $pdf) {
            $this->import(
                (new WarcBuilder($name))->exchange("http://odd.test/{$name}.pdf", '2024-07-01T10:00:02Z', $pdf, 'application/pdf'), $name,
            );
        }
        $this->import($warc, 'odd');
        [$status, $said] = self::$stack->ypomna('search:index', '--wait');
        self::assertSame(0, $status, $said);
        self::assertStringContainsString('too large to be read', $said, 'It is told what could not be read.');
        $found = $this->urls($this->found('wrack'));
        foreach (['long', 'numbers', 'picture', 'plain'] as $page) {
            self::assertContains('http://odd.test/'.$page, $found);
        }
        self::assertSame(['http://odd.test/paper.pdf'], $this->urls($this->found('"sheet '.self::word(4_999).'"')));
        self::assertSame(['http://odd.test/numbers'], $this->urls($this->found('"77777 77778"')));
        // Numbers are no words that are offered, and the word of a megabyte is none.
        self::assertSame(['n' => 0], self::$stack->row("SELECT COUNT(*) AS n FROM search_word WHERE word REGEXP '[0-9]'"));
        self::assertSame(['n' => 0], self::$stack->row('SELECT COUNT(*) AS n FROM search_word WHERE CHAR_LENGTH(word) > 30'));
        self::assertSame(200, $this->answered('/api/find?q='.str_repeat('a', 9_000)));
        self::assertSame(422, $this->answered('/api/find?q='.str_repeat('a', 10_001)));
    }

    private function import(WarcBuilder $warc, string $name): void
    {
        $path = getenv('YPOMNA_TEST_TMP').'/'.$name.'.warc.gz';
        file_put_contents($path, $warc->bytes());
        [$status, $said] = self::$stack->ypomna('import', $path);
        self::assertSame(0, $status, $said);
    }

    /** @return array<array-key, mixed> */
    private function found(string $asked): array
    {
        $said = json_decode($this->ask('/api/find?limit=100&q='.rawurlencode($asked))[1], true);
        self::assertIsArray($said);

        return $said;
    }

    /**
     * @param array<array-key, mixed> $found
     *
     * @return list<string>
     */
    private function urls(array $found): array
    {
        self::assertIsArray($found['items'] ?? null, (string) json_encode($found));

        return array_values(array_map(static fn (mixed $item): string => \is_array($item) && \is_string($item['url'] ?? null)
            ? $item['url'] : '', $found['items']));
    }

    private function answered(string $path): int
    {
        return $this->ask($path)[0];
    }

    /** @return array{int, string} */
    private function ask(string $path): array
    {
        $curl = curl_init('http://localhost:'.self::$stack->port.$path);
        curl_setopt_array($curl, [
            \CURLOPT_RETURNTRANSFER => true, \CURLOPT_HTTPHEADER => ['Authorization: Bearer '.self::$token], \CURLOPT_TIMEOUT => 60,
        ]);
        $body = curl_exec($curl);

        return [(int) curl_getinfo($curl, \CURLINFO_RESPONSE_CODE), \is_string($body) ? $body : ''];
    }

    /** A word of letters for a number. */
    private static function word(int $n): string
    {
        return 'mark'.strtr((string) $n, '0123456789', 'bcdfghjklm').'x';
    }

    /** @return list<int> */
    private static function childrenOf(int $pid): array
    {
        return $pid < 2 ? [] : array_values(array_map(
            intval(...), array_filter(
                explode(' ', trim((string) @file_get_contents("/proc/{$pid}/task/{$pid}/children"))),
                static fn (string $one): bool => '' !== $one,
            ),
        ));
    }

    private static function pdf(int $pages): string
    {
        $pdf = "%PDF-1.4\n";
        $places = [];
        $add = static function (string $object) use (&$pdf, &$places): void {
            $places[] = \strlen($pdf);
            $pdf .= \count($places)." 0 obj\n{$object}\nendobj\n";
        };
        $add('<< /Type /Catalog /Pages 2 0 R >>');
        $add('<< /Type /Pages /Kids ['.implode(' ', array_map(static fn (int $n): string => (4 + 2 * $n).' 0 R', range(0, $pages - 1)))
            .'] /Count '.$pages.' >>');
        $add('<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>');
        for ($n = 0; $n < $pages; ++$n) {
            $text = 'BT /F 12 Tf 50 700 Td (Survey of the sound as it was in spring, sheet '.self::word($n).'.) Tj ET';
            $add('<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents '.(5 + 2 * $n)
                .' 0 R /Resources << /Font << /F 3 0 R >> >> >>');
            $add('<< /Length '.\strlen($text).">>\nstream\n{$text}\nendstream");
        }
        $at = \strlen($pdf);
        $count = \count($places) + 1;
        $pdf .= "xref\n0 {$count}\n0000000000 65535 f \n".implode('', array_map(
            static fn (int $place): string => \sprintf("%010d 00000 n \n", $place), $places,
        ));

        return $pdf."trailer\n<< /Size {$count} /Root 1 0 R >>\nstartxref\n{$at}\n%%EOF\n";
    }
}
