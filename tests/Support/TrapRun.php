<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Process\Process;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcReader;

/**
 * Keeps pages full of traps with the capture command, several at a time, and says what is wrong with each file.
 *
 * @phpstan-import-type Page from TrapPages
 */
final class TrapRun
{
    private Process $web;
    /** @var array<string, Process> captures that were begun, by how and name */
    private array $begun = [];
    public readonly int $port;

    public function __construct(private readonly string $folder)
    {
        @mkdir($folder, 0o755, true);
        $this->port = FreePort::pair();
        $root = \dirname(__DIR__, 2);
        $this->web = new Process(
            ['php', $root.'/standin/web.php', $folder, '127.0.0.1:'.$this->port, '127.0.0.1:'.($this->port + 1), '2'],
            env: ['STANDIN_SITES' => $root.'/tests/Support/trap-pages.php'],
        );
        $this->web->start();
        for ($n = 0; $n < 300
            && (!is_file($folder.'/certificates/authority.pem') || false === @fsockopen('127.0.0.1', $this->port)); ++$n) {
            usleep(50_000);
        }
    }

    public function stop(): void
    {
        foreach ($this->begun as $capture) {
            $capture->stop(3, \SIGTERM);
        }
        $this->web->stop(3, \SIGTERM);
    }

    /**
     * What is wrong with the file of one page. While it is waited for, those that will be asked for next are captured already.
     *
     * @param list<string> $names all that will be asked for, in their order
     *
     * @return list<string>
     */
    public function wrong(string $name, string $how, array $names, int $atOnce): array
    {
        foreach (\array_slice($names, (int) array_search($name, $names, true), $atOnce) as $next) {
            if (!isset($this->begun[$how.' '.$next])) {
                $this->begun[$how.' '.$next] = $this->capture($next, $how);
                $this->begun[$how.' '.$next]->start();
            }
        }
        $this->begun[$how.' '.$name]->wait();

        return $this->judge($name, $how, $this->begun[$how.' '.$name]);
    }

    private function capture(string $name, string $how): Process
    {
        $page = TrapPages::pages()[$name];
        $file = $this->file($name, $how);
        @unlink($file);
        $command = [
            'php', \dirname(__DIR__, 2).'/bin/ypomna', 'capture',
            (($page['https'] ?? false) ? 'https' : 'http').'://'.TrapPages::HOST.'/'.$name, '--how', $how, '--out', $file, '--json',
            '--resolve', 'pages.test:80:127.0.0.1:'.$this->port, '--resolve', '*.pages.test:80:127.0.0.1:'.$this->port, '--resolve',
            '*:443:127.0.0.1:'.$this->port,
        ];
        foreach (['seconds' => '--max-seconds', 'bytes' => '--max-bytes'] as $key => $option) {
            if (isset($page[$key])) {
                array_push($command, $option, (string) $page[$key]);
            }
        }

        return (new Process($command, env: [
            'SSL_CERT_FILE' => $this->folder.'/certificates/authority.pem', 'CHROMIUM' => self::engine(),
        ]))->setTimeout(200);
    }

    /** The browser's engine alone, where it is installed: a hundred pages are captured in less than half the time. */
    private static function engine(): string
    {
        $engine = '/usr/bin/chromium-headless-shell';

        return is_executable($engine) ? $engine : '/usr/bin/chromium';
    }

    private function file(string $name, string $how): string
    {
        return $this->folder.'/'.$name.'-'.$how.'.warc.gz';
    }

    public function begin(string $address, string $file): Process
    {
        $process = new Process([
            'php', \dirname(__DIR__, 2).'/bin/ypomna', 'capture', $address, '--out', $file, '--json', '--resolve',
            'pages.test:80:127.0.0.1:'.$this->port,
        ]);
        $process->start();

        return $process;
    }

    /**
     * What the command says of a page, with these options.
     *
     * @param list<string> $options
     *
     * @return array{int|null, array<string, mixed>, string} status, document, messages
     */
    public function said(string $address, string $file, array $options): array
    {
        $process = new Process([
            'php', \dirname(__DIR__, 2).'/bin/ypomna', 'capture', $address, '--out', $file, '--json', '--resolve',
            'pages.test:80:127.0.0.1:'.$this->port, '--resolve', '*.pages.test:80:127.0.0.1:'.$this->port, ...$options,
        ]);
        $process->setTimeout(120)->run();
        /** @var array<string, mixed> $data */
        $data = json_decode($process->getOutput(), true) ?? [];

        return [$process->getExitCode(), $data, $process->getErrorOutput()];
    }

