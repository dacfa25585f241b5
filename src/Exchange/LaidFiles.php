<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Event\RoundMade;
use Ypomna\App\Shared\Explanation;
use Ypomna\App\Shared\KnownPeople;

/**
 * A watched folder: in it each person who keeps pages may have a folder of their name. What is laid into that is taken in for them, and
 * moved aside into `taken` or `not taken`, with a line in `report.txt` that says what came of it. What is not moved is not lost: it is
 * looked at again at the next round.
 */
final readonly class LaidFiles
{
    private const AT_ONCE = 20;
    /** A file that was changed so lately may still be written to, in seconds. */
    private const AT_REST = 5;
    private const REPORT = 'report.txt';
    private const TAKEN = 'taken';
    private const NOT_TAKEN = 'not taken';
    /** What is under way: a line for each, its code and its name. */
    private const UNDER_WAY = '.under-way';

    public function __construct(
        private Arrivals $arrivals,
        private KnownPeople $people,
        private Gate $gate,
        private UrlGeneratorInterface $urls,
        private TranslatorInterface $translator,
        private ClockInterface $clock,
        private DataFolder $data,
        private LoggerInterface $logger,
        #[Autowire('%env(LAID_FOLDER)%')] private string $folder,
    ) {
    }

    #[AsEventListener(RoundMade::class)]
    public function look(): void
    {
        clearstatcache();
        $root = '' === $this->folder ? $this->data->laid() : $this->folder;
        foreach (is_dir($root) ? self::names($root) : [] as $name) {
            $place = $root.'/'.$name;
            $viewer = is_dir($place) && !is_link($place) ? $this->people->viewer($name) : null;
            if (null !== $viewer?->name && $this->gate->may($viewer, Right::Keep)) {
                try {
                    $this->report($place);
                    $this->takeFrom($place, new Actor($viewer->name));
                } catch (\RuntimeException $e) {
                    // A folder that cannot be worked with stops nothing else.
                    $this->logger->error('A watched folder cannot be worked with.', ['folder' => $place, 'exception' => $e]);
                }
            }
        }
    }

    private function takeFrom(string $place, Actor $person): void
    {
        $left = self::AT_ONCE;
        foreach (self::names($place) as $name) {
            $path = $place.'/'.$name;
            // A link could lead to what is not theirs.
            if (self::REPORT === $name || is_link($path) || !is_file($path) || filemtime($path) > time() - self::AT_REST || $left-- <= 0) {
                continue;
            }
            $body = self::opened($path);
            if (null === $body) {
                continue;
            }
            $kept = null;
            try {
                $digest = hash_init('sha256');
                hash_update_stream($digest, $body);
                rewind($body);
                $facts = fstat($body);
                $arrival = $this->arrivals->begin(
                    $person, $name, (int) ($facts['size'] ?? 0), (int) ($facts['mtime'] ?? 0), hash_final($digest),
                );
                $this->arrivals->add($arrival, $this->arrivals->size($arrival), $body);
                // Written down before it is moved: whoever is killed in between takes it in again, and it is known by its digest.
                $kept = self::aside($path, $place.'/'.self::TAKEN);
                file_put_contents($place.'/'.self::UNDER_WAY, $arrival->code.' '.$kept."\n", \FILE_APPEND | \LOCK_EX);
                $this->arrivals->complete($arrival);
            } catch (UnusableFile $e) {
                if (null === $kept) {
                    self::aside($path, $place.'/'.self::NOT_TAKEN);
                }
                $this->write($place, $name, $e->explanation());
            } finally {
                fclose($body);
            }
        }
    }

    /**
     * What is read is the plain file that was looked at, even if somebody puts a link in its place meanwhile.
     *
     * @return resource|null null if it is another
     */
    private static function opened(string $path)
    {
        $body = @fopen($path, 'r');
        $there = @lstat($path);
        $read = false === $body ? false : fstat($body);
        $isPlain = false !== $there && false !== $read && 0o100000 === ($there['mode'] & 0o170000)
            && [$there['dev'], $there['ino']] === [$read['dev'], $read['ino']];
        if (false !== $body && !$isPlain) {
            fclose($body);
        }

        return false !== $body && $isPlain ? $body : null;
    }

    private function report(string $place): void
    {
        $file = $place.'/'.self::UNDER_WAY;
        $open = [];
        foreach (is_file($file) ? (array) file($file, \FILE_IGNORE_NEW_LINES) : [] as $line) {
            [$code, $name] = explode(' ', (string) $line, 2) + ['', ''];
            $arrival = $this->arrivals->byCode($code);
            if (null !== $arrival && !$arrival->state->isFinal()) {
                $open[] = $line;
            } elseif (null !== $arrival) {
                $this->ended($place, $name, $arrival);
            }
        }
        if (is_file($file)) {
            file_put_contents($file, [] === $open ? '' : implode("\n", $open)."\n", \LOCK_EX);
        }
    }

    private function ended(string $place, string $name, Arrival $arrival): void
    {
        if (ArrivalState::Refused === $arrival->state) {
            if (is_file($place.'/'.self::TAKEN.'/'.$name)) {
                self::aside($place.'/'.self::TAKEN.'/'.$name, $place.'/'.self::NOT_TAKEN);
            }
            $this->write($place, $name, Explanation::of($arrival->message ?? ''));

            return;
        }
        $this->write($place, $name, new Explanation('exchange.laid_file_is_taken', [
            'n' => $arrival->captures, 'where' => null === $arrival->captureCode
                ? $this->urls->generate('import', [], UrlGeneratorInterface::ABSOLUTE_URL)
                : $this->urls->generate('read', ['code' => $arrival->captureCode], UrlGeneratorInterface::ABSOLUTE_URL),
        ]));
    }

    private function write(string $place, string $name, Explanation $what): void
    {
        $line = $this->clock->now()->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z').' '
            .preg_replace('/[\x00-\x1f\x7f]+/', ' ', $name).': '.preg_replace('/\s+/', ' ', $what->trans($this->translator))."\n";
        file_put_contents($place.'/'.self::REPORT, $line, \FILE_APPEND | \LOCK_EX);
    }

    /** @return string its name there: nothing that is there already is written over */
    private static function aside(string $path, string $folder): string
    {
        if (!is_dir($folder) && !@mkdir($folder, 0o700) && !is_dir($folder)) {
            throw new \RuntimeException(\sprintf('“%s” cannot be made.', $folder));
        }
        preg_match('/^(.+?)((?:\.[A-Za-z0-9]{1,6}){0,2})$/sD', basename($path), $m);
        [, $stem, $ending] = $m + ['', basename($path), ''];
        $name = $stem.$ending;
        for ($n = 2; file_exists($folder.'/'.$name); ++$n) {
            $name = $stem.' '.$n.$ending;
        }
        if (!@rename($path, $folder.'/'.$name)) {
            throw new \RuntimeException(\sprintf('“%s” cannot be moved.', $path));
        }

        return $name;
    }

    /** @return list<string> what lies in a folder and is not hidden */
    private static function names(string $folder): array
    {
        return array_values(array_filter(false === ($all = @scandir($folder)) ? [] : $all,
            static fn (string $name): bool => '.' !== $name[0]));
    }
}
