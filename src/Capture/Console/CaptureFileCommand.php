<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Capture\CaptureFailed;
use Ypomna\App\Capture\PageCapturer;
use Ypomna\App\Capture\Value\CaptureReport;
use Ypomna\App\Capture\Value\PageTask;
use Ypomna\App\FileCommands;
use Ypomna\App\Network\Browser\Chromium;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Network\Extent;
use Ypomna\App\Network\GatewayCertificate;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Network\WebOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\ApplicationClock;
use Ypomna\App\Shared\CommandLine\GivenFile;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\App\Shared\Settings;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Fetch\Cookie;
use Ypomna\Core\Fetch\Limits;

/** Captures one page in a WARC file, without the application and its database. */
#[AsCommand('capture', 'Captures one page in a WARC file')]
final class CaptureFileCommand extends Command
{
    protected function configure(): void
    {
        $this->addArgument('url', InputArgument::REQUIRED, 'Address of the page')
            ->addOption('out', null, InputOption::VALUE_REQUIRED, 'The WARC file; with .gz at its end, each record becomes a gzip member')
            ->addOption(
                'how', null, InputOption::VALUE_REQUIRED, 'rendered: in a browser; plain: fetched with its requisites, no script runs',
            )
            ->addOption(
                'resolve', null, InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY, 'HOST:PORT:ADDRESS, where a host is; * for any',
            )
            ->addOption('robots', null, InputOption::VALUE_REQUIRED, 'obey or ignore what robots.txt says', 'ignore')
            ->addOption('max-seconds', null, InputOption::VALUE_REQUIRED, 'How long it may take', '120')
            ->addOption('max-bytes', null, InputOption::VALUE_REQUIRED, 'How much may come over the wire', '268435456')
            ->addOption('phone', null, InputOption::VALUE_NONE, 'As on a telephone')
            ->addOption('no-scripts', null, InputOption::VALUE_NONE, 'The page’s scripts do not run')
            ->addOption('no-scroll', null, InputOption::VALUE_NONE, 'The page is not gone through to its end')
            ->addOption('wait', null, InputOption::VALUE_REQUIRED, 'Seconds to wait after loading')
            ->addOption(
                'extent',
                null,
                InputOption::VALUE_REQUIRED,
                'How much is captured: whole, text (what is written), part (one part as it looks) or address (its metadata)',
            )
            ->addOption('part', null, InputOption::VALUE_REQUIRED, 'Which part: words that stand in it, or a CSS selector')
            ->addOption('language', null, InputOption::VALUE_REQUIRED, 'Accept-Language')
            ->addOption('user-agent', null, InputOption::VALUE_REQUIRED, 'User-Agent')
            ->addOption(
                'header',
                null,
                InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY,
                '“Name: value”, of requests to the page’s own origin; the value is overwritten in what is kept',
            )
            ->addOption('header-everywhere', null, InputOption::VALUE_NONE, 'Send --header to every host that the page asks for something')
            ->addOption(
                'cookies', null, InputOption::VALUE_REQUIRED, 'A cookies.txt file of a sign-in; the values are overwritten in the capture',
            )
            ->addOption(
                'insecure', null, InputOption::VALUE_NONE, 'Take certificates that cannot be trusted, and record what is wrong with them',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'One JSON document');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $out = new Output($output, true === $input->getOption('json'));
        $target = self::text($input->getOption('out'))
            ?? throw new UnreadableFile('--out wants the name of the file that is to be written.');
        $browser = Settings::text('CHROMIUM', '/usr/bin/chromium');
        $how = self::text($input->getOption('how')) ?? (is_executable($browser) ? 'rendered' : 'plain');
        $robots = self::text($input->getOption('robots'));
        if (!\in_array($how, ['rendered', 'plain'], true) || !\in_array($robots, ['obey', 'ignore'], true)) {
            throw new UnreadableFile('--how wants rendered or plain, --robots wants obey or ignore.');
        }
        if ('rendered' === $how && !is_executable($browser)) {
            throw new UnreadableFile(\sprintf('There is no browser at “%s”; --how plain does without one.', $browser));
        }
        $extent = Extent::tryFrom(self::text($input->getOption('extent')) ?? 'whole')
            ?? throw new UnreadableFile('--extent wants whole, text, part or address.');
        $part = self::text($input->getOption('part')) ?? '';
        if (Extent::Part === $extent && ('' === $part || 'rendered' !== $how)) {
            throw new UnreadableFile('--extent part wants --part, with words that stand in it or a CSS selector, and a browser.');
        }
        $limits = new Limits(
            maxSeconds: self::number($input, 'max-seconds', 86_400),
            maxBytes: self::number($input, 'max-bytes', 1 << 40),
            idleSeconds: min(30, self::number($input, 'max-seconds', 86_400)),
        );
        $isGiven = static fn (string $name): bool => true === $input->getOption($name);
        $options = new CaptureOptions(
            rendered: 'rendered' === $how, limits: $limits, obey: 'obey' === $robots, insecure: $isGiven('insecure'),
            packed: str_ends_with(strtolower($target), '.gz'),
            scripts: !$isGiven('no-scripts'), phone: $isGiven('phone'), scroll: !$isGiven('no-scroll'),
            language: self::text($input->getOption('language')),
            agent: self::text($input->getOption('user-agent')), fields: self::fields($input), cookies: self::cookies($input),
            wait: null === $input->getOption('wait') ? 0.0 : (float) self::number($input, 'wait', 600), extent: $extent, part: $part,
            fieldsEverywhere: $isGiven('header-everywhere'),
        );
        $options = $options->signedIn(Url::typedUserinfo(self::text($input->getArgument('url')) ?? ''));
        if ((is_file($target) && filesize($target) > 0) || is_dir($target)) {
            throw new UnreadableFile(\sprintf('%s is there already; it is not written over.', $target));
        }
        if (!is_dir(\dirname($target)) || !is_writable(\dirname($target))) {
            throw new UnreadableFile(\sprintf('%s cannot be written: its folder is not there, or may not be written to.', $target));
        }
        $report = $this->keep(
            self::address(self::text($input->getArgument('url')) ?? ''),
            $target,
            $options,
            WebOptions::access(self::routes($input)),
            $browser,
        );
        clearstatcache(true, $target);
        $bytes = $report->written ? (int) filesize($target) : 0;
        $facts = $report->facts() + [
            'bytes' => $bytes,
            'file' => $report->written ? $target : null,
            'sha256' => $report->written ? (string) hash_file('sha256', $target) : null,
        ];
        $out->row(
            $facts,
            \sprintf(
                '%s: %s%s, %d parts, %d bytes in %s', $report->url, $report->verdict->value,
                null === $report->reason ? '' : ' ('.$report->reason.')', $report->parts, $bytes, $report->written ? $target : 'no file',
            ),
        );
        $this->tell($out, $report);
        if ('guarded' === $report->reason && !$report->written) {
            return FileCommands::CANNOT_WORK;
        }

        return Verdict::Whole === $report->verdict ? Command::SUCCESS : Command::FAILURE;
    }

