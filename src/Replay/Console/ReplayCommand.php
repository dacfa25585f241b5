<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Console;

use Revolt\EventLoop;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Network\Listener;
use Ypomna\App\Replay\FileHoldings;
use Ypomna\App\Replay\OpenRights;
use Ypomna\App\Replay\PageAnswers;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\PageWords;
use Ypomna\App\Replay\ReaderWindow;
use Ypomna\App\Replay\ReadingProof;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Replay\ReplayServer;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\Conversion;
use Ypomna\App\Store\ConversionFailed;
use Ypomna\App\Store\Value\FileKind;
use Ypomna\Core\Warc\WarcError;

/** Serves files for reading, without the application and its database, until it is ended. */
#[AsCommand('replay', 'Serves WARC or MHTML files for reading in a browser, until it is ended')]
final class ReplayCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument('file', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'WARC or MHTML files; - is standard input')
            ->addOption('port', null, InputOption::VALUE_REQUIRED, 'Port on loopback; a free one is taken otherwise')
            ->addOption('json', null, InputOption::VALUE_NONE, 'One JSON object a line: so it is printed anyway');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $port = $input->getOption('port') ?? '0';
        if (!\is_string($port) || 1 !== preg_match('/^\d{1,5}$/D', $port) || (int) $port > 65_535) {
            throw new UnreadableFile('--port wants a number from 1 to 65535.');
        }
        $out = new Output($output, true);
        $work = sys_get_temp_dir().'/ypomna-replay-'.bin2hex(random_bytes(8));
        (new Filesystem())->mkdir($work, 0o700);
        try {
            /** @var list<string> $names */
            $names = $input->getArgument('file');
            $given = array_map(static fn (string $name): GivenFile => new GivenFile($name), $names);
            [$holdings, $pages] = $this->read($given, $work);
            $this->serve($holdings, $pages, (int) $port, $out);
        } finally {
            (new Filesystem())->remove($work);
        }

        return Command::SUCCESS;
    }

    /**
     * @param list<GivenFile> $files
     *
     * @return array{FileHoldings, list<array{ReadCapture, string|null}>}
     */
    private function read(array $files, string $work): array
    {
        $holdings = new FileHoldings();
        $pages = [];
        foreach ($files as $n => $file) {
            try {
                $kind = FileKind::of($file->path) ?? throw new UnreadableFile($file->name.' is no WARC and no MHTML file.');
                $path = $file->path;
                if (FileKind::Warc !== $kind) {
                    $path = $work.'/'.$n.'.warc.gz';
                    $moment = (new \DateTimeImmutable('@'.(int) filemtime($file->path)))->setTimezone(new \DateTimeZone('UTC'));
                    (new Conversion(new DataFolder($work)))->toWarc(
                        $kind, $file->path, $file->name, (string) hash_file('sha256', $file->path), $moment, $path,
                    );
                }
                array_push($pages, ...$holdings->add($path));
            } catch (WarcError|ConversionFailed $e) {
                throw new UnreadableFile($file->name.': '.$e->getMessage());
            }
        }

        return [$holdings, $pages];
    }

    /**
     * @param list<array{ReadCapture, string|null}> $pages
     */
    private function serve(FileHoldings $holdings, array $pages, int $port, Output $out): void
    {
        $root = Settings::program();
        $hosts = new PageHosts('localhost');
        $words = new PageWords('This picture was not captured', 'Certainly not what was there then', self::notKept(...));
        $proof = ReadingProof::passing();
        $window = new ReaderWindow($holdings, $hosts, $proof, $pages, $root.'/public');
        $server = new ReplayServer(
            $hosts,
            new PageAnswers(
                $hosts,
                new OpenRights(Viewer::system()),
                $holdings,
                $words,
                trim((string) file_get_contents($root.'/assets/replay-shim.js')),
                $proof,
                ReplayServer::windows(...),
            ),
            $window,
        );
        try {
            $listener = Listener::open('127.0.0.1:'.$port, $server->serve(...), []);
        } catch (\RuntimeException $e) {
            throw new UnreadableFile($e->getMessage());
        }
        $at = ':'.$listener->port();
        foreach ($pages as [$capture]) {
            $row = [
                'url' => $capture->url, 'capturedAt' => (string) preg_replace('/\.0+Z$/', 'Z', $capture->at->format('Y-m-d\TH:i:s.u\Z')),
                'open' => 'http://'.ReplayServer::WINDOW.$at.'/c/'.$capture->code,
                'frame' => $window->frame($capture, ReplayMode::Alive, $at),
            ];
            $out->row($row, '');
        }
        foreach ([\SIGTERM, \SIGINT] as $signal) {
            EventLoop::onSignal($signal, static function (): void {
                EventLoop::getDriver()->stop();
            });
        }
        // Only when it runs does it hear a signal: who is told before could end it the hard way.
        EventLoop::delay(0.0, static fn () => $out->row(['ready' => true], ''));
        EventLoop::setErrorHandler(static function (\Throwable $e) use ($out): void {
            $out->tell('A request could not be answered: '.$e->getMessage());
        });
        EventLoop::run();
        $listener->close();
    }

    private static function notKept(string $url, string $inject): string
    {
        return '<!doctype html><html lang="en"><head>'.$inject
            .'<meta charset="utf-8"><title>Not kept</title><style>body{font:17px/1.55'
                .' Georgia,serif;background:#f6f1e7;color:#1f2421;margin:0;padding:12vh 8vw}p{max-width:36rem}.u{font:15px/1.5'
                    .' ui-monospace,monospace;overflow-wrap:anywhere}'
                    .'@media(prefers-color-scheme:dark){body{background:#171a18;color:#e8e0d0}}</style></head>'
            .'<body><h1>This page was not kept</h1><p class="u"><bdi>'.htmlspecialchars($url, \ENT_QUOTES | \ENT_SUBSTITUTE)
                .'</bdi></p><p>There was a link to it, but it was not kept in these files. Nothing is fetched from today’s web in its'
                    .' place.</p></body></html>';
    }
}