    /**
     * @return list<string>
     */
    private function judge(string $name, string $how, Process $process): array
    {
        $page = TrapPages::pages()[$name];
        $said = json_decode($process->getOutput(), true);
        if (!\is_array($said)) {
            return ['it said nothing: '.trim($process->getErrorOutput().$process->getOutput())];
        }
        $rendered = 'rendered' === $how;
        $verdict = $rendered || !isset($page['plain']) ? $page['verdict'] ?? 'whole' : $page['plain'];
        $wrong = [];
        if ($rendered || isset($page['plain']) || !isset($page['verdict'])) {
            $wrong = $said['verdict'] === $verdict
                ? []
                : [\sprintf('called %s (%s), not %s', self::word($said['verdict']), self::word($said['reason']), $verdict)];
        }
        if ((0 === $process->getExitCode()) !== ('whole' === $said['verdict'])) {
            $wrong[] = 'ended with '.$process->getExitCode();
        }
        [$addresses, $texts] = $this->read($this->file($name, $how));
        [$there, $lacking] = TrapPages::held($name, $rendered);
        foreach ([...$there, ...$lacking] as $wanted) {
            if (isset($addresses[self::full($wanted)]) !== \in_array($wanted, $there, true)) {
                $wrong[] = (\in_array($wanted, $there, true) ? 'not in the file: ' : 'in the file: ').$wanted;
            }
        }
        if (!$rendered) {
            return $wrong;
        }
        foreach ($page['text'] ?? [] as $text) {
            foreach (['text/html', 'text/plain'] as $type) {
                $wrong = [
                    ...$wrong,
                    ...(str_contains(implode("\n", $texts[$type] ?? []), $text) ? [] : [\sprintf('“%s” is in no %s', $text, $type)]),
                ];
            }
        }
        if (isset($page['troubles']) || 'whole' === $verdict) {
            $wrong = [...$wrong, ...($said['troubles'] === ($page['troubles'] ?? []) ? [] : ['troubles: '.json_encode($said['troubles'])])];
        }
        $gaps = [];
        foreach (\is_array($said['gaps']) ? $said['gaps'] : [] as $gap) {
            $gap = \is_array($gap) ? $gap : [];
            $gaps[self::word($gap['url'] ?? null)] = self::word($gap['kind'] ?? null).' '.self::word($gap['reason'] ?? null);
        }
        $expected = [];
        foreach ($page['gaps'] ?? [] as $address => $gap) {
            $expected[self::full($address)] = $gap;
        }
        ksort($gaps);
        ksort($expected);
        if ((isset($page['gaps']) || 'whole' === $verdict) && $gaps !== $expected) {
            $wrong[] = 'gaps: '.json_encode($gaps, \JSON_UNESCAPED_SLASHES);
        }
        if ([] !== $said['stray']) {
            $wrong[] = 'stray: '.json_encode($said['stray'], \JSON_UNESCAPED_SLASHES);
        }

        return $wrong;
    }

    /**
     * @return array{array<string, true>, array<string, list<string>>} addresses of answers, and converted texts by media type
     */
    private function read(string $path): array
    {
        $addresses = $texts = [];
        foreach (is_file($path) ? WarcReader::open($path)->records() : [] as $record) {
            $url = $record->header->uri() ?? '';
            if ($record->header->is(RecordType::Response) || $record->header->is(RecordType::Revisit)) {
                $addresses[$url] = true;
            } elseif ($record->header->is(RecordType::Conversion)) {
                $texts[explode(';', $record->header->contentType() ?? '')[0]][] = Body::collect($record->block(), 50_000_000);
            }
        }

        return [$addresses, $texts];
    }

    private static function full(string $address): string
    {
        return str_starts_with($address, '/') ? 'http://'.TrapPages::HOST.$address : $address;
    }

    private static function word(mixed $value): string
    {
        return \is_scalar($value) ? (string) $value : '-';
    }
}
