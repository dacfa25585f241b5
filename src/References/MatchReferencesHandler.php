<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Archives\OtherArchives;
use Ypomna\App\Catalogue\CaptureContent;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Liveness\HeldText;
use Ypomna\App\References\Message\MatchReferences;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Citation\Fit;
use Ypomna\Core\Warc\WarcError;

/**
 * Finds for each reference the capture that lies nearest to its access date, and searches it for what the reference says; a
 * portion at a time, so that a killed worker loses little.
 */
#[AsMessageHandler]
final readonly class MatchReferencesHandler
{
    private const AT_ONCE = 60;
    private const ELSEWHERE = 8;
    private const SECONDS = 20.0;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private HeldText $held,
        private CaptureContent $content,
        private OtherArchives $archives,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    public function __invoke(MatchReferences $message): void
    {
        $this->entities->clear();
        $until = microtime(true) + self::SECONDS;
        $rows = $this->database->fetchAllAssociative(
            'SELECT id, position, url, accessed, quotes, claim, context, capture_code FROM reference WHERE list_id = ? AND position > ?'
                .($message->elsewhere ? ' AND capture_code IS NULL' : '').' ORDER BY position LIMIT '
                .($message->elsewhere ? self::ELSEWHERE : self::AT_ONCE),
            [$message->listId, $message->after],
        );
        $texts = [];
        $position = $message->after;
        foreach ($rows as $values) {
            $row = new Row($values);
            try {
                if ($message->elsewhere) {
                    $this->elsewhere($row);
                } else {
                    $this->match($row, $texts);
                }
            } catch (WarcError $e) {
                $this->logger->warning('A capture that a reference means cannot be read.', ['url' => $row->text('url'), 'exception' => $e]);
            }
            $position = $row->int('position');
            if (microtime(true) > $until) {
                break;
            }
        }
        $this->entities->clear();
        if ([] !== $rows) {
            $this->bus->dispatch(new MatchReferences($message->listId, $position, $message->elsewhere));
        } else {
            $this->database->executeStatement(
                'UPDATE reference_list SET matched_at = ? WHERE id = ?', [MomentType::text($this->clock->now()), $message->listId],
            );
        }
    }

    /** @param array<string, string> $texts by code, those that were read last */
    private function match(Row $row, array &$texts): void
    {
        $accessed = $row->textOrNull('accessed');
        $near = $this->nearestAlive(
            $row->text('url'), null === $accessed ? null : new \DateTimeImmutable($accessed.' 12:00', new \DateTimeZone('UTC')),
        );
        $fit = null;
        if (null !== $near) {
            [$capture, $latest] = $near;
            /** @var list<string> $quotes */
            $quotes = json_decode($row->text('quotes'), true);
            $said = $row->text('claim').' '.$row->text('context');
            $there = Fit::of($quotes, $said, $this->text($capture, $texts));
            $now = $latest->code === $capture->code ? $there : Fit::of($quotes, $said, $this->text($latest, $texts));
            $lost = [];
            foreach ($there->quotes as $n => $quote) {
                if ($quote['stands'] && !$now->quotes[$n]['stands']) {
                    $lost[] = $quote['text'];
                }
            }
            $fit = json_encode(['nearest' => $there->values(), 'lost' => $lost], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE);
        }
        $this->database->executeStatement(
            'UPDATE reference SET capture_code = ?, latest_code = ?, fit = ?, matched_at = ? WHERE id = ?',
            [$near[0]->code ?? null, $near[1]->code ?? null, $fit, MomentType::text($this->clock->now()), $row->int('id')],
        );
    }

    /**
     * @return array{Capture, Capture}|null the capture nearest to that moment of those that have the page itself, and the latest of them
     */
    private function nearestAlive(string $url, ?\DateTimeImmutable $moment): ?array
    {
        $latest = $this->held->latest($url)[0] ?? null;

        return null === $latest ? null : [null === $moment ? $latest : $this->held->nearest($url, $moment)[0] ?? $latest, $latest];
    }

    /** @param array<string, string> $texts */
    private function text(Capture $capture, array &$texts): string
    {
        $text = $texts[$capture->code] ?? null;
        if (null === $text) {
            $document = $this->content->document($capture);
            $text = $document->title."\n".$document->text();
            $texts = \array_slice($texts, -10, null, true) + [$capture->code => $text];
        }

        return $text;
    }

    private function elsewhere(Row $row): void
    {
        $url = Url::tryParse($row->text('url'))?->withoutFragment();
        $best = null;
        $accessed = new \DateTimeImmutable(
            ($row->textOrNull('accessed') ?? $this->clock->now()->format('Y-m-d')).' 12:00', new \DateTimeZone('UTC'),
        );
        foreach (null === $url ? [] : $this->archives->whatTheyHold($url) as $told) {
            foreach ($told->held as $held) {
                $distance = abs($held->at->getTimestamp() - $accessed->getTimestamp());
                if (null === $best || $distance < $best[0]) {
                    $best = [
                        $distance,
                        [
                            'code' => $told->archive->code, 'name' => $told->archive->name, 'url' => (string) $held->url,
                            'at' => $held->at->format('Y-m-d\TH:i:s\Z'),
                        ],
                    ];
                }
            }
        }
        $this->database->executeStatement(
            'UPDATE reference SET elsewhere = ? WHERE id = ?',
            [null === $best ? null : json_encode($best[1], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES), $row->int('id')],
        );
    }
}