    private function keep(Url $url, string $target, CaptureOptions $options, WebAccess $web, string $browser): CaptureReport
    {
        $work = sys_get_temp_dir().'/ypomna-capture-'.bin2hex(random_bytes(8));
        $files = new Filesystem();
        $files->mkdir($work, 0o700);
        $partial = $target.'.part-'.bin2hex(random_bytes(4));
        pcntl_async_signals(true);
        foreach ([\SIGTERM, \SIGINT, \SIGHUP] as $signal) {
            pcntl_signal($signal, static function (int $signal) use ($files, $work, $partial): void {
                Chromium::endAll();
                $files->remove([$work, $partial]);
                // As if it had ended us at once.
                exit(128 + $signal);
            });
        }
        try {
            $capturer = new PageCapturer($web, new GatewayCertificate($work.'/keys'), ApplicationClock::fromDsn('system:'), null, $browser);
            $task = new PageTask(new Actor(get_current_user()), $url, $work.'/capture', $partial, basename($target), $options);
            $report = $capturer->capture($task, static function (): void {});
            if ($report->written && !@rename($partial, $target)) {
                throw new UnreadableFile(\sprintf('%s cannot be written.', $target));
            }

            return $report;
        } catch (CaptureFailed $e) {
            throw new UnreadableFile($e->getMessage());
        } finally {
            $files->remove([$work, $partial]);
        }
    }

    /**
     * @return list<string>
     */
    private static function routes(InputInterface $input): array
    {
        /** @var list<string> $routes */
        $routes = $input->getOption('resolve');

        return $routes;
    }

    private function tell(Output $out, CaptureReport $report): void
    {
        if (null !== $report->message) {
            $out->tell($report->message);
        }
        if (!$out->json && [] !== $report->troubles) {
            $out->tell('Troubles: '.implode(', ', array_map(static fn (Trouble $trouble): string => $trouble->value, $report->troubles)));
        }
        foreach ($out->json ? [] : $report->gaps as $gap) {
            $out->tell(\sprintf('Not captured (%s, %s): %s', $gap->kind->value, $gap->reason->value, self::shown($gap)));
        }
    }

    private static function shown(Gap $gap): string
    {
        return (string) preg_replace('/[\x00-\x1f\x7f]/', '?', mb_strimwidth($gap->url, 0, 300, '…'));
    }

    /**
     * @return array<string, string>
     */
    private static function fields(InputInterface $input): array
    {
        $fields = [];
        /** @var list<string> $given */
        $given = $input->getOption('header');
        foreach ($given as $line) {
            if (1 !== preg_match('/^([!#$%&\'*+.^_`|~0-9A-Za-z-]+):[ \t]*([^\x00-\x08\x0a-\x1f\x7f]*)$/D', $line, $m)) {
                throw new UnreadableFile('--header wants “Name: value”.');
            }
            $fields[$m[1]] = trim($m[2]);
        }

        return $fields;
    }

    /**
     * @return list<Cookie>
     */
    private static function cookies(InputInterface $input): array
    {
        $file = self::text($input->getOption('cookies'));
        if (null === $file) {
            return [];
        }
        try {
            return Cookie::file((string) file_get_contents((new GivenFile($file))->path, false, null, 0, 1_048_576));
        } catch (\InvalidArgumentException $e) {
            throw new UnreadableFile($file.': '.$e->getMessage());
        }
    }

    private static function address(string $given): Url
    {
        try {
            return Url::typed($given);
        } catch (InvalidAddress $e) {
            throw new UnreadableFile($e->getMessage());
        }
    }

    private static function number(InputInterface $input, string $option, int $most): int
    {
        $value = self::text($input->getOption($option));
        if (null === $value || 1 !== preg_match('/^[1-9]\d{0,14}$/D', $value) || (int) $value > $most) {
            throw new UnreadableFile(\sprintf('--%s wants a number from 1 to %d.', $option, $most));
        }

        return (int) $value;
    }

    private static function text(mixed $value): ?string
    {
        return \is_string($value) && '' !== $value ? $value : null;
    }
}
