<?php

declare(strict_types=1);

namespace Ypomna\App\Archives;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Archives\Entity\OtherArchive;
use Ypomna\App\Archives\Value\HeldByArchive;
use Ypomna\App\Network\Concurrently;
use Ypomna\App\Network\WebAccess;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Event\SettingChanged;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Ask;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Http\HttpDate;
use Ypomna\Core\Memento\HeldElsewhere;
use Ypomna\Core\Memento\TimeMap;

/** The other archives that are known here, and what they say they hold (RFC 7089, the client's part). */
final readonly class OtherArchives
{
    private const SECONDS = 8;
    private const MAX_LIST = 4_194_304;
    /** Pages of one list. */
    private const PAGES = 12;

    public function __construct(
        private EntityManagerInterface $entities,
        private WebAccess $web,
        private ClockInterface $clock,
        private DataFolder $folder,
        private EventDispatcherInterface $events,
    ) {
    }

    /**
     * @return list<OtherArchive>
     */
    public function all(): array
    {
        return $this->entities->getRepository(OtherArchive::class)->findBy([], ['name' => 'ASC', 'id' => 'ASC'], 200);
    }

    public function byCode(string $code): ?OtherArchive
    {
        return $this->entities->getRepository(OtherArchive::class)->findOneBy(['code' => $code]);
    }

    /**
     * @throws InvalidArchive
     */
    public function add(Actor $by, string $name, string $timeGate, string $timeMap): OtherArchive
    {
        $name = mb_substr(trim((string) preg_replace('/\s+/u', ' ', mb_scrub($name))), 0, 120);
        if ('' === $name) {
            throw new InvalidArchive('archives.needs_a_name');
        }
        [$timeGate, $timeMap] = [trim($timeGate), trim($timeMap)];
        if ('' === $timeGate && '' === $timeMap) {
            throw new InvalidArchive('archives.needs_an_address');
        }
        foreach ([$timeGate, $timeMap] as $address) {
            $url = '' === $address ? null : Url::tryParse(str_replace('{url}', '', $address));
            if ('' !== $address && (null === $url || !$url->isWeb() || \strlen($address) > 500)) {
                throw new InvalidArchive('archives.is_no_web_address', ['given' => mb_strimwidth($address, 0, 120, '…')]);
            }
        }
        $archive = new OtherArchive(Codes::random(), $name, $timeGate, $timeMap);
        $this->entities->persist($archive);
        $this->entities->flush();

        $this->events->dispatch(new SettingChanged($by, 'archive: '.$name));

        return $archive;
    }

    public function askOrNot(Actor $by, OtherArchive $archive, bool $asked): void
    {
        $archive->asked = $asked;
        $this->entities->flush();
        $this->events->dispatch(new SettingChanged($by, ($asked ? 'archive asked: ' : 'archive not asked: ').$archive->name));
    }

    /**
     * Asks all of them at once.
     *
     * @return list<HeldByArchive> in the order of their names
     */
    public function whatTheyHold(Url $url): array
    {
        $archives = array_values(array_filter($this->all(), static fn (OtherArchive $archive): bool => $archive->asked));
        $errands = new ArchiveRequests($this->web, $this->clock, $this->folder->newWork('ask'));
        try {
            $tasks = array_map(
                fn (OtherArchive $archive): \Closure => fn (): HeldByArchive => $this->listOf(
                    $archive, $url, $errands->ask($this->limits()),
                ),
                $archives,
            );
            $told = Concurrently::run($tasks, (float) self::SECONDS);
        } finally {
            $errands->clean();
        }

        return array_map(
            static fn (int $n, OtherArchive $archive): HeldByArchive => $told[$n] instanceof FetchFailed
                ? new HeldByArchive($archive, [], $told[$n]->getMessage())
                : $told[$n],
            array_keys($archives),
            $archives,
        );
    }

    /** Where an archive is asked for an address: what stands for `{url}`, else behind it. */
    public static function asking(string $service, Url $url): Url
    {
        $address = str_contains($service, '{url}') ? str_replace('{url}', rawurlencode((string) $url), $service) : $service.$url;

        return Url::tryParse($address)
            ?? throw new FetchFailed(
                FailureReason::BadResponse, \sprintf('“%s” is not an address that can be asked.', mb_strimwidth($address, 0, 200, '…')),
            );
    }

    /**
     * @throws FetchFailed
     */
    private function listOf(OtherArchive $archive, Url $url, Ask $ask): HeldByArchive
    {
        $held = $seen = [];
        $pages = [];
        if ('' !== $archive->timeMap) {
            $pages[] = self::asking($archive->timeMap, $url);
        } else {
            $gate = self::asking($archive->timeGate, $url);
            $answer = $ask->get($gate, ['Accept-Datetime' => HttpDate::write($this->clock->now())], false);
            $map = TimeMap::read(implode(', ', $answer->head->fields->all('Link')), $gate);
            $pages = $map->further;
            $held = $map->held;
            if ([] === $pages && [] === $held && 404 !== $answer->head->status) {
                return new HeldByArchive(
                    $archive, [], \sprintf('Its TimeGate answers %d and names no captures.', $answer->head->status ?? 0),
                );
            }
        }
        $error = null;
        while ([] !== $pages && \count($seen) < self::PAGES) {
            $page = array_shift($pages);
            if (isset($seen[(string) $page])) {
                continue;
            }
            $seen[(string) $page] = true;
            try {
                $answer = $ask->get($page);
                if (200 !== $answer->head->status) {
                    $error = \in_array($answer->head->status, [404, 410], true)
                        ? $error
                        : \sprintf('It answers %d.', $answer->head->status ?? 0);
                    continue;
                }
                $map = TimeMap::read($answer->text(self::MAX_LIST), $answer->url);
                array_push($held, ...$map->held);
                array_push($pages, ...$map->further);
            } catch (FetchFailed $e) {
                $error = $e->getMessage();
            }
        }
        if ([] !== $pages && null === $error) {
            $error = \sprintf('Its list has more than %d pages; the rest was not asked for.', self::PAGES);
        }

        return new HeldByArchive($archive, self::sorted($held), $error);
    }

    /**
     * @param list<HeldElsewhere> $held
     *
     * @return list<HeldElsewhere> newest first, each once
     */
    private static function sorted(array $held): array
    {
        $once = [];
        foreach ($held as $one) {
            $once[$one->at->getTimestamp().' '.$one->url] = $one;
        }
        usort($once, static fn (HeldElsewhere $a, HeldElsewhere $b): int => $b->at <=> $a->at);

        return $once;
    }

    private function limits(): Limits
    {
        return new Limits(
            maxSeconds: self::SECONDS, maxBytes: 4 * self::MAX_LIST, maxExchanges: 60, idleSeconds: self::SECONDS, connectSeconds: 5,
        );
    }
}
